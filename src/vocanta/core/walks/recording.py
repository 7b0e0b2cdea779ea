"""What a player does in a run, written down by what was meant: walk there, use this, answer so, wait so long."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import replace

import shapely
from shapely.geometry import LineString

from ..engine.chronicle import Entry
from ..engine.inputs import STILL, Input
from ..engine.run import Doing, Run
from ..engine.situation import TICKS_A_SECOND
from ..progress.happenings import Happening
from ..project.keeping import Came, Deed, Pressed

BESIDE_M = 0.2
"""A way is written down to so much."""
SOON_TICKS = 6
"""Whoever stands still for less does not wait."""
_PASSING = frozenset(
    {
        Happening.NEAR,
        Happening.AWAY,
        Happening.CROSSED,
        Happening.HOLD_BEGUN,
        Happening.HOLD_BROKEN,
        Happening.ARRIVED,
        Happening.SOUND,
        Happening.EFFECT,
        Happening.TALK_ENDED,
        Happening.PASSED_OVER,
        Happening.TURNED_BACK,
    }
)
"""What is of a walk's picture and its clock, not of what it came to."""
_Point = tuple[float, float]


def came_of(run: Run, entries: Iterable[Entry]) -> list[Came]:
    """What entries of the present tick say that the walk came to, with where the player is."""
    player, level = run.situation.player, run.situation.level
    found = (e for e in entries if e.what not in _PASSING)
    return [Came(e.tick, e.what.value, e.subject, e.detail[:200], e.text, level, player.x, player.y) for e in found]


class Recorder:
    """Writes down one run as it goes: `note` after every tick of it.

    | state | what may happen | next |
    |---|---|---|
    | standing | the player walks | walking |
    | standing | the player does something | standing; what was waited is a deed |
    | walking | the player stops, or does something | standing; the way is a deed for each bend |
    """

    def __init__(self, run: Run):
        self.run = run
        self.came: list[Came] = []
        self.pressed: list[Pressed] = []
        self._steady = STILL
        self._deeds: list[Deed] = []
        self._way: list[_Point] = []
        self._idle = 0
        self._holding: dict[str, tuple[int, int]] = {}
        """The hold of each control: which deed it is, and the tick at which it began."""
        self._level, self._at = run.situation.level, (run.situation.player.x, run.situation.player.y)

    def note(self, given: Input | None, entries: Sequence[Entry]) -> None:
        """Take in a tick: the input that came in it, None where the last went on, and what happened."""
        run, player = self.run, self.run.situation.player
        self.came += came_of(run, entries)
        if given is not None and given != self._steady:
            self.pressed.append(Pressed(run.situation.tick, given.as_data()))
            self._steady = Input(move=given.move)
        here = player.x, player.y
        if run.situation.level != self._level or any(e.what in _LANDED for e in entries):
            self._leave(entries)
        elif here != self._at:
            self._walk(here)
        elif not run.doing and not self._holding:
            self._idle += 1
        self._level, self._at = run.situation.level, here
        for one in run.doing:
            self._flush()
            self._deeds.append(self._deed(one))
        self._end_holds(entries)

    def goes_on_as(self, run: Run, entries: Sequence[Entry]) -> None:
        """Another run takes over, with values tried; what that brought about is written down, too."""
        self.run = run
        self.came += came_of(run, entries)

    def deeds(self) -> tuple[Deed, ...]:
        """What was done so far; what is under way is written down as far as it has come."""
        flushed = self._flushed()
        waited = [_waited(self._idle)] if self._idle >= SOON_TICKS else []
        return (*self._deeds, *flushed, *waited)

    # --- walking and waiting

    def _walk(self, here: _Point) -> None:
        if not self._way:
            self._wait()
            self._way = [self._at]
        self._idle = 0
        self._way.append(here)

    def _wait(self) -> None:
        if self._idle >= SOON_TICKS:
            self._deeds.append(_waited(self._idle))
        self._idle = 0

    def _flush(self) -> None:
        """The way so far as deeds, then what was waited after it."""
        self._deeds += self._flushed()
        self._way = []
        self._wait()

    def _flushed(self) -> list[Deed]:
        if len(self._way) < 2:
            return []
        bends = shapely.get_coordinates(LineString(self._way).simplify(BESIDE_M))[1:]
        return [Deed("go", level=self._level, x_m=round(float(x), 3), y_m=round(float(y), 3)) for x, y in bends]

    def _leave(self, entries: Sequence[Entry]) -> None:
        """The player has come to stand elsewhere: by an exit that was walked into, or by something that moved the player."""
        exit = next((e.origin.rpartition("/")[2] for e in entries if e.what is Happening.MOVED and _by_exit(e)), "")
        self._deeds += self._flushed()
        self._way = []
        if exit:
            self._deeds.append(Deed("go", exit, level=self._level, x_m=self._at[0], y_m=self._at[1]))
        self._wait()

    # --- deeds

    def _deed(self, one: Doing) -> Deed:
        """A deed where the player stands; of an object also by how much that is off it."""
        run, player = self.run, self.run.situation.player
        off = 0.0, 0.0
        if one.at in run.situation.layout.placed:
            place = run.places.place_of(one.at)
            off = round(player.x - place.x, 3), round(player.y - place.y, 3)
        if one.do == "hold":
            self._holding[one.what] = len(self._deeds), run.situation.tick
        stands = run.situation.level, player.x, player.y, player.facing_deg
        refused = any(e.tick == run.situation.tick and e.what in _REFUSED for e in run.chronicle[-8:])
        return Deed(one.do, one.at, one.what, one.words, *stands, *off, came=not refused)

    def _end_holds(self, entries: Sequence[Entry]) -> None:
        """A hold that was let go lasted so long; one that was broken came to nothing."""
        for control, (number, begun) in list(self._holding.items()):
            hold = self.run.holds.by_control.get(control)
            if hold is None or hold.done:
                old, seconds = self._deeds[number], (self.run.situation.tick - begun) / TICKS_A_SECOND
                broken = any(e.what is Happening.HOLD_BROKEN and e.subject == old.at for e in entries)
                self._deeds[number] = replace(old, seconds=round(seconds, 2), came=old.came and not broken)
                del self._holding[control]


_LANDED = frozenset({Happening.MOVED, Happening.PLAYER_DOWNED})
_REFUSED = frozenset({Happening.UNMET, Happening.REFUSED, Happening.COOLING, Happening.MISSED, Happening.NOT_ALLOWED})


def _by_exit(entry: Entry) -> bool:
    return entry.origin.rpartition("/")[0].endswith("exit")


def _waited(ticks: int) -> Deed:
    return Deed("wait", seconds=math.floor(ticks / TICKS_A_SECOND * 100) / 100)
