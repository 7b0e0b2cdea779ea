"""Objects in full, played with the engine: who counts, motions, copies, levels, carriers, abilities, and designers' slips."""

from __future__ import annotations

import dataclasses
import unittest

from tests.core.small import DOOR, DOWN, FLOOR, TOGGLE, UP, ZONE, Situation, project, thing, two_levels
from tests.core.walked import walked
from vocanta.core.engine.inputs import Input
from vocanta.core.engine.picture import Painter
from vocanta.core.engine.run import Run
from vocanta.core.project.records import (
    Ability,
    Area,
    Body,
    Button,
    Cue,
    Exit,
    Item,
    Motion,
    Prompt,
    Quest,
    Reach,
    Role,
    Sound,
    Stage,
    Tag,
    Wall,
)


class Motions(unittest.TestCase):
    def moved(self, while_moving, presses=(10,)):
        door = thing("door", TOGGLE, **{**DOOR, "motion": Motion(1.0, hinge_x_m=-0.5, while_moving=while_moving)})
        w = walked(project(door)).press()
        for wait in presses:
            w.wait(wait).press()
        return w

    def test_used_while_it_moves_it_turns_back_from_where_it_is(self):
        w = self.moved("turned_back")
        self.assertEqual(w.value("state:door"), 0)
        w.wait(15)
        self.assertEqual((w.told("arrived"), w.value("moving:door")), (["Door is shut"], 0))

    def test_used_while_it_moves_it_can_ignore_that(self):
        w = self.moved("ignored").wait(40)
        self.assertEqual((w.value("state:door"), w.told("arrived")), (1, ["Door is open"]))

    def test_a_use_while_it_moves_can_be_kept_once_until_it_has_arrived(self):
        w = self.moved("queued", presses=(5, 5))
        self.assertEqual((w.value("state:door"), w.value("queued:door")), (1, 1))
        w.wait(60)
        self.assertEqual(w.told("arrived"), ["Door is open", "Door is shut"])

    def test_a_motion_of_no_time_at_all_is_there_at_once(self):
        w = walked(project(thing("door", TOGGLE, **{**DOOR, "motion": Motion(0.0)}))).press(held=0)
        self.assertEqual((w.value("state:door"), w.told("arrived")), (1, []))

    def test_a_hinge_outside_the_body_swings_it_around_that_point(self):
        far = {**DOOR, "motion": Motion(0.0, hinge_x_m=-3.0)}
        w = walked(project(thing("door", TOGGLE, **far))).press()
        # placed at (2, 2), hinge at (-1, 2): a quarter turn brings its middle 3 m above the hinge
        self.assertEqual([round(v, 3) for v in w.run.here.mover.place_of("door")[:2]], [-1.0, 5.0])

    def test_somebody_in_its_way_refuses_the_motion(self):
        w = walked(project(thing("door", TOGGLE, **{**DOOR, "motion": Motion(1.0, hinge_x_m=-0.5, stay_clear=True)})))
        w.stand(1.6, 2.4, -90.0)
        w.wait(1).press()
        self.assertEqual(w.value("state:door"), 0)
        self.assertIn("somebody is in the way", w.told("refused")[0])


class HoldsAndPresses(unittest.TestCase):
    def test_letting_go_of_a_hold_at_its_last_tick_does_nothing(self):
        w = walked(project(thing("crank", 'when held\nthen\n  say "turned"')))
        w.press("second", 13)  # half a second is 15 ticks, the press is the first
        self.assertEqual((w.told("notice"), len(w.told("hold_broken"))), ([], 1))
        w.press("second", 14)
        self.assertEqual(w.told("notice"), ["“turned”"])

    def test_a_control_let_go_and_pressed_again_in_one_tick_is_a_new_press(self):
        w = walked(project(thing("bell", "when used\nthen\n  add 1 to tally")))
        w.run.tick(Input(down=("use",)))
        w.wait(3).run.tick(Input(up=("use",), down=("use",)))
        self.assertEqual((w.value("fact:tally"), w.run.held), (2, {"use"}))
        w.run.tick(Input(up=("use",)))
        w.run.tick(Input(down=("use",), up=("use",)))
        self.assertEqual((w.value("fact:tally"), w.run.held), (3, set()))

    def test_a_hold_let_go_and_pressed_again_in_one_tick_begins_anew(self):
        w = walked(project(thing("crank", 'when held\nthen\n  say "turned"')))
        w.run.tick(Input(down=("second",)))
        w.wait(10).run.tick(Input(up=("second",), down=("second",)))
        self.assertEqual((len(w.told("hold_begun")), len(w.told("hold_broken"))), (2, 1))
        self.assertEqual(w.wait(12).told("notice"), [])
        self.assertEqual(w.wait(2).told("notice"), ["“turned”"])

    def test_a_thing_is_never_picked_up_twice_in_one_tick(self):
        both = (Prompt("p1", "Take"), Prompt("p2", "Grab", "second"))
        w = walked(project(thing("nut_1", "when used\nthen\n  give nut\n  remove this", prompts=both)))
        w.run.tick(Input(down=("use", "second")))
        self.assertEqual((w.value("item:nut"), w.value("exists:nut_1")), (1, 0))

    def test_two_prompts_for_one_control_give_it_to_the_first_offered(self):
        both = (Prompt("p1", "Knock"), Prompt("p2", "Kick"))
        w = walked(project(thing("gate", 'when used\nthen\n  say "once"', prompts=both)))
        self.assertEqual([p.wording for p in w.run.here.prompts.live.values()], ["Knock"])
        self.assertEqual(w.press().told("notice"), ["“once”"])

    def test_a_cool_down_refuses_until_it_is_over(self):
        w = walked(project(thing("bell", 'when used\nthen\n  say "ding"', cool_down_s=1.0)))
        w.press().wait(5)
        self.assertEqual(w.run.here.prompts.live["use"].reason, "not again yet")
        w.press().wait(30).press()
        self.assertEqual(w.told("notice"), ["“ding”"] * 2)

    def test_a_panel_is_worked_by_its_buttons_and_by_its_control_the_marked_one(self):
        buttons = (Prompt("p1", "Desk", buttons=(Button("ask", "Ask"), Button("back", "Return"))),)
        cues = (
            'when chosen ask\nonly if has nut or else say "bring a nut"\nthen\n  say "asked"',
            'when chosen back\nthen\n  say "returned"',
        )
        w = walked(project(thing("desk", *cues, prompts=buttons)))
        live = w.run.here.prompts.live["use"].buttons
        self.assertEqual(
            [(b.key, b.usable, b.reason) for b in live], [("ask", False, "bring a nut"), ("back", True, "")]
        )
        w.run.tick(Input(choose="ask"))
        w.run.tick(Input(choose="back"))
        self.assertEqual(w.told("notice"), ["“bring a nut”", "“returned”"])
        for mark, said in (("", "bring a nut"), ("ask", "bring a nut"), ("back", "returned"), ("gone", "bring a nut")):
            w.run.tick(Input(down=("use",), up=("use",), mark=mark))
            self.assertEqual(w.told("notice")[-1], f"“{said}”", mark)

    def test_an_entry_of_a_panel_is_hidden_dimmed_or_as_usual_by_itself(self):
        ways = ("hidden", "dimmed", "usual")
        buttons = tuple(Button(f"b_{way}", way, way) for way in ways)
        cues = [f'when chosen b_{way}\nonly if has nut\nthen\n  say "{way}"' for way in ways]
        cues.append("when held\nthen\n  give nut")
        prompts = (Prompt("p1", "Desk", buttons=buttons), Prompt("p2", "Give", "second", hold_s=0.2))
        w = walked(project(thing("desk", *cues, prompts=prompts)))

        def shown():
            return [(b["key"], b["usable"], b["reason"]) for b in Painter(w.run).first()["prompts"][0]["buttons"]]

        self.assertEqual(shown(), [("b_dimmed", False, "needs nut, has 0"), ("b_usual", True, "")])
        w.press("second", held=8)
        self.assertEqual(shown(), [("b_hidden", True, ""), ("b_dimmed", True, ""), ("b_usual", True, "")])

    def test_a_panel_whose_entries_are_all_hidden_is_not_there(self):
        prompts = (Prompt("p1", "Desk", buttons=(Button("ask", "Ask", "hidden"),)),)
        w = walked(project(thing("desk", 'when chosen ask\nonly if has nut\nthen\n  say "asked"', prompts=prompts)))
        self.assertEqual(w.run.here.prompts.live, {})


class WhoCounts(unittest.TestCase):
    def plate(self, **reach):
        walker = thing("warden", x=6.0, y=6.0, walks=True, body=Body("circle", 0.5, 0.5), tags=("staff",))
        walker = (walker[0], dataclasses.replace(walker[1], round=((6.0, 6.0), (2.0, 4.0))))
        plate = thing("plate", 'when near\nthen\n  say "click"', y=4.0, reach=Reach("circle", 1.0, **reach))
        small = project(walker, plate)
        return walked(dataclasses.replace(small, tags=(Tag("staff", "Staff"),)), 15.0, 8.0).wait(240)

    def test_a_passer_by_raises_nothing_where_only_the_player_counts(self):
        self.assertEqual(self.plate().told("notice"), [])

    def test_a_passer_by_counts_where_characters_or_a_tag_do(self):
        self.assertEqual(self.plate(who=("characters",)).told("notice"), ["“click”"])
        self.assertEqual(self.plate(who=("staff",)).told("notice"), ["“click”"])

    def test_where_the_player_does_not_count_there_is_no_prompt_for_them(self):
        w = walked(project(thing("plate", TOGGLE, reach=Reach("circle", 1.5, who=("characters",)))))
        self.assertEqual(w.run.here.prompts.live, {})

    def test_the_floor_band_keeps_a_reach_to_its_own_floor(self):
        gallery = Area("gallery", "Gallery", ((0, 10), (20, 10), (20, 14), (0, 14)), 3.0)
        for above, prompts in ((1.0, 0), (3.0, 2)):
            lamp = thing("lamp", TOGGLE, y=9.5, reach=Reach("circle", 1.5, above_m=above))
            w = walked(project(lamp, areas=(FLOOR, gallery)), 2.0, 10.5)
            self.assertEqual(len(w.run.here.prompts.live), prompts, above)

    def test_touch_and_look_are_moments_of_their_own(self):
        post = thing("post", 'when touched\nthen\n  say "bump"', 'when looked at\nthen\n  say "seen"', y=3.0)
        w = walked(project(post), 2.0, 2.0, 180.0)
        self.assertEqual(w.wait(2).told("notice"), [])
        w.run.tick(Input(look=90.0))
        self.assertEqual(w.told("notice"), ["“seen”"])
        w.go(2.0, 2.5).run.tick(Input(move=(0.0, 1.0)))
        for _ in range(6):
            w.run.tick(Input(move=(0.0, 1.0)))
        self.assertEqual(w.told("notice"), ["“seen”", "“bump”"])


class WhoIsAround(unittest.TestCase):
    """Needs that ask for bodies near an object, read when the bell is pressed."""

    def asked(self, need, *others, x=2.0):
        bell = thing(
            "bell", f"when used only if {need} then add 1 to tally", **ZONE | {"prompts": (Prompt("p1", "Ring"),)}
        )
        return walked(dataclasses.replace(project(bell, *others), tags=(Tag("tame", "Tame"),)), x=x)

    def press(self, w):
        return w.wait(1).press().value("fact:tally")

    def walker(self, **more):
        return thing("cat", prompts=(), reach=Reach("none"), body=Body("circle", 0.4, 0.4), walks=True, **more)

    def test_a_character_in_reach_counts_for_somebody_but_not_for_the_player(self):
        mat = thing("mat", x=6.0, y=2.0, **ZONE)
        near = {"x": 6.5, "y": 2.0}
        self.assertEqual(self.press(self.asked("somebody in reach of mat", mat, self.walker(**near))), 1)
        self.assertEqual(self.press(self.asked("player in reach of mat", mat, self.walker(**near))), 0)
        self.assertEqual(self.press(self.asked("somebody in reach of mat", mat, self.walker(x=8.0, y=2.0))), 0)

    def test_whatever_has_a_tag_counts_for_the_tag_alone(self):
        mat = thing("mat", x=6.0, y=2.0, **ZONE)
        for tags, expected in ((("tame",), 1), ((), 0)):
            cat = self.walker(x=6.5, y=2.0, tags=tags)
            self.assertEqual(self.press(self.asked("tame in reach of mat", mat, cat)), expected)

    def test_somebody_is_in_the_way_of_a_body_wherever_it_stands_or_passes(self):
        door = thing("door", x=6.0, y=2.0, **{**DOOR, "prompts": (), "motion": Motion(0.0, hinge_x_m=-0.5)})
        # its far end goes from (6.5, 2) round the hinge at (5.5, 2) to (5.5, 3)
        for x, y, expected in ((6.2, 2.1, 1), (5.4, 2.9, 1), (6.1, 2.6, 1), (6.5, 2.9, 0), (5.0, 2.0, 0)):
            cat = self.walker(x=x, y=y)
            self.assertEqual(self.press(self.asked("somebody in the way of door", door, cat)), expected, (x, y))

    def test_somebody_as_thin_as_a_pin_takes_five_centimetres_all_round(self):
        door = thing("door", x=6.0, y=2.0, **{**DOOR, "prompts": (), "motion": Motion(0.0, hinge_x_m=-0.5)})
        thin = {"prompts": (), "reach": Reach("none"), "body": Body("circle", 0.06, 0.06), "walks": True}
        for y, expected in ((1.91, 1), (1.87, 0)):  # its side is at y = 1.95
            pin = thing("pin_man", x=6.0, y=y, **thin)
            self.assertEqual(self.press(self.asked("somebody in the way of door", door, pin)), expected, y)

    def test_a_character_that_is_down_or_gone_is_nobody(self):
        mat = thing("mat", "when near\nthen\n  wait 0 s", x=6.0, y=2.0, **ZONE)
        for step in ("down cat", "remove cat"):
            fell = thing("gong", f"when used with second\nthen\n  {step}", prompts=(Prompt("p1", "Hit", "second"),))
            w = self.asked("somebody in reach of mat", mat, self.walker(x=6.5, y=2.0), fell)
            self.assertEqual(self.press(w.wait(1).press("second")), 0, step)

    def test_a_walking_character_is_touched_and_a_thing_without_reach_is_looked_at(self):
        cat = self.walker(x=2.0, y=1.9)
        cat = (
            dataclasses.replace(cat[0], cues=()),
            dataclasses.replace(cat[1], cues=(Cue("c1", "when touched then give nut"),)),
        )
        for x, seen in ((12.5, 0), (11.5, 1)):  # a look carries 10 m
            moon = thing("moon", "when looked at then add 1 to tally", x=x, y=1.0, prompts=(), reach=Reach("none"))
            w = walked(project(cat, moon), facing=90.0).wait(2)
            self.assertEqual((w.value("item:nut"), w.value("fact:tally")), (0, 0))
            w.run.tick(Input(look=0.0))
            self.assertEqual(w.wait(2).value("fact:tally"), seen, x)
        w = walked(project(cat), facing=90.0)
        for _ in range(10):
            w.run.tick(Input(move=(0.0, 1.0)))
        self.assertEqual(w.value("item:nut"), 1)

    def test_who_walks_by_is_touched_where_they_are_by_then(self):
        kind, mouse = self.walker(x=2.0, y=4.0, speed_mps=2.0)
        cues = (Cue("c1", "when touched then give nut"),)
        mouse = dataclasses.replace(mouse, round=((2.0, 4.0), (2.0, 0.5)), cues=cues)
        w = walked(project((kind, mouse)), 2.0, 1.0)
        self.assertEqual(w.wait(30).value("item:nut"), 0)
        self.assertEqual(w.wait(60).move(0.0, 1.0, 20).value("item:nut"), 1)

    def test_a_role_is_held_against_who_fills_it(self):
        once = {"prompts": (Prompt("p1", "Be"),)}
        ash = thing("ash", "when used then fill hero with ash", **once)
        elm = thing("elm", "when used then fill hero with elm", **once)
        small = project(ash, elm, thing("oak", "when used\nonly if hero is elm\nthen\n  give nut"))
        s = Situation(dataclasses.replace(small, roles=(Role("hero", "Hero"),)))
        for who, nuts in (("ash", 0), ("elm", 1)):
            s.use(who)
            s.use("oak")
            self.assertEqual(s["item:nut"], nuts, who)

    def test_an_ability_that_was_suspended_or_never_granted_says_so(self):
        once = (Prompt("p1", "Hit"),)
        gong = thing("gong", "when used\nthen\n  grant leap\n  suspend leap", x=2.0, y=2.0, prompts=once)
        wall = thing("wall", "when struck by leap then give nut", x=2.0, y=4.0, prompts=(), reach=Reach("none"))
        leap = Ability("leap", "Leap", control="second", range_m=6.0)
        small = dataclasses.replace(project(gong, wall), abilities=(leap,))
        w = walked(small).wait(1).press("second")
        self.assertEqual(w.told("missed"), ["Leap: it was not granted"])
        w.press().press("second")
        self.assertEqual(w.told("missed")[-1], "Leap: it is suspended")


class Things(unittest.TestCase):
    def small(self, *cues, **more):
        moth, box = thing("moth", "when used\nthen\n  give nut\n  remove this"), thing("box", *cues, **more)
        kind = dataclasses.replace(moth[0], cues=moth[1].cues)
        return project(box, (kind, dataclasses.replace(moth[1], x_m=18.0, y_m=9.0, cues=())))

    def test_something_stands_where_something_else_was_taken_away(self):
        w = walked(self.small("when used\nthen\n  remove this\n  put moth_kind where it stood")).press().wait(2)
        self.assertEqual(w.place("moth_kind@box_1.1"), ("level", 2.0, 2.0))
        self.assertEqual([p.wording for p in w.run.here.prompts.live.values()], ["Use moth", "Hold moth"])
        w.press()
        self.assertEqual((w.value("item:nut"), w.value("exists:moth_kind@box_1.1")), (1, 0))

    def test_a_copy_has_a_memory_of_its_own(self):
        crate = thing("crate", "when used\nthen\n  give nut", uses=1)
        twin = (crate[0], dataclasses.replace(crate[1], key="crate_2", x_m=5.0))
        w = walked(project(crate, (twin[0], twin[1]))).press()
        self.assertEqual(w.run.here.prompts.live, {})
        w.go(5.0, 1.0).press()
        self.assertEqual((w.value("item:nut"), w.value("uses:crate"), w.value("uses:crate_2")), (2, 0, 0))

    def test_no_more_copies_than_stated_and_the_refused_step_takes_nothing(self):
        w = walked(self.small("when used\nthen\n  add 1 to tally\n  put moth_kind at player by 5 m, 0 m at most 2"))
        w.press().press().press()
        self.assertEqual(w.value("fact:tally"), 2)
        self.assertIn("there are 2 of them already", w.told("refused")[0])

    def test_scattered_things_lie_around_their_spot_the_same_every_time(self):
        small = self.small("when used\nthen\n  scatter 8 moth_kind around this within 2 m", y=0.5)
        runs = [walked(small, 2.0, 1.2, seed=seed).press().run for seed in (1, 1, 2)]
        places = [[(s.x, s.y) for k, s in r.situation.spots.items() if r.situation.value("exists", k)] for r in runs]
        self.assertEqual(places[0], places[1])
        self.assertNotEqual(places[0], places[2])
        for x, y in places[0]:
            self.assertLessEqual((x - 2.0) ** 2 + (y - 0.5) ** 2, 4.0 + 1e-6)
            self.assertTrue(0.0 <= x <= 20.0 and 0.0 <= y <= 10.0, (x, y))

    def test_what_is_put_outside_the_floor_comes_to_lie_on_its_edge(self):
        w = walked(self.small("when used\nthen\n  put moth_kind at this by 0 m, -9 m")).press()
        self.assertEqual(w.place("moth_kind@box_1.1")[1:], (2.0, 0.1))

    def test_who_falls_leaves_a_bag_at_their_feet(self):
        fallen = ("when used\nthen\n  down this", "when downed\nthen\n  drop moth_kind at the feet of this")
        w = walked(self.small(*fallen, comes_back_s=2.0)).press()
        self.assertEqual(w.place("moth_kind@box_1.1")[1:], (2.0, 2.0))
        self.assertEqual([p.wording for p in w.run.here.prompts.live.values()], ["Use moth", "Hold moth"])
        w.wait(70)
        self.assertEqual((w.told("risen"), w.value("down:box")), (["Box is up again"], 0))

    def test_a_thing_that_is_not_there_at_the_start_can_be_put_and_fills_a_role(self):
        ghost = thing("ghost", TOGGLE)
        ghost = (ghost[0], dataclasses.replace(ghost[1], there_at_start=False))
        box = thing("box", "when used\nonly if not hero is filled\nthen\n  put ghost at this\n  fill hero with ghost")
        small = dataclasses.replace(project(box, ghost), roles=(Role("hero", "Hero"),))
        w = walked(small)
        self.assertFalse(w.run.here.mover.exists[w.run.situation.scene.number["ghost"]])
        w.press()
        self.assertTrue(w.run.here.mover.exists[w.run.situation.scene.number["ghost"]])
        self.assertEqual((w.value("role:hero"), w.told("filled")), (1, ["Hero is Ghost from now on"]))

    def test_sounds_tell_where_they_are_and_a_cue_can_wait_for_their_end(self):
        small = self.small('when used\nthen\n  sound gong at this by 1 m, 0.5 m and wait\n  say "over"')
        w = walked(dataclasses.replace(small, sounds=(Sound("gong", "Gong", "", 1.0),))).press()
        gong = next(e for e in w.run.chronicle if e.what == "sound")
        self.assertEqual(gong.spot, (3.0, 2.5))
        self.assertEqual(w.wait(26).told("notice"), [])
        self.assertEqual(w.wait(4).told("notice"), ["“over”"])


class Levels(unittest.TestCase):
    def test_an_exit_leads_to_another_level_and_back(self):
        w = walked(two_levels(exits=(DOWN,), back=(UP,)), 2.0, 1.0)
        w.go(5.0, 1.0)
        self.assertEqual(
            (w.run.situation.scene.level.key, w.run.situation.player.x, w.run.situation.player.y), ("below", 4.0, 4.0)
        )
        w.go(7.0, 4.0)
        self.assertEqual(
            (w.run.situation.scene.level.key, w.run.situation.player.x, w.run.situation.player.y), ("level", 8.0, 5.0)
        )

    def test_a_closed_exit_leads_nowhere_until_it_is_opened(self):
        lever = thing("lever", "when used\nthen\n  open exit way_down")
        shut = dataclasses.replace(DOWN, open_at_start=False)
        w = walked(two_levels(lever, exits=(shut,)), 2.0, 1.0).go(5.0, 1.0)
        self.assertEqual(w.run.situation.scene.level.key, "level")
        w.go(2.0, 1.0).press().go(5.0, 1.0)
        self.assertEqual(w.run.situation.scene.level.key, "below")

    def test_arriving_on_the_patch_of_an_exit_does_not_lead_on(self):
        back = dataclasses.replace(UP, x_m=4.0, y_m=4.0)
        w = walked(two_levels(exits=(DOWN,), back=(back,)), 2.0, 1.0).go(5.0, 1.0).wait(30)
        self.assertEqual(w.run.situation.scene.level.key, "below")
        w.go(2.0, 4.0).go(4.0, 4.0)
        self.assertEqual(w.run.situation.scene.level.key, "level")

    def test_objects_remember_across_levels_unless_they_are_fresh_each_visit(self):
        kept, fresh = thing("kept", TOGGLE, y=2.5), thing("fresh", TOGGLE, x=2.4, y=2.5, fresh=True)
        w = walked(two_levels(kept, fresh, exits=(DOWN,), back=(UP,)), 2.0, 2.0, 90.0)
        w.press().go(2.4, 1.5)
        w.run.tick(Input(look=90.0))
        w.press()
        self.assertEqual((w.value("state:kept"), w.value("state:fresh")), (1, 1))
        w.go(5.0, 1.0).go(7.0, 4.0)
        self.assertEqual((w.value("state:kept"), w.value("state:fresh")), (1, 0))

    def test_leaving_a_level_completes_its_motions_and_its_waiting_cues_go_on(self):
        door = thing("door", 'when used\nthen\n  set this to next\n  wait for it\n  say "open"', **DOOR)
        w = walked(two_levels(door, exits=(dataclasses.replace(DOWN, x_m=3.0),)), 2.2, 1.0).press().go(3.0, 1.0)
        self.assertEqual((w.run.situation.scene.level.key, w.value("moving:door")), ("below", 0))
        self.assertEqual(w.wait(2).told("notice"), ["“open”"])

    def test_near_ends_once_when_the_level_is_left(self):
        zone = thing("zone", "when away\nthen\n  add 1 to tally", x=5.0, y=1.0, reach=Reach("circle", 1.5), **ZONE)
        w = walked(two_levels(zone, exits=(DOWN,))).go(5.0, 1.0).wait(3)
        self.assertEqual((w.value("fact:tally"), w.value("near:zone"), len(w.told("away"))), (1, 0, 1))

    def test_one_can_drop_down_from_a_ledge_but_not_climb_back(self):
        gallery = Area("gallery", "Gallery", ((0, 10), (20, 10), (20, 14), (0, 14)), 3.0, drops_to=("hall",))
        w = walked(project(areas=(FLOOR, gallery)), 5.0, 11.0)
        for _ in range(20):
            w.run.tick(Input(move=(0.0, -1.0)))
        self.assertLess(w.run.situation.player.y, 9.66)
        for _ in range(60):
            w.run.tick(Input(move=(0.0, 1.0)))
        self.assertLess(w.run.situation.player.y, 9.66)
        self.assertEqual(w.told("player_downed"), [])

    def test_a_drop_of_more_than_three_and_a_half_metres_downs_whoever_falls(self):
        tower = Area("tower", "Tower", ((0, 10), (20, 10), (20, 14), (0, 14)), 4.0, drops_to=("hall",))
        w = walked(project(areas=(FLOOR, tower)), 5.0, 11.0)
        for _ in range(9):
            w.run.tick(Input(move=(0.0, -1.0)))
        self.assertEqual(len(w.told("player_downed")), 1)
        self.assertEqual((w.run.situation.player.x, w.run.situation.player.y), (10.0, 5.0))

    def test_the_player_comes_back_where_the_level_was_entered_with_all_things_kept(self):
        trap = thing("trap", "when near\nthen\n  give nut\n  down player", x=1.0, y=1.0)
        w = walked(two_levels(lower=(trap,), exits=(DOWN,))).go(5.0, 1.0).go(2.0, 2.0).wait(2)
        self.assertEqual(
            (w.run.situation.scene.level.key, w.run.situation.player.x, w.run.situation.player.y), ("below", 4.0, 4.0)
        )
        self.assertEqual((w.value("item:nut"), w.value("near:trap")), (1, 0))

    def test_levels_start_and_are_entered_and_visits_are_counted(self):
        first = thing("first", 'when started\nthen\n  say "up"')
        second = thing(
            "second",
            'when started\nthen\n  say "down"',
            'when entered below\nonly if below visited 2 times\nthen\n  say "again"',
        )
        w = walked(two_levels(first, lower=(second,), exits=(DOWN,), back=(UP,)), 2.0, 1.0)
        w.go(5.0, 1.0).go(7.0, 4.0).go(5.0, 1.0)
        self.assertEqual(w.told("notice"), ["“up”", "“down”", "“up”", "“again”", "“down”"])

    def test_the_same_inputs_give_the_same_run_through_two_levels(self):
        small = two_levels(exits=(DOWN,), back=(UP,))
        rows = []
        for _ in range(2):
            w = walked(small, 2.0, 1.0).go(5.0, 1.0).go(6.0, 6.0)
            rows.append(
                (
                    list(w.run.situation.row),
                    w.run.situation.player.x,
                    w.run.situation.player.y,
                    [e.text for e in w.run.chronicle],
                )
            )
        self.assertEqual(rows[0], rows[1])


class Abilities(unittest.TestCase):
    def small(self, *things):
        leap = Ability("leap", "Leap", control="second", range_m=6.0)
        hook = Ability("swing", "Swing", control="use", gear="hook", range_m=3.0)
        return dataclasses.replace(
            project(*things),
            abilities=(leap, hook),
            items=(Item("hook", "hook", slot="right_hand"), Item("nut", "nut")),
        )

    def target(self, *cues, **more):
        return thing("vines", *cues, prompts=(), reach=Reach("none"), y=5.0, **more)

    def test_an_ability_strikes_what_is_aimed_at_and_its_uses_run_out(self):
        giver = thing("giver", "when near\nthen\n  grant leap for 2 uses", x=2.0, y=1.0, **ZONE)
        w = walked(self.small(giver, self.target("when struck by leap\nthen\n  add 1 to tally"))).wait(2)
        for _ in range(3):
            w.press("second")
        self.assertEqual((w.value("fact:tally"), w.value("ability:leap")), (2, 0))
        self.assertIn("it was not granted", w.told("missed")[0])

    def test_turned_away_or_behind_something_it_finds_no_target(self):
        wall = thing("screen", y=3.0, body=Body("box", 3.0, 0.2, 2.5), prompts=(), reach=Reach("none"))
        giver = thing("giver", "when near\nthen\n  grant leap", x=2.0, y=1.0, **ZONE)
        cue = "when struck by leap\nthen\n  add 1 to tally"
        for things, facing in (((giver, self.target(cue)), 0.0), ((giver, wall, self.target(cue)), 90.0)):
            w = walked(self.small(*things), facing=facing).wait(2).press("second")
            self.assertEqual(w.value("fact:tally"), 0)
            self.assertIn("nothing within 6 m", w.told("missed")[0])

    def test_gear_must_be_in_hand_for_its_ability(self):
        bench = thing(
            "bench",
            "when used with second\nthen\n  give hook\n  equip hook",
            x=2.0,
            y=1.0,
            prompts=(Prompt("p1", "Take", "second"),),
        )
        w = walked(
            self.small(
                bench,
                thing("vines", "when struck by swing\nthen\n  remove this", prompts=(), reach=Reach("none"), y=3.0),
            )
        )
        w.wait(1).press()
        self.assertEqual(w.told("missed"), ["Swing: needs hook in hand"])
        w.press("second").press()
        self.assertEqual((w.value("exists:vines"), w.value("gear:right_hand")), (0, 1))

    def test_gear_that_is_taken_away_is_in_no_hand(self):
        desk = thing("desk", "when used\nthen\n  give hook\n  equip hook\n  take hook")
        w = walked(self.small(desk)).press()
        self.assertEqual((w.value("gear:right_hand"), w.told("put_away")), (0, ["hook put away"]))

    def test_a_hands_off_zone_gives_the_ability_back_however_it_is_left(self):
        giver = thing("giver", "when near\nthen\n  grant leap", x=2.0, y=1.0, **ZONE)
        vines = self.target("when struck by leap\nthen\n  add 1 to tally")
        zone = {**ZONE, "x": 2.0, "y": 1.0, "suspends": ("leap",)}
        leave = "when near\nthen\n  wait 1 s\n  move player to plinth"
        lift = "when near\nthen\n  wait 1 s\n  remove this"
        plinth = thing("plinth", x=4.0, y=2.0, prompts=(), reach=Reach("none"), body=Body("none"))
        for cue, after in ((leave, (4.0, 1.2)), (lift, (2.0, 1.0))):
            w = walked(self.small(giver, vines, plinth, thing("zone", cue, **zone))).wait(2).press("second")
            self.assertIn("not here: Zone suspends it", w.told("missed")[0])
            w.wait(35)
            self.assertEqual((w.run.situation.player.x, w.run.situation.player.y), after)
            w.run.tick(Input(look=90.0 if after[0] == 2.0 else 118.0))
            w.press("second")
            self.assertEqual(w.value("fact:tally"), 1, cue)


class LaterAndTheEnd(unittest.TestCase):
    LETTER = 'when later\nthen\n  give nut\n  say "for you"'

    def test_something_comes_after_a_time(self):
        w = walked(project(thing("desk", "when used\nthen\n  later after 1 s", self.LETTER))).press().wait(25)
        self.assertEqual(w.told("notice"), [])
        self.assertEqual(w.wait(6).told("notice"), ["“for you”"])

    def test_something_comes_at_the_next_change_of_area(self):
        yard = Area("yard", "Yard", ((0, 10), (20, 10), (20, 14), (0, 14)))
        small = project(thing("desk", "when used\nthen\n  later at the next area", self.LETTER), areas=(FLOOR, yard))
        w = walked(small).press().go(2.0, 9.0)
        self.assertEqual(w.told("notice"), [])
        self.assertEqual(w.go(2.0, 11.0).told("notice"), ["“for you”"])

    def carried(self, **more):
        desk = thing("desk", "when used\nthen\n  later by pip", self.LETTER)
        pip = thing("pip", x=19.0, y=9.0, body=Body("circle", 0.5, 0.5), prompts=(), **more)
        pip = (pip[0], dataclasses.replace(pip[1], there_at_start=False))
        return walked(two_levels(desk, pip, exits=(dataclasses.replace(DOWN, x_m=12.0, y_m=5.0),))).press()

    def test_a_carrier_comes_in_by_the_nearest_exit_walks_up_hands_over_and_goes(self):
        w = self.carried()
        number = w.run.situation.scene.number["pip"]
        self.assertAlmostEqual(w.run.here.mover.walkers[number].x, 12.0, delta=0.2)
        self.assertTrue(w.run.here.mover.exists[number])
        w.wait(30 * 12)
        self.assertEqual((w.value("item:nut"), w.told("notice")), (1, ["“for you”"]))
        w.wait(30 * 14)
        self.assertEqual((w.value("exists:pip"), w.value("carrier:pip")), (0, 0))

    def test_a_carrier_without_a_way_waits(self):
        w = self.carried()
        wall = dataclasses.replace(w.project.levels[0], walls=(Wall("wall_1", ((8.0, 0.0), (8.0, 10.0))),))
        shut = dataclasses.replace(w.project, levels=(wall, *w.project.levels[1:]))
        w = walked(shut).press().wait(300)
        self.assertEqual((w.value("item:nut"), w.value("carrier:pip")), (0, 1))

    def test_the_level_ends_after_its_delay_and_nothing_more_is_done(self):
        small = project(thing("desk", "when used\nthen\n  add 1 to tally\n  end level won after 1 s"))
        w = walked(small).press().wait(20)
        self.assertFalse(w.run.situation.ended)
        w.wait(12)
        self.assertEqual((w.value("ended"), w.told("ended")), (1, ["The level is won"]))
        self.assertEqual(w.press().value("fact:tally"), 1)


class ChancesAndSlips(unittest.TestCase):
    def test_a_chance_of_one_in_four_holds_about_so_often_and_the_same_again(self):
        small = project(thing("dice", "when used\nonly if chance one in 4\nthen\n  give money"))
        counts = []
        for seed in (5, 5):
            w = walked(small, seed=seed)
            for _ in range(400):
                w.run.tick(Input(down=("use",)))
                w.run.tick(Input(up=("use",)))
            counts.append(w.value("money"))
        self.assertEqual(counts[0], counts[1])
        self.assertTrue(70 <= counts[0] <= 130, counts)  # 400 · ¼ = 100, three deviations are 26

    def test_a_cue_that_starts_itself_is_a_fault_and_the_run_goes_on(self):
        cues = ("when used\nthen\n  add 1 to money", "when gained money\nthen\n  add 1 to money")
        w = walked(project(thing("purse", *cues))).press()
        self.assertEqual((w.value("money"), len(w.told("fault"))), (0, 1))
        self.assertIn("gained:purse/money", w.told("fault")[0])
        self.assertEqual(len(w.go(5.0, 5.0).told("away")), 1)

    def test_a_wait_of_an_hour_is_kept_and_a_wait_in_a_reward_is_told(self):
        w = walked(project(thing("oven", 'when used\nthen\n  wait 3600 s\n  say "done"'))).press()
        self.assertEqual(list(w.run.clocks.left.values()), [3600 * 30 - 2])
        small = project(thing("oven", TOGGLE))
        quest = Quest("errand", "Errand", rewards="wait 2 s\ngive nut", stages=(Stage("go", "Go"),))
        run = Run(dataclasses.replace(small, quests=(quest,)))
        self.assertEqual([p.code for p in run.situation.program.problems], ["wait_impossible"])

    def test_a_reach_inside_a_wall_and_an_exit_to_nowhere_stop_nothing(self):
        stuck = Exit("lost_way", "Lost way", 2.0, 1.0, to_level="")
        small = two_levels(thing("bolt", TOGGLE, x=0.0, y=0.0, reach=Reach("circle", 0.3)), exits=(stuck,))
        w = walked(small).wait(5)
        self.assertEqual((w.run.situation.scene.level.key, w.run.here.prompts.live), ("level", {}))

    def test_what_the_player_has_done_is_counted_and_asked_for(self):
        box = thing(
            "box",
            "when used\nthen\n  give 2 nut",
            'when held\nonly if box used 1 times and nut gained 2 times\nthen\n  say "so it is"',
        )
        w = walked(project(box)).press().press("second", 20)
        self.assertEqual(w.told("notice"), ["“so it is”"])
        self.assertEqual((w.value("tally:used/box"), w.value("tally:gained/nut")), (2, 2))


if __name__ == "__main__":
    unittest.main()
