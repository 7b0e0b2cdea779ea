"""`vocanta prove`: what it says, in which form, and how it ends."""

from __future__ import annotations

import io
import json
import tempfile
import unittest
from pathlib import Path

import jsonschema
from junitparser import JUnitXml

from tests.core.proof import puzzles
from vocanta.cli import main
from vocanta.core.project.fileformat import dumps
from vocanta.demo import PLACE, first_draft

DRAFT = str(PLACE / "first_draft" / "project.json")
SCHEMA = Path(__file__).parents[2] / "data" / "sarif-2.1.0.schema.json"
STUCK = (
    "use Work slate · start Lamps Before Dusk · use Key hook · use Store door · wait for Store door · use Store door"
)


def run(*arguments):
    """How it ended, what it said, and what it complained of."""
    out, err = io.StringIO(), io.StringIO()
    return main(["prove", *arguments], out, err), out.getvalue(), err.getvalue()


class TheFirstDraft(unittest.TestCase):
    def test_gets_its_verdicts_each_yes_with_its_way(self):
        code, said, complained = run(DRAFT)
        self.assertEqual((code, complained), (1, ""))
        self.assertIn("Dry Feet can be done: 4 things to do.\n", said)
        self.assertIn(f"stops it: One can get stuck in Lamps Before Dusk: 5 things to do.\n    {STUCK}\n", said)
        self.assertIn("worth a look: Lamps Before Dusk can be lost for good: 2 things to do.\n", said)
        self.assertIn("Oil for the Hinge is never lost for good.\n", said)
        bell, crate = "Something is not filled in yet.", "Its content is not chosen yet, so this never runs."
        self.assertIn(f"left out, since it cannot be used: cue 1 of bell: {bell}\n", said)
        self.assertIn(f"left out, since it cannot be used: cue 1 of supply crate: {crate}\n", said)

    def test_only_some_quests_on_demand_and_as_plain_data(self):
        code, said, _ = run(DRAFT, "--only", "lamps_before_dusk", "--format", "json")
        told = json.loads(said)
        self.assertEqual(code, 1)
        self.assertEqual({v["quest"] for v in told["verdicts"]}, {"lamps_before_dusk"})
        answers = {v["what"]: (v["answer"], v["things_to_do"], v["walked"]) for v in told["verdicts"]}
        expected = {"can": 3, "stuck": 5, "lost": 2, "declined": 2}
        self.assertEqual(answers, {what: ("yes", counted, True) for what, counted in expected.items()})

    def test_sarif_is_valid_and_junit_is_read_by_a_reader_of_it(self):
        lamps = DRAFT, "--only", "lamps_before_dusk", "--format"
        log = json.loads(run(*lamps, "sarif")[1])
        jsonschema.validate(log, json.loads(SCHEMA.read_text(encoding="utf-8")))
        results = log["runs"][0]["results"]
        self.assertEqual(sorted(r["ruleId"] for r in results), ["gets_lost", "gets_stuck"])
        suite = next(iter(JUnitXml.fromstring(run(*lamps, "junit")[1].encode())))
        self.assertEqual((suite.tests, suite.failures, suite.errors), (4, 2, 0))


class EndsAsItShould(unittest.TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.file = Path(folder.name) / "puzzle.json"

    def test_with_0_where_all_is_well(self):
        self.file.write_text(dumps(puzzles.jugs()), encoding="utf-8")
        self.assertEqual(run(str(self.file))[0], 0)

    def test_without_a_budget_nothing_is_decided_and_nothing_guessed(self):
        code, said, _ = run(DRAFT, "--budget", "0", "--format", "json")
        self.assertEqual(code, 1)
        self.assertEqual({v["answer"] for v in json.loads(said)["verdicts"]}, {"undecided"})

    def test_a_project_without_quests_says_what_would_be_proved(self):
        bare = first_draft().project.__class__("bare", "Bare", "")
        self.file.write_text(dumps(bare), encoding="utf-8")
        code, said, _ = run(str(self.file))
        self.assertEqual(code, 0)
        self.assertIn("There is no quest in it.", said)

    def test_asked_wrongly_with_2(self):
        self.assertEqual(run(DRAFT, "--only", "nothing")[0], 2)
        self.assertIn("There are: dry_feet, lamps_before_dusk, oil_for_the_hinge.", run(DRAFT, "--only", "nothing")[2])
        self.assertEqual(run(str(self.file))[0], 2)
        self.assertEqual(run(DRAFT, "--budget", "-1")[0], 2)


if __name__ == "__main__":
    unittest.main()
