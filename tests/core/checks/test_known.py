"""Each check finds its flaw and leaves alone what almost has it; each mend takes away what it is for, and brings nothing."""

from __future__ import annotations

import unittest
from pathlib import Path

from tests.core.checks.flaws import ALMOST, FLAWED
from vocanta.core.checks.asking import Asking, found_in
from vocanta.core.checks.check import checks
from vocanta.core.checks.finding import Mend
from vocanta.core.checks.mending import Give, mended
from vocanta.core.checks.proven import Proven
from vocanta.core.checks.reference import reference
from vocanta.demo import first_draft

PROVEN = {c.name for c in checks() if c.subject == "proven"}


def sentences(report):
    return {(f.check, f.sentence) for f in report.findings}


class EachCheck(unittest.TestCase):
    def test_has_a_project_with_its_flaw_and_one_that_almost_has_it(self):
        names = {c.name for c in checks() if c.subject != "proven"}
        self.assertEqual((set(FLAWED), set(ALMOST)), (names, names))

    def test_finds_its_flaw(self):
        for name, builds in FLAWED.items():
            for number, build in enumerate(builds):
                with self.subTest(name, number=number):
                    report = found_in(build())
                    self.assertEqual(report.failed, ())
                    self.assertIn(name, {f.check for f in report.findings})

    def test_leaves_alone_what_almost_has_it(self):
        for name, builds in ALMOST.items():
            for number, build in enumerate(builds):
                with self.subTest(name, number=number):
                    report = found_in(build())
                    self.assertEqual(report.failed, ())
                    self.assertEqual([f.sentence for f in report.findings if f.check == name], [])

    def test_stands_where_there_is_something(self):
        for name, builds in FLAWED.items():
            for build in builds:
                for finding in (f for f in found_in(build()).findings if f.check == name):
                    with self.subTest(name):
                        self.assertTrue(finding.sentence[0].isalpha() or finding.sentence[0] in "“", finding.sentence)
                        self.assertNotIn("\x02", finding.sentence + finding.marks)
                        self.assertIn(finding.marks, finding.says)


class WhatAProofHasFound(unittest.TestCase):
    def test_is_found_as_it_was_told_with_its_ways_out_and_is_gone_when_it_is_told_no_more(self):
        asking, project = Asking(), first_draft().project
        out = Mend("not declined", "Let it not be declined.", (Give("quest/lamps_before_dusk", "decline", "no"),))
        told = [
            Proven("dry_feet", "can"),
            Proven("oil_for_the_hinge", "stuck", 8, "answer “You shall have them.”"),
            Proven("lamps_before_dusk", "lost", 1, "decline Lamps Before Dusk", (out,)),
        ]
        asking.proven = tuple(told)
        found = {f.check: f for f in asking.ask(project).findings if f.check in PROVEN}
        self.assertEqual(
            {check: (f.weight, f.sentence) for check, f in found.items()},
            {
                "quest_never_done": ("stops it", "Dry Feet can never be done"),
                "quest_gets_stuck": (
                    "stops it",
                    "Oil for the Hinge can get stuck: 8 things to do, the last of them: answer “You shall have them.”",
                ),
                "quest_gets_lost": (
                    "worth a look",
                    "Lamps Before Dusk can be lost for good: 1 thing to do, the last of them: decline Lamps Before Dusk",
                ),
            },
        )
        self.assertEqual(found["quest_gets_lost"].mends, (out,))
        asking.proven = tuple(told[:1])
        left = [f.check for f in asking.ask(project).findings if f.check in PROVEN]
        self.assertEqual(left, ["quest_never_done"])


class TheDocument(unittest.TestCase):
    def test_explains_every_check(self):
        self.assertIn(reference(), Path("docs/checks.md").read_text(encoding="utf-8"))

    def test_every_check_says_what_it_asks_in_a_question_and_what_it_means_in_a_sentence(self):
        for check in checks():
            with self.subTest(check.name):
                self.assertRegex(check.asks, r"^[A-Z].*\?$")
                self.assertRegex(check.means, r"^.*\.$")
                self.assertRegex(check.example, r"\.$|[”.]\.?$")
                self.assertRegex(check.need, r"^N\d+$")


class EachMend(unittest.TestCase):
    def test_takes_its_finding_away_and_brings_nothing_new(self):
        tried = 0
        for name, builds in FLAWED.items():
            for number, build in enumerate(builds):
                project = build()
                before = found_in(project)
                for finding in (f for f in before.findings if f.check == name):
                    for mend in finding.mends:
                        with self.subTest(name, number=number, mend=mend.label, says=finding.sentence):
                            after = found_in(mended(project, mend.writes))
                            self.assertEqual(after.failed, ())
                            self.assertNotIn((name, finding.sentence), sentences(after))
                            self.assertEqual(sentences(after) - sentences(before), set())
                            tried += 1
        self.assertGreater(tried, 48)


if __name__ == "__main__":
    unittest.main()
