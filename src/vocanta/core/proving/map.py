"""The map of the gates: what becomes possible after what, in rounds, in names.

Motions, waits, cells and what nobody would ask for are left out of it; what hangs on them hangs on what they wait for.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Literal, get_args

from ..engine.wording import Words
from ..progress.columns import Column, What
from ..progress.layout import STATUS, Layout
from ..progress.placed import COPY_OF
from ..proof.unfolding import Came, Unfolding, unfolded
from ..proof.verdicts import Worked
from .wording import in_words

Sort = Literal["area", "object", "item", "fact", "ability", "quest", "stage", "objective", "line", "ending"]
SORTS: tuple[Sort, ...] = get_args(Sort)
_STATUSES = {STATUS[s] for s in ("offered", "active", "ready", "done") if s in STATUS}


Told = tuple[Sort, str, str]
"""Of which sort, whose, in words."""


@dataclass(frozen=True, slots=True)
class Gate:
    """Something that becomes possible: in which round, of which sort, whose, in words; by what, and after which others, by
    their numbers in the map. What waits for nothing else waits only for being done."""

    number: int
    round: int
    sort: Sort
    subject: str
    says: str
    by: str
    after: tuple[int, ...]


def map_of(worked: Worked, words: Words) -> list[Gate]:
    """What becomes possible from where a program was worked out from, round by round. Optimistic: see `proof.unfolding`."""
    return _Mapping(worked, words).gates()


class _Mapping:
    def __init__(self, worked: Worked, words: Words):
        self.program, self.words = worked.program, words
        self.layout: Layout = worked.program.layout
        self._first = worked.first
        self.unfolding: Unfolding = unfolded(worked.spread, worked.first)
        self._told: dict[int, Told] = {}
        self._leads: dict[int, frozenset[int]] = {}

    def gates(self) -> list[Gate]:
        """The gates: of an area with several cells the first, of an item the first of it."""
        came = self.unfolding.came
        seen: dict[Told, int] = {}
        numbers: dict[int, int] = {}
        kept: list[tuple[int, Came]] = []
        for fact, one in came.items():
            told = self._say(one)
            if told is None:
                continue
            if told in seen:
                numbers[fact] = seen[told]
                continue
            self._told[fact] = told
            numbers[fact] = seen[told] = len(kept)
            kept.append((fact, one))
        return [self._gate(number, fact, one, numbers) for number, (fact, one) in enumerate(kept)]

    def _gate(self, number: int, fact: int, one: Came, numbers: dict[int, int]) -> Gate:
        sort, subject, says = self._told[fact]
        leads = {lead for after in one.after for lead in self._leading(after, numbers, frozenset({fact}))}
        after = tuple(sorted(leads - {number}))
        return Gate(number, one.round, sort, subject, says, in_words(self.words, one.by), after)

    def _leading(self, fact: int, numbers: dict[int, int], beneath: frozenset[int]) -> frozenset[int]:
        """The gates that a fact is, or hangs on where it is none."""
        if fact in numbers:
            return frozenset({numbers[fact]})
        if fact in beneath or fact not in self.unfolding.came:
            return frozenset()
        if fact not in self._leads:
            after = self.unfolding.came[fact].after
            found = frozenset[int]().union(*(self._leading(a, numbers, beneath | {fact}) for a in after))
            self._leads[fact] = found
        return self._leads[fact]

    def _say(self, one: Came) -> Told | None:
        """What it is, in words; None for what is left out of the map."""
        column, value = self.program.columns[one.column], one.value
        told = _SAYS.get(column.what)
        if told is None or value == column.start:
            return None
        sort, says = told
        return says(self, sort, column, value)

    def area(self, sort: Sort, column: Column, value: int) -> Told | None:
        """That an area is come to, where one is not in it from the start."""
        cells = self.layout.cells.cells
        area = cells[value].area
        here = cells[self._first[self.program.table.at("cell")]].area
        return (sort, area, f"into the {self.words.name(area)}") if area not in ("", here) else None

    def standing(self, sort: Sort, column: Column, value: int) -> Told | None:
        """What stands so by a value."""
        goes = column.what == "exists" and not value
        return None if goes or COPY_OF in column.key else (sort, column.key, self.words.standing(column, value))

    def had(self, sort: Sort, column: Column, value: int) -> Told | None:
        """That an item is had, however many of it; or more of it, where there is some already."""
        name, some = self.words.name(column.key), self._first[self.program.table.at("item", column.key)]
        return sort, column.key, f"more of {name} can be had" if some else f"{name} can be had"

    def status(self, sort: Sort, column: Column, value: int) -> Told | None:
        """What becomes of a quest, as far as it goes on."""
        return self.standing(sort, column, value) if value in _STATUSES else None

    def line(self, sort: Sort, column: Column, value: int) -> Told | None:
        """That a line is open."""
        if value > len(self.layout.speeches):
            return None
        line = self.layout.speeches[value - 1][1]
        return sort, line, f"{self.words.line_start(line)} can be said"


_SAYS: Mapping[What, tuple[Sort, Callable[[_Mapping, Sort, Column, int], Told | None]]] = {
    "cell": ("area", _Mapping.area),
    "state": ("object", _Mapping.standing),
    "exists": ("object", _Mapping.standing),
    "item": ("item", _Mapping.had),
    "fact": ("fact", _Mapping.standing),
    "ability": ("ability", _Mapping.standing),
    "status": ("quest", _Mapping.status),
    "stage": ("stage", _Mapping.standing),
    "met": ("objective", _Mapping.standing),
    "talk": ("line", _Mapping.line),
    "ended": ("ending", _Mapping.standing),
}
