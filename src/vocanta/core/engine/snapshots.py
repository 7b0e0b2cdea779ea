"""What a run had come to at each of its moments: kept as it goes, so that no moment has to be walked to again."""

from __future__ import annotations

from array import array
from bisect import bisect_right
from dataclasses import dataclass

from ..project.records import Card
from .again import Standing, card_from
from .clocks import Clocks
from .situation import TICKS_A_SECOND, Place, Situation


@dataclass(frozen=True, slots=True)
class _Snapshot:
    """The row as 32-bit numbers, where the player is, where what can be moved lies, seconds left by column."""

    row: bytes
    level: str
    x: float
    y: float
    facing_deg: float
    spots: dict[str, Place]
    left: dict[int, float]


class Snapshots:
    """The moments of one run, each at which something happened and each second; about a kilobyte each."""

    def __init__(self, situation: Situation, clocks: Clocks):
        self._situation, self._clocks = situation, clocks
        self._ticks: list[int] = []
        self._kept: list[_Snapshot] = []
        self._timed = [n for n, column in enumerate(situation.program.columns) if column.what == "limit"]
        self.note(happened=True)

    def note(self, *, happened: bool) -> None:
        """Keep the present moment, if anything has happened in it or a second is full."""
        here = self._situation
        if not happened and here.tick % TICKS_A_SECOND:
            return
        last = self._kept[-1] if self._kept else None
        spots = last.spots if last is not None and last.spots == here.spots else dict(here.spots)
        left = {n: seconds for n in self._timed if (seconds := self._clocks.left_of(n)) is not None}
        player = here.player
        kept = _Snapshot(array("i", here.row).tobytes(), here.level, player.x, player.y, player.facing_deg, spots, left)
        if self._ticks and self._ticks[-1] == here.tick:
            self._kept[-1] = kept
        else:
            self._ticks.append(here.tick)
            self._kept.append(kept)

    def card_at(self, tick: int, key: str = "here", name: str = "Here") -> Card:
        """The run as it was after a tick, or at the last moment kept before it, as a start card."""
        one = self._kept[max(bisect_right(self._ticks, tick) - 1, 0)]
        row = array("i")
        row.frombytes(one.row)
        standing = Standing(row.tolist(), one.level, (one.x, one.y, one.facing_deg), one.spots, one.left)
        return card_from(self._situation, standing, key, name)
