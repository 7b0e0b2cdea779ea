"""What comes to nothing is said to the player, in prose, and only of what the player asked for."""

from __future__ import annotations

import dataclasses
import unittest

from tests.core.small import DOOR, FLOOR, post, project, thing
from tests.core.test_objects_in_full import walked
from vocanta.core.engine.inputs import Input, read_input
from vocanta.core.project.problems import ProjectError
from vocanta.core.project.records import Ability, Button, Motion, Prompt, Quest, Stage


def notices(walk):
    """What the player was told on the screen."""
    return [e.notice for e in walk.run.chronicle if e.notice]


class Refusals(unittest.TestCase):
    def test_an_unmet_need_is_told_in_words_with_what_there_is(self):
        cases = {
            "has 2 nut": "Needs 2 nuts, has 0",
            "this is wide": "Oak_tree must be wide".replace("_tree", " Tree"),
            "wet": "Wet: no",
            "errand at seek": "Errand must be at “Seek it”",
        }
        errand = Quest("errand", "Errand", stages=(Stage("seek", "Seek it"), Stage("bring", "Bring it")))
        for need, said in cases.items():
            oak = post("oak_tree", f"when used\nonly if {need}\nthen\n  give nut")
            oak = (oak[0], dataclasses.replace(oak[1], name="Oak Tree"))
            w = walked(project(oak, quests=(errand,))).press()
            self.assertEqual(notices(w), [said])
            self.assertEqual(
                w.run.chronicle[-1].text, f"Not met: {said[:1].lower() if said[:1] == 'N' else said[:1]}{said[1:]}"
            )

    def test_a_door_that_somebody_stands_in_says_so(self):
        shape = {**DOOR, "motion": Motion(1.0, stay_clear=True)}
        door = thing("door", "when used\nthen\n  set this to next", x=5.0, y=5.0, **shape)
        w = walked(project(door), 5.6, 4.6)
        w.press().wait(40)
        w.run.situation.player.stand(5.0, 5.0, 0.0)
        w.wait(1).press()
        self.assertEqual(notices(w), ["Door: somebody is in the way"])

    def test_a_step_that_does_not_fit_is_told(self):
        w = walked(project(post("oak", "when used\nthen\n  take 2 nut"))).press()
        self.assertEqual(notices(w), ["Nut: there are too few"])

    def test_handing_in_too_early_is_told(self):
        errand = Quest("errand", "Errand", stages=(Stage("seek", "Seek it"),))
        w = walked(project(post("oak", "when used\nthen\n  hand in errand"), quests=(errand,))).press()
        self.assertEqual(notices(w), ["Errand cannot be handed in now: it is available"])

    def test_a_hold_that_is_barred_is_told_at_once(self):
        prompt = (Prompt("p1", "Turn", hold_s=0.5),)
        w = walked(project(post("oak", "when held\nonly if has nut\nthen\n  give pin", prompts=prompt)))
        w.run.tick(Input(down=("use",)))
        self.assertEqual(notices(w), ["Needs nut, has 0"])

    def test_what_cools_down_says_for_how_long(self):
        w = walked(project(post("bell", "when used\nthen\n  give nut", cool_down_s=2.0))).press().wait(28).press()
        self.assertEqual(notices(w), ["Bell: not again for 1 s"])

    def test_an_ability_without_a_target_says_so(self):
        giver = post("oak", "when used\nthen\n  grant leap", x=10.0, y=5.0)
        small = dataclasses.replace(project(giver), abilities=(Ability("leap", "Leap", control="second"),))
        w = walked(small, 10.0, 5.0).press()
        self.assertEqual(notices(w.press("second")), ["Leap: nothing within 8 m in front answers to it"])

    def test_own_words_take_the_place_of_ours(self):
        w = walked(project(post("oak", 'when used\nonly if wet or else say "Too dry."\nthen\n  give nut'))).press()
        self.assertEqual(notices(w), ["Too dry."])

    def test_what_others_were_refused_in_the_same_breath_is_not_the_players_concern(self):
        oak = post("oak", "when used\nthen\n  set wet to yes")
        elm = post("elm", "when changed wet\nthen\n  take nut", x=18.0)
        w = walked(project(oak, elm)).press()
        self.assertEqual((notices(w), "refused" in [e.what for e in w.run.chronicle]), ([], True))

    def test_of_walking_nobody_expects_an_answer(self):
        mat = post("mat", "when near\nonly if has nut\nthen\n  give pin", x=5.0, y=5.0)
        self.assertEqual(notices(walked(project(mat, areas=(FLOOR,))).go(5.0, 4.0)), [])


class TheMark(unittest.TestCase):
    """Which entry of a panel a control works travels with the press."""

    CONTROLS = frozenset({"use"})

    def test_it_is_read_and_written_with_the_input_and_left_out_where_there_is_none(self):
        data = {"down": ["use"], "mark": "back"}
        self.assertEqual(read_input(data, self.CONTROLS).as_data(), data)
        self.assertNotIn("mark", read_input({"down": ["use"]}, self.CONTROLS).as_data())

    def test_what_is_no_key_of_an_entry_is_refused_with_its_place(self):
        for wrong in (4, ["back"], "x" * 201, None):
            with self.assertRaises(ProjectError) as refused:
                read_input({"mark": wrong}, self.CONTROLS)
            self.assertEqual([p.path for p in refused.exception.problems], ["mark"])

    def test_an_entry_that_is_not_on_the_panel_is_no_entry(self):
        prompts = (Prompt("p1", "Desk", buttons=(Button("ask", "Ask"), Button("back", "Return"))),)
        cues = ('when chosen ask\nthen\n  say "asked"', 'when chosen back\nthen\n  say "returned"')
        w = walked(project(thing("desk", *cues, prompts=prompts)))
        w.run.tick(Input(down=("use",), up=("use",), mark="elsewhere"))
        self.assertEqual(w.told("notice"), ["“asked”"])
