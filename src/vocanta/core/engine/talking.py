"""How long a line lasts and which of its wordings is said."""

from __future__ import annotations

import math

from ..project.records import Line
from .chronicle import TICKS_A_SECOND

LETTERS_A_SECOND = 15.0
SHORTEST_S = 1.2


def voice_ticks(line: Line, wording: str) -> int:
    """How many ticks a line's voice lasts: as given, or 15 characters a second and never under 1.2 s."""
    seconds = line.seconds if line.seconds is not None else max(SHORTEST_S, len(wording) / LETTERS_A_SECOND)
    return max(1, math.ceil(seconds * TICKS_A_SECOND))


def wording_number(line: Line, heard: int) -> int:
    """Which wording is said after it was heard so often: in turn, or the last for ever."""
    turns = len(line.wordings)
    return min(heard, turns - 1) if line.last_stays else heard % turns
