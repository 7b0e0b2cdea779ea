"""Where an object can be worked from: reach, floor band, facing, sight, and whether it can win its control there.

Everything takes rows of points, shape (n,) each for x and y; the engine asks for the one point where the player stands,
a check or a proof for all points of a cell. Facing is up to the player, who can turn, so it is asked only of a point
with a direction.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely

from .bodies import Solid
from .cells import Cells
from .floor import Floor
from .geometry import Floats, Mask
from .reaches import Reaches
from .sight import clear_sights

LOOKED_AT_DEG = 15.0
HOLDER_M = 0.1
SAMPLE_M = 0.2


@dataclass(frozen=True)
class Target:
    """What is to be seen and worked: its middle, metres, the height of its middle, and up to where it is seen."""

    x: float
    y: float
    z: float
    sight_m: float | None = None
    facing_deg: float | None = None


def towards(target: Target, x: Floats, y: Floats) -> Floats:
    """The direction from points to a target, degrees."""
    return np.degrees(np.arctan2(target.y - y, target.x - x))


def off_by(target: Target, x: Floats, y: Floats, facing: Floats) -> Floats:
    """How far a look past a target goes, degrees from 0 to 180, for points that face some way."""
    gap: Floats = np.abs((towards(target, x, y) - facing + 180.0) % 360.0 - 180.0)
    return gap


def seen(
    floor: Floor, target: Target, x: Floats, y: Floats, eyes: Floats, screens: Sequence[tuple[Solid, float]]
) -> Mask:
    """For each point, with eyes at a height, whether nothing stands between it and the target's middle."""
    return clear_sights(floor, x, y, eyes, (target.x, target.y, target.z), screens)


def demands_met(
    floor: Floor, target: Target, x: Floats, y: Floats, eyes: Floats, screens: Sequence[tuple[Solid, float]]
) -> Mask:
    """For each point whether the object's own demand on sight is met; facing can be met anywhere."""
    if target.sight_m is None:
        return np.ones(len(x), dtype=bool)
    near = np.hypot(target.x - x, target.y - y) <= target.sight_m
    met = np.zeros(len(x), dtype=bool)
    rows = np.flatnonzero(near)
    if len(rows):
        met[rows] = seen(floor, target, x[rows], y[rows], eyes[rows], screens)
    return met


@dataclass(frozen=True, slots=True)
class Rival:
    """Another object that always offers a prompt for the same control."""

    number: int
    priority: int
    target: Target


def winnable(
    reaches: Reaches,
    number: int,
    mine: Target,
    priority: int,
    rivals: Sequence[Rival],
    x: Floats,
    y: Floats,
    floors: Floats,
) -> Mask:
    """For each point whether some way of facing gives the object its control there, before rivals within reach.

    Priority first, then what is looked at, then the nearest. Sight is left out: what could be seen counts as seen.
    """
    ways = [towards(mine, x, y) + turn for turn in (0.0, LOOKED_AT_DEG - 0.5, 0.5 - LOOKED_AT_DEG)]
    own = np.hypot(reaches.x[number] - x, reaches.y[number] - y)
    won = np.zeros(len(x), dtype=bool)
    for facing in ways:
        beaten = np.zeros(len(x), dtype=bool)
        for rival in rivals:
            here = reaches.held(np.intp(rival.number), x, y, floors, np.zeros(len(x)))
            gap = np.hypot(reaches.x[rival.number] - x, reaches.y[rival.number] - y)
            looked = off_by(rival.target, x, y, facing) <= LOOKED_AT_DEG
            nearer = (gap < own) | ((gap == own) & (rival.number < number))
            ahead = looked & nearer if rival.priority == priority else np.full(len(x), rival.priority > priority)
            beaten |= here & ahead
        won |= ~beaten
    return won


def points_in(cells: Cells, number: int, within: shapely.Geometry) -> tuple[Floats, Floats]:
    """Points of a cell within a shape: one of every piece, and a grid. Arrays x, y of shape (n,)."""
    common = cells.cells[number].shape.intersection(within)
    pieces = [p for p in shapely.get_parts(common) if p.area > 0.0]
    spots = [(p.representative_point().x, p.representative_point().y) for p in pieces]
    for piece in pieces:
        left, low, right, high = piece.bounds
        gx, gy = np.meshgrid(np.arange(left, right, SAMPLE_M), np.arange(low, high, SAMPLE_M))
        inside = shapely.contains_xy(piece, gx.ravel(), gy.ravel())
        spots += list(zip(gx.ravel()[inside].tolist(), gy.ravel()[inside].tolist(), strict=True))
    table = np.array(spots, dtype=float).reshape(-1, 2)
    return table[:, 0], table[:, 1]
