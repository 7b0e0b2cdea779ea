"""Plane geometry on arrays: angles, frames, distances to segments, where segments cross."""

from __future__ import annotations

import math

import numpy as np
import numpy.typing as npt

Floats = npt.NDArray[np.float64]
Mask = npt.NDArray[np.bool_]


def turned(x: float, y: float, deg: float) -> tuple[float, float]:
    """A point turned about the origin, anticlockwise."""
    c, s = math.cos(math.radians(deg)), math.sin(math.radians(deg))
    return x * c - y * s, x * s + y * c


def angle_between(a_deg: float, b_deg: float) -> float:
    """The smallest angle between two directions, 0 to 180.

    >>> angle_between(350, 20)
    30.0
    """
    return abs((a_deg - b_deg + 180.0) % 360.0 - 180.0)


def box_corners(x: float, y: float, width: float, depth: float, turn_deg: float) -> Floats:
    """The corners of a box about (x, y), shape (4, 2), anticlockwise."""
    half = [(-width / 2, -depth / 2), (width / 2, -depth / 2), (width / 2, depth / 2), (-width / 2, depth / 2)]
    return np.array([(x + dx, y + dy) for dx, dy in (turned(px, py, turn_deg) for px, py in half)])


def ring_segments(corners: Floats) -> Floats:
    """The sides of a closed ring of corners (n, 2) as segments (n, 4): x1, y1, x2, y2."""
    return np.concatenate([corners, np.roll(corners, -1, axis=0)], axis=1)


def nearest_on(segments: Floats, x: float, y: float) -> Floats:
    """The nearest point of each segment (n, 4) to a point. Shape (n, 2)."""
    a, d = segments[:, :2], segments[:, 2:] - segments[:, :2]
    length = np.maximum((d * d).sum(axis=1), 1e-12)
    t = np.clip(((x - a[:, 0]) * d[:, 0] + (y - a[:, 1]) * d[:, 1]) / length, 0.0, 1.0)
    nearest: Floats = a + d * t[:, None]
    return nearest


def crossings(segments: Floats, x1: float | Floats, y1: float | Floats, x2: float, y2: float) -> tuple[Floats, Mask]:
    """Where the way from (x1, y1) to (x2, y2) crosses each segment.

    Returns the share of the way (n,) and whether they cross (n,); from k points at once, in columns (k, 1), both as (k, n).
    Ways that only touch along their length do not.
    """
    dx, dy = x2 - x1, y2 - y1
    ex, ey = segments[:, 2] - segments[:, 0], segments[:, 3] - segments[:, 1]
    turn = dx * ey - dy * ex
    safe = np.where(turn == 0.0, 1.0, turn)
    px, py = segments[:, 0] - x1, segments[:, 1] - y1
    along = (px * ey - py * ex) / safe
    across = (px * dy - py * dx) / safe
    hit = (turn != 0.0) & (along >= 0.0) & (along <= 1.0) & (across >= 0.0) & (across <= 1.0)
    return along, hit
