"""The cue language: reading, writing, what is wrong and what could stand there."""

from __future__ import annotations

import dataclasses
import re
import unittest
from pathlib import Path

from tests.core.random_projects import Chooser, random_project
from vocanta.core.cuetext.completing import completed
from vocanta.core.cuetext.index import index_of, text_problems
from vocanta.core.cuetext.prose import inserts_of_cue, prose_of_cue
from vocanta.core.cuetext.reading import CueTextError, read_cue, read_needs, read_steps
from vocanta.core.cuetext.reference import reference
from vocanta.core.cuetext.references import references_of, replaced
from vocanta.core.cuetext.supply import Supply, supply_of
from vocanta.core.cuetext.writing import write_cue, write_needs, write_steps
from vocanta.core.phrases import nodes as n

SLUICE = """when held
only if has copper_key or else say "The wheel will not move without its key."
  and dry_feet at open_sluice
then
  set this to open
  wait for it
  sound water_running at this
  move dry_feet to report_back
otherwise
  say "Not now.\""""


class TheDocs(unittest.TestCase):
    def test_every_cue_shown_in_the_docs_can_be_read_and_is_in_its_layout(self):
        text = Path("docs/cue-language.md").read_text(encoding="utf-8")
        blocks = re.findall(r"(?:^    .*\n|^\n(?=    ))+", text, re.MULTILINE)
        cues = [c for block in blocks for c in re.split(r"\n\n", re.sub(r"(?m)^    ", "", block).strip("\n"))]
        self.assertGreater(len(cues), 4)
        for cue in cues:
            self.assertEqual(write_cue(read_cue(cue)), cue)

    def test_the_reference_is_the_one_of_the_declarations(self):
        self.assertIn(reference(), Path("docs/cue-language.md").read_text(encoding="utf-8"))


class ReadingAndWriting(unittest.TestCase):
    def test_random_trees_printed_and_read_again_are_equal(self):
        for seed in range(600):
            cue = Chooser(seed).cue(("used", "held", "near", "away", "entered", "left"))
            if seed % 3 and cue.moment.verb in ("used", "held", "entered", "left"):
                cue = dataclasses.replace(cue, moment=n.Moment(cue.moment.verb, n.Word("hall")))
            text = write_cue(cue)
            self.assertEqual(read_cue(text), cue, text)
            self.assertEqual(write_cue(read_cue(text)), text)

    def test_needs_and_steps_alone_are_stable_too(self):
        for seed in range(300):
            c = Chooser(seed)
            tops = tuple(n.Top(c.need(2), c.step() if seed % 2 else None) for _ in range(seed % 4))
            self.assertEqual(read_needs(write_needs(tops)), tops)
            steps = c.steps(5)
            self.assertEqual(read_steps(write_steps(steps)), steps)

    def test_the_example_of_the_design_is_canonical(self):
        self.assertEqual(write_cue(read_cue(SLUICE)), SLUICE)

    def test_holes_stand_in_every_slot(self):
        text = "when ?\nonly if ?\n  and ? is ?\n  and has ?\nthen\n  set ? to ?\n  say ?\n  wait ?\n  ?"
        cue = read_cue(text)
        self.assertEqual(write_cue(cue), text)
        self.assertTrue(n.has_hole(cue))
        self.assertFalse(n.has_hole(read_cue(SLUICE)))

    def test_a_cue_may_stand_on_one_line(self):
        self.assertEqual(write_cue(read_cue("when away then set lamp to dark")), "when away\nthen\n  set lamp to dark")

    def test_and_with_or_asks_for_brackets(self):
        with self.assertRaises(CueTextError) as caught:
            read_cue("when used only if a and b or c then")
        self.assertEqual(caught.exception.column, 27)


class WhatIsWrong(unittest.TestCase):
    def test_line_column_caret_and_what_could_stand_there(self):
        with self.assertRaises(CueTextError) as caught:
            read_cue("when used\nthen\n  sett lamp to lit")
        error = caught.exception
        self.assertEqual((error.line, error.column), (3, 3))
        self.assertEqual(error.caret, "  sett lamp to lit\n  ^")
        self.assertIn("set", error.expected)
        self.assertIn("give up", error.expected)

    def test_a_missing_end_is_told_at_the_end(self):
        with self.assertRaises(CueTextError) as caught:
            read_cue("when held then set this to")
        self.assertEqual(caught.exception.position, 26)
        self.assertIn("a name", caught.exception.expected)

    def test_every_cut_of_a_cue_is_read_or_refused_with_a_place(self):
        for at in range(len(SLUICE)):
            try:
                read_cue(SLUICE[:at])
            except CueTextError as error:
                self.assertLessEqual(error.position, at)
                self.assertTrue(error.expected)

    def test_names_that_name_nothing_or_the_wrong_thing(self):
        index = index_of(random_project(1))
        wrong = {
            "when used then set oka to ajar": "name_unknown",
            "when used then set oak to open": "value_unknown",
            "when used then give oak": "name_wrong_type",
            "when used then move errand to seek_2": "value_unknown",
            "when used only if has nutt then": "name_unknown",
            "when used then set tally to yes": "value_unknown",
        }
        for text, code in wrong.items():
            problems = text_problems(read_cue(text), index, "oak")
            self.assertEqual([p.code for p in problems], [code], text)
        self.assertIn("oak", text_problems(read_cue("when used then set oka to ajar"), index)[0].fix)
        self.assertEqual(text_problems(read_cue("when used then set this to ajar"), index, "oak"), [])


class SenselessNumbersAndPlaces(unittest.TestCase):
    def test_numbers_that_cannot_be(self):
        index = index_of(random_project(1))
        for steps in (
            "scatter 5000 kind_0 around this within 2 m",
            "scatter 4 kind_0 around this within 2 m at most 3",
            "put kind_0 at oak by 1 m, 0 m at most 4000",
            "wait 999999 s",
        ):
            problems = text_problems(read_cue(f"when used then {steps}"), index, "oak")
            self.assertEqual([p.code for p in problems], ["number_outside"], steps)
            self.assertRegex(problems[0].fix, r"^Give a number from \d")
        self.assertEqual(
            [p.code for p in text_problems(read_needs("chance one in 0"), index, "oak")], ["number_outside"]
        )

    def test_waits_where_nothing_can_wait(self):
        index = index_of(random_project(1))
        self.assertEqual(text_problems(read_cue("when used then wait 1 s"), index, "oak"), [])
        for tree in (
            read_cue("when used only if has nut then otherwise wait 1 s"),
            read_cue("when used only if has nut or else wait 1 s then"),
            read_steps("wait 1 s"),
        ):
            self.assertIn("wait_impossible", [p.code for p in text_problems(tree, index, "oak")])

    def test_an_owner_without_a_body_is_never_used(self):
        index = index_of(random_project(1))
        self.assertEqual([p.code for p in text_problems(read_cue("when used then"), index, "")], ["moment_impossible"])


class Bounds(unittest.TestCase):
    def refused(self, text):
        with self.assertRaises(CueTextError) as caught:
            read_cue(text)
        (problem,) = caught.exception.problems
        return problem.code, caught.exception.position

    def test_forty_brackets_or_nots_deep_and_no_deeper(self):
        for opened, closed in (("(", ")"), ("not ", "")):
            deep = "when used only if " + opened * 40 + "a" + closed * 40 + " then take b"
            self.assertEqual(len(read_cue(deep).steps), 1)
            deeper = "when used only if " + opened * 41 + "a" + closed * 41 + " then take b"
            self.assertEqual(self.refused(deeper), ("cue_too_deep", 18 + 40 * len(opened)))

    def test_nine_digits_and_no_more_but_in_a_wording_any(self):
        self.assertEqual(len(read_cue("when used then give 123456789 b").steps), 1)
        self.assertEqual(self.refused("when used then give 1234567890 b"), ("number_outside", 20))
        self.assertEqual(self.refused("when used then wait 1234567890 s")[0], "number_outside")
        self.assertEqual(len(read_cue(f'when used then say "((((({"9" * 99}"').steps), 1)

    def test_a_long_line_is_shown_about_the_place_that_cannot_be_read(self):
        with self.assertRaises(CueTextError) as caught:
            read_cue("when used only if " + "a and " * 500 + "has has has")
        shown, caret = caught.exception.caret.split("\n")
        self.assertLessEqual(len(shown), 100)
        self.assertEqual(shown[len(caret) - 1 :][:3], "has")

    def test_what_nests_too_deep_is_completed_with_nothing(self):
        index = index_of(random_project(1))
        self.assertEqual(completed("when used\nonly if " + "(" * 20_000, 20_019, "cue", index, "").options, ())


class HelpWhileTyping(unittest.TestCase):
    def test_completion_offers_what_fits_the_place(self):
        index = index_of(random_project(1))
        cases = {
            "when l": ("later", "left", "looked at", "lost"),
            "when ent": ("entered",),
            "when used then give ": ("experience", "money", "nut", "pin", "?"),
            "when used then set oak to a": ("ajar",),
            "when used only if errand at ": ("seek", "find", "tell", "?"),
            "when used then mov": ("move",),
        }
        for text, expected in cases.items():
            self.assertEqual(completed(text, len(text), "cue", index, "oak").options, expected, text)

    def test_every_completion_of_a_place_leads_to_readable_text(self):
        index = index_of(random_project(1))
        begun = "when used then set "
        for option in completed(begun, len(begun), "cue", index, "oak").options:
            read_cue(f"{begun}{option} to ?")

    def test_prose_spans_point_at_their_words(self):
        tokens = prose_of_cue(read_cue(SLUICE), lambda text, owner: text)
        words = [SLUICE[t.start : t.end] for t in tokens if t.slot == "word"]
        self.assertEqual(
            words,
            [
                "copper_key",
                "dry_feet",
                "open_sluice",
                "this",
                "open",
                "water_running",
                "this",
                "dry_feet",
                "report_back",
            ],
        )
        self.assertEqual(
            "".join(t.text for t in tokens)[:56], "When it is held, only if the player has 1 copper_key (or"
        )

    def test_inserts_keep_the_text_readable(self):
        for seed in range(80):
            text = write_cue(Chooser(seed).cue())
            for insert in inserts_of_cue(read_cue(text), text):
                longer = text[: insert.at] + insert.text + text[insert.at :]
                self.assertTrue(n.has_hole(read_cue(longer)), longer)

    def test_renaming_by_spans_equals_renaming_in_the_tree(self):
        spans = [(r.span, "wet_boots") for r in references_of("cue", {"text": SLUICE}) if r.name == "dry_feet"]
        self.assertEqual(len(spans), 2)
        self.assertEqual(replaced(SLUICE, spans), SLUICE.replace("dry_feet", "wet_boots"))

    def test_supply_counts_giving_and_asking(self):
        project = random_project(3)
        kind = dataclasses.replace(project.kinds[0], cues=())
        bare = dataclasses.replace(project, kinds=(kind,) * 0, quests=(), conversations=(), levels=(), named_needs=())
        self.assertEqual(supply_of(bare), {})
        one = dataclasses.replace(
            project.kinds[0],
            cues=(
                dataclasses.replace(
                    project.kinds[0].cues[0] if project.kinds[0].cues else _cue(),
                    text="when used only if has nut then take 2 nut give pin",
                ),
            ),
        )
        self.assertEqual(supply_of(dataclasses.replace(bare, kinds=(one,))), {"nut": Supply(0, 2), "pin": Supply(1, 0)})


def _cue():
    from vocanta.core.project.records import Cue

    return Cue("c1")


if __name__ == "__main__":
    unittest.main()
