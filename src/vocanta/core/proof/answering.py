"""What can follow in a system for good: everything reached once, then each question asked backwards within that."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from functools import cached_property
from typing import Literal

from ..project.noting import Note, unnoted
from .diagrams import EMPTY, Diagrams, Going, TooLarge, events_of, placed
from .minimising import minimised
from .packed import MOST_SITUATIONS, explored
from .system import Question, System

Answer = Literal["yes", "never", "undecided"]
MOST_NODES = 3_000_000
"""So many nodes take about a gigabyte."""


@dataclass(frozen=True, slots=True)
class Answers:
    """What came out for one question: whether its event can happen, and whether one can be left without it for good."""

    can: Answer
    stuck: Answer
    lost: Answer

    def or_else(self, other: Answers) -> Answers:
        """The same, what is not decided taken from another."""
        mine, its = (self.can, self.stuck, self.lost), (other.can, other.stuck, other.lost)
        return Answers(*(two if one == "undecided" else one for one, two in zip(mine, its, strict=True)))

    @property
    def whole(self) -> bool:
        """Whether everything is decided."""
        return "undecided" not in (self.can, self.stuck, self.lost)


UNDECIDED = Answers("undecided", "undecided", "undecided")


class Reached:
    """A system as diagrams. What it does raises `TooLarge` where that comes to too much."""

    def __init__(self, system: System, most: int = MOST_NODES, note: Note = unnoted):
        self.system = system
        self.d = d = Diagrams(system.sizes, placed(system), most, note)
        forth = [(step, m.cost) for m in system.moves if (step := d.forth(m)) is not None]
        back = [(step, m.cost) for m in system.moves if (step := d.back(m)) is not None]
        self._forth, self._back = Going(d, (s for s, _ in forth)), Going(d, (s for s, _ in back))
        self._free, self._paid = Going(d, (s for s, c in forth if not c)), Going(d, (s for s, c in forth if c))
        self._unfree, self._unpaid = Going(d, (s for s, c in back if not c)), Going(d, (s for s, c in back if c))

    @cached_property
    def all(self) -> int:
        """All that can be reached."""
        return self._forth.closed(self.d.one(self.system.first))

    # --- answers

    def answers(self, question: Question) -> Answers:
        """What comes out for a question of this system."""
        sources = self.sources(question)
        asked = [self._at(question, mask) if mask else EMPTY for mask in (question.active, question.out)]
        left = self.left_behind(question) if any(asked) else EMPTY
        stuck, lost = (bool(self.d.meet(left, at)) for at in asked)
        return Answers(*("yes" if one else "never" for one in (bool(sources), stuck, lost)))

    def sources(self, question: Question) -> int:
        """Where the event of a question can happen next."""
        found, d = 0, self.d
        for asks in events_of(self.system, question.event):
            found = d.union(found, d.meet(self.all, d.box(asks)))
        return found

    def left_behind(self, question: Question) -> int:
        """Where the event of a question is out of reach for good."""
        d = self.d
        still = self._back.closed(self.sources(question), self.all)
        return d.less(self.all, still)

    def stuck(self, question: Question) -> int:
        """Where it is awaited and out of reach for good."""
        return self.d.meet(self.left_behind(question), self._at(question, question.active))

    def lost(self, question: Question) -> int:
        """Where it was failed or declined for good."""
        return self.d.meet(self.left_behind(question), self._at(question, question.out))

    def _at(self, question: Question, mask: int) -> int:
        return self.d.box({question.column: mask})

    # --- the shortest way

    def layers(self, target: int, within: int = -1) -> list[int]:
        """The situations on shortest ways to one of a target: for each number of paid moves done those that lie on one.

        Empty where it cannot be reached. `within`: a set that no way leaves, and its target lies in; -1 where none is known.

        What can be done with so many paid moves and what leads there with so many are made wider in turns, each time that of
        the two whose last turn took fewer nodes, until they meet.
        """
        d = self.d
        out = [self._free.closed(d.one(self.system.first))]
        back = [self._unfree.closed(target, within)]
        took_out = took_back = 0
        while not d.meet(out[-1], back[-1]):
            before, farther = d.count, took_out <= took_back
            if farther:
                wider = self._free.closed(d.union(out[-1], self._paid.once(out[-1])))
                took_out = d.count - before
            else:
                wider = self._unfree.closed(d.union(back[-1], self._unpaid.once(back[-1], within)), within)
                took_back = d.count - before
            if wider == (out if farther else back)[-1]:
                return []
            (out if farther else back).append(wider)
        there = d.meet(out[-1], back[-1])
        to_it = _followed(self._unfree, self._unpaid, there, out)
        from_it = _followed(self._free, self._paid, there, back)
        return [*to_it[::-1], *from_it[1:]]

    @cached_property
    def size(self) -> int:
        """How many situations are reached."""
        return self.d.size(self.all)


def _followed(free: Going, paid: Going, there: int, layers: list[int]) -> list[int]:
    """From a set in the last of some layers: what each of those holds that free moves and one paid move a layer lead to."""
    found = [free.closed(there, layers[-1])]
    for layer in reversed(layers[:-1]):
        found.append(free.closed(paid.once(found[-1], layer), layer))
    return found


ALONE = 6
"""A question that is asked alone may take so many times less than all together."""
ALIKE = 1.25
"""Questions whose columns together are not more than so many times those of the largest are asked of one system."""


How = Literal["diagrams", "packed"]
"""By what everything that can be come to is gone through."""


def answered(system: System, most: int = MOST_NODES, note: Note = unnoted, how: How = "diagrams") -> dict[str, Answers]:
    """The answers to all questions of a system, by their keys."""
    return dict(each_answered(system, most, note, how))


def each_answered(
    system: System, most: int, note: Note, how: How = "diagrams", alone: bool = True
) -> Iterator[tuple[str, Answers]]:
    """The same one by one, as they are found. Questions that hang on much the same are asked together, as far as that is not
    too much; what is, is asked `alone`, or else is not answered."""
    for columns, questions in _together(system):
        part = system.slice(columns, questions)
        if how == "packed":
            yield from _one_by_one(part, most, note).items()
            continue
        left = list(part.questions)
        try:
            reached = Reached(part, most, note)
            while left:
                yield left[0].key, reached.answers(left[0])
                left.pop(0)
        except TooLarge:
            for question in left if alone else ():
                yield question.key, _alone(part, question, most // ALONE, note)


def _one_by_one(system: System, most: int, note: Note) -> dict[str, Answers]:
    """The answers by going through every situation."""
    try:
        every = explored(system, most, note)
    except TooLarge:
        return {question.key: UNDECIDED for question in system.questions}
    found = {}
    for question in system.questions:
        left = every.left_behind(question) if question.active or question.out else None
        yes = (
            every.can(question),
            *(
                left is not None and bool((left & every.is_so(question, m)).any())
                for m in (question.active, question.out)
            ),
        )
        found[question.key] = Answers(*("yes" if one else "never" for one in yes))
    return found


def _alone(system: System, question: Question, most: int, note: Note) -> Answers:
    """The answers to one question that was too much together with others: what only those ask comes down further."""
    small = minimised(system.slice(system.cone(question), [question]), note=note).system
    asked = small.questions[0]
    part = small.slice(small.cone(asked), [asked])
    try:
        return Reached(part, most, note).answers(part.questions[0])
    except TooLarge:
        few = math.prod(part.sizes) <= MOST_SITUATIONS
        return _one_by_one(part, MOST_SITUATIONS, note)[asked.key] if few else UNDECIDED


def _together(system: System) -> Iterator[tuple[frozenset[int], list[Question]]]:
    """The questions in groups, with the columns that each group hangs on: the largest first, each joined by what adds little
    to it."""
    cones = {question: system.cone(question) for question in system.questions}
    left = sorted(system.questions, key=lambda q: -len(cones[q]))
    while left:
        largest = len(cones[left[0]])
        columns, group = cones[left[0]], [left[0]]
        for question in left[1:]:
            wider = columns | cones[question]
            if len(cones[question]) * ALIKE >= largest and len(wider) <= largest * ALIKE:
                columns, group = wider, [*group, question]
        left = [q for q in left if q not in group]
        yield columns, group


def plainly_answered(system: System) -> dict[str, Answers]:
    """The same by going through every situation one by one: what all else is held against."""
    seen, waiting = {system.first}, [system.first]
    before: dict[tuple[int, ...], list[tuple[int, ...]]] = {}
    while waiting:
        here = waiting.pop()
        for move in system.moves:
            if move.holds(here):
                to = move.after(here)
                before.setdefault(to, []).append(here)
                if to not in seen:
                    seen.add(to)
                    waiting.append(to)
    return {question.key: _plain(system, question, seen, before) for question in system.questions}


def _plain(
    system: System,
    question: Question,
    seen: Iterable[tuple[int, ...]],
    before: dict[tuple[int, ...], list[tuple[int, ...]]],
) -> Answers:
    moves = [m for m in system.moves if m.events >> question.event & 1]
    sources = {here for here in seen if any(m.holds(here) for m in moves)}
    still, waiting = set(sources), list(sources)
    while waiting:
        for one in before.get(waiting.pop(), ()):
            if one not in still:
                still.add(one)
                waiting.append(one)
    left = [here[question.column] for here in seen if here not in still]
    yes = (bool(sources), any(question.active >> v & 1 for v in left), any(question.out >> v & 1 for v in left))
    return Answers(*("yes" if one else "never" for one in yes))
