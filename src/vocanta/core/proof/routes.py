"""The shortest way to something: how few things the player has to do, and which.

Sought in a system that was brought down with costs kept, layer by layer; what lies on a shortest way there is the guide by
which a way through the flats themselves is found, step by step and with no guessing.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from typing import Literal

from ..project.noting import Note, unnoted
from .answering import MOST_NODES, Reached
from .diagrams import TooLarge
from .flats import Flat
from .minimising import Minimised, minimised
from .system import Move, Question, Situation, System
from .values import Recoded

Aim = Literal["can", "stuck", "lost"]
FEW_MOVES = 120
"""A part of so few moves needs no bringing down."""
MOST_BESIDE = 200_000
"""So many situations are looked at between two things that the player does."""


@dataclass(frozen=True)
class Route:
    """A way: the flats one after another, how many of them count, and whether a row is where it leads to."""

    flats: tuple[Flat, ...]
    counted: int
    is_there: Callable[[Sequence[int]], bool]


class NoWay(Exception):
    """What was thought to be a way could not be gone through the flats: a defect of the proof, never of the project."""


@dataclass(frozen=True)
class _Brought:
    """The part of a system that a question hangs on, brought down: `numbers` of its columns, `kept` of the small one's."""

    part: System
    numbers: list[int]
    small: Minimised
    kept: list[int]
    reached: Reached
    asked: Question


class Ways:
    """The shortest ways of one system. What was worked out for one way serves the next."""

    def __init__(self, recoded: Recoded, most: int = MOST_NODES, note: Note = unnoted):
        self.recoded, self.most, self.note = recoded, most, note
        self._brought_for: dict[tuple[Question, bool], _Brought] = {}
        self._led: dict[tuple[Question, Aim], tuple[int, list[int]]] = {}

    def route(self, question: Question, what: Aim, eager: bool = False) -> Route | None:
        """A shortest way to where a question's event has happened, or is left behind for good; None where there is none.

        `eager`: clocks run out as soon as they may on such a way, else as late. Raises `TooLarge`.
        """
        goal = what == "can"
        if (question, goal) not in self._brought_for:
            self._brought_for[question, goal] = self._brought(question, goal)
        brought = self._brought_for[question, goal]
        if (question, what) not in self._led:
            self._led[question, what] = _led(brought, what)
        target, layers = self._led[question, what]
        if not layers:
            return None
        small, reached, kept = brought.small, brought.reached, brought.kept

        def layer_has(number: int, at: Situation) -> bool:
            small_at = small.of(at)
            return small_at is not None and reached.d.has(layers[number], tuple(small_at[c] for c in kept))

        def is_there(at: Situation) -> bool:
            small_at = small.of(at)
            return small_at is not None and reached.d.has(target, tuple(small_at[c] for c in kept))

        moves = list(_gone(brought.part, len(layers), layer_has, is_there, eager))
        flats = _flats_of(self.recoded, brought.numbers, moves, question.event if what == "can" else None)

        def row_is_there(row: Sequence[int]) -> bool:
            at = self.recoded.of(row)
            return min(at) >= 0 and is_there(tuple(at[n] for n in brought.numbers))

        return Route(tuple(flats), sum(m.cost for m, _ in moves), row_is_there)

    def _brought(self, question: Question, goal: bool) -> _Brought:
        whole = self.recoded.system
        cone = whole.cone(question)
        part = whole.slice(cone, [question])
        if goal:
            part = _with_goal(part, part.questions[0])
        few = len(part.moves) <= FEW_MOVES
        small = Minimised(part) if few else minimised(part, costs=True, note=self.note)
        its = small.system.questions[0]
        kept = sorted(small.system.cone(its))
        narrow = small.system.slice(kept, [its])
        return _Brought(part, sorted(cone), small, kept, Reached(narrow, self.most, self.note), narrow.questions[0])


def _led(brought: _Brought, what: Aim) -> tuple[int, list[int]]:
    """The situations that a way is to lead to, and those on shortest ways there, layer by layer; no layer for no way."""
    reached, asked = brought.reached, brought.asked
    goal = {asked.column: asked.out}
    by: dict[Aim, Callable[[], int]] = {
        "can": lambda: reached.d.box(goal),
        "stuck": lambda: reached.stuck(asked),
        "lost": lambda: reached.lost(asked),
    }
    target = by[what]()
    return target, reached.layers(target) if target else []


def _with_goal(part: System, question: Question) -> System:
    """The same with a column more: whether the event has happened."""
    goal = len(part.sizes)
    moves = tuple(
        Move(m.when, (*m.then, (goal, (1, 1))), 0, m.cost, m.clock)
        if m.events >> question.event & 1
        else replace(m, events=0)
        for m in part.moves
    )
    asked = Question(question.key, question.event, goal, 0b01, 0b10)
    return System((*part.names, "goal"), (*part.sizes, 2), (*part.first, 0), moves, (asked,))


def _gone(
    part: System,
    count: int,
    layer_has: Callable[[int, Situation], bool],
    is_there: Callable[[Situation], bool],
    eager: bool,
) -> Iterator[tuple[Move, Situation]]:
    """Go through the layers: between two paid moves a way of free ones, breadth first."""
    here = part.first
    for number in range(count):
        last = number == count - 1
        for move, to in _run_out(part, here, number, layer_has) if eager and not (last and is_there(here)) else ():
            yield move, to
            here = to
            if last and is_there(here):
                break
        way = _beside(part, here, number, last, layer_has, is_there)
        yield from way
        here = way[-1][1] if way else here


def _run_out(
    part: System, here: Situation, number: int, layer_has: Callable[[int, Situation], bool]
) -> Iterator[tuple[Move, Situation]]:
    """The clocks that may run out at once without leaving the way."""
    seen = {here}
    clocks = [m for m in part.moves if m.clock and not m.cost]
    while True:
        ways = ((m, m.after(here)) for m in clocks if m.holds(here))
        found = next(((m, to) for m, to in ways if to not in seen and layer_has(number, to)), None)
        if found is None:
            return
        yield found
        here = found[1]
        seen.add(here)


def _beside(
    part: System,
    start: Situation,
    number: int,
    last: bool,
    layer_has: Callable[[int, Situation], bool],
    is_there: Callable[[Situation], bool],
) -> list[tuple[Move, Situation]]:
    """The free moves of one layer with the paid one that leads to the next; in the last those that lead to the target."""
    if last and is_there(start):
        return []
    came: dict[Situation, tuple[Situation, Move] | None] = {start: None}
    waiting = [start]
    while waiting:
        later: list[Situation] = []
        for here in waiting:
            for move in part.moves:
                if (move.cost and last) or not move.holds(here):
                    continue
                to = move.after(here)
                if move.cost:
                    if layer_has(number + 1, to):
                        return [*_way_to(came, here), (move, to)]
                elif to not in came and layer_has(number, to):
                    came[to] = here, move
                    if last and is_there(to):
                        return _way_to(came, to)
                    later.append(to)
        if len(came) > MOST_BESIDE:
            raise TooLarge
        waiting = later
    raise NoWay(f"layer {number}: {len(came)} situations and no way on")


def _way_to(came: dict[Situation, tuple[Situation, Move] | None], to: Situation) -> list[tuple[Move, Situation]]:
    found: list[tuple[Move, Situation]] = []
    while (before := came[to]) is not None:
        found.append((before[1], to))
        to = before[0]
    return found[::-1]


def _flats_of(
    recoded: Recoded, numbers: list[int], moves: list[tuple[Move, Situation]], event: int | None
) -> Iterator[Flat]:
    """For each move of a slice a flat of it that can be done where one is, followed from the start with every column.

    `event`: what the last of them brings; None for nothing.
    """
    here = recoded.system.first
    every = list(zip(recoded.system.moves, recoded.flats, strict=True))
    for number, (done, to) in enumerate(moves, start=1):
        brings = event is not None and number == len(moves)
        for move, flats in every:
            fits = move.cost == done.cost and (event is None or (move.events >> event & 1) == brings)
            if fits and move.holds(here):
                after = move.after(here)
                if all(after[c] == v for c, v in zip(numbers, to, strict=False)):
                    yield flats[0]
                    here = after
                    break
        else:
            raise NoWay("a move of a part that no flat stands behind")
