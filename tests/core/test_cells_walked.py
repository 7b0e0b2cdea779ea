"""Walking from cell to cell: borders, doors, corners, slivers; scattering; looking; two who meet."""

from __future__ import annotations

import dataclasses
import itertools
import math
import random
import unittest

import numpy as np

from tests.core.small import DOOR, DOWN, FLOOR, ZONE, project, thing, two_levels
from tests.core.walked import walked
from vocanta.core.engine.inputs import Input
from vocanta.core.progress.compiling import compiled
from vocanta.core.progress.recompiling import recompiled
from vocanta.core.project.records import Area, Body, Motion, Object, Reach, State, Wall
from vocanta.core.space.bodies import Solid
from vocanta.core.space.cells import Cells
from vocanta.core.space.floor import floor_of
from vocanta.core.space.reaches import Reaches
from vocanta.core.space.sight import clear_sight, clear_sights
from vocanta.core.space.working import Rival, Target, demands_met, points_in, winnable


def strip(key, left, right, low=0.0, high=10.0):
    return Area(key, key.title(), ((left, low), (right, low), (right, high), (left, high)))


WEST, EAST = strip("west", 0, 10), strip("east", 10, 20)


class Borders(unittest.TestCase):
    def test_swaying_about_a_border_crosses_it_once(self):
        w = walked(project(areas=(WEST, EAST)), 10.02, 5.0)
        for i in range(100):
            w.run.tick(Input(move=(0.3 if i % 2 else -0.3, 0.0)))
        self.assertLessEqual(len(w.told("crossed")), 1)

    def test_a_cell_is_left_five_centimetres_beyond_its_border(self):
        w = walked(project(areas=(WEST, EAST)), 9.9, 5.0)
        cells = w.run.situation.cells
        for x, area in ((10.0, "west"), (10.04, "west"), (10.06, "east"), (9.97, "east"), (9.94, "west")):
            w.run.situation.player.way = [(x, 5.0)]
            while w.run.situation.player.way:
                w.wait(1)
            self.assertEqual(cells.cells[w.run.situation.cell].area, area, x)

    def test_a_sliver_of_an_area_is_entered_visited_and_brings_what_waits(self):
        areas = (strip("west", 0, 10), strip("crack", 10, 10.03), strip("east", 10.03, 20))
        lamp = thing(
            "lamp",
            "when entered crack\nthen\n  add 1 to tally",
            "when used\nonly if crack visited 1 times\nthen\n  give nut",
            "when later\nthen\n  give pin",
            "when started\nthen\n  later at the next area",
            x=12.0,
            y=5.0,
        )
        w = walked(project(lamp, areas=areas), 9.0, 5.0).move(1.0, 0.0, 30)
        self.assertEqual(w.told("crossed"), ["Walked into Crack", "Walked into East"])
        self.assertEqual((w.value("fact:tally"), w.value("item:pin"), w.value("tally:visited/crack")), (1, 1, 1))

    def test_however_fast_every_cell_on_the_way_is_crossed_in_order(self):
        areas = tuple(strip(f"a{i}", i * 0.3, i * 0.3 + 0.3) for i in range(40))
        small = project(areas=areas)
        fast = dataclasses.replace(small, player=dataclasses.replace(small.player, speed_mps=45.0))
        w = walked(fast, 0.7, 5.0).move(1.0, 0.0, 8)
        last = int(w.told("crossed")[-1].removeprefix("Walked into A"))
        self.assertEqual(w.told("crossed"), [f"Walked into A{i}" for i in range(3, last + 1)])
        self.assertGreater(last, 30)

    def test_where_four_areas_meet_only_what_is_walked_into_is_told(self):
        four = (
            strip("sw", 0, 10, 0, 5),
            strip("se", 10, 20, 0, 5),
            strip("nw", 0, 10, 5, 10),
            strip("ne", 10, 20, 5, 10),
        )
        w = walked(project(areas=four), 9.0, 4.0).move(1.0, 1.0, 30)
        self.assertEqual(w.told("crossed"), ["Walked into Ne"])

    def test_through_a_thin_door_on_a_border_the_next_area_is_told_once(self):
        door = thing(
            "door",
            "when used\nthen\n  set this to open",
            **{**DOOR, "motion": Motion(0.0, hinge_x_m=-0.5)},
            x=10.0,
            y=5.0,
        )
        door = (door[0], dataclasses.replace(door[1], turn_deg=90.0))
        wall = (Wall("w1", ((10, 0), (10, 4.5))), Wall("w2", ((10, 5.5), (10, 10))))
        small = project(door, areas=(WEST, EAST))
        level = dataclasses.replace(small.levels[0], walls=wall)
        w = walked(dataclasses.replace(small, levels=(level,)), 9.0, 5.0, 0.0)
        w.move(1.0, 0.0, 40)
        self.assertEqual((w.told("crossed"), w.run.situation.player.x < 9.7), ([], True))
        w.press().move(1.0, 0.0, 40)
        self.assertEqual(w.told("crossed"), ["Walked into East"])
        self.assertGreater(w.run.situation.player.x, 10.5)

    def test_an_open_door_is_walked_through_cell_by_cell(self):
        door = thing(
            "door",
            "when used\nthen\n  set this to open",
            **{**DOOR, "motion": Motion(0.0, hinge_x_m=-0.5)},
            x=5.0,
            y=5.0,
        )
        w = walked(project(door), 5.0, 4.0).press()
        cells, seen, act = w.run.situation.cells, [w.run.situation.cell], w.run.act

        def noted(action, **how):
            outcome = act(action, **how)
            if action.kind == "cross":
                seen.append(w.run.situation.cell)
            return outcome

        w.run.act = noted
        w.move(0.0, 1.0, 30)
        doorway = {i for i, c in enumerate(cells.cells) if any(b.key == "door" and 0 in b.states for b in c.blockers)}
        self.assertTrue(doorway & set(seen))
        for a, b in itertools.pairwise(seen):
            self.assertIn(b, cells.neighbours[a])

    def test_leaving_through_an_exit_names_the_level_it_leads_to(self):
        w = walked(two_levels(exits=(DOWN,))).go(5.0, 1.0)
        self.assertEqual(w.told("moved"), ["Moved to Below"])

    def test_random_walks_over_a_cut_floor_never_disagree_with_the_row(self):
        r = random.Random(7)
        things = [
            thing(
                f"z{i}",
                "when near\nthen\n  add 1 to money",
                x=r.uniform(2, 18),
                y=r.uniform(2, 8),
                **ZONE | {"reach": Reach(r.choice(["circle", "box", "wedge"]), 1.3, 1.8, 1.2, 200.0)},
            )
            for i in range(6)
        ]
        things += [
            thing(f"d{i}", "when started\nthen\n  wait 2 s\n  set this to next", x=4.0 + 4 * i, y=5.0, **DOOR)
            for i in range(3)
        ]
        w = walked(project(*things, areas=(WEST, EAST)), 1.0, 1.0)
        for _ in range(60):
            angle = r.uniform(0, 2 * math.pi)
            w.move(math.cos(angle), math.sin(angle), r.randint(4, 25))
        self.assertGreater(len(w.told("near")), 8)
        for i in range(6):
            key = f"z{i}"
            inside = key in w.run.situation.cells.cells[w.run.situation.cell].zones
            self.assertEqual(w.value(f"near:{key}"), int(inside), key)


class Things(unittest.TestCase):
    def test_what_is_scattered_never_lands_behind_a_shut_gate_or_a_wall(self):
        gate = thing(
            "gate",
            "when used with second\nthen\n  set this to open",
            x=3.0,
            y=2.0,
            body=Body("box", 0.1, 3.0, 2.0),
            states=DOOR["states"],
            prompts=(),
        )
        moth = thing("moth", x=18.0, y=9.0)
        box = thing("box", "when used\nthen\n  scatter 12 moth_kind around this within 3 m", x=2.0, y=2.0)
        small = project(box, gate, moth)
        level = dataclasses.replace(
            small.levels[0], walls=(Wall("w", ((3.0, 3.4), (3.0, 10.0))), Wall("v", ((3.0, 0.0), (3.0, 0.6))))
        )
        for seed in range(5):
            w = walked(dataclasses.replace(small, levels=(level,)), seed=seed).press()
            there = [s for k, s in w.run.situation.spots.items() if w.value(f"exists:{k}")]
            self.assertEqual((len(there), [s.x for s in there if s.x > 3.0]), (12, []), seed)

    def test_pools_are_as_large_as_what_can_run_their_step(self):
        moth = thing("moth", x=18.0, y=9.0)
        for cue, more, copies in (
            ("when used\nthen\n  put moth_kind at this", {"uses": 3}, 3),
            ("when used\nthen\n  put moth_kind at this\n  remove this", {}, 1),
            ("when used\nthen\n  scatter 2 moth_kind around this within 1 m", {"uses": 2}, 4),
            ("when used\nthen\n  put moth_kind at this at most 2", {"uses": 9}, 2),
            ("when used\nthen\n  put moth_kind at this", {}, 16),
            ("when near\nthen\n  put moth_kind at this", {"uses": 3}, 16),
        ):
            layout = compiled(project(thing("box", cue, **more), moth)).layout
            self.assertEqual(sum(1 for k in layout.placed if "@" in k), copies, cue)

    def test_what_is_looked_at_is_lost_five_degrees_beyond_its_limit(self):
        lamp = thing("lamp", "when looked at\nthen\n  add 1 to tally", y=6.0, prompts=(), reach=Reach("none"))
        w = walked(project(lamp), facing=75.5).wait(1)  # 14.5 degrees past it, of 15
        for facing, count in ((72.0, 1), (70.5, 1), (69.0, 1), (76.0, 2)):
            w.run.tick(Input(look=facing))
            self.assertEqual(w.value("fact:tally"), count, facing)

    def test_facing_once_met_is_lost_five_degrees_beyond_its_limit(self):
        lamp = thing("lamp", "when used\nthen\n  add 1 to tally", y=2.0, reach=Reach("circle", 1.5, facing_deg=30.0))
        w = walked(project(lamp), facing=61.0).wait(1)
        self.assertIn("use", w.run.here.prompts.live)
        for facing, offered in ((57.0, True), (54.0, False), (57.0, False), (61.0, True)):
            w.run.tick(Input(look=facing))
            w.wait(1)
            self.assertEqual("use" in w.run.here.prompts.live, offered, facing)


class TwoWhoMeet(unittest.TestCase):
    def walkers(self, walls=()):
        def person(key, start, end):
            kind, one = thing(
                key,
                x=start[0],
                y=start[1],
                walks=True,
                prompts=(),
                reach=Reach("none"),
                body=Body("circle", 0.5, 0.5),
                speed_mps=1.4,
            )
            return kind, dataclasses.replace(one, round=(start, end))

        small = project(person("ann", (3.0, 5.0), (9.0, 5.0)), person("bob", (9.0, 5.0), (3.0, 5.0)))
        level = dataclasses.replace(small.levels[0], walls=walls)
        w = walked(dataclasses.replace(small, levels=(level,)), 18.0, 1.0)
        far = {key: set() for key in ("ann", "bob")}
        for _ in range(40 * 30):
            w.wait(1)
            for key, ends in far.items():
                x = w.run.here.mover.walkers[w.run.situation.scene.number[key]].x
                ends |= {"west"} if x < 3.6 else {"east"} if x > 8.4 else set()
        return far

    def test_on_an_open_floor_each_comes_to_both_ends_of_its_round(self):
        self.assertEqual(self.walkers(), {"ann": {"west", "east"}, "bob": {"west", "east"}})

    def test_in_a_doorway_one_gives_way(self):
        door = (Wall("w1", ((6, 0), (6, 4.55))), Wall("w2", ((6, 5.45), (6, 10))))
        self.assertEqual(self.walkers(door), {"ann": {"west", "east"}, "bob": {"west", "east"}})


class WhereAThingCanBeWorkedFrom(unittest.TestCase):
    def test_sight_of_many_points_is_that_of_each(self):
        r = random.Random(3)
        small = project(areas=(FLOOR,))
        floor = floor_of(
            dataclasses.replace(small.levels[0], walls=(Wall("w", ((6, 2), (6, 8))), Wall("v", ((9, 0), (9, 5)), 1.2)))
        )
        screens = [(Solid(4.0, 4.0, 20.0, Body("box", 1.0, 0.5)), 1.5)]
        x, y = (np.array([r.uniform(0, 20) for _ in range(80)]) for _ in range(2))
        found = clear_sights(floor, x, y, np.full(80, 1.6), (12.0, 5.0, 0.5), screens)
        each = [clear_sight(floor, (a, b, 1.6), (12.0, 5.0, 0.5), screens) for a, b in zip(x, y, strict=True)]
        self.assertEqual(found.tolist(), each)
        self.assertTrue(5 < sum(each) < 75)

    def test_reach_of_many_points_is_that_of_each(self):
        r = random.Random(5)
        placed = [
            (
                Object("o", "O", "k", 3, 3, 40.0),
                dataclasses.replace(thing("a")[0].design, reach=Reach(shape, 2.0, 3.0, 1.0, 80.0)),
            )
            for shape in ("circle", "box", "wedge", "none")
        ]
        reaches = Reaches(placed)
        x, y = (np.array([r.uniform(0, 6) for _ in range(200)]) for _ in range(2))
        for number in range(4):
            many = reaches.held(np.intp(number), x, y, np.zeros(200), np.zeros(200))
            each = [bool(reaches.inside(a, b, np.zeros(4, dtype=bool))[number]) for a, b in zip(x, y, strict=True)]
            self.assertEqual(many.tolist(), each)

    def test_a_control_is_won_where_nobody_who_always_offers_comes_first(self):
        reach = Reach("circle", 2.0)
        placed = [
            (Object("a", "A", "k", 0, 0), dataclasses.replace(thing("a")[0].design, reach=reach)),
            (Object("b", "B", "k", 2, 0), dataclasses.replace(thing("a")[0].design, reach=reach)),
        ]
        reaches, zero = Reaches(placed), np.zeros(3)
        x, y = np.array([-1.0, 1.0, 1.8]), np.array([0.0, 1.0, 0.1])
        mine, other = Target(0, 0, 0.5), Target(2, 0, 0.5)
        for priority, expected in ((0, [True, True, True]), (1, [True, False, False]), (-1, [True, True, True])):
            rival = Rival(1, priority, other)
            self.assertEqual(winnable(reaches, 0, mine, 0, [rival], x, y, zero).tolist(), expected, priority)
        behind = np.array([3.0]), np.array([0.0])  # looking past the nearer one is looking at both
        self.assertEqual(winnable(reaches, 0, mine, 0, [Rival(1, 0, other)], *behind, np.zeros(1)).tolist(), [False])

    def test_points_of_a_cell_lie_in_it_and_within(self):
        zone = thing("zone", "when near\nthen\n  give nut", x=5.0, y=5.0, **ZONE)
        cells: Cells = compiled(project(zone)).layout.cells
        number = min(cells.of_zone("zone"))
        x, y = points_in(cells, number, cells.cells[number].shape)
        self.assertGreater(len(x), 60)
        self.assertTrue((np.hypot(x - 5.0, y - 5.0) <= 1.5 + 1e-9).all())

    def test_a_demand_on_sight_is_met_up_to_its_distance(self):
        floor = floor_of(project().levels[0])
        x = np.array([1.0, 3.0, 6.0])
        met = demands_met(floor, Target(2.0, 5.0, 0.5, sight_m=2.0), x, np.full(3, 5.0), np.full(3, 1.6), [])
        self.assertEqual(met.tolist(), [True, True, False])


class Moved(unittest.TestCase):
    def test_a_program_after_a_move_is_the_one_compiled_anew(self):
        near = thing("zone", "when near\nthen\n  give nut", x=5.0, y=5.0, **ZONE)
        plain, solid = thing("lamp", "when used\nthen\n  set this to next", x=9.0), thing("post", x=12.0, prompts=())
        put = thing("box", "when used\nthen\n  put lamp at post", x=14.0)
        for things, moved, kept in (
            ((near, plain), "lamp", True),
            ((near, plain), "zone", False),
            ((plain, solid, put), "post", False),
            ((plain, solid), "post", True),
        ):
            small = project(*things)
            level = small.levels[0]
            objects = tuple(dataclasses.replace(o, x_m=o.x_m + 0.5) if o.key == moved else o for o in level.objects)
            after = dataclasses.replace(small, levels=(dataclasses.replace(level, objects=objects),))
            before = compiled(small)
            found, anew = recompiled(before, after), compiled(after)
            self.assertEqual(found.groups is before.groups, kept, moved)
            for part in ("groups", "actions", "settling", "listeners", "at_start", "hears"):
                self.assertEqual(getattr(found, part), getattr(anew, part), (moved, part))
            self.assertEqual((found.columns, found.layout.cells), (anew.columns, anew.layout.cells))
            self.assertEqual(found.layout.placed, anew.layout.placed)

    def test_whatever_is_compiled_from_where_a_thing_lies_is_compiled_anew_when_it_is_moved(self):
        bare = {"prompts": (), "reach": Reach("none"), "body": Body("none")}
        far, moth = thing("far", **bare), thing("moth", **bare)
        cart = {"states": (State("a", "a"), State("b", "b", slide_x_m=3.0)), "motion": Motion(1.0), "prompts": ()}
        cart = thing("cart", "when near\nthen\n  give nut", **cart, reach=Reach("circle", 0.5, moves_with_part=True))
        for things, moved in (
            ((far, thing("desk", "when used\nthen\n  move player to far", x=4.0)), "far"),
            ((far, moth, thing("desk", "when used\nthen\n  drop moth_kind at the feet of far", x=4.0)), "far"),
            ((far, thing("desk", "when used\nthen\n  put far at player", x=4.0)), "far"),
            ((cart,), "cart"),
        ):
            small = project(*things, areas=(WEST, EAST))
            level = small.levels[0]
            objects = tuple(dataclasses.replace(o, x_m=o.x_m + 11.0) if o.key == moved else o for o in level.objects)
            after = dataclasses.replace(small, levels=(dataclasses.replace(level, objects=objects),))
            before, anew = compiled(small), compiled(after)
            found = recompiled(before, after)
            differ = [p for p in ("groups", "columns", "actions", "settling") if getattr(before, p) != getattr(anew, p)]
            self.assertTrue(differ, things[-1][0].key)
            for part in ("groups", "columns", "actions", "settling"):
                self.assertEqual(getattr(found, part), getattr(anew, part), (things[-1][1].cues, part))


if __name__ == "__main__":
    unittest.main()
