"""The demo has no finding; the first draft has those that stand beside it, and no other."""

from __future__ import annotations

import unittest

from vocanta.core.checks.asking import found_in
from vocanta.core.checks.mending import joined, mended
from vocanta.demo import PLACE, first_draft, night_bloom


def expected():
    rows = [line.split("|") for line in (PLACE / "first_draft" / "flaws.md").read_text(encoding="utf-8").splitlines()]
    return [(r[2].strip(), r[3].strip()) for r in rows if len(r) == 5 and r[2].strip() not in ("weight", "---")]


class TheDemos(unittest.TestCase):
    def test_the_demo_has_no_finding_and_none_put_aside(self):
        report = found_in(night_bloom().project)
        self.assertEqual(([f.sentence for f in report.findings], report.aside, report.failed), ([], (), ()))

    def test_the_first_draft_has_the_findings_that_stand_beside_it_and_no_other(self):
        report = found_in(first_draft().project)
        self.assertEqual(report.failed, ())
        self.assertCountEqual([(f.weight, f.sentence) for f in report.findings], expected())

    def test_all_mends_of_the_first_draft_at_once_leave_only_what_has_none(self):
        project = first_draft().project
        findings = found_in(project).findings
        every = joined(f.mends[0].writes for f in findings if f.mends)
        left = found_in(mended(project, every)).findings
        self.assertEqual({f.sentence for f in left}, {f.sentence for f in findings if not f.mends})


if __name__ == "__main__":
    unittest.main()
