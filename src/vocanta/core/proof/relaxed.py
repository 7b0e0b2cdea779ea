"""What a system may do if every value, once come to, stays: more than it can, and found out at once.

What cannot happen even so cannot happen. Source: the delete relaxation of planning (Bonet and Geffner, 2001), and the ways
in it (Hoffmann and Nebel, 2001).
"""

from __future__ import annotations

from collections import deque
from collections.abc import Sequence
from dataclasses import dataclass, field

from .system import Move, System, values_in

Value = tuple[int, int]
"""A column and one of its values."""


@dataclass
class _Come:
    """What has been come to: for each value by which move and from which value, None for those of the start."""

    by: dict[Value, tuple[int, Value] | None]
    missing: list[int]
    """For each move how many of the columns that it asks have no value yet that it lets."""
    needs: list[list[Value]]
    """For each move the first such value of each column."""
    events: int = 0
    last: int | None = None
    """The move that brought what was waited for."""
    waiting: deque[Value] = field(default_factory=deque)


class Relaxed:
    """A system in which values stay. What was laid out for one question serves the next."""

    def __init__(self, system: System):
        self._system = system
        self._lets: list[list[list[tuple[int, bool, tuple[int, ...] | None]]]] = [
            [[] for _ in range(s)] for s in system.sizes
        ]
        """For each column and value the moves that let it: whether they ask the column, and to what they change it."""
        self._asks = [len(move.when) for move in system.moves]
        for n, move in enumerate(system.moves):
            when, then = dict(move.when), dict(move.then)
            for column in move.touched:
                for value in values_in(when.get(column, (1 << system.sizes[column]) - 1)):
                    self._lets[column][value].append((n, column in when, then.get(column)))

    def events(self, at: Sequence[int]) -> int:
        """The events that may happen from a situation on, bit n for event n: at least those that can."""
        return self._come(at, 0).events

    def way(self, at: Sequence[int], event: int) -> list[Move]:
        """The moves of a short way to an event, each behind what it needs; empty where there is none.

        In truth one of them may undo what another needs.
        """
        come = self._come(at, 1 << event)
        if come.last is None:
            return []
        needed, waiting = set[Value](), list(come.needs[come.last])
        while waiting:
            value = waiting.pop()
            by = come.by[value]
            if by is not None and value not in needed:
                needed.add(value)
                waiting += [by[1], *come.needs[by[0]]]
        # Values came in such an order that each is behind what its move needs.
        moves = dict.fromkeys(by[0] for value, by in come.by.items() if by is not None and value in needed)
        return [self._system.moves[n] for n in dict.fromkeys([*moves, come.last])]

    def _come(self, at: Sequence[int], until: int) -> _Come:
        """Everything that may be come to, in the order of how far it is; no farther than one of some events."""
        moves = self._system.moves
        come = _Come(dict.fromkeys(enumerate(at)), list(self._asks), [[] for _ in moves])
        come.waiting.extend(enumerate(at))
        for number, asks in enumerate(self._asks):
            if not asks and self._done(come, number, until):
                return come
        while come.waiting:
            column, value = come.waiting.popleft()
            for number, asked, table in self._lets[column][value]:
                if asked and not any(c == column for c, _ in come.needs[number]):
                    come.missing[number] -= 1
                    come.needs[number].append((column, value))
                    if not come.missing[number] and self._done(come, number, until):
                        return come
                elif not come.missing[number] and table is not None:
                    self._add(come, (column, table[value]), number, (column, value))
        return come

    def _done(self, come: _Come, number: int, until: int) -> bool:
        """Do a move for the first time; whether it brings what was waited for."""
        move = self._system.moves[number]
        come.events |= move.events
        if move.events & until:
            come.last = number
            return True
        asks = dict(move.when)
        for column, table in move.then:
            mask = asks.get(column, -1)
            for value, to in enumerate(table):
                if to != value and mask >> value & 1 and (column, value) in come.by:
                    self._add(come, (column, to), number, (column, value))
        return False

    @staticmethod
    def _add(come: _Come, value: Value, number: int, before: Value) -> None:
        if value not in come.by:
            come.by[value] = number, before
            come.waiting.append(value)
