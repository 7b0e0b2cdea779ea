"""Needs and steps taken out, put in and moved, held against plain list handling of the tree."""

from __future__ import annotations

import dataclasses
import unittest

from tests.core.random_projects import Chooser
from vocanta.core.cuetext.prose import prose_of_cue
from vocanta.core.cuetext.reading import CueTextError, read_cue
from vocanta.core.cuetext.rearranging import rearranged
from vocanta.core.cuetext.writing import write_cue, write_needs, write_steps
from vocanta.core.project.problems import ProjectError

DOOR = """when used
only if has key or else say "Locked."
  and (wet or dark or not (cold and late)) or else sound thud
then
  set this to open
  wait for it
otherwise
  say "Stuck.\""""
FIELDS = {"needs": "tops", "steps": "steps", "otherwise": "otherwise"}


class Moving(unittest.TestCase):
    def test_every_move_within_a_random_cue_is_that_of_a_list(self):
        moves = 0
        for seed in range(120):
            cue = Chooser(seed).cue()
            for part, field in FIELDS.items():
                pieces = getattr(cue, field)
                for i in range(len(pieces)):
                    for j in range(len(pieces) + 1):
                        left = [p for k, p in enumerate(pieces) if k != i]
                        left.insert(j - (j > i), pieces[i])
                        expected = write_cue(dataclasses.replace(cue, **{field: tuple(left)}))
                        done = rearranged(write_cue(cue), "cue", take=f"{part}.{i}", to=f"{part}.{j}")
                        self.assertEqual(done.text, expected, (seed, part, i, j))
                        moves += 1
        self.assertGreater(moves, 500)

    def test_what_is_taken_out_and_put_back_leaves_the_text_as_it_was(self):
        for seed in range(120):
            text = write_cue(Chooser(seed).cue())
            for token in prose_of_cue(read_cue(text), lambda name, owner: name):
                if token.piece.count(".") == 1:
                    out = rearranged(text, "cue", take=token.piece)
                    self.assertEqual(rearranged(out.text, "cue", put=out.taken, to=token.piece).text, text)

    def test_a_step_goes_from_then_to_otherwise_and_to_the_end_of_a_part(self):
        done = rearranged(DOOR, "cue", take="steps.0", to="otherwise.0")
        self.assertEqual(
            done.text.partition("then\n")[2], '  wait for it\notherwise\n  set this to open\n  say "Stuck."'
        )
        done = rearranged(DOOR, "cue", take="steps.0", to="steps")
        self.assertIn("then\n  wait for it\n  set this to open\n", done.text)

    def test_the_last_need_takes_only_if_with_it_and_the_last_otherwise_its_word(self):
        text = rearranged(rearranged(DOOR, "cue", take="needs.1").text, "cue", take="needs.0").text
        self.assertEqual(
            rearranged(text, "cue", take="otherwise.0").text, "when used\nthen\n  set this to open\n  wait for it"
        )

    def test_a_text_of_needs_or_of_steps_alone_is_rearranged_too(self):
        self.assertEqual(rearranged("", "needs", put="has key", to="needs").text, "has key")
        self.assertEqual(rearranged("give nut\ntake key", "steps", take="steps.0").text, "take key")


class InsideANeed(unittest.TestCase):
    def test_a_member_of_a_group_is_taken_out_and_a_group_of_one_is_that_one(self):
        self.assertEqual(rearranged("(a or b or c)", "needs", take="needs.0.1").text, "(a or c)")
        done = rearranged(DOOR, "cue", take="needs.1.2.0")
        self.assertEqual(done.taken, "cold")
        self.assertIn("(wet or dark or not late) or else sound thud", done.text)

    def test_a_member_comes_to_stand_by_itself_elsewhere(self):
        self.assertEqual(rearranged("(a or b)", "needs", take="needs.0.0", to="needs").text, "b\n  and a")

    def test_what_a_need_says_or_else_becomes_a_step(self):
        done = rearranged(DOOR, "cue", take="needs.1.else", to="otherwise.0")
        self.assertIn("late))\nthen", done.text)
        self.assertIn("otherwise\n  sound thud\n  say", done.text)

    def test_the_words_of_prose_know_the_piece_that_they_are_part_of(self):
        for seed in range(120):
            text = write_cue(Chooser(seed).cue())
            for token in prose_of_cue(read_cue(text), lambda name, owner: name):
                if token.slot and token.role in ("need", "step"):
                    taken = rearranged(text, "cue", take=token.piece).taken
                    self.assertIn(text[token.start : token.end], taken, text)


class WhatCannotBe(unittest.TestCase):
    def test_a_need_among_steps_and_a_step_among_needs_are_refused(self):
        for how in ({"take": "needs.0", "to": "steps.0"}, {"put": "give nut", "to": "needs.0"}):
            with self.assertRaises(ProjectError) as caught:
                rearranged(DOOR, "cue", **how)
            self.assertEqual([p.code for p in caught.exception.problems], ["misplaced_piece"])

    def test_a_place_where_nothing_is_says_so(self):
        for place in ("steps.2", "needs.0.0", "needs.0.else.1", "needs.1.3", "elsewhere.0", "steps", "otherwise.x"):
            with self.assertRaises(ProjectError) as caught:
                rearranged(DOOR, "cue", take=place)
            self.assertEqual([(p.code, p.path) for p in caught.exception.problems], [("no_such_piece", place)])
        with self.assertRaises(ProjectError):
            rearranged("a", "needs", put="b", to="steps.0")

    def test_what_can_be_read_neither_as_need_nor_as_step_says_what_could_stand_there(self):
        with self.assertRaises(CueTextError) as caught:
            rearranged(DOOR, "cue", put="gibe nut", to="steps.1")
        self.assertIn("give", caught.exception.expected)


class Layout(unittest.TestCase):
    def test_what_was_taken_is_written_as_it_would_be_typed(self):
        cue = read_cue(DOOR)
        self.assertEqual(rearranged(DOOR, "cue", take="needs.0").taken, write_needs(cue.tops[:1]))
        self.assertEqual(rearranged(DOOR, "cue", take="steps.1").taken, write_steps(cue.steps[1:]))
