"""What the plan asks the core: overlaps of reaches, and distances straight and on foot."""

from __future__ import annotations

import dataclasses
import math
import random
import unittest

import numpy as np

from tests.core.small import project, thing
from tests.core.test_objects_in_full import DOOR
from vocanta.core.project.records import Area, Design, Level, Object, Prompt, Reach, State, Wall
from vocanta.core.space.measuring import measured
from vocanta.core.space.overlaps import overlaps_of

STEP_M = 0.05


def inside(one: Object, design: Design, x: np.ndarray, y: np.ndarray) -> np.ndarray:
    """Which points lie in a circle, a turned box or a turned wedge: the plain reading of the three shapes."""
    reach, turn = design.reach, math.radians(one.turn_deg)
    px, py = x - one.x_m, y - one.y_m
    east, north = px * math.cos(turn) + py * math.sin(turn), -px * math.sin(turn) + py * math.cos(turn)
    if reach.shape == "box":
        return (abs(east) <= reach.width_m / 2) & (abs(north) <= reach.depth_m / 2)
    in_arc = reach.shape == "circle" or abs(np.degrees(np.arctan2(north, east))) <= reach.arc_deg / 2
    return in_arc & (np.hypot(px, py) <= reach.radius_m)


class Overlaps(unittest.TestCase):
    def pair(self, first, second, apart=1.0, **more):
        a = thing("a", reach=first, x=3.0, y=3.0, **more.get("a", {}))
        b = thing("b", reach=second, x=3.0 + apart, y=3.0, **more.get("b", {}))
        return project(a, b)

    def found(self, small):
        return overlaps_of(small, small.levels[0])

    def test_two_reaches_overlap_where_points_lie_in_both_and_the_outline_holds_them(self):
        r = random.Random(7)
        seen = {True: 0, False: 0}
        for _ in range(60):
            shapes = [
                Reach(
                    r.choice(["circle", "box", "wedge"]),
                    r.uniform(0.6, 1.5),
                    r.uniform(0.6, 2),
                    r.uniform(0.6, 2),
                    90.0,
                )
                for _ in range(2)
            ]
            small = self.pair(*shapes, apart=r.uniform(0.5, 3.0))
            turned = tuple(
                dataclasses.replace(o, turn_deg=float(r.randrange(0, 360, 15))) for o in small.levels[0].objects
            )
            small = dataclasses.replace(small, levels=(dataclasses.replace(small.levels[0], objects=turned),))
            designs = [k.design for k in small.kinds]
            x, y = np.meshgrid(np.arange(160) * STEP_M, np.arange(120) * STEP_M)
            a, b = (inside(o, d, x, y) for o, d in zip(turned, designs, strict=True))
            area_m2 = float((a & b).sum()) * STEP_M**2
            if 0.0 < area_m2 < 0.08:
                continue  # too small for the grid to say
            found = self.found(small)
            self.assertEqual(bool(found), area_m2 > 0.0, (shapes, turned, area_m2))
            seen[bool(found)] += 1
            if found:
                self.assertAlmostEqual(self.area(found[0].outlines), area_m2, delta=0.12 * area_m2 + 0.03)
        self.assertGreater(min(seen.values()), 5)

    def area(self, outlines):
        """The shoelace formula."""
        return sum(
            abs(sum(x0 * y1 - x1 * y0 for (x0, y0), (x1, y1) in zip(line, line[1:] + line[:1], strict=True))) / 2
            for line in outlines
        )

    def test_who_wins_is_said_by_priority(self):
        circle = Reach("circle", 1.0)
        self.assertEqual([o.says for o in self.found(self.pair(circle, circle))], ["looked at, then nearest"])
        first = dataclasses.replace(circle, priority=2)
        self.assertEqual([o.says for o in self.found(self.pair(circle, first))], ["B wins"])

    def test_only_one_control_that_both_want_makes_an_overlap(self):
        circle, hold = Reach("circle", 1.0), {"prompts": (Prompt("p1", "Hold", "second"),)}
        self.assertEqual([o.controls for o in self.found(self.pair(circle, circle, b=hold))], [("second",)])
        use = {"prompts": (Prompt("p1", "Use"),)}
        self.assertEqual(self.found(self.pair(circle, circle, a=use, b=hold)), [])

    def test_what_has_no_reach_no_prompt_or_is_never_on_overlaps_nothing(self):
        circle = Reach("circle", 1.0)
        off = {"states": (State("off", "off", reach_on=False),)}
        for more in ({"b": {"prompts": ()}}, {"b": off}):
            self.assertEqual(self.found(self.pair(circle, circle, **more)), [])
        self.assertEqual(self.found(self.pair(circle, Reach("none"))), [])
        self.assertEqual(self.found(self.pair(circle, circle, apart=2.5)), [])
        self.assertEqual(self.found(project()), [])


class Distances(unittest.TestCase):
    AREA = Area("hall", "Hall", ((0, 0), (10, 0), (10, 8), (0, 8)))

    def level(self, *walls: Wall, objects=()):
        return Level("level", "Level", areas=(self.AREA,), walls=walls, objects=tuple(objects))

    def test_in_the_open_the_way_on_foot_is_the_straight_one(self):
        found = measured(project(), self.level(), (2.0, 2.0), (5.0, 6.0))
        self.assertAlmostEqual(found.straight_m, 5.0)
        self.assertAlmostEqual(found.on_foot_m, 5.0, 2)

    def test_a_wall_is_walked_around_and_the_way_ends_where_it_should(self):
        # the wall ends at (5, 4): past it by the radius of 0.35 m, up 2 and down 2
        found = measured(project(), self.level(Wall("w", ((5.0, 0.0), (5.0, 4.0)))), (3.0, 2.0), (7.0, 2.0))
        self.assertAlmostEqual(found.straight_m, 4.0)
        around = 2 * math.hypot(2.0, 2.0)
        self.assertTrue(around < found.on_foot_m < 2 * math.hypot(2.0, 2.7), found.on_foot_m)
        self.assertEqual((found.way[0], found.way[-1]), ((3.0, 2.0), (7.0, 2.0)))

    def test_behind_a_shut_door_there_is_no_way_and_behind_an_open_one_there_is(self):
        walls = Wall("w", ((5.0, 0.0), (5.0, 1.5))), Wall("v", ((5.0, 2.5), (5.0, 8.0)))
        for shut in (True, False):
            states = DOOR["states"] if shut else DOOR["states"][::-1]
            kind, door = thing("door", x=5.0, y=2.0, **{**DOOR, "states": states})
            small = project((kind, dataclasses.replace(door, turn_deg=90.0)))
            found = measured(small, self.level(*walls, objects=small.levels[0].objects), (3.0, 2.0), (7.0, 2.0))
            self.assertEqual(found.on_foot_m is None, shut)
            self.assertEqual(bool(found.way), not shut)

    def test_what_is_not_there_at_the_start_is_walked_through(self):
        kind, box = thing("box", x=5.0, y=2.0, **{**DOOR, "states": DOOR["states"][:1]})
        walls = Wall("w", ((5.0, 0.0), (5.0, 1.5))), Wall("v", ((5.0, 2.5), (5.0, 8.0)))
        later = dataclasses.replace(box, turn_deg=90.0, there_at_start=False)
        small = project((kind, later))
        self.assertIsNotNone(measured(small, self.level(*walls, objects=(later,)), (3.0, 2.0), (7.0, 2.0)).on_foot_m)
