"""A disc in which an answer is known to be the same, so that whoever moves little need not ask again."""

from __future__ import annotations

import math
from dataclasses import dataclass

_ROUNDING_M = 1e-6


@dataclass(frozen=True, slots=True)
class Clear:
    """So far about a point nothing is that would change an answer, metres.

    >>> Clear(0.0, 0.0, 2.0).has(1.0, 0.0)
    True
    >>> Clear(0.0, 0.0, 2.0).has(1.0, 0.0, room_m=1.5)
    False
    """

    x: float
    y: float
    room_m: float

    def has(self, x: float, y: float, room_m: float = 0.0) -> bool:
        """Whether a point lies in it, with some room about it."""
        return math.hypot(x - self.x, y - self.y) + room_m <= self.room_m - _ROUNDING_M


NOWHERE = Clear(0.0, 0.0, -1.0)
