"""Uses of names, held against a search of the text word by word; renaming; designs."""

from __future__ import annotations

import re
import unittest

from tests.core.random_projects import random_project
from vocanta.core.cuetext.reading import read_cue
from vocanta.core.cuetext.references import Reference, design_names, references_of, renamed_in_design, replaced
from vocanta.core.phrases.nodes import HOLE
from vocanta.core.project.tree import walk

NAMES = ("oak", "elm", "ash", "nut", "pin", "wet", "tally", "leap", "errand", "hello", "named", "hero")


class InTexts(unittest.TestCase):
    def texts(self):
        """Every cue of forty random projects: its text and its references."""
        for seed in range(40):
            for place in walk(random_project(seed)):
                if place.type == "cue":
                    text = place.record.text
                    yield text, list(references_of("cue", {"text": text}))

    def test_a_name_is_found_wherever_its_word_stands_outside_quotes(self):
        found = 0
        for text, references in self.texts():
            bare = re.sub(r'"(\\.|[^"\\])*"', lambda m: " " * len(m.group()), text)
            for name in NAMES:
                spans = [m.span() for m in re.finditer(rf"\b{name}\b", bare)]
                self.assertEqual([r.span for r in references if r.name == name], spans, (name, text))
                found += len(spans)
        self.assertGreater(found, 300)

    def test_a_rename_leaves_no_old_use_and_changes_nothing_else(self):
        for text, references in self.texts():
            new = replaced(text, [(r.span, "beech") for r in references if r.name == "oak"])
            self.assertNotIn("oak", [r.name for r in references_of("cue", {"text": new})])
            back = replaced(new, [(r.span, "oak") for r in references_of("cue", {"text": new}) if r.name == "beech"])
            self.assertEqual(read_cue(back), read_cue(text))

    def test_states_and_stages_belong_to_their_owner(self):
        found = references_of("cue", {"text": "when used only if dry_feet at find_key then set this to open"})
        self.assertEqual(
            [(r.name, r.owner) for r in found], [("dry_feet", ""), ("find_key", "dry_feet"), ("open", "this")]
        )

    def test_a_text_that_cannot_be_read_uses_nothing(self):
        self.assertEqual(list(references_of("cue", {"text": "when usedd then give nut"})), [])


class InFields(unittest.TestCase):
    def test_fields_and_lists_that_hold_names_are_uses_and_holes_are_none(self):
        objective = {"targets": ["oak", "?", "elm"], "marker": "ash"}
        self.assertEqual([r.name for r in references_of("objective", objective)], ["ash", "oak", "elm"])
        self.assertEqual([r.name for r in references_of("exit", {"to_level": HOLE})], [])
        self.assertEqual([r.name for r in references_of("area", {"drops_to": ["hall"]})], ["hall"])

    def test_where_a_stage_leads_is_a_stage_of_the_same_quest(self):
        self.assertEqual(list(references_of("stage", {"then": "tell"})), [Reference("then", "tell", None, "@sibling")])
        self.assertEqual(list(references_of("stage", {"then": "done"})), [])
        self.assertEqual([r.name for r in references_of("reply", {"then": "stays_here"})], [])


class InDesigns(unittest.TestCase):
    DESIGN = {
        "tags": ["wooden", "old"],
        "suspends": [],
        "reach": {"who": ["player", "old"]},
        "values": {"content": "nut", "says": "Two words", "many": 3},
    }
    OWN = {"values.content": "pin", "tags": ["old"], "reach.radius_m": 2.0}

    def test_tags_who_counts_and_values_are_names_sentences_and_numbers_are_not(self):
        self.assertEqual(
            list(design_names("kind", self.DESIGN)),
            [("tags", "wooden"), ("tags", "old"), ("reach.who", "old"), ("values.content", "nut")],
        )
        self.assertEqual(list(design_names("object", self.OWN)), [("tags", "old"), ("values.content", "pin")])

    def test_renaming_a_tag_reaches_every_list_and_leaves_the_given_design_alone(self):
        put = renamed_in_design("kind", self.DESIGN, {"old": "aged", "nut": "pin"})
        self.assertEqual((put["tags"], put["reach"]["who"]), (["wooden", "aged"], ["player", "aged"]))
        self.assertEqual((put["values"]["content"], self.DESIGN["values"]["content"]), ("pin", "nut"))

    def test_a_name_that_is_gone_leaves_lists_and_a_hole_in_values(self):
        put = renamed_in_design("object", self.OWN, {"old": "?", "pin": "?"})
        self.assertEqual((put["tags"], put["values.content"]), ([], "?"))
