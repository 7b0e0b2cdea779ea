"""Clear sight: whether anything stands between the player's eyes and the middle of a target."""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np

from .bodies import Solid
from .floor import Floor
from .geometry import Floats, Mask, crossings

Eye = tuple[float, float, float]


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
