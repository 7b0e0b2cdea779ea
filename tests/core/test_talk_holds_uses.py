"""Talk where it was opened, holds that belong to one prompt, what counts as a use, quests' smaller rules, carriers."""

from __future__ import annotations

import dataclasses
import unittest

from tests.core.small import DOOR, DOWN, TOGGLE, ZONE, Situation, project, thing, two_levels
from tests.core.walked import walked
from vocanta.core.engine.inputs import Input
from vocanta.core.progress.compiling import compiled
from vocanta.core.project.records import (
    Body,
    Button,
    Conversation,
    Cue,
    Line,
    Motion,
    Objective,
    Prompt,
    Quest,
    Reach,
    Reply,
    Stage,
)

USE = (Prompt("p1", "Use"),)
HOLD = (Prompt("p1", "Hold", hold_s=0.5),)


def talk(*lines, key="chat", talker="oak"):
    return Conversation(key, key.title(), talker, lines)


class Talk(unittest.TestCase):
    def test_a_talk_opened_out_of_reach_goes_on_and_ends_once_reach_was_left(self):
        oak, gong = thing("oak", x=12.0, y=8.0), thing("gong", "when used\nthen\n  set wet to yes", prompts=USE)
        oak = (
            oak[0],
            dataclasses.replace(oak[1], cues=(Cue("c1", "when changed wet\nthen\n  open conversation chat"),)),
        )
        w = walked(project(oak, gong, talks=(talk(Line("hello", ("hello",), True, seconds=60.0)),))).press().wait(30)
        self.assertEqual(w.run.talk.speech.wording, "hello")
        w.go(12.0, 7.0)
        self.assertIsNotNone(w.run.talk.speech)
        self.assertIsNone(w.go(12.0, 4.0).run.talk.speech)

    def test_a_talk_that_waits_out_of_reach_lapses_and_nothing_of_it_is_heard(self):
        elm = thing(
            "elm",
            "when used with second\nthen\n  open conversation news",
            x=2.2,
            prompts=(Prompt("p1", "Ask", "second"),),
        )
        oak = thing("oak", "when used\nthen\n  open conversation chat\n  open conversation news", x=2.0, prompts=USE)
        talks = (
            talk(Line("long", ("long",), True, seconds=3.0, holds_player=False)),
            talk(Line("news_1", ("news",), True, steps="give nut"), key="news", talker="elm"),
        )
        w = walked(project(oak, elm, talks=talks)).press()
        self.assertEqual(w.value("talk_waiting"), 2)
        w.go(8.0, 8.0).wait(120)
        self.assertEqual((w.value("talk_waiting"), w.value("item:nut"), len(w.told("talk_lapsed"))), (0, 0, 1))

    def test_heard_once_and_in_turn_are_kept_for_each_object_where_it_was_opened(self):
        oak, elm = thing("oak", prompts=USE), thing("elm", prompts=USE, x=8.0)
        cue = (Cue("k1", "when used\nthen\n  open conversation chat"),)
        oak, elm = ((dataclasses.replace(k, cues=cue), o) for k, o in (oak, elm))
        lines = (
            Line("first", ("welcome",), True, repeat="once", steps="add 1 to tally"),
            Line("turns", ("one", "two", "three"), True, steps="give nut"),
        )
        ask = thing("ask", "when used only if heard first by elm then set wet to yes", x=14.0)
        s = Situation(project(oak, elm, ask, talks=(talk(*lines),)))
        for key in ("oak", "oak", "elm"):
            s.use("ask")
            self.assertEqual(s["fact:wet"], 0)
            s.use(key)
            s.act("voice:first" if s["talk"] == 1 else "voice:turns")
        s.use("ask")
        self.assertEqual((s["fact:tally"], s["fact:wet"], s["heard:oak/turns"], s["heard:elm/turns"]), (2, 1, 1, 0))

    def test_a_talk_used_by_several_says_its_turns_to_each_anew(self):
        kind, oak = thing("oak", prompts=USE)
        kind = dataclasses.replace(kind, cues=(Cue("k1", "when used\nthen\n  open conversation chat"),))
        twin = dataclasses.replace(oak, key="twin", x_m=9.0)
        small = project((kind, oak), talks=(talk(Line("turns", ("one", "two"), True)),))
        level = dataclasses.replace(small.levels[0], objects=(oak, twin))
        w = walked(dataclasses.replace(small, levels=(level,)))
        said = []
        for place in ((2.0, 1.0), (2.0, 1.0), (9.0, 1.0)):
            w.go(*place).press()
            said.append(w.run.talk.speech.wording)
            w.run.tick(Input(skip=True))
        self.assertEqual(said, ["one", "two", "one"])

    def test_who_is_held_cannot_walk_until_the_line_has_ended(self):
        oak = thing("oak", "when used\nthen\n  open conversation chat", prompts=USE)
        w = walked(project(oak, talks=(talk(Line("hold", ("wait",), True, seconds=1.0, holds_player=True)),))).press()
        before = w.run.situation.player.y
        w.move(0.0, -1.0, 20)
        self.assertEqual(w.run.situation.player.y, before)
        w.wait(15).move(0.0, -1.0, 10)
        self.assertLess(w.run.situation.player.y, before)

    def test_a_talker_who_goes_while_speaking_is_heard_to_the_end(self):
        oak = thing("oak", "when used\nthen\n  open conversation chat\n  remove this", prompts=USE)
        w = walked(project(oak, talks=(talk(Line("bye", ("bye",), True, seconds=2.0)),))).press().wait(20)
        self.assertEqual(w.run.talk.speech.wording, "bye")

    def test_how_often_a_line_was_heard_is_counted_as_far_as_anything_reads_it(self):
        lines = (
            Line("idle", ("idle",), True, needs="wet"),
            Line("asked", ("asked",), True, needs="not wet"),
            Line("stays", ("a", "b", "c"), last_stays=True),
            Line(
                "turns",
                ("a", "b"),
            ),
        )
        oak = thing("oak", "when used only if heard asked then open conversation chat")
        program = compiled(project(oak, talks=(talk(*lines),)))
        highest = {c.key: c.highest for c in program.columns if c.what == "heard"}
        self.assertEqual(highest, {"oak/asked": 1, "oak/stays": 2, "oak/turns": 2})

    def test_steps_of_a_reply_that_open_a_talk_open_it_where_this_one_is(self):
        oak = thing("oak", "when used\nthen\n  open conversation chat", prompts=USE)
        lines = (Line("ask", ("?",), True, replies=(Reply("r1", ("go on",), steps="open conversation news"),)),)
        news = talk(Line("once", ("once",), True, repeat="once"), key="news", talker="")
        s = Situation(project(oak, talks=(talk(*lines), news)))
        s.use("oak")
        s.act("reply:ask/r1")
        self.assertEqual((s["talk"], s["talk_at"], s["heard:oak/once"]), (2, 1, 1))


class Holds(unittest.TestCase):
    def crank(self, cue='when held\nthen\n  say "turned"', **more):
        return thing("crank", cue, **{"prompts": HOLD, **more})

    def test_a_press_on_an_unusable_hold_runs_the_refusal_even_if_it_is_usable_later_in_the_tick(self):
        cue = 'when held\nonly if wet or else say "dry"\nthen\n  say "turned"'
        rain = thing("rain", "when later\nthen\n  set wet to yes", "when started\nthen\n  later after 1 s", x=9.0)
        for ticks in range(26, 34):
            w = walked(project(self.crank(cue), rain)).wait(ticks)
            w.run.tick(Input(down=("use",)))
            held = bool(w.run.holds.by_control)
            self.assertEqual(w.told("notice"), [] if held else ["“dry”"], ticks)
            w.run.tick(Input(up=("use",)))
            self.assertNotIn("“turned”", w.told("notice"))

    def test_a_chance_counts_as_met_for_a_hold_and_is_drawn_when_it_runs(self):
        cue = 'when held\nonly if chance one in 2 or else say "no luck"\nthen\n  say "luck"'
        said = []
        for seed in range(24):
            w = walked(project(self.crank(cue)), seed=seed).wait(1)
            self.assertTrue(w.run.here.prompts.live["use"].usable)
            said += w.press(held=16).told("notice")
        self.assertEqual((len(said), set(said)), (24, {"“luck”", "“no luck”"}))
        self.assertTrue(4 <= said.count("“luck”") <= 20, said)

    def test_shown_as_usual_it_is_refused_when_pressed_and_never_held(self):
        prompts = (dataclasses.replace(HOLD[0], when_unusable="usual"),)
        cue = 'when held\nonly if wet or else say "dry"\nthen\n  say "turned"'
        w = walked(project(self.crank(cue, prompts=prompts))).wait(1)
        self.assertEqual(
            (w.run.here.prompts.live["use"].looks_usable, w.run.here.prompts.live["use"].usable), (True, False)
        )
        w.press(held=20)
        self.assertEqual((w.told("notice"), w.told("hold_begun")), (["“dry”"], []))

    def test_a_hold_begun_in_one_state_does_not_complete_the_prompt_of_another(self):
        prompts = (
            Prompt("p1", "Open", hold_s=0.5, states=("shut",)),
            Prompt("p2", "Shut", hold_s=0.5, states=("ajar",)),
        )
        rain = thing("rain", "when started\nthen\n  wait 0.3 s\n  set crank to ajar", x=9.0)
        w = walked(project(self.crank(prompts=prompts), rain))
        w.run.tick(Input(down=("use",)))
        w.wait(30)
        self.assertEqual((w.told("notice"), len(w.told("hold_broken")), w.run.holds.by_control), ([], 1, {}))

    def test_losing_usability_or_focus_or_letting_go_breaks_a_hold(self):
        needs = 'when held\nonly if not wet\nthen\n  say "turned"'
        rain = thing("rain", "when started\nthen\n  wait 0.3 s\n  set wet to yes", x=9.0)
        lure = thing(
            "lure", 'when held\nthen\n  say "lured"', prompts=HOLD, x=2.0, y=1.6, reach=Reach("circle", 3.0, priority=5)
        )
        lure = (lure[0], dataclasses.replace(lure[1], there_at_start=False))
        bring = thing("bring", "when started\nthen\n  wait 0.3 s\n  put lure at lure", x=9.0)
        for things in ((self.crank(needs), rain), (self.crank(), lure, bring)):
            w = walked(project(*things))
            w.run.tick(Input(down=("use",)))
            self.assertEqual((w.wait(30).told("notice"), len(w.told("hold_broken"))), ([], 1))
        w = walked(project(self.crank()))
        w.run.tick(Input(down=("use",)))
        w.wait(5).run.tick(Input(up=("use",)))
        self.assertEqual((w.wait(30).told("notice"), len(w.told("hold_broken"))), ([], 1))

    def test_two_controls_are_held_side_by_side(self):
        prompts = (Prompt("p1", "One", hold_s=0.5), Prompt("p2", "Two", "second", hold_s=0.5))
        crank = self.crank("when held with use\nthen\n  give nut", prompts=prompts)
        crank = (
            crank[0],
            dataclasses.replace(crank[1], cues=(*crank[1].cues, Cue("c2", "when held with second\nthen\n  give pin"))),
        )
        w = walked(project(crank))
        w.run.tick(Input(down=("use",)))
        w.run.tick(Input(down=("second",)))
        w.wait(20)
        self.assertEqual((w.value("item:nut"), w.value("item:pin"), w.told("hold_broken")), (1, 1, []))


class Uses(unittest.TestCase):
    def test_a_press_that_is_queued_is_one_use_when_it_is_read(self):
        motion = Motion(1.0, hinge_x_m=-0.5, while_moving="queued")
        w = walked(project(thing("door", TOGGLE, **{**DOOR, "motion": motion, "uses": 3}))).press().press()
        self.assertEqual(w.value("uses:door"), 2)
        w.wait(70)
        self.assertEqual((w.value("uses:door"), w.value("state:door")), (1, 0))

    def test_turning_back_is_no_use(self):
        s = Situation(project(thing("oak", "when used then set this to ajar", motion=Motion(2.0), uses=2)))
        s.use("oak")
        self.assertTrue(s.use("oak"))
        self.assertEqual((s["state:oak"], s["uses:oak"]), (0, 1))

    def test_a_press_that_a_cool_down_stops_is_told_with_the_seconds_left(self):
        w = walked(project(thing("bell", 'when used\nthen\n  say "ding"', prompts=USE, cool_down_s=2.0))).press()
        w.wait(27).press()
        self.assertEqual(w.told("cooling"), ["Bell cools down: 1 s left"])

    def test_a_cue_that_fitted_but_was_passed_over_is_told_for_a_press(self):
        s = Situation(
            project(
                thing(
                    "oak",
                    "when used then set wet to yes",
                    "when used then give nut",
                    "when used only if wet then give pin",
                )
            )
        )
        s.use("oak")
        self.assertEqual(s.kinds_told(), ["fact", "passed_over"])
        s.use("oak")
        self.assertEqual(s.kinds_told(), ["fact", "passed_over", "passed_over"])

    def test_removal_and_coming_back_are_changes_too(self):
        watch = thing("watch", "when changed oak then add 1 to tally", x=8.0)
        s = Situation(project(thing("oak", "when used then remove this", "when changed then give nut"), watch))
        s.use("oak")
        self.assertEqual((s["fact:tally"], s["item:nut"]), (1, 1))

    def test_a_moment_is_one_however_its_own_name_is_written(self):
        s = Situation(
            project(
                thing(
                    "oak",
                    "when used then set this to next",
                    "when changed then give nut",
                    "when changed this then give nut",
                    "when changed oak then give nut",
                )
            )
        )
        s.use("oak")
        self.assertEqual(s["item:nut"], 1)

    def test_a_panel_button_that_is_barred_runs_its_refusal(self):
        prompts = (Prompt("p1", "Desk", buttons=(Button("ask", "Ask"),)),)
        desk = thing("desk", 'when chosen ask\nonly if wet or else say "dry"\nthen\n  give nut', prompts=prompts)
        w = walked(project(desk)).wait(1)
        w.run.tick(Input(choose="ask"))
        self.assertEqual((w.told("notice"), w.value("item:nut")), (["“dry”"], 0))


class Ends(unittest.TestCase):
    def test_the_first_end_counts_and_nothing_goes_on_after_it(self):
        box = thing(
            "box",
            "when used\nthen\n  end level lost after 2 s\n  later after 2 s\n  wait 1 s\n  end level won",
            "when later\nthen\n  give nut",
        )
        w = walked(project(box)).press().wait(120)
        self.assertEqual((w.value("ended"), w.value("item:nut"), w.told("ended")), (1, 0, ["The level is won"]))
        s = Situation(project(box))
        s.put("ended", 1)
        self.assertFalse(s.use("box") or s.act("cross:0"))


class Quests(unittest.TestCase):
    def errand(self, *objectives, **more):
        return Quest(
            "errand", "Errand", stages=(Stage("one", "One", objectives=objectives), Stage("two", "Two")), **more
        )

    def test_requirements_are_read_again_when_what_they_sense_changes(self):
        zone = thing("oak", "when used then give nut")
        s = Situation(project(zone, quests=(self.errand(needs="player in reach of oak"),)))
        s.put("status:errand", 0)
        s.put("in_reach:oak", 0)
        s.sense("in_reach:oak", 1)
        self.assertEqual(s["status:errand"], 1)

    def test_what_cannot_be_declined_or_given_up_is_not_by_a_step_either(self):
        oak = thing("oak", "when used then decline errand give up errand")
        for status in (2, 3):
            s = Situation(project(oak, quests=(self.errand(decline="no", give_up="no"),)))
            s.put("status:errand", status)
            s.use("oak")
            self.assertEqual((s["status:errand"], s.kinds_told()), (status, ["not_allowed", "not_allowed"]))

    def test_going_counts_for_an_area_a_level_and_a_zone_and_at_once_for_who_is_there(self):
        zone = thing("zone", x=14.0, y=5.0, **ZONE)
        for target, open_at_once in (("hall", True), ("level", True), ("zone", False)):
            quest = self.errand(Objective("go", "go", "go", (target,)))
            s = Situation(project(zone, thing("oak", "when used then start errand"), quests=(quest,)))
            s.use("oak")
            self.assertEqual(s["met:go"], int(open_at_once), target)
            if not open_at_once:
                s.walk_to("zone")
                self.assertEqual(s["met:go"], 1)

    def test_several_targets_that_can_never_be_enough_are_a_problem(self):
        small = project(
            thing("oak"), thing("elm"), quests=(self.errand(Objective("use_3", "use", "use", ("oak", "elm"), 3)),)
        )
        self.assertEqual([p.code for p in compiled(small).problems], ["objective_impossible"])

    def test_giving_up_and_declining_let_what_was_met_start_over(self):
        quest = self.errand(Objective("use_oak", "use", "use", ("oak",), 2), Objective("hand", "hand", "by_hand"))
        oak = thing("oak", "when used then meet hand")
        s = Situation(project(oak, thing("elm", "when used then give up errand"), quests=(quest,)))
        s.put("status:errand", 3)
        s.use("oak")
        self.assertEqual((s["count:use_oak"], s["met:hand"]), (1, 1))
        s.use("elm")
        self.assertEqual((s["status:errand"], s["count:use_oak"], s["met:hand"]), (1, 0, 0))

    def test_the_press_that_brings_a_stage_does_not_count_for_it(self):
        quest = self.errand(Objective("use_oak", "use", "use", ("oak",), 1))
        s = Situation(project(thing("oak", "when used then start errand"), quests=(quest,)))
        s.use("oak")
        self.assertEqual((s["status:errand"], s["met:use_oak"]), (3, 0))
        s.use("oak")
        self.assertEqual(s["met:use_oak"], 1)

    def test_hand_in_works_where_the_last_stage_is_met_though_it_waits_for_a_cue(self):
        quest = Quest(
            "errand", "Errand", stages=(Stage("one", "One", objectives=(Objective("have", "have", "have", ("nut",)),)),)
        )
        s = Situation(project(thing("oak", "when used then hand in errand"), quests=(quest,)))
        s.put("status:errand", 3)
        s.use("oak")
        self.assertEqual(s["status:errand"], 3)
        s.put("item:nut", 1)
        s.use("oak")
        self.assertEqual(s["status:errand"], 5)


class Carriers(unittest.TestCase):
    def pip(self, key, **more):
        kind, one = thing(key, x=19.0, y=9.0, body=Body("circle", 0.5, 0.5), prompts=(), **more)
        return kind, dataclasses.replace(one, there_at_start=False)

    def test_each_delivery_belongs_to_the_carrier_that_was_sent(self):
        letter = "when later\nthen\n  give nut\n  add 1 to tally"
        desk = thing("desk", "when used\nthen\n  later by fast", letter, prompts=USE)
        twin = thing(
            "twin",
            "when held\nthen\n  later by slow",
            "when later\nthen\n  give pin",
            prompts=(Prompt("p1", "Hold", "second", hold_s=0.1),),
            x=2.4,
        )
        small = two_levels(
            desk,
            twin,
            self.pip("fast", speed_mps=3.0),
            self.pip("slow", speed_mps=0.2),
            exits=(dataclasses.replace(DOWN, x_m=12.0, y_m=5.0),),
        )
        w = walked(small).press().press("second", 6).wait(30 * 8)
        self.assertEqual((w.value("item:nut"), w.value("item:pin"), w.value("later:twin")), (1, 0, 1))

    def test_when_a_carrier_is_removed_the_delivery_is_over_and_can_be_asked_for_again(self):
        desk = thing("desk", "when used\nthen\n  later by pip", "when later\nthen\n  give nut", prompts=USE)
        trap = thing(
            "trap", "when used with second\nthen\n  remove pip", x=2.4, prompts=(Prompt("p1", "Shut", "second"),)
        )
        w = walked(two_levels(desk, trap, self.pip("pip"), exits=(dataclasses.replace(DOWN, x_m=12.0, y_m=5.0),)))
        w.press().wait(20).press("second").wait(300)
        self.assertEqual((w.value("item:nut"), w.value("later:desk"), len(w.told("delivery_over"))), (0, 0, 1))
        w.press().wait(30 * 12)
        self.assertEqual(w.value("item:nut"), 1)


if __name__ == "__main__":
    unittest.main()
