"""Where the player has to be for what the senses tell: for each sensed column and value the cells in which it can be so.

A place is a question to `space`, asked once for all points of a cell; where in the cell the player stands, and where the
player looks, is free. What stands in the way of sight in one state only does not count, nor does anybody who walks.
"""

from __future__ import annotations

import dataclasses
from collections.abc import Iterable
from functools import cached_property

import numpy as np
import shapely
from shapely.geometry import LineString
from shapely.geometry.base import BaseGeometry

from ..progress.columns import Column
from ..progress.layout import Layout
from ..progress.placed import Placed
from ..progress.program import Action, Program
from ..project.records import Level
from ..space.bodies import Solid, footprint, pose_of, solid_of, swept_shape
from ..space.cells import reach_shape
from ..space.floor import Floor, floor_of
from ..space.geometry import Floats, Mask
from ..space.working import Target, demands_met, points_in
from .spans import Spans, spans_of

TOUCH_M = 0.03
BESIDE_M = 0.1
_NOTHING_M2 = 1e-4
"""What is smaller is no place but a trace of rounding along a border."""
Cells = frozenset[int]


class Places:
    """The places of one layout. `None` for a set of cells means any."""

    def __init__(self, layout: Layout):
        self.layout = layout
        self._levels: dict[str, _Ground] = {}
        self._zones: dict[str, BaseGeometry] = {}
        self._known: dict[tuple[str, int], Cells | None] = {}
        self._of_actions: dict[str, Cells | None] = {}

    # --- questions

    def cells(self, column: Column, value: int) -> Cells | None:
        """The cells in which a sensed column can have a value; None where it can in any."""
        asked = column.name, value
        if asked not in self._known:
            self._known[asked] = self._cells(column, value)
        return self._known[asked]

    def _cells(self, column: Column, value: int) -> Cells | None:
        key = column.key.split("/")[0] if column.what == "aimed_at" else column.key
        one = self.layout.placed.get(key)
        if one is None or self.roams(key) or self.layout.mentions.movable(key) or not one.level:
            return None
        if column.what == "in_reach":
            return self._in(one, self.zone(key)) if value else self._beyond(one, self.zone(key))
        if column.what == "looked_at" and value:
            return self._seeing(one, self.zone(key), one.design.reach.sight_m)
        if column.what == "in_way":
            way = self._way(one)
            return self._in_the_way(one, way) if value else self._beyond(one, way)
        if column.what == "aimed_at" and value:
            ability = next(a for a in self.layout.project.abilities if a.key == column.key.split("/")[1])
            around = shapely.Point(one.thing.x_m, one.thing.y_m).buffer(ability.range_m)
            return self._seeing(one, around, ability.range_m)
        return None

    def of_action(self, action: Action) -> Cells | None:
        """The cells in which the senses can bring an action about, where it says nothing of it itself."""
        if action.name not in self._of_actions:
            self._of_actions[action.name] = self._of_action(action)
        return self._of_actions[action.name]

    def _of_action(self, action: Action) -> Cells | None:
        one = self.layout.placed.get(action.subject)
        if one is None or self.roams(action.subject) or self.layout.mentions.movable(action.subject) or not one.level:
            return None
        name = action.name.partition(":")[0]
        if name in ("come_near", "go_away"):
            zone = self.zone(action.subject)
            return self._in(one, zone) if name == "come_near" else self._beyond(one, zone)
        if name in ("touch", "let_go"):
            poses = [footprint(solid_of(one.thing, one.design, pose_of(s))) for s in one.design.states]
            near = shapely.union_all(poses).buffer(self._radius_m + TOUCH_M)
            return self._in(one, near) if name == "touch" else self._beyond(one, near)
        return None

    def heard_in(self, program: Program, cell: int) -> dict[int, Spans]:
        """What the columns of the senses that somebody listens to can be in a cell, where they cannot be anything.

        Whoever walks out of what is listened to is heard to leave it first; what steps can move is left with its cell.
        """
        found: dict[int, Spans] = {}
        for number in program.sensed_actions:
            if self.at_hand(program.columns[number]) is not None:
                found[number] = spans_of([0])
                continue
            cells = [self.cells(program.columns[number], value) for value in (0, 1)]
            can = [value for value in (0, 1) if (here := cells[value]) is None or cell in here]
            if len(can) == 1:
                found[number] = spans_of(can)
        return found

    def turning(self, column: Column, value: int) -> Cells | None:
        """The cells in which a sensed column can turn to a value; None for any. Where a cell allows of no other value it turns
        on the border already, before one has crossed that, so that the cells beside such a cell are among them."""
        cells, others = self.cells(column, value), self.cells(column, 1 - value)
        if cells is None or others is None:
            return cells
        alone = cells - others
        beside = (n for n, leads_to in enumerate(self.layout.cells.neighbours) if not leads_to.isdisjoint(alone))
        return cells | frozenset(beside)

    def roams(self, key: str) -> bool:
        """Whether something goes about by itself."""
        return self.layout.placed[key].walks or key in self.layout.mentions.carriers

    def lies(self, key: str) -> int | None:
        """The column of the cell where something lies that steps can move, None for what stays or goes about."""
        return None if key not in self.layout.placed or self.roams(key) else self.layout.find("place", key)

    def at_hand(self, column: Column) -> int | None:
        """The column of the cell where something lies that steps can move, for what is sensed in that cell alone."""
        return self.lies(column.key) if column.what in ("in_reach", "looked_at") else None

    def at_hand_of(self, action: Action) -> int | None:
        """The same for an action by which one comes near something or touches it."""
        near = action.kind == "near" and action.name.partition(":")[0] in ("come_near", "touch")
        return self.lies(action.subject) if near else None

    def spots(self, cell: int, key: str = "", beyond: bool = False) -> list[tuple[float, float]]:
        """Points of a cell in which the player can stand, those nearest to an object first: within its reach and in sight
        of it, or `beyond` its reach. Without an object the middle of the cell first.
        """
        here = self._ground(self.layout.cells.cells[cell].level)
        shape = here.shapes[cell - here.numbers[0]]
        one = self.layout.placed.get(key)
        if one is None or not one.level or self.layout.mentions.movable(key):
            x, y = points_in(self.layout.cells, cell, _well_inside(shape))
            return list(zip(x.tolist(), y.tolist(), strict=True))
        zone = self.zone(key)
        within = shape.difference(zone) if beyond else shape.intersection(zone)
        x, y = points_in(self.layout.cells, cell, _well_inside(within))
        if not beyond:
            seen = here.seeing(one, x, y, one.design.reach.sight_m)
            x, y = x[seen], y[seen]
        # Whoever works a door stands clear of it, where there is room for that.
        away = np.hypot(x - one.thing.x_m, y - one.thing.y_m) + 1e3 * shapely.contains_xy(self._way(one), x, y)
        near = np.argsort(away, kind="stable")
        return list(zip(x[near].tolist(), y[near].tolist(), strict=True))

    # --- zones

    def zone(self, key: str) -> BaseGeometry:
        """Where an object's reach lies, in any of its states, on floors that are in its band."""
        if key not in self._zones:
            one = self.layout.placed[key]
            self._zones[key] = self._ground(one.level).in_band(one, shapely.union_all(list(_reaches(one))))
        return self._zones[key]

    def _way(self, one: Placed) -> BaseGeometry:
        return swept_shape(one.thing, one.design).buffer(self._radius_m)

    @property
    def _radius_m(self) -> float:
        return self.layout.project.player.radius_m

    # --- cells

    def _in(self, one: Placed, zone: BaseGeometry) -> Cells:
        return frozenset(self._ground(one.level).meeting(zone))

    def _beyond(self, one: Placed, zone: BaseGeometry) -> Cells:
        here = self._ground(one.level)
        within = {n for n in here.meeting(zone) if here.covered(n, zone)}
        return frozenset(range(len(self.layout.cells.cells))) - within

    def _in_the_way(self, one: Placed, way: BaseGeometry) -> Cells:
        """Somebody is: the player from those cells, from any where others go about."""
        if any(self.roams(key) or other.design.walks for key, other in self.layout.placed.items()):
            return frozenset(range(len(self.layout.cells.cells)))
        return self._in(one, way)

    def _seeing(self, one: Placed, zone: BaseGeometry, sight_m: float | None) -> Cells:
        here = self._ground(one.level)
        return frozenset(n for n in here.meeting(zone) if here.sees(n, one, zone, sight_m))

    def _ground(self, level: str) -> _Ground:
        if level not in self._levels:
            record = next(lv for lv in self.layout.project.levels if lv.key == level)
            self._levels[level] = _Ground(self.layout, record)
        return self._levels[level]


class _Ground:
    """One level: its cells as far as the player's middle can be in them."""

    def __init__(self, layout: Layout, level: Level):
        self.layout, self.level = layout, level
        self.floor: Floor = floor_of(level)
        self.eyes_m = layout.project.player.eyes_m
        self.numbers = layout.cells.by_level.get(level.key, ())

    @cached_property
    def shapes(self) -> list[BaseGeometry]:
        """The cells of the level as far as one can stand in them; those in which one cannot, whole."""
        radius = self.layout.project.player.radius_m
        edges = shapely.union_all([LineString([(s[0], s[1]), (s[2], s[3])]) for s in self.floor.stops])
        taken = edges.buffer(radius - 1e-3)
        whole = [self.layout.cells.cells[n].shape for n in self.numbers]
        inner = [shape.difference(taken) for shape in whole]
        return [shape if left.area < _NOTHING_M2 else left for shape, left in zip(whole, inner, strict=True)]

    def meeting(self, zone: BaseGeometry) -> Iterable[int]:
        """The cells that have floor in a zone."""
        likely = shapely.intersects(np.array(self.shapes, dtype=object), zone).nonzero()[0].tolist()
        return [self.numbers[i] for i in likely if self.shapes[i].intersection(zone).area > _NOTHING_M2]

    def covered(self, number: int, zone: BaseGeometry) -> bool:
        """Whether all of a cell lies in a zone."""
        return bool(self.shapes[number - self.numbers[0]].difference(zone).area < _NOTHING_M2)

    def in_band(self, one: Placed, shape: BaseGeometry) -> BaseGeometry:
        """A shape on those floors that are in the band of an object's reach."""
        height, reach = self.floor.height_at(one.thing.x_m, one.thing.y_m), one.design.reach
        low, high = height - reach.below_m - 1e-9, height + reach.above_m + 1e-9
        near = [p for a, p in zip(self.floor.areas, self.floor.polygons, strict=True) if low <= a.floor_m <= high]
        return shape.intersection(shapely.union_all(near)) if near else shapely.Point()

    @cached_property
    def _screens(self) -> list[tuple[str, Solid, float]]:
        """The bodies that stop sight in each of their states, with their tops, by object."""
        found = []
        for key in self.layout.may_lie_in(self.level.key):
            one = self.layout.placed[key]
            lasting = not one.design.walks and not self.layout.mentions.movable(key) and one.thing.there_at_start
            lasting = lasting and one.design.body.shape != "none" and len({pose_of(s) for s in one.design.states}) == 1
            if lasting and not any(s.lets_sight_through for s in one.design.states):
                solid = solid_of(one.thing, one.design, pose_of(one.design.states[0]))
                top = self.floor.height_at(one.thing.x_m, one.thing.y_m) + one.design.body.height_m
                found.append((key, solid, top))
        return found

    def sees(self, number: int, one: Placed, zone: BaseGeometry, sight_m: float | None) -> bool:
        """Whether from some point of a cell within a zone an object's middle is in clear sight, as far as is asked."""
        x, y = points_in(self.layout.cells, number, zone.intersection(self.shapes[number - self.numbers[0]]))
        return bool(self.seeing(one, x, y, sight_m).any())

    def seeing(self, one: Placed, x: Floats, y: Floats, sight_m: float | None) -> Mask:
        """For each point of one area whether an object's middle is in clear sight from it, as far as is asked."""
        if not len(x):
            return np.zeros(0, dtype=bool)
        at = one.thing.x_m, one.thing.y_m
        target = Target(*at, self.floor.height_at(*at) + one.design.body.height_m / 2, sight_m)
        eyes = np.full(len(x), self.floor.height_at(float(x[0]), float(y[0])) + self.eyes_m)
        screens = [(solid, top) for key, solid, top in self._screens if key != one.thing.key]
        return demands_met(self.floor, target, x, y, eyes, screens)


def _well_inside(shape: BaseGeometry) -> BaseGeometry:
    """A shape as far as one stands in it wherever one comes to rest beside a spot; all of it where it is too narrow."""
    inner = shape.buffer(-BESIDE_M)
    return inner if inner.area > _NOTHING_M2 else shape


def _reaches(one: Placed) -> Iterable[BaseGeometry]:
    """An object's reach; one that moves with the part, in each state."""
    if not one.design.reach.moves_with_part:
        yield reach_shape(one.thing, one.design)
        return
    for state in one.design.states:
        solid = solid_of(one.thing, one.design, pose_of(state))
        moved = dataclasses.replace(one.thing, x_m=solid.x, y_m=solid.y, turn_deg=solid.turn_deg)
        yield reach_shape(moved, one.design)
