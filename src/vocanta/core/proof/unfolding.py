"""What becomes possible after what, in rounds: each thing that the player does once adds a round, walking and clocks none.

Every value is taken by itself: what can come about in a round counts as there from then on, whatever else it would have cost.
So it is optimistic: what is not in it never happens, what is may come later than it says, or never together.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from ..progress.program import Action
from .flats import Flat, changed
from .spans import span, values_in
from .spreading import Spread
from .together import Facts, bits
from .values import is_counted


@dataclass(frozen=True, slots=True)
class Came:
    """Something that becomes possible: a column with a value, the round, what brings it, and what that waits for."""

    column: int
    value: int
    round: int
    by: Action
    after: tuple[int, ...]
    """The facts that it waits for and that were not so from the start, by number; the latest of them in the round before."""


@dataclass(frozen=True)
class Unfolding:
    """All that becomes possible, by the number of its fact, in the order of coming about."""

    facts: Facts
    came: dict[int, Came]

    def rounds(self) -> list[list[Came]]:
        """Round by round what is new in it; the first without anything that the player did."""
        found: list[list[Came]] = [[] for _ in range(1 + max((c.round for c in self.came.values()), default=0))]
        for one in self.came.values():
            found[one.round].append(one)
        return found

    def find(self, column: int, value: int) -> Came | None:
        """How a value of a column comes about; None where it is so from the start, or never."""
        return self.came.get(self.facts.fact(column, value))


def unfolded(spread: Spread, first: Sequence[int]) -> Unfolding:
    """The rounds from a situation on. Cost: some readings of all flats for each round."""
    facts = spread.together.facts
    flats = [_Flat(facts, spread, flat) for flat in spread.flats]
    so = sum(1 << fact for fact in facts.of_row(first))
    unfolding, number = Unfolding(facts, {}), 0
    start = so
    while True:
        so, _ = _spread_out(unfolding, [f for f in flats if not f.counts], so, start, number, again=True)
        wider, new = _spread_out(unfolding, [f for f in flats if f.counts], so, start, number + 1, again=False)
        if not new:
            return unfolding
        so, number = wider, number + 1


class _Flat:
    """One flat as facts: what it asks, and which facts it brings from which."""

    def __init__(self, facts: Facts, spread: Spread, flat: Flat):
        self.action = spread.program.actions[flat.action]
        self.counts = is_counted(self.action)
        self.asks = [facts.mask(column, spans) for column, spans in flat.when.items()]
        self.brings: list[tuple[int, int]] = []
        """Pairs of facts: from which, -1 for any, to which; those that have not come yet."""
        for column, change in flat.then.items():
            of = facts.columns[column]
            if not facts.narrow[column] or (len(change) == 1 and change[0][2]):
                self.brings.append((-1, facts.fact(column, change[0][3])))
                continue
            for value in values_in(flat.when.get(column, span(of.lowest, of.highest))):
                after = changed(change, value)
                if of.lowest <= after <= of.highest:
                    self.brings.append((facts.fact(column, value), facts.fact(column, after)))


def _spread_out(
    unfolding: Unfolding, flats: Sequence[_Flat], so: int, start: int, number: int, again: bool
) -> tuple[int, bool]:
    """Do what can be done: once, or again and again until nothing is new. All facts then, and whether any was new."""
    grown = so
    while True:
        before = grown if again else so
        for flat in flats:
            if flat.brings and all(before & mask for mask in flat.asks):
                for source, fact in flat.brings:
                    if not grown >> fact & 1 and (source < 0 or before >> source & 1):
                        grown |= 1 << fact
                        unfolding.came[fact] = _came(unfolding, flat, source, fact, start, before, number)
                flat.brings = [one for one in flat.brings if not grown >> one[1] & 1]
        if not again or grown == before:
            return grown, grown != so


def _came(unfolding: Unfolding, flat: _Flat, source: int, fact: int, start: int, so: int, number: int) -> Came:
    facts = unfolding.facts
    column = next(n for n, mask in enumerate(facts.of_column) if mask >> fact & 1)
    value = facts.columns[column].lowest + fact - facts.first[column]
    after = [next(_soonest(unfolding, mask & so)) for mask in flat.asks if not mask & start]
    after += [source] if source >= 0 and not start >> source & 1 else []
    return Came(column, value, number, flat.action, tuple(dict.fromkeys(after)))


def _soonest(unfolding: Unfolding, mask: int) -> Iterator[int]:
    """Facts by the round in which they came about."""
    yield from sorted(bits(mask), key=lambda fact: unfolding.came[fact].round if fact in unfolding.came else 0)
