"""The values that columns can come to, held against random walks: nothing that happens is left out."""

from __future__ import annotations

import random
import unittest

from tests.core.random_projects import random_project
from tests.core.small import Situation, post, project
from tests.seeds import taken
from vocanta.core.checks.asking import Asking
from vocanta.core.checks.order import in_group
from vocanta.core.progress.guards import AnyOf, Within, columns_of, opposite
from vocanta.core.progress.onerow import RowWalk, holds_on
from vocanta.core.progress.values import Values

PROJECTS, WALKS, STEPS = 200, 1, 24


def walks(program, seed):
    """Rows that are come to by walking at random, the sensed columns drawn anew before each step."""
    r = random.Random(seed)
    for _ in range(WALKS):
        row = [c.start for c in program.columns]
        RowWalk(program, row).start(begins="glade")
        for _ in range(STEPS):
            for number in (n for n in program.sensed if n not in program.sensed_actions):
                row[number] = r.randint(program.columns[number].lowest, program.columns[number].highest)
            yield row
            opened = [a for a in program.actions if holds_on(a.guard, row)]
            tried = [a for a in program.actions if a.tried is not None and a not in opened]
            attempt = bool(tried) and r.random() < 0.2
            among = tried if attempt else opened
            if not among:
                break
            kind = r.choice(sorted({a.kind for a in among}))
            act(program, row, r.choice([a for a in among if a.kind == kind]), attempt)


def act(program, row, action, attempt):
    if action.kind == "sensed":
        number = program.table.number(action.control)
        row[number] = 1 - row[number]
        RowWalk(program, row).sensed(number, 1 - row[number])
    else:
        RowWalk(program, row).act(action, attempt=attempt)


class OnRandomProjects(unittest.TestCase):
    def test_no_check_fails_and_nothing_that_happens_is_said_never_to(self):
        narrow = never = always = unread = 0
        for seed in taken(PROJECTS):
            asking = Asking()
            self.assertEqual([f.trace for f in asking.ask(random_project(seed)).failed], [], seed)
            program, values = asking.survey.program, asking.survey.values
            narrow += sum(not values.has(i, c.highest) for i, c in enumerate(program.columns) if not c.sensed)
            guards = {c.guard for g in program.groups.values() for b in g.branches for c in b.conditions}
            dead = [g for g in guards if not values.can(g)]
            sure = [g for g in guards if values.always(g)]
            hidden = [pair for pair in shadowed(program, values)]
            never, always, unread = never + len(dead), always + len(sure), unread + len(hidden)
            for row in walks(program, seed):
                wrong = [program.columns[i].name for i, v in enumerate(row) if not values.has(i, v)]
                self.assertEqual(wrong, [], seed)
                self.assertFalse(any(holds_on(g, row) for g in dead), seed)
                self.assertTrue(all(holds_on(g, row) for g in sure), seed)
                self.assertFalse(any(first_that_fits(g, row) is b for g, b in hidden), seed)
        self.assertTrue(min(narrow / 10, never, always, unread) > 20, (narrow, never, always, unread))


def shadowed(program, values):
    """Every branch that is said never to be read in its group, with the group."""
    for group in program.groups.values():
        hidden = {one.origin for one in in_group(group, values) if one.by}
        yield from ((group, b) for b in group.branches[group.first_cue :] if b.origin in hidden)


def first_that_fits(group, row):
    """The branch that is read: the first that fits, and those behind one that goes on."""
    return next((b for b in group.branches[group.first_cue :] if holds_on(b.guard, row) and not b.go_on), None)


class ByHand(unittest.TestCase):
    def values(self, *cues, **more):
        self.here = Situation(project(post("bell", *cues, **more)))
        return Values(self.here.program)

    def counts(self, values, column):
        number = self.here.program.table.number(column)
        return [v for v in range(10) if values.has(number, v)]

    def test_a_count_comes_as_far_as_its_steps_and_its_limit_let_it(self):
        self.assertEqual(self.counts(self.values("when used\nthen\n  give 2 nut"), "item:nut"), [0, 2])
        self.assertEqual(self.counts(self.values("when used\nthen\n  add 3 to tally"), "fact:tally"), [0, 3, 4])

    def test_what_its_own_need_keeps_below_stays_below(self):
        found = self.values("when used\nonly if tally fewer than 2\nthen\n  add 1 to tally")
        self.assertEqual(self.counts(found, "fact:tally"), [0, 1, 2])

    def test_what_only_what_never_happens_brings_never_comes(self):
        found = self.values("when used\nonly if has pin\nthen\n  give nut", "when gained nut\nthen\n  set wet to yes")
        self.assertEqual(self.counts(found, "item:nut"), [0])
        self.assertEqual(self.counts(found, "fact:wet"), [0])

    def test_a_guard_can_fail_exactly_where_its_opposite_can_hold(self):
        found = self.values("when used\nonly if wet\nthen\n  give nut", "when near\nthen\n  set wet to yes")
        wet, nut = (self.here.program.table.number(c) for c in ("fact:wet", "item:nut"))
        for guard in (Within(wet, 1, 1), Within(nut, 2, 3), AnyOf((Within(wet, 0, 0), Within(wet, 1, 1)))):
            self.assertEqual(found.can_fail(guard), found.can(opposite(guard)) and guard.__class__ is not AnyOf)
            self.assertTrue(columns_of(guard))

    def test_money_is_known_by_its_span(self):
        found = self.values("when used\nthen\n  give 40 money", uses=2)
        money = self.here.program.table.number("money")
        self.assertTrue(found.has(money, 0) and found.has(money, 80))


if __name__ == "__main__":
    unittest.main()
