"""Whether the outline of an area bounds a floor: it may touch itself, and never cross itself."""

from __future__ import annotations

import re
from collections.abc import Sequence

import shapely

from .problems import Problem

_CROSSED = re.compile(r"Self-intersection\[(\S+) (\S+)\]")
LEAST_M2 = 1e-6
"""What is smaller is no floor, square metres."""


def outline_problem(corners: Sequence[tuple[float, float]], place: str) -> Problem | None:
    """What is wrong with an outline of at least three corners (x, y), metres; the first crossing with where it lies."""
    outline = shapely.Polygon(corners)
    crossed = _CROSSED.fullmatch(str(shapely.is_valid_reason(outline)))
    if crossed is not None:
        x, y = (round(float(number), 2) for number in crossed.groups())
        says = f"The outline of the area crosses itself at {x:g}, {y:g} m."
        return Problem("outline_crosses", says, "Move one of the corners beside it, or draw it as two areas.", place)
    if shapely.make_valid(outline).area < LEAST_M2:
        says = "The outline of the area encloses no floor."
        return Problem("outline_empty", says, "Draw its corners so that there is floor between them.", place)
    return None
