"""Bodies: where an object stands in each of its states, and the disc that slides along what is solid."""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from shapely.geometry import Point, Polygon
from shapely.geometry.base import BaseGeometry

from ..project.records import Body, Design, Object, State
from .geometry import Floats, box_corners, nearest_on, ring_segments, turned

LONGEST_STEP_DEG = 10.0
"""Between two poses a part is looked at after so many degrees at the most."""
SUBSTEP = 0.25
"""A walker moves by at most this share of its radius at a time, so that it cannot pass through anything."""
_PUSHES = 6


@dataclass(frozen=True, slots=True)
class Pose:
    """How far a part has swung and slid from where its object was placed."""

    swing_deg: float = 0.0
    slide_x_m: float = 0.0
    slide_y_m: float = 0.0

    def towards(self, other: Pose, share: float) -> Pose:
        """The pose a share of the way to another."""
        return Pose(
            *(
                a + (b - a) * share
                for a, b in (
                    (self.swing_deg, other.swing_deg),
                    (self.slide_x_m, other.slide_x_m),
                    (self.slide_y_m, other.slide_y_m),
                )
            )
        )


def pose_of(state: State) -> Pose:
    """The pose of a state."""
    return Pose(state.swing_deg, state.slide_x_m, state.slide_y_m)


@dataclass(frozen=True, slots=True)
class Solid:
    """A body in one pose: middle, turn and size, in metres and degrees."""

    x: float
    y: float
    turn_deg: float
    body: Body

    @property
    def reach_m(self) -> float:
        """The distance from the middle to the farthest point."""
        return (
            self.body.width_m / 2
            if self.body.shape == "circle"
            else math.hypot(self.body.width_m, self.body.depth_m) / 2
        )

    def sides(self) -> Floats:
        """The outline as segments (n, 4); a circle as sixteen sides."""
        if self.body.shape == "circle":
            angles = np.arange(16) * (2 * math.pi / 16)
            ring = np.stack(
                [self.x + np.cos(angles) * self.body.width_m / 2, self.y + np.sin(angles) * self.body.width_m / 2],
                axis=1,
            )
            return ring_segments(ring)
        return ring_segments(box_corners(self.x, self.y, self.body.width_m, self.body.depth_m, self.turn_deg))

    def distance(self, x: float, y: float) -> float:
        """How far a point lies from the body, 0 inside."""
        if self.body.shape == "circle":
            return max(0.0, math.hypot(x - self.x, y - self.y) - self.body.width_m / 2)
        lx, ly = turned(x - self.x, y - self.y, -self.turn_deg)
        return math.hypot(max(abs(lx) - self.body.width_m / 2, 0.0), max(abs(ly) - self.body.depth_m / 2, 0.0))


def solid_of(thing: Object, design: Design, pose: Pose) -> Solid:
    """The body of an object in a pose: swung about its hinge, then slid along its own axes."""
    hinge = design.motion.hinge_x_m, design.motion.hinge_y_m
    swung = turned(-hinge[0], -hinge[1], pose.swing_deg) if design.body.shape != "none" else (0.0, 0.0)
    local = (hinge[0] + swung[0] + pose.slide_x_m, hinge[1] + swung[1] + pose.slide_y_m)
    dx, dy = turned(*local, thing.turn_deg)
    return Solid(thing.x_m + dx, thing.y_m + dy, thing.turn_deg + pose.swing_deg, design.body)


def poses_between(start: Pose, end: Pose) -> list[Pose]:
    """Poses from one to another, both among them, close enough to stand for all between."""
    steps = max(1, math.ceil(abs(start.swing_deg - end.swing_deg) / LONGEST_STEP_DEG), 4 if start != end else 1)
    return [start.towards(end, i / steps) for i in range(steps + 1)]


def swept_shape(thing: Object, design: Design) -> BaseGeometry:
    """Everything a body passes over between its states: the hulls of each two poses that follow each other."""
    poses = [pose_of(s) for s in design.states]
    pairs = list(dict.fromkeys(zip(poses, [*poses[1:], poses[0]], strict=True)))
    ways = [[_polygon(solid_of(thing, design, p)) for p in poses_between(a, b)] for a, b in pairs]
    return shapely.union_all([shapely.union(a, b).convex_hull for way in ways for a, b in itertools.pairwise(way)])


def _polygon(solid: Solid) -> Polygon:
    return Polygon(solid.sides()[:, :2])


def footprint(solid: Solid) -> Polygon:
    """The body's outline as a polygon."""
    return _polygon(solid)


def in_the_way(shape: BaseGeometry, x: float, y: float, radius: float) -> bool:
    """Whether a disc touches a shape."""
    return bool(shape.distance(Point(x, y)) < radius)


def slide(
    x: float, y: float, dx: float, dy: float, radius: float, stops: Floats, solids: Sequence[Solid]
) -> tuple[float, float]:
    """Where a disc comes to when it tries to move by (dx, dy) among segments (n, 4) and bodies.

    It slides along what it meets and never passes through: it moves by at most `SUBSTEP` of its radius at a time,
    and a place from which it cannot be pushed clear is not entered. A body that already overlaps it lets it out.
    """
    length = math.hypot(dx, dy)
    if length == 0.0:
        return x, y
    over = [s for s in solids if s.distance(x, y) < radius - 1e-6]
    clear = [s for s in solids if s not in over]
    segments = np.concatenate([stops, *(s.sides() for s in clear)]) if clear else stops
    if not over and room(x, y, segments) >= radius + length:
        return x + dx, y + dy
    steps = max(1, math.ceil(length / (radius * SUBSTEP)))
    for _ in range(steps):
        nx, ny, free = _pushed_clear(x + dx / steps, y + dy / steps, radius, segments)
        inward = any(math.hypot(nx - s.x, ny - s.y) < math.hypot(x - s.x, y - s.y) for s in over)
        if not free or inward:
            break
        x, y = nx, ny
    return x, y


def room(x: float, y: float, segments: Floats) -> float:
    """How far the nearest segment is off, metres."""
    near = nearest_on(segments, x, y)
    return float(np.hypot(near[:, 0] - x, near[:, 1] - y).min(initial=math.inf))


def cleared(x: float, y: float, radius: float, segments: Floats) -> tuple[float, float]:
    """The nearest place where a disc that overlaps segments is clear of them, or where it was."""
    nx, ny, free = _pushed_clear(x, y, radius, segments)
    return (nx, ny) if free else (x, y)


def _pushed_clear(x: float, y: float, radius: float, segments: Floats) -> tuple[float, float, bool]:
    """A disc pushed out of the segments it overlaps, deepest first; whether it came clear."""
    for _ in range(_PUSHES):
        near = nearest_on(segments, x, y)
        gaps = np.hypot(near[:, 0] - x, near[:, 1] - y)
        if not len(gaps) or gaps.min() >= radius - 1e-9:
            return x, y, True
        deepest = int(gaps.argmin())
        gap = float(gaps[deepest])
        if gap < 1e-9:
            return x, y, False
        push = (radius - gap) / gap
        x += (x - near[deepest, 0]) * push
        y += (y - near[deepest, 1]) * push
    return x, y, bool(np.hypot(*(nearest_on(segments, x, y) - (x, y)).T).min() >= radius - 1e-6)
