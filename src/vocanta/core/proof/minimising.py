"""Fewer situations that answer the same: a few columns are joined to one, whose values nothing else tells apart are one.

A *component* is a column that stands for several. The label of a step within it is what the move asks of, and does to,
everything outside, with its events; a step with nothing outside is silent. Two values are one where they are branching
bisimilar (Van Glabbeek and Weijland, 1996): each can do what the other can, after silent steps within the same, to the same.
That keeps whether an event can still happen from wherever one is, so *can*, *stuck* and *lost*; not whether it must.
Signatures as of Blom and Orzan (2003).
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property
from itertools import product

from ..project.noting import Note, unnoted
from .system import Move, Question, Situation, System, Table, loops, values_in

MOST_EXPLORED = 400
"""A product with more values within is not joined."""
MOST_KEPT = 60
"""Nor is one that comes down to more than this."""
WORTH = 0.7
"""A join that leaves more than this share of the product is made only where that is small."""
SMALL = 16
Outside = tuple[tuple[tuple[int, int], ...], tuple[tuple[int, Table], ...], int, int]
"""What a step asks of and does to everything else: its *when*, its *then*, its events and its cost."""
SILENT: Outside = ((), (), 0, 0)


@dataclass(frozen=True)
class Joining:
    """How the values of some columns became those of one: `columns` to `into`, by the tuple of their values."""

    columns: tuple[int, ...]
    into: int
    classes: Mapping[Situation, int]


@dataclass(frozen=True)
class Minimised:
    """A system brought down, and the joins that led there, in order. Columns that were joined away keep one value."""

    system: System
    joinings: tuple[Joining, ...] = ()

    def of(self, at: Sequence[int]) -> Situation | None:
        """The situation that one of the first system became; None where it was never come to in what was joined."""
        row = [0] * len(at)
        for part in self._parts:
            found = part.of(tuple([at[c] for c in part.columns]))
            if found is None:
                return None
            row[part.into] = found
        return tuple(row)

    @cached_property
    def _parts(self) -> tuple[_Part, ...]:
        """What each column that is left was made of."""
        parts = {n: _Part(n, (n,), ()) for n in range(len(self.system.sizes))}
        for joining in self.joinings:
            its = [parts.pop(c) for c in joining.columns]
            columns = tuple(c for one in its for c in one.columns)
            joinings = tuple(j for one in its for j in one.joinings)
            parts[joining.into] = _Part(joining.into, columns, (*joinings, joining))
        return tuple(parts.values())


@dataclass(frozen=True)
class _Part:
    """A column that is left, the first columns that it was made of, and how; what was asked before is known."""

    into: int
    columns: tuple[int, ...]
    joinings: tuple[Joining, ...]
    _known: dict[Situation, int | None] = field(default_factory=dict)

    def of(self, at: Situation) -> int | None:
        """The value that some of its columns became together; None where these were never come to."""
        if at not in self._known:
            row = dict(zip(self.columns, at, strict=True))
            for joining in self.joinings:
                found = joining.classes.get(tuple([row[c] for c in joining.columns]))
                if found is None:
                    self._known[at] = None
                    return None
                row[joining.into] = found
            self._known[at] = row[self.into]
        return self._known[at]


def minimised(system: System, costs: bool = False, note: Note = unnoted) -> Minimised:
    """A system in which every question has the same answers. `costs`: shortest routes stay as long as well.

    Deterministic. Cost: some milliseconds for each join tried.
    """
    work = _Work(system, costs)
    work.single()
    rounds = 0
    while work.round():
        rounds += 1
        note("Putting together what hangs together", rounds, rounds + 1)
    return Minimised(work.system(), tuple(work.joinings))


class _Work:
    """The system while it is brought down. Moves are kept by number, so that a join touches only those of its columns."""

    def __init__(self, system: System, costs: bool):
        self.first_system, self.costs = system, costs
        self.sizes, self.first = list(system.sizes), list(system.first)
        self.moves: dict[int, Move] = {}
        self.by_column: dict[int, set[int]] = {n: set() for n in range(len(self.sizes))}
        self._numbers: dict[Move, int] = {}
        self._next = 0
        for move in system.moves:
            self._add(move if costs else replace(move, cost=0))
        self.colours = [dict[int, int]() for _ in self.sizes]
        """For each column that a question looks at the colour of each value."""
        self.needed = [0] * len(self.sizes)
        """For each column the questions that hang on it, bit n for question n."""
        self.asked: dict[int, int] = {}
        """For each column the questions that look at it."""
        for n, question in enumerate(system.questions):
            for column in system.cone(question):
                self.needed[column] |= 1 << n
            self._colour(n, question)
        self.joinings: list[Joining] = []
        self.tried: dict[frozenset[int], int] = {}
        """Joins that came to too much, with how many moves touched them then."""
        self.questions = list(system.questions)

    def _colour(self, number: int, question: Question) -> None:
        column = question.column
        self.asked[column] = self.asked.get(column, 0) | 1 << number
        colours = self.colours[column]
        for value in range(self.sizes[column]):
            here = (question.active >> value & 1) + 2 * (question.out >> value & 1)
            colours[value] = colours.get(value, 0) * 4 + here

    # --- moves

    def _add(self, move: Move) -> None:
        if move in self._numbers or not (move.then or move.events):
            return
        self._numbers[move] = self._next
        self.moves[self._next] = move
        for column in move.touched:
            self.by_column[column].add(self._next)
        self._next += 1

    def _drop(self, number: int) -> None:
        move = self.moves.pop(number)
        del self._numbers[move]
        for column in move.touched:
            self.by_column[column].discard(number)

    # --- joining

    def single(self) -> None:
        """Bring down every column by itself."""
        for column in range(len(self.sizes)):
            if self.sizes[column] > 1:
                self.join((column,))

    def round(self) -> bool:
        """Join what hangs together most, each column at most once; whether anything was joined."""
        taken: set[int] = set()
        joined = False
        for _, one, other in sorted(self._worth()):
            if one in taken or other in taken:
                continue
            if self.join((one, other)):
                taken |= {one, other}
                joined = True
        return joined

    def _worth(self) -> Iterator[tuple[float, int, int]]:
        """The pairs that may be joined, the best first: moves shared for each touched, and for each value."""
        seen: set[tuple[int, int]] = set()
        for move in self.moves.values():
            touched = sorted(c for c in move.touched if self.sizes[c] > 1)
            for i, one in enumerate(touched):
                for other in touched[i + 1 :]:
                    if (one, other) not in seen:
                        seen.add((one, other))
                        if self._may(one, other):
                            yield self._price(one, other), one, other

    def _price(self, one: int, other: int) -> float:
        a, b = self.by_column[one], self.by_column[other]
        return -len(a & b) / len(a | b) / (self.sizes[one] + self.sizes[other])

    def _may(self, one: int, other: int) -> bool:
        if self.needed[one] != self.needed[other] or (one in self.asked and other in self.asked):
            return False
        if self.sizes[one] * self.sizes[other] > 8 * MOST_EXPLORED:
            return False
        touched = len(self.by_column[one] | self.by_column[other])
        return self.tried.get(frozenset((one, other))) != touched

    def join(self, columns: tuple[int, ...]) -> bool:
        """Make one column of some where that comes to few enough values; whether it did."""
        touching = sorted(set().union(*(self.by_column[c] for c in columns)))
        local = _Local(self, columns, [self.moves[n] for n in touching])
        product_of = math.prod(self.sizes[c] for c in columns)
        most = product_of - 1 if len(columns) == 1 else max(SMALL, min(MOST_KEPT, int(WORTH * product_of)))
        classes = local.classes(most) if local.explored() else None
        if classes is None:
            self.tried[frozenset(columns)] = len(touching)
            return False
        into = columns[0]
        moves = list(local.moves(classes, into))
        for number in touching:
            self._drop(number)
        self._became(columns, local, classes)
        for move in moves:
            self._add(move)
        return True

    def _became(self, columns: tuple[int, ...], local: _Local, classes: Sequence[int]) -> None:
        into = columns[0]
        colours = {}
        for state, found in zip(local.states, classes, strict=True):
            colours[found] = local.colour(state)
        asked = [c for c in columns if c in self.asked]
        for column in columns:
            self.sizes[column], self.first[column], self.colours[column] = 1, 0, {}
        self.sizes[into], self.first[into] = max(classes) + 1, classes[0]
        if asked:
            self._asked_of(asked[0], into, local, classes)
            self.colours[into] = colours
        by_state = dict(zip(local.states, classes, strict=True))
        self.joinings.append(Joining(columns, into, by_state))

    def _asked_of(self, before: int, into: int, local: _Local, classes: Sequence[int]) -> None:
        """The questions that look at a column look at the one that it became."""
        numbers = self.asked.pop(before)
        self.asked[into] = numbers
        at = local.columns.index(before)
        for n in values_in(numbers):
            question = self.questions[n]
            active = out = 0
            for state, found in zip(local.states, classes, strict=True):
                active |= (question.active >> state[at] & 1) << found
                out |= (question.out >> state[at] & 1) << found
            self.questions[n] = replace(question, column=into, active=active, out=out)

    def system(self) -> System:
        """What it came to."""
        of = self.first_system
        moves = tuple(self.moves[n] for n in sorted(self.moves))
        return System(of.names, tuple(self.sizes), tuple(self.first), moves, tuple(self.questions))


class _Local:
    """A few columns with the moves that touch them: the values they come to together, and the steps between these.

    Labels are bits: each that of the first step that has it.
    """

    def __init__(self, work: _Work, columns: tuple[int, ...], moves: Sequence[Move]):
        self.columns, self._colours = columns, [work.colours[c] for c in columns]
        self._sizes = [work.sizes[c] for c in columns]
        self.first = tuple(work.first[c] for c in columns)
        self._costs = work.costs
        labels: dict[Outside, list[int]] = {}
        insides: dict[tuple[Table | None, ...], int] = {}
        self._can = [[0] * size for size in self._sizes]
        """For each column and value the steps that it lets, bit n for step n."""
        for n, move in enumerate(moves):
            labels.setdefault(self._outside(move), []).append(n)
            when, then = dict(move.when), dict(move.then)
            tables = tuple([then.get(c) for c in columns])
            insides[tables] = insides.get(tables, 0) | 1 << n
            for column, of_value in zip(columns, self._can, strict=True):
                for value in values_in(when.get(column, (1 << len(of_value)) - 1)):
                    of_value[value] |= 1 << n
        self._still = insides.pop((None,) * len(columns), 0)
        """The steps that change nothing within: as a rule most."""
        whole = [tuple(range(size)) for size in self._sizes]
        self._moving = [
            ([table or same for table, same in zip(tables, whole, strict=True)], steps)
            for tables, steps in insides.items()
        ]
        self.outside = {1 << steps[0]: outside for outside, steps in labels.items()}
        self._silent = next((label for label, outside in self.outside.items() if outside == SILENT), 0)
        self._alike = [(1 << steps[0], sum(1 << n for n in steps)) for steps in labels.values() if len(steps) > 1]
        self._lone = sum(1 << steps[0] for steps in labels.values() if len(steps) == 1)
        self._known: dict[int, int] = {}
        self.states: list[Situation] = []
        self.arrows: list[dict[int, int]] = []
        """For each state and each that steps from it lead to their labels. What is silent and stays is none."""

    def _outside(self, move: Move) -> Outside:
        inside = self.columns
        return (
            tuple([w for w in move.when if w[0] not in inside]),
            tuple([t for t in move.then if t[0] not in inside]),
            move.events,
            move.cost if self._costs else 0,
        )

    def _labels(self, steps: int) -> int:
        """The labels of some steps."""
        found = self._known.get(steps)
        if found is None:
            found = steps & self._lone
            for label, several in self._alike:
                if steps & several:
                    found |= label
            self._known[steps] = found
        return found

    def colour(self, state: Situation) -> int:
        """How the questions see a state. At most one of the columns is looked at."""
        return sum(colours[v] for colours, v in zip(self._colours, state, strict=True) if colours)

    def explored(self) -> bool:
        """Find all states that come together, whatever is outside; whether they are few enough."""
        numbers = {self.first: 0}
        self.states, self.arrows = [self.first], []
        at = 0
        while at < len(self.states):
            state = self.states[at]
            can = -1
            for of_value, value in zip(self._can, state, strict=True):
                can &= of_value[value]
            found = {at: self._labels(can & self._still)}
            for tables, steps in self._moving:
                steps &= can
                if not steps:
                    continue
                to = tuple([table[value] for table, value in zip(tables, state, strict=True)])
                number = numbers.get(to)
                if number is None:
                    if len(self.states) >= MOST_EXPLORED:
                        return False
                    number = numbers[to] = len(self.states)
                    self.states.append(to)
                found[number] = found.get(number, 0) | self._labels(steps)
            found[at] &= ~self._silent
            self.arrows.append(found)
            at += 1
        return True

    # --- which are one

    def classes(self, most: int) -> list[int] | None:
        """For each state its class, the first state's being 0; None where there are more than so many classes."""
        loop = loops([[to for to, labels in arrows.items() if labels & self._silent] for arrows in self.arrows])
        # Loops are numbered so that silent steps lead to lower ones.
        joined: list[dict[int, int]] = [{} for _ in range(max(loop) + 1)]
        colour = [-1] * len(joined)
        for state, arrows in enumerate(self.arrows):
            here = loop[state]
            colour[here] = max(colour[here], self.colour(self.states[state]))
            for to, labels in arrows.items():
                joined[here][loop[to]] = joined[here].get(loop[to], 0) | labels
        parts, count = _renumbered(colour), 0
        while max(parts) + 1 != count:
            count = max(parts) + 1
            if count > most:
                return None
            parts = self._parted(parts, joined)
        return _renumbered([parts[n] for n in loop])

    def _parted(self, parts: Sequence[int], arrows: Sequence[Mapping[int, int]]) -> list[int]:
        """Parts parted further by what can be done within them: for each part that it leads to the labels that do."""
        signs: list[dict[int, int]] = []
        for here, part in enumerate(parts):
            sign = {part: 0}
            for to, labels in arrows[here].items():
                its = parts[to]
                sign[its] = sign.get(its, 0) | labels
                if its == part and labels & self._silent and to != here:
                    for farther, more in signs[to].items():
                        sign[farther] = sign.get(farther, 0) | more
            sign[part] &= ~self._silent
            signs.append(sign)
        return _renumbered([(part, frozenset(sign.items())) for part, sign in zip(parts, signs, strict=True)])

    # --- what is left

    def moves(self, classes: Sequence[int], into: int) -> Iterator[Move]:
        """The moves over the classes. Steps that nothing else shows are gone, and those that a weaker one covers."""
        steps: dict[int, set[tuple[int, int]]] = {}
        for here, arrows in zip(classes, self.arrows, strict=True):
            for to, labels in arrows.items():
                if classes[to] == here:
                    labels &= ~self._silent
                for n in values_in(labels):
                    steps.setdefault(1 << n, set()).add((here, classes[to]))
        _without_covered(steps, self.outside)
        count = max(classes) + 1
        for label in sorted(steps):
            yield from _as_moves(steps[label], self.outside[label], into, count)


def _as_moves(steps: Iterable[tuple[int, int]], outside: Outside, into: int, count: int) -> Iterator[Move]:
    """As few moves as do all of some steps: of each value one step for each move."""
    by_value: dict[int, list[int]] = {}
    for here, to in sorted(steps, key=lambda s: (s[0], s[1] != s[0], s[1])):
        by_value.setdefault(here, []).append(to)
    when, then, events, cost = outside
    for turn in range(max(map(len, by_value.values()), default=0)):
        table = list(range(count))
        mask = 0
        for here, all_to in by_value.items():
            if turn < len(all_to):
                mask |= 1 << here
                table[here] = all_to[turn]
        asks = () if mask == (1 << count) - 1 else ((into, mask),)
        does = () if all(table[v] == v for v in values_in(mask)) else ((into, tuple(table)),)
        yield Move(tuple(sorted((*when, *asks))), tuple(sorted((*then, *does))), events, cost)


def _without_covered(steps: dict[int, set[tuple[int, int]]], outside: Mapping[int, Outside]) -> None:
    """Take away steps that another with the same effect and a weaker need covers."""
    alike: dict[tuple[object, ...], list[int]] = {}
    for label in steps:
        alike.setdefault(outside[label][1:], []).append(label)
    for labels in alike.values():
        for one, other in product(labels, labels):
            if one != other and steps[one] & steps[other] and _weaker(outside[other][0], outside[one][0]):
                steps[one] = steps[one] - steps[other]
    for label in [label for label, left in steps.items() if not left]:
        del steps[label]


def _weaker(one: tuple[tuple[int, int], ...], other: tuple[tuple[int, int], ...]) -> bool:
    """Whether one asks less than another: wherever the other holds it holds. They differ."""
    its = dict(other)
    return all(column in its and its[column] & ~mask == 0 for column, mask in one)


def _renumbered(names: Sequence[object]) -> list[int]:
    """Numbers instead of names, in order of first coming."""
    found: dict[object, int] = {}
    return [found.setdefault(name, len(found)) for name in names]
