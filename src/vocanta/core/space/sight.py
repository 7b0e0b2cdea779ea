"""Clear sight: whether anything stands between the player's eyes and the middle of a target."""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np
import shapely
from shapely.geometry import Polygon
from shapely.geometry.base import BaseGeometry

from .bodies import Solid
from .floor import Floor
from .geometry import Floats, Mask, crossings

Eye = tuple[float, float, float]
_FAR_M = 1e4
_HAIR_M = 2e-3
"""A shadow is by so much smaller than it is, for sights that just graze its edge."""


def clear_sights(
    floor: Floor, x: Floats, y: Floats, eyes: Floats, target: Eye, screens: Iterable[tuple[Solid, float]]
) -> Mask:
    """For each eye of shape (n,), at x, y and a height above zero, whether its straight line to a target meets no wall and
    no body that reaches up to it.

    `screens` are bodies that stop sight, with the height of their tops above zero; the target is not among them.
    """
    bodies = list(screens)
    sides = [solid.sides() for solid, _ in bodies]
    segments = np.concatenate([floor.screens, *sides]) if sides else floor.screens
    tops = np.concatenate(
        [floor.screen_tops, *(np.full(len(s), top) for s, (_, top) in zip(sides, bodies, strict=True))]
    )
    along, hit = crossings(segments, x[:, None], y[:, None], target[0], target[1])
    heights = eyes[:, None] + along * (target[2] - eyes[:, None])
    stopped: Mask = np.any(hit & (heights < tops), axis=1)
    return ~stopped


def clear_sight(floor: Floor, eye: Eye, target: Eye, screens: Iterable[tuple[Solid, float]]) -> bool:
    """Whether one eye has clear sight of a target."""
    return bool(clear_sights(floor, np.array([eye[0]]), np.array([eye[1]]), np.array([eye[2]]), target, screens)[0])


def shadow(
    floor: Floor, target: tuple[float, float], highest: float, screens: Iterable[tuple[Solid, float]]
) -> BaseGeometry:
    """The floor from which a target is hidden for certain: behind what reaches above both the eyes and the target.

    `highest` is the higher of the two above zero, metres; `screens` as for `clear_sights`. What the target itself lies on
    hides nothing.
    """
    bodies = list(screens)
    segments = np.concatenate([floor.screens, *(solid.sides() for solid, _ in bodies)])
    tops = np.concatenate([floor.screen_tops, *(np.full(len(solid.sides()), top) for solid, top in bodies)])
    found = []
    for x1, y1, x2, y2 in segments[tops > highest].tolist():
        ends = np.array([[x1, y1], [x2, y2]]) - target
        length = np.hypot(ends[:, 0], ends[:, 1])
        if length.min() > _HAIR_M and abs(ends[0, 0] * ends[1, 1] - ends[0, 1] * ends[1, 0]) > _HAIR_M:
            behind = ends / length[:, None] * _FAR_M
            found.append(Polygon(np.array([ends[0], ends[1], behind[1], behind[0]]) + target))
    return shapely.union_all(found).buffer(-_HAIR_M)
