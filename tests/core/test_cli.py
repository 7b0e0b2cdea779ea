"""`vocanta check`: what it says, in which form, and how it ends."""

from __future__ import annotations

import dataclasses
import io
import json
import tempfile
import unittest
from pathlib import Path
from unittest import mock

import jsonschema
from junitparser import JUnitXml

from tests.core.checks.test_demos import expected
from vocanta import cli
from vocanta.cli import main
from vocanta.core.checks import asking
from vocanta.core.checks.asking import found_in
from vocanta.core.checks.check import checks
from vocanta.core.project.assets import folded
from vocanta.demo import PLACE, first_draft

DRAFT, DEMO = (str(PLACE / name / "project.json") for name in ("first_draft", "night_bloom"))
SCHEMA = Path(__file__).parents[1] / "data" / "sarif-2.1.0.schema.json"


class Terminal(io.StringIO):
    def isatty(self):
        return True


def run(*arguments, out=None):
    """How it ended, what it said, and what it complained of."""
    out, err = out or io.StringIO(), io.StringIO()
    return main(["check", *arguments], out, err), out.getvalue(), err.getvalue()


class ForPeople(unittest.TestCase):
    def test_a_project_without_findings_ends_with_0(self):
        self.assertEqual(run(DEMO), (0, f"Nothing was found in {DEMO}.\n", ""))

    def test_one_with_findings_ends_with_1_and_says_place_sentence_and_mend(self):
        code, said, _ = run(DRAFT)
        self.assertEqual(code, 1)
        self.assertIn(
            "quest/lamps_before_dusk#decline: stops it: Lamps Before Dusk is offered by nobody once it was declined. "
            "[quest_lost_when_declined]\n    mend: Let it be available again when it was declined.\n",
            said,
        )
        for weight, sentence in expected():
            self.assertIn(f": {weight}: {sentence}. [", said)
        self.assertIn(f"13 findings in {DRAFT}.\n", said)

    def test_colours_stand_on_a_terminal_alone(self):
        self.assertNotIn("\x1b", run(DRAFT)[1])
        self.assertIn("\x1b[33mlikely wrong\x1b[0m", run(DRAFT, out=Terminal())[1])

    def test_a_zip_is_checked_like_its_file(self):
        with tempfile.TemporaryDirectory() as place:
            file = Path(place) / "draft.zip"
            file.write_bytes(folded(first_draft()))
            self.assertEqual(run(str(file))[1].replace(str(file), DRAFT), run(DRAFT)[1])

    def test_lighter_ones_are_left_out_on_demand(self):
        said = run(DRAFT, "--severity", "stops-it")[1]
        self.assertIn("3 findings", said)
        self.assertNotIn("likely wrong", said)

    def test_only_some_checks_are_asked_on_demand(self):
        self.assertIn("1 finding in", run(DRAFT, "--only", "silent_sound")[1])
        self.assertEqual(run(DRAFT, "--only", "cues_chase")[0], 0)

    def test_the_list_names_every_check_with_its_question(self):
        code, said, _ = run("--list")
        self.assertEqual((code, len(said.splitlines())), (0, len(checks())))
        self.assertTrue(all(c.name in said and c.asks in said and c.need in said for c in checks()))

    def test_progress_is_told_on_a_terminal_once_it_takes_long_and_wiped_away(self):
        for slow_s, told in ((0.0, True), (1_000.0, False)):
            err = Terminal()
            with mock.patch.object(cli, "SLOW_S", slow_s):
                main(["check", DEMO], io.StringIO(), err)
            self.assertEqual("Asking a door that shuts on somebody … " in err.getvalue(), told)
            self.assertTrue(err.getvalue().endswith("\r\x1b[K"))

    def test_a_check_that_fails_is_told_by_name_and_the_others_go_on(self):
        def broken(survey, subject):
            raise ZeroDivisionError("by nothing")

        mine = tuple(dataclasses.replace(c, find=broken) if c.name == "too_few" else c for c in checks())
        with mock.patch.object(asking, "checks", return_value=mine):
            code, said, _ = run(DRAFT)
            junit = JUnitXml.fromstring(run(DRAFT, "--format", "junit")[1].encode())
            log = json.loads(run(DRAFT, "--format", "sarif")[1])
        self.assertEqual(code, 1)
        self.assertIn(
            "The check too_few failed, which is a fault of ours: ZeroDivisionError: by nothing\n11 findings", said
        )
        self.assertEqual(next(iter(junit)).errors, 1)
        jsonschema.validate(log, json.loads(SCHEMA.read_text(encoding="utf-8")))
        self.assertFalse(log["runs"][0]["invocations"][0]["executionSuccessful"])


class AskedWrongly(unittest.TestCase):
    def ends_with_2(self, *arguments, says):
        code, said, complained = run(*arguments)
        self.assertEqual((code, said), (2, ""))
        self.assertIn(says, complained)

    def test_without_a_file(self):
        self.ends_with_2(says="name the project file to check")

    def test_with_a_file_that_is_not_there(self):
        self.ends_with_2("nowhere.json", says="nowhere.json cannot be read: no such file or directory")

    def test_with_what_is_no_project(self):
        self.ends_with_2(str(SCHEMA), says="This is not a Vocanta project file.")

    def test_with_what_is_no_text(self):
        with tempfile.NamedTemporaryFile(suffix=".json") as file:
            file.write(b"\xff\xfe\x00")
            file.flush()
            self.ends_with_2(file.name, says="it is no text in UTF-8, and no zip")

    def test_with_a_broken_zip(self):
        with tempfile.NamedTemporaryFile(suffix=".zip") as file:
            file.write(b"PK\x03\x04 and no more")
            file.flush()
            self.ends_with_2(file.name, says="zip")

    def test_for_a_check_that_there_is_not(self):
        self.ends_with_2(DRAFT, "--only", "no_such_check", says="there is no check “no_such_check”; --list names them")

    def test_in_a_form_that_there_is_not(self):
        self.assertEqual(run(DRAFT, "--format", "prose")[0], 2)


class InTheFormsOfOthers(unittest.TestCase):
    def test_as_plain_data_it_says_the_same(self):
        code, said, _ = run(DRAFT, "--format", "json")
        told = [(f["weight"], f"{f['whose']} {f['says']}") for f in json.loads(said)["findings"]]
        self.assertEqual(code, 1)
        self.assertCountEqual(told, expected())

    def test_sarif_is_valid_against_its_schema_and_says_the_same(self):
        log = json.loads(run(DRAFT, "--format", "sarif")[1])
        jsonschema.validate(log, json.loads(SCHEMA.read_text(encoding="utf-8")))
        results = log["runs"][0]["results"]
        self.assertEqual(len(results), 13)
        self.assertEqual([r["level"] for r in results].count("error"), 3)
        rules = log["runs"][0]["tool"]["driver"]["rules"]
        self.assertTrue(all(rules[r["ruleIndex"]]["id"] == r["ruleId"] for r in results))

    def test_junit_is_read_by_a_reader_of_it(self):
        read = JUnitXml.fromstring(run(DRAFT, "--format", "junit")[1].encode())
        suite = next(iter(read))
        found = {f.check for f in found_in(first_draft().project).findings}
        self.assertEqual((suite.tests, suite.failures, suite.errors), (len(checks()), len(found), 0))
        self.assertEqual({case.name for case in suite if case.result}, found)


if __name__ == "__main__":
    unittest.main()
