"""Focus: the one object that gets a control, by priority, then what is looked at, then the nearest."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from ..space.working import HOLDER_M


@dataclass(frozen=True, slots=True)
class Candidate:
    """One object that offers a prompt for a control, as it stands to the player now."""

    number: int
    priority: int
    looked_at: bool
    distance_m: float


def focused(candidates: Iterable[Candidate], holder: int) -> Candidate | None:
    """The candidate that gets the control; the present holder is favoured by 10 cm; ties go to the older object.

    >>> near, far = Candidate(1, 0, False, 1.0), Candidate(0, 0, True, 1.4)
    >>> focused([near, far], holder=-1).number
    0
    >>> focused([near], holder=-1).number
    1
    """

    def rank(c: Candidate) -> tuple[int, int, float, int]:
        return -c.priority, 0 if c.looked_at else 1, c.distance_m - (HOLDER_M if c.number == holder else 0.0), c.number

    return min(candidates, key=rank, default=None)


def deciding(winner: Candidate, loser: Candidate, other: str) -> str:
    """Why one candidate wins against another, in words; `other` is what the loser is called."""
    if winner.priority != loser.priority:
        return f"its priority {winner.priority} is above the {loser.priority} of {other}"
    if winner.looked_at != loser.looked_at:
        return f"it is looked at, {other} is not"
    if abs(winner.distance_m - loser.distance_m) <= HOLDER_M:
        return f"it had it before {other}" if winner.distance_m > loser.distance_m else f"it is nearer than {other}"
    return f"it is nearer than {other}, {winner.distance_m:.2f} m against {loser.distance_m:.2f} m"
