"""Each check finds its flaw and leaves alone what almost has it; each mend takes away what it is for, and brings nothing."""

from __future__ import annotations

import unittest
from pathlib import Path

from tests.core.checks.flaws import ALMOST, FLAWED
from vocanta.core.checks.asking import found_in
from vocanta.core.checks.check import checks
from vocanta.core.checks.mending import mended
from vocanta.core.checks.reference import reference


def sentences(report):
    return {(f.check, f.sentence) for f in report.findings}


class EachCheck(unittest.TestCase):
    def test_has_a_project_with_its_flaw_and_one_that_almost_has_it(self):
        names = {c.name for c in checks()}
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
