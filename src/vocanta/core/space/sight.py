"""Clear sight: whether anything stands between the player's eyes and the middle of a target."""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np

from .bodies import Solid
from .floor import Floor
from .geometry import crossings

Eye = tuple[float, float, float]


def clear_sight(floor: Floor, eye: Eye, target: Eye, screens: Iterable[tuple[Solid, float]]) -> bool:
    """Whether the straight line from eye to target meets no wall and no body that reaches up to it.

    `screens` are bodies that stop sight, with the height of their tops above zero; the target is not among them.
    """
    along, hit = crossings(floor.screens, eye[0], eye[1], target[0], target[1])
    heights = eye[2] + along * (target[2] - eye[2])
    if bool(np.any(hit & (heights < floor.screen_tops))):
        return False
    return not any(_stops(solid, top, eye, target) for solid, top in screens)


def _stops(solid: Solid, top: float, eye: Eye, target: Eye) -> bool:
    along, hit = crossings(solid.sides(), eye[0], eye[1], target[0], target[1])
    heights = eye[2] + along * (target[2] - eye[2])
    return bool(np.any(hit & (heights < top)))
