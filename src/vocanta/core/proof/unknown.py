"""Values that are not known yet: the program itself is run on them, and each question about one parts the ways.

An `Unknown` is what a column held at first, moved or replaced since. Whoever asks it something gets one answer on one
course through the program, the other on another; so all that an action can do is found by running it once for each
course, by the very code that runs it on known values.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, field
from typing import TypeVar, cast

from .spans import NONE, Spans, joined, less, met, span, spans_of
from .together import Together

ENDLESS = 1 << 60
T = TypeVar("T")
Piece = tuple[int, int, bool, int]
"""What a column holds that held a value from the first to the second: the fourth itself where the third, else so much more."""


class Impossible(Exception):
    """What was answered on a course cannot come together; never leaves the proof."""


Leads = list["_Question | Found | None"]


@dataclass(slots=True)
class _Question:
    """One question that was asked on a course: whether a column held one of some values at first.

    `number`: which number an unknown was asked to be; `leads`: what was come to behind *no* and *yes*, as far as either was
    gone.
    """

    column: int
    inside: Spans
    mask: int
    number: int = 0
    leads: Leads = field(default_factory=lambda: [None, None])


_Path = list[tuple[_Question, bool]]
"""The questions of a course with their answers, in order."""


@dataclass(frozen=True, slots=True)
class Found:
    """What a course came to: whatever was done on it returned."""

    what: object


@dataclass(slots=True)
class Tree:
    """All courses that something was gone on so far, by their questions. What was gone once is not done again."""

    leads: Leads = field(default_factory=lambda: [None])


class Course:
    """One way through an action after another: which facts are still possible at first, and what is still to be gone.

    What was chosen for one column leaves of the others what can come with it (`Together`).
    """

    def __init__(self, together: Together):
        self.together, self.facts = together, together.facts
        self.possible = 0
        self.asked: set[int] = set()
        """The columns that were asked on any course, whatever the answer could be."""
        self.chosen: dict[int, Spans] = {}
        """For each column that was asked what it was said to have held."""
        self._wide: dict[int, Spans] = {}
        self._path: _Path = []
        """What was asked and answered on this course."""
        self._again = 0
        """How much of the path has been asked again by what is being done."""
        self._at: tuple[Leads, int] = [None], 0
        self._later: list[tuple[_Path, _Question, int, dict[int, Spans], dict[int, Spans]]] = []
        """The courses still to be gone: the way there, the question to be answered *no*, and what was possible, chosen and
        held by then."""
        self._between: dict[tuple[int, int, int], tuple[Spans, int]] = {}

    def gone(self, tree: Tree, given: Mapping[int, Spans], does: Callable[[], T]) -> Iterator[T | None]:
        """Everything that something comes to on the courses it can go, where some columns have such values from the first.

        None for each course that turned out impossible. It is done anew only on those that `tree` does not know: nothing
        but the answers may tell what it does. Each time `possible` and `chosen` tell of that course, until the next.
        """
        self._path, self.chosen, self._wide, self._later = [], {}, {}, []
        self.possible = self.together.reached
        self.asked |= given.keys()
        try:
            for column, spans in given.items():
                self._leave(column, self.facts.mask(column, spans))
        except Impossible:
            yield None
            return
        self._at = tree.leads, 0
        yield self._come_to(does)
        while self._later:
            self._path, question, self.possible, self.chosen, self._wide = self._later.pop()
            self._take(question, False)
            yield self._come_to(does)

    def _come_to(self, does: Callable[[], T]) -> T | None:
        """Go by what is known as far as it leads, and on by doing it."""
        try:
            leads, which = self._at
            while isinstance(at := leads[which], _Question):
                self._answer(at)
                leads, which = self._at
            if at is not None:
                return cast(T, at.what)
            self._again = 0
            what = does()
            leads, which = self._at
            leads[which] = Found(what)
            return what
        except Impossible:
            return None

    def values(self, column: int) -> Spans:
        """What a column can have held at first, on this course."""
        if self.facts.narrow[column]:
            return self.facts.spans(column, self.possible)
        return self._wide.get(column, self.together.spans[column])

    def between(self, column: int, low: int, high: int) -> bool:
        """Whether a column held something between two numbers at first."""
        if self._again < len(self._path):
            return self._asked_again()
        key = column, low, high
        known = self._between.get(key)
        if known is None:
            of = self.facts.columns[column]
            inside = span(max(of.lowest, low), min(of.highest, high))
            known = self._between[key] = inside, self.facts.mask(column, inside)
        return self._ask(_Question(column, *known))

    def choose(self, column: int, inside: Spans) -> bool:
        """Whether a column held one of some values at first; where both can be, one is gone now and the other later."""
        if self._again < len(self._path):
            return self._asked_again()
        return self._ask(_Question(column, inside, self.facts.mask(column, inside)))

    def number(self, unknown: Unknown) -> int:
        """Which number something is, on a course for each that it can be."""
        while True:
            if self._again < len(self._path):
                number = self._path[self._again][0].number
                if self._asked_again():
                    return number
                continue
            left = met(self.values(unknown.column), _all_of(unknown.pieces))
            if not left:
                raise Impossible
            at = left[0][0]
            number = next(by if fixed else at + by for low, high, fixed, by in unknown.pieces if low <= at <= high)
            inside = unknown.where(number, number)
            if self._ask(_Question(unknown.column, inside, self.facts.mask(unknown.column, inside), number)):
                return number

    def _asked_again(self) -> bool:
        self._again += 1
        return self._path[self._again - 1][1]

    def _ask(self, question: _Question) -> bool:
        """A question that was not asked here before."""
        leads, which = self._at
        leads[which] = question
        self._again += 1
        return self._answer(question)

    def _answer(self, question: _Question) -> bool:
        """Answer one; where both can be, *yes* now and *no* later."""
        column, facts = question.column, self.facts
        self.asked.add(column)
        if facts.narrow[column]:
            now = self.possible & facts.of_column[column]
            fits = now & question.mask
            if fits == now or not fits:
                if not now:
                    raise Impossible
                return self._went(question, fits != 0)
        else:
            held = self.values(column)
            inside = met(held, question.inside)
            if inside == held or not inside:
                return self._went(question, bool(inside))
        self._later.append((self._path[:], question, self.possible, self.chosen.copy(), self._wide.copy()))
        return self._take(question, True)

    def _take(self, question: _Question, answer: bool) -> bool:
        """Give one of two answers that both can be."""
        column, facts = question.column, self.facts
        if facts.narrow[column]:
            now = self.possible & facts.of_column[column]
            self._leave(column, now & question.mask if answer else now & ~question.mask)
            before = self.chosen.get(column)
            held = self.together.values(column, self.together.reached) if before is None else before
            self.chosen[column] = (met if answer else less)(held, question.inside)
        else:
            self._wide[column] = self.chosen[column] = (met if answer else less)(self.values(column), question.inside)
        return self._went(question, answer)

    def _went(self, question: _Question, answer: bool) -> bool:
        self._path.append((question, answer))
        self._at = question.leads, answer
        return answer

    def _leave(self, column: int, left: int) -> None:
        """Leave of a column only some facts, and of all else what comes with them."""
        self.possible &= self.together.with_any(left) & (left | ~self.facts.of_column[column])
        if not left:
            raise Impossible


class Unknown:
    """What a column holds on a course: a piecewise function of what it, or another, held at first."""

    __slots__ = ("column", "course", "pieces")

    def __init__(self, course: Course, column: int, pieces: tuple[Piece, ...]):
        self.course, self.column, self.pieces = course, column, pieces

    # --- asking

    def where(self, low: int, high: int) -> Spans:
        """What it can have been at first to lie between two numbers now."""
        if len(self.pieces) == 1:
            return _in_piece(self.pieces[0], low, high)
        return joined(part for piece in self.pieces for part in _in_piece(piece, low, high))

    def _is(self, other: object, sign: int, equal: bool) -> bool:
        """Whether it is less (-1), the same (0) or more (1) than another, or `equal`."""
        if isinstance(other, Unknown):
            if other.column == self.column:
                return self.course.choose(self.column, self._against(other, sign, equal))
            other = other.settled()
        assert isinstance(other, int)
        low = other if sign == 0 else -ENDLESS if sign < 0 else other + (not equal)
        high = other if sign == 0 else ENDLESS if sign > 0 else other - (not equal)
        if len(self.pieces) == 1 and not self.pieces[0][2]:
            by = self.pieces[0][3]
            return self.course.between(self.column, low - by, high - by)
        return self.course.choose(self.column, self.where(low, high))

    def _against(self, other: Unknown, sign: int, equal: bool) -> Spans:
        """Where it compares in some way to another function of the same value at first."""
        found: list[tuple[int, int]] = []
        for first, last, fixed, by in self.pieces:
            for start, end, still, plus in other.pieces:
                low, high = max(first, start), min(last, end)
                if fixed == still:
                    found += span(low, high) if _compares(by - plus, sign, equal) else NONE
                    continue
                # One stands still and the other goes with the value: they meet at one value at most.
                at, turn = (by - plus, -1) if fixed else (plus - by, 1)
                parts = (
                    (low, min(high, at - 1), -turn),
                    (max(low, at), min(high, at), 0),
                    (max(low, at + 1), high, turn),
                )
                found += [p for a, b, is_ in parts if _compares(is_, sign, equal) for p in span(a, b)]
        return joined(found)

    def among(self, values: frozenset[int]) -> bool:
        """Whether it is one of some numbers."""
        inside = joined(part for low, high in spans_of(values) for part in self.where(low, high))
        return self.course.choose(self.column, inside)

    def settled(self) -> int:
        """Which number it is, on a course for each that it can be."""
        return self.course.number(self)

    def __lt__(self, other: object) -> bool:
        return self._is(other, -1, False)

    def __le__(self, other: object) -> bool:
        if type(other) is int and len(self.pieces) == 1 and not self.pieces[0][2]:
            return self.course.between(self.column, -ENDLESS, other - self.pieces[0][3])
        return self._is(other, -1, True)

    def __gt__(self, other: object) -> bool:
        return self._is(other, 1, False)

    def __ge__(self, other: object) -> bool:
        if type(other) is int and len(self.pieces) == 1 and not self.pieces[0][2]:
            return self.course.between(self.column, other - self.pieces[0][3], ENDLESS)
        return self._is(other, 1, True)

    def __eq__(self, other: object) -> bool:
        return self._is(other, 0, True)

    def __ne__(self, other: object) -> bool:
        return not self._is(other, 0, True)

    def __bool__(self) -> bool:
        return not self._is(0, 0, True)

    def __index__(self) -> int:
        return self.settled()

    def __hash__(self) -> int:
        return hash(self.settled())

    # --- moving

    def __add__(self, number: int) -> Unknown:
        moved = tuple((first, last, fixed, by + number) for first, last, fixed, by in self.pieces)
        return Unknown(self.course, self.column, moved)

    def __sub__(self, number: int) -> Unknown:
        return self + -number

    def clamped(self, lowest: int, highest: int) -> Unknown:
        """The nearest number between two."""
        pieces: list[Piece] = []
        for first, last, fixed, by in self.pieces:
            if fixed:
                pieces.append((first, last, True, min(max(by, lowest), highest)))
                continue
            low, high = lowest - by, highest - by
            pieces += [(a, b, True, lowest) for a, b in span(first, min(last, low - 1))]
            pieces += [(a, b, False, by) for a, b in span(max(first, low), min(last, high))]
            pieces += [(a, b, True, highest) for a, b in span(max(first, high + 1), last)]
        return Unknown(self.course, self.column, tuple(pieces))

    def mapped(self, table: tuple[int, ...], lowest: int) -> Unknown:
        """What a table gives for it, the first for `lowest`."""
        pieces: list[Piece] = []
        for first, last, fixed, by in self.pieces:
            if fixed:
                pieces.append((first, last, True, table[by - lowest]))
                continue
            for value in range(max(first, lowest - by), min(last, lowest + len(table) - 1 - by) + 1):
                to = table[value + by - lowest]
                if to == value and pieces and pieces[-1][1:] == (value - 1, False, 0):
                    pieces[-1] = pieces[-1][0], value, False, 0
                else:
                    pieces.append((value, value, False, 0) if to == value else (value, value, True, to))
        return Unknown(self.course, self.column, tuple(pieces))


def at_first(course: Course, column: int) -> Unknown:
    """What a column held at first."""
    of = course.facts.columns[column]
    return Unknown(course, column, ((of.lowest, of.highest, False, 0),))


def _in_piece(piece: Piece, low: int, high: int) -> Spans:
    first, last, fixed, by = piece
    if fixed:
        return span(first, last) if low <= by <= high else NONE
    return span(max(first, low - by), min(last, high - by))


def _all_of(pieces: tuple[Piece, ...]) -> Spans:
    return joined((first, last) for first, last, _, _ in pieces)


def _compares(difference: int, sign: int, equal: bool) -> bool:
    return difference == 0 if sign == 0 else difference * sign > 0 or (equal and difference == 0)
