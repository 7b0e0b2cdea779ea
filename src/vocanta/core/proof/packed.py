"""A system gone through situation by situation, many at a time: each packed into whole 64-bit words.

Whatever the other stages say must agree with this, and a slice that is small goes through it as well. Keys are the whole
situations, never hashes of them. What a move asks and does comes down to a few masks for each word.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np
import numpy.typing as npt

from ..project.noting import Note, unnoted
from .diagrams import TooLarge
from .system import Move, Question, System, Table, values_in

Words = npt.NDArray[np.uint64]
"""Situations: shape (words, situations)."""
Mask = npt.NDArray[np.bool_]
Numbers = npt.NDArray[np.int64]
BITS = 64
MOST_SITUATIONS = 8_000_000
AT_ONCE = 1 << 15
"""So many situations are taken on at once: their successors still fit where memory is fast."""
_ODD = np.uint64(0x9E3779B97F4A7C15)
_SHIFT = np.uint64(32)


@dataclass(frozen=True, slots=True)
class Place:
    """Where a column lies: in which word, from which bit on, its bits as a mask."""

    word: int
    shift: int
    mask: int


class Packing:
    """How the columns of a system are packed. No column lies across two words."""

    def __init__(self, sizes: Sequence[int]):
        self.places: list[Place] = []
        word = at = 0
        for size in sizes:
            bits = max(1, (size - 1).bit_length())
            if at + bits > BITS - (word == 0):  # The first bit of all stays free: it tells a slot that is taken.
                word, at = word + 1, 0
            self.places.append(Place(word, at, ((1 << bits) - 1) << at))
            at += bits
        self.words = word + 1

    def packed(self, situation: Sequence[int]) -> list[int]:
        """A situation as words."""
        found = [0] * self.words
        for value, place in zip(situation, self.places, strict=True):
            found[place.word] |= value << place.shift
        return found

    def values(self, rows: Words, column: int) -> Numbers:
        """The values of one column: shape (situations)."""
        place = self.places[column]
        found: Numbers = ((rows[place.word] & np.uint64(place.mask)) >> np.uint64(place.shift)).astype(np.int64)
        return found


class _Doing:
    """One move on packed situations."""

    def __init__(self, system: System, packing: Packing, move: Move):
        self._packing = packing
        self.events = move.events
        equal: dict[int, list[int]] = {}
        self._tables: list[tuple[int, Mask]] = []
        for column, mask in move.when:
            place, values = packing.places[column], list(values_in(mask))
            if len(values) == 1:
                pair = equal.setdefault(place.word, [0, 0])
                pair[0] |= place.mask
                pair[1] |= values[0] << place.shift
            else:
                allowed = np.zeros((place.mask >> place.shift) + 1, dtype=np.bool_)
                allowed[values] = True
                self._tables.append((column, allowed))
        self._equal = [(word, np.uint64(m), np.uint64(v)) for word, (m, v) in equal.items()]
        fixed: dict[int, list[int]] = {}
        self._mapped: list[tuple[int, Words]] = []
        asked = dict(move.when)
        for column, table in move.then:
            place = packing.places[column]
            becomes = _becomes(system, column, table, asked)
            pair = fixed.setdefault(place.word, [0, 0])
            pair[0] |= place.mask
            if len(set(becomes.values())) == 1:
                pair[1] |= next(iter(becomes.values())) << place.shift
            else:
                to = np.zeros((place.mask >> place.shift) + 1, dtype=np.uint64)
                for value, new in becomes.items():
                    to[value] = new << place.shift
                self._mapped.append((column, to))
        every = (1 << BITS) - 1
        self._fixed = [(word, np.uint64(every ^ m), np.uint64(v)) for word, (m, v) in fixed.items()]
        self.changes = bool(move.then)

    def holds(self, rows: Words) -> Numbers:
        """Where it can be done."""
        where: Mask | None = None
        for word, mask, value in self._equal:
            one = (rows[word] & mask) == value
            where = one if where is None else where & one
        here = np.arange(rows.shape[1]) if where is None else np.flatnonzero(where)
        for column, allowed in self._tables:
            here = here[allowed[self._packing.values(rows[:, here], column)]]
        return here

    def after(self, rows: Words) -> Words:
        """What situations become where it can be done."""
        new = rows.copy()
        for word, mask, value in self._fixed:
            new[word] &= mask
            new[word] |= value
        for column, to in self._mapped:
            new[self._packing.places[column].word] |= to[self._packing.values(rows, column)]
        return new


def _becomes(system: System, column: int, table: Table, asked: dict[int, int]) -> dict[int, int]:
    values = values_in(asked.get(column, (1 << system.sizes[column]) - 1))
    return {value: table[value] for value in values}


class _Seen:
    """All situations that were come to, with their numbers: open addressing, grown by doubling."""

    def __init__(self, words: int, most: int):
        self.most, self.count = most, 0
        self._rows = np.zeros((words, 1 << 12), dtype=np.uint64)
        self._slots = np.full(1 << 13, -1, dtype=np.int32)

    @property
    def rows(self) -> Words:
        """All of them in the order of their numbers."""
        return self._rows[:, : self.count]

    def numbers(self, rows: Words) -> Numbers:
        """The numbers of situations; those that are new get the next ones. Raises `TooLarge`."""
        self._make_room(rows.shape[1])
        at = self._first_slots(rows)
        # Most are known, and lie where they are looked for first; what is held by an empty slot is no match.
        held = self._slots[at].astype(np.int64)
        found = np.where((held >= 0) & self._same(held, rows, slice(None)), held, -1)
        open_yet = np.flatnonzero(found < 0)
        while len(open_yet):
            held = self._slots[at[open_yet]].astype(np.int64)
            there = held >= 0
            known = open_yet[there]
            same = self._same(held[there], rows, known)
            found[known[same]] = held[there][same]
            free = open_yet[~there]
            if len(free):
                self._settle(rows, free, at, found)
            open_yet = open_yet[found[open_yet] < 0]
            passed = known[~same]
            at[passed] = (at[passed] + 1) & (len(self._slots) - 1)
        return found

    def _settle(self, rows: Words, free: Numbers, at: Numbers, found: Numbers) -> None:
        """Take free slots: of several that want one the last has it; whoever is the same looks again and finds it."""
        self._slots[at[free]] = -2 - free
        won = free[self._slots[at[free]] == -2 - free]
        if self.count + len(won) > self.most:
            raise TooLarge
        numbers = np.arange(self.count, self.count + len(won))
        self._rows[:, self.count : self.count + len(won)] = rows[:, won]
        self._slots[at[won]] = numbers
        found[won] = numbers
        self.count += len(won)

    def _same(self, held: Numbers, rows: Words, which: Numbers | slice) -> Mask:
        same: Mask = self._rows[0, held] == rows[0, which]
        for word in range(1, len(rows)):
            same &= self._rows[word, held] == rows[word, which]
        return same

    def _first_slots(self, rows: Words) -> Numbers:
        mixed = rows[0] * _ODD
        for word in rows[1:]:
            mixed = ((mixed ^ (mixed >> _SHIFT)) + word) * _ODD
        found: Numbers = ((mixed ^ (mixed >> _SHIFT)) & np.uint64(len(self._slots) - 1)).astype(np.int64)
        return found

    def _make_room(self, more: int) -> None:
        wanted = self.count + more
        if wanted > self._rows.shape[1]:
            size = max(wanted, 2 * self._rows.shape[1])
            self._rows = np.concatenate(
                [self._rows, np.zeros((len(self._rows), size - self._rows.shape[1]), np.uint64)], 1
            )
        if 2 * wanted > len(self._slots):
            size = 1 << (4 * wanted - 1).bit_length()
            self._slots = np.full(size, -1, dtype=np.int32)
            at, left = self._first_slots(self.rows), np.arange(self.count)
            while len(left):
                free = left[self._slots[at[left]] < 0]
                self._slots[at[free]] = free
                left = left[self._slots[at[left]] != left]
                at[left] = (at[left] + 1) & (size - 1)


@dataclass
class Explored:
    """Everything that a system can come to. What can follow what is kept as pairs of numbers."""

    system: System
    packing: Packing
    rows: Words
    sources: dict[int, Numbers]
    """For each event the situations in which it can happen next."""
    _edges: list[tuple[Numbers, Numbers]] = field(default_factory=list)

    @property
    def count(self) -> int:
        """How many situations there are."""
        return int(self.rows.shape[1])

    def can(self, question: Question) -> bool:
        """Whether the event of a question can happen."""
        return bool(len(self.sources.get(question.event, ())))

    def left_behind(self, question: Question) -> Mask:
        """The situations from which the event of a question is out of reach for good: shape (situations)."""
        still = np.zeros(self.count, dtype=np.bool_)
        new = np.unique(self.sources.get(question.event, np.zeros(0, dtype=np.int64)))
        still[new] = True
        first, before = self._backwards
        while len(new):
            reached = before[_ranges(first[new], first[new + 1])]
            fresh = reached[~still[reached]]
            still[fresh] = True
            new = np.flatnonzero(_marks(fresh, self.count)) if len(fresh) else fresh
        return ~still

    def is_so(self, question: Question, mask: int) -> Mask:
        """Where the column of a question has one of some values."""
        values = self.packing.values(self.rows, question.column)
        allowed = np.zeros(self.system.sizes[question.column] + 1, dtype=np.bool_)
        allowed[list(values_in(mask))] = True
        return allowed[values]

    @property
    def _backwards(self) -> tuple[Numbers, Numbers]:
        """Who comes before whom: where the list of each begins, and all lists one after the other."""
        if not self._edges:
            return np.zeros(self.count + 1, dtype=np.int64), np.zeros(0, dtype=np.int64)
        if len(self._edges) > 1:
            here = np.concatenate([a for a, _ in self._edges])
            to = np.concatenate([b for _, b in self._edges])
            order = np.argsort(to, kind="stable")
            first = np.concatenate([[0], np.cumsum(np.bincount(to, minlength=self.count))])
            self._edges = [(first, here[order])]
        return self._edges[0]


def _marks(numbers: Numbers, count: int) -> Mask:
    found = np.zeros(count, dtype=np.bool_)
    found[numbers] = True
    return found


def _ranges(first: Numbers, last: Numbers) -> Numbers:
    """All whole numbers of some ranges, one range after the other."""
    lengths = last - first
    ends = np.cumsum(lengths)
    offsets = np.repeat(first - (ends - lengths), lengths)
    return offsets + np.arange(int(ends[-1]) if len(ends) else 0)


def explored(system: System, most: int = MOST_SITUATIONS, note: Note = unnoted, *, follow: bool = True) -> Explored:
    """Go through all situations of a system. `follow`: keep what follows what, for what is left behind.

    Raises `TooLarge`. Cost: about a microsecond for each situation that follows another.
    """
    packing = Packing(system.sizes)
    doings = [_Doing(system, packing, move) for move in system.moves]
    seen = _Seen(packing.words, most)
    seen.numbers(np.array([packing.packed(system.first)], dtype=np.uint64).T)
    sources: dict[int, list[Numbers]] = {}
    edges: list[tuple[Numbers, Numbers]] = []
    at = 0
    while at < seen.count:
        until = min(seen.count, at + AT_ONCE)
        rows = seen.rows[:, at:until]
        note("Going through every situation", seen.count, most)
        several, here = [], []
        for doing in doings:
            can = doing.holds(rows)
            if not len(can):
                continue
            for event in values_in(doing.events):
                sources.setdefault(event, []).append(can + at)
            if doing.changes:
                several.append(doing.after(rows[:, can]))
                here.append(can + at)
        if several:
            numbers = seen.numbers(np.concatenate(several, axis=1))
            if follow:
                edges.append((np.concatenate(here), numbers))
        at = until
    together = {event: np.concatenate(found) for event, found in sources.items()}
    if follow and len(edges) == 1:
        edges.append((np.zeros(0, dtype=np.int64), np.zeros(0, dtype=np.int64)))
    return Explored(system, packing, seen.rows, together, edges)
