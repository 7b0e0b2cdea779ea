"""What a proof has found that weighs something, as checks are told of it: they prove nothing themselves."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

from .finding import Found, Mend, Spot, called

ProvenSort = Literal["can", "stuck", "lost"]


@dataclass(frozen=True, slots=True)
class Proven:
    """One verdict of a quest that weighs something: what is asked of it, how many things lead there, the last of them in
    words, and the ways out, each proved. `stale`: it speaks of the project before the last edits, and advises nothing."""

    quest: str
    what: ProvenSort
    counted: int = 0
    last: str = ""
    ways_out: tuple[Mend, ...] = ()
    stale: bool = False

    def found(self, what: ProvenSort, says: str, marks: str) -> Iterator[Found]:
        """The finding that it is, where it is of this sort; `says` without the way there."""
        if self.what == what:
            things = "1 thing to do" if self.counted == 1 else f"{self.counted} things to do"
            way = f": {things}, the last of them: {self.last}" if self.last else ""
            since = ", as it was before the last edits" if self.stale else ""
            mends = () if self.stale else self.ways_out
            yield Found(Spot(f"quest/{self.quest}"), called(self.quest), says + way, mends, marks, behind=since)
