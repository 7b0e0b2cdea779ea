"""Ways on foot: shortest ways for a disc over the floor, on a grid, then pulled straight."""

from __future__ import annotations

import math
from collections.abc import Sequence
from functools import cached_property, lru_cache
from typing import Any

import numpy as np
import numpy.typing as npt
import shapely
from shapely.geometry import LineString
from shapely.geometry.base import BaseGeometry

from .bodies import Solid, footprint
from .floor import Floor
from .geometry import Floats

GRID_M = 0.25
MOST_NODES = 400_000
Way = list[tuple[float, float]]


class Ways:
    """The walkable floor for a disc of one radius, with given bodies in the way. Build cost grows with the floor's size.

    `shunned`: where the middle of the disc is not to come, though nothing stands there.
    """

    def __init__(self, floor: Floor, radius: float, solids: Sequence[Solid], shunned: BaseGeometry | None = None):
        ledges = [segment for _, _, segments in floor.ledges for segment in segments]
        stops = [LineString(np.reshape(s, (2, 2))) for s in (*floor.stops, *ledges)]
        blocked = shapely.union_all([*stops, *(footprint(s) for s in solids)]) if stops or solids else None
        free: BaseGeometry = floor.whole if blocked is None else floor.whole.difference(blocked.buffer(radius - 1e-3))
        self._free = free if shunned is None else free.difference(shunned)
        shapely.prepare(self._free)
        self._grid(floor.whole.bounds)

    def _grid(self, bounds: tuple[float, float, float, float]) -> None:
        if not all(math.isfinite(b) for b in bounds):
            bounds = (0.0, 0.0, 0.0, 0.0)
        size = max(bounds[2] - bounds[0], bounds[3] - bounds[1])
        self._step = max(GRID_M, size / math.sqrt(MOST_NODES))
        self._xs = np.arange(bounds[0], bounds[2] + self._step, self._step)
        self._ys = np.arange(bounds[1], bounds[3] + self._step, self._step)
        gx, gy = np.meshgrid(self._xs, self._ys, indexing="ij")
        self._open = shapely.intersects_xy(self._free, gx, gy)

    @cached_property
    def _graph(self) -> Any:
        """The open grid points and how far neighbours lie apart, metres: a sparse array (n, n)."""
        from scipy.sparse import csr_array  # Loading it takes longer than most commands may.

        count = self._open.size
        numbers = np.arange(count).reshape(self._open.shape)
        ends, costs = [], []
        for dx, dy in ((1, 0), (0, 1), (1, 1), (1, -1)):
            here, there = _shifted(numbers, dx, dy)
            both = self._open.ravel()[here] & self._open.ravel()[there]
            ends.append((here[both], there[both]))
            costs.append(np.full(int(both.sum()), math.hypot(dx, dy) * self._step))
        rows, columns = (np.concatenate([e[i] for e in ends]) for i in (0, 1))
        return csr_array((np.concatenate(costs), (rows, columns)), shape=(count, count))

    def _nearest(self, x: float, y: float) -> int | None:
        """The free grid point nearest to a point."""
        free = np.argwhere(self._open)
        if not len(free):
            return None
        gaps = (self._xs[free[:, 0]] - x) ** 2 + (self._ys[free[:, 1]] - y) ** 2
        i, j = free[int(gaps.argmin())]
        return int(i * len(self._ys) + j)

    def nearest_clear(
        self, start: tuple[float, float], crowd: Sequence[tuple[float, float]], room: float
    ) -> tuple[float, float] | None:
        """The place nearest to walk to that lies farther than `room` from the lines between the start and each of a
        crowd, carried on beyond it: out of their way. None where there is none within reach."""
        a = self._nearest(*start)
        if a is None:
            return None
        gaps, _ = self._shortest(a, limit=12.0 * room)
        free = np.flatnonzero(np.isfinite(gaps) & self._open.ravel())
        points = np.array([self._point(int(node)) for node in free]).reshape(-1, 2)
        clear = np.ones(len(points), dtype=bool)
        for x, y in crowd:
            dx, dy = start[0] - x, start[1] - y
            length = math.hypot(dx, dy) or 1.0
            along = (points[:, 0] - x) * dx / length + (points[:, 1] - y) * dy / length
            across = np.abs((points[:, 1] - y) * dx / length - (points[:, 0] - x) * dy / length)
            clear &= (across > room) | (along < -room)
        if not clear.any():
            return None
        best = free[clear][int(gaps[free[clear]].argmin())]
        return self._point(int(best))

    def way(self, start: tuple[float, float], goal: tuple[float, float]) -> Way | None:
        """The way from start to goal without its start, or to the free place nearest the goal; None without a way."""
        if self._free.intersects(shapely.Point(goal)) and self._clear(start, goal):
            return [goal]
        a, b = self._nearest(*start), self._nearest(*goal)
        if a is None or b is None:
            return None
        gaps, before = self._shortest(a)
        if not math.isfinite(float(gaps[b])):
            return None
        nodes = [b]
        while nodes[-1] != a:
            nodes.append(int(before[nodes[-1]]))
        points = [start, *(self._point(n) for n in reversed(nodes))]
        if self._free.intersects(shapely.Point(goal)) and self._clear(points[-1], goal):
            points.append(goal)
        return self._pulled(points)[1:]

    def metres(self, start: tuple[float, float], goals: Sequence[tuple[float, float]]) -> list[float]:
        """About how far it is from start to the free place nearest each goal; infinite where no way leads there.

        Counts the steps from grid point to grid point, diagonal ones among them.
        """
        a = self._nearest(*start)
        if a is None:
            return [math.inf] * len(goals)
        gaps, _ = self._shortest(a)
        ends = (self._nearest(*goal) for goal in goals)
        return [math.inf if end is None else float(gaps[end]) for end in ends]

    def _shortest(self, start: int, limit: float = math.inf) -> tuple[Floats, npt.NDArray[np.int32]]:
        """Metres from a grid point to every other (n,), and the point before each (n,)."""
        from scipy.sparse.csgraph import dijkstra

        found: tuple[Floats, npt.NDArray[np.int32]] = dijkstra(
            self._graph, directed=False, indices=np.array(start), limit=limit, return_predecessors=True
        )
        return found

    def at_most(
        self, start: tuple[float, float], goal: tuple[float, float]
    ) -> tuple[float, tuple[float, float]] | None:
        """Metres that the way from start to the free place nearest the goal is no longer than, and that place; None
        without a way. Counts the steps from grid point to grid point along the sides alone: quick, and never too few."""
        a, b = self._nearest(*start), self._nearest(*goal)
        if a is None or b is None:
            return None
        reached = np.zeros_like(self._open)
        reached.flat[a] = True
        steps = 0
        while not reached.flat[b]:
            wider = reached.copy()
            wider[1:] |= reached[:-1]
            wider[:-1] |= reached[1:]
            wider[:, 1:] |= reached[:, :-1]
            wider[:, :-1] |= reached[:, 1:]
            wider &= self._open
            if np.array_equal(wider, reached):
                return None
            reached, steps = wider, steps + 1
        return steps * self._step + math.dist(start, self._point(a)), self._point(b)

    def _point(self, node: int) -> tuple[float, float]:
        i, j = divmod(node, len(self._ys))
        return float(self._xs[i]), float(self._ys[j])

    def _clear(self, a: tuple[float, float], b: tuple[float, float]) -> bool:
        return bool(self._free.covers(LineString([a, b])))

    def _pulled(self, points: Way) -> Way:
        """The way without the corners that a straight line can leave out."""
        way, i = [points[0]], 0
        while i < len(points) - 1:
            j = len(points) - 1
            while j > i + 1 and not self._clear(points[i], points[j]):
                j -= 1
            way.append(points[j])
            i = j
        return way


def _shifted(numbers: npt.NDArray[np.intp], dx: int, dy: int) -> tuple[npt.NDArray[np.intp], npt.NDArray[np.intp]]:
    width, height = numbers.shape
    here = numbers[: width - dx, max(0, -dy) : height - max(0, dy)]
    there = numbers[dx:, max(0, dy) : height + min(0, dy)]
    return here.ravel(), there.ravel()


@lru_cache(24)
def ways_among(floor: Floor, radius: float, solids: tuple[Solid, ...]) -> Ways:
    """The walkable floor among bodies; what was worked out for the same ones stays known for a while."""
    return Ways(floor, radius, solids)
