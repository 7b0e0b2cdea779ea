"""The floor of a level: areas, what walls and edges stop a walker, what stops sight."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from functools import cached_property, lru_cache
from itertools import combinations

import numpy as np
import numpy.typing as npt
import shapely
from shapely.geometry import LineString, MultiLineString, Polygon
from shapely.geometry.base import BaseGeometry

from ..project.records import Area, Level, Wall
from .geometry import Floats

STEP_M = 0.4
CEILING_M = 1_000.0
GRID_M = 1e-6
"""Corners that lie closer together are one: an error of arithmetic is no gap in the floor."""


@dataclass(frozen=True, eq=False)
class Floor:
    """A level as solids; one and the same for levels of the same areas and walls.

    `stops` are segments (n, 4) no walker passes; `screens` those that stop sight, with tops (n,)."""

    areas: tuple[Area, ...]
    polygons: tuple[Polygon, ...]
    whole: BaseGeometry
    stops: Floats
    screens: Floats
    screen_tops: Floats
    ledges: tuple[tuple[int, int, Floats], ...] = ()
    """One-way ledges: the numbers of the upper and the lower area, and the segments (n, 4) between them."""
    wall_segments: Floats = field(default_factory=lambda: np.empty((0, 4)))

    @cached_property
    def walls(self) -> BaseGeometry:
        """The lines of the walls alone, a little wide."""
        return shapely.union_all([LineString(np.reshape(s, (2, 2))) for s in self.wall_segments]).buffer(1e-3)

    @cached_property
    def _shapes(self) -> npt.NDArray[np.object_]:
        """The polygons, to be asked all at once."""
        return np.array(self.polygons, dtype=object)

    def stops_in(self, area: int) -> Floats:
        """The segments that stop a walker who stands in an area, by its number: from above, one-way ledges do not."""
        if not self.ledges:
            return self.stops
        return self._stops_in[area]

    @cached_property
    def _stops_in(self) -> dict[int, Floats]:
        numbers = range(-1, len(self.areas))
        ledges = {n: [segments for upper, _, segments in self.ledges if upper != n] for n in numbers}
        return {n: np.concatenate([self.stops, *ledges[n]]) for n in numbers}

    def drop_m(self, upper: str, lower: str) -> float:
        """How deep one may drop from one area to another, 0 where one may not."""
        a, b = (next((r for r in self.areas if r.key == key), None) for key in (upper, lower))
        if a is None or b is None or lower not in a.drops_to:
            return 0.0
        return max(0.0, a.floor_m - b.floor_m)

    @cached_property
    def _rooms(self) -> list[tuple[int, float, float, float, float]]:
        """The areas that are boxes and that no area before them lies over: number, west, south, east, north."""
        found = []
        for number, shape in enumerate(self.polygons):
            alone = all(shape.intersection(other).area == 0.0 for other in self.polygons[:number])
            if alone and not shape.is_empty and shape.equals(shapely.box(*shape.bounds)):
                found.append((number, *shape.bounds))
        return found

    def area_at(self, x: float, y: float) -> int:
        """The number of the area at a point, -1 outside all."""
        for number, west, south, east, north in self._rooms:
            if west < x < east and south < y < north:
                return number
        here = np.flatnonzero(shapely.intersects_xy(self._shapes, x, y))
        return int(here[0]) if len(here) else -1

    def height_at(self, x: float, y: float) -> float:
        """Floor height in metres, 0 outside all areas."""
        number = self.area_at(x, y)
        return self.areas[number].floor_m if number >= 0 else 0.0


def floor_of(level: Level) -> Floor:
    """The floor of a level. Outlines that cross themselves are mended the way shapely's `make_valid` does."""
    return _floor(tuple(replace(a, cues=()) for a in level.areas), level.walls)


@lru_cache(32)
def _floor(areas: tuple[Area, ...], walls: tuple[Wall, ...]) -> Floor:
    polygons = tuple(_polygon(a) for a in areas)
    shapely.prepare(polygons)
    whole = shapely.union_all(polygons, grid_size=GRID_M) if polygons else Polygon()
    walled = [(wall, _wall_segments(wall.points)) for wall in walls]
    ledges, drops = _ledges(areas, polygons)
    stops = [s for _, s in walled] + [_lines(whole.boundary)] + ledges
    screens = [(s, wall.height_m) for wall, s in walled if not wall.glass]
    tops = [np.full(len(s), CEILING_M if h is None else h) for s, h in screens]
    empty = np.empty((0, 4))
    return Floor(
        areas,
        polygons,
        whole,
        np.concatenate([empty, *stops]),
        np.concatenate([empty, *(s for s, _ in screens)]),
        np.concatenate([np.empty(0), *tops]),
        tuple(drops),
        np.concatenate([empty, *(s for _, s in walled)]),
    )


def _polygon(area: Area) -> Polygon:
    polygon = shapely.make_valid(Polygon(area.outline))
    if isinstance(polygon, Polygon):
        return polygon
    parts = [g for g in shapely.get_parts(polygon) if isinstance(g, Polygon)]
    return max(parts, key=lambda g: g.area, default=Polygon())


def _wall_segments(points: tuple[tuple[float, float], ...]) -> Floats:
    corners = np.array(points, dtype=float)
    return np.concatenate([corners[:-1], corners[1:]], axis=1)


def _lines(shape: BaseGeometry) -> Floats:
    """Every straight piece of a line-like geometry as segments (n, 4)."""
    parts = shapely.get_parts(shape) if isinstance(shape, MultiLineString) else [shape]
    lines = [p for p in parts if isinstance(p, LineString) and len(p.coords) > 1]
    found = [_wall_segments(tuple((float(x), float(y)) for x, y in line.coords)) for line in lines]
    return np.concatenate([np.empty((0, 4)), *found])


def _ledges(
    areas: tuple[Area, ...], polygons: tuple[Polygon, ...]
) -> tuple[list[Floats], list[tuple[int, int, Floats]]]:
    """Borders between areas whose floors differ by more than a step: those nobody passes, and those one can drop over."""
    closed: list[Floats] = []
    drops: list[tuple[int, int, Floats]] = []
    for (i, a), (j, b) in combinations(enumerate(areas), 2):
        if abs(a.floor_m - b.floor_m) > STEP_M + 1e-9:
            border = _lines(shapely.line_merge(polygons[i].boundary.intersection(polygons[j].boundary)))
            upper, lower = (i, j) if a.floor_m > b.floor_m else (j, i)
            if areas[lower].key in areas[upper].drops_to:
                drops.append((upper, lower, border))
            else:
                closed.append(border)
    return closed, drops
