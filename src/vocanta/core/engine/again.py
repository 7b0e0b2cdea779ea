"""Starting again from a moment of a run, in the same project or in a later state of it.

What is kept is what the run has come to: everything of progress and of what is counted, by the names that columns have
outside and the names of their values, and where what can be moved lies. What was under way (a talk, a motion, a wait, a
cool-down) is not; a time limit that ran begins anew, and who walks about begins where he was placed.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass
from typing import Any

from ..progress.as_if import PASSING
from ..progress.columns import Column
from ..progress.layout import Layout
from ..progress.program import Program
from ..project.records import Project
from .run import Spot, Start
from .situation import Situation
from .standing import free_near
from .wording import Words

_DERIVED = frozenset({"cell", "entry", "place", "stood", "ended", "ending", "carrier", "later"})
"""Columns that follow from where things are, or from what is under way."""


@dataclass(frozen=True, slots=True)
class Kept:
    """One value that a run had come to: its column, the value, the name of the value where it has one, and in words."""

    column: str
    value: int
    named: str
    says: str


@dataclass(frozen=True, slots=True)
class Moment:
    """What is kept of a moment of a run. Metres, degrees."""

    level: str
    x: float
    y: float
    facing_deg: float
    kept: tuple[Kept, ...] = ()
    spots: tuple[Spot, ...] = ()

    @classmethod
    def of(cls, here: Situation) -> Moment:
        """The present moment of a run."""
        kept = tuple(
            Kept(column.name, value, _named(here.layout, column, value), _says(here.words, column, value))
            for column, value in zip(here.program.columns, here.row, strict=True)
            if value != column.start and not column.sensed and column.what not in (*PASSING, *_DERIVED)
        )
        spots = tuple(
            Spot(key, spot.level, spot.x, spot.y, spot.turn_deg)
            for key, spot in here.spots.items()
            if here.layout.find("place", key) is not None
            and (spot.level, spot.x, spot.y, spot.turn_deg) != _placed(here.layout, key)
        )
        player = here.player
        return cls(here.level, player.x, player.y, player.facing_deg, kept, spots)

    def start(self, project: Project, program: Program, seed: int) -> tuple[Start, list[str]]:
        """The start of a run in a state of the project, and what had to be left out or done otherwise, in words."""
        left_out: list[str] = []
        puts = []
        for one in self.kept:
            value = _value_now(program, one)
            if value is not None:
                puts.append((one.column, value))
            elif one.says:
                left_out.append(one.says)
        movable = {key: _placed(program.layout, key) for key in program.layout.placed}
        levels = {level.key for level in project.levels}
        spots = tuple(s for s in self.spots if s.key in movable and s.level in levels)
        if self.level not in levels:
            return Start(puts=tuple(puts), spots=spots, seed=seed), [*left_out, "the level you stood in"]
        free = free_near(project, self.level, self.x, self.y, dict(puts))
        x, y = free or (None, None)
        if free is None or math.dist(free, (self.x, self.y)) > 0:
            left_out.append("the very spot where you stood, since nobody can stand there now")
        return Start(x, y, self.facing_deg, tuple(puts), self.level, seed, spots), list(dict.fromkeys(left_out))


def _placed(layout: Layout, key: str) -> tuple[str, float, float, float]:
    one = layout.placed[key]
    return one.level, one.thing.x_m, one.thing.y_m, one.thing.turn_deg


def _says(words: Words, column: Column, value: int) -> str:
    said = words.column(column, value)
    if column.what == "exists":
        said = "is gone" if not value else "is there"
    return f"{words.name(column.key or column.what)} {said}" if said else ""


def _names(layout: Layout, column: Column) -> Mapping[int, str]:
    """The names that the values of a column have, where they have any: their numbers change when others are added."""
    key = column.key
    named: dict[str, Callable[[], Iterable[str]]] = {
        "state": lambda: [s.key for s in layout.placed[key].design.states],
        "stage": lambda: [s.key for s in layout.quests[key].stages],
        "role": lambda: ["", *layout.mentions.fillings.get(key, ())],
        "gear": lambda: ["", *layout.slots[key]],
    }
    return dict(enumerate(named[column.what]())) if column.what in named else {}


def _named(layout: Layout, column: Column, value: int) -> str:
    return _names(layout, column).get(value, "")


def _value_now(program: Program, kept: Kept) -> int | None:
    """The value in a state of a project; None where it has no such column, or no value of that name."""
    try:
        column = program.columns[program.table.number(kept.column)]
    except KeyError:
        return None
    if not kept.named:
        return min(max(kept.value, column.lowest), column.highest)
    return next((number for number, name in _names(program.layout, column).items() if name == kept.named), None)


def as_data(moment: Moment) -> dict[str, Any]:
    """A moment as plain data."""
    return {
        "level": moment.level,
        "at": [moment.x, moment.y, moment.facing_deg],
        "kept": [[k.column, k.value, k.named, k.says] for k in moment.kept],
        "spots": [[s.key, s.level, s.x, s.y, s.turn_deg] for s in moment.spots],
    }


def from_data(data: Mapping[str, Any]) -> Moment:
    """A moment from the data of `as_data`."""
    kept, spots = tuple(Kept(*one) for one in data["kept"]), tuple(Spot(*one) for one in data["spots"])
    x, y, facing_deg = data["at"]
    return Moment(data["level"], x, y, facing_deg, kept, spots)
