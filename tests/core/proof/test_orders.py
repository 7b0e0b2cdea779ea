"""In which orders the stages of different quests come: three quests of which the answer is known."""

from __future__ import annotations

import unittest
from dataclasses import replace
from itertools import permutations

from tests.core.proof import puzzles
from tests.core.small import post
from vocanta.core.project.records import Quest, Stage
from vocanta.core.proving.around import listed
from vocanta.core.proving.orders import Orders
from vocanta.core.proving.proving import Proving


def quest(key, *stages):
    return Quest(key, key.title(), stages=tuple(Stage(s, s.title()) for s in stages), give_up="no")


def free_ones():
    """Ale and Bread come as one likes, stage by stage; Cheese begins only once Ale has come to its second stage."""
    things = [
        post(f"{key}_{n}", f"when used\nthen\n  {does}", x=2.0 + 4.0 * n, y=y)
        for key, y in (("ale", 2.0), ("bread", 8.0))
        for n, does in enumerate((f"start {key}", f"move {key} to full"))
    ]
    begins = post("cheese_0", "when used\nonly if ale past half\nthen\n  start cheese", x=14.0, y=5.0)
    whole = puzzles.puzzle(*things, begins)
    both = [quest(key, "half", "full") for key in ("ale", "bread")]
    level = whole.levels[0]
    kept = replace(level, objects=tuple(o for o in level.objects if o.key != "beginner"))
    return replace(whole, levels=(kept,), quests=(*both, quest("cheese", "only")))


class InWhichOrder(unittest.TestCase):
    def orders(self, *, walked):
        proving = Proving(free_ones())
        list(proving.quests())
        remarks = {(r.subject, r.says) for r in proving.remarks() if r.sort == "order"}
        if walked:
            list(proving.points())
        return remarks, [(r.subject, r.says, r.answer) for r in proving.orders()]

    def test_what_was_walked_both_ways_comes_in_any_order_and_what_is_ruled_out_does_not(self):
        remarks, orders = self.orders(walked=True)
        self.assertEqual(remarks, {("cheese", "comes to Only only after Ale has come to Full")})
        self.assertEqual(
            orders,
            [
                ("ale", "comes in any order with Bread, stage by stage", "yes"),
                ("ale", "comes in any order with Cheese, but for what always comes so", "yes"),
                ("bread", "comes in any order with Cheese, stage by stage", "yes"),
            ],
        )

    def test_what_no_way_tells_of_is_not_decided(self):
        """What can be missed was walked: Ale first, and then nothing else is left. Of Bread nothing was walked at all."""
        _, orders = self.orders(walked=False)
        open_yet = [(subject, says) for subject, says, answer in orders if answer == "undecided"]
        self.assertEqual(
            open_yet,
            [
                ("ale", "and Bread: in which orders their stages can come is not decided"),
                ("bread", "and Cheese: in which orders their stages can come is not decided"),
            ],
        )

    def test_a_way_tells_of_what_it_came_to_first(self):
        stages = [("a", "x"), ("b", "y"), ("c", "z")]
        for way in permutations(stages):
            orders = Orders()
            orders.see([*way, way[0]])
            for one, other in permutations(stages, 2):
                self.assertEqual(orders.is_seen(one, other), way.index(one) < way.index(other))
        orders = Orders()
        orders.see([("a", "x")])
        self.assertTrue(orders.is_seen(("a", "x"), ("b", "y")), "what was never come to is come to later")
        self.assertFalse(orders.is_seen(("b", "y"), ("a", "x")))

    def test_of_many_names_the_first_are_told(self):
        self.assertEqual([listed(list("ab")), listed(list("a"))], ["a and b", "a"])
        self.assertEqual(listed(list("abcdefgh")), "a, b, c, d, e, f and 2 more")


if __name__ == "__main__":
    unittest.main()
