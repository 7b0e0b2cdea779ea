"""What the designer and the player see, each with its exact values: why, the picture, prompts."""

import dataclasses
import unittest

from tests.core.small import DOOR, TOGGLE, USE, post, project, thing
from tests.core.walked import walked
from vocanta.core.engine.inputs import Input
from vocanta.core.engine.needlines import sources
from vocanta.core.engine.picture import Painter
from vocanta.core.engine.situation import at_clock
from vocanta.core.engine.why import explained
from vocanta.core.progress.guards import Within
from vocanta.core.project.records import (
    Ability,
    Conversation,
    Cue,
    Item,
    Line,
    Motion,
    Objective,
    Prompt,
    Quest,
    Reach,
    Reply,
    Stage,
    State,
)


class Named(unittest.TestCase):
    def test_why_and_the_chronicle_call_a_cue_by_the_same_number_in_the_order_of_reading(self):
        kind, one = thing("oak", 'when used\nthen\n  say "third"\nand go on', "when used\nthen\n  give nut")
        first = (
            Cue("k1", 'when used\nthen\n  say "first"\nand go on'),
            Cue("k2", "when used\nonly if wet\nthen\n  give pin"),
        )
        w = walked(project((dataclasses.replace(kind, cues=first), one)))
        said = [line["rule"] for line in explained(w.run, "oak")["cues"]]
        self.assertEqual([rule.split(" of ")[0] for rule in said], ["cue 1", "cue 2", "cue 3", "cue 4"])
        w.press()
        done = [e.rule for e in w.run.chronicle if e.what in ("notice", "gained")]
        self.assertEqual(done, [said[0], said[2], said[3]], w.run.chronicle)

    def test_of_two_cues_that_fit_only_the_one_behind_is_passed_over(self):
        w = walked(project(post("oak", "when used\nthen\n  give nut", "when used\nthen\n  give pin")))
        self.assertEqual([line["passed_over"] for line in explained(w.run, "oak")["cues"]], [False, True])


class WhyNot(unittest.TestCase):
    def lines(self, w, key="oak"):
        found = explained(w.run, key)
        return {line["text"]: (line["met"], line["detail"]) for line in found["place"]}, found["stopped_by"]

    def test_a_hidden_prompt_stops_nothing_while_the_other_is_there_and_is_named_where_it_is_the_only_one(self):
        hidden = Prompt("p2", "Oil", "second", when_unusable="hidden")
        oil = "when used with second\nonly if has nut\nthen\n  give pin"
        push = "when used with use\nthen\n  give nut"
        for prompts, by in (
            ((Prompt("p1", "Push"), hidden), ""),
            ((hidden,), "its prompt for F is hidden"),
        ):
            _, stopped = self.lines(walked(project(post("oak", push, oil, prompts=prompts))))
            self.assertEqual(stopped, by)

    def test_each_thing_that_keeps_a_prompt_away_is_named_with_its_value(self):
        cue = "when used\nthen\n  give nut"
        away = ("out of reach, 5.00 m of 2 m", post("oak", cue, x=7.0, y=1.0), "In reach", (False, "5.00 m of 2 m"))
        bare = ("it has no reach", post("oak", cue, reach=Reach("none")), "Has a reach", (False, "none is set"))
        off = (State("s", "spent", reach_on=False),)
        spent = (
            "no prompt while spent",
            post("oak", cue, states=off, reach=Reach("none")),
            "State spent offers a prompt",
            (False, ""),
        )
        deaf = Reach("circle", 2.0, who=("characters",))
        other = (
            "the player does not count for its reach",
            post("oak", cue, reach=deaf),
            "The player counts",
            (False, "characters"),
        )
        for stopped, one, line, said in (away, bare, spent, other):
            with self.subTest(line):
                lines, by = self.lines(walked(project(one)))
                self.assertEqual(lines[line], said)
                self.assertEqual(by, "it has no reach" if one is spent[1] else stopped)
        box = post("oak", cue, reach=Reach("box", width_m=4.0, depth_m=4.0), x=2.0, y=2.0)
        self.assertEqual(self.lines(walked(project(box)))[0]["In reach"], (True, "1.00 m from its middle"))

    def test_where_what_is_asked_for_could_come_from(self):
        w = walked(
            project(post("oak", "when used\nthen\n  give nut"), post("box", "when used\nthen\n  take nut", x=9.0))
        )
        nut = w.run.situation.program.table.number("item:nut")
        found = sources(w.run.situation, Within(nut, 1, 3, True))
        self.assertEqual(found, [{"origin": "object/oak", "text": "Oak"}])

    def test_gone_not_there_yet_and_downed(self):
        ghost = post("oak", "when used\nthen\n  give nut")
        ghost = (ghost[0], dataclasses.replace(ghost[1], there_at_start=False))
        put = post("box", "when used\nthen\n  put oak at this")
        w = walked(project(ghost, put))
        self.assertEqual(self.lines(w)[1], "it is not there yet")
        w = walked(project(post("oak", "when used\nthen\n  remove this"))).press()
        self.assertEqual(self.lines(w), ({"It is there": (False, "")}, "it is gone"))
        pip = post("oak", "when used\nthen\n  down this", walks=True, speed_mps=1.0, comes_back_s=5.0)
        self.assertEqual(self.lines(walked(project(pip)).press())[1], "it is downed")

    def test_uses_left_and_the_seconds_of_a_cool_down(self):
        w = walked(project(post("oak", "when used\nthen\n  add 1 to tally", uses=2, cool_down_s=2.0))).press().wait(28)
        lines, stopped = self.lines(w)
        self.assertEqual((lines["Uses left"], lines["Not cooling down"]), ((True, "1 of 2"), (False, "1.0 s left")))
        self.assertEqual(stopped, "it cools down")
        lines, _ = self.lines(w.wait(40).press().wait(70))
        self.assertEqual((lines["Uses left"], lines["Not cooling down"]), ((False, "0 of 2"), (True, "")))

    def test_facing_sight_and_who_gets_the_control(self):
        near = post(
            "ash", "when used\nthen\n  give nut", x=3.5, y=1.0, reach=Reach("circle", 2.0, facing_deg=40.0, sight_m=3.0)
        )
        far = post("oak", "when used\nthen\n  give nut", x=2.0, y=2.9)
        w = walked(project(near, far), facing=38.0).wait(1)
        lines, _ = self.lines(w, "ash")
        self.assertEqual(
            (lines["Facing"], lines["Clear sight"]),
            ((True, "38° of 40°, 5° more until it is lost"), (True, "up to 3 m")),
        )
        self.assertEqual(lines["Gets E"], (True, "it is nearer than Oak, 1.50 m against 1.90 m"))
        self.assertEqual(
            self.lines(w)[0]["Gets E"], (False, "Ash has it: it is nearer than this, 1.50 m against 1.90 m")
        )
        covered = post("ash", "when used\nthen\n  give nut", states=(State("a", "a"),), prompts=())
        self.assertNotIn("Gets E", self.lines(walked(project(covered)), "ash")[0])
        w = walked(project(near), facing=41.0).wait(1)
        self.assertEqual(self.lines(w, "ash")[0]["Facing"], (False, "41° of 40°"))
        alone, _ = self.lines(walked(project(far)).wait(1))
        self.assertEqual(alone["Gets E"], (True, "alone in reach"))

    def test_while_somebody_speaks_nothing_else_can_be_used(self):
        talk = Conversation("chat", "Chat", "oak", (Line("hail", ("Hail",), True, seconds=5.0),))
        w = walked(project(post("oak", "when used\nthen\n  open conversation chat"), talks=(talk,))).press()
        lines, stopped = self.lines(w)
        self.assertEqual((lines["Nobody is speaking"], stopped), ((False, "Chat"), "somebody is speaking"))


class Painted(unittest.TestCase):
    def test_a_part_under_way_is_painted_until_it_stands_still_and_only_changes_after(self):
        door = thing("door", TOGGLE, **{**DOOR, "motion": Motion(0.2, easing="even", hinge_x_m=-0.5)})
        w = walked(project(door), 2.0, 1.0)
        painter = Painter(w.run)
        first = painter.first()
        self.assertEqual(first["objects"]["door"]["state"], "shut")
        self.assertEqual((first["poses"], first["level"], first["talk"]), ({}, "level", None))
        swings = []
        w.run.tick(Input(down=("use",)))
        for _ in range(8):
            picture = painter.next([])
            swings.append(picture["poses"].get("door", [None])[0])
            self.assertNotIn("level", picture)
            w.wait(1)
        self.assertEqual(swings, [0.0, 15.0, 30.0, 45.0, 60.0, 75.0, 90.0, None])
        self.assertNotIn("objects", painter.next([]))

    def test_the_shown_values_and_what_is_in_hand(self):
        cues = ("when used\nthen\n  add 40 to money\n  add 100 to experience\n  give nut\n  equip lens",)
        small = project(post("oak", *cues))
        lens, leap = Item("lens", "lens", slot="hand"), Ability("leap", "Leap", gear="lens", control="second")
        small = dataclasses.replace(
            small, items=(*small.items, lens), abilities=(leap,), experience_levels=(50, 100, 200)
        )
        small = dataclasses.replace(small, facts=small.facts)
        w = walked(small, puts=(("item:lens", 1),))
        hud = Painter(w.press().run).hud()
        self.assertEqual((hud["money"], hud["experience"], hud["experience_level"]), (40, 100, 3))
        self.assertEqual({i["key"]: i["count"] for i in hud["items"]}, {"nut": 1, "lens": 1})
        self.assertEqual(hud["gear"], [{"slot": "hand", "item": "lens"}])
        self.assertEqual([(a["key"], a["usable"]) for a in hud["abilities"]], [("leap", True)])
        self.assertEqual(hud["ended"], "")


class OnScreen(unittest.TestCase):
    def test_a_prompt_with_its_hold_and_its_place(self):
        shown = Prompt("p2", "Hold {object}", "second", hold_s=1.0, offset_x_m=0.5, offset_y_m=-0.25)
        oak = post(
            "oak", "when held\nthen\n  give nut", "when used\nonly if wet\nthen\n  give pin", prompts=(*USE, shown)
        )
        w = walked(project(oak)).wait(1)

        def prompts():
            return {p["control"]: p for p in Painter(w.run).first()["prompts"]}

        hold = prompts()["second"]
        self.assertEqual((hold["at"], hold["hold"], hold["progress"], hold["usable"]), ((2.5, 1.75), True, 0.0, True))
        use = prompts()["use"]
        self.assertEqual((use["hold"], use["usable"], use["reason"], use["wording"]), (False, False, "Wet: no", "Use"))
        w.run.tick(Input(down=("second",)))
        w.wait(14)
        self.assertEqual((prompts()["second"]["progress"], prompts()["use"]["progress"]), (0.5, 0.0))
        w.wait(15)
        self.assertEqual((prompts()["second"]["progress"], w.value("item:nut")), (0.0, 1))

    def test_what_is_said_with_its_voice_and_its_answers(self):
        replies = (
            Reply("r1", ("Yes",)),
            Reply("r2", ("Wet",), needs="wet", unmet="greyed"),
            Reply("r3", ("No",), needs="wet", unmet="hidden"),
        )
        talk = Conversation("chat", "Chat", "oak", (Line("hail", ("Hail",), True, seconds=1.0, replies=replies),))
        w = walked(project(post("oak", "when used\nthen\n  open conversation chat"), talks=(talk,)))
        w.run.tick(Input(down=("use",)))
        left = w.run.talk.speech.left
        w.wait(left - 15)
        said = Painter(w.run).first()["talk"]
        self.assertEqual((said["line"], said["speaker"], said["wording"], said["voice"]), ("hail", "Oak", "Hail", 0.5))
        answers = [(r["key"], r["usable"], r["reason"]) for r in said["replies"]]
        self.assertEqual(answers, [("r1", True, ""), ("r2", False, "Wet: no")])
        w.run.tick(Input(choose="r2"))
        self.assertIsNotNone(w.run.talk.speech)
        w.run.tick(Input(choose="r1"))
        self.assertIsNone(w.run.talk.speech)

    def test_the_clock_of_the_chronicle(self):
        self.assertEqual(
            [at_clock(t) for t in (0, 2, 3, 30, 1799, 1800, 30 * 3600)],
            ["00:00.0", "00:00.0", "00:00.1", "00:01.0", "00:59.9", "01:00.0", "60:00.0"],
        )


class Objectives(unittest.TestCase):
    def test_how_far_each_sort_of_objective_is(self):
        asked = (
            Objective("o1", "Nuts", "have", ("nut",), 3),
            Objective("o2", "Tally", "fact", ("tally",), 4),
            Objective("o3", "Ajar", "state", ("oak", "box"), 2, "ajar"),
            Objective("o4", "Use it", "use", ("oak",), 5),
            Objective("o5", "By hand", "by_hand"),
        )
        cues = (
            "when started\nthen\n  start errand",
            "when used\nthen\n  set box to ajar\n  add 3 to tally\n  give 2 nut",
        )
        quest = Quest("errand", "Errand", stages=(Stage("s1", "S", objectives=asked),))
        w = walked(project(post("oak", *cues), post("box", x=9.0), quests=(quest,))).wait(1)

        def counts():
            return [(o["count"], o["of"], o["met"]) for o in Painter(w.run).hud()["quests"][0]["objectives"]]

        self.assertEqual(counts(), [(0, 3, False), (0, 4, False), (0, 2, False), (0, 5, False), (0, 1, False)])
        w.press()
        self.assertEqual(counts(), [(2, 3, False), (3, 4, False), (1, 2, False), (1, 5, False), (0, 1, False)])


if __name__ == "__main__":
    unittest.main()
