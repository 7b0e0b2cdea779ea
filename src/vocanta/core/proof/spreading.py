"""All flats of a program: flattened, and spread over the pairs that can come together, until neither adds to the other."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import reduce
from operator import or_

from ..progress.program import Program
from ..project.noting import Note, unnoted
from .flats import Change, Event, Flat, Flattened, Parting, TooMany, Watched, changed, put_together, quest_ends
from .places import Places
from .spans import Spans, span, values_in
from .together import Together, bits

_Does = tuple[tuple[tuple[int, Spans], ...], tuple[tuple[int, Change], ...]]
"""What tells flats of one action apart: what they ask, and how they change columns."""


@dataclass(frozen=True)
class Spread:
    """What all actions of a program can do, and what can come together. `too_many` names those that were left out."""

    program: Program
    counts: frozenset[int]
    flats: tuple[Flat, ...]
    together: Together
    chasing: frozenset[str]
    too_many: tuple[TooMany, ...] = ()
    happens: frozenset[Event] = frozenset()
    """All that can happen, as far as pairs of values tell."""

    def values(self, column: int) -> Spans:
        """The values that a column can come to have."""
        return self.together.values(column, self.together.reached)


def spread(
    program: Program,
    counts: frozenset[int],
    places: Places,
    seen: Iterable[Sequence[int]],
    wide: Sequence[Spans],
    note: Note = unnoted,
    watched: Watched = quest_ends,
) -> Spread:
    """Everything that can happen from situations that were seen, the first among them.

    `wide[n]`: the values of column n as far as it is known by itself; `watched`: what flats tell of what happens.
    Deterministic.
    """
    together = Together(program, places, wide)
    together.see(seen)
    work = _Work(program, together, Parting(program, together, places, counts, watched), note)
    while work.round():
        pass
    found = work.found
    flats = [f for one in found.values() for f in one.flats if possible(together, f)]
    base = [together.values(n, together.reached) for n in range(len(program.columns))]
    chasing = frozenset().union(*(one.chasing for one in found.values()))
    happens = frozenset().union(*(one.happens for one in found.values()))
    too_many = tuple(work.too_many.values())
    return Spread(program, counts, tuple(put_together(flats, base)), together, chasing, too_many, happens)


class _Work:
    """What is found out so far. Actions are taken apart again where what they were asked of can come together otherwise."""

    def __init__(self, program: Program, together: Together, parting: Parting, note: Note):
        self.program, self.together, self.parting, self.note = program, together, parting, note
        self.found: dict[int, Flattened] = {}
        self.growing: dict[int, dict[_Does, _Growing]] = {}
        self.too_many: dict[int, TooMany] = {}
        self._pairs: dict[int, int] = {}
        """For each action how many pairs there were of what it was asked of. They only grow, so the number tells."""
        self._perhaps = set(range(len(program.actions)))
        """The actions that may be out of date."""

    def round(self) -> bool:
        """Take apart again what is out of date, the long ones only where nothing short is; whether anything was."""
        self._perhaps = {n for n in self._perhaps if n not in self.found or self._pairs[n] != self._pairs_of(n)}
        if not self._perhaps:
            return False
        late = [(n, self.found[n].courses if n in self.found else 0) for n in sorted(self._perhaps)]
        most, count = 4 * max(8, min(courses for _, courses in late)), len(self.program.actions)
        for number, courses in late:
            if courses <= most:
                self.note("Taking apart what can be done", count - len(late), count)
                self._take_apart(number)
        touched = settle(self.together, [one for growing in self.growing.values() for one in growing.values()])
        self._perhaps |= {n for n in self.found if n not in self.too_many and touched & self._asked(n)}
        return True

    def _take_apart(self, number: int) -> None:
        self._perhaps.discard(number)
        try:
            found = self.parting.flattened(number)
        except TooMany as culprit:
            self.too_many[number] = culprit
            return
        self.found[number] = found
        self._pairs[number] = self._pairs_of(number)
        before = self.growing.get(number, {})
        self.growing[number] = {}
        for flat in found.flats:
            does = tuple(flat.when.items()), tuple(flat.then.items())
            one = self.growing[number][does] = before.get(does) or _Growing(self.together, flat)
            one.known(found.asked)
        for one in self.growing[number].values():
            if one.due(0):
                one.add()

    def _asked(self, number: int) -> int:
        """The facts of what an action was asked of."""
        of_column = self.together.facts.of_column
        return sum(of_column[n] for n in self.found[number].asked)

    def _pairs_of(self, number: int) -> int:
        """How many facts and pairs of facts there are of what an action was asked of."""
        mask, rows = self._asked(number), self.together.rows
        return sum((rows[fact] & mask).bit_count() + 1 for fact in bits(mask & self.together.reached))


def settle(together: Together, growing: Sequence[_Growing]) -> int:
    """Add what flats lead to until they add nothing more; all facts that have come with others since the last time."""
    touched = together.touched
    while together.touched:
        before, together.touched = together.touched, 0
        for one in growing:
            if one.due(before | together.touched):
                one.add()
        touched |= together.touched
    return touched


def possible(together: Together, flat: Flat) -> int:
    """The facts that can hold where a flat can be done; 0 where it never can."""
    facts = together.facts
    return _left(together, [(facts.mask(n, spans), facts.of_column[n]) for n, spans in flat.when.items()])


def _left(together: Together, asked: Sequence[tuple[int, int]]) -> int:
    """The facts that come with such facts of such columns."""
    left = together.reached
    for mask, _ in asked:
        left &= together.with_any(mask & left)
    return left if all(left & whole for _, whole in asked) else 0


class _Growing:
    """One flat while pairs are added: what it asks as facts, what it puts, and how it moves the columns that it moves."""

    def __init__(self, together: Together, flat: Flat):
        self.together, facts = together, together.facts
        self._when = flat.when
        self._asked = [(facts.mask(n, spans), facts.of_column[n]) for n, spans in flat.when.items()]
        self._knew: list[tuple[int, int]] = []
        self._written = sum(facts.of_column[n] for n in flat.then)
        self._put: list[int] = []
        self._moved: list[list[tuple[int, int]]] = []
        for column, change in flat.then.items():
            of, first = facts.columns[column], facts.first[column]
            if not facts.narrow[column]:
                self._put.append(first)
            elif len(change) == 1 and change[0][2]:
                self._put.append(facts.fact(column, change[0][3]))
            else:
                values = values_in(flat.when.get(column, span(of.lowest, of.highest)))
                moves = [(first + v - of.lowest, changed(change, v)) for v in values]
                self._moved.append([(b, facts.fact(column, a)) for b, a in moves if of.lowest <= a <= of.highest])
        self._puts = sum(1 << fact for fact in self._put)
        self._last: tuple[int, ...] = ()
        self._hangs_on = reduce(or_, (mask for mask, _ in self._asked), 0) if flat.when else -1
        self._hangs_on |= sum(1 << b for moved in self._moved for b, _ in moved)
        self._of_asked, self._among = 0, -1

    def known(self, asked: Iterable[int]) -> None:
        """That its action was just taken apart, and what it was asked of.

        Where one of those comes to more values, the flat knows nothing of them: it goes for those that there were.
        """
        reached, whole = self.together.reached, self.together.facts.of_column
        knew = [(whole[n] & reached, whole[n]) for n in asked if n not in self._when]
        if knew != self._knew:
            self._knew, self._of_asked, self._among = knew, sum(of for _, of in knew), -1

    def due(self, touched: int) -> bool:
        """Whether there may be more to add since it was added, where some facts have come with others since."""
        return bool(touched & self._hangs_on) or self.together.reached & self._of_asked != self._among

    def add(self) -> None:
        """Add the pairs that come by it."""
        rows, reached = self.together.rows, self.together.reached
        self._among = reached & self._of_asked
        grown = [(knew, whole) for knew, whole in self._knew if reached & whole != knew]
        for knew, _ in grown:
            self._hangs_on |= knew
        left = _left(self.together, [*self._asked, *grown])
        now = left, *(rows[b] & left for moved in self._moved for b, _ in moved)
        if not left or now == self._last:
            return
        self._last = now
        stays = left & ~self._written
        images = [_image(moved, left) for moved in self._moved]
        beside = stays | self._puts | sum(images)
        for fact in self._put:
            self.together.join(fact, beside)
        for n, moved in enumerate(self._moved):
            for before, after in moved:
                if left >> before & 1:
                    near = left & rows[before]
                    others = sum(_image(m, near) for k, m in enumerate(self._moved) if k != n)
                    self.together.join(after, near & stays | self._puts | others)


def _image(moved: Sequence[tuple[int, int]], possible: int) -> int:
    """The facts that some of those possible move to."""
    found = 0
    for before, after in moved:
        if possible >> before & 1:
            found |= 1 << after
    return found


def whole(program: Program) -> list[Spans]:
    """For each column all values within its limits."""
    return [span(c.lowest, c.highest) for c in program.columns]
