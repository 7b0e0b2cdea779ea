"""What is still to come can have a name, and several can be under way at once, each heard by its own cue."""

from __future__ import annotations

import unittest

from tests.core.small import post, project, thing
from tests.core.walked import walked
from vocanta.core.cuetext.prose import prose_of_steps
from vocanta.core.cuetext.reading import read_steps
from vocanta.core.engine.inputs import Input
from vocanta.core.progress.compiling import compiled
from vocanta.core.project.records import Prompt


def heard(name, words):
    return f'when {name}\nthen\n  say "{words}"'


class LaterByName(unittest.TestCase):
    CUES = (
        "when used\nthen\n  later letter after 1 s\n  later parcel after 0.5 s\n  later after 0.2 s",
        heard("letter comes", "a letter"),
        heard("parcel comes", "a parcel"),
        heard("later", "something"),
    )

    def test_each_comes_by_itself_and_is_heard_by_its_own_cue(self):
        w = walked(project(post("desk", *self.CUES))).press().wait(40)
        self.assertEqual(w.told("notice"), ["“something”", "“a parcel”", "“a letter”"])
        self.assertEqual(
            w.told("delivered"),
            [
                "What Desk waited for has come",
                "What Desk waited for, parcel, has come",
                "What Desk waited for, letter, has come",
            ],
        )

    def test_while_one_is_to_come_it_is_not_asked_for_twice_but_another_is(self):
        cues = ("when used\nthen\n  later letter after 1 s", heard("letter comes", "a letter"))
        w = walked(project(post("desk", *cues))).press().wait(5).press().wait(40)
        self.assertEqual((w.told("notice"), len(w.told("under_way"))), (["“a letter”"], 1))

    def test_two_at_the_next_area_come_in_the_order_of_the_texts(self):
        desk = post(
            "desk",
            "when used\nthen\n  later parcel at the next area\n  later letter at the next area",
            heard("letter comes", "a letter"),
            heard("parcel comes", "a parcel"),
        )
        program = compiled(project(desk))
        keys = [c.key for c in program.columns if c.what == "later"]
        self.assertEqual(keys, ["desk/parcel", "desk/letter"])

    def test_a_carrier_that_is_gone_ends_only_what_it_brings(self):
        cues = (
            "when used\nthen\n  later letter by pip\n  later parcel after 1 s",
            heard("letter comes", "a letter"),
            heard("parcel comes", "a parcel"),
            "when held\nthen\n  remove pip",
        )
        prompts = (Prompt("p1", "Use"), Prompt("p2", "Hold", "second", hold_s=0.1))
        pip = thing("pip", x=18.0, y=8.0, walks=True, prompts=())
        w = walked(project(post("desk", *cues, prompts=prompts), pip)).press()
        w.run.tick(Input(down=("second",)))
        w.wait(45)
        self.assertEqual(w.told("notice"), ["“a parcel”"])
        self.assertEqual(
            w.told("delivery_over"), ["What Desk waited for, letter, will not come: nobody brings it any more"]
        )

    def test_waiting_for_what_nothing_lets_come_is_a_problem_at_its_place(self):
        found = compiled(project(post("desk", heard("letter comes", "a letter")))).problems
        self.assertEqual([(p.code, p.path) for p in found], [("never_comes", "object/desk/cue/c1")])

    def test_the_prose_cannot_be_read_as_something_done_to_the_carrier(self):
        text = "later by pip\nlater letter by pip\nlater after 2 s\nlater letter at the next area"
        prose = "".join(t.text for t in prose_of_steps(read_steps(text), lambda word, owner: word.title()))
        said = "have Pip bring it later, have Pip bring letter later, have it come after 2 s and "
        self.assertEqual(prose, said + "have letter come at the next change of area")
