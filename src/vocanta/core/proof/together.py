"""Which values of two columns can come together: relaxed reachability over pairs.

A *fact* is a column with one of its values. For each fact the others that it can come with are kept as the bits of a whole
number. Whatever is reached is among it; what is not among it never happens. It is begun with situations that were seen, and
grows until no flat adds to it (`settled`). Source: the mutually exclusive pairs of planning (Haslum and Geffner, 2000).
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence

import numpy as np

from ..progress.columns import Column
from ..progress.program import Program
from .places import Places
from .spans import Spans, joined, span, spans_of

NARROW = 512
"""A column with more values is one fact, whatever it holds: nothing is known of it but its span."""


class Facts:
    """The numbering: the facts of each column lie side by side, from its lowest value on."""

    def __init__(self, columns: Sequence[Column]):
        self.columns = columns
        self.narrow = [c.highest - c.lowest < NARROW for c in columns]
        self.first: list[int] = []
        self.count = 0
        for column, narrow in zip(columns, self.narrow, strict=True):
            self.first.append(self.count)
            self.count += column.highest - column.lowest + 1 if narrow else 1
        ends = [*self.first[1:], self.count]
        self.of_column = [((1 << end) - 1) ^ ((1 << begin) - 1) for begin, end in zip(self.first, ends, strict=True)]
        """For each column the bits of all its facts."""
        self._masks: dict[tuple[int, Spans], int] = {}
        self._spans: dict[int, Spans] = {0: ()}

    def fact(self, column: int, value: int) -> int:
        """The number of a fact."""
        return self.first[column] + (value - self.columns[column].lowest if self.narrow[column] else 0)

    def mask(self, column: int, spans: Spans) -> int:
        """The facts of a column that has one of some values."""
        key = column, spans
        if key not in self._masks:
            self._masks[key] = self._mask(column, spans)
        return self._masks[key]

    def _mask(self, column: int, spans: Spans) -> int:
        of, first, found = self.columns[column], self.first[column], 0
        if not self.narrow[column]:
            return self.of_column[column] if spans else 0
        for low, high in spans:
            low, high = max(low, of.lowest), min(high, of.highest)
            if low <= high:
                found |= ((1 << (high - low + 1)) - 1) << (first + low - of.lowest)
        return found

    def spans(self, column: int, mask: int) -> Spans:
        """The values of a column among some facts; all of them for one that is not narrow."""
        of, its = self.columns[column], mask & self.of_column[column]
        if not self.narrow[column]:
            return span(of.lowest, of.highest) if its else ()
        if its not in self._spans:
            self._spans[its] = spans_of(of.lowest + n for n in bits(its >> self.first[column]))
        return self._spans[its]

    def of_row(self, row: Sequence[int]) -> list[int]:
        """The facts of a situation."""
        return [self.fact(n, value) for n, value in enumerate(row)]


def bits(mask: int) -> Iterator[int]:
    """The places of the ones in a whole number, ascending."""
    while mask:
        low = mask & -mask
        yield low.bit_length() - 1
        mask ^= low


class Rows:
    """For each fact the others that it comes with, as a whole number; kept as a table of bits, so that many rows are
    written at once."""

    def __init__(self, count: int):
        self._bits = np.zeros((count, (count + 7) // 8), dtype=np.uint8)
        self._numbers = [0] * count
        self._stale = 0
        """The rows, as bits, whose numbers are behind the table."""

    def __getitem__(self, fact: int) -> int:
        if self._stale >> fact & 1:
            self._stale ^= 1 << fact
            self._numbers[fact] = int.from_bytes(self._bits[fact].tobytes(), "little")
        return self._numbers[fact]

    def __setitem__(self, fact: int, others: int) -> None:
        self._stale &= ~(1 << fact)
        self._numbers[fact] = others
        self._bits[fact] = np.frombuffer(others.to_bytes(self._bits.shape[1], "little"), dtype=np.uint8)

    def add_to_all(self, others: int, fact: int) -> None:
        """Add a fact to the rows of some others."""
        table = np.frombuffer(others.to_bytes(self._bits.shape[1], "little"), dtype=np.uint8)
        chosen = np.flatnonzero(np.unpackbits(table, bitorder="little"))
        self._bits[chosen, fact >> 3] |= np.uint8(1 << (fact & 7))
        self._stale |= others


class Together:
    """The pairs of one program. `free`: sensed columns that nobody listens to; they are as the place lets them be."""

    def __init__(self, program: Program, places: Places, spans: Sequence[Spans]):
        self.facts = facts = Facts(program.columns)
        self.spans = spans
        """For each column the values it can have at all, as far as is known by the column alone."""
        self.free = frozenset(n for n in program.sensed if n not in program.sensed_actions)
        self._free_mask = sum(facts.of_column[n] for n in self.free)
        self._cell = program.table.at("cell")
        self._never = self._kept_apart(program, places)
        self.rows = Rows(facts.count)
        """For each fact those that it can come with, itself among them; 0 for one that never is."""
        self.reached = self._free_mask
        self.touched = 0
        """The facts that have come with others since whoever looks at it put it to 0."""
        self._with_any: dict[int, int] = {}
        for number in self.free:
            for fact in bits(facts.of_column[number]):
                own = facts.of_column[number] & ~(1 << fact)
                self.rows[fact] = ((1 << facts.count) - 1) & ~own & ~self._never.get(fact, 0)

    def _kept_apart(self, program: Program, places: Places) -> dict[int, int]:
        """For facts of the senses and of the player's cell those that they never come with."""
        facts, found = self.facts, dict[int, int]()
        every = facts.of_column[self._cell]
        for number in program.sensed:
            column = program.columns[number]
            for value in range(column.lowest, column.highest + 1) if facts.narrow[number] else ():
                whens = places.whens(column, value)
                cells = None if whens is None else [when.get(self._cell) for when in whens]
                if cells is None or None in cells:
                    continue
                fact = facts.fact(number, value)
                apart = every & ~facts.mask(self._cell, joined(part for spans in cells for part in spans or ()))
                found[fact] = found.get(fact, 0) | apart
                for cell in bits(apart):
                    found[cell] = found.get(cell, 0) | 1 << fact
        return found

    # --- asking

    def with_any(self, mask: int) -> int:
        """The facts that come with at least one of some facts."""
        if mask not in self._with_any:
            found = 0
            for fact in bits(mask):
                found |= self.rows[fact]
            self._with_any[mask] = found
        return self._with_any[mask]

    def values(self, column: int, possible: int) -> Spans:
        """The values of a column among some facts."""
        if not self.facts.narrow[column]:
            return self.spans[column]
        return self.facts.spans(column, possible)

    # --- growing

    def see(self, rows: Iterable[Sequence[int]]) -> None:
        """Situations that can be. Cheap where each differs little from the one before."""
        held = [-1] * len(self.facts.columns)
        before: Sequence[int | None] = [None] * len(held)
        together = 0
        for row in rows:
            new = [n for n, (a, b) in enumerate(zip(row, before, strict=True)) if a != b and n not in self.free]
            for number in new:
                fact = self.facts.fact(number, row[number])
                together ^= (1 << held[number] if held[number] >= 0 else 0) ^ 1 << fact
                held[number] = fact
            for number in new:
                self.join(held[number], together)
            before = row

    def join(self, fact: int, others: int) -> None:
        """That a fact can come with others, and they with it. The senses come with all by themselves."""
        new = (others | 1 << fact) & ~self.rows[fact] & ~self._never.get(fact, 0) & ~self._free_mask
        if not new:
            return
        if not self.rows[fact]:
            self.rows[fact] = self._free_mask & ~self._never.get(fact, 0)
            self.reached |= 1 << fact
        self.rows[fact] |= new
        for other in bits(new & ~self.reached):
            self.rows[other] = self._free_mask & ~self._never.get(other, 0)
        self.reached |= new
        self.rows.add_to_all(new, fact)
        self.touched |= new | 1 << fact
        self._with_any.clear()
