"""Every way to play, gone through one by one by the very walk that a playtest uses: what a proof is held against."""

from __future__ import annotations

import functools
import heapq
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from tests.core.random_projects import random_project
from vocanta.core.progress.compiling import compiled
from vocanta.core.progress.happenings import Happening
from vocanta.core.progress.layout import STATUS
from vocanta.core.progress.onerow import RowOutcome, RowWalk
from vocanta.core.progress.program import Action, Program
from vocanta.core.project.records import Project
from vocanta.core.proof.flats import ENDS
from vocanta.core.proof.places import Places, holds_one
from vocanta.core.proof.values import is_counted
from vocanta.core.proof.verdicts import Worked, worked_out

MOST = 500
"""A random project with more situations is not gone through: there are enough."""
Row = tuple[int, ...]
Led = tuple[Row, frozenset[tuple[str, str]]]


class _Row(list):
    """A row whose free columns are chosen as they are asked; what else they could have been is to be gone yet."""

    def __init__(self, values: Sequence[int], free: frozenset[int], can, answers: list[int]):
        super().__init__(values)
        self._free, self._can, self._answers = free, can, list(answers)
        self._known: set[int] = set()
        self.to_go: list[list[int]] = []

    def __getitem__(self, number):
        if number in self._free and number not in self._known:
            asked, values = len(self._known), self._can(number)
            if asked == len(self._answers):
                self.to_go += [[*self._answers, value] for value in values[1:]]
                self._answers.append(values[0])
            self._known.add(number)
            self[number] = self._answers[asked]
        return super().__getitem__(number)


@dataclass
class Plain:
    """One program gone through plainly. `counts`: the columns by which situations are told apart."""

    program: Program
    places: Places
    counts: frozenset[int]

    def __post_init__(self) -> None:
        program = self.program
        self.heard = self.places.heard(program)
        self.free = frozenset(n for n in program.sensed if n not in program.sensed_actions or n not in self.counts)
        self.kept = sorted(self.counts - self.free)

    def led(self, row: Sequence[int], action: Action) -> set[Led]:
        """All that an action can lead to from a row, with the ends that quests come to by it."""
        if row[self.program.ended] or not self._may(row, action):
            return set()
        found: set[Led] = set()
        to_go: list[list[int]] = [[]]
        while to_go:
            taken = _Row(row, self.free, lambda n: self._values(row, n), to_go.pop())
            outcomes = self._act(taken, row, action)
            to_go += taken.to_go
            ends = frozenset(end for outcome in outcomes for end in _ends(outcome))
            after = tuple(row[n] if n in self.free or n not in self.counts else v for n, v in enumerate(list(taken)))
            if ends or after != tuple(row):
                found.add((after, ends))
        return found

    def _may(self, row: Sequence[int], action: Action) -> bool:
        if action.kind == "sensed":
            number = self.program.table.number(action.control)
            return self.places.allows(self.program.columns[number], 1 - row[number], row)
        if action.kind == "cross":
            surely = self.places.surely_in(self.program, int(action.name.partition(":")[2]))
            return all(row[n] == spans[0][0] for n, spans in surely.items() if n in self.counts)
        return holds_one(self.places.whens_of(action), row)

    def _act(self, taken: _Row, row: Sequence[int], action: Action) -> list[RowOutcome]:
        walk = RowWalk(self.program, taken)
        if action.kind == "sensed":
            number = self.program.table.number(action.control)
            taken[number] = 1 - row[number]
            outcomes = [walk.sensed(number, row[number])]
        else:
            outcomes = [walk.act(action, attempt=action.tried is not None or action.kind == "resume")]
        changed = {n for outcome in outcomes for n in outcome.changed}
        for one in () if taken[self.program.ended] else self.heard:
            elsewhere = any(n in changed for when in one.whens for n in when)
            stands = elsewhere and one.column in self.counts and taken[one.column] == one.value
            if stands and not holds_one(one.whens, taken):
                taken[one.column] = 1 - one.value
                outcomes.append(RowWalk(self.program, taken).sensed(one.column, one.value))
        return outcomes

    def _values(self, row: Sequence[int], number: int) -> list[int]:
        column = self.program.columns[number]
        return [v for v in range(column.lowest, column.highest + 1) if self.places.allows(column, v, row)]

    # --- all of it

    def arrows(self, row: Row) -> Iterator[tuple[Action, Row, frozenset[tuple[str, str]]]]:
        """Everything that can be done in a situation."""
        for action in self.program.actions:
            if action.kind != "sensed" or self.program.table.number(action.control) in self.counts:
                for after, ends in self.led(row, action):
                    yield action, after, ends

    def explored(self, first: Row, most: int) -> Explored | None:
        """All situations, each with how few things the player has to do to come to it; None where they are too many."""
        start = tuple(0 if n in self.free else v for n, v in enumerate(first))
        least, waiting = {start: 0}, [(0, start)]
        before: dict[Row, list[Row]] = {}
        ends: dict[tuple[str, str], dict[Row, int]] = {}
        while waiting:
            cost, here = heapq.heappop(waiting)
            if cost > least[here]:
                continue
            if len(least) > most:
                return None
            for action, to, its in self.arrows(here):
                price = cost + is_counted(action)
                for end in its:
                    known = ends.setdefault(end, {})
                    known[here] = min(price, known.get(here, price))
                if to != here and not to[self.program.ended]:
                    before.setdefault(to, []).append(here)
                    if price < least.get(to, price + 1):
                        least[to] = price
                        heapq.heappush(waiting, (price, to))
        return Explored(self, least, before, ends)


@dataclass
class Explored:
    """What came of it."""

    plain: Plain
    least: dict[Row, int]
    before: dict[Row, list[Row]]
    ends: dict[tuple[str, str], dict[Row, int]]

    def shortest(self, quest: str, end: str = "done") -> int | None:
        """How few things the player has to do until a quest has ended so; None for never."""
        return min(self.ends.get((quest, end), {}).values(), default=None)

    def left(self, quest: str) -> list[Row]:
        """The situations from which a quest can never be done any more."""
        still = set(self.ends.get((quest, "done"), {}))
        waiting = list(still)
        while waiting:
            for one in self.before.get(waiting.pop(), ()):
                if one not in still:
                    still.add(one)
                    waiting.append(one)
        return [row for row in self.least if row not in still]

    def left_at(self, quest: str, *statuses: str) -> int | None:
        """How few things lead to where it stands at one of some statuses and can never be done; None for never."""
        column = self.plain.program.table.at("status", quest)
        wanted = {STATUS[s] for s in statuses}
        return min((self.least[row] for row in self.left(quest) if row[column] in wanted), default=None)


@dataclass(frozen=True)
class Small:
    """A random project worked out, and gone through where it is small enough."""

    project: Project
    program: Program
    worked: Worked
    explored: Explored | None


@functools.cache
def small(seed: int) -> Small:
    """The random project of a seed: the same to all tests, as none of them changes it."""
    project = random_project(seed)
    program = compiled(project)
    worked = worked_out(program, [q.key for q in project.quests])
    every = Plain(program, worked.places, worked.spread.counts).explored(worked.first, MOST)
    return Small(project, program, worked, every)


def _ends(outcome: RowOutcome) -> Iterator[tuple[str, str]]:
    for told, _ in outcome.told:
        status = str(dict(told.details).get("status", ""))
        if told.what is Happening.QUEST and status in ENDS:
            yield told.subject, status
