"""Values that are not known yet: the program itself is run on them, and each question about one parts the ways.

An `Unknown` is what a column held at first, moved or replaced since. Whoever asks it something gets one answer on one
course through the program, the other on another; so all that an action can do is found by running it once for each
course, by the very code that runs it on known values.
"""

from __future__ import annotations

from collections.abc import Mapping

from .spans import NONE, Spans, joined, less, met, span, spans_of
from .together import Together

ENDLESS = 1 << 60
Piece = tuple[int, int, bool, int]
"""What a column holds that held a value from the first to the second: the fourth itself where the third, else so much more."""


class Impossible(Exception):
    """What was answered on a course cannot come together; never leaves the proof."""


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
        self.to_go: list[list[bool]] = [[]]
        self._answers: list[bool] = []
        self._asked = 0
        self._wide: dict[int, Spans] = {}
        self._between: dict[tuple[int, int, int], tuple[Spans, int, int]] = {}

    def next(self, given: Mapping[int, Spans]) -> bool:
        """Set out on the next course, on which some columns have such values from the first; whether there was one."""
        if not self.to_go:
            return False
        self._answers, self._asked, self.chosen, self._wide = self.to_go.pop(), 0, {}, {}
        self.possible = self.together.reached
        for column, spans in given.items():
            self.asked.add(column)
            self._leave(column, self.facts.mask(column, spans))
        return True

    def values(self, column: int) -> Spans:
        """What a column can have held at first, on this course."""
        if self.facts.narrow[column]:
            return self.facts.spans(column, self.possible)
        return self._wide.get(column, self.together.spans[column])

    def between(self, column: int, low: int, high: int) -> bool:
        """Whether a column held something between two numbers at first."""
        key = column, low, high
        known = self._between.get(key)
        if known is None:
            of, facts = self.facts.columns[column], self.facts
            inside = span(max(of.lowest, low), min(of.highest, high))
            whole = facts.of_column[column] if facts.narrow[column] else 0
            known = self._between[key] = inside, facts.mask(column, inside), whole
        inside, mask, whole = known
        now = self.possible & whole
        if now:
            # Most questions have one answer: this is the innermost loop of the taking apart.
            fits = now & mask
            if fits == now or not fits:
                self.asked.add(column)
                return fits != 0
        return self.choose(column, inside, mask)

    def choose(self, column: int, inside: Spans, mask: int | None = None) -> bool:
        """Whether a column held one of some values at first; where both can be, one is gone now and the other later.

        `mask`: the facts for which the values stand, where that is known.
        """
        self.asked.add(column)
        if not self.facts.narrow[column]:
            return self._choose_wide(column, inside)
        now = self.possible & self.facts.of_column[column]
        fits = now & (self.facts.mask(column, inside) if mask is None else mask)
        if fits == now or not fits:
            if not now:
                raise Impossible
            return bool(fits)
        answer = self._answer()
        self._leave(column, fits if answer else now ^ fits)
        before = self.chosen.get(column)
        whole = self.together.values(column, self.together.reached) if before is None else before
        self.chosen[column] = met(whole, inside) if answer else less(whole, inside)
        return answer

    def _choose_wide(self, column: int, inside: Spans) -> bool:
        now = self.values(column)
        fits = met(now, inside)
        if fits == now or not fits:
            return bool(fits)
        answer = self._answer()
        self._wide[column] = self.chosen[column] = fits if answer else less(now, fits)
        return answer

    def _answer(self) -> bool:
        if self._asked == len(self._answers):
            self.to_go.append([*self._answers, False])
            self._answers.append(True)
        self._asked += 1
        return self._answers[self._asked - 1]

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
        while True:
            left = met(self.course.values(self.column), _all_of(self.pieces))
            if not left:
                raise Impossible
            first = left[0][0]
            number = next(by if fixed else first + by for low, high, fixed, by in self.pieces if low <= first <= high)
            if self.course.choose(self.column, self.where(number, number)):
                return number

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
