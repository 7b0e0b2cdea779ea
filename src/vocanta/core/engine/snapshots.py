"""What a run had come to at each of its moments: kept as it goes, so that no moment has to be walked to again."""

from __future__ import annotations

from bisect import bisect_right
from dataclasses import replace

from ..project.keeping import Card
from .again import Reached, card_of, reached
from .run import Run
from .situation import TICKS_A_SECOND


class Snapshots:
    """The moments of one run, each at which something happened and each second; about a kilobyte each."""

    def __init__(self, run: Run):
        self._run = run
        self._ticks: list[int] = []
        self._kept: list[Reached] = []
        self.note(happened=True)

    def note(self, *, happened: bool) -> None:
        """Keep the present moment, if anything has happened in it or a second is full."""
        run = self._run
        tick = run.situation.tick
        if not happened and tick % TICKS_A_SECOND:
            return
        now = reached(run)
        if self._kept and self._kept[-1].spots == now.spots:
            now = replace(now, spots=self._kept[-1].spots)
        if self._ticks and self._ticks[-1] == tick:
            self._kept[-1] = now
        else:
            self._ticks.append(tick)
            self._kept.append(now)

    def goes_on_as(self, run: Run) -> None:
        """Another run takes over what this one has come to; its moments stay, as long as they fit it."""
        if len(run.situation.row) != len(self._run.situation.row):
            self._ticks, self._kept = [], []
        self._run = run
        self.note(happened=True)

    def at(self, tick: int) -> Reached:
        """What the run had come to after a tick, or at the last moment kept before it."""
        return self._kept[max(bisect_right(self._ticks, tick) - 1, 0)]

    def card_at(self, tick: int) -> Card:
        """The run as it was after a tick, or at the last moment kept before it, as a start card."""
        return card_of(self._run.situation, self.at(tick))
