"""Cells: the floor cut where the rules can tell one place from the next, and which cell leads to which."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
import shapely
import shapely.affinity
from shapely.geometry import LineString, Point, Polygon
from shapely.geometry.base import BaseGeometry

from ..project.designs import cues_of, resolved
from ..project.records import Design, Exit, Level, Object, Project
from .bodies import footprint, pose_of, solid_of
from .floor import Floor, floor_of
from .geometry import Floats, turned

SMALLEST_M2 = 0.01
HURTS_M = 3.5
"""A drop of more than this downs whoever falls."""
_CIRCLE = 16


@dataclass(frozen=True)
class Cell:
    """A piece of floor. `door` is the object whose body fills it in some states, `exit` the exit whose patch it is."""

    level: str
    area: str
    shape: Polygon
    door: str = ""
    exit: str = ""


@dataclass(frozen=True)
class Cells:
    """All cells of a project and for each the numbers of those it leads to; `falls` are the ways down that hurt."""

    cells: tuple[Cell, ...]
    neighbours: tuple[frozenset[int], ...]
    falls: frozenset[tuple[int, int]] = frozenset()

    def at(self, level: str, x: float, y: float, guess: int = -1) -> int:
        """The number of the cell at a point; the guess is tried first. Outside the floor: the nearest of the level, or -1."""
        point = Point(x, y)
        if guess >= 0 and self.cells[guess].level == level and self.cells[guess].shape.covers(point):
            return guess
        here = [i for i, c in enumerate(self.cells) if c.level == level]
        found = next((i for i in here if self.cells[i].shape.covers(point)), None)
        if found is not None:
            return found
        return min(here, key=lambda i: self.cells[i].shape.distance(point), default=-1)


def cells_of(project: Project) -> Cells:
    """The cells of every level, in file order, then by position; deterministic."""
    kinds = {k.key: k for k in project.kinds}
    cells: list[Cell] = []
    links: list[frozenset[int]] = []
    falls: set[tuple[int, int]] = set()
    for level in project.levels:
        placed = [(o, resolved(kinds[o.kind], o)) for o in level.objects if o.kind in kinds]
        listening = {o.key for o, _ in placed if _works_by_itself(project, o)}
        floor = floor_of(level)
        here = _cut(level, floor, placed, listening)
        base = len(cells)
        near = _links(floor, here, project.player.radius_m)
        for i, j in _drops(floor, here):
            near[i].add(j)
            if floor.drop_m(here[i].area, here[j].area) > HURTS_M:
                falls.add((base + i, base + j))
        links += [frozenset(base + j for j in ways) for ways in near]
        cells += here
    return Cells(tuple(cells), tuple(links), frozenset(falls))


def _works_by_itself(project: Project, thing: Object) -> bool:
    """Whether an object's reach is cut out of the floor: a cue of its own waits for who comes or goes, or it suspends."""
    kind = next((k for k in project.kinds if k.key == thing.kind), None)
    if kind is not None and resolved(kind, thing).suspends:
        return True
    return any(c.text.split()[1:2] in _BY_ITSELF for c, _ in cues_of(kind, thing))


_BY_ITSELF = (["near"], ["away"], ["entered"], ["left"])


def _cut(level: Level, floor: Floor, placed: list[tuple[Object, Design]], listening: set[str]) -> list[Cell]:
    doors = [(o.key, _doorway(o, d)) for o, d in placed if len({s.blocks for s in d.states}) > 1]
    zones = [reach_shape(o, d) for o, d in placed if o.key in listening and d.reach.shape != "none"]
    patches = [(e.key, exit_patch(e)) for e in level.exits]
    cells: list[Cell] = []
    for area, polygon in zip(floor.areas, floor.polygons, strict=True):
        open_floor: BaseGeometry = polygon
        for key, doorway in doors:
            cells += [Cell(level.key, area.key, p, key) for p in _pieces(open_floor.intersection(doorway))]
            open_floor = open_floor.difference(doorway)
        for key, patch in patches:
            cells += [Cell(level.key, area.key, p, exit=key) for p in _pieces(open_floor.intersection(patch))]
            open_floor = open_floor.difference(patch)
        parts = [open_floor]
        for zone in zones:
            parts = [cut for p in parts for cut in (p.intersection(zone), p.difference(zone))]
        cells += [Cell(level.key, area.key, p) for part in parts for p in _pieces(part)]
    return cells


def _doorway(thing: Object, design: Design) -> Polygon:
    state = next(s for s in design.states if s.blocks)
    return footprint(solid_of(thing, design, pose_of(state)))


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


def _pieces(shape: BaseGeometry) -> list[Polygon]:
    found = [p for p in shapely.get_parts(shape) if isinstance(p, Polygon) and p.area > SMALLEST_M2]
    return sorted(found, key=lambda p: (p.bounds, p.area))


def _links(floor: Floor, cells: list[Cell], radius: float) -> list[set[int]]:
    """For each cell those it shares enough open border with for a walker to pass."""
    walls = shapely.union_all([LineString(np.reshape(s, (2, 2))) for s in (*floor.stops, *_ledges(floor))]).buffer(
        1e-3, quad_segs=1
    )
    links: list[set[int]] = [set() for _ in cells]
    tree = shapely.STRtree([c.shape for c in cells])
    for i, cell in enumerate(cells):
        for j in (int(n) for n in tree.query(cell.shape, predicate="intersects")):
            if i < j:
                border = cell.shape.boundary.intersection(cells[j].shape.buffer(1e-4, quad_segs=1)).difference(walls)
                if border.length > min(2 * radius, 0.1 if cell.door or cells[j].door else 2 * radius):
                    links[i].add(j)
                    links[j].add(i)
    return links


def _ledges(floor: Floor) -> list[Floats]:
    return [segment for _, _, segments in floor.ledges for segment in segments]


def _drops(floor: Floor, cells: list[Cell]) -> list[tuple[int, int]]:
    """The one-way links over ledges that their upper area lets one drop from."""
    found = []
    for i, upper in enumerate(cells):
        for j, lower in enumerate(cells):
            if floor.drop_m(upper.area, lower.area) > 0.0:
                border = upper.shape.boundary.intersection(lower.shape.buffer(1e-4, quad_segs=1))
                if border.difference(floor.walls).length > 0.1:
                    found.append((i, j))
    return found
