"""Values tried while walking: they show at once, what is under way goes on, and what does not fit is refused."""

from __future__ import annotations

import unittest

from tests.core.small import project, thing
from tests.core.test_engine import random_inputs
from tests.core.walked import Walked, walked
from vocanta.core.engine.inputs import STILL, Input
from vocanta.core.engine.tuning import Tried, gone_on, read_tried
from vocanta.core.project.problems import ProjectError
from vocanta.core.project.records import Conversation, Line, Motion, State

WIDER = Tried("lever", "reach.radius_m", 3.0)


def lever(**design):
    return thing("lever", "when used then set this to wide", x=4.0, y=2.0, **design)


class Shown(unittest.TestCase):
    def test_a_reach_that_grows_over_the_player_gives_the_prompt_at_once_and_one_that_shrinks_takes_it(self):
        run = walked(project(lever()), 6.5, 2.0).run
        self.assertEqual(run.here.prompts.live, {})
        run = gone_on(run, (WIDER,))
        self.assertEqual(sorted(run.here.prompts.live), ["second", "use"])
        self.assertEqual([e.what for e in run.chronicle], ["near"])
        run = gone_on(run, (Tried("lever", "reach.radius_m", 1.0),))
        self.assertEqual(run.here.prompts.live, {})

    def test_the_player_walks_as_fast_as_is_tried(self):
        run = walked(project(lever()), 10.0, 5.0).run
        run = gone_on(run, (Tried("project", "player.speed_mps", 6.0),))
        for _ in range(30):
            run.tick(Input(move=(1.0, 0.0)))
        self.assertAlmostEqual(run.situation.player.x, 16.0, 2)

    def test_a_motion_that_is_made_longer_has_come_as_far_of_it(self):
        door = (State("shut", "shut"), State("wide", "wide", swing_deg=80.0))
        w = walked(project(lever(states=door, motion=Motion(1.0, easing="even"))), 4.0, 3.2)
        w.run.tick(Input(down=("use",)))
        w.wait(15)
        number = w.run.here.mover.scene.number["lever"]
        run = gone_on(w.run, (Tried("lever", "motion.seconds", 2.0),))
        self.assertAlmostEqual(run.here.mover.pose(number).swing_deg, 40.0)
        for degrees in (60.0, 80.0):  # Half of two seconds is left: a quarter of the way in each half of a second.
            for _ in range(15):
                run.tick(STILL)
            self.assertAlmostEqual(run.here.mover.pose(number).swing_deg, degrees)

    def test_a_motion_goes_on_to_the_swing_that_is_tried(self):
        door = (State("shut", "shut"), State("wide", "wide", swing_deg=80.0))
        of = project(lever(states=door, motion=Motion(1.0, easing="even")))
        w = walked(of, 4.0, 3.2)
        w.run.tick(Input(down=("use",)))
        w.wait(15)
        number = w.run.here.mover.scene.number["lever"]
        self.assertAlmostEqual(w.run.here.mover.pose(number).swing_deg, 40.0)
        run = gone_on(w.run, (Tried("lever", "states.wide.swing_deg", 120.0),))
        self.assertAlmostEqual(run.here.mover.pose(number).swing_deg, 60.0)
        for _ in range(16):
            run.tick(STILL)
        self.assertAlmostEqual(run.here.mover.pose(number).swing_deg, 120.0)
        self.assertEqual([e.text for e in run.chronicle if e.what == "arrived"], ["Lever is wide"])

    def test_a_voice_of_another_length_has_spoken_as_long_as_it_has(self):
        line = Line("hello", ("Hello.",), True, seconds=4.0)
        of = project(
            thing("lever", "when used then open conversation chat", x=4.0),
            talks=(Conversation("chat", "C", lines=(line,)),),
        )
        w = walked(of, 4.0, 3.0).press().wait(28)
        self.assertEqual((w.run.talk.speech.total, w.run.talk.speech.left), (120, 90))
        run = gone_on(w.run, (Tried("hello", "seconds", 2.0),))
        self.assertEqual((run.talk.speech.total, run.talk.speech.left), (60, 30))


class GoesOn(unittest.TestCase):
    def test_with_a_value_that_changes_nothing_the_run_is_the_same_as_without(self):
        """What is carried over is all there is: a value is set to something else again and again in the midst of runs."""
        for seed, at in enumerate(("odile_marr", "odd_crate_1")):
            inputs = random_inputs(seed, 400)
            straight, turned = Walked(at=at).run, Walked(at=at).run
            for number, given in enumerate(inputs):
                straight.tick(given)
                turned.tick(given)
                if number % 50 == 7:
                    there = gone_on(turned, (Tried("yard_bell", "body.height_m", 1.7),))
                    turned = gone_on(there, (Tried("yard_bell", "body.height_m", 1.0 + number / 1000),))
            self.assertEqual(turned.situation.row, straight.situation.row)
            self.assertEqual([e.text for e in turned.chronicle], [e.text for e in straight.chronicle])
            self.assertEqual(turned.situation.player, straight.situation.player)

    def test_where_the_floor_is_cut_otherwise_everything_lies_in_the_cell_of_its_place(self):
        of = project(thing("pad", "when near then set wet to yes", x=8.0), lever())
        run = walked(of, 6.0, 2.0).run
        run = gone_on(run, (Tried("pad", "reach.radius_m", 2.5),))
        run.tick(STILL)
        self.assertEqual(list(run.situation.disagreements()), [])
        self.assertEqual(run.situation.named("fact:wet"), 1)


class Refused(unittest.TestCase):
    def refused(self, *tried: Tried) -> str:
        run = walked(project(lever()), 6.5, 2.0).run
        row = list(run.situation.row)
        with self.assertRaises(ProjectError) as refused:
            gone_on(run, tried)
        self.assertEqual(run.situation.row, row)
        (problem,) = refused.exception.problems
        self.assertEqual(problem.code, "not_tried")
        return problem.message

    def test_what_is_no_value_or_out_of_its_limits_is_said_with_its_reason(self):
        self.assertIn("there is no object of that name", self.refused(Tried("nobody", "reach.radius_m", 1.0)))
        self.assertIn("it has no such value", self.refused(Tried("lever", "reach.wideness", 1.0)))
        self.assertIn("greater than 0", self.refused(Tried("lever", "reach.radius_m", -1.0)))
        self.assertIn("only the player", self.refused(Tried("project", "money_name", 1.0)))
        self.assertIn("less than or equal to 50", self.refused(Tried("project", "player.speed_mps", 90.0)))
        self.assertIn("a voice lasts up to 600 s", self.refused(Tried("hello", "seconds", 0.0)))

    def test_senseless_data_is_refused_whole(self):
        for data in (None, 3, [{"of": "lever"}], [{"of": "lever", "path": "x", "value": "wide"}]):
            with self.assertRaises(ProjectError):
                read_tried(data)
        self.assertEqual(read_tried([{"of": "a", "path": "b", "value": 1.5}]), (Tried("a", "b", 1.5),))


if __name__ == "__main__":
    unittest.main()
