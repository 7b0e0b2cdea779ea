"""What a run had come to at its moments: as it was then, however it went on."""

from __future__ import annotations

import dataclasses
import unittest

from tests.core.test_again import come_to, lasting
from tests.core.test_engine import random_inputs
from tests.core.walked import Walked
from vocanta.core.engine.again import fitted
from vocanta.core.engine.snapshots import Snapshots
from vocanta.core.progress.layout import STATUS


class Moments(unittest.TestCase):
    def walk(self, walk, inputs):
        """Walk on, keeping the moments; what the run had come to after each tick in which anything happened."""
        snapshots, then = Snapshots(walk.run), {}
        for given in inputs:
            happened = bool(walk.run.tick(given))
            snapshots.note(happened=happened)
            if happened:
                then[walk.run.situation.tick] = come_to(walk), lasting(walk.run)
        return snapshots, then

    def test_each_is_as_it_was_whatever_came_after_it(self):
        for seed, at in enumerate(("palm_lamp", "odile_marr", "supply_crate_1")):
            walk = Walked(at=at)
            snapshots, then = self.walk(walk, random_inputs(seed, 300))
            self.assertGreater(len(then), 3)
            for tick, (card, came_to) in then.items():
                self.assertEqual(dataclasses.replace(snapshots.card_at(tick), key="spot", name="Spot"), card)
                start = fitted(snapshots.card_at(tick), walk.project, walk.run.situation.program).start
                again = Walked(project=walk.project, start=start, program=walk.run.situation.program)
                self.assertEqual(lasting(again.run), came_to, tick)

    def test_between_two_of_them_it_is_the_earlier_one_and_before_the_first_the_start(self):
        walk = Walked(at="palm_lamp")
        snapshots, _ = self.walk(walk, random_inputs(1, 95))
        self.assertEqual(snapshots.card_at(-5), snapshots.card_at(0))
        kept = [t for t in range(96) if snapshots.card_at(t) != snapshots.card_at(t - 1)]
        self.assertTrue({30, 60, 90} & set(kept))
        self.assertEqual(snapshots.card_at(10_000), snapshots.card_at(95))

    def test_what_was_left_of_a_time_limit_then_is_left(self):
        begun = (("status:lamps_before_dusk", STATUS["active"]), ("limit:four_lamps", 1))
        walk = Walked(puts=begun)
        snapshots, _ = self.walk(walk, random_inputs(0, 90))
        limits = [
            next(h.seconds for h in snapshots.card_at(tick).holds if h.column == "limit:four_lamps")
            for tick in (30, 60, 90)
        ]
        self.assertEqual(limits, [179.0, 178.0, 177.0])


if __name__ == "__main__":
    unittest.main()
