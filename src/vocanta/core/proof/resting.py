"""What random walks through a system settle: that an event happens, and that one can be left without it for good.

A walk goes on until little is left to do. Where an event cannot happen from its end even if values stayed (`relaxed`), it is
out of reach there. So only *yes* comes of it, and that for certain.
"""

from __future__ import annotations

import heapq
import math
import random
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, field
from functools import reduce
from operator import or_

from .diagrams import Diagrams, Going, TooLarge, events_of, placed
from .relaxed import Relaxed
from .system import Letting, Move, Question, Situation, System, values_in

Manners = tuple[tuple[int, float], ...]
LONG: Manners = ((800, 0.0), (800, 0.9))
"""How many moves a walk has at most, and how often it does what it likes best: some walks take turns with others."""
SHORT: Manners = ((150, 0.5), (150, 0.9), (80, 0.5), (150, 0.0))
"""Where one is to be left without something: more and shorter walks come upon it as often in a third of the time."""
MOST_NODES = 3_000
"""What follows from a situation is gone through as long as it takes no more nodes."""


Moves = Sequence[Move]


@dataclass
class Seen:
    """By the keys of questions the moves by which their event was seen to happen, and one was seen stuck, and lost."""

    can: dict[str, Moves] = field(default_factory=dict)
    stuck: dict[str, Moves] = field(default_factory=dict)
    lost: dict[str, Moves] = field(default_factory=dict)


class Walks:
    """Walks through a system that note what they see, beside what was seen before. Deterministic."""

    def __init__(self, system: System, seen: Seen | None = None):
        self._random = random.Random(0)
        self._system, self._relaxed = system, Relaxed(system)
        self._moves = system.moves
        self._letting = Letting(system.sizes, system.moves)
        self._asked = {column: n for n, column in enumerate(self._letting.by_column)}
        self.seen = Seen() if seen is None else seen

    def walk(self, count: int) -> Iterator[None]:
        """Walk so many times, and note what comes of it for all questions; a stop after each walk."""
        for at, moves in self._walks(count, self._letting.all, LONG):
            happened = reduce(or_, (move.events for move in moves), 0)
            for question in self._system.questions:
                if happened >> question.event & 1:
                    self.seen.can.setdefault(question.key, moves)
            self._look(at, self._system.questions, moves)
            yield

    def without(self, count: int, question: Question, closely: bool = False, moves: float = math.inf) -> Iterator[None]:
        """The same for one question, without doing what brings its event: so one is sooner left without it.

        `closely`: all that follows from the end of a walk is gone through, as long as it is little; `moves`: so many
        together are enough.
        """
        may = sum(1 << n for n, move in enumerate(self._moves) if not move.events >> question.event & 1)
        after = _After(self._system, question) if closely else None
        for at, gone in self._walks(count, may, SHORT):
            self._look(at, [question], gone, after)
            yield
            moves -= len(gone) + 1
            if moves < 0:
                break

    def toward(self, question: Question, most: int) -> None:
        """Look for a way to the event of a question, where relaxed there is least left to do first: at so many situations.

        Only what is on a relaxed way is tried. Source: FF (Hoffmann and Nebel, 2001).
        """
        first = self._system.first
        way = self._relaxed.way(first, question.event)
        queue = [(len(way), 0, first, way)]
        came: dict[Situation, Moves] = {first: ()}
        while queue and len(came) < most:
            _, _, at, way = heapq.heappop(queue)
            for move in way:
                if not move.holds(at):
                    continue
                if move.events >> question.event & 1:
                    self.seen.can[question.key] = [*came[at], move]
                    return
                to = move.after(at)
                if to in came:
                    continue
                came[to] = [*came[at], move]
                farther = self._relaxed.way(to, question.event)
                if farther:
                    heapq.heappush(queue, (len(farther), -len(came), to, farther))
                else:
                    self._look(to, [question], came[to])

    def _look(self, at: Situation, questions: Iterable[Question], moves: Moves, after: _After | None = None) -> None:
        waiting = [
            (question, found)
            for question in questions
            for mask, found in ((question.active, self.seen.stuck), (question.out, self.seen.lost))
            if mask >> at[question.column] & 1 and question.key not in found
        ]
        possible = self._relaxed.events(at) if waiting else 0
        for question, found in waiting:
            if not possible >> question.event & 1 or (after is not None and after.is_left_behind(at)):
                found[question.key] = moves

    def _walks(self, count: int, may: int, manners: Manners) -> Iterator[tuple[Situation, Moves]]:
        """Where so many walks end, and the moves on the way, of one manner after the other."""
        for n in range(count):
            yield self._gone(may, *manners[n % len(manners)])

    def _gone(self, may: int, longest: int, steady: float) -> tuple[Situation, Moves]:
        drawn = self._random.random
        liking = [drawn() for _ in self._moves]
        at, gone = self._system.first, list[Move]()
        lets = self._letting.by_column
        opened = _Halves([of[at[column]] for column, of in lets.items()])
        for _ in range(longest):
            open_moves, steadily, to = list(values_in(opened.all & may)), drawn() < steady, at
            while open_moves and to == at:
                number = (
                    min(open_moves, key=liking.__getitem__) if steadily else open_moves[int(drawn() * len(open_moves))]
                )
                open_moves.remove(number)
                move = self._moves[number]
                to = move.after(at)
                if to != at or move.events:
                    gone.append(move)
            if to == at:
                break
            for column, _ in move.then:
                if to[column] != at[column] and column in self._asked:
                    opened.put(self._asked[column], lets[column][to[column]])
            at = to
        return at, gone


class _Halves:
    """What all of some sets hold, kept for each half of them and each half of a half: one is changed in few steps.

    >>> halves = _Halves([0b110, 0b011, 0b111])
    >>> halves.put(1, 0b100)
    >>> bin(halves.all)
    '0b100'
    """

    def __init__(self, several: Sequence[int]):
        self._count = max(len(several), 1)
        self._of = [-1] * self._count + (list(several) or [-1])
        for n in range(self._count - 1, 0, -1):
            self._of[n] = self._of[2 * n] & self._of[2 * n + 1]

    @property
    def all(self) -> int:
        """What all of them hold."""
        return self._of[1]

    def put(self, number: int, one: int) -> None:
        """Put another for one of them."""
        n, of = number + self._count, self._of
        of[n] = one
        while n > 1:
            n //= 2
            of[n] = of[2 * n] & of[2 * n + 1]


class _After:
    """What follows from a situation on, gone through for one question."""

    def __init__(self, system: System, question: Question):
        self._columns = sorted(system.cone(question))
        part = system.slice(self._columns, [question])
        self._part, self._order = part, placed(part)

    def is_left_behind(self, at: Situation) -> bool:
        """Whether the event surely does not happen any more."""
        d = Diagrams(self._part.sizes, self._order, MOST_NODES)
        try:
            steps = (step for move in self._part.moves if (step := d.forth(move)) is not None)
            every = Going(d, steps).closed(d.one(tuple(at[c] for c in self._columns)))
            return not any(d.meet(every, d.box(asks)) for asks in events_of(self._part, self._part.questions[0].event))
        except TooLarge:
            return False
