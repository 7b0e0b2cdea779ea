"""Why something happened is told in the names of the project, and whether the player did it."""

from __future__ import annotations

import unittest

from tests.core.test_engine import random_inputs
from tests.core.walked import Walked


def causes(walk, what):
    """The causes of all entries of a sort."""
    return [(e.cause.says, e.cause.mine) for e in walk.run.chronicle if e.what == what]


class Causes(unittest.TestCase):
    def test_a_press_is_mine_and_names_control_and_thing(self):
        walk = Walked(at="palm_lamp").press().wait(2)
        self.assertEqual(causes(walk, "near")[0], ("walking", False))
        self.assertIn(("Use at Palm House lamp", True), causes(walk, "state"))

    def test_no_cause_on_random_walks_shows_a_name_in_cues(self):
        said = set()
        for seed, at in enumerate(("odile_marr", "odile_desk", "seed_press", "pump_board")):
            walk = Walked(at=at)
            for given in random_inputs(seed, 500):
                walk.run.tick(given)
            said |= {e.cause.says for e in walk.run.chronicle}
        self.assertEqual([s for s in said if "_" in s or ":" in s], [])
        self.assertGreater(len(said), 6)


if __name__ == "__main__":
    unittest.main()
