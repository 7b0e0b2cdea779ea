"""What the player and the designer read: needs in words, placeholders, who wins focus."""

from __future__ import annotations

import dataclasses
import unittest

from tests.core.small import project, thing
from tests.core.walked import walked
from vocanta.core.engine.focus import Candidate, deciding, focused
from vocanta.core.engine.wording import Words
from vocanta.core.progress.compiling import compiled
from vocanta.core.project.records import Conversation, Line, NamedNeed, Objective, Quest, Stage
from vocanta.core.proving.wording import in_vain, in_words
from vocanta.demo import night_bloom

ERRAND = Quest(
    "errand",
    "Errand",
    stages=(
        Stage("seek", "Seek it", objectives=(Objective("by_hand", "Shake hands"),)),
        Stage("find", "Find it"),
        Stage("tell", "Tell her"),
    ),
)
CHAT = Conversation("chat", "Chat", "oak", (Line("hello", ("Hello there, stranger.",), True, "oak"),))
IN_WORDS = {
    "has nut": "needs nut, has 2",
    "has 3 nut": "needs 3 nuts, has 2",
    "has 3 its gift": "needs 3 nuts, has 2",
    "has exactly 1 nut": "needs exactly 1 nut, has 2",
    "has fewer than 1 nut": "needs fewer than 1 nut, has 2",
    "wet": "Wet: no",
    "oak is ajar": "Oak must be ajar",
    "this is ajar": "Oak must be ajar",
    "tally at least 3": "Tally must be at least 3, is 2",
    "errand before find": "Errand must be before “Find it”",
    "errand between seek and tell": "Errand must be between “Seek it” and “Tell her”",
    "by_hand met": "not met: Shake hands",
    "heard hello": "“Hello there, stranger.” was not heard",
    "heard hello by oak": "“Hello there, stranger.” was not heard from Oak",
    "can leap": "needs Leap",
    "oak used 2 times": "Oak must be used 2 times, is 2",
    "oak used exactly 1 times": "Oak must be used exactly 1 time, is 2",
    "somebody in reach of this": "somebody must be in reach of Oak",
    "player in hall": "the player must be in Hall",
    "chance one in 4": "chance, one in 4",
    "not wet": "Wet",
    "not somebody in the way of oak": "Somebody is in the way of Oak",
    "not oak is ajar": "Oak is ajar",
    "(wet or can leap)": "Wet: no or needs Leap",
    "(wet and has nut)": "Wet: no and needs nut, has 2",
    "?": "not filled in yet",
    "has nut or else": "has nut or else",
}
IN_SENTENCES = {
    "has at most 2 its gift": "Has at most 2 nuts",
    "has its gift": "Has 1 nut",
    "oak is gone": "Oak is gone",
    "this is ajar or wide": "(Oak is ajar or wide)",
    "tally at most 3": "Tally at most 3",
    "errand at find": "Errand is at “Find it”",
    "errand past seek": "Errand is past “Seek it”",
    "errand between seek and tell": "Errand is between “Seek it” and “Tell her”",
    "by_hand met": "Shake hands is met",
    "heard hello by oak": "Has heard “Hello there, stranger.” from Oak",
    "can leap": "Can use Leap",
    "oak used exactly 1 times": "Oak was used exactly 1 time",
    "somebody in reach of this": "Somebody is in reach of Oak",
    "player in hall": "Is in Hall",
    "not wet": "Wet does not hold",
    "not has 2 nut": "Does not have 2 nuts",
    "not oak is ajar": "Oak is not ajar",
    "not errand before find": "Errand is not before “Find it”",
    "not tally at most 3": "Tally not at most 3",
    "not somebody in the way of oak": "Nobody is in the way of Oak",
    "not player in reach of oak": "Is not in reach of Oak",
    "not heard hello": "Has not heard “Hello there, stranger.”",
    "not can leap": "Cannot use Leap",
    "not oak used 2 times": "Oak was not used 2 times",
    "not chance one in 3": "Chance does not have it, one in 3",
    "not (wet or fit)": "Not (Wet or Fit to go)",
    "(wet or can leap)": "(Wet or the player can use Leap)",
    "fit": "Fit to go",
    "?": "…",
}


class Needs(unittest.TestCase):
    def setUp(self):
        small = project(
            thing("oak", "when used\nthen\n  say ?", values={"gift": "nut"}), quests=(ERRAND,), talks=(CHAT,)
        )
        self.words = Words(dataclasses.replace(small, named_needs=(NamedNeed("fit", "Fit to go", "has nut"),)))

    def test_every_need_says_what_it_wants_and_what_there_is(self):
        for text, expected in IN_WORDS.items():
            self.assertEqual(self.words.need(text, lambda what, key: 2, "oak"), expected, text)

    def test_every_need_as_a_sentence_says_names_as_they_are_shown(self):
        for text, expected in IN_SENTENCES.items():
            self.assertEqual(self.words.need_sentence(text, "oak"), expected, text)

    def test_what_a_kind_leaves_to_its_objects_is_said_by_its_name(self):
        oak = thing("oak", "when used\nonly if has 2 its gift\nthen\n  give pin", values={"gift": "nut"})
        w = walked(project(oak), puts=(("item:nut", 1),)).wait(1)
        self.assertEqual(w.run.here.prompts.live["use"].reason, "needs 2 nuts, has 1")

    def test_the_rule_behind_something_by_what_it_is(self):
        origins = {
            "object/oak/cue/c1": "cue 1 of Oak",
            "conversation/chat/line/hello": "line of Chat",
            "quest/errand/rewards": "rewards of Errand",
            "quest/errand/stage/seek": "Errand",
            "ability/leap": "Leap",
            "project": "walking",
        }
        self.assertEqual({origin: self.words.rule(origin) for origin in origins}, origins)

    def test_placeholders_are_filled_and_unknown_ones_left(self):
        filled = self.words.filled(
            "{control} {object} {count:nut} {count:moon} {what}", "oak", "use", lambda what, key: 3
        )
        self.assertEqual(filled, "E Oak 3 {count:moon} {what}")

    def test_a_wording_holds_values_of_the_object_itself(self):
        kind, oak = thing("oak", values={"gift": "nut", "amount": 2.0, "ok": True, "words": "old friend", "open": "?"})
        words = Words(project((kind, oak)))
        filled = words.filled(
            "{its amount} {its gift} {its ok} {its words} {its none}", "oak", "use", lambda what, key: 0
        )
        self.assertEqual("2 nut yes old friend {its none}", filled)

    def test_what_stands_fast_is_refused_with_what_it_is(self):
        kind, oak = thing("oak", values={"amount": 2.0, "ok": False})
        words = Words(project((kind, oak)))
        said = {
            t: words.need(t, lambda what, key: 0, "oak") for t in ("its amount at least 3", "its ok is yes", "its ok")
        }
        expected = {
            "its amount at least 3": "its amount must be at least 3, is 2",
            "its ok is yes": "its ok must be yes, is no",
            "its ok": "its ok: no",
        }
        self.assertEqual(expected, said)

    def test_columns_in_words(self):
        table = self.words.layout.table
        values = {"item:nut": 2, "fact:wet": 1, "fact:tally": 3}
        said = [self.words.column(table.columns[table.number(c)], v) for c, v in values.items()]
        self.assertEqual(said, ["has 2 of at most 3", "yes", "3"])
        names = ("exists:oak", "met:by_hand", "money", "state:oak", "cell")
        said = [self.words.column(table.columns[table.number(c)], 0) for c in names]
        self.assertEqual(said, ["gone", "not met", "0", "is shut", ""])
        self.assertEqual(self.words.column(table.columns[table.at("stage", "errand")], 1), "stage Find it")


class Actions(unittest.TestCase):
    def test_a_press_is_told_by_what_stands_on_the_button_or_by_its_control(self):
        demo = night_bloom().project
        program = compiled(demo)
        words = Words(demo, lambda: program.layout)
        cases = {
            "chosen:odile_desk/work": (
                "choose “Ask for work” at Odile’s desk",
                "never does anything when “Ask for work” is chosen",
            ),
            "held:sluice_wheel/second": ("hold Sluice wheel", "never does anything when it is held with Second"),
            "struck:vines/hook_swing": (
                "Swing the hook at Curtain of vines",
                "never does anything when it is struck with Swing the hook",
            ),
        }
        actions = {name: program.by_name[name] for name in cases}
        said = {name: (in_words(words, a), in_vain(words, a)) for name, a in actions.items()}
        self.assertEqual(said, cases)


class Focus(unittest.TestCase):
    def test_who_wins_says_by_what(self):
        plain = Candidate(0, 0, False, 1.0)
        cases = {
            "its priority 2 is above the 0 of Lamp": dataclasses.replace(plain, priority=2),
            "it is looked at, Lamp is not": dataclasses.replace(plain, looked_at=True, distance_m=3.0),
            "it is nearer than Lamp, 0.50 m against 1.00 m": dataclasses.replace(plain, distance_m=0.5),
            "it is nearer than Lamp": dataclasses.replace(plain, distance_m=0.95),
            "it had it before Lamp": dataclasses.replace(plain, distance_m=1.05),
        }
        for says, winner in cases.items():
            self.assertEqual(deciding(winner, plain, "Lamp"), says)

    def test_the_holder_keeps_it_within_ten_centimetres_and_ties_go_to_the_older(self):
        near, far = Candidate(3, 0, False, 1.0), Candidate(5, 0, False, 1.09)
        self.assertEqual(focused([near, far], holder=5).number, 5)
        self.assertEqual(focused([near, dataclasses.replace(far, distance_m=1.11)], holder=5).number, 3)
        self.assertEqual(focused([dataclasses.replace(far, distance_m=1.0), near], holder=-1).number, 3)
        self.assertIsNone(focused([], holder=-1))
