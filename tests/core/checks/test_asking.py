"""Asking again after an edit finds what asking from nothing finds, asks little, and goes on past a check that fails."""

from __future__ import annotations

import dataclasses
import random
import unittest
from unittest import mock

from tests.core.checks.flaws import FLAWED, cued
from tests.core.random_projects import random_project
from vocanta.core.checks import asking
from vocanta.core.checks.asides import aside_of
from vocanta.core.checks.asking import Asking, found_in
from vocanta.core.checks.check import checks
from vocanta.core.checks.mending import mended
from vocanta.core.project.fileformat import PROJECT
from vocanta.core.project.records import Project
from vocanta.demo import first_draft


def told(report):
    return sorted((f.check, f.at.record, f.sentence, f.rests_on) for f in report.findings)


def edits(project, r):
    """Projects on the way of a random edit each: moved, renamed, cues taken out and put in, a mend."""
    for _ in range(5):
        level = project.levels[0]
        number = r.randrange(len(level.objects))
        thing = level.objects[number]
        how = r.choice(("move", "name", "cue", "none", "mend"))
        if how == "move":
            thing = dataclasses.replace(thing, x_m=thing.x_m + r.choice((-3.0, 0.25, 4.0)))
        elif how == "name":
            thing = dataclasses.replace(thing, name=f"Thing {r.randrange(99)}")
        elif how == "cue" and thing.cues:
            thing = dataclasses.replace(thing, cues=thing.cues[1:])
        things = (*level.objects[:number], thing, *level.objects[number + 1 :])
        project = dataclasses.replace(project, levels=(dataclasses.replace(level, objects=things), *project.levels[1:]))
        mends = [m for f in found_in(project).findings for m in f.mends] if how == "mend" else []
        project = mended(project, r.choice(mends).writes) if mends else project
        yield project


class AskingAgain(unittest.TestCase):
    def test_finds_what_asking_from_nothing_finds(self):
        for seed in range(4):
            r, project = random.Random(seed), random_project(seed) if seed % 2 else first_draft().project
            again = Asking()
            again.ask(project)
            for number, now in enumerate(edits(project, r)):
                again.ask(now, quick=True)
                self.assertEqual(told(again.ask(now)), told(found_in(now)), (seed, number))

    def test_asks_only_what_the_edit_touched(self):
        project, again = first_draft().project, Asking()
        again.ask(project)
        everything = again.asked
        again.ask(project)
        self.assertEqual(again.asked, 0)
        level = project.levels[0]
        moved = tuple(dataclasses.replace(o, x_m=3.5) if o.key == "yard_bell" else o for o in level.objects)
        again.ask(dataclasses.replace(project, levels=(dataclasses.replace(level, objects=moved),)))
        self.assertLess(again.asked, everything / 5)

    def test_in_a_quick_go_what_needs_the_rules_stays_and_is_said_to_be_behind(self):
        project, again = first_draft().project, Asking()
        before = again.ask(project)
        report = again.ask(dataclasses.replace(project, quests=project.quests[:1]), quick=True)
        self.assertIn("never_read", report.behind)
        self.assertIn("never_read", {f.check for f in report.findings} & {f.check for f in before.findings})


class GivenUp(unittest.TestCase):
    def test_what_was_asked_of_a_state_that_was_given_up_is_forgotten(self):
        project, again = first_draft().project, Asking()
        again.ask(project)
        bare = dataclasses.replace(project, conversations=(), quests=())

        def overtaken(what, done, of):
            if done > 40:
                raise InterruptedError

        with self.assertRaises(InterruptedError):
            again.ask(bare, overtaken)
        self.assertEqual(told(again.ask(project)), told(found_in(project)))
        self.assertEqual(told(again.ask(bare)), told(found_in(bare)))


class ACheckThatFails(unittest.TestCase):
    def test_is_told_by_its_name_and_the_others_go_on(self):
        def broken(survey, subject):
            raise ZeroDivisionError("by nothing")

        mine = tuple(dataclasses.replace(c, find=broken) if c.name == "silent_sound" else c for c in checks())
        with mock.patch.object(asking, "checks", return_value=mine):
            report = found_in(first_draft().project)
        self.assertEqual(
            [(f.check, f.what) for f in report.failed], [("silent_sound", "ZeroDivisionError: by nothing")]
        )
        self.assertEqual(len(report.findings), 12)


class RightAsItIs(unittest.TestCase):
    def put_aside(self, project, check):
        finding = next(f for f in found_in(project).findings if f.check == check)
        return dataclasses.replace(project, asides=(aside_of(finding, "a1", "Meant so."),))

    def test_hides_a_finding_with_its_reason_also_under_another_name_until_what_it_rests_on_changes(self):
        project = self.put_aside(FLAWED["fact_never_asked"][0](), "fact_never_asked")
        report = found_in(project)
        self.assertNotIn("fact_never_asked", {f.check for f in report.findings})
        self.assertEqual([f.aside for f in report.aside], ["Meant so."])
        renamed = dataclasses.replace(
            project, facts=(dataclasses.replace(project.facts[0], name="Damp"), *project.facts[1:])
        )
        self.assertEqual(len(found_in(renamed).aside), 1)

    def test_comes_back_when_the_text_it_stands_in_changes(self):
        project = self.put_aside(cued("when used\nthen\n  end level won\n  give nut"), "step_after_end")
        text = "when used\nthen\n  end level won\n  give 2 nut"
        level = project.levels[0]
        bell = dataclasses.replace(level.objects[0], cues=(dataclasses.replace(level.objects[0].cues[0], text=text),))
        other = dataclasses.replace(project, levels=(dataclasses.replace(level, objects=(bell,)),))
        self.assertIn("step_after_end", {f.check for f in found_in(other).findings})


class Edges(unittest.TestCase):
    def test_an_empty_project_has_no_finding(self):
        report = found_in(Project("empty", "Empty"))
        self.assertEqual((report.findings, report.failed), ((), ()))

    def test_a_project_full_of_holes_is_told_hole_by_hole(self):
        report = found_in(cued(*["when ?\nonly if ?\nthen\n  ?\n  give ? ?"] * 5))
        self.assertEqual(report.failed, ())
        self.assertEqual(sum(f.check == "slot_not_filled_in" for f in report.findings), 25)

    def test_names_with_markup_stay_words(self):
        project = dataclasses.replace(cued("when used\nthen\n  give ?"), name="<b>x</b>")
        level = project.levels[0]
        bell = dataclasses.replace(level.objects[0], name="<script>alert(1)</script>\x02nut\x03")
        project = dataclasses.replace(project, levels=(dataclasses.replace(level, objects=(bell,)),))
        finding = next(f for f in found_in(project).findings if f.check == "slot_not_filled_in")
        self.assertTrue(finding.whose.startswith("<script>alert(1)</script>"))

    def test_ten_thousand_findings_are_counted_whole(self):
        cues = ["when used\nthen\n  give ?"] * 40
        bell = cued(*cues)
        level = bell.levels[0]
        things = tuple(
            dataclasses.replace(level.objects[0], key=f"bell_{i}", cues=level.objects[0].cues) for i in range(250)
        )
        project = PROJECT.validate_python(
            dataclasses.replace(bell, levels=(dataclasses.replace(level, objects=things),))
        )
        report = Asking(frozenset({"slot_not_filled_in"})).ask(project)
        self.assertEqual(len(report.findings), 10_000)


if __name__ == "__main__":
    unittest.main()
