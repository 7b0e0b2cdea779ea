"""Space against brute force: sliding, reach, sight, cells, ways."""

from __future__ import annotations

import dataclasses
import math
import random
import unittest

import numpy as np

from tests.core.test_project import demo
from vocanta.core.engine.inputs import Input
from vocanta.core.engine.marking import stands
from vocanta.core.engine.run import Run
from vocanta.core.progress.compiling import compiled
from vocanta.core.project.records import (
    Area,
    Body,
    Cue,
    Design,
    Kind,
    Level,
    Motion,
    Object,
    Project,
    Reach,
    State,
    Wall,
)
from vocanta.core.space.bodies import Solid, slide, solid_of
from vocanta.core.space.clear import NOWHERE
from vocanta.core.space.floor import floor_of
from vocanta.core.space.geometry import crossings
from vocanta.core.space.reaches import Reaches
from vocanta.core.space.sight import clear_sight
from vocanta.core.space.ways import Ways


def room(*walls: Wall, x: float = 10.0, y: float = 8.0) -> Level:
    return Level("hall", "Hall", areas=(Area("a", "A", ((0, 0), (x, 0), (x, y), (0, y))),), walls=walls)


class Sliding(unittest.TestCase):
    def test_no_step_however_long_passes_a_wall(self):
        r = random.Random(4)
        floor = floor_of(room(Wall("w", ((5, 0), (5, 8))), Wall("v", ((0, 4), (3, 4), (3, 6)))))
        for _ in range(120):
            x, y = r.uniform(0.4, 4.6), r.uniform(0.4, 3.6)
            nx, ny = slide(x, y, r.uniform(-30, 30), r.uniform(-30, 30), 0.35, floor.stops, [])
            ways = crossings(floor.stops, x, y, nx, ny)
            self.assertFalse(self.crossed_wall(floor.stops, x, y, nx, ny) and nx > 5, ways)
            self.assertTrue(0.34 < nx < 4.66 and 0.34 < ny < 7.66, (x, y, nx, ny))

    def crossed_wall(self, stops, x, y, nx, ny):
        return bool(crossings(stops, x, y, nx, ny)[1].any())

    def test_it_slides_along_a_wall(self):
        floor = floor_of(room())
        x, y = slide(5.0, 0.5, 1.0, -1.0, 0.35, floor.stops, [])
        self.assertAlmostEqual(x, 6.0, 2)
        self.assertAlmostEqual(y, 0.35, 6)

    def test_nobody_ends_inside_a_body(self):
        r = random.Random(9)
        floor = floor_of(room())
        solids = [Solid(4, 4, 30, Body("box", 2, 1)), Solid(7, 3, 0, Body("circle", 1.5))]
        for _ in range(300):
            x, y = slide(1.0, 1.0, r.uniform(0, 9), r.uniform(0, 7), 0.35, floor.stops, solids)
            self.assertGreater(min(s.distance(x, y) for s in solids), 0.33)

    def test_a_body_that_closed_on_somebody_lets_them_out_not_in(self):
        stops = floor_of(room()).stops
        door = Solid(5, 4, 0, Body("box", 2, 0.2))
        _, y = slide(5.0, 4.2, 0.0, 1.0, 0.35, stops, [door])
        self.assertAlmostEqual(y, 5.2, 6)
        self.assertEqual(slide(5.0, 4.2, 0.0, -1.0, 0.35, stops, [door]), (5.0, 4.2))


class Reaching(unittest.TestCase):
    def test_shapes_against_brute_force(self):
        r = random.Random(2)
        placed = []
        for _ in range(60):
            reach = Reach(
                r.choice(["none", "circle", "box", "wedge"]),
                r.uniform(0.5, 3),
                r.uniform(1, 3),
                r.uniform(1, 3),
                r.uniform(30, 340),
                r.uniform(-1, 1),
                r.uniform(-1, 1),
            )
            placed.append(
                (Object("o", "O", "k", r.uniform(-4, 4), r.uniform(-4, 4), r.uniform(0, 360)), Design(reach=reach))
            )
        reaches = Reaches(placed)
        for _ in range(200):
            x, y = r.uniform(-5, 5), r.uniform(-5, 5)
            found = reaches.inside(x, y, np.zeros(60, dtype=bool))
            self.assertEqual(found.tolist(), [self.inside(o, d.reach, x, y) for o, d in placed])

    def inside(self, thing, reach, x, y):
        a = math.radians(thing.turn_deg)
        mx = thing.x_m + reach.offset_x_m * math.cos(a) - reach.offset_y_m * math.sin(a)
        my = thing.y_m + reach.offset_x_m * math.sin(a) + reach.offset_y_m * math.cos(a)
        along, across = (
            (x - mx) * math.cos(a) + (y - my) * math.sin(a),
            -(x - mx) * math.sin(a) + (y - my) * math.cos(a),
        )
        if reach.shape == "circle":
            return math.hypot(x - mx, y - my) <= reach.radius_m
        if reach.shape == "box":
            return abs(along) <= reach.width_m / 2 and abs(across) <= reach.depth_m / 2
        if reach.shape == "wedge":
            return (
                math.hypot(along, across) <= reach.radius_m
                and abs(math.degrees(math.atan2(across, along))) <= reach.arc_deg / 2
            )
        return False

    def test_leaving_needs_five_centimetres_more_than_entering(self):
        reaches = Reaches([(Object("o", "O", "k", 0, 0), Design(reach=Reach("circle", 1.0)))])
        out, within = np.array([False]), np.array([True])
        self.assertFalse(reaches.inside(1.04, 0, out)[0])
        self.assertTrue(reaches.inside(1.04, 0, within)[0])
        self.assertFalse(reaches.inside(1.06, 0, within)[0])


class Sight(unittest.TestCase):
    def test_walls_stop_sight_glass_does_not_low_walls_only_below(self):
        eye, target = (1.0, 4.0, 1.6), (9.0, 4.0, 0.5)
        self.assertTrue(clear_sight(floor_of(room()), eye, target, ()))
        self.assertFalse(clear_sight(floor_of(room(Wall("w", ((5, 0), (5, 8))))), eye, target, ()))
        self.assertTrue(clear_sight(floor_of(room(Wall("w", ((5, 0), (5, 8)), glass=True))), eye, target, ()))
        half_way_up = 1.05
        self.assertTrue(clear_sight(floor_of(room(Wall("w", ((5, 0), (5, 8)), half_way_up - 0.1))), eye, target, ()))
        self.assertFalse(clear_sight(floor_of(room(Wall("w", ((5, 0), (5, 8)), half_way_up + 0.1))), eye, target, ()))

    def test_a_body_stops_sight_as_high_as_it_is(self):
        floor, eye, target = floor_of(room()), (1.0, 4.0, 1.6), (9.0, 4.0, 1.6)
        solid = Solid(5, 4, 0, Body("box", 1, 1))
        self.assertFalse(clear_sight(floor, eye, target, [(solid, 2.0)]))
        self.assertTrue(clear_sight(floor, eye, target, [(solid, 1.0)]))


class CellsAndWays(unittest.TestCase):
    def test_a_door_is_a_cell_between_two_rooms(self):
        found = compiled(demo()).layout.cells
        door = [
            i for i, c in enumerate(found.cells) if any(b.key == "east_wing_door" and 0 in b.states for b in c.blockers)
        ]
        self.assertEqual({found.cells[i].area for i in door}, {"palm_house", "east_wing"})
        rest = {
            area: {i for i, c in enumerate(found.cells) if c.area == area and i not in door}
            for area in ("palm_house", "east_wing", "gallery")
        }
        for i in rest["palm_house"]:
            self.assertFalse(found.neighbours[i] & rest["east_wing"])
        down = {found.cells[j].area for i in rest["gallery"] for j in found.neighbours[i]} - {"gallery"}
        self.assertEqual(down, {"palm_house"}, "one jumps down from the gallery")
        others = set(range(len(found.cells))) - rest["gallery"]
        self.assertFalse([i for i in others if rest["gallery"] & set(found.neighbours[i])])

    def test_a_reach_that_works_by_itself_cuts_the_floor(self):
        kind = Kind("k", "K", design=Design(reach=Reach("circle", 1.0)), cues=(Cue("c", 'when near\nthen\n  say "x"'),))
        level = dataclasses.replace(room(), objects=(Object("o", "O", "k", 5, 4),))
        found = compiled(Project("p", "P", "hall", levels=(level,), kinds=(kind,))).layout.cells
        self.assertEqual(len(found.cells), 2)
        self.assertLess(found.cells[found.at("hall", 5.0, 4.5)].shape.area, 3.2)
        self.assertEqual(found.neighbours, (frozenset({1}), frozenset({0})))

    def test_walls_and_a_body_that_can_go_part_the_floor_as_they_part_whoever_walks(self):
        nook = Wall("w1", ((3, 0), (3, 3))), Wall("w2", ((6, 0), (6, 3)))
        hedge = Design(body=Body("box", 3.0, 0.5, 2.0))
        kind = Kind("k", "K", design=hedge, cues=(Cue("c", "when used\nthen\n  remove this"),))
        level = dataclasses.replace(room(*nook), objects=(Object("hedge", "Hedge", "k", 4.5, 2.75),))
        found = compiled(Project("p", "P", "hall", levels=(level,), kinds=(kind,))).layout.cells
        inside, outside = found.at("hall", 4.5, 1.0), found.at("hall", 1.0, 1.0)
        between = found.at("hall", 4.5, 2.75)
        self.assertEqual(len({inside, outside, between}), 3)
        self.assertEqual(found.neighbours[inside], frozenset({between}))
        self.assertEqual(found.neighbours[between], frozenset({inside, outside}))
        self.assertEqual(len(compiled(Project("p", "P", "hall", levels=(room(*nook),))).layout.cells.cells), 1)

    def test_a_way_goes_round_and_is_nearly_the_shortest(self):
        floor = floor_of(room(Wall("w", ((5, 0), (5, 6)))))
        way = Ways(floor, 0.35, []).way((1.0, 1.0), (9.0, 1.0))
        length = sum(math.dist(a, b) for a, b in zip([(1.0, 1.0), *way], way, strict=False))
        shortest = 2 * math.dist((1.0, 1.0), (5.0, 6.35))
        self.assertGreaterEqual(length, shortest - 0.05)
        self.assertLess(length, shortest * 1.06)
        self.assertIsNone(Ways(floor_of(room(Wall("w", ((5, 0), (5, 8))))), 0.35, []).way((1, 1), (9, 1)))

    def test_what_a_way_is_at_most_counts_the_sides_of_the_grid_and_is_never_less_than_the_way(self):
        metres, place = Ways(floor_of(room()), 0.35, []).at_most((1.0, 1.0), (9.0, 4.0))
        self.assertAlmostEqual(metres, 8.0 + 3.0)
        self.assertEqual(place, (9.0, 4.0))
        walled = Ways(floor_of(room(Wall("w", ((5, 0), (5, 6))))), 0.35, [])
        way = walled.way((1.0, 1.0), (9.0, 1.0))
        length = sum(math.dist(a, b) for a, b in zip([(1.0, 1.0), *way], way, strict=False))
        self.assertGreater(walled.at_most((1.0, 1.0), (9.0, 1.0))[0], length)
        self.assertIsNone(Ways(floor_of(room(Wall("w", ((5, 0), (5, 8))))), 0.35, []).at_most((1, 1), (9, 1)))

    def test_a_swing_turns_about_its_hinge(self):
        design = Design(body=Body("box", 2.0, 0.1), states=(State("a", "a"),), motion=Motion(hinge_x_m=-1.0))
        from vocanta.core.space.bodies import Pose

        solid = solid_of(Object("d", "D", "k", 5, 5), design, Pose(90.0))
        self.assertAlmostEqual(solid.x, 4.0, 6)
        self.assertAlmostEqual(solid.y, 6.0, 6)


if __name__ == "__main__":
    unittest.main()


class WhoMovesLittle(unittest.TestCase):
    """What is remembered to be quick never changes an answer."""

    def steps(self, seed: int):
        """Ways through the demo's first level: small steps, now and then a leap."""
        rng, level = random.Random(seed), demo().levels[0]
        spots = [(o.x_m, o.y_m) for o in level.objects]
        x, y = spots[0]
        for _ in range(600):
            leaps = rng.random() < 0.03
            x, y = rng.choice(spots) if leaps else (x + rng.uniform(-0.2, 0.2), y + rng.uniform(-0.2, 0.2))
            yield round(x, 3), round(y, 3)

    def test_is_in_the_reaches_that_it_would_be_in_if_asked_anew(self):
        placed = [one for one in compiled(demo()).layout.placed.values() if one.level == demo().levels[0].key]
        pairs = [(one.thing, one.design) for one in placed]
        kept, was, met = Reaches(pairs), np.zeros(len(pairs), dtype=bool), 0
        puts = {}
        for turn, (x, y) in enumerate(self.steps(5)):
            if turn % 7 == 0:
                puts[turn % len(pairs)] = (x + 1.0, y, float(turn))
                kept.put(turn % len(pairs), *puts[turn % len(pairs)])
            anew = Reaches(pairs)
            for number, spot in puts.items():
                anew.put(number, *spot)
            now = anew.inside(x, y, was)
            self.assertEqual(kept.inside(x, y, was).tolist(), now.tolist(), (turn, x, y))
            was, met = now, met + int(now.sum())
        self.assertGreater(met, 100)

    def test_stands_in_the_cells_and_crosses_those_that_a_fresh_cut_says(self):
        kept = compiled(demo()).layout.cells
        before, there = (0.0, 0.0), 0
        for x, y in self.steps(6):
            anew = dataclasses.replace(kept)
            cell = anew.at("glasshouse", x, y)
            self.assertEqual(kept.at("glasshouse", x, y, cell), anew.at("glasshouse", x, y, cell))
            self.assertEqual(kept.gap_m(there, x, y), anew.gap_m(there, x, y))
            self.assertEqual(kept.through(cell, before, (x, y)), anew.through(cell, before, (x, y)))
            before, there = (x, y), cell

    def test_meets_the_walls_and_bodies_that_it_would_meet_if_nothing_were_remembered(self):
        rng = random.Random(7)
        ways = [rng.choice(((1.0, 0.0), (0.0, 1.0), (-1.0, 0.0), (0.6, -0.8), (0.0, 0.0))) for _ in range(60)]
        ends = []
        for remembers in (True, False):
            run = Run(demo())
            for way in ways:
                for _ in range(15):
                    if not remembers:
                        run.here.mover._wall_free, run.here.mover._body_free = (-1, NOWHERE), NOWHERE
                        run.here.senses.bodily._free.clear()
                        run.here.senses.bodily._gaps.clear()
                    run.tick(Input(move=way))
            ends.append(stands(run.situation))
        self.assertEqual(*ends)
