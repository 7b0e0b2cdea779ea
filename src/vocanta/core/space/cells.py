"""Cells: the floor cut where the rules can tell one place from the next, and which cell leads to which.

The floor is cut at area borders, walls, exits, zones (unmoving reaches that work by themselves) and at bodies that can
change, be removed or be put, in every pose that blocks. What nothing tells apart is one cell where one can walk from all of
it to all of it; none is too small to be one. A way leads from a cell to the next where the middle of a walker can pass
their common border.
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cache, cached_property, lru_cache
from typing import Any

import numpy as np
import shapely
import shapely.affinity
import shapely.ops
from shapely.geometry import LineString, Point, Polygon
from shapely.geometry.base import BaseGeometry

from ..project.records import Design, Exit, Level, Object, Project
from .bodies import LONGEST_STEP_DEG, Pose, footprint, pose_of, poses_between, solid_of
from .clear import NOWHERE, Clear
from .floor import GRID_M, STEP_M, Floor, floor_of
from .geometry import turned
from .reaches import LEAVE_M

HURTS_M = 3.5
"""A drop of more than this downs whoever falls."""
EDGE_M = 0.1
"""What is put off the floor comes to lie so far from its edge, where there is room."""
_CIRCLE = 16
_NOTHING_M2 = 1e-7
"""What is smaller is an error of arithmetic, not a place."""
_PASS_M = 0.002
"""By so much less than its radius a walker keeps off, for rounding."""
_LINE_M = 1e-6
_GRAZE_M = 1e-3
"""A way that leaves a cell by less and comes back has only grazed its border."""
Spot = tuple[float, float]


@dataclass(frozen=True, slots=True)
class Blocker:
    """A body that fills a cell: of which object, in which of its states, and at which of the spots it may stand at."""

    key: str
    states: frozenset[int]
    spot: int = 0


@dataclass(frozen=True, slots=True)
class Standing:
    """A body the floor is cut at: the object as it stands at one of its spots, 0 for where it was placed."""

    thing: Object
    design: Design
    spot: int = 0


@dataclass(frozen=True, slots=True)
class Cuts:
    """What cuts the floor of one level besides its areas, exits and drops; `solid` are bodies that always block."""

    zones: tuple[tuple[Object, Design], ...] = ()
    bodies: tuple[Standing, ...] = ()
    solid: tuple[tuple[Object, Design], ...] = ()


@dataclass(frozen=True)
class Cell:
    """A piece of floor: what it belongs to, which zones it lies in, which bodies may fill it."""

    level: str
    area: str
    shape: BaseGeometry
    exit: str = ""
    zones: frozenset[str] = frozenset()
    blockers: tuple[Blocker, ...] = ()


@dataclass(frozen=True)
class Cells:
    """All cells of a project, those of a level in one run, and for each the numbers of those it leads to.

    `falls` are the ways down that hurt, `drops` all one-way ones.
    """

    cells: tuple[Cell, ...]
    neighbours: tuple[frozenset[int], ...]
    falls: frozenset[tuple[int, int]] = frozenset()
    drops: frozenset[tuple[int, int]] = frozenset()

    @cached_property
    def by_level(self) -> dict[str, tuple[int, ...]]:
        """The numbers of each level's cells."""
        found: dict[str, tuple[int, ...]] = {}
        for number, cell in enumerate(self.cells):
            found[cell.level] = (*found.get(cell.level, ()), number)
            shapely.prepare(cell.shape)
        return found

    @cached_property
    def _clear(self) -> list[Clear]:
        """For each cell where it was last found to be on all sides; remembered only to be quick."""
        return [NOWHERE] * len(self.cells)

    @cached_property
    def _borders(self) -> list[BaseGeometry]:
        found = [cell.shape.boundary for cell in self.cells]
        shapely.prepare(found)
        return found

    def _has(self, number: int, x: float, y: float) -> bool:
        """Whether a cell has a point well inside."""
        if self._clear[number].has(x, y):
            return True
        if not shapely.contains_xy(self.cells[number].shape, x, y):
            return False
        self._clear[number] = Clear(x, y, float(shapely.distance(self._borders[number], Point(x, y))))
        return True

    @cached_property
    def _trees(self) -> dict[str, shapely.STRtree]:
        return {level: shapely.STRtree([self.cells[i].shape for i in here]) for level, here in self.by_level.items()}

    def of_level(self, level: str) -> frozenset[int]:
        """The cells of a level; none where there is no such level."""
        return frozenset(self.by_level.get(level, ()))

    def of_area(self, area: str) -> frozenset[int]:
        """The cells of an area."""
        return frozenset(i for i, c in enumerate(self.cells) if c.area == area and area)

    def of_zone(self, key: str) -> frozenset[int]:
        """The cells of a zone."""
        return frozenset(i for i, c in enumerate(self.cells) if key in c.zones)

    def of_spot(self, key: str, spot: int) -> frozenset[int]:
        """The cells that an object's body may fill from one of its spots."""
        return frozenset(
            i for i, c in enumerate(self.cells) if any(b.key == key and b.spot == spot for b in c.blockers)
        )

    def at(self, level: str, x: float, y: float, likely: int = -1) -> int:
        """The number of the cell at a point; outside the floor the nearest of the level. `likely` is looked at first.

        Raises `KeyError`: no level."""
        if likely >= 0 and self.cells[likely].level == level and self._has(likely, x, y):
            return likely
        point, here = Point(x, y), self.by_level[level]
        inside = self._trees[level].query(point, predicate="intersects")
        if len(inside):
            return here[int(min(inside))]
        nearest = self._trees[level].nearest(point) if len(here) > 1 else 0
        return here[int(nearest)]

    def gap_m(self, number: int, x: float, y: float) -> float:
        """How far a point lies from a cell, 0 inside and for a cell without floor."""
        shape = self.cells[number].shape
        if shape.is_empty or self._has(number, x, y):
            return 0.0
        return float(shape.distance(Point(x, y)))

    def inside(self, number: int, x: float, y: float, edge_m: float = 1e-3) -> Spot:
        """The point itself where the cell has it, else the nearest of the cell that lies so far from its edge."""
        shape, point = self.cells[number].shape, Point(x, y)
        if shape.is_empty or shape.covers(point):
            return x, y
        inner = shape.buffer(-edge_m)
        near = shapely.ops.nearest_points(shape if inner.is_empty else inner, point)[0]
        return float(near.x), float(near.y)

    def left_at(self, number: int, start: Spot, goal: Spot, late_m: float) -> Spot:
        """Where on the straight way to a place beyond it a cell is left: so many metres beyond its border, to a millimetre."""
        low, high = 0.0, 1.0
        while (high - low) * math.dist(start, goal) > 5e-4:
            share = (low + high) / 2
            beyond = self.gap_m(number, *_between(start, goal, share)) > late_m
            low, high = (low, share) if beyond else (share, high)
        x, y = _between(start, goal, high)
        return round(x, 3), round(y, 3)

    def next_on(self, number: int, start: Spot, end: Spot) -> list[int]:
        """The cells to walk through from a cell, on the straight way to a point beyond its border, in order.

        Where the way touches a corner only, it leads by the cells that meet there. Empty where nothing leads on.
        """
        level = self.cells[number].level
        line = LineString([self.inside(number, *start), end])
        here = self.by_level[level]
        met = [here[int(i)] for i in self._trees[level].query(line, predicate="intersects")]
        spans = {i: _span(line, self.cells[i].shape) for i in met}
        left = spans[number][1] if number in spans else 0.0
        ahead = sorted((span, i) for i, span in spans.items() if i != number and span[1] > left + _LINE_M)
        if ahead and ahead[0][1] in self.neighbours[number]:
            return [ahead[0][1]]
        last = self.at(level, *end)
        near = [here[int(i)] for i in self._trees[level].query(line.buffer(2 * LEAVE_M))]
        return self._way(number, last, frozenset(near))

    def through(self, number: int, start: Spot, end: Spot) -> list[int]:
        """The cells that a straight way within one cell passes through on its way, and that cell again behind each of them:
        thin ones, that are too small to stand in by the 5 cm that a cell is left late. Empty for a way that only grazes."""
        clear = self._clear[number]
        if clear.has(*start) and clear.has(*end):
            return []
        shape, level = self.cells[number].shape, self.cells[number].level
        line = LineString([start, end])
        if len(self.by_level[level]) == 1 or shape.covers(line):
            return []
        found: list[int] = []
        for part in shapely.get_parts(line.difference(shape)):
            middle = part.interpolate(0.5, normalized=True)
            if middle.distance(shape) > _GRAZE_M:
                here = [self.by_level[level][int(i)] for i in self._trees[level].query(part, predicate="intersects")]
                spans = sorted((_span(part, self.cells[i].shape), i) for i in here if i != number)
                found += [i for (enters, leaves), i in spans if leaves - enters > _LINE_M]
                found.append(number)
        return found

    def _way(self, start: int, goal: int, among: frozenset[int]) -> list[int]:
        """The fewest cells from one to another among some, without the first; empty without a way."""
        before, edge = {start: start}, [start]
        while edge and goal not in before:
            nxt = [(j, i) for i in edge for j in sorted(self.neighbours[i]) if j in among and j not in before]
            edge = []
            for j, i in nxt:
                if j not in before:
                    before[j] = i
                    edge.append(j)
        if goal not in before:
            return []
        way = [goal]
        while before[way[-1]] != start:
            way.append(before[way[-1]])
        return way[::-1]


def _between(start: Spot, end: Spot, share: float) -> Spot:
    return start[0] + (end[0] - start[0]) * share, start[1] + (end[1] - start[1]) * share


def _span(line: LineString, shape: BaseGeometry) -> tuple[float, float]:
    """How far along a line it first and last meets a shape, metres."""
    ends = [float(line.project(Point(c))) for c in shapely.get_coordinates(line.intersection(shape))]
    return min(ends, default=math.inf), max(ends, default=0.0)


def cells_of(project: Project, cuts: Mapping[str, Cuts]) -> Cells:
    """The cells of every level, in file order, then by area and position; deterministic. A level without floor is one."""
    cells: list[Cell] = []
    links: list[frozenset[int]] = []
    drops: dict[tuple[int, int], bool] = {}
    for level in project.levels:
        base, mine = len(cells), cuts.get(level.key, Cuts())
        here, near, down = _level_cells(_Asked(_geometry(level, mine, project.player.radius_m), level, mine))
        links += [frozenset(base + j for j in ways) for ways in near]
        drops |= {(base + i, base + j): depth > HURTS_M for (i, j), depth in down.items()}
        cells += here
    falls = frozenset(way for way, hurts in drops.items() if hurts)
    return Cells(tuple(cells), tuple(links), falls, frozenset(drops))


@dataclass(frozen=True, slots=True)
class _Asked:
    """The cells of a level are asked for: the same wherever the geometry is."""

    geometry: tuple[Any, ...]
    level: Level = field(compare=False)
    cuts: Cuts = field(compare=False)


def _geometry(level: Level, cuts: Cuts, radius: float) -> tuple[Any, ...]:
    """All that the cells of a level follow from."""

    def lies(thing: Object, design: Design) -> tuple[Any, ...]:
        where = thing.key, thing.x_m, thing.y_m, thing.turn_deg
        return *where, design.reach, design.body, design.motion, design.states

    several = (cuts.zones, [(b.thing, b.design) for b in cuts.bodies], cuts.solid)
    lying = tuple(tuple(lies(*one) for one in some) for some in several)
    return level.key, level.areas, level.walls, level.exits, lying, tuple(b.spot for b in cuts.bodies), radius


@lru_cache(maxsize=512)
def _level_cells(asked: _Asked) -> tuple[list[Cell], list[set[int]], dict[tuple[int, int], float]]:
    """The cells of a level, the ways between them, and the ways down: numbers begin with 0. Most edits change none."""
    level, cuts = asked.level, asked.cuts
    floor = floor_of(level)
    barred = _Barred(floor, asked.geometry[-1], cuts)
    here = _cut(level, floor, cuts, barred)
    return here, *_links(floor, here, barred)


# --- cutting


def _cut(level: Level, floor: Floor, cuts: Cuts, barred: _Barred) -> list[Cell]:
    """The faces between all lines that cut, those of one sort between which one can walk as one."""
    if floor.whole.is_empty:
        return [Cell(level.key, "", Polygon())]
    patches = [(e.key, exit_patch(e)) for e in level.exits]
    zones = [(t.key, reach_shape(t, d), _band(floor, t, d)) for t, d in cuts.zones if d.reach.shape != "none"]
    bodies = [(blocker, shape) for standing in cuts.bodies for blocker, shape in _poses(standing)]
    shapes = [s for _, s in patches] + [s for _, s, _ in zones] + [s for _, s in bodies]
    sorts: dict[Cell, list[Polygon]] = {}
    for face in _faces(floor, shapes):
        point = face.representative_point()
        number = floor.area_at(point.x, point.y)
        if number >= 0:
            area = floor.areas[number]
            inside = frozenset(k for k, s, (low, high) in zones if low <= area.floor_m <= high and s.covers(point))
            exit = next((k for k, s in patches if s.covers(point)), "")
            filled = _joined(b for b, s in bodies if s.covers(point))
            sorts.setdefault(Cell(level.key, area.key, Point(), exit, inside, filled), []).append(face)
    order = {area.key: i for i, area in enumerate(floor.areas)}
    found = [
        Cell(c.level, c.area, piece, c.exit, c.zones, c.blockers)
        for c, faces in sorts.items()
        for piece in _pieces(faces, barred)
    ]
    return sorted(found, key=lambda c: (order[c.area], c.shape.bounds, c.shape.area))


def _faces(floor: Floor, shapes: Sequence[BaseGeometry]) -> list[Polygon]:
    """The pieces between the borders of areas and of shapes, and walls."""
    walls = [LineString([(s[0], s[1]), (s[2], s[3])]) for s in floor.stops]
    inner = [w for w in walls if not any(p.boundary.covers(w) for p in floor.polygons)]
    if not shapes and not inner and len(floor.polygons) == 1:
        return [floor.polygons[0]]
    borders = [p.boundary for p in (*floor.polygons, *shapes)]
    lines = shapely.union_all([*borders, *inner], grid_size=GRID_M)
    faces = shapely.get_parts(shapely.polygonize(shapely.get_parts(lines)))
    return [f for f in faces if isinstance(f, Polygon) and f.area > _NOTHING_M2]


def _pieces(faces: list[Polygon], barred: _Barred) -> list[Polygon]:
    """Faces of one sort put together where one can walk from one to the next; what nobody can stand in goes to the face
    that it borders longest."""
    if len(faces) == 1:
        return faces
    group = list(range(len(faces)))

    def of(face: int) -> int:
        while group[face] != face:
            face = group[face]
        return face

    narrow = [not barred.lets_through(face) for face in faces]
    beside: list[tuple[float, int, int]] = []
    for i, j in shapely.STRtree(faces).query(faces, predicate="intersects").T.tolist():
        border = shapely.intersection(faces[i], faces[j]) if i < j else None
        if border is not None and border.length > _LINE_M:
            if narrow[i] or narrow[j]:
                beside.append((-border.length, i, j))
            elif barred.lets_through(border):
                group[of(j)] = of(i)
    for _, i, j in sorted(beside):
        if (narrow[i] and of(i) == i) or (narrow[j] and of(j) == j):
            one, other = (i, j) if narrow[i] and of(i) == i else (j, i)
            group[of(one)] = of(other)
    together: dict[int, list[Polygon]] = {}
    for n, face in enumerate(faces):
        together.setdefault(of(n), []).append(face)
    parts = [p for some in together.values() for p in shapely.get_parts(shapely.union_all(some, grid_size=GRID_M))]
    return [p for p in parts if isinstance(p, Polygon) and p.area > _NOTHING_M2]


def _band(floor: Floor, thing: Object, design: Design) -> tuple[float, float]:
    """The heights of floor on which a reach works."""
    height = floor.height_at(thing.x_m, thing.y_m)
    return height - design.reach.below_m - 1e-9, height + design.reach.above_m + 1e-9


def _poses(standing: Standing) -> list[tuple[Blocker, Polygon]]:
    """Where a body may stand and block: each pose with the states that take it."""
    thing, design = standing.thing, standing.design
    poses: dict[tuple[float, float, float], set[int]] = {}
    for number, state in enumerate(design.states):
        if state.blocks:
            poses.setdefault((state.swing_deg, state.slide_x_m, state.slide_y_m), set()).add(number)
    return [
        (
            Blocker(thing.key, frozenset(numbers), standing.spot),
            footprint(solid_of(thing, design, pose_of(design.states[min(numbers)]))),
        )
        for numbers in poses.values()
    ]


def _joined(blockers: Iterable[Blocker]) -> tuple[Blocker, ...]:
    """Blockers of one object at one spot as one, in a fixed order."""
    found: dict[tuple[str, int], frozenset[int]] = {}
    for one in blockers:
        found[one.key, one.spot] = found.get((one.key, one.spot), frozenset()) | one.states
    return tuple(Blocker(key, states, spot) for (key, spot), states in sorted(found.items()))


def exit_patch(exit: Exit) -> BaseGeometry:
    """The patch of floor of an exit."""
    half = exit.width_m / 2, exit.depth_m / 2
    box = shapely.box(exit.x_m - half[0], exit.y_m - half[1], exit.x_m + half[0], exit.y_m + half[1])
    return shapely.affinity.rotate(box, exit.turn_deg, origin=(exit.x_m, exit.y_m))


def reach_shape(thing: Object, design: Design) -> BaseGeometry:
    """An object's reach on the plan, where it was placed."""
    reach = design.reach
    dx, dy = turned(reach.offset_x_m, reach.offset_y_m, thing.turn_deg)
    middle = Point(thing.x_m + dx, thing.y_m + dy)
    if reach.shape == "box":
        half = reach.width_m / 2, reach.depth_m / 2
        box = shapely.box(middle.x - half[0], middle.y - half[1], middle.x + half[0], middle.y + half[1])
        return shapely.affinity.rotate(box, thing.turn_deg, origin=middle)
    circle = middle.buffer(reach.radius_m, quad_segs=_CIRCLE)
    if reach.shape != "wedge" or reach.arc_deg >= 360.0:
        return circle
    steps = max(2, math.ceil(reach.arc_deg / 5.0))
    turns = [thing.turn_deg - reach.arc_deg / 2 + reach.arc_deg * i / steps for i in range(steps + 1)]
    ends = [turned(reach.radius_m, 0.0, t) for t in turns]
    return Polygon([(middle.x, middle.y), *((middle.x + x, middle.y + y) for x, y in ends)])


def reach_carried(thing: Object, design: Design) -> BaseGeometry:
    """All that a reach that moves with its part comes to lie over, between its states as well. Never less than that.

    Between two states that is what its part carries it over; of more than two a part may leave its way to another state
    from anywhere on it, so that it is a disc about the object.
    """
    states = [pose_of(s) for s in design.states]
    way = [_reach_at(thing, design, pose) for a, b in itertools.pairwise(states) for pose in poses_between(a, b)]
    if not way:
        return _reach_at(thing, design, states[0])
    slack = LONGEST_STEP_DEG / 100.0 if any(pose.swing_deg for pose in states) else 0.0
    if len(set(states)) > 2:
        corners = shapely.get_coordinates(shapely.union_all(way)) - (thing.x_m, thing.y_m)
        return Point(thing.x_m, thing.y_m).buffer(float(np.hypot(corners[:, 0], corners[:, 1]).max()) + slack)
    return shapely.union_all([shapely.union(a, b).convex_hull for a, b in itertools.pairwise(way)]).buffer(slack)


def _reach_at(thing: Object, design: Design, pose: Pose) -> BaseGeometry:
    """The reach of a thing whose part stands in a pose."""
    solid = solid_of(thing, design, pose)
    return reach_shape(replace(thing, x_m=solid.x, y_m=solid.y, turn_deg=solid.turn_deg), design)


# --- ways from cell to cell


def _links(floor: Floor, cells: list[Cell], barred: _Barred) -> tuple[list[set[int]], dict[tuple[int, int], float]]:
    """For each cell those that a walker's middle can pass into; of the ways down over ledges also how deep they are."""
    links: list[set[int]] = [set() for _ in cells]
    drops: dict[tuple[int, int], float] = {}
    if len(cells) < 2:
        return links, drops
    heights = {area.key: area.floor_m for area in floor.areas}
    shapes = [c.shape for c in cells]

    @cache
    def lets_through(i: int, j: int) -> bool:
        return barred.lets_through(shapely.intersection(shapes[i], shapes[j]))

    for i, j in shapely.STRtree(shapes).query(shapes, predicate="intersects").T:
        i, j = int(i), int(j)
        fall = heights[cells[i].area] - heights[cells[j].area] if i != j else 0.0
        drop = floor.drop_m(cells[i].area, cells[j].area) if abs(fall) > STEP_M + 1e-9 else 0.0
        walked = i != j and (drop > 0.0 or abs(fall) <= STEP_M + 1e-9)
        if walked and lets_through(min(i, j), max(i, j)):
            links[i].add(j)
            if drop > 0.0:
                drops[i, j] = fall
    return links, drops


class _Barred:
    """What no middle of a walker comes near: walls, the edge of the floor, bodies that always block. One-way ledges and
    what can change are left out."""

    def __init__(self, floor: Floor, radius: float, cuts: Cuts):
        stops: list[BaseGeometry] = [LineString([(s[0], s[1]), (s[2], s[3])]) for s in floor.stops]
        shapes = stops + [footprint(solid_of(t, d, pose_of(d.states[0]))) for t, d in cuts.solid]
        self._taken = [shape.buffer(radius - _PASS_M) for shape in shapes]
        self._tree = shapely.STRtree(self._taken)

    def lets_through(self, border: BaseGeometry) -> bool:
        """Whether some point of a border can be stood on."""
        strip = border.buffer(_LINE_M, quad_segs=1)
        near = [self._taken[int(i)] for i in self._tree.query(strip)]
        return not strip.difference(shapely.union_all(near)).is_empty if near else True
