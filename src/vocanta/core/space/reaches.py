"""Reach of many objects at once: who is inside, with 5 cm more to leave than to enter."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
import numpy.typing as npt

from ..project.records import Design, Object, Reach
from .clear import NOWHERE, Clear
from .geometry import Floats, Mask, turned

LEAVE_M = 0.05
_ABOUT_M = 1.0
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
        self.extent = np.maximum(self.radius, np.hypot(self.width, self.depth) / 2)
        """How far any point of each reach may lie from its middle, metres."""
        self._moved = np.zeros(len(table), dtype=bool)
        self._asked, self._likely = NOWHERE, np.empty(0, dtype=np.intp)
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
        if not self._moved[number]:
            self._moved[number], self._asked = True, NOWHERE
        self.x[number], self.y[number], self.turn[number] = x, y, turn_deg
        self._cos[number], self._sin[number] = math.cos(math.radians(turn_deg)), math.sin(math.radians(turn_deg))

    def distances(self, x: float, y: float) -> Floats:
        """The distance from a point to the middle of each reach, metres."""
        return np.hypot(self.x - x, self.y - y)

    def inside(self, x: float, y: float, was_inside: Mask, floor_m: float = 0.0) -> Mask:
        """For each reach whether the point, on a floor of that height, is inside; who was inside leaves only 5 cm
        beyond the border."""
        result = np.zeros(len(self.x), dtype=bool)
        likely = self._likely_at(x, y)
        if not len(likely):
            return result
        slack = np.where(was_inside[likely], LEAVE_M, 0.0)
        off = np.maximum(np.abs(x - self.x[likely]), np.abs(y - self.y[likely]))
        near = off <= self.extent[likely] + slack
        if near.any():
            here = likely[near]
            result[here] = self.held(here, np.float64(x), np.float64(y), np.float64(floor_m), slack[near])
        return result

    def _likely_at(self, x: float, y: float) -> npt.NDArray[np.intp]:
        """The reaches that may have points within `_ABOUT_M` of one inside; those that have moved always among them."""
        if not self._asked.has(x, y):
            near = np.maximum(np.abs(x - self.x), np.abs(y - self.y)) <= self.extent + LEAVE_M + _ABOUT_M
            self._likely = ((near | self._moved) & (self.shape > 0)).nonzero()[0]
            self._asked = Clear(x, y, _ABOUT_M)
        return self._likely

    def holds(self, number: int, x: float, y: float, was_inside: bool, floor_m: float) -> bool:
        """Whether one reach has a point inside."""
        slack = np.array([LEAVE_M if was_inside else 0.0])
        return bool(self.held(np.array([number]), np.float64(x), np.float64(y), np.float64(floor_m), slack)[0])

    def held(
        self,
        n: npt.NDArray[np.intp] | np.intp,
        x: Floats | np.float64,
        y: Floats | np.float64,
        floor_m: Floats | np.float64,
        slack: Floats,
    ) -> Mask:
        """Whether reaches hold points on floors of some heights: reaches numbered (m,) against one point, or one reach
        against points of shape (m,). `slack` is how far beyond the border still counts, metres, shape (m,)."""
        dx, dy, shape = x - self.x[n], y - self.y[n], self.shape[n]
        gap = np.hypot(dx, dy)
        level = (floor_m >= self.floor[n] - self.below[n] - 1e-9) & (floor_m <= self.floor[n] + self.above[n] + 1e-9)
        round_ = gap <= self.radius[n] + slack
        inside: Mask = (shape == 1) & round_ & level
        if not np.any(shape > 1):
            return inside
        along = dx * self._cos[n] + dy * self._sin[n]
        across = -dx * self._sin[n] + dy * self._cos[n]
        box = (np.abs(along) <= self.width[n] / 2 + slack) & (np.abs(across) <= self.depth[n] / 2 + slack)
        angle = np.degrees(np.arctan2(across, along))
        beside = gap * np.sin(np.radians(np.clip(np.abs(angle) - self.arc[n] / 2, 0.0, 90.0)))
        wedge = round_ & ((np.abs(angle) <= self.arc[n] / 2) | (beside <= slack) | (gap <= slack))
        turned_: Mask = inside | (level & (((shape == 2) & box) | ((shape == 3) & wedge)))
        return turned_
