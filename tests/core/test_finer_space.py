"""The borders of the floor, of reaches, bodies and cells, to a hair."""

import dataclasses
import itertools
import math
import unittest

import numpy as np
from shapely.geometry import Point

from tests.core.small import TOGGLE, ZONE, area, post, project, thing
from tests.core.walked import walked
from vocanta.core.progress.guards import All, AnyOf, AtLeast, Within, opposite
from vocanta.core.progress.layout import lay_out
from vocanta.core.progress.meeting import meeting_cells
from vocanta.core.progress.onerow import holds_on
from vocanta.core.project.records import (
    Body,
    Exit,
    Level,
    Motion,
    Prompt,
    Reach,
    State,
    Wall,
)
from vocanta.core.space.bodies import Pose, Solid, poses_between, slide, solid_of, swept_shape
from vocanta.core.space.cells import exit_patch, reach_shape
from vocanta.core.space.floor import floor_of
from vocanta.core.space.geometry import crossings, nearest_on
from vocanta.core.space.overlaps import overlaps_of
from vocanta.core.space.reaches import Reaches
from vocanta.core.space.sight import clear_sight
from vocanta.core.space.ways import Ways


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
        self.assertEqual(len(floor.stops_in(floor.area_at(6.0, 1.0))) - len(floor.stops_in(floor.area_at(1.0, 1.0))), 1)
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
        x, _ = long.nearest_clear((25.0, 0.5), [(17.5, 0.5)], 2.0)
        self.assertTrue(14.5 < x < 15.5, x)
        x, _ = narrow.nearest_clear((5.0, 0.5), [(7.0, 0.5)], 1.0)
        self.assertGreater(x, 8.0)

    def test_round_a_wall_a_way_is_hardly_longer_than_a_string_about_its_nearer_end(self):
        wall = Wall("w", ((3.0, 5.0), (7.0, 5.0)))
        ways = Ways(floor_of(Level("l", "L", 1.0, 1.0, 0.0, (area("a", 0, 0, 10, 10),), (wall,))), 0.3, [])
        for a, b in itertools.product(((1.0, 3.0), (9.0, 3.0), (5.0, 3.0)), ((5.0, 7.0), (4.0, 8.0), (6.0, 6.0))):
            for start, goal in ((a, b), (b, a)):
                way = [start, *ways.way(start, goal)]
                length = sum(math.dist(p, q) for p, q in itertools.pairwise(way))
                string = min(math.dist(start, end) + math.dist(end, goal) for end in ((2.7, 5.0), (7.3, 5.0)))
                self.assertLess(length, string + 0.4, (start, goal, way))


class Sliding(unittest.TestCase):
    def test_who_overlaps_a_body_by_half_a_centimetre_is_let_along_and_out_and_never_in(self):
        box = Solid(5.0, 5.0, 0.0, Body("box", 2.0, 2.0))
        nothing = np.empty((0, 4))
        self.assertEqual(slide(5.5, 3.655, 0.1, 0.0, 0.35, nothing, [box]), (5.6, 3.655))
        self.assertEqual(slide(5.5, 3.655, 0.0, 0.1, 0.35, nothing, [box]), (5.5, 3.655))
        self.assertAlmostEqual(slide(5.5, 3.655, 0.0, -0.1, 0.35, nothing, [box])[1], 3.555)
        self.assertAlmostEqual(slide(5.5, 3.6, 0.0, 0.1, 0.35, nothing, [box])[1], 3.65)


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


if __name__ == "__main__":
    unittest.main()
