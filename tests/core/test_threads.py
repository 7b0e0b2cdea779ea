"""What touches a stage, held against asking every branch and every offer of the program."""

from __future__ import annotations

import unittest

from tests.core.random_projects import random_project
from tests.core.small import project, thing
from tests.core.test_project import demo
from vocanta.core.progress.compiling import compiled
from vocanta.core.progress.layout import STATUS
from vocanta.core.progress.ops import If, Put
from vocanta.core.progress.threads import BEFORE, Touching, offers, possible
from vocanta.core.project.records import Objective, Quest, Stage


def fixed(program, quest, number):
    """The columns of a quest at a stage; before the first it is on offer."""
    status, stage = (program.table.number(f"{what}:{quest.key}") for what in ("status", "stage"))
    return {status: STATUS["active" if number >= 0 else "available"], stage: max(number, 0)}


def can_put(ops, column, value, at):
    for op in ops:
        if isinstance(op, Put) and (op.column, op.value) == (column, value):
            return True
        if isinstance(op, If):
            then = possible(op.guard, at) and can_put(op.then, column, value, at)
            if then or can_put(op.otherwise, column, value, at):
                return True
    return False


def brings(program, quest, stage):
    """Each branch with the stages from which it can move the quest to this one."""
    column, found = program.table.at("stage", quest.key), {}
    for group in program.groups.values():
        for branch in group.branches if group.verb != "resume" else ():
            for number in range(-1, len(quest.stages)):
                each = [fixed(program, quest, number)]
                status = program.table.number(f"status:{quest.key}")
                each += [{status: STATUS["offered"], column: 0}] if number < 0 else []
                moved = any(
                    can_put(s.ops, column, stage, at) and possible(branch.guard, at)
                    for at in each
                    for s in branch.segments
                )
                if number != stage and moved:
                    key = "not started" if number < 0 else quest.stages[number].key
                    found.setdefault((group.verb, branch.origin), {})[key] = None
    return {k: tuple(v) for k, v in found.items()}


class Touched(unittest.TestCase):
    def held_against(self, project):
        program = compiled(project)
        touching = Touching(program)
        for quest in project.quests:
            for stage in range(len(quest.stages)):
                found = {(t.verb, t.origin): t.from_stages for t in touching.brings_here(quest, stage)}
                self.assertEqual(found, brings(program, quest, stage), (project.key, quest.key, stage))
                now, before = (fixed(program, quest, n) for n in (stage, stage - 1))
                for method, here, there in (
                    (touching.becomes_possible, now, before),
                    (touching.stops_being_possible, before, now),
                ):
                    plain = [touch for touch, g in offers(program) if possible(g, here) and not possible(g, there)]
                    self.assertEqual(method(quest, stage), plain)
                yield len(found), len(plain)

    def test_nothing_is_left_out_that_touches_a_stage_of_a_random_project(self):
        sums = [
            sum(counts) for seed in range(60) for counts in zip(*self.held_against(random_project(seed)), strict=True)
        ]
        self.assertGreater(sum(sums), 100)

    def test_how_a_quest_can_go_on_forks_fails_and_ends(self):
        errand = Quest(
            "errand",
            "Errand",
            stages=(
                Stage("one", "One", objectives=(Objective("timed", "Timed", time_s=5.0),)),
                Stage("two", "Two", then="done", objectives=(Objective("hand", "Hand"),)),
                Stage("three", "Three", then="ready"),
            ),
        )
        steps = {"go": "start errand", "a": "move errand to two", "b": "move errand to three", "in": "hand in errand"}
        needs = {"a": "errand at one", "b": "errand at one"}
        things = [
            thing(f"do_{k}", f"when used {'only if ' + needs[k] if k in needs else ''} then {step}")
            for k, step in steps.items()
        ]
        ways = Touching(compiled(project(*things, quests=(errand,)))).ways(errand)
        self.assertEqual(
            set(ways),
            {
                ("offered", "one"),
                ("one", "two"),
                ("one", "three"),
                ("two", "done"),
                ("three", "done"),
                ("one", "failed"),
            },
        )

    def test_nothing_is_left_out_that_brings_a_status_or_is_possible_in_one(self):
        seen = dict.fromkeys(BEFORE, 0)
        for seed in range(60):
            project = random_project(seed)
            program, quest = compiled(project), project.quests[0]
            touching, column = Touching(program), program.table.at("status", quest.key)
            for status, compared in BEFORE.items():
                plain = {}
                for group in program.groups.values():
                    for branch in group.branches if group.verb != "resume" else ():
                        for name, number in STATUS.items():
                            at = {column: number}
                            moved = any(can_put(s.ops, column, STATUS[status], at) for s in branch.segments)
                            if name != status and moved and possible(branch.guard, at):
                                plain.setdefault((group.verb, branch.origin), []).append(name)
                found = {(t.verb, t.origin): list(t.from_stages) for t in touching.brings_status(quest, status)}
                self.assertEqual(found, plain, (seed, status))
                seen[status] += len(found)
                now, before = {column: STATUS[status]}, {column: STATUS[compared]}
                for method, here, there in ((touching.becomes_at, now, before), (touching.stops_at, before, now)):
                    each = [touch for touch, g in offers(program) if possible(g, here) and not possible(g, there)]
                    self.assertEqual(method(quest, status), each, (seed, status))
        self.assertTrue(all(seen.values()), seen)

    def test_nothing_is_left_out_that_touches_a_stage_of_the_demo(self):
        self.assertGreater(sum(a + b for a, b in self.held_against(demo())), 15)
