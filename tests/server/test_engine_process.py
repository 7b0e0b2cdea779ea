"""A run in its own process: pictures, inputs kept, nonsense refused, picked up again."""

from __future__ import annotations

import dataclasses
import io
import json
import unittest

from vocanta.core.engine.inputs import Input
from vocanta.core.engine.standing import standing_before
from vocanta.demo import PLACE
from vocanta.server.session import Session, for_one_tick, merged

DEMO = (PLACE / "night_bloom" / "project.json").read_text(encoding="utf-8")


class Sessions(unittest.TestCase):
    def session(self, **begin):
        self.out = io.StringIO()
        return Session({"project": DEMO, **begin}, self.out)

    def said(self):
        return [json.loads(line) for line in self.out.getvalue().splitlines()]

    def wrong(self):
        """What the first picture says cannot run; how far the start had come may be told before it."""
        return next(m["wrong"] for m in self.said() if "picture" in m)

    def test_nonsense_is_answered_and_the_run_goes_on(self):
        session = self.session()
        for nonsense in (
            "unreadable",
            [],
            {"input": {"down": ["fly"]}},
            {"do": "explode"},
            {"what": 1},
            {"input": 3},
            {},
        ):
            session.take(nonsense)
            self.assertTrue(self.said()[-1]["problems"][0]["fix"], nonsense)
        session.step()
        self.assertEqual(self.said()[-1]["picture"]["tick"], 1)

    def test_what_cannot_run_is_told_at_once_and_the_rest_runs(self):
        self.session()
        self.assertEqual(self.wrong(), [])
        self.session(project=DEMO.replace("take pruning_hook", "take pruning_hoo", 1))
        (wrong,) = self.wrong()
        self.assertIn("pruning_hoo", wrong["message"])
        self.assertTrue(wrong["path"].startswith("object/") or wrong["path"].startswith("kind/"), wrong["path"])

    def test_a_run_that_comes_to_other_bytes_when_it_is_put_together_again_says_so(self):
        session = self.session()
        session.take({"input": {"move": [0.0, 1.0]}})
        for _ in range(30):
            session.step()
        stored = next(m for m in self.said() if "inputs" in m)
        for otherwise, first in ((False, stored), (True, stored | {"inputs": [[1, {"move": [0.0, 0.9]}]]})):
            self.session(**first)
            self.assertEqual([m["otherwise"] for m in self.said() if "otherwise" in m], [otherwise])

    def test_inputs_are_handed_over_within_a_second_and_replay_to_the_same_place(self):
        session = self.session()
        session.take({"input": {"move": [0.0, 1.0]}})
        for _ in range(30):
            session.step()
        stored = next(m for m in self.said() if "inputs" in m)
        self.assertEqual((stored["tick"], stored["inputs"]), (30, [[1, {"move": [0.0, 1.0]}]]))
        again = self.session(inputs=stored["inputs"], tick=stored["tick"])
        self.assertEqual(
            (again.run.situation.player.x, again.run.situation.player.y),
            (session.run.situation.player.x, session.run.situation.player.y),
        )
        self.assertEqual(again.run.situation.tick, 30)

    def test_nothing_that_an_input_can_say_is_lost_among_others_of_one_tick(self):
        said = {
            "down": ("use",), "up": ("use",), "choose": "r1", "skip": True,
            "walk_to": (1.0, 2.0), "look": 90.0, "mark": "one", "decide": "start:errand",
        }  # fmt: skip
        self.assertEqual({*said, "move"}, {f.name for f in dataclasses.fields(Input)})
        for name, value in said.items():
            for inputs in ([Input(**{name: value}), Input()], [Input(), Input(**{name: value})]):
                self.assertEqual(getattr(merged(inputs), name), value, name)

    def test_a_press_and_its_letting_go_between_two_ticks_are_not_lost(self):
        one = merged([Input(down=("use",)), Input(up=("use",)), Input(move=(1.0, 0.0))])
        self.assertEqual(one, Input(move=(1.0, 0.0), down=("use",), up=("use",)))

    def test_what_is_pressed_again_within_one_tick_is_left_for_the_next(self):
        tap = [Input(down=("use",)), Input(up=("use",))]
        self.assertEqual(for_one_tick([*tap, *tap]), (tap, tap))
        self.assertEqual(for_one_tick([tap[1], *tap, Input(up=("use",))]), ([tap[1], tap[0]], [tap[1], tap[1]]))
        both = [Input(down=("use",)), Input(down=("second",)), Input(move=(1.0, 0.0))]
        self.assertEqual(for_one_tick(both), (both, []))

    def test_as_many_taps_as_come_between_two_ticks_are_as_many_uses(self):
        session = self.session()
        session.run.situation.player.stand(*standing_before(session.run.situation.project, "yard_bell"))
        session.step()
        for _ in range(3):
            session.take({"input": {"down": ["use"]}})
            session.take({"input": {"up": ["use"]}})
        for _ in range(4):
            session.step()
        self.assertEqual(len([e for e in session.run.chronicle if e.what == "sound"]), 3)

    def test_a_faster_run_is_shown_no_oftener_and_nothing_that_happened_is_left_untold(self):
        session = self.session(start={"x": 8.0, "y": 4.0})
        for _ in range(2):
            session.take({"do": "faster"})
        session.take({"input": {"move": [0.0, 1.0]}})
        begun = len(self.said())
        for _ in range(42):
            session.step()
        session.take({"do": "pause"})
        pictures = [m["picture"] for m in self.said()[begun:] if "picture" in m]
        self.assertEqual([p["tick"] for p in pictures], [*range(4, 44, 4), 42])
        told = [t for m in self.said() if "picture" in m for t in m["picture"]["told"]]
        self.assertEqual([t["tick"] for t in told], [e.tick for e in session.run.chronicle])

    def test_pause_one_tick_and_pace(self):
        session = self.session()
        session.take({"do": "tick"})
        self.assertTrue(session.paused)
        self.assertEqual(session.run.situation.tick, 1)
        session.take({"do": "slower"})
        self.assertAlmostEqual(session.seconds_a_tick(), 1 / 15)
        session.take({"do": "go"})
        self.assertFalse(session.paused)

    def test_why_is_answered(self):
        session = self.session()
        session.take({"why": "sluice_wheel"})
        self.assertEqual(self.said()[-1]["why"]["stopped_by"][:13], "out of reach,")


if __name__ == "__main__":
    unittest.main()
