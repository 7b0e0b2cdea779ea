"""The finer rules, each at its very border: a hair to this side it is so, a hair to the other it is not."""

import dataclasses
import itertools
import math
import unittest

import numpy as np
from shapely.geometry import Point

from tests.core.small import DOOR, DOWN, TOGGLE, UP, ZONE, project, thing, two_levels
from tests.core.walked import walked
from vocanta.core.engine.focus import Candidate, deciding, focused
from vocanta.core.engine.inputs import Input
from vocanta.core.engine.picture import Painter, seconds
from vocanta.core.engine.scene import Swing, eased
from vocanta.core.engine.standing import standing_before
from vocanta.core.engine.talking import voice_ticks, wording_number
from vocanta.core.engine.walkers import Walker
from vocanta.core.engine.why import explained
from vocanta.core.phrases.vocabulary import STATUSES
from vocanta.core.progress.compiling import compiled
from vocanta.core.progress.guards import All, AnyOf, AtLeast, Within, opposite
from vocanta.core.progress.layout import lay_out
from vocanta.core.progress.meeting import meeting_cells
from vocanta.core.progress.onerow import holds_on
from vocanta.core.project.records import (
    Ability,
    Area,
    Body,
    Conversation,
    Cue,
    Exit,
    Item,
    Level,
    Line,
    Motion,
    Objective,
    Prompt,
    Quest,
    Reach,
    Reply,
    Stage,
    State,
    Wall,
)
from vocanta.core.space.bodies import Pose, Solid, poses_between, solid_of, swept_shape
from vocanta.core.space.cells import exit_patch, reach_shape
from vocanta.core.space.floor import floor_of
from vocanta.core.space.geometry import crossings, nearest_on
from vocanta.core.space.landings import before, landing
from vocanta.core.space.measuring import measured
from vocanta.core.space.overlaps import overlaps_of
from vocanta.core.space.reaches import Reaches
from vocanta.core.space.sight import clear_sight
from vocanta.core.space.ways import Ways

USE = (Prompt("p1", "Use"),)


def post(key, *cues, **more):
    """A thing without a body that is reached from 2 m around."""
    return thing(key, *cues, **{"reach": Reach("circle", 2.0), "prompts": USE, "body": Body("none"), **more})


def area(key, x, y, wide, deep, floor_m=0.0, drops=()):
    """A right-angled area."""
    corners = ((x, y), (x + wide, y), (x + wide, y + deep), (x, y + deep))
    return Area(key, key.title(), corners, floor_m=floor_m, drops_to=tuple(drops))


class Focus(unittest.TestCase):
    def winner(self, w):
        return {c: w.run.here.mover.scene.objects[p.number].thing.key for c, p in w.run.here.prompts.live.items()}.get(
            "use"
        )

    def test_the_holder_keeps_a_control_up_to_ten_centimetres(self):
        for gap, number in ((1.099, 1), (1.101, 0)):
            with self.subTest(gap=gap):
                two = [Candidate(0, 0, False, 1.0), Candidate(1, 0, False, gap)]
                self.assertEqual(focused(two, 1).number, number)
        self.assertEqual(focused([Candidate(0, 0, False, 1.0), Candidate(1, 0, False, 1.0)], -1).number, 0)
        self.assertEqual(focused([Candidate(0, 1, False, 9.0), Candidate(1, 0, True, 1.0)], 1).number, 0)
        self.assertEqual(focused([Candidate(0, 0, True, 1.5), Candidate(1, 0, False, 0.1)], 1).number, 0)
        self.assertIsNone(focused([], -1))

    def test_what_decides_is_said(self):
        near, far = Candidate(0, 0, False, 1.0), Candidate(1, 0, False, 1.1)
        self.assertEqual(deciding(near, dataclasses.replace(far, distance_m=2.0)), "nearer, 1.00 m against 2.00 m")
        self.assertEqual(deciding(far, dataclasses.replace(near, distance_m=1.05)), "had it already")
        self.assertEqual(deciding(near, dataclasses.replace(far, distance_m=1.05)), "nearer")
        self.assertEqual(deciding(dataclasses.replace(far, looked_at=True), near), "looked at")
        self.assertEqual(deciding(dataclasses.replace(far, priority=2), near), "priority 2 against 0")

    def test_fifteen_degrees_past_something_is_looked_at_and_sight_is_asked(self):
        small = project(post("ash", x=5.0, y=5.0), post("oak", x=3.6, y=4.0))
        for facing, key in ((15.0, "ash"), (15.2, "oak"), (-15.0, "ash"), (-15.2, "oak")):
            with self.subTest(facing=facing):
                self.assertEqual(self.winner(walked(small, 3.6, 5.0, facing).wait(1)), key)
        hidden = dataclasses.replace(
            small, levels=(dataclasses.replace(small.levels[0], walls=(Wall("w", ((4.5, 4.9), (4.5, 5.1))),)),)
        )
        self.assertEqual(self.winner(walked(hidden, 3.6, 5.0, 0.0).wait(1)), "oak")
        self.assertEqual(self.winner(walked(small, 3.6, 5.0, 0.0).wait(1)), "ash")

    def test_sight_passes_over_low_bodies_and_not_through_high_ones(self):
        def wanting(*more):
            far = post("far", x=6.0, y=5.0, reach=Reach("circle", 4.0, sight_m=3.0), body=Body("box", 0.2, 0.2, 2.0))
            return self.winner(walked(project(far, *more), 3.5, 5.0, 0.0).wait(1))

        def block(height, **more):
            return thing(
                "block", x=4.8, y=5.0, body=Body("box", 0.3, 0.3, height), prompts=(), reach=Reach("none"), **more
            )

        self.assertEqual(wanting(), "far")
        self.assertEqual(wanting(block(2.0)), None)
        self.assertEqual(wanting(block(0.9)), "far")
        pane = (State("s1", "pane", lets_sight_through=True),)
        self.assertEqual(wanting(block(2.0, states=pane)), "far")


class Talking(unittest.TestCase):
    def test_how_long_a_voice_lasts(self):
        for wordings, lasts, ticks in (
            ("a" * 18, None, 36),
            ("a" * 19, None, 38),
            ("a" * 30, None, 60),
            ("a", None, 36),
        ):
            with self.subTest(wordings):
                self.assertEqual(voice_ticks(Line("l", (wordings,), seconds=lasts), wordings), ticks)
        self.assertEqual(voice_ticks(Line("l", ("a",), seconds=0.0), "a"), 1)
        self.assertEqual(voice_ticks(Line("l", ("a",), seconds=0.51), "a"), 16)

    def test_wordings_in_turn_or_the_last_for_ever(self):
        three = Line("l", ("a", "b", "c"))
        stays, turns = (dataclasses.replace(three, last_stays=last) for last in (True, False))
        self.assertEqual([wording_number(stays, n) for n in range(5)], [0, 1, 2, 2, 2])
        self.assertEqual([wording_number(turns, n) for n in range(5)], [0, 1, 2, 0, 1])

    def test_skipping_ends_a_voice_at_once_and_its_steps_run(self):
        line = Line("hail", ("Hail",), True, steps="give nut", seconds=5.0)
        talk = Conversation("chat", "Chat", "pip", (line,))
        w = walked(project(post("pip", "when used\nthen\n  open conversation chat"), talks=(talk,)), 2.0, 2.5).press()
        self.assertIsNotNone(w.run.talk.speech)
        left = w.run.talk.speech.left
        w.wait(3)
        self.assertEqual((left - w.run.talk.speech.left, w.run.talk.speech.total), (3, 150))
        w.run.tick(Input(skip=True))
        self.assertIsNone(w.run.talk.speech)


class Motions(unittest.TestCase):
    def test_smooth_is_slow_at_both_ends_and_even_is_not(self):
        self.assertEqual([eased(x) for x in (0.0, 0.25, 0.5, 0.75, 1.0)], [0.0, 0.15625, 0.5, 0.84375, 1.0])
        swing = Swing(Pose(), Pose(90.0, 4.0, 2.0), 4, 1, "even")
        self.assertEqual(swing.pose(), Pose(22.5, 1.0, 0.5))
        self.assertEqual(dataclasses.replace(swing, easing="smooth").pose(), Pose(14.0625, 0.625, 0.3125))

    def test_turning_back_takes_as_long_as_the_way_so_far(self):
        back = Swing(Pose(), Pose(0.0, 4.0, 0.0), 10, 3, "even").reversed()
        self.assertEqual((back.start.slide_x_m, back.end.slide_x_m, back.total, back.passed), (4.0, 0.0, 10, 7))
        self.assertAlmostEqual(back.pose().slide_x_m, 1.2)

    def test_a_motion_takes_its_seconds_rounded_up_to_ticks_and_is_told_at_their_end(self):
        for lasts, ticks in ((0.0, 0), (0.1, 3), (0.11, 4), (1.0, 30)):
            with self.subTest(lasts):
                design = {**DOOR, "motion": Motion(lasts, hinge_x_m=-0.5), "body": Body("none")}
                w = walked(
                    project(
                        thing("door", "when used\nthen\n  set this to open", **design),
                    ),
                    2.0,
                    1.2,
                )
                w.run.tick(Input(down=("use",)))
                passed = 0
                while w.run.situation.known("moving", "door"):
                    w.wait(1)
                    passed += 1
                self.assertEqual(passed, ticks)

    def test_a_door_blocks_where_it_was_and_where_it_goes_until_it_has_arrived(self):
        gate = {
            "states": (State("shut", "shut"), State("up", "up", blocks=False, slide_y_m=3.0)),
            "motion": Motion(1.0, stay_clear=False),
            "body": Body("box", 4.0, 0.2, 2.0),
            "prompts": USE,
        }
        w = walked(project(thing("gate", "when used\nthen\n  set this to up", **gate)), 2.0, 1.2).press()
        w.move(0.0, 1.0, 20)
        self.assertLess(w.run.situation.player.y, 2.0)
        w.wait(15).move(0.0, 1.0, 40)
        self.assertGreater(w.run.situation.player.y, 2.2)

    def test_what_does_not_block_in_its_state_does_not_whatever_its_other_states_do(self):
        gate = {"states": (State("up", "up", blocks=False), State("shut", "shut")), "body": Body("box", 4.0, 0.2, 2.0)}
        w = walked(project(thing("gate", TOGGLE, **gate)), 2.0, 1.2).move(0.0, 1.0, 30)
        self.assertGreater(w.run.situation.player.y, 2.5)

    def test_a_sound_is_where_the_part_of_its_object_is_by_then(self):
        gate = {"states": (State("shut", "shut"), State("up", "up", blocks=False, slide_x_m=3.0))}
        cues = (
            "when used with use\nthen\n  set this to next",
            "when used with second\nthen\n  effect dust at this by 1 m, 0 m",
        )
        gate["prompts"] = (*USE, Prompt("p2", "Shake", "second"))
        w = walked(project(thing("gate", *cues, **gate)), 2.0, 1.2).press().press("second")
        self.assertEqual([e.spot for e in w.run.chronicle if e.what == "effect"], [(6.0, 2.0)])
        w = walked(project(thing("gate", "when used\nthen\n  effect dust at player by 0 m, 1 m", **gate)), 2.0, 1.2)
        self.assertEqual([e.spot for e in w.press().run.chronicle if e.what == "effect"], [(2.0, 2.2)])


class Touching(unittest.TestCase):
    def test_touch_is_three_centimetres_of_skin(self):
        box = thing("box", "when touched\nthen\n  give nut", x=5.0, y=5.0, body=Body("box", 1.0, 1.0), prompts=())
        radius = project().player.radius_m
        for gap, touches in ((0.029, 1), (0.031, 0)):
            with self.subTest(gap=gap):
                self.assertEqual(walked(project(box), 4.5 - radius - gap, 5.0).wait(2).value("item:nut"), touches)

    def test_looked_at_up_to_ten_metres_or_as_far_as_its_own_sight(self):
        def seen(distance, **reach):
            cue = "when looked at\nthen\n  give nut"
            star = thing("star", cue, x=15.0, y=5.0, reach=Reach("none", **reach), prompts=(), body=Body("none"))
            return walked(project(star), 15.0 - distance, 5.0, 0.0).wait(2).value("item:nut")

        self.assertEqual([seen(10.0), seen(10.01)], [1, 0])
        self.assertEqual([seen(4.0, sight_m=4.0), seen(4.01, sight_m=4.0)], [1, 0])

    def test_what_has_a_reach_is_looked_at_from_inside_it_and_past_no_wall(self):
        star = thing("star", "when looked at\nthen\n  give nut", x=15.0, y=5.0, prompts=(), body=Body("none"))
        small = project(star)
        wall = (Wall("w", ((14.5, 4.0), (14.5, 6.0))),)
        behind = dataclasses.replace(small, levels=(dataclasses.replace(small.levels[0], walls=wall),))
        seen = [
            walked(p, x, 5.0, 0.0).wait(2).value("item:nut") for p, x in ((small, 13.6), (small, 13.4), (behind, 13.6))
        ]
        self.assertEqual(seen, [1, 0, 0])

    def test_looked_at_up_to_fifteen_degrees_or_its_own_facing(self):
        def seen(facing, **reach):
            cue = "when looked at\nthen\n  give nut"
            star = thing("star", cue, x=15.0, y=5.0, reach=Reach("none", **reach), prompts=(), body=Body("none"))
            return walked(project(star), 10.0, 5.0, facing).wait(2).value("item:nut")

        self.assertEqual([seen(15.0), seen(15.1), seen(-15.0), seen(-15.1)], [1, 0, 1, 0])
        self.assertEqual([seen(40.0, facing_deg=40.0), seen(40.1, facing_deg=40.0)], [1, 0])


class Aiming(unittest.TestCase):
    def aimed(self, *targets, facing=0.0, range_m=5.0, aim=20.0, walls=()):
        small = project(*targets, thing("nest", "when started\nthen\n  grant leap", x=18.0, y=9.0))
        leap = Ability("leap", "Leap", control="second", range_m=range_m, aim_deg=aim)
        small = dataclasses.replace(
            small, abilities=(leap,), levels=(dataclasses.replace(small.levels[0], walls=tuple(walls)),)
        )
        w = walked(small, 5.0, 5.0, facing).wait(1).press("second")
        return [e.subject for e in w.run.chronicle if e.what == "struck"]

    def nut(self, key, x, y):
        return thing(key, "when struck by leap\nthen\n  give nut", x=x, y=y, prompts=(), body=Body("none"))

    def test_range_and_aim_end_where_they_say(self):
        self.assertEqual(self.aimed(self.nut("a", 10.0, 5.0)), ["a"])
        self.assertEqual(self.aimed(self.nut("a", 10.01, 5.0)), [])
        self.assertEqual(self.aimed(self.nut("a", 7.0, 5.0), facing=20.0), ["a"])
        self.assertEqual(self.aimed(self.nut("a", 7.0, 5.0), facing=20.1), [])

    def test_the_most_in_front_then_the_nearest_then_the_elder(self):
        self.assertEqual(self.aimed(self.nut("a", 6.0, 5.3), self.nut("b", 9.0, 5.0)), ["b"])
        self.assertEqual(self.aimed(self.nut("a", 9.0, 5.0), self.nut("b", 6.0, 5.0)), ["b"])
        self.assertEqual(self.aimed(self.nut("a", 7.0, 5.0), self.nut("b", 7.0, 5.0)), ["a"])

    def test_behind_a_wall_nothing_is_aimed_at(self):
        self.assertEqual(self.aimed(self.nut("a", 7.0, 5.0), walls=(Wall("w", ((6.0, 4.0), (6.0, 6.0))),)), [])


class Floors(unittest.TestCase):
    LEDGE = Level("l", "L", 1.0, 1.0, 0.0, (area("up", 0, 0, 4, 4, 1.0, ["low"]), area("low", 4, 0, 4, 4, 0.0)), ())

    def test_a_step_of_forty_centimetres_is_walked_and_more_is_a_ledge(self):
        for high, ledges in ((0.4, 0), (0.401, 1)):
            level = dataclasses.replace(self.LEDGE, areas=(area("up", 0, 0, 4, 4, high, ["low"]), self.LEDGE.areas[1]))
            self.assertEqual(len(floor_of(level).ledges), ledges)
        closed = dataclasses.replace(self.LEDGE, areas=(area("up", 0, 0, 4, 4, 1.0), self.LEDGE.areas[1]))
        self.assertEqual((len(floor_of(closed).ledges), len(floor_of(closed).stops)), (0, 7))

    def test_from_above_a_ledge_stops_nobody_and_from_below_everybody(self):
        floor = floor_of(self.LEDGE)
        self.assertEqual(len(floor.stops_at(6.0, 1.0)) - len(floor.stops_at(1.0, 1.0)), 1)
        self.assertEqual(
            (floor.drop_m("up", "low"), floor.drop_m("low", "up"), floor.drop_m("up", "sky")), (1.0, 0.0, 0.0)
        )
        self.assertEqual([floor.height_at(x, 1.0) for x in (1.0, 3.999, 4.001, 9.0)], [1.0, 1.0, 0.0, 0.0])
        self.assertEqual((floor.area_at(4.0, 1.0), floor.area_at(9.0, 1.0)), (0, -1))

    def test_a_fall_hurts_from_above_three_and_a_half_metres(self):
        for high, downed in ((3.5, False), (3.51, True)):
            with self.subTest(high=high):
                small = project(areas=(area("up", 0, 0, 4, 4, high, ["low"]), area("low", 4, 0, 8, 4)))
                w = walked(small, 3.0, 2.0).move(1.0, 0.0, 30)
                self.assertEqual(bool(w.told("player_downed")), downed)

    def test_a_wall_or_glass_and_how_high_it_is(self):
        def sees(top, glass=False, eye=1.6, goal=1.0):
            wall = Wall("w", ((2.0, 0.0), (2.0, 4.0)), height_m=top, glass=glass)
            floor = floor_of(Level("l", "L", 1.0, 1.0, 0.0, (area("a", 0, 0, 4, 4),), (wall,)))
            return clear_sight(floor, (1.0, 2.0, eye), (3.0, 2.0, goal), ())

        self.assertEqual([sees(None), sees(None, glass=True), sees(1.31), sees(1.29)], [False, True, False, True])

    def test_a_body_screens_up_to_its_top(self):
        floor = floor_of(Level("l", "L", 1.0, 1.0, 0.0, (area("a", 0, 0, 4, 4),), ()))
        block = Solid(2.0, 2.0, 0.0, Body("box", 0.001, 1.0, 1.0))
        for top, clear in ((1.29, True), (1.31, False)):
            self.assertEqual(clear_sight(floor, (1.0, 2.0, 1.6), (3.0, 2.0, 1.0), [(block, top)]), clear)


class Places(unittest.TestCase):
    SMALL = two_levels(
        thing("oak", x=5.0, y=5.0),
        exits=(Exit("way", "Way", 1, 1, to_level="below", to_x_m=2, to_y_m=3, to_facing_deg=4),),
    )

    def test_where_one_lands(self):
        self.assertEqual(dataclasses.astuple(landing(self.SMALL, "start:below")), ("below", 1.0, 1.0, 0.0))
        for entry in ("exit:way", "at:way"):
            self.assertEqual(dataclasses.astuple(landing(self.SMALL, entry)), ("below", 2, 3, 4))
        self.assertEqual(dataclasses.astuple(landing(self.SMALL, "at:oak")), ("level", 5.0, 4.2, 90.0))
        self.assertEqual(dataclasses.astuple(landing(self.SMALL, "at:hall")), ("level", 10.0, 5.0, 90.0))
        self.assertIsNone(landing(self.SMALL, "start:oak"))
        self.assertIsNone(landing(self.SMALL, "exit:oak"))

    def test_before_something_is_a_step_from_its_front(self):
        x, y, facing = before(1.0, 2.0, 90.0)
        self.assertEqual((round(x, 9), round(y, 9), facing), (1.8, 2.0, 180.0))

    def test_copies_and_things_come_to_the_player_wherever_the_player_is(self):
        halls = (area("west", 0, 0, 10, 10), area("middle", 10, 0, 5, 10), area("east", 15, 0, 5, 10))
        cue = "when used\nthen\n  put moth_kind at player by 1 m, 0 m at most 2"
        desk = thing("desk", cue, x=12.0, reach=Reach("circle", 3.0))
        ghost = thing("moth")
        small = dataclasses.replace(project(desk, areas=halls), kinds=(desk[0], ghost[0]))
        w = walked(small, 12.0, 1.0).press()
        self.assertEqual(w.place("moth_kind@desk_1.1")[1:], (13.0, 1.0))
        cue = "when used\nthen\n  put rock at player by 1 m, 0 m"
        w = walked(
            project(thing("desk", cue, x=12.0, reach=Reach("circle", 3.0)), thing("rock"), areas=halls), 12.0, 1.0
        )
        self.assertEqual(w.press().place("rock")[1:], (13.0, 1.0))

    def test_what_a_start_puts_into_another_cell_lies_there_on_whole_millimetres(self):
        halls = (area("west", 0, 0, 10.33337, 10), area("east", 10.33337, 0, 9, 10))
        small = project(thing("desk", "when used\nthen\n  put rock at player"), thing("rock"), areas=halls)
        cells = lay_out(small).cells
        east = cells.at("level", 15.0, 5.0)
        w = walked(small, puts=(("place:rock", east),))
        level, x, y = w.place("rock")
        self.assertEqual((level, x, y), ("level", round(x, 3), 2.0))
        self.assertTrue(10.3333 < x < 10.336, x)

    def test_the_player_stands_on_whole_millimetres(self):
        w = walked(project(), 2.0, 2.0)
        w.run.situation.player.stand(1.23456, 2.34567, 12.5)
        self.assertEqual(w.run.situation.player.was, (1.235, 2.346))
        w.stand(2.0, 2.0).move(1.0, 0.7, 7)
        x, y = w.run.situation.player.x, w.run.situation.player.y
        self.assertEqual((x, y), (round(x, 3), round(y, 3)))
        self.assertNotEqual((x, y), (round(x, 2), round(y, 2)))

    def test_where_to_stand_to_try_something(self):
        small = project(thing("oak", x=5.0, y=5.0, reach=Reach("circle", 2.0), body=Body("box", 0.4, 0.4)))
        self.assertEqual(standing_before(small, "oak"), (5.0, 3.76, 90.0))
        walled = dataclasses.replace(
            small, levels=(dataclasses.replace(small.levels[0], walls=(Wall("w", ((4.0, 4.5), (6.0, 4.5))),)),)
        )
        x, y, _ = standing_before(walled, "oak")
        self.assertGreater(y, 4.5)
        self.assertAlmostEqual(math.dist((x, y), (5.0, 5.0)), 1.24, 2)
        self.assertIsNone(standing_before(small, "nobody"))
        aside = thing(
            "oak", x=5.0, y=5.0, reach=Reach("circle", 1.0, offset_x_m=0.37, offset_y_m=-0.5), body=Body("none")
        )
        x, y, facing = standing_before(project(aside), "oak")
        self.assertEqual(facing, round(math.degrees(math.atan2(5.0 - y, 5.0 - x)), 1))
        self.assertEqual((x, y), (5.37, 3.88))

    def test_on_foot_goes_round_and_straight_does_not(self):
        small = project(thing("box", x=5.0, y=5.0, body=Body("box", 2.0, 2.0)))
        found = measured(small, small.levels[0], (3.0, 5.0), (7.0, 5.0))
        self.assertEqual(found.straight_m, 4.0)
        around = 2 * math.hypot(1.0 - 0.3, 1.3) + 2.6
        self.assertGreater(found.on_foot_m, around - 0.15)
        self.assertLess(found.on_foot_m, around + 0.6)
        self.assertIsNone(measured(small, small.levels[0], (3.0, 5.0), (5.0, 5.0)).on_foot_m)
        open_ = project(thing("box", x=5.0, y=5.0, body=Body("box", 2.0, 2.0), states=(State("s", "s", blocks=False),)))
        self.assertEqual(measured(open_, open_.levels[0], (3.0, 5.0), (7.0, 5.0)).on_foot_m, 4.0)


class Reached(unittest.TestCase):
    def held(self, reach, x, y, was=False, floor=0.0, turn=0.0):
        one = thing("a", x=0.0, y=0.0, reach=reach)
        reaches = Reaches([(dataclasses.replace(one[1], turn_deg=turn), one[0].design)])
        return bool(reaches.inside(x, y, np.array([was]), floor)[0])

    def test_the_border_of_each_shape_and_five_centimetres_beyond_for_who_was_in(self):
        wedge = Reach("wedge", 2.0, arc_deg=90.0)
        for reach, x, y in (
            (Reach("circle", 2.0), 2.0, 0.0),
            (Reach("box", width_m=4.0, depth_m=1.0), 2.0, 0.0),
            (Reach("box", width_m=1.0, depth_m=4.0), 0.0, 2.0),
            (wedge, 2.0, 0.0),
            (Reach("circle", 1.0, offset_x_m=1.0), 2.0, 0.0),
        ):
            for far, was, inside in (
                (1.0, False, True),
                (1.001, False, False),
                (1.024, True, True),
                (1.026, True, False),
            ):
                with self.subTest(reach=reach.shape, far=far, was=was):
                    self.assertEqual(self.held(reach, x * far, y * far, was), inside)

    def test_a_wedge_by_its_arc(self):
        wedge = Reach("wedge", 2.0, arc_deg=90.0)
        for angle, was, inside in ((45.0, False, True), (45.1, False, False), (47.8, True, True), (47.95, True, False)):
            x, y = math.cos(math.radians(angle)), math.sin(math.radians(angle))
            self.assertEqual(self.held(wedge, x, y, was), inside, angle)
            self.assertEqual(self.held(wedge, x, -y, was), inside, -angle)
        self.assertTrue(self.held(wedge, 0.0, 1.0, turn=90.0))

    def test_the_floor_band(self):
        reach = Reach("circle", 2.0, below_m=0.5, above_m=1.0)
        for floor, inside in ((-0.5, True), (-0.51, False), (1.0, True), (1.01, False)):
            self.assertEqual(self.held(reach, 0.0, 0.0, floor=floor), inside, floor)

    def test_overlaps_say_who_wins_for_the_controls_that_both_want(self):
        def says(*things):
            small = project(*things)
            return [(o.a, o.b, o.controls, o.says) for o in overlaps_of(small, small.levels[0])]

        a, b = post("ash", x=5.0, y=5.0), post("oak", x=8.0, y=5.0)
        high = post("oak", x=8.0, y=5.0, reach=Reach("circle", 2.0, priority=3))
        other = post("oak", x=8.0, y=5.0, prompts=(Prompt("p1", "Use", "second"),))
        deaf = post("oak", x=8.0, y=5.0, states=(State("s", "s", reach_on=False),))
        self.assertEqual(says(a, b), [("ash", "oak", ("use",), "looked at, then nearest")])
        self.assertEqual(says(a, high), [("ash", "oak", ("use",), "Oak wins")])
        self.assertEqual((says(a, other), says(a, deaf), says(a, post("oak", x=9.1, y=5.0))), ([], [], []))
        self.assertEqual(says(a, post("oak", x=8.96, y=5.0)), [])
        square = Reach("box", width_m=2.0, depth_m=2.0)
        for x, seen in ((6.985, 1), (6.991, 0)):
            pair = (post("ash", x=5.0, y=5.0, reach=square), post("oak", x=x, y=5.0, reach=square))
            self.assertEqual(len(says(*pair)), seen, x)

    def test_the_shape_of_a_reach_is_where_it_holds(self):
        import shapely

        aside = {"offset_x_m": 0.4, "offset_y_m": -0.3}
        for reach in (
            Reach("circle", 1.5, **aside),
            Reach("box", width_m=2.0, depth_m=1.0, **aside),
            Reach("wedge", 1.5, arc_deg=120.0, **aside),
            Reach("wedge", 1.5, arc_deg=360.0),
        ):
            kind, one = thing("a", x=0.0, y=0.0, reach=reach)
            one, disagree = dataclasses.replace(one, turn_deg=35.0), 0
            shape = reach_shape(one, kind.design)
            for i in range(-22, 23):
                for j in range(-22, 23):
                    x, y = i / 10 + 0.013, j / 10 + 0.017
                    disagree += self.held(reach, x, y, turn=35.0) != bool(shapely.contains_xy(shape, x, y))
            self.assertLess(disagree, 12, reach.shape)


class Guards(unittest.TestCase):
    def test_the_opposite_of_any_guard_holds_exactly_where_it_does_not(self):
        a, b, c = (Within(column, 1, 2, True) for column in range(3))
        guards = (
            a,
            All((a, b)),
            AnyOf((a, b)),
            *(AtLeast(n, (a, b, c)) for n in range(1, 4)),
            All((a, AtLeast(2, (b, c)))),
        )
        for guard in guards:
            for row in itertools.product(range(4), repeat=3):
                self.assertNotEqual(holds_on(guard, row), holds_on(opposite(guard), row), (guard, row))
                held = [1 <= value <= 2 for value in row]
                if isinstance(guard, AtLeast):
                    self.assertEqual(holds_on(guard, row), sum(held) >= guard.count)


class Cellular(unittest.TestCase):
    LAYOUT = lay_out(project(areas=(area("west", 0, 0, 4, 4), area("east", 4, 0, 4, 4))))

    def test_the_cell_of_a_point_is_its_own_or_outside_the_floor_the_nearest(self):
        cells = self.LAYOUT.cells
        named = [cells.cells[cells.at("level", x, 2.0)].area for x in (-3.0, 0.0, 3.99, 4.01, 8.0, 30.0)]
        self.assertEqual(named, ["west", "west", "west", "east", "east", "east"])
        with self.assertRaises(KeyError):
            cells.at("nowhere", 0.0, 0.0)

    def test_a_place_off_a_cell_comes_to_lie_so_far_within_it(self):
        cells = self.LAYOUT.cells
        west = cells.at("level", 1.0, 1.0)
        self.assertEqual(cells.inside(west, 1.0, 1.0, 0.1), (1.0, 1.0))
        self.assertEqual(tuple(round(v, 6) for v in cells.inside(west, 6.0, 2.0, 0.1)), (3.9, 2.0))
        self.assertEqual(tuple(round(v, 6) for v in cells.inside(west, -6.0, 2.0)), (0.001, 2.0))
        self.assertEqual((cells.gap_m(west, 1.0, 1.0), cells.gap_m(west, 6.0, 2.0)), (0.0, 2.0))

    def named_cells(self, *things, areas, walls=(), **more):
        small = project(*things, areas=areas)
        small = dataclasses.replace(small, levels=(dataclasses.replace(small.levels[0], walls=tuple(walls), **more),))
        return lay_out(small).cells

    def test_a_zone_cuts_only_the_floors_of_its_band(self):
        areas = (area("low", 0, 0, 5, 10), area("step", 5, 0, 5, 10, 0.3))
        for x, reach, names in (
            (4.9, {"above_m": 0.3}, {"low", "step"}),
            (4.9, {"above_m": 0.29}, {"low"}),
            (5.1, {"below_m": 0.3}, {"low", "step"}),
            (5.1, {"below_m": 0.29}, {"step"}),
        ):
            band = {"above_m": 0.0, "below_m": 0.0, **reach}
            one = thing(
                "z",
                "when entered this\nthen\n  give nut",
                x=x,
                y=5.0,
                **{**ZONE, "reach": Reach("circle", 1.0, **band)},
            )
            cells = self.named_cells(one, areas=areas)
            self.assertEqual({cells.cells[i].area for i in cells.of_zone("z")}, names, reach)

    def test_a_gap_lets_through_whoever_is_no_wider(self):
        areas, radius = (area("west", 0, 0, 5, 10), area("east", 5, 0, 5, 10)), project().player.radius_m
        for wide, leads in ((2 * radius, True), (2 * radius - 0.01, False)):
            walls = (Wall("a", ((5, 0), (5, 4))), Wall("b", ((5, 4 + wide), (5, 10))))
            cells = self.named_cells(areas=areas, walls=walls)
            self.assertEqual(cells.neighbours[0], frozenset({1} if leads else ()), wide)
        for deep, leads in ((10.0 - 4 * radius, True), (10.02 - 4 * radius, False)):
            pillar = thing("pillar", x=5.0, y=5.0, body=Body("box", 0.5, deep), states=(State("s", "s"),), prompts=())
            self.assertEqual(self.named_cells(pillar, areas=areas).neighbours[0], frozenset({1} if leads else ()), deep)

    def test_a_step_leads_both_ways_a_ledge_only_down_and_a_higher_one_not_at_all(self):
        for high, drops, down, up in ((0.4, (), True, True), (0.41, (), False, False), (0.41, ("low",), True, False)):
            cells = self.named_cells(areas=(area("up", 0, 0, 5, 10, high, drops), area("low", 5, 0, 5, 10)))
            self.assertEqual((1 in cells.neighbours[0], 0 in cells.neighbours[1]), (down, up), (high, drops))
            self.assertEqual(cells.drops, frozenset({(0, 1)} if drops else ()))

    def test_each_pose_of_a_door_that_blocks_fills_its_own_cell(self):
        states = (State("shut", "shut"), State("half", "half", swing_deg=90.0), State("off", "off", blocks=False))
        door = thing(
            "door", TOGGLE, x=5.0, y=5.0, states=states, body=Body("box", 2.0, 0.2), motion=Motion(hinge_x_m=-1.0)
        )
        cells = self.named_cells(door, areas=(area("hall", 0, 0, 10, 10),))
        filled = {
            (x, y): cells.cells[cells.at("level", x, y)].blockers
            for x, y in ((5.8, 5.0), (4.0, 6.0), (4.05, 5.05), (8.0, 8.0))
        }
        states_at = {at: [sorted(b.states) for b in found] for at, found in filled.items()}
        self.assertEqual(states_at, {(5.8, 5.0): [[0]], (4.0, 6.0): [[1]], (4.05, 5.05): [[0, 1]], (8.0, 8.0): []})

    def test_over_a_gap_in_the_floor_nothing_leads_on(self):
        cells = lay_out(project(areas=(area("west", 0, 0, 4, 4), area("east", 4.05, 0, 4, 4)))).cells
        west, east = cells.at("level", 1.0, 1.0), cells.at("level", 7.0, 1.0)
        self.assertEqual(cells.next_on(west, (3.9, 2.0), (4.1, 2.0)), [])
        joined = self.LAYOUT.cells
        self.assertEqual(joined.next_on(west, (3.9, 2.0), (4.1, 2.0)), [joined.at("level", 7.0, 1.0)])
        self.assertNotEqual(west, east)

    def test_the_fewest_cells_from_one_to_another_among_some(self):
        strips = tuple(area(f"s{i}", 4 * i, 0, 4, 4) for i in range(4))
        cells = lay_out(project(areas=strips)).cells
        self.assertEqual(cells._way(0, 3, frozenset(range(4))), [1, 2, 3])
        self.assertEqual(cells._way(3, 1, frozenset(range(4))), [2, 1])
        self.assertEqual(cells._way(0, 3, frozenset((0, 1, 3))), [])

    def test_the_patch_of_an_exit_is_turned_about_its_middle(self):
        patch = exit_patch(Exit("way", "Way", 5.0, 1.0, width_m=2.0, depth_m=1.0, turn_deg=90.0))
        self.assertEqual([round(v, 9) for v in patch.bounds], [4.5, 0.0, 5.5, 2.0])

    def test_who_steps_aside_goes_to_the_nearest_place_out_of_everybodys_line(self):
        ways = Ways(floor_of(Level("l", "L", 1.0, 1.0, 0.0, (area("a", 0, 0, 10, 10),), ())), 0.3, [])
        x, y = ways.nearest_clear((5.0, 5.0), [(3.0, 5.0)], 1.0)
        self.assertGreater(abs(y - 5.0), 1.0)
        self.assertLess(math.dist((x, y), (5.0, 5.0)), 1.5)
        x, y = ways.nearest_clear((5.0, 5.0), [(3.0, 5.0), (5.0, 3.0)], 1.0)
        self.assertTrue(abs(y - 5.0) > 1.0 and abs(x - 5.0) > 1.0, (x, y))
        narrow = Ways(floor_of(Level("l", "L", 1.0, 1.0, 0.0, (area("a", 0, 0, 10, 1),), ())), 0.3, [])
        self.assertIsNone(narrow.nearest_clear((5.0, 0.5), [(9.0, 0.5)], 4.9))
        long = Ways(floor_of(Level("l", "L", 1.0, 1.0, 0.0, (area("a", 0, 0, 30, 1),), ())), 0.3, [])
        x, _ = long.nearest_clear((5.0, 0.5), [(12.5, 0.5)], 2.0)
        self.assertTrue(14.5 < x < 15.5, x)
        x, _ = narrow.nearest_clear((5.0, 0.5), [(7.0, 0.5)], 1.0)
        self.assertGreater(x, 8.0)


class Swept(unittest.TestCase):
    def test_a_body_passes_over_everything_between_one_state_and_the_next_and_back_to_the_first(self):
        states = tuple(
            State(f"s{i}", "s", swing_deg=float(d), slide_x_m=x) for i, (d, x) in enumerate(((0, 0), (90, 0), (90, 3)))
        )
        kind, one = thing(
            "door", x=5.0, y=5.0, states=states, body=Body("box", 1.0, 0.1), motion=Motion(1.0, hinge_x_m=-0.5)
        )
        shape = swept_shape(one, kind.design)
        way = [(0, 0), *((d, 0) for d in range(0, 91, 3)), *((90, x / 10) for x in range(31)), (0, 0)]
        for swing, slid in way:
            solid = solid_of(one, kind.design, Pose(float(swing), float(slid), 0.0))
            self.assertTrue(shape.buffer(0.03).contains(Point(solid.x, solid.y)), (swing, slid))
        back = solid_of(one, kind.design, Pose(45.0, 1.5, 0.0))
        self.assertTrue(shape.buffer(0.2).contains(Point(back.x, back.y)))
        self.assertFalse(shape.contains(Point(5.0, 4.0)))

    def test_a_reach_that_slides_along_can_be_met_all_the_way(self):
        strips = tuple(area(f"s{i}", i, 0, 1, 10) for i in range(12))
        states = (State("a", "a"), State("b", "b", slide_x_m=9.0))
        reach = Reach("circle", 0.3, moves_with_part=True)
        one = thing("cart", "when near\nthen\n  give nut", x=1.5, y=5.0, states=states, reach=reach, motion=Motion(2.0))
        layout = lay_out(project(one, areas=strips))
        met = {layout.cells.cells[n].area for n in meeting_cells(layout, "cart")}
        self.assertEqual(met, {f"s{i}" for i in range(1, 11)})

    def test_between_two_poses_no_more_than_ten_degrees_and_at_least_four_parts(self):
        for swing, slid, parts in ((0.0, 0.0, 1), (0.0, 2.0, 4), (40.0, 0.0, 4), (41.0, 0.0, 5), (-95.0, 0.0, 10)):
            poses = poses_between(Pose(), Pose(swing, slid, 0.0))
            self.assertEqual(len(poses), parts + 1)
            self.assertEqual((poses[0], poses[-1]), (Pose(), Pose(swing, slid, 0.0)))

    def test_a_part_slides_in_the_axes_of_its_object(self):
        kind, one = thing(
            "gate", x=5.0, y=5.0, body=Body("box", 1.0, 0.1), motion=Motion(1.0, hinge_x_m=-0.5, hinge_y_m=0.25)
        )
        for turn, x, y in ((0.0, 7.0, 8.0), (90.0, 2.0, 7.0), (180.0, 3.0, 2.0)):
            solid = solid_of(dataclasses.replace(one, turn_deg=turn), kind.design, Pose(0.0, 2.0, 3.0))
            self.assertEqual((round(solid.x, 9), round(solid.y, 9), solid.turn_deg), (x, y, turn))

    def test_the_far_corner_and_the_sides_of_a_body(self):
        box, disc = Solid(0.0, 0.0, 0.0, Body("box", 3.0, 4.0)), Solid(1.0, 0.0, 0.0, Body("circle", 2.0))
        self.assertEqual((box.reach_m, disc.reach_m), (2.5, 1.0))
        self.assertEqual((len(box.sides()), len(disc.sides())), (4, 16))
        self.assertEqual((box.distance(0.0, 0.0), box.distance(2.5, 0.0), disc.distance(1.0, 3.0)), (0.0, 1.0, 2.0))
        self.assertTrue(np.allclose(np.hypot(disc.sides()[:, 0] - 1.0, disc.sides()[:, 1]), 1.0))


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


class WhyNot(unittest.TestCase):
    def lines(self, w, key="oak"):
        found = explained(w.run, key)
        return {line["text"]: (line["met"], line["detail"]) for line in found["place"]}, found["stopped_by"]

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
        self.assertEqual((lines["Facing"], lines["Clear sight"]), ((True, "38° of 45°"), (True, "up to 3 m")))
        self.assertEqual(lines["Gets E"], (True, "nearer, 1.50 m against 1.90 m than Oak"))
        self.assertEqual(self.lines(w)[0]["Gets E"], (False, "Ash: nearer, 1.50 m against 1.90 m"))
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
        self.assertEqual((hold["at"], hold["hold"], hold["progress"], hold["usable"]), ([2.5, 1.75], True, 0.0, True))
        use = prompts()["use"]
        self.assertEqual((use["hold"], use["usable"], use["reason"], use["wording"]), (False, False, "Wet: no", "Use"))
        w.run.tick(Input(down=("second",)))
        w.wait(14)
        self.assertEqual((prompts()["second"]["progress"], prompts()["use"]["progress"]), (0.5, 0.0))
        w.wait(15)
        self.assertEqual((prompts()["second"]["progress"], w.value("item:nut")), (0.0, 1))

    def test_what_is_said_with_its_voice_and_its_answers(self):
        replies = (
            Reply("r1", "Yes"),
            Reply("r2", "Wet", needs="wet", unmet="greyed"),
            Reply("r3", "No", needs="wet", unmet="hidden"),
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
            [seconds(t) for t in (0, 2, 3, 30, 1799, 1800, 30 * 3600)],
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


class Tried(unittest.TestCase):
    def test_what_is_struck_in_vain_is_refused_with_its_words(self):
        nest = thing("nest", "when started\nthen\n  grant leap", x=18.0, y=9.0)
        gong = thing(
            "gong",
            'when struck by leap\nonly if wet or else say "Too dry."\nthen\n  give nut',
            x=7.0,
            y=5.0,
            prompts=(),
            body=Body("none"),
        )
        small = dataclasses.replace(project(gong, nest), abilities=(Ability("leap", "Leap", control="second"),))
        w = walked(small, 5.0, 5.0, 0.0).wait(1).press("second")
        self.assertEqual((w.told("notice"), w.value("item:nut")), (["“Too dry.”"], 0))

    def test_a_press_on_what_nothing_waits_for_says_so(self):
        w = walked(project(post("oak", "when near\nthen\n  give nut"))).press()
        self.assertEqual(
            [(e.what, e.text) for e in w.run.chronicle][-1], ("unmet", "Not met: nothing happens here yet")
        )

    def test_coming_near_in_vain_says_so_and_is_no_use(self):
        w = walked(
            project(post("oak", 'when near\nonly if wet or else say "Too dry."\nthen\n  give nut', x=5.0, y=5.0))
        )
        self.assertEqual(w.go(5.0, 4.0).told("notice"), ["“Too dry.”"])

    def test_who_leaves_a_level_looks_at_nothing_there_any_more(self):
        oak = post("oak", "when used\nthen\n  give nut", x=3.0, y=3.0, reach=Reach("circle", 3.0, facing_deg=180.0))
        small = two_levels(oak, exits=(dataclasses.replace(DOWN, x_m=3.0, y_m=2.0),))
        w = walked(small, 1.0, 2.0)
        w.wait(1)
        self.assertEqual((w.value("looked_at:oak"), w.value("in_reach:oak")), (1, 1))
        w.go(3.0, 2.0)
        self.assertEqual(w.run.situation.level, "below")
        self.assertEqual((w.value("looked_at:oak"), w.value("in_reach:oak")), (0, 0))

    def test_the_last_outcome_is_lost(self):
        w = walked(project(post("oak", "when used\nthen\n  end level lost"))).press()
        self.assertEqual(w.value("ended"), 2)


class Bounds(unittest.TestCase):
    def test_more_than_two_thousand_copies_in_all_are_told(self):
        cue = "when used\nthen\n  put moth_kind at this at most {}"
        many = [post(f"oak{i}", cue.format(bound), x=i / 2 + 1.0) for i, bound in enumerate((*(99,) * 20, 21))]
        moth = thing("moth", prompts=(), reach=Reach("none"), body=Body("none"))
        (problem,) = compiled(project(*many, moth)).problems
        self.assertEqual((problem.code, "may put 2001 copies" in problem.message), ("too_many_copies", True))

    def test_declining_is_a_moment_whether_for_good_or_not(self):
        quest = Quest("errand", "Errand", stages=(Stage("s1", "S"),))
        for how, status in (("", "available"), (" for good", "declined")):
            cues = (
                "when started\nthen\n  offer errand",
                f"when used\nthen\n  decline errand{how}",
                "when declined errand\nthen\n  add 1 to tally",
            )
            w = walked(project(post("oak", *cues), quests=(quest,))).wait(1).press()
            found = (w.value("fact:tally"), STATUSES[w.value("status:errand")])
            self.assertEqual(found, (1, status))


class Beside(unittest.TestCase):
    """What lies beside the row follows wherever things are."""

    def test_a_sound_is_where_somebody_walks_and_nowhere_in_a_level_that_was_left(self):
        pip = thing("pip", x=10.0, y=5.0, walks=True, speed_mps=1.5, prompts=(), body=Body("circle", 0.6, 0.6))
        pip = (pip[0], dataclasses.replace(pip[1], round=((10.0, 5.0), (13.0, 5.0))))
        desk = thing("desk", "when used\nthen\n  effect dust at pip\n  wait 2 s\n  effect glow at this", prompts=USE)
        small = two_levels(desk, pip, exits=(dataclasses.replace(DOWN, x_m=2.0, y_m=3.4),))
        w = walked(small, 2.0, 1.2).wait(30).press()
        (entry,) = [e for e in w.run.chronicle if e.what == "effect"]
        self.assertEqual((entry.spot[1], 11.4 < entry.spot[0] < 11.6), (5.0, True))
        w.stand(3.0, 2.6).go(2.0, 3.4)
        self.assertEqual(w.run.situation.level, "below")
        w.wait(60)
        self.assertEqual([e.spot for e in w.run.chronicle if e.what == "effect"], [entry.spot, None])

    def test_what_was_moved_and_is_fresh_lies_where_it_was_placed_again(self):
        crate = thing("crate", x=6.0, y=6.0, fresh=True, prompts=(), reach=Reach("none"), body=Body("none"))
        box = thing("box", "when used\nthen\n  put crate at this by 1 m, 0 m", prompts=USE)
        w = walked(two_levels(box, crate, exits=(DOWN,), back=(UP,))).press()
        self.assertEqual(w.place("crate")[1:], (3.0, 2.0))
        self.assertEqual(w.go(5.0, 1.0).go(7.0, 4.0).place("crate"), ("level", 6.0, 6.0))

    def test_a_carrier_follows_the_player_into_another_level_and_is_at_home_again_after(self):
        desk = thing("desk", "when used\nthen\n  later by pip", "when later\nthen\n  give nut", prompts=USE)
        pip = thing("pip", x=19.0, y=9.0, speed_mps=2.0, body=Body("circle", 0.5, 0.5), prompts=(), reach=Reach("none"))
        small = two_levels(desk, pip, exits=(dataclasses.replace(DOWN, x_m=2.0, y_m=3.4),), back=(UP,))
        w = walked(small).press().wait(5).stand(3.0, 2.6).go(2.0, 3.4)
        self.assertEqual((w.run.situation.level, w.value("item:nut")), ("below", 0))
        w.wait(40)
        self.assertEqual(w.place("pip")[0], "below")
        self.assertEqual(w.value("item:nut"), 1)
        w.wait(200)
        self.assertEqual((w.place("pip"), w.value("carrier:pip")), (("level", 19.0, 9.0), 0))

    def test_a_carrier_whose_way_back_is_barred_goes_none_the_less(self):
        gate = {"states": (State("up", "up", blocks=False, slide_y_m=3.0), State("shut", "shut"))}
        gate = thing("gate", x=10.0, y=5.0, prompts=(), reach=Reach("none"), body=Body("box", 0.2, 1.2, 2.0), **gate)
        desk = thing(
            "desk", "when used\nthen\n  later by pip", "when later\nthen\n  set gate to shut", x=5.0, y=5.0, prompts=USE
        )
        pip = thing("pip", x=19.0, y=9.0, speed_mps=3.0, body=Body("circle", 0.5, 0.5), prompts=(), reach=Reach("none"))
        pip = (pip[0], dataclasses.replace(pip[1], there_at_start=False))
        small = two_levels(desk, gate, pip, exits=(dataclasses.replace(DOWN, x_m=15.0, y_m=5.0),))
        walls = (Wall("a", ((10, 0), (10, 4.5))), Wall("b", ((10, 5.5), (10, 10))))
        small = dataclasses.replace(small, levels=(dataclasses.replace(small.levels[0], walls=walls), small.levels[1]))
        w = walked(small, 4.0, 5.0, 0.0).press().wait(30 * 7)
        self.assertEqual((w.value("state:gate"), w.value("carrier:pip")), (1, 0))
        self.assertEqual(w.told("sent"), ["Pip sets out"])

    def test_who_is_taken_elsewhere_lets_go_of_what_was_held(self):
        oak = thing("oak", "when held\nthen\n  give nut", prompts=(Prompt("p1", "Hold", "second", hold_s=2.0),))
        box = post("box", "when used\nthen\n  move player to far", x=2.0, y=1.5)
        small = project(oak, box, thing("far", x=15.0, y=6.0, prompts=()))
        w = walked(small)
        w.run.tick(Input(down=("second",)))
        w.press().wait(70)
        self.assertEqual((len(w.told("hold_broken")), w.value("item:nut")), (1, 0))


class Crossing(unittest.TestCase):
    def test_a_way_crosses_a_segment_with_its_ends_among_it_and_never_along_it(self):
        wall = np.array([[0.0, -1.0, 0.0, 1.0]])
        for way, share in (
            ((-1.0, 0.0, 1.0, 0.0), 0.5),
            ((0.0, 0.0, 1.0, 0.0), 0.0),
            ((-1.0, 0.0, 0.0, 0.0), 1.0),
            ((-1.0, 1.0, 1.0, 1.0), 0.5),
            ((-1.0, -1.0, 3.0, -1.0), 0.25),
        ):
            along, hit = crossings(wall, *way)
            self.assertEqual((float(along[0]), bool(hit[0])), (share, True), way)
        for way in (
            (-1.0, 1.01, 1.0, 1.01),
            (-1.0, -1.01, 1.0, -1.01),
            (0.01, 0, 1, 0),
            (-1, 0, -0.01, 0),
            (0, -2, 0, 2),
        ):
            self.assertFalse(bool(crossings(wall, *way)[1][0]), way)

    def test_the_nearest_place_of_a_segment(self):
        segments = np.array([[0.0, 0.0, 4.0, 0.0], [1.0, 1.0, 1.0, 1.0]])
        for x, nearest in ((-2.0, 0.0), (1.5, 1.5), (9.0, 4.0)):
            found = nearest_on(segments, x, 3.0)
            self.assertEqual(found.tolist(), [[nearest, 0.0], [1.0, 1.0]])


class OnFoot(unittest.TestCase):
    def test_as_fast_straight_as_aslant_and_half_as_fast_by_half_a_push(self):
        speed = project().player.speed_mps
        for push, east, north in (
            ((1.0, 0.0), 1.0, 0.0),
            ((0.5, 0.0), 0.5, 0.0),
            ((0.0, -1.0), 0.0, -1.0),
            ((1.0, 1.0), 0.7071, 0.7071),
        ):
            w = walked(project(), 10.0, 5.0).move(*push, 15)
            player = w.run.situation.player
            self.assertAlmostEqual(player.x, 10.0 + east * speed / 2, delta=0.01)
            self.assertAlmostEqual(player.y, 5.0 + north * speed / 2, delta=0.01)
            self.assertAlmostEqual(player.facing_deg, math.degrees(math.atan2(push[1], push[0])), delta=0.001)

    def test_one_looks_about_without_walking(self):
        w = walked(project(), 10.0, 5.0)
        w.run.tick(Input(look=12.34567))
        player = w.run.situation.player
        self.assertEqual((player.x, player.y, player.facing_deg), (10.0, 5.0, 12.346))

    def test_one_arrives_where_one_was_sent_and_goes_round_what_stands_there(self):
        box = thing("box", x=10.0, y=5.0, body=Body("box", 2.0, 2.0), prompts=(), reach=Reach("none"))
        w = walked(project(box), 7.0, 5.0).go(13.0, 5.0)
        self.assertLess(math.dist((w.run.situation.player.x, w.run.situation.player.y), (13.0, 5.0)), 0.021)

    def test_nobody_walks_into_a_body_or_a_wall(self):
        radius = project().player.radius_m
        box = thing("box", x=12.0, y=5.0, body=Body("box", 2.0, 2.0), prompts=(), reach=Reach("none"))
        w = walked(project(box), 9.0, 5.0).move(1.0, 0.0, 60)
        self.assertAlmostEqual(w.run.situation.player.x, 11.0 - radius, delta=0.002)
        w = walked(project(), 18.0, 5.0).move(1.0, 0.0, 60)
        self.assertAlmostEqual(w.run.situation.player.x, 20.0 - radius, delta=0.002)

    def test_a_character_in_the_way_is_walked_round(self):
        pip = thing("pip", x=10.0, y=5.0, walks=True, prompts=(), reach=Reach("none"), body=Body("circle", 0.6, 0.6))
        pip = (pip[0], dataclasses.replace(pip[1], round=((10.0, 5.0), (10.001, 5.0))))
        w = walked(project(pip), 7.0, 5.0).go(13.0, 5.0)
        self.assertLess(math.dist((w.run.situation.player.x, w.run.situation.player.y), (13.0, 5.0)), 0.021)


class OnTheirRounds(unittest.TestCase):
    class Straight:
        """A floor without anything on it."""

        @staticmethod
        def way(_here, goal):
            return [goal]

    def test_a_step_covers_its_metres_and_turns_at_each_way_point(self):
        walker = Walker(0.0, 0.0, 0.0, 1.5, 0.3, ((0.0, 0.0), (1.0, 0.0), (1.0, 1.0)))
        walker.step(1.0, self.Straight, [], talking=False)
        self.assertEqual((walker.x, walker.y, walker.facing_deg), (1.0, 0.5, 90.0))
        walker.step(1.0, self.Straight, [], talking=True)
        self.assertEqual((walker.x, walker.y), (1.0, 0.5))

    def test_it_stops_ten_centimetres_before_somebody_and_never_for_who_is_behind(self):
        walker = Walker(0.0, 0.0, 0.0, 0.1, 0.3, ((0.0, 0.0), (5.0, 0.0)))
        for _ in range(20):
            walker.step(1.0, self.Straight, [(2.0, 0.0, 0.3)], talking=False)
        self.assertEqual(walker.x, 1.3)
        self.assertEqual(walker.waited, 7)
        walker.step(1.0, self.Straight, [(1.2, 0.0, 0.3)], talking=False)
        self.assertEqual((walker.x, walker.waited), (1.4, 0))

    def test_a_way_point_where_it_stands_is_passed_at_once(self):
        walker = Walker(0.0, 0.0, 0.0, 1.0, 0.3, ((0.0, 0.0), (0.0, 0.0), (3.0, 0.0)))
        walker.step(1.0, self.Straight, [], talking=False)
        self.assertEqual(walker.x, 1.0)

    def test_an_errand_that_moved_little_keeps_its_way(self):
        walker = Walker(0.0, 0.0, 0.0, 1.0, 0.3, ())
        for goal, kept in (((5.0, 0.0), True), ((5.5, 0.0), True), ((5.6, 0.0), False)):
            walker.goal, walker.way = (5.0, 0.0), [(1.0, 0.0)]
            walker.towards(goal)
            self.assertEqual(bool(walker.way), kept, goal)
        walker.towards(None)
        self.assertEqual((walker.goal, walker.way), (None, []))


if __name__ == "__main__":
    unittest.main()
