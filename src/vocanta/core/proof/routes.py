"""The shortest way to something: how few things the player has to do, and which.

Sought in a system that was brought down with costs kept, layer by layer; what lies on a shortest way there is the guide by
which a way through the flats themselves is found, step by step and with no guessing.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Hashable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace

from ..project.noting import Note, unnoted
from .answering import MOST_NODES, Reached
from .any_way import Aim, AnyWay
from .diagrams import TooLarge
from .flats import Flat
from .minimising import Minimised, minimised
from .system import Letting, Move, Question, Situation, System
from .values import Recoded

Place = Hashable
Afoot = Callable[[Flat, Place], tuple[float, Place]]
"""How many metres it is about to where a flat is done, from a place, and where one is behind it. None is the first place."""
FEW_MOVES = 120
"""A part of so few moves needs no bringing down."""
SOON, MOST_FOR_A_WAY = 200_000, 1_500_000
"""A shortest way is sought with at most so many nodes: at first, and when there is time left. More would take minutes."""
MOST_AT_ONCE = 24
"""So many ways at most are weighed beside one another by their metres; fewer, where they are long."""
MOST_ONWARD = 400
"""So many situations are looked at for what could be done next, beside the first that is found."""
MOST_BESIDE = 200_000
"""So many situations are looked at between two things that the player does."""


@dataclass(frozen=True)
class Route:
    """A way: the flats one after another, how many of them count, and whether a row is where it leads to.

    `shortest`: whether none has fewer things to do; else it was come upon, and one with fewer may be.
    """

    flats: tuple[Flat, ...]
    counted: int
    is_there: Callable[[Sequence[int]], bool]
    shortest: bool = True


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

    def __init__(
        self, recoded: Recoded, most: int = MOST_NODES, note: Note = unnoted, afoot: Afoot = lambda _, at: (0.0, at)
    ):
        self.recoded, self.note, self.afoot = recoded, note, afoot
        self.most = min(most, MOST_FOR_A_WAY)
        self._part_for: dict[tuple[Question, bool], tuple[System, Minimised]] = {}
        self._brought_for: dict[tuple[Question, bool, int], _Brought] = {}
        self._led: dict[tuple[Question, Aim, int], tuple[int, list[int]]] = {}
        self._too_much: dict[int, float] = {}
        """By the most nodes how many columns a question hung on that was too much."""

    def route(self, question: Question, what: Aim, eager: bool = False, most: int = MOST_FOR_A_WAY) -> Route | None:
        """A shortest way to where a question's event has happened, or is left behind for good; None where there is none.

        Of those with as few things to do it is about the shortest on foot (`afoot`): not all are weighed against another.
        `eager`: clocks run out as soon as they may, else as late. Raises `TooLarge`: it takes more than so many nodes.
        """
        many, most = len(self.recoded.system.cone(question)), min(most, self.most)
        if many >= self._too_much.get(most, math.inf):
            raise TooLarge
        try:
            return self._shortest(question, what, eager, most)
        except TooLarge:
            self._too_much[most] = many
            raise

    def _shortest(self, question: Question, what: Aim, eager: bool, most: int) -> Route | None:
        goal = what == "can"
        if (question, goal, most) not in self._brought_for:
            self._brought_for[question, goal, most] = self._brought(question, goal, most)
        brought = self._brought_for[question, goal, most]
        if (question, what, most) not in self._led:
            self._led[question, what, most] = _led(brought, what)
        target, layers = self._led[question, what, most]
        if not layers:
            return None
        small, reached, kept = brought.small, brought.reached, brought.kept

        def has(number: int, at: Situation) -> bool:
            small_at = small.of(at)
            return small_at is not None and reached.d.has(layers[number], tuple(small_at[c] for c in kept))

        def is_there(at: Situation) -> bool:
            small_at = small.of(at)
            return small_at is not None and reached.d.has(target, tuple(small_at[c] for c in kept))

        flats = _flats_of(brought.part, brought.numbers, self.recoded, question)
        way = _Going(brought.part, flats, self.afoot).gone(_Guide(len(layers), has, is_there), eager)

        def row_is_there(row: Sequence[int]) -> bool:
            at = self.recoded.of(row)
            return min(at) >= 0 and is_there(tuple(at[n] for n in brought.numbers))

        return Route(way.flats, way.counted, row_is_there)

    def other(self, question: Question, what: Aim) -> Route | None:
        """Some way that was come upon; None where none was."""
        self.note("Looking for a way", 0, 1)
        cone = sorted(self.recoded.system.cone(question))
        part = self.recoded.system.slice(cone, [question])
        found = AnyWay(part, part.questions[0])
        moves = found.moves(what)
        if not moves:
            return None
        flats = _flats_of(part, cone, self.recoded, question)
        way = _Going(part, flats, self.afoot).followed(moves)

        def row_is_there(row: Sequence[int]) -> bool:
            at = self.recoded.of(row)
            return min(at) >= 0 and found.is_there(tuple(at[n] for n in cone), what)

        return Route(way.flats, way.counted, row_is_there, shortest=False)

    def _brought(self, question: Question, goal: bool, most: int) -> _Brought:
        part, small = self._brought_down(question, goal)
        its = small.system.questions[0]
        kept, numbers = sorted(small.system.cone(its)), sorted(self.recoded.system.cone(question))
        narrow = small.system.slice(kept, [its])
        return _Brought(part, numbers, small, kept, Reached(narrow, most, self.note), narrow.questions[0])

    def _brought_down(self, question: Question, goal: bool) -> tuple[System, Minimised]:
        """The part that a question hangs on, and that brought down."""
        if (question, goal) not in self._part_for:
            part = self.recoded.system.slice(self.recoded.system.cone(question), [question])
            if goal:
                part = _with_goal(part, part.questions[0])
            few = len(part.moves) <= FEW_MOVES
            small = Minimised(part) if few else minimised(part, costs=True, note=self.note)
            self._part_for[question, goal] = part, small
        return self._part_for[question, goal]


def _led(brought: _Brought, what: Aim) -> tuple[int, list[int]]:
    """The situations that a way is to lead to, and those on shortest ways there, layer by layer; no layer for no way."""
    reached, asked = brought.reached, brought.asked
    if what == "can":
        target = reached.d.box({asked.column: asked.out})
        return target, reached.layers(target)
    target = reached.stuck(asked) if what == "stuck" else reached.lost(asked)
    return target, reached.layers(target, reached.all) if target else []


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


@dataclass(frozen=True)
class _Onward:
    """A way so far: its flats, where it has come to, the place on the floor, how many metres and things to do it was."""

    flats: tuple[Flat, ...]
    at: Situation
    place: Place = None
    metres: float = 0.0
    counted: int = 0


@dataclass(frozen=True)
class _Guide:
    """What lies on shortest ways: of which layer a situation is, and whether it is where they lead."""

    layers: int
    has: Callable[[int, Situation], bool]
    is_there: Callable[[Situation], bool]


class _Going:
    """Goes ways through the flats of a part of a system, layer by layer: between two paid moves a way of free ones."""

    def __init__(self, part: System, flats: Mapping[Move, Sequence[Flat]], afoot: Afoot):
        self._part, self._flats, self._afoot = part, flats, afoot
        self._letting = Letting(part.sizes, part.moves)

    def gone(self, guide: _Guide, eager: bool) -> _Onward:
        """A way, of those weighed the one of the fewest metres."""
        ways = [_Onward((), self._part.first)]
        width = max(1, MOST_AT_ONCE // guide.layers)
        for number in range(guide.layers - 1):
            further: dict[tuple[Situation, Place], _Onward] = {}
            for way in ways:
                way = self._run_out(way, number, guide) if eager else way
                for moves in self._onward(way.at, number, guide):
                    for onward in self._done(way, moves):
                        key = onward.at, onward.place
                        if key not in further or onward.metres < further[key].metres:
                            further[key] = onward
            if not further:
                raise NoWay(f"layer {number}: no way on")
            ways = sorted(further.values(), key=lambda w: w.metres)[:width]
        return min((self._ended(way, guide, eager) for way in ways), key=lambda w: w.metres)

    def followed(self, moves: Sequence[Move]) -> _Onward:
        """The way of some moves, each done where that is nearest."""
        way = _Onward((), self._part.first)
        for move in moves:
            way = min(self._done(way, [move]), key=lambda w: w.metres)
        return way

    def _ended(self, way: _Onward, guide: _Guide, eager: bool) -> _Onward:
        last = guide.layers - 1
        if eager and not guide.is_there(way.at):
            way = self._run_out(way, last, guide)
        if guide.is_there(way.at):
            return way
        moves = next(self._onward(way.at, last, guide), None)
        if moves is None:
            raise NoWay(f"layer {last}: no way to the end")
        return self._done(way, moves)[0]

    def _done(self, way: _Onward, moves: Sequence[Move]) -> list[_Onward]:
        """A way with some moves more: one for each place in which the last can be done."""
        for move in moves[:-1]:
            way = self._with(way, move, self._flats[move][0])
        return [self._with(way, moves[-1], flat) for flat in self._flats[moves[-1]]]

    def _with(self, way: _Onward, move: Move, flat: Flat) -> _Onward:
        metres, place = self._afoot(flat, way.place)
        flats = *way.flats, flat
        return _Onward(flats, move.after(way.at), place, way.metres + metres, way.counted + move.cost)

    def _run_out(self, way: _Onward, number: int, guide: _Guide) -> _Onward:
        """The same with the clocks that may run out at once without leaving the ways; no farther than where they lead."""
        seen = {way.at}
        while True:
            can = map(self._part.moves.__getitem__, self._letting.at(way.at))
            going = (m for m in can if m.clock and not m.cost and m.after(way.at) not in seen)
            found = next((m for m in going if guide.has(number, m.after(way.at))), None)
            if found is None:
                return way
            way = self._with(way, found, self._flats[found][0])
            seen.add(way.at)
            if number == guide.layers - 1 and guide.is_there(way.at):
                return way

    def _onward(self, start: Situation, number: int, guide: _Guide) -> Iterator[list[Move]]:
        """Free moves of one layer and a paid one that leads to the next, breadth first; in the last those to where it leads."""
        last = number == guide.layers - 1
        came: dict[Situation, tuple[Situation, Move] | None] = {start: None}
        waiting, most = [start], MOST_BESIDE
        while waiting:
            later: list[Situation] = []
            for here in waiting:
                for move in map(self._part.moves.__getitem__, self._letting.at(here)):
                    if move.cost and last:
                        continue
                    to = move.after(here)
                    if move.cost and guide.has(number + 1, to):
                        most = min(most, len(came) + MOST_ONWARD)
                        yield [*_way_to(came, here), move]
                    elif not move.cost and to not in came and guide.has(number, to):
                        came[to] = here, move
                        if last and guide.is_there(to):
                            yield _way_to(came, to)
                        later.append(to)
                if len(came) > most:
                    if most == MOST_BESIDE:
                        raise TooLarge
                    return
            waiting = later


def _way_to(came: dict[Situation, tuple[Situation, Move] | None], to: Situation) -> list[Move]:
    found: list[Move] = []
    while (before := came[to]) is not None:
        found.append(before[1])
        to = before[0]
    return found[::-1]


def _flats_of(part: System, numbers: Sequence[int], recoded: Recoded, question: Question) -> dict[Move, list[Flat]]:
    """For each move of a part, of some columns, the flats that stand behind it, one for each action."""
    number = {column: n for n, column in enumerate(numbers)}
    behind: dict[tuple[object, ...], dict[int, Flat]] = {}
    for move, flats in zip(recoded.system.moves, recoded.flats, strict=True):
        when = tuple((number[c], mask) for c, mask in move.when if c in number)
        then = tuple((number[c], table) for c, table in move.then if c in number)
        brings = bool(move.events >> question.event & 1)
        if len(when) == len(move.when):
            its = behind.setdefault((when, then, brings, move.cost, move.clock), {})
            for flat in flats:
                its.setdefault(flat.action, flat)
    goal = len(number)
    found = {}
    for move in part.moves:
        then = tuple((c, table) for c, table in move.then if c != goal)
        brings = len(then) < len(move.then) or bool(move.events >> part.questions[0].event & 1)
        found[move] = list(behind[move.when, then, brings, move.cost, move.clock].values())
    return found
