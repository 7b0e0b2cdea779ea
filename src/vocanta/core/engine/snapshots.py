"""What a run had come to at each of its moments: kept as it goes, so that no moment has to be walked to again."""

from __future__ import annotations

from bisect import bisect_right
from dataclasses import replace

from ..project.keeping import Card
from .again import Reached, card_of, reached
from .clocks import Clocks
from .situation import TICKS_A_SECOND, Situation


class Snapshots:
    """The moments of one run, each at which something happened and each second; about a kilobyte each."""

    def __init__(self, situation: Situation, clocks: Clocks):
        self._situation, self._clocks = situation, clocks
        self._ticks: list[int] = []
        self._kept: list[Reached] = []
        self.note(happened=True)

    def note(self, *, happened: bool) -> None:
        """Keep the present moment, if anything has happened in it or a second is full."""
        tick = self._situation.tick
        if not happened and tick % TICKS_A_SECOND:
            return
        now = reached(self._situation, self._clocks)
        if self._kept and self._kept[-1].spots == now.spots:
            now = replace(now, spots=self._kept[-1].spots)
        if self._ticks and self._ticks[-1] == tick:
            self._kept[-1] = now
        else:
            self._ticks.append(tick)
            self._kept.append(now)

    def card_at(self, tick: int) -> Card:
        """The run as it was after a tick, or at the last moment kept before it, as a start card."""
        return card_of(self._situation, self._kept[max(bisect_right(self._ticks, tick) - 1, 0)])
