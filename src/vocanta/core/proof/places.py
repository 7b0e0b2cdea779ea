"""What the senses can tell where: for each sensed column and value the situations in which it can be so.

Whatever a run can come to is among them. Where in a cell the player stands, and which way the player looks, is free; what
steps can move may lie anywhere in its cell; whoever walks may be anywhere in their level. What stands in the way of sight
in one state only does not count. Where it has to be rough, it is rough toward what can be.
"""

from __future__ import annotations

import dataclasses
from collections.abc import Iterable, Mapping, Sequence
from functools import cached_property

import numpy as np
import shapely
from shapely.geometry import LineString, Point
from shapely.geometry.base import BaseGeometry

from ..phrases.vocabulary import CHARACTERS
from ..progress.columns import Column
from ..progress.cutting import changes
from ..progress.landing import moved_to
from ..progress.layout import LEAVING, ON_THE_WAY, Layout
from ..progress.lying import Lying, lying_spots
from ..progress.placed import Placed
from ..progress.program import Action, Program
from ..project.records import Level
from ..space.bodies import Solid, footprint, pose_of, solid_of, swept_shape
from ..space.cells import reach_carried, reach_shape
from ..space.floor import Floor, floor_of
from ..space.geometry import Floats, Mask
from ..space.landings import landing
from ..space.reaches import LEAVE_M
from ..space.sight import shadow
from ..space.working import Target, demands_met, points_in
from .spans import Spans, has, span, spans_of

TOUCH_M = 0.03
BESIDE_M = 0.1
SURELY_M = 0.02
"""So far from its edge one stands within a reach for certain, and beyond it."""
_NOTHING_M2 = 1e-4
"""What is smaller is no place but a trace of rounding along a border."""
_LATE_M = LEAVE_M + 2e-3
"""So far beyond its cell the player may stand, by leaving it late and by rounding."""
_ENDLESS = shapely.box(-1e6, -1e6, 1e6, 1e6)
Cells = frozenset[int]
When = Mapping[int, Spans]
"""For some columns the values that they have."""
Whens = tuple[When, ...]
"""Several such conditions, of which one holds."""
Spot = tuple[float, float, float]
"""Metres east and north, and how something is turned, degrees."""


@dataclasses.dataclass(frozen=True, slots=True)
class Heard:
    """A sensed column that somebody listens to, one of its values, and the conditions of which one holds where it has it."""

    column: int
    value: int
    whens: Whens


class Places:
    """The places of one layout. `None` for conditions means that there are none: it can be so anywhere."""

    def __init__(self, layout: Layout):
        self.layout = layout
        self._cell = layout.column("cell")
        self._levels: dict[str, _Ground] = {}
        self._zones: dict[str, BaseGeometry] = {}
        self._known: dict[tuple[str, int], Whens | None] = {}
        self._of_actions: dict[str, Whens | None] = {}
        self._heard: dict[frozenset[int], tuple[Heard, ...]] = {}
        self._heard_in: dict[tuple[frozenset[int], int], tuple[Heard, ...]] = {}

    # --- questions

    def whens(self, column: Column, value: int) -> Whens | None:
        """The conditions of which one holds wherever a sensed column has a value; None where it can have it anywhere."""
        asked = column.name, value
        if asked not in self._known:
            self._known[asked] = self._whens(column, value)
        return self._known[asked]

    def allows(self, column: Column, value: int, row: Sequence[int]) -> bool:
        """Whether a sensed column can have a value in a situation."""
        return holds_one(self.whens(column, value), row)

    def _whens(self, column: Column, value: int) -> Whens | None:
        key, _, ability = column.key.partition("/")
        one = self.layout.placed.get(key)
        if one is None or column.what not in ("in_reach", "looked_at", "in_way", "aimed_at"):
            return None
        if not value:
            return self._not_so(one, column)
        if self.moves(key):
            return None if column.what in ("in_way", "aimed_at") else self._moved(one, _extent_m(one) + LEAVE_M)
        if column.what == "in_way":
            return self._in_the_way(one)
        if column.what == "aimed_at":
            range_m = next(a for a in self.layout.project.abilities if a.key == ability).range_m
            around = Point(one.thing.x_m, one.thing.y_m).buffer(range_m)
            return self._in_cells(self._ground(one.level).seeing(one, around, range_m))
        here = self._ground(one.level)
        zone, cells = self._reach(one).buffer(LEAVE_M), here.band(one)
        sight_m = one.design.reach.sight_m if column.what == "looked_at" else None
        return self._in_cells(n for n in here.seeing(one, zone, sight_m) if n in cells)

    def _not_so(self, one: Placed, column: Column) -> Whens | None:
        """Where somebody may be out of reach or out of the way: anywhere but in cells that lie wholly within."""
        states = one.design.states
        if self.moves(one.thing.key) or self._can_go(one):
            return None
        if column.what == "in_way":
            return self._in_cells(self._beyond(one, self._way(one)))
        if column.what != "in_reach" or one.design.reach.moves_with_part or not all(s.reach_on for s in states):
            return None
        here = self._ground(one.level)
        within = {n for n in here.covered(self._reach(one)) if n in here.band(one)}
        return self._in_cells(n for n in range(len(self.layout.cells.cells)) if n not in within)

    def whens_of(self, action: Action) -> Whens | None:
        """The conditions of which one holds wherever the senses bring an action about; None for anywhere."""
        if action.name not in self._of_actions:
            self._of_actions[action.name] = self._whens_of(action)
        return self._of_actions[action.name]

    def _whens_of(self, action: Action) -> Whens | None:
        one = self.layout.placed.get(action.subject)
        name = action.name.partition(":")[0]
        if one is None or action.kind != "near" or name not in ("come_near", "touch"):
            return None
        if name == "come_near" and self._others_count(one):
            return None
        near_m = self._radius_m + TOUCH_M
        if self.moves(action.subject):
            return self._moved(one, _extent_m(one) + LEAVE_M if name == "come_near" else _body_m(one) + near_m)
        here = self._ground(one.level)
        if name == "come_near":
            return self._in_cells(n for n in here.meeting(self._reach(one)) if n in here.band(one))
        poses = [footprint(solid_of(one.thing, one.design, pose_of(s))) for s in one.design.states]
        return self._in_cells(here.meeting(shapely.union_all(poses).buffer(near_m)))

    def heard(self, program: Program) -> tuple[Heard, ...]:
        """The columns that somebody listens to with such values as they cannot have everywhere, by order of creation. Of
        whoever goes about nobody knows when they are left."""
        actions = program.sensed_actions
        listened = frozenset(actions)
        if listened not in self._heard:
            found: list[Heard] = []
            for number in sorted(actions, key=lambda n: program.rank[actions[n].name]):
                column = program.columns[number]
                roams = column.key in self.layout.placed and self.roams(column.key)
                several = [] if roams else [(value, self.whens(column, value)) for value in (0, 1)]
                found += [Heard(number, value, whens) for value, whens in several if whens is not None]
            self._heard[listened] = tuple(found)
        return self._heard[listened]

    def heard_in(self, program: Program, cell: int) -> tuple[Heard, ...]:
        """The same for whoever comes into a cell, and what has to be so besides for it to stay so there."""
        asked = frozenset(program.sensed_actions), cell
        if asked not in self._heard_in:
            found = []
            for one in self.heard(program):
                here = [when for when in one.whens if self._cell not in when or has(when[self._cell], cell)]
                rest = tuple({n: spans for n, spans in when.items() if n != self._cell} for when in here)
                if all(rest):
                    found.append(Heard(one.column, one.value, rest))
            self._heard_in[asked] = tuple(found)
        return self._heard_in[asked]

    def surely_in(self, program: Program, cell: int) -> dict[int, Spans]:
        """What such columns are for certain in a cell: whoever walks into it has heard that on its border, before."""
        return {one.column: span(1 - one.value, 1 - one.value) for one in self.heard_in(program, cell) if not one.whens}

    def roams(self, key: str) -> bool:
        """Whether something goes about by itself."""
        return self.layout.placed[key].walks or key in self.layout.mentions.carriers

    def moves(self, key: str) -> bool:
        """Whether something can be elsewhere than where it was placed."""
        return self.roams(key) or self.layout.mentions.movable(key)

    # --- conditions

    def _in_cells(self, cells: Iterable[int]) -> Whens:
        return ({self._cell: spans_of(cells)},)

    def _moved(self, one: Placed, far_m: float) -> Whens | None:
        """Within so many metres of something that moves: of the cell where it lies, or in the level where it walks."""
        key, mentions = one.thing.key, self.layout.mentions
        lies = self.layout.find("place", key)
        if lies is not None and not self.roams(key):
            return self._around(one, lies, far_m)
        elsewhere = key in mentions.put or key in mentions.swapped or key in mentions.downed
        if not one.level or elsewhere:
            return None
        at_home: Whens = ({self._cell: spans_of(self.layout.cells.of_level(one.level))},)
        carrier = self.layout.find("carrier", key)
        return at_home if carrier is None else (*at_home, {carrier: span(ON_THE_WAY, LEAVING)})

    def _around(self, one: Placed, lies: int, far_m: float) -> Whens:
        """That the player's cell is near where something lies: at a spot where steps put it, else anywhere in its cell."""
        by_near: dict[Spans, list[int]] = {}
        spots, cells = self._spots[one.thing.key], self.layout.cells
        lying: dict[int, list[BaseGeometry]] = {}
        for level, x, y in spots or ():
            lying.setdefault(cells.at(level, x, y), []).append(Point(x, y))
        for number in sorted(lying) if spots is not None else range(len(cells.cells)):
            shapes = lying.get(number) or [cells.cells[number].shape.buffer(_LATE_M)]
            near = self._ground(cells.cells[number].level).meeting(shapely.union_all(shapes).buffer(far_m))
            by_near.setdefault(spans_of({*near, number}), []).append(number)
        return tuple({self._cell: near, lies: spans_of(places)} for near, places in by_near.items())

    @cached_property
    def _spots(self) -> dict[str, frozenset[Lying] | None]:
        return lying_spots(self.layout)

    def _others_count(self, one: Placed) -> bool:
        """Whether somebody else than the player may come within a reach so that it counts."""
        who = set(one.design.reach.who)
        for key, other in self.layout.placed.items():
            walks = other.design.walks or self.roams(key)
            if key != one.thing.key and ((CHARACTERS in who and walks) or who & set(other.design.tags)):
                return True
        return False

    def _can_go(self, one: Placed) -> bool:
        """Whether something is not always there, or not always up."""
        key, mentions = one.thing.key, self.layout.mentions
        return key in mentions.removed or key in mentions.downed or not one.thing.there_at_start

    def spots(
        self, cell: int, key: str = "", beyond: bool = False, at: Spot | None = None
    ) -> list[tuple[float, float]]:
        """Points of a cell in which the player can stand, those nearest to an object first: within its reach and in sight
        of it, or `beyond` its reach. `at`: where something that can be moved lies by now. Without either the middle of the
        cell first.
        """
        here = self._ground(self.layout.cells.cells[cell].level)
        shape = here.shape(cell)
        one = self.layout.placed.get(key)
        if one is not None and at is not None:
            x_m, y_m, turn_deg = at
            one = dataclasses.replace(one, thing=dataclasses.replace(one.thing, x_m=x_m, y_m=y_m, turn_deg=turn_deg))
        elif one is None or not one.level or self.layout.mentions.movable(key):
            x, y = points_in(self.layout.cells, cell, _well_inside(shape))
            return list(zip(x.tolist(), y.tolist(), strict=True))
        zone = here.in_band(one, self._reach(one)) if at is not None else self.zone(key)
        within = shape.difference(zone.buffer(SURELY_M)) if beyond else shape.intersection(zone.buffer(-SURELY_M))
        if within.area < _NOTHING_M2:
            return []
        x, y = points_in(self.layout.cells, cell, _well_inside(within))
        if not beyond:
            seen = here.seen_from(one, x, y, one.design.reach.sight_m)
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
            self._zones[key] = self._ground(one.level).in_band(one, self._reach(one))
        return self._zones[key]

    @staticmethod
    def _reach(one: Placed) -> BaseGeometry:
        return (
            reach_carried(one.thing, one.design)
            if one.design.reach.moves_with_part
            else reach_shape(one.thing, one.design)
        )

    def _way(self, one: Placed) -> BaseGeometry:
        return swept_shape(one.thing, one.design).buffer(self._radius_m)

    @property
    def _radius_m(self) -> float:
        return self.layout.project.player.radius_m

    # --- cells

    def _beyond(self, one: Placed, zone: BaseGeometry) -> Cells:
        within = frozenset(self._ground(one.level).covered(zone))
        return frozenset(range(len(self.layout.cells.cells))) - within

    def _in_the_way(self, one: Placed) -> Whens | None:
        """Somebody is: the player from those cells, from any where others go about."""
        if any(self.roams(key) or other.design.walks for key, other in self.layout.placed.items()):
            return None
        return self._in_cells(self._ground(one.level).meeting(self._way(one)))

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
        self._shadows: dict[tuple[str, float], BaseGeometry] = {}

    @cached_property
    def _shapes(self) -> list[BaseGeometry]:
        """The cells of the level as far as one can stand in them; those in which one cannot, and those in which one may
        come to stand at a wall without having walked there, whole."""
        radius = self.layout.project.player.radius_m
        edges = shapely.union_all([LineString([(s[0], s[1]), (s[2], s[3])]) for s in self.floor.stops])
        taken = edges.buffer(radius - 1e-3)
        leaps = [landing(self.layout.project, entry) for entry in self.layout.entries]
        tight = [
            at for at in leaps if at is not None and at.level == self.level.key and taken.covers(Point(at.x, at.y))
        ]
        anywhere = any(moved_to(self.layout, entry) for entry in self.layout.entries)
        found = []
        for number in self.numbers:
            whole = self.layout.cells.cells[number].shape
            left = whole.difference(taken)
            leapt = anywhere or any(whole.distance(Point(at.x, at.y)) <= _LATE_M for at in tight)
            found.append(whole if leapt or left.area < _NOTHING_M2 else left)
        return found

    def shape(self, number: int) -> BaseGeometry:
        """A cell as far as one can stand in it."""
        return self._shapes[number - self.numbers[0]]

    @cached_property
    def _late(self) -> list[BaseGeometry]:
        """The cells as far as one can stand while the row still says them; a level without floor is one cell of no end."""
        return [_ENDLESS if shape.is_empty else shape.buffer(_LATE_M) for shape in self._shapes]

    def meeting(self, zone: BaseGeometry) -> list[int]:
        """The cells that have floor in a zone, or are left late in it."""
        likely = shapely.intersects(np.array(self._late, dtype=object), zone).nonzero()[0].tolist()
        return [self.numbers[i] for i in likely]

    def covered(self, zone: BaseGeometry) -> list[int]:
        """The cells that lie wholly in a zone, wherever one stands while the row still says them."""
        return [n for n in self.numbers if zone.covers(self.layout.cells.cells[n].shape.buffer(_LATE_M))]

    def band(self, one: Placed) -> Cells:
        """The cells on floors that are in the band of an object's reach."""
        low, high = self._band(one)
        heights = {area.key: area.floor_m for area in self.level.areas}
        return frozenset(n for n in self.numbers if low <= heights.get(self.layout.cells.cells[n].area, 0.0) <= high)

    def in_band(self, one: Placed, shape: BaseGeometry) -> BaseGeometry:
        """A shape on those floors that are in the band of an object's reach."""
        low, high = self._band(one)
        near = [p for a, p in zip(self.floor.areas, self.floor.polygons, strict=True) if low <= a.floor_m <= high]
        return shape.intersection(shapely.union_all(near)) if near else Point()

    def _band(self, one: Placed) -> tuple[float, float]:
        height, reach = self.floor.height_at(one.thing.x_m, one.thing.y_m), one.design.reach
        return height - reach.below_m - 1e-9, height + reach.above_m + 1e-9

    @cached_property
    def _screens(self) -> list[tuple[str, Solid, float]]:
        """The bodies that stop sight as long as a run lasts, with their tops, by object."""
        found = []
        for key in self.layout.may_lie_in(self.level.key):
            one = self.layout.placed[key]
            lasting = not one.design.walks and not changes(one, self.layout.mentions)
            lasting = lasting and one.design.body.shape != "none" and len({pose_of(s) for s in one.design.states}) == 1
            if lasting and not any(s.lets_sight_through for s in one.design.states):
                solid = solid_of(one.thing, one.design, pose_of(one.design.states[0]))
                top = self.floor.height_at(one.thing.x_m, one.thing.y_m) + one.design.body.height_m
                found.append((key, solid, top))
        return found

    def seeing(self, one: Placed, zone: BaseGeometry, sight_m: float | None) -> list[int]:
        """The cells from which, within a zone, an object's middle may be in clear sight, as far as is asked."""
        if sight_m is None:
            return self.meeting(zone)
        near = zone.intersection(Point(one.thing.x_m, one.thing.y_m).buffer(sight_m + _LATE_M))
        return [n for n in self.meeting(near) if self._may_see(n, one, near, sight_m)]

    def _may_see(self, number: int, one: Placed, zone: BaseGeometry, sight_m: float) -> bool:
        """Whether an object may be seen from a cell within a zone: seen from some point, or not wholly hidden."""
        within = self._late[number - self.numbers[0]].intersection(zone)
        x, y = points_in(self.layout.cells, number, within)
        if self.seen_from(one, x, y, sight_m).any():
            return True
        area = next((a for a in self.level.areas if a.key == self.layout.cells.cells[number].area), None)
        return not self._shadow(one, area.floor_m if area is not None else 0.0).covers(within)

    def _shadow(self, one: Placed, floor_m: float) -> BaseGeometry:
        """The floor from which an object is hidden for eyes over a floor of such a height."""
        key = one.thing.key, floor_m
        if key not in self._shadows:
            target = self._target(one, None)
            highest = max(floor_m + self.eyes_m, target.z)
            bodies = [(solid, top) for other, solid, top in self._screens if other != one.thing.key]
            self._shadows[key] = shadow(self.floor, (target.x, target.y), highest, bodies)
        return self._shadows[key]

    def _target(self, one: Placed, sight_m: float | None) -> Target:
        at = one.thing.x_m, one.thing.y_m
        return Target(*at, self.floor.height_at(*at) + one.design.body.height_m / 2, sight_m)

    def seen_from(self, one: Placed, x: Floats, y: Floats, sight_m: float | None) -> Mask:
        """For each point of one area whether an object's middle is in clear sight from it, as far as is asked."""
        if not len(x):
            return np.zeros(0, dtype=bool)
        eyes = np.full(len(x), self.floor.height_at(float(x[0]), float(y[0])) + self.eyes_m)
        screens = [(solid, top) for key, solid, top in self._screens if key != one.thing.key]
        return demands_met(self.floor, self._target(one, sight_m), x, y, eyes, screens)


def holds_one(whens: Iterable[When] | None, row: Sequence[int]) -> bool:
    """Whether one of several conditions holds in a situation; None asks nothing."""
    return whens is None or any(all(has(spans, row[n]) for n, spans in when.items()) for when in whens)


def _well_inside(shape: BaseGeometry) -> BaseGeometry:
    """A shape as far as one stands in it wherever one comes to rest beside a spot; all of it where it is too narrow."""
    inner = shape.buffer(-BESIDE_M)
    return inner if inner.area > _NOTHING_M2 else shape


def _extent_m(one: Placed) -> float:
    """How far from where something lies its reach goes at the most, however it is turned."""
    thing = dataclasses.replace(one.thing, x_m=0.0, y_m=0.0)
    if one.design.reach.shape == "none":
        return 0.0
    return _farthest_m(Places._reach(dataclasses.replace(one, thing=thing)))


def _body_m(one: Placed) -> float:
    """How far from where something lies its body goes in any of its states, however it is turned."""
    thing = dataclasses.replace(one.thing, x_m=0.0, y_m=0.0)
    return max(_farthest_m(footprint(solid_of(thing, one.design, pose_of(s)))) for s in one.design.states)


def _farthest_m(shape: BaseGeometry) -> float:
    return float(np.hypot(*shapely.get_coordinates(shape).T).max(initial=0.0))
