"""The map of the gates: what becomes possible after what, in rounds, in names.

Motions, waits, cells and what nobody would ask for are left out of it; what hangs on them hangs on what they wait for.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal, get_args

from ..engine.wording import Words
from ..progress.layout import STATUS, Layout
from ..proof.unfolding import Came, Unfolding, unfolded
from ..proof.verdicts import Worked
from .wording import in_words

Sort = Literal["area", "object", "item", "fact", "ability", "quest", "stage", "objective", "line", "ending"]
SORTS: tuple[Sort, ...] = get_args(Sort)
_STATUSES = {STATUS[s] for s in ("offered", "active", "ready", "done") if s in STATUS}


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
        self._told: dict[int, tuple[Sort, str, str]] = {}
        self._leads: dict[int, frozenset[int]] = {}

    def gates(self) -> list[Gate]:
        """The gates: of an area with several cells the first, of an item the first of it."""
        came = self.unfolding.came
        seen: dict[tuple[Sort, str, str], int] = {}
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

    def _say(self, one: Came) -> tuple[Sort, str, str] | None:
        """What it is, in words; None for what is left out of the map."""
        column, value = self.program.columns[one.column], one.value
        key, standing = column.key, self.words.standing(column, value)
        match column.what:
            case "cell":
                area = self.layout.cells.cells[value].area
                here = self.layout.cells.cells[self._first[one.column]].area
                return ("area", area, f"into the {self.words.name(area)}") if area not in ("", here) else None
            case "state":
                return "object", key, standing
            case "exists" if value and "@" not in key:
                return "object", key, standing
            case "item" if value:
                return "item", key, f"{self.words.name(key)} can be had"
            case "fact" if value != column.start:
                return "fact", key, standing
            case "ability" if value:
                return "ability", key, standing
            case "status" if value in _STATUSES:
                return "quest", key, standing
            case "stage" if value:
                return "stage", key, standing
            case "met" if value:
                return "objective", key, standing
            case "talk" if 0 < value <= len(self.layout.speeches):
                line = self.layout.speeches[value - 1][1]
                return "line", line, f"{self.words.line_start(line)} can be said"
            case "ended" if value:
                return "ending", "", standing
            case _:
                return None
