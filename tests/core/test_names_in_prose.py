"""What names of states, stages, buttons and lines read as, and plurals, wherever a sentence speaks of them."""

from __future__ import annotations

import dataclasses
import unittest

from tests.core.small import post, project, thing, two_levels
from vocanta.core.cuetext.index import index_of
from vocanta.core.engine.sentences import refusal, sentence
from vocanta.core.engine.wording import Words
from vocanta.core.progress.happenings import Happening
from vocanta.core.progress.ops import Told
from vocanta.core.project.english import counted, plural, singular
from vocanta.core.project.noting import EVERY, noted
from vocanta.core.project.records import Button, Conversation, Line, Prompt, Quest, Stage, State

PANEL = (Prompt("p1", "Desk", buttons=(Button("ask", "Ask for work"),)),)
ERRAND = Quest("errand", "Errand", stages=(Stage("seek", "Seek it"), Stage("bring", "Bring it back")))


def words(**more):
    oak = thing("oak", states=(State("shut", "firmly shut"), State("ajar", "ajar")), prompts=PANEL, **more)
    talk = Conversation(
        "chat", "Chat", "oak", (Line("hello", ("Good day to you, whoever you are, and to yours.",), True),)
    )
    return Words(project(oak, quests=(ERRAND,), talks=(talk,)))


class Owned(unittest.TestCase):
    def test_a_stage_and_a_button_read_in_quotes_a_state_by_its_name_and_anything_else_as_words(self):
        cases = {
            ("seek", "errand"): "“Seek it”",
            ("ask", "oak"): "“Ask for work”",
            ("shut", "oak"): "firmly shut",
            ("shut", "oak_kind"): "firmly shut",
            ("gone_for_good", "oak"): "gone for good",
            ("ready", "errand"): "ready",
            ("lit", "nothing_of_the_kind"): "lit",
        }
        named = words()
        self.assertEqual({case: named.owned(*case) for case in cases}, cases)

    def test_an_own_value_is_what_an_object_is_called_by(self):
        kind, oak = thing("oak", states=(State("shut", "shut"), State("ajar", "ajar")))
        own = {"states.shut.name": "bolted"}
        named = Words(project((kind, dataclasses.replace(oak, own=own))))
        self.assertEqual((named.owned("shut", "oak"), named.owned("shut", "oak_kind")), ("bolted", "shut"))

    def test_a_line_reads_by_its_first_words(self):
        self.assertEqual(words().name("hello"), "“Good day to you, whoever you are, and to yours.”")
        self.assertEqual(words().name("no_such_thing"), "no such thing")


class WhatThingsAre(unittest.TestCase):
    def test_each_name_says_what_sort_it_is_of(self):
        index = index_of(project(post("oak"), quests=(ERRAND,)))
        cases = {
            "oak": "an object",
            "oak_kind": "a kind",
            "nut": "an item",
            "wet": "a fact",
            "errand": "a quest",
            "money": "money or experience",
            "player": "player",
        }
        self.assertEqual({name: index.sort_of(name) for name in cases}, cases)
        self.assertEqual((index.shown("oak"), index.shown("player")), ("Oak", ""))


class Plurals(unittest.TestCase):
    def test_of_names_as_designers_give_them(self):
        cases = {"key": "keys", "berry": "berries", "day": "days", "bush": "bushes", "glass": "glasses", "oats": "oats",
                 "Oil no. 2": "Oil no. 2", "y": "ys"}  # fmt: skip
        self.assertEqual({name: plural(name) for name in cases}, cases)

    def test_one_of_what_is_called_as_for_many(self):
        cases = {"crowns": "crown", "pennies": "penny", "brass": "brass", "boxes": "box", "gold": "gold"}
        self.assertEqual({name: singular(name) for name in cases}, cases)
        self.assertEqual([counted(n, "coin") for n in (0, 1, 2)], ["0 coins", "1 coin", "2 coins"])


class Noting(unittest.TestCase):
    def test_it_is_told_before_every_hundredth_and_nothing_is_left_out(self):
        told = []
        things = list(range(2 * EVERY + 1))
        self.assertEqual(list(noted(things, "Counting", lambda *note: told.append(note))), things)
        self.assertEqual(told, [("Counting", n, len(things)) for n in (0, EVERY, 2 * EVERY)])

    def test_of_nothing_nothing_is_told(self):
        self.assertEqual(list(noted([], "Counting", self.fail)), [])


class SaidOfQuests(unittest.TestCase):
    def test_every_step_that_a_quest_does_not_allow_is_said_as_what_was_not_done(self):
        done = {
            "offer": "offered", "start": "started", "decline": "declined", "hand in": "handed in", "give up": "given up",
            "finish": "finished", "fail": "failed", "move": "moved on",
        }  # fmt: skip
        named = words()
        for step, participle in done.items():
            told = Told(Happening.NOT_ALLOWED, "errand", (("step", step), ("status", 1)))
            self.assertEqual(sentence(told, named), f"Errand cannot be {participle} now: it is available")
            never = Told(Happening.NOT_ALLOWED, "errand", (("step", step), ("never", 1), ("status", 1)))
            self.assertEqual(refusal(never, named), f"Errand is a quest that cannot be {participle}")

    def test_handing_in_what_is_under_way_says_what_is_missing(self):
        told = Told(Happening.NOT_ALLOWED, "errand", (("step", "hand in"), ("status", 3)))
        wanted = "Errand cannot be handed in now: what it asks for is not all done"
        self.assertEqual(sentence(told, words()), wanted)

    def test_what_is_no_refusal_has_no_words_for_the_player(self):
        self.assertEqual(refusal(Told(Happening.NEAR, "oak"), words()), "")


class WhereThingsMayLie(unittest.TestCase):
    def test_a_level_holds_what_stands_in_it_and_what_can_come_there_in_order_of_creation(self):
        put = post("bell", "when used\nthen\n  put crate at oak")
        crate, oak, elm = (post(key) for key in ("crate", "oak", "elm"))
        layout = Words(two_levels(crate, put, oak, lower=(elm,))).layout
        self.assertEqual(layout.may_lie_in("level"), ("crate", "bell", "oak"))
        self.assertEqual(layout.may_lie_in("below"), ("crate", "elm"))
        for level in ("level", "below"):
            lie = [k for k, o in layout.placed.items() if layout.mentions.movable(k) or o.level == level]
            self.assertEqual(sorted(layout.may_lie_in(level)), sorted(lie))
