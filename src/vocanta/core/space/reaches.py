"""Reach of many objects at once: who is inside, with 5 cm more to leave than to enter."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
import numpy.typing as npt

from ..project.records import Design, Object, Reach
from .geometry import Floats, Mask, turned

LEAVE_M = 0.05
_SHAPES = {"none": 0, "circle": 1, "box": 2, "wedge": 3}


class Reaches:
    """The reaches of n objects as arrays of shape (n,): middle, turn, size."""

    def __init__(self, placed: Sequence[tuple[Object, Design]]):
        rows = [self._row(thing, design.reach) for thing, design in placed]
        table = np.array(rows, dtype=float).reshape(-1, 8)
        self.shape = table[:, 0].astype(np.int8)
        self.x, self.y, self.turn = table[:, 1].copy(), table[:, 2].copy(), table[:, 3].copy()
        self.radius, self.width, self.depth, self.arc = (table[:, i].copy() for i in range(4, 8))
        self.below, self.above = (
            np.array([getattr(d.reach, which) for _, d in placed], dtype=float) for which in ("below_m", "above_m")
        )
        self.floor = np.zeros(len(table))
        """The floor each object stands on, metres; set by who knows the floor."""
        self._cos, self._sin = np.cos(np.radians(self.turn)), np.sin(np.radians(self.turn))

    @staticmethod
    def _row(thing: Object, reach: Reach) -> tuple[float, ...]:
        dx, dy = turned(reach.offset_x_m, reach.offset_y_m, thing.turn_deg)
        return (
            _SHAPES[reach.shape],
            thing.x_m + dx,
            thing.y_m + dy,
            thing.turn_deg,
            reach.radius_m,
            reach.width_m,
            reach.depth_m,
            reach.arc_deg,
        )

    def put(self, number: int, x: float, y: float, turn_deg: float) -> None:
        """Move one reach, for an object whose reach moves with its part."""
        self.x[number], self.y[number], self.turn[number] = x, y, turn_deg
        self._cos[number], self._sin[number] = math.cos(math.radians(turn_deg)), math.sin(math.radians(turn_deg))

    def distances(self, x: float, y: float) -> Floats:
        """The distance from a point to the middle of each reach, metres."""
        return np.hypot(self.x - x, self.y - y)

    def inside(self, x: float, y: float, was_inside: Mask, floor_m: float = 0.0) -> Mask:
        """For each reach whether the point, on a floor of that height, is inside; who was inside leaves only 5 cm
        beyond the border."""
        slack = np.where(was_inside, LEAVE_M, 0.0)
        dx, dy = x - self.x, y - self.y
        gap = np.hypot(dx, dy)
        result: Mask = (self.shape == 1) & (gap <= self.radius + slack)
        level = (floor_m >= self.floor - self.below - 1e-9) & (floor_m <= self.floor + self.above + 1e-9)
        others = np.flatnonzero(self.shape >= 2)
        if len(others):
            result[others] = self._inside_turned(others, dx[others], dy[others], gap[others], slack[others])
        both: Mask = result & level
        return both

    def holds(self, number: int, x: float, y: float, was_inside: bool, floor_m: float) -> bool:
        """Whether one reach has a point inside."""
        slack = LEAVE_M if was_inside else 0.0
        if (
            not self.floor[number] - self.below[number] - 1e-9
            <= floor_m
            <= self.floor[number] + self.above[number] + 1e-9
        ):
            return False
        dx, dy = np.array([x - self.x[number]]), np.array([y - self.y[number]])
        gap = np.hypot(dx, dy)
        if self.shape[number] < 2:
            return bool(self.shape[number] == 1 and gap[0] <= self.radius[number] + slack)
        return bool(self._inside_turned(np.array([number]), dx, dy, gap, np.array([slack]))[0])

    def _inside_turned(self, n: npt.NDArray[np.intp], dx: Floats, dy: Floats, gap: Floats, slack: Floats) -> Mask:
        along = dx * self._cos[n] + dy * self._sin[n]
        across = -dx * self._sin[n] + dy * self._cos[n]
        box = (np.abs(along) <= self.width[n] / 2 + slack) & (np.abs(across) <= self.depth[n] / 2 + slack)
        angle = np.degrees(np.arctan2(across, along))
        beside = gap * np.sin(np.radians(np.clip(np.abs(angle) - self.arc[n] / 2, 0.0, 90.0)))
        within = (np.abs(angle) <= self.arc[n] / 2) | (beside <= slack) | (gap <= slack)
        wedge = (gap <= self.radius[n] + slack) & within
        inside: Mask = np.where(self.shape[n] == 2, box, wedge)
        return inside
