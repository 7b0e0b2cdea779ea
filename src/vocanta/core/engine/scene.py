"""One level as a run needs it: its objects in order, their solids by state, their reaches as arrays."""

from __future__ import annotations

import dataclasses
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt
import shapely
from shapely.geometry.base import BaseGeometry

from ..progress.layout import Layout
from ..progress.placed import Placed
from ..project.records import Level
from ..space.bodies import Pose, Solid, pose_of, solid_of, swept_shape
from ..space.floor import Floor, floor_of
from ..space.geometry import Floats
from ..space.reaches import Reaches


class Scene:
    """A level laid out: object numbers are places in `objects`, in order of creation.

    Things that a run puts somewhere are in the scene of every level where they may come to be; `place` moves them.
    """

    def __init__(self, level: Level, objects: Sequence[Placed], carriers: frozenset[str] = frozenset()):
        self.level, self.floor = level, floor_of(level)
        self.objects = list(objects)
        self.number = {one.thing.key: i for i, one in enumerate(self.objects)}
        self.reaches = Reaches([(o.thing, o.design) for o in self.objects])
        self.middles = np.array([(o.thing.x_m, o.thing.y_m) for o in self.objects], dtype=float).reshape(-1, 2)
        self.heights = np.zeros(len(self.objects))
        self.sizes = np.zeros(len(self.objects))
        self.solids: list[tuple[Solid, ...]] = [() for _ in self.objects]
        self._passes: dict[int, BaseGeometry] = {}
        self.swept_sizes = np.zeros(len(self.objects))
        """How far what an object passes over comes from where it was placed, metres; 0 while nobody asked."""
        self.walkers = tuple(i for i, one in enumerate(self.objects) if one.walks or one.thing.key in carriers)
        floors = _floors(self.floor, self.middles)
        for number in range(len(self.objects)):
            self._lay(number, float(floors[number]))

    @classmethod
    def of(cls, layout: Layout, level: Level) -> Scene:
        """A level with everything that may come to be there, in order of creation."""
        here = [one for key, one in layout.placed.items() if one.level == level.key or layout.mentions.movable(key)]
        return cls(level, here, frozenset(layout.mentions.carriers))

    def _lay(self, number: int, floor_m: float) -> None:
        """Work out what follows from where an object is placed."""
        one = self.objects[number]
        self.solids[number] = tuple(solid_of(one.thing, one.design, pose_of(s)) for s in one.design.states)
        x, y = self.middles[number]
        farthest = max(float(np.hypot(s.x - x, s.y - y)) + s.reach_m for s in self.solids[number])
        self.sizes[number] = farthest if one.design.body.shape != "none" else 0.0
        self.heights[number] = self.reaches.floor[number] = floor_m
        self._passes.pop(number, None)
        self.swept_sizes[number] = 0.0

    def swept_size(self, numbers: npt.NDArray[np.intp]) -> Floats:
        """How far what objects pass over comes from where each was placed, metres, shape (n,)."""
        for number in numbers[self.swept_sizes[numbers] == 0.0]:
            corners = shapely.get_coordinates(self.passes_over(int(number))) - self.middles[number]
            self.swept_sizes[number] = float(np.hypot(corners[:, 0], corners[:, 1]).max(initial=0.0))
        sizes: Floats = self.swept_sizes[numbers]
        return sizes

    def passes_over(self, number: int) -> BaseGeometry:
        """Where a body stands in any state and what it passes over between them; worked out when first asked for."""
        if number not in self._passes:
            one = self.objects[number]
            self._passes[number] = swept_shape(one.thing, one.design)
        return self._passes[number]

    def place(self, number: int, x: float, y: float, turn_deg: float) -> None:
        """Put an object somewhere else, on the floor there."""
        one = self.objects[number]
        thing = dataclasses.replace(one.thing, x_m=x, y_m=y, turn_deg=turn_deg)
        self.objects[number] = dataclasses.replace(one, thing=thing)
        self.middles[number] = (x, y)
        row = Reaches([(thing, one.design)])
        self.reaches.put(number, float(row.x[0]), float(row.y[0]), turn_deg)
        self._lay(number, self.floor.height_at(x, y))


def _floors(floor: Floor, points: Floats) -> Floats:
    """The floor height at each point of shape (n, 2), shape (n,); 0 outside all areas. The first area there counts."""
    heights, known = np.zeros(len(points)), np.zeros(len(points), dtype=bool)
    for area, polygon in zip(floor.areas, floor.polygons, strict=True):
        here = shapely.intersects_xy(polygon, points[:, 0], points[:, 1]) & ~known
        heights[here] = area.floor_m
        known |= here
    return heights


@dataclass
class Swing:
    """A motion under way: from a pose to a state's pose, `passed` of `total` ticks.

    | state | what may happen | next |
    |---|---|---|
    | under way | a tick | under way, or arrived when `passed` is `total` |
    | under way | turned back | under way the other way, from where it is |
    """

    start: Pose
    end: Pose
    total: int
    passed: int
    easing: str

    def pose(self) -> Pose:
        """Where the part is now."""
        share = self.passed / self.total
        return self.start.towards(self.end, eased(share) if self.easing == "smooth" else share)

    def reversed(self) -> Swing:
        """The way back from here; it takes as long as the way so far took."""
        return Swing(self.end, self.start, self.total, self.total - self.passed, self.easing)


def eased(share: float) -> float:
    """A share of time as a share of the way, slow at both ends; `eased(1 - x) == 1 - eased(x)`.

    >>> eased(0.5), eased(1.0)
    (0.5, 1.0)
    """
    return share * share * (3.0 - 2.0 * share)
