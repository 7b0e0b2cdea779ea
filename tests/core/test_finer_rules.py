"""The finer rules, each at its very border: a hair to this side it is so, a hair to the other it is not."""

import dataclasses
import math
import unittest

from tests.core.small import DOOR, DOWN, TOGGLE, UP, USE, area, post, project, thing, two_levels
from tests.core.walked import walked
from vocanta.core.engine.focus import Candidate, deciding, focused
from vocanta.core.engine.inputs import Input
from vocanta.core.engine.scene import Swing, eased
from vocanta.core.engine.standing import standing_before
from vocanta.core.engine.talking import voice_ticks, wording_number
from vocanta.core.engine.walkers import Walker
from vocanta.core.phrases.vocabulary import STATUSES
from vocanta.core.progress.compiling import compiled
from vocanta.core.progress.layout import lay_out
from vocanta.core.project.records import (
    Ability,
    Body,
    Conversation,
    Cue,
    Exit,
    Line,
    Motion,
    Prompt,
    Quest,
    Reach,
    Stage,
    State,
    Wall,
)
from vocanta.core.space.bodies import Pose
from vocanta.core.space.landings import before, landing
from vocanta.core.space.measuring import measured


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
        self.assertEqual(
            deciding(near, dataclasses.replace(far, distance_m=2.0), "Elm"),
            "it is nearer than Elm, 1.00 m against 2.00 m",
        )
        self.assertEqual(deciding(far, dataclasses.replace(near, distance_m=1.05), "Elm"), "it had it before Elm")
        self.assertEqual(deciding(near, dataclasses.replace(far, distance_m=1.05), "Elm"), "it is nearer than Elm")
        self.assertEqual(deciding(dataclasses.replace(far, looked_at=True), near, "Elm"), "it is looked at, Elm is not")
        self.assertEqual(
            deciding(dataclasses.replace(far, priority=2), near, "Elm"), "its priority 2 is above the 0 of Elm"
        )

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
            project(thing("desk", cue, x=12.0, reach=Reach("circle", 3.0)), thing("rock", y=2.00044), areas=halls),
            12.0,
            1.0,
        )
        self.assertEqual(w.press().place("rock")[1:], (13.0, 1.0))

    def test_what_a_start_puts_into_another_cell_lies_there_on_whole_millimetres(self):
        halls = (area("west", 0, 0, 10.33337, 10), area("east", 10.33337, 3.33337, 9, 6))
        small = project(thing("desk", "when used\nthen\n  put rock at player"), thing("rock"), areas=halls)
        cells = lay_out(small).cells
        east = cells.at("level", 15.0, 5.0)
        w = walked(small, puts=(("place:rock", east),))
        level, x, y = w.place("rock")
        self.assertEqual((level, x, y), ("level", round(x, 3), round(y, 3)))
        self.assertNotEqual(y, round(y, 2))
        self.assertNotEqual(x, round(x, 2))
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
        edge = thing("oak", x=10.0, y=0.2, reach=Reach("circle", 3.0), body=Body("none"))
        self.assertGreater(standing_before(project(edge), "oak")[1], 0.3)
        aside = thing(
            "oak", x=5.0, y=5.0, reach=Reach("circle", 1.0, offset_x_m=0.37, offset_y_m=-0.5), body=Body("none")
        )
        x, y, facing = standing_before(project(aside), "oak")
        self.assertEqual(facing, round(math.degrees(math.atan2(5.0 - y, 5.0 - x)), 1))
        self.assertEqual((x, y), (5.37, 3.88))

    def test_where_one_is_to_stand_is_a_whole_millimetre(self):
        kind, oak = thing("oak", x=5.0, y=5.0, reach=Reach("circle", 2.0), body=Body("box", 0.4, 0.4))
        x, y, _ = standing_before(project((kind, dataclasses.replace(oak, turn_deg=17.0))), "oak")
        self.assertEqual((x, y), (round(x, 3), round(y, 3)))
        self.assertAlmostEqual(x, 5.0 + 1.24 * math.sin(math.radians(17.0)), 3)
        self.assertAlmostEqual(y, 5.0 - 1.24 * math.cos(math.radians(17.0)), 3)

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
        moth = thing("moth", prompts=(), reach=Reach("none"), body=Body("none"))

        def problems(last):
            bounds = (*(99,) * 20, last)
            many = [post(f"oak{i}", cue.format(bound), x=i / 2 + 1.0) for i, bound in enumerate(bounds)]
            return [(p.code, "may put 2001 copies" in p.message) for p in compiled(project(*many, moth)).problems]

        self.assertEqual((problems(20), problems(21)), ([], [("too_many_copies", True)]))

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

    def test_the_check_itself_sees_what_lies_elsewhere_than_the_row_says(self):
        desk = thing("desk", "when used\nthen\n  put rock at player", prompts=USE)
        w = walked(two_levels(desk, thing("rock", x=6.0, y=6.0))).press()
        situation = w.run.situation
        spot = situation.spots["rock"]
        self.assertEqual(list(situation.disagreements()), [])
        for wrong in (dataclasses.replace(spot, level="below"), dataclasses.replace(spot, x=25.0)):
            situation.spots["rock"] = wrong
            self.assertEqual(len(list(situation.disagreements())), 1, wrong)

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

    def test_a_sound_without_more_is_at_the_very_place(self):
        w = walked(project(post("oak", "when used\nthen\n  effect dust at this\n  effect glow at player"))).press()
        self.assertEqual([e.spot for e in w.run.chronicle if e.what == "effect"], [(2.0, 2.0), (2.0, 1.0)])

    def test_what_a_kind_leaves_to_its_objects_is_what_is_put(self):
        cue = "when used\nthen\n  put its makes at this by 1 m, 0 m at most 2"
        w = walked(project(post("box", cue, values={"makes": "moth_kind"}), thing("moth", x=9.0))).press()
        self.assertEqual(w.place("moth_kind@box_1.1")[1:], (3.0, 2.0))

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

    def test_a_carrier_who_arrives_brings_what_was_sent_and_does_nothing_else_that_they_can(self):
        desk = thing("desk", "when used\nthen\n  later by pip", "when later\nthen\n  give nut", prompts=USE)
        pip = thing("pip", "when used\nthen\n  give pin", x=9.0, y=5.0, body=Body("circle", 0.5, 0.5), prompts=USE)
        w = walked(project(desk, pip)).press().wait(30 * 20)
        self.assertEqual((w.value("item:nut"), w.value("item:pin")), (1, 0))

    def test_what_an_area_sends_comes_to_that_area(self):
        pip = thing("pip", x=9.0, y=5.0, speed_mps=4.0, body=Body("circle", 0.5, 0.5), prompts=(), reach=Reach("none"))
        west, east = area("west", 0, 0, 8, 10), area("east", 8, 0, 12, 10)
        cues = (Cue("c1", "when entered east\nthen\n  later by pip"), Cue("c2", "when later\nthen\n  give nut"))
        small = project(pip, areas=(west, dataclasses.replace(east, cues=cues)))
        w = walked(small, 7.5, 2.0, 0.0).move(1.0, 0.0, 20).wait(90)
        self.assertEqual(w.value("item:nut"), 1)

    def test_a_talk_that_an_area_opens_is_opened_at_nobody_and_goes_on_wherever_one_walks(self):
        pip = thing("pip", x=9.0, y=2.0, body=Body("none"), prompts=(), reach=Reach("circle", 1.5))
        west, east = area("west", 0, 0, 8, 10), area("east", 8, 0, 12, 10)
        cue = Cue("c1", "when entered east\nthen\n  open conversation chat")
        chat = Conversation("chat", "Chat", "pip", (Line("hail", ("A long tale.",), True, seconds=60.0),))
        small = project(pip, areas=(west, dataclasses.replace(east, cues=(cue,))), talks=(chat,))
        w = walked(small, 7.5, 2.0, 0.0).move(1.0, 0.0, 20)
        self.assertEqual((w.value("talk"), w.value("talk_at")), (1, 0))
        self.assertEqual(w.move(1.0, 0.0, 60).value("talk"), 1)

    def test_a_reach_that_moves_with_its_part_turns_about_with_it(self):
        states = (State("a", "a"), State("b", "b", swing_deg=180.0))
        reach = Reach("circle", 0.6, offset_x_m=0.5, offset_y_m=2.0, moves_with_part=True)
        arm = thing("arm", x=5.0, y=5.0, states=states, reach=reach, body=Body("none"), prompts=USE)
        knob = thing("knob", "when used\nthen\n  set arm to b", x=9.0, y=5.0, prompts=USE)
        w = walked(project(arm, knob), 9.0, 4.0).press()
        for x, y, inside in ((4.5, 3.0, 1), (5.5, 7.0, 0), (4.5, 7.0, 0), (5.5, 3.0, 0)):
            self.assertEqual(w.stand(x, y).wait(2).value("in_reach:arm"), inside, (x, y))

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
