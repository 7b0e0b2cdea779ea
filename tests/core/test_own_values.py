"""Values of a kind that each object has for itself: names, numbers, yes and no, wherever a text has such a thing."""

from __future__ import annotations

import dataclasses
import unittest

from tests.core.small import Situation, post, project
from vocanta.core.cuetext.completing import completed
from vocanta.core.cuetext.index import index_of
from vocanta.core.cuetext.prose import prose_of_steps
from vocanta.core.cuetext.reading import read_needs, read_steps
from vocanta.core.cuetext.writing import write_need, write_step
from vocanta.core.phrases import nodes as n
from vocanta.core.progress.compiling import compiled

VALUES = {"amount": 2.0, "pause": 1.5, "ok": True, "gift": "nut", "state": "yes"}


def boxed(*texts: str, values=None, own=None):
    """A box with these cues, whose kind has `values`, and which has `own` of them for itself."""
    kind, thing = post("box", *texts, values={**VALUES, **(values or {})})
    kind = dataclasses.replace(kind, cues=thing.cues)
    laid = {f"values.{name}": value for name, value in (own or {}).items()}
    return project((kind, dataclasses.replace(thing, cues=(), own=laid)))


class TheText(unittest.TestCase):
    """Every place for a number takes `its …`; what is written is read again as the same."""

    STEPS = (
        "give its amount of nut",
        "take its amount of nut",
        "change its amount of nut into its other of pin",
        "change 2 nut into its amount of pin",
        "change its amount of nut into pin",
        "add its amount to tally",
        "grant leap for its amount uses",
        "wait its pause",
        "later after its pause",
        "end level won after its pause",
        "put crate at this by its pause, 0 m at most its amount",
        "scatter its amount of crate around this within its pause",
        "drop its amount of crate at the feet of player",
        "set wet to its state",
    )
    NEEDS = (
        "has its amount of nut",
        "has at most its amount of nut",
        "tally at least its amount",
        "box used its amount times",
        "chance one in its amount",
        "its ok is yes",
        "its ok",
        "its amount fewer than 3",
        "its gift is equipped",
    )

    def test_each_is_written_as_it_is_read(self):
        for text in self.STEPS:
            self.assertEqual([text], [write_step(step) for step in read_steps(text)])
        for text in self.NEEDS:
            self.assertEqual([text], [write_need(top.need) for top in read_needs(text)])

    def test_of_may_be_left_out_and_a_name_alone_stays_one(self):
        self.assertEqual(read_steps("give its amount of nut"), read_steps("give its amount nut"))
        self.assertEqual(read_needs("has its amount of nut"), read_needs("has its amount nut"))
        self.assertEqual((n.Hand("give", n.Word("its gift")),), read_steps("give its gift"))
        given, hole = read_steps("give its gift\n?")
        self.assertEqual((n.Hand("give", n.Word("its gift")), n.HoleStep()), (given, hole))
        self.assertEqual(n.Word("?"), read_steps("give its amount of ?")[0].item)

    def test_seconds_and_metres_need_no_unit(self):
        self.assertEqual(
            ["wait 2 s", "later after 1.5 s"], [write_step(s) for s in read_steps("wait 2 later after 1.5")]
        )
        self.assertEqual(
            ["put crate at this by 1 m, -2 m"], [write_step(s) for s in read_steps("put crate at this by 1, -2")]
        )
        self.assertEqual(["wait 2 s", "set wet to yes"], [write_step(s) for s in read_steps("wait 2 set wet to yes")])

    def test_it_is_no_hole_and_reads_as_a_sentence(self):
        steps = read_steps("give its amount of nut\ngrant leap for its amount uses")
        self.assertFalse(n.has_hole(steps))
        tokens = prose_of_steps(steps, lambda word, _: word)
        said = "".join(token.text for token in tokens)
        self.assertEqual("give its amount of nuts and grant leap for its amount uses", said)
        found = [token for token in tokens if token.value == "its amount"]
        self.assertEqual(["number", "number"], [token.slot for token in found])

    def test_what_fits_a_place_is_offered(self):
        index = index_of(boxed("when used\nthen\n  give nut"))
        offered = completed("give its ", 9, "steps", index, "box").options
        self.assertEqual(["its gift", "its amount", "its pause"], [o for o in offered if o.startswith("its ")])
        self.assertIn("its ok", completed("", 0, "needs", index, "box").options)
        self.assertEqual(("its amount", "its pause"), completed("wait its", 8, "steps", index, "box").options)
        self.assertNotIn("its gift", completed("give ", 5, "steps", index, "").options)


class WhatItMeans(unittest.TestCase):
    """Each object acts by its own values."""

    def test_an_amount_is_the_objects_own(self):
        for own, has in ((None, 2), ({"amount": 3.0}, 3)):
            here = Situation(boxed("when used\nthen\n  give its amount of its gift", own=own))
            here.use("box")
            self.assertEqual(has, here["item:nut"])

    def test_a_count_asked_for_is_the_objects_own(self):
        for own, has in ((None, 2), ({"amount": 3.0}, 0)):
            here = Situation(boxed("when used\nonly if has its amount of nut\nthen\n  set wet to yes", own=own))
            here.row[here.program.table.number("item:nut")] = 2
            here.use("box")
            self.assertEqual(int(has > 0), here["fact:wet"])

    def test_a_yes_or_no_holds_or_does_not_whatever_happens(self):
        for need, yes, no in (("its ok is yes", 1, 0), ("its ok", 1, 0), ("not its ok", 0, 1), ("its ok is no", 0, 1)):
            for own, wet in ((True, yes), (False, no)):
                here = Situation(boxed(f"when used\nonly if {need}\nthen\n  set wet to yes", own={"ok": own}))
                here.use("box")
                self.assertEqual(wet, here["fact:wet"], (need, own))

    def test_a_number_is_compared(self):
        cases = (("at least 2", 1), ("at least 3", 0), ("fewer than 2", 0), ("at most 2", 1), ("exactly 2", 1))
        for how, wet in cases:
            here = Situation(boxed(f"when used\nonly if its amount {how}\nthen\n  set wet to yes"))
            here.use("box")
            self.assertEqual(wet, here["fact:wet"], how)

    def test_a_fact_takes_a_number_a_yes_or_a_no(self):
        here = Situation(
            boxed("when used\nthen\n  set tally to its amount\n  set wet to its ok\n  add its amount to tally")
        )
        here.use("box")
        self.assertEqual((4, 1), (here["fact:tally"], here["fact:wet"]))

    def test_seconds_are_the_objects_own(self):
        small = boxed("when used\nthen\n  wait its pause\n  set wet to yes", own={"pause": 0.5})
        branches = [b for g in compiled(small).groups.values() for b in g.branches]
        waits = [s.wait for b in branches for s in b.segments if s.wait is not None]
        self.assertEqual({0.5}, {wait.seconds for wait in waits})


class Wrong(unittest.TestCase):
    """What cannot stand there is said, with the value and what could."""

    def said(self, text: str, **more) -> list[str]:
        return [p.message for p in compiled(boxed(f"when used\nthen\n  {text}", **more)).problems]

    def test_a_name_where_a_number_must_stand(self):
        self.assertEqual(["“its gift” is nut, but a number must stand here."], self.said("give its gift of nut"))
        self.assertEqual(["“its ok” is yes, but a number must stand here."], self.said("wait its ok"))

    def test_a_number_where_a_name_must_stand(self):
        self.assertEqual(
            ["“its amount” is 2, but an item or money or experience must stand here."], self.said("give its amount")
        )

    def test_a_value_that_is_none(self):
        self.assertEqual(["“most” is no value of this kind."], self.said("give its most of nut"))

    def test_a_value_out_of_bounds(self):
        self.assertEqual(
            ["0 at a time is not possible here."], self.said("give its amount of nut", own={"amount": 0.0})
        )

    def test_an_open_one(self):
        self.assertEqual(
            ["Its amount is not chosen yet, so this never runs."],
            self.said("give its amount of nut", own={"amount": "?"}),
        )

    def test_yes_where_a_number_is_compared(self):
        cue = "when used\nonly if its ok at least 2\nthen\n  give nut"
        self.assertEqual(1, len(compiled(boxed(cue)).problems))
        self.assertEqual((), compiled(boxed("when used\nonly if its ok is no\nthen\n  give nut")).problems)
        wrong = compiled(boxed("when used\nonly if its ok is perhaps\nthen\n  give nut")).problems
        self.assertEqual(["its ok has no value “perhaps”."], [p.message for p in wrong])


if __name__ == "__main__":
    unittest.main()
