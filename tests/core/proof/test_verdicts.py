"""Verdicts and shortest ways agree with going through every way to play one by one, on random projects."""

from __future__ import annotations

import os
import unittest
from itertools import islice

from scripts.coupled import coupled
from tests.core.proof.plainly import small
from tests.seeds import taken
from vocanta.core.progress.compiling import compiled
from vocanta.core.proof.minimising import minimised
from vocanta.core.proof.routes import Ways
from vocanta.core.proof.verdicts import FEW_COLUMNS, Stages, verdicts, worked_out
from vocanta.core.proving.proving import Proving
from vocanta.core.proving.ways import Spent

PROJECTS = int(os.environ.get("VOCANTA_RANDOM_PROJECTS", "80"))
"""So many are drawn. About one in two is small enough to be gone through one by one: 1,000 make 500."""


WITHOUT = (
    Stages(trimming=False),
    Stages(walking=False),
    Stages(joining=False),
    Stages(settling=False),
    Stages(reaching="packed"),
    Stages(False, False, False, False, "packed"),
)


def told_of(found):
    """What came out; that a quest never fails is told only where it is asked at all."""
    return {(v.quest, v.what): v.answer for v in found if v.what in ("can", "stuck", "lost") or v.answer != "never"}


class AgreesWithGoingThroughAll(unittest.TestCase):
    def test_random_projects(self):
        held, yes = 0, 0
        for seed in taken(PROJECTS):
            project, worked, plain = small(seed).project, small(seed).worked, small(seed).explored
            if plain is None or worked.left_out:
                continue
            held += 1
            answers = {(v.quest, v.what): v.answer for v in verdicts(worked)}
            ways = Ways(worked.recoded)
            questions = {q.key: q for q in worked.recoded.system.questions}
            for quest in project.quests:
                expected = {
                    "can": plain.shortest(quest.key),
                    "stuck": plain.left_at(quest.key, "active", "ready"),
                    "lost": plain.left_at(quest.key, "failed", "declined"),
                }
                for what, shortest in expected.items():
                    with self.subTest(seed=seed, quest=quest.key, what=what):
                        self.assertEqual(answers[quest.key, what], "never" if shortest is None else "yes")
                        if shortest is not None:
                            yes += 1
                            found = ways.route(questions[quest.key], what)
                            self.assertEqual(found.counted, shortest)
                for end in ("failed", "declined"):
                    shortest = plain.shortest(quest.key, end)
                    self.assertEqual(answers.get((quest.key, end), "never"), "never" if shortest is None else "yes")
        self.assertGreater(held, 0.3 * len(taken(PROJECTS)))
        self.assertGreater(yes, 0.05 * len(taken(PROJECTS)))

    def test_with_any_stage_left_out_the_verdicts_are_the_same(self):
        held = 0
        for seed in taken(40):
            usual = small(seed).worked
            if small(seed).explored is None or usual.left_out:
                continue
            held += 1
            program, quests = small(seed).program, [q.key for q in small(seed).project.quests]
            told = told_of(verdicts(usual))
            for stages in WITHOUT:
                with self.subTest(seed=seed, without=stages):
                    self.assertEqual(told_of(verdicts(worked_out(program, quests, stages=stages), stages=stages)), told)
        self.assertGreater(held, 1)

    def test_quests_that_hang_together_come_out_the_same_whether_the_easy_is_settled_first_or_not(self):
        program = compiled(project := coupled(20, 0.7, 1))
        worked = worked_out(program, [q.key for q in project.quests])
        small = minimised(worked.recoded.system).system
        self.assertGreater(max(len(small.cone(q)) for q in small.questions), FEW_COLUMNS)
        usual = told_of(verdicts(worked))
        self.assertEqual(told_of(verdicts(worked, stages=Stages(settling=False))), usual)
        self.assertEqual(set(usual.values()), {"yes", "never"})

    def test_what_was_found_out_before_the_time_was_over_stands(self):
        """Some were asked of all columns, and some that hang on more are settled; then it is over."""

        def ended(what, done, of):
            if what == "Settling what is easy" and done == 5:
                raise Spent

        project = coupled(20, 0.7, 1)
        proving = Proving(project, note=ended)
        coming = proving.quests()
        first = next(coming)  # From here on all is known but the ways.
        rest = islice(coming, sum(v.answer != "yes" for v in proving.found) - 1)
        found = {(p.verdict.quest, p.verdict.what): p for p in (first, *rest)}
        usual = told_of(verdicts(worked_out(compiled(project), [q.key for q in project.quests])))
        decided = {(v.quest, v.what): v.answer for v in proving.found if v.answer != "undecided"}
        self.assertEqual(decided, {key: usual[key] for key in decided})
        self.assertEqual(set(decided.values()), {"yes", "never"})
        self.assertEqual({p.because for p in found.values() if p.verdict.answer == "undecided"}, {"time"})

    def test_every_way_of_every_yes_is_gone_by_the_engine_to_its_end(self):
        walked, late = 0, 0
        for seed in taken(80):
            for one in Proving(small(seed).project, program=small(seed).program).quests():
                if one.verdict.answer == "yes":
                    self.assertTrue(one.way.walked)
                    walked += 1
                elif one.because and one.way.steps:
                    self.assertRegex(one.because, "in time|chance does not fall so", (seed, one.verdict))
                    late += 1
        self.assertGreater(walked, 10)
        self.assertLess(late, walked / 3)
