"""Amounts are words of the prose even where none is written; what is typed there makes them written."""

from __future__ import annotations

import unittest

from vocanta.core.cuetext.prose import prose_of_cue, prose_of_steps
from vocanta.core.cuetext.reading import read_cue, read_steps


def said(steps):
    return "".join(t.text for t in prose_of_steps(read_steps(steps), lambda word, owner: word.replace("_", " ")))


class Amounts(unittest.TestCase):
    def test_one_is_said_and_several_are_plural_but_for_what_has_an_s(self):
        cases = {
            "give dry_pod": "give 1 dry pod",
            "give 2 dry_pod": "give 2 dry pods",
            "take 3 moths": "take 3 moths",
            "give 1 money": "give 1 money",
            "give 2 money": "give 2 money",
            "give 2 experience": "give 2 experience",
            "change pod into 2 glass": "change 1 pod into 2 glasses",
            "drop bag at the feet of this": "drop 1 bag at the feet of this",
            "grant leap": "grant leap for any number of uses",
            "grant leap for 1 uses": "grant leap for 1 use",
            "end level won": "end the level won at once",
            "end level lost after 2 s": "end the level lost after 2 s",
            "give ?": "give 1 …",
        }
        self.assertEqual({text: said(text) for text in cases}, cases)

    def test_what_is_typed_for_an_unsaid_amount_can_be_read(self):
        cases = {
            "when used\nthen\n  give key": ("1", "3", "when used\nthen\n  give 3 key"),
            "when used\nthen\n  change pod into oil": ("1", "3", "when used\nthen\n  change 3 pod into oil"),
            "when used\nonly if has key\nthen": ("1", "3", "when used\nonly if has 3 key\nthen"),
            "when used\nthen\n  grant leap": ("any number of", "3", "when used\nthen\n  grant leap for 3 uses"),
            "when used\nthen\n  end level won": ("at once", "3 s", "when used\nthen\n  end level won after 3 s"),
        }
        for text, (word, typed, expected) in cases.items():
            tokens = prose_of_cue(read_cue(text), lambda name, owner: name)
            token = next(t for t in tokens if t.text == word)
            new = text[: token.start] + token.before + typed + token.after + text[token.end :]
            self.assertEqual(new, expected)
            self.assertNotEqual(read_cue(new), read_cue(text))

    def test_money_is_written_as_the_project_calls_it(self):
        called = {"money": "shillings"}
        for text, says in (("give 1 money", "give 1 shilling"), ("take 3 money", "take 3 shillings")):
            prose = prose_of_steps(read_steps(text), lambda word, owner: called.get(word, word))
            self.assertEqual("".join(t.text for t in prose), says)
