"""Circles of groups, held against trying every chain of them."""

from __future__ import annotations

import random
import unittest

from vocanta.core.progress.chasing import circles


class Flags:
    """Who flags whom, given."""

    def __init__(self, ends):
        self.ends = ends

    def flagged_by(self, name):
        return [b for a, b in self.ends if a == name]


def by_chains(names, ends):
    """Names go round together where a chain leads from each to the other."""
    leads = {(a, b) for a, b in ends if a in names and b in names}
    for middle in names:
        leads |= {(a, b) for a in names for b in names if (a, middle) in leads and (middle, b) in leads}
    together = [[b for b in names if (a, b) in leads and (b, a) in leads] for a in names]
    return sorted({tuple(circle) for circle in together if circle})


class Circles(unittest.TestCase):
    def test_are_found_in_the_order_of_the_names_and_who_only_listens_is_in_none(self):
        ends = [("lamp", "bell"), ("bell", "lamp"), ("bell", "gate"), ("pump", "pump")]
        found = circles(["gate", "bell", "pump", "lamp"], Flags(ends))
        self.assertEqual(found, [["bell", "lamp"], ["pump"]])

    def test_are_those_that_chains_find_in_random_graphs(self):
        draw = random.Random(5)
        for _ in range(300):
            names = list("abcdefg")
            draw.shuffle(names)
            ends = [(draw.choice("abcdefgz"), draw.choice("abcdefgz")) for _ in range(draw.randrange(12))]
            self.assertEqual(sorted(map(tuple, circles(names, Flags(ends)))), by_chains(names, ends), ends)


if __name__ == "__main__":
    unittest.main()
