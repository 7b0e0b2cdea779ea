"""What goes on in a level that was left, what an action that never settles leaves behind, and what waits."""

from __future__ import annotations

import dataclasses
import unittest

import numpy as np

from tests.core.small import DOOR, DOWN, STATES, TOGGLE, UP, ZONE, Situation, project, thing, two_levels
from tests.core.walked import walked
from vocanta.core.engine.inputs import Input
from vocanta.core.progress.walking import Walk
from vocanta.core.project.records import Area, Body, Conversation, Line, Motion, Prompt, Reach

SIDE = Area("side", "Side", ((20, 0), (30, 0), (30, 10), (20, 10)))


def copied(*cues):
    """A kind that only steps put, with an object of it far off."""
    kind, one = thing("moth", *cues, prompts=(), x=18.0, y=9.0)
    return dataclasses.replace(kind, cues=one.cues), dataclasses.replace(one, cues=())


class OtherLevels(unittest.TestCase):
    def test_a_motion_set_from_another_level_takes_its_end_at_once(self):
        lever = thing("lever", 'when used\nthen\n  set gate to open\n  wait for it\n  say "there"', x=4.0, y=4.0)
        gate = thing("gate", **DOOR)
        w = walked(two_levels(gate, lower=(lever,)), 4.0, 3.0, level="below").press().wait(2)
        self.assertEqual((w.value("state:gate"), w.value("moving:gate")), (1, 0))
        self.assertEqual(w.told("notice"), ["“there”"])

    def test_what_is_put_by_a_cue_that_goes_on_lands_in_the_level_of_its_spot(self):
        for step, at in (
            ("put moth_kind at this by 1 m, 0 m", (3.0, 2.0)),
            ("drop moth_kind at the feet of this", (2.0, 2.0)),
            ("scatter 1 moth_kind around this within 0.5 m", (2.0, 2.0)),
        ):
            box = thing("box", f"when used\nthen\n  wait 3 s\n  {step}")
            w = walked(two_levels(box, copied(), exits=(dataclasses.replace(DOWN, x_m=3.0),))).press().go(3.0, 1.0)
            self.assertEqual(w.run.situation.level, "below")
            level, x, y = w.wait(90).place("moth_kind@box_1.1")
            self.assertEqual(level, "level")
            self.assertLessEqual(abs(x - at[0]) + abs(y - at[1]), 1.0 if "scatter" in step else 0.0, step)

    def test_a_run_that_begins_in_another_level_starts_that_one(self):
        first = thing("first", 'when started\nthen\n  say "up"')
        second = thing("second", 'when started\nthen\n  say "down"')
        w = walked(two_levels(first, lower=(second,)), 1.0, 1.0, level="below")
        self.assertEqual(w.told("notice"), ["“down”"])

    def test_the_player_is_moved_to_where_a_thing_is_by_then(self):
        post, far = thing("post", x=4.0, y=4.0), thing("far", x=6.0, y=6.0, prompts=())
        box = thing("box", "when used\nthen\n  put post at far\n  move player to post")
        w = walked(two_levels(box, post, lower=(far,))).press()
        player = w.run.situation.player
        self.assertEqual((w.run.situation.level, player.x, player.y), ("below", 6.0, 5.2))
        self.assertEqual(w.told("moved"), ["Moved to Post"])

    def test_a_level_without_areas_can_be_walked_and_used(self):
        small = project(thing("box", TOGGLE), areas=())
        w = walked(small).press()
        self.assertEqual(w.value("state:box"), 1)
        w.move(1.0, 0.0, 10)
        self.assertGreater(w.run.situation.player.x, 3.0)

    def test_things_change_places_from_level_to_level(self):
        box, twin = thing("box", "when used\nthen\n  swap box and twin"), thing("twin", x=6.0, y=6.0)
        w = walked(two_levels(box, lower=(twin,))).press()
        self.assertEqual((w.place("box"), w.place("twin")), (("below", 6.0, 6.0), ("level", 2.0, 2.0)))
        self.assertEqual(w.told("swapped"), ["Box and Twin change places"])
        w.press()  # what stands here now is the twin, which nothing waits for
        self.assertEqual(len(w.told("swapped")), 1)

    def test_a_swap_with_what_is_gone_is_refused(self):
        s = Situation(project(thing("oak", "when used then swap oak and elm"), thing("elm", x=8.0)))
        s.put("exists:elm", 0)
        self.assertFalse(s.use("oak"))
        self.assertEqual(dict(s.told[0].details)["why"], "one of the two is not there")

    def test_fresh_leaves_no_marks_and_no_waits_and_is_no_moment(self):
        lamp = thing(
            "lamp",
            "when used\nthen\n  set this to next\n  mark this\n  wait 60 s\n  give nut",
            "when changed\nthen\n  add 1 to tally",
            fresh=True,
        )
        w = walked(two_levels(lamp, exits=(DOWN,), back=(UP,))).press().go(5.0, 1.0).go(7.0, 4.0)
        self.assertEqual(w.told("fresh"), ["Lamp starts over"])
        waits = "waits:lamp/object/lamp/cue/c1"
        self.assertEqual([w.value(c) for c in ("state:lamp", "mark:lamp", waits, "fact:tally")], [0, 0, 0, 1])

    def test_copies_that_are_fresh_are_gone_with_their_level(self):
        kind, one = copied()
        kind = dataclasses.replace(kind, design=dataclasses.replace(kind.design, fresh=True))
        box = thing("box", "when used\nthen\n  put moth_kind at this by 1 m, 0 m")
        w = walked(two_levels(box, (kind, one), exits=(DOWN,), back=(UP,))).press().go(5.0, 1.0)
        self.assertEqual(w.value("exists:moth_kind@box_1.1"), 1)
        self.assertEqual(w.go(7.0, 4.0).value("exists:moth_kind@box_1.1"), 0)


class Faults(unittest.TestCase):
    CHASE = ("when gained money\nthen\n  add 1 to money",)

    def test_a_faulted_action_changes_nothing_in_the_row_or_beside_it(self):
        steps = 'open conversation chat\n  put crate at far\n  say "+1"\n  add 1 to money\n  move player to far'
        box, far = thing("box", f"when used\nthen\n  {steps}", *self.CHASE), thing("far", x=6.0, y=6.0, prompts=())
        talks = (Conversation("chat", "Chat", "box", (Line("hello", ("hello",), True),)),)
        w = walked(two_levels(box, thing("crate", x=4.0, y=4.0), lower=(far,), talks=talks))
        before = list(w.run.situation.row)
        w.press()
        self.assertEqual([e.what for e in w.run.chronicle if e.tick], ["fault"])
        self.assertEqual((w.run.situation.row, w.run.talk.speech), (before, None))
        self.assertEqual((w.place("crate"), w.run.situation.level), (("level", 4.0, 4.0), "level"))

    def test_after_a_fault_the_cues_that_chase_are_off_and_the_press_is_not(self):
        box = thing("box", "when used\nthen\n  add 1 to money\n  give nut", *self.CHASE)
        w = walked(project(box)).press().press()
        self.assertEqual((w.value("money"), w.value("item:nut"), len(w.told("fault"))), (1, 1, 1))
        self.assertEqual(w.run.off, {"gained:box/money"})

    def test_who_only_listens_to_a_chase_stays_on(self):
        watch = thing("watch", "when gained money\nthen\n  set wet to yes", x=9.0)
        box = thing("box", "when used\nthen\n  add 1 to money", *self.CHASE)
        w = walked(project(box, watch)).press()
        self.assertEqual(w.run.off, {"gained:box/money"})
        self.assertEqual(w.press().value("fact:wet"), 1)

    def test_a_chase_on_entering_faults_once_and_the_walk_goes_on(self):
        lamp = thing("lamp", "when entered side\nthen\n  add 1 to money", *self.CHASE)
        hall = Area("hall", "Hall", ((0, 0), (20, 0), (20, 10), (0, 10)))
        w = walked(project(lamp, areas=(hall, SIDE)), 19.0, 5.0).go(22.0, 5.0)
        self.assertEqual((len(w.told("fault")), w.value("money")), (1, 0))
        self.assertEqual(w.told("crossed"), ["Walked into Side"])
        self.assertEqual(w.go(18.0, 5.0).go(22.0, 5.0).told("crossed")[1:], ["Walked into Hall", "Walked into Side"])
        self.assertEqual((len(w.told("fault")), w.value("money")), (1, 1))

    def test_the_entry_is_kept_where_the_walking_itself_was_the_action(self):
        lamp = thing("lamp", "when entered below\nthen\n  add 1 to money", *self.CHASE)
        w = walked(two_levels(lamp, exits=(DOWN,))).go(5.0, 1.0)
        self.assertEqual((w.run.situation.level, len(w.told("fault"))), ("below", 1))
        self.assertEqual(w.run.situation.layout.entries[w.value("entry")], "exit:way_down")


class Waits(unittest.TestCase):
    def test_stay_clear_in_a_cue_that_goes_on_is_tried_again_when_the_way_is_clear(self):
        clear = {**DOOR, "motion": Motion(0.0, hinge_x_m=-0.5, stay_clear=True)}
        door = thing("door", "when used\nthen\n  wait 1 s\n  give nut\n  set this to open", **clear)
        w = walked(project(door)).press().stand(1.7, 2.2).wait(60)
        self.assertEqual((w.value("state:door"), w.value("item:nut"), len(w.told("refused"))), (0, 0, 1))
        w.stand(4.0, 4.0).wait(2)
        self.assertEqual((w.value("state:door"), w.value("item:nut")), (1, 1))
        self.assertEqual(len(w.told("refused")), 1)

    def test_of_many_rows_those_with_somebody_in_the_way_wait_on_and_the_others_go_on(self):
        clear = {**DOOR, "motion": Motion(0.0, hinge_x_m=-0.5, stay_clear=True)}
        door = thing("door", "when used\nthen\n  wait 1 s\n  give nut\n  set this to open", **clear)
        s = Situation(project(door))
        s.use("door")
        names = [c.name for c in s.program.columns]
        way = next(i for i, c in enumerate(s.program.columns) if c.what == "in_way")
        rows = np.repeat(np.array([s.row], dtype=np.int32), 2, axis=0)
        rows[0, way] = 1
        Walk(s.program, rows).act(s.program.by_name["resume:door/object/door/cue/c1/1"])
        shown = [names.index(c) for c in ("waits:door/object/door/cue/c1", "state:door", "item:nut")]
        self.assertEqual(rows[:, shown].tolist(), [[1, 0, 0], [0, 1, 1]])

    def test_any_other_refusal_of_a_later_segment_ends_the_cue(self):
        s = Situation(project(thing("oak", "when used then wait 1 s take nut")))
        s.use("oak")
        s.act("resume:oak/object/oak/cue/c1/1", attempt=True)
        self.assertEqual(s["waits:oak/object/oak/cue/c1"], 0)

    def test_a_cue_whose_motion_is_sent_elsewhere_ends_told(self):
        gate = thing(
            "gate",
            states=(*DOOR["states"], dataclasses.replace(DOOR["states"][1], key="wide", name="wide")),
            motion=Motion(2.0),
            x=6.0,
        )
        once = (Prompt("p1", "Open"),)
        one = thing("one", 'when used\nthen\n  set gate to open\n  wait for it\n  say "open"', prompts=once)
        other = thing(
            "other", "when used with second\nthen\n  set gate to wide", x=2.5, prompts=(Prompt("p1", "Push", "second"),)
        )
        w = walked(project(one, other, gate)).press().press("second").wait(120)
        self.assertEqual((w.told("notice"), w.value("state:gate")), ([], 2))
        self.assertEqual(w.told("wait_ended"), ["Gate was sent elsewhere; what waited for it ended"])

    def test_where_it_stood_is_where_it_stood_when_the_cue_began(self):
        crate = thing("crate", "when used\nthen\n  put crate at far\n  wait 1 s\n  put moth_kind where it stood")
        far = thing("far", x=12.0, y=6.0, prompts=())
        w = walked(project(crate, far, copied())).press().wait(40)
        self.assertEqual((w.place("crate")[1:], w.place("moth_kind@crate_1.1")[1:]), ((12.0, 6.0), (2.0, 2.0)))

    def test_a_copy_that_is_put_anew_waits_for_nothing(self):
        moth = copied("when used\nthen\n  wait 60 s\n  give nut")
        kind = dataclasses.replace(moth[0], design=dataclasses.replace(moth[0].design, prompts=(Prompt("p1", "Shoo"),)))
        box = thing(
            "box",
            "when used with second\nthen\n  put moth_kind at this at most 1",
            "when held\nthen\n  remove this",
            prompts=(Prompt("p1", "Call", "second"),),
            y=2.0,
        )
        s = Situation(project(box, (kind, moth[1])))
        copy = "moth_kind@box_1.1"
        s.act("used:box/second", attempt=True)
        s.use(copy)
        self.assertEqual(s.kinds_told(), [])
        s.put(f"exists:{copy}", 0)
        s.act("used:box/second", attempt=True)
        self.assertTrue(s.use(copy))
        self.assertNotIn("under_way", s.kinds_told())

    def test_an_object_that_is_moved_keeps_its_columns_and_waits(self):
        crate = thing("crate", "when used\nthen\n  wait 60 s\n  give nut", uses=2)
        mover = thing("mover", "when used\nthen\n  put crate at mover", x=9.0)
        s = Situation(project(crate, mover))
        s.use("crate")
        s.use("mover")
        self.assertEqual((s["uses:crate"], s["waits:crate/object/crate/cue/c1"]), (1, 1))

    def test_clocks_that_run_out_in_one_tick_do_so_by_creation_not_by_when_they_began(self):
        first = thing(
            "first",
            'when later\nthen\n  say "first"',
            "when used\nthen\n  later after 1 s",
            prompts=(Prompt("p1", "Go"),),
        )
        second = thing(
            "second",
            'when later\nthen\n  say "second"',
            "when used with second\nthen\n  later after 1.1 s",
            prompts=(Prompt("p1", "Go", "second"),),
            x=2.5,
        )
        w = walked(project(first, second))
        w.run.tick(Input(down=("second",)))
        w.wait(2).run.tick(Input(down=("use",)))
        self.assertEqual(w.wait(40).told("notice"), ["“first”", "“second”"])


class NearInPairs(unittest.TestCase):
    def test_what_goes_and_comes_back_within_one_action_is_told_as_away_then_near(self):
        lamp = thing(
            "lamp",
            "when used\nthen\n  remove this\n  put lamp at box\n  give nut",
            'when away\nthen\n  say "away"',
            'when near\nthen\n  say "near"',
        )
        box = thing("box", x=2.2, prompts=())
        w = walked(project(lamp, box)).wait(1)
        self.assertEqual(w.told("notice"), ["“near”"])
        w.press()
        self.assertEqual(
            [e.what for e in w.run.chronicle if e.what in ("near", "away") and e.subject == "lamp"],
            ["near", "away", "near"],
        )

    def test_a_reach_that_goes_off_and_on_within_one_action(self):
        off = (STATES[0], dataclasses.replace(STATES[1], reach_on=False))
        lamp = thing(
            "lamp",
            "when used\nthen\n  set this to ajar\n  set this to shut",
            "when away\nthen\n  add 1 to tally",
            "when near\nthen\n  give nut",
            states=off,
        )
        s = Situation(project(lamp))
        s.walk_to("lamp")
        s.use("lamp")
        self.assertEqual((s["near:lamp"], s["fact:tally"], s["item:nut"]), (1, 1, 2))
        self.assertEqual([k for k in s.kinds_told() if k in ("near", "away")], ["away", "near"])

    def test_being_downed_or_moved_is_read_at_once_and_away_is_settled_with_it(self):
        for step in ("down player", "move player to post"):
            zone = thing("zone", f"when used\nthen\n  {step}", "when away\nthen\n  add 1 to tally", uses=2)
            w = walked(project(zone, thing("post", x=15.0, y=8.0, prompts=())))
            w.run.tick(Input(down=("use", "second"), up=()))
            self.assertEqual((w.value("fact:tally"), w.value("near:zone"), w.run.here.prompts.live), (1, 0, {}), step)
            self.assertEqual(w.value("uses:zone"), 1, "the other press of this tick meets nothing any more")

    def test_the_player_in_a_zone_is_the_player_whoever_else_counts(self):
        who = Reach("circle", 1.5, who=("player", "characters"))
        zone = thing("zone", x=8.0, y=5.0, **{**ZONE, "reach": who}, suspends=("leap",))
        cat = thing("cat", x=8.5, y=5.0, prompts=(), walks=True, body=Body("circle", 0.4, 0.4), reach=Reach("none"))
        bell = thing(
            "bell",
            "when used\nonly if player in zone\nthen\n  give nut",
            "when held\nonly if can leap\nthen\n  give pin",
        )
        giver = thing(
            "giver", "when near\nthen\n  grant leap", "when near\nthen\n  add 1 to tally", x=2.5, y=1.0, **ZONE
        )
        w = walked(project(zone, cat, bell, giver)).wait(2).press().press("second", 20)
        self.assertEqual((w.value("item:nut"), w.value("item:pin")), (0, 1))


if __name__ == "__main__":
    unittest.main()
