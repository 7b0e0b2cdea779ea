"""Columns: the variables of progress, each a small whole number with limits and an origin."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np
import numpy.typing as npt

Rows = npt.NDArray[np.int32]
"""Situations: shape (rows, columns)."""
What = Literal[
    "cell",
    "entry",
    "place",
    "stood",
    "ended",
    "ending",
    "exists",
    "state",
    "moving",
    "queued",
    "uses",
    "cooling",
    "down",
    "near",
    "touching",
    "looking",
    "mark",
    "carrier",
    "exit",
    "item",
    "gear",
    "fact",
    "ability",
    "ability_uses",
    "suspended",
    "money",
    "experience",
    "status",
    "stage",
    "completions",
    "met",
    "count",
    "counted",
    "limit",
    "talk",
    "talk_at",
    "talk_waiting",
    "waiting_at",
    "heard",
    "chosen",
    "tally",
    "role",
    "later",
    "waits",
    "in_reach",
    "reach_by",
    "in_way",
    "way_by",
    "looked_at",
    "aimed_at",
    "chance",
    "whereabouts",
]
Class = Literal["progress", "place", "sensed", "tracking", "motion", "clock"]
_CLASSES: dict[Class, tuple[What, ...]] = {
    "place": ("cell", "entry", "place", "stood"),
    "sensed": ("in_reach", "reach_by", "in_way", "way_by", "looked_at", "aimed_at", "chance", "whereabouts"),
    "tracking": ("tally", "heard", "chosen", "count", "counted"),
    "motion": ("moving", "queued"),
    "clock": ("cooling", "waits", "later", "ending", "carrier", "limit"),
}
_CLASS_OF: dict[What, Class] = {what: name for name, whats in _CLASSES.items() for what in whats}


@dataclass(frozen=True, slots=True)
class Column:
    """One variable: what it says, and of which key; `origin` is the place in the project it comes from; `of` the object
    whose own it is, which starts over with it."""

    what: What
    key: str
    lowest: int
    highest: int
    start: int
    origin: str
    of: str = ""

    @property
    def name(self) -> str:
        """How the column is called from outside; never taken apart."""
        return f"{self.what}:{self.key}" if self.key else self.what

    @property
    def belongs(self) -> Class:
        """Which class of columns it is one of."""
        return _CLASS_OF.get(self.what, "progress")

    @property
    def sensed(self) -> bool:
        """Whether the engine writes it before an action, so that it is no part of a situation."""
        return self.belongs == "sensed"


class ColumnTable:
    """Columns in order, found by what and key. Built once by the compiler, then only read."""

    def __init__(self) -> None:
        self.columns: list[Column] = []
        self._numbers: dict[tuple[What, str], int] = {}
        self._names: dict[str, int] = {}
        self._own: dict[str, list[int]] = {}

    def add(self, column: Column) -> int:
        """Take a column in; its number. One is taken in once."""
        assert (column.what, column.key) not in self._numbers, column.name
        number = self._numbers[column.what, column.key] = self._names[column.name] = len(self.columns)
        self.columns.append(column)
        if column.of:
            self._own.setdefault(column.of, []).append(number)
        return number

    def at(self, what: What, key: str = "") -> int:
        """The number of a column. Raises `KeyError` where there is none."""
        return self._numbers[what, key]

    def find(self, what: What, key: str = "") -> int | None:
        """The number of a column, None where there is none."""
        return self._numbers.get((what, key))

    def own(self, key: str) -> tuple[int, ...]:
        """The columns that are an object's own."""
        return tuple(self._own.get(key, ()))

    def number(self, name: str) -> int:
        """The number of a column by the name it has outside. Raises `KeyError` for an unknown name."""
        return self._names[name]

    def has(self, name: str) -> bool:
        """Whether there is a column of that name."""
        return name in self._names
