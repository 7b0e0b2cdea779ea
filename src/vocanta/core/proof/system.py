"""A system: columns of a few values each and moves over them, with no meaning left but what can follow what.

What the later stages work on. Sets of values are whole numbers, bit n for value n. A move can be done where each of its
columns has one of some values; it then takes each column that it changes from its value to another, all at once.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

Table = tuple[int, ...]
Situation = tuple[int, ...]


@dataclass(frozen=True, slots=True)
class Move:
    """One thing that can be done. `events`: what happens by it, bit n for event n; `cost`: whether the player does it.

    `then` holds for each column that is changed what each value becomes; values outside `when` are not asked.
    """

    when: tuple[tuple[int, int], ...]
    then: tuple[tuple[int, Table], ...]
    events: int = 0
    cost: int = 0
    clock: bool = False
    """Whether it comes about by itself, in time. Nothing is decided by that."""

    @property
    def touched(self) -> frozenset[int]:
        """The columns it asks or changes."""
        return frozenset(c for c, _ in self.when) | frozenset(c for c, _ in self.then)

    def holds(self, at: Sequence[int]) -> bool:
        """Whether it can be done in a situation."""
        return all(mask >> at[column] & 1 for column, mask in self.when)

    def after(self, at: Sequence[int]) -> Situation:
        """The situation it leads to."""
        new = list(at)
        for column, table in self.then:
            new[column] = table[at[column]]
        return tuple(new)


@dataclass(frozen=True, slots=True)
class Question:
    """What is asked of one quest: whether an event can happen, and whether some values of a column are left behind by it.

    `active`, `out`: in which values of its column the event is still awaited, and in which it was failed or declined.
    """

    key: str
    event: int
    column: int
    active: int
    out: int


@dataclass(frozen=True)
class System:
    """Columns with so many values each, the first situation, the moves, and what is asked."""

    names: tuple[str, ...]
    sizes: tuple[int, ...]
    first: Situation
    moves: tuple[Move, ...]
    questions: tuple[Question, ...] = ()

    @cached_property
    def writers(self) -> Mapping[int, tuple[int, ...]]:
        """For each column the moves that change it."""
        found: dict[int, list[int]] = {n: [] for n in range(len(self.sizes))}
        for number, move in enumerate(self.moves):
            for column, _ in move.then:
                found[column].append(number)
        return {column: tuple(moves) for column, moves in found.items()}

    def cone(self, question: Question) -> frozenset[int]:
        """The columns that a question hangs on: those its event asks, and whatever a change of one of them asks."""
        found = {question.column}
        events = [m for m in self.moves if m.events >> question.event & 1]
        waiting = [question.column, *(c for m in events for c, _ in m.when)]
        found.update(waiting)
        seen: set[int] = set()
        while waiting:
            for number in self.writers[waiting.pop()]:
                if number not in seen:
                    seen.add(number)
                    new = [c for c, _ in self.moves[number].when if c not in found]
                    found.update(new)
                    waiting += new
        return frozenset(found)

    def slice(self, columns: Iterable[int], questions: Iterable[Question]) -> System:
        """What is left of it for some columns: moves that change none of them and bring no event asked for are gone.

        The columns must hold what the moves that stay ask (`cone`).
        """
        kept, asked = sorted(columns), tuple(questions)
        number = {column: n for n, column in enumerate(kept)}
        events = sum(1 << q.event for q in asked)
        moves: dict[Move, None] = {}
        for move in self.moves:
            then = tuple((number[c], table) for c, table in move.then if c in number)
            if then or move.events & events:
                when = tuple((number[c], mask) for c, mask in move.when)
                moves[Move(when, then, move.events & events, move.cost, move.clock)] = None
        return System(
            tuple(self.names[c] for c in kept),
            tuple(self.sizes[c] for c in kept),
            tuple(self.first[c] for c in kept),
            tuple(moves),
            tuple(replace(q, column=number[q.column]) for q in asked),
        )


class Letting:
    """Which of some moves can be done where, found out for all at once."""

    def __init__(self, sizes: Sequence[int], moves: Sequence[Move]):
        lets = [[-1] * size for size in sizes]
        for n, move in enumerate(moves):
            for column, mask in move.when:
                for value in values_in(~mask & (1 << sizes[column]) - 1):
                    lets[column][value] &= ~(1 << n)
        self.all = (1 << len(moves)) - 1
        """All moves, bit n for move n."""
        self.by_column = {column: of for column, of in enumerate(lets) if any(one != -1 for one in of)}
        """For each column that is asked, and each of its values, the moves that it lets."""

    def at(self, at: Sequence[int]) -> Iterator[int]:
        """The numbers of the moves that can be done in a situation, ascending."""
        found = self.all
        for column, of in self.by_column.items():
            found &= of[at[column]]
        return values_in(found)


def values_in(mask: int) -> Iterator[int]:
    """The values of a set, ascending.

    >>> list(values_in(0b1101))
    [0, 2, 3]
    """
    while mask:
        low = mask & -mask
        yield low.bit_length() - 1
        mask ^= low


def loops(arrows: Sequence[Sequence[int]]) -> list[int]:
    """For each node the number of its strongly connected part; arrows lead to lower numbers. Source: Tarjan (1972)."""
    number, low, part = [-1] * len(arrows), [0] * len(arrows), [-1] * len(arrows)
    stack: list[int] = []
    count = parts = 0
    for root in range(len(arrows)):
        if number[root] >= 0:
            continue
        number[root] = low[root] = count
        count += 1
        stack.append(root)
        path = [(root, iter(arrows[root]))]
        while path:
            node, rest = path[-1]
            to = next(rest, -1)
            if to < 0:
                path.pop()
                if path:
                    low[path[-1][0]] = min(low[path[-1][0]], low[node])
                if low[node] == number[node]:
                    while part[node] < 0:
                        part[stack.pop()] = parts
                    parts += 1
            elif number[to] < 0:
                number[to] = low[to] = count
                count += 1
                stack.append(to)
                path.append((to, iter(arrows[to])))
            elif part[to] < 0:
                low[node] = min(low[node], number[to])
    return part
