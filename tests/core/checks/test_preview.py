"""What a finding stands in and what a mend will write, in words."""

from __future__ import annotations

import unittest

from tests.core.checks.flaws import FLAWED, cued
from vocanta.core.checks.asking import Asking
from vocanta.core.checks.preview import Line, lines_of, standing
from vocanta.demo import first_draft


def first_of(project, check):
    """A survey, and the first finding of one check."""
    asking = Asking()
    found = asking.ask(project).findings
    return asking.survey, next(f for f in found if f.check == check)


class InWords(unittest.TestCase):
    def test_what_a_mend_makes_is_called_by_its_name_already(self):
        survey, finding = first_of(cued("when used\nthen\n  sound ? at this"), "silent_sound")
        self.assertEqual(
            lines_of(survey, finding.mends[0].writes),
            [
                Line(
                    "a cue of Bell",
                    "When it is used then play the sound … at it.",
                    "When it is used then play the sound Bell sound at it.",
                ),
                Line("a new sound", "", "Bell sound"),
                Line("Bell sound", "no file", "a placeholder: chime, 0.6 s"),
            ],
        )

    def test_a_finding_marks_the_words_it_is_about(self):
        survey, finding = first_of(cued("when used\nthen\n  sound ? at this"), "silent_sound")
        ((before, marked, after),) = standing(survey, finding)
        self.assertEqual(
            (before.text, marked.text, after.text), ("When it is used then play the sound ", "…", " at it.")
        )
        self.assertEqual((before.marked, marked.marked, after.marked), (False, True, False))

    def test_what_is_too_few_is_told_with_all_that_gives_and_asks(self):
        survey, finding = first_of(first_draft().project, "too_few")
        told = ["".join(piece.text for piece in line) for line in standing(survey, finding)]
        self.assertEqual(told, ["Key hook gives 1, once", "Wing door takes 1, once", "Store door takes 1, once"])

    def test_every_mend_of_every_flaw_can_be_said(self):
        for check, builds in FLAWED.items():
            for build in builds:
                with self.subTest(check):
                    survey, finding = first_of(build(), check)
                    for mend in finding.mends:
                        lines = lines_of(survey, mend.writes)
                        self.assertTrue(lines)
                        self.assertTrue(all(line.where and line.before != line.after for line in lines), lines)
                        self.assertNotRegex(" ".join(line.where for line in lines), "_| m$| s$")


if __name__ == "__main__":
    unittest.main()
