"""All flats of a program: flattened, and spread over the pairs that can come together, until neither adds to the other."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from ..progress.program import Program
from ..project.noting import Note, unnoted
from .flats import Event, Flat, Flattened, Parting, TooMany, Watched, changed, put_together, quest_ends
from .places import Places
from .spans import Spans, span, values_in
from .together import Together, bits


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
    for row in seen:
        together.see(row)
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
        self.growing: dict[int, list[_Growing]] = {}
        self.too_many: dict[int, TooMany] = {}
        self._stamps: dict[int, int] = {}

    def round(self) -> bool:
        """Take apart again what is out of date, the long ones only where nothing short is; whether anything was."""
        late = [n for n in range(len(self.program.actions)) if self._late(n)]
        if not late:
            return False
        ways = {n: self.found[n].courses if n in self.found else 0 for n in late}
        most = 4 * max(8, min(ways.values()))
        for number in late:
            if ways[number] <= most:
                self.note(
                    "Taking apart what can be done", len(self.program.actions) - len(late), len(self.program.actions)
                )
                self._take_apart(number)
        settle(one for growing in self.growing.values() for one in growing)
        return True

    def _late(self, number: int) -> bool:
        if number in self.too_many:
            return False
        return number not in self.found or self._stamps[number] != self._stamp(number)

    def _take_apart(self, number: int) -> None:
        try:
            found = self.parting.flattened(number)
        except TooMany as culprit:
            self.too_many[number] = culprit
            return
        self.found[number] = found
        self._stamps[number] = self._stamp(number)
        self.growing[number] = [_Growing(self.together, flat, found.asked) for flat in found.flats]
        for one in self.growing[number]:
            one.add()

    def _stamp(self, number: int) -> int:
        """Changes whenever what an action was asked of can come together otherwise."""
        of_column, rows = self.together.facts.of_column, self.together.rows
        mask = sum(of_column[n] for n in self.found[number].asked) & self.together.reached
        return hash(tuple(rows[fact] & mask for fact in bits(mask)))


def settle(growing: Iterable[_Growing]) -> None:
    """Add what flats lead to until they add nothing more."""
    several, going = list(growing), True
    while going:
        going = False
        for one in several:
            going = one.add() or going


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
    """One flat while pairs are added: what it asks as facts, what it puts, and how it moves the columns that it moves.

    `asked`: what its action was asked of. Where one of those has come to more values since, the flat knows nothing of them:
    it goes for those that there were, until its action is taken apart again.
    """

    def __init__(self, together: Together, flat: Flat, asked: Iterable[int]):
        self.together, facts = together, together.facts
        self._asked = [(facts.mask(n, spans), facts.of_column[n]) for n, spans in flat.when.items()]
        self._knew = [(facts.of_column[n] & together.reached, facts.of_column[n]) for n in asked if n not in flat.when]
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
                moved = [(first + v - of.lowest, changed(change, v)) for v in values]
                self._moved.append([(b, facts.fact(column, a)) for b, a in moved if of.lowest <= a <= of.highest])
        self._puts = sum(1 << fact for fact in self._put)
        self._last: tuple[int, ...] = ()

    def add(self) -> bool:
        """Add the pairs that come by it; whether there were new ones."""
        rows, reached = self.together.rows, self.together.reached
        grown = [(knew, whole) for knew, whole in self._knew if reached & whole != knew]
        left = _left(self.together, [*self._asked, *grown])
        now = left, *(rows[b] & left for moved in self._moved for b, _ in moved)
        if not left or now == self._last:
            return False
        self._last = now
        stays = left & ~self._written
        images = [_image(moved, left) for moved in self._moved]
        new = False
        beside = stays | self._puts | sum(images)
        for fact in self._put:
            new = self.together.join(fact, beside) or new
        for n, moved in enumerate(self._moved):
            for before, after in moved:
                if left >> before & 1:
                    near = left & rows[before]
                    others = sum(_image(m, near) for k, m in enumerate(self._moved) if k != n)
                    new = self.together.join(after, near & stays | self._puts | others) or new
        return new


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
