"""Sets of situations as diagrams: all that can be reached, and all from which something can be, without going one by one.

A diagram has a level for each column, the first one at the bottom; a node holds for each value of its column the node
below for what can follow, 0 for nothing. Equal nodes are one. Moves go level by level by themselves, so none needs a diagram
of its own. Closed by saturation (Ciardo, Lüttgen and Siminiceanu, 2001; within a set: Zhao and Ciardo, 2009).
"""

from __future__ import annotations

import sys
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from itertools import compress

import numpy as np
import numpy.typing as npt

from ..project.noting import Note, unnoted
from .system import Move, Situation, System, loops, values_in

sys.setrecursionlimit(max(sys.getrecursionlimit(), 20_000))
"""Diagrams are gone through level by level, and a big campaign has hundreds of columns."""
EMPTY, END = 0, 1
DONE = 0
"""The rest of steps of which nothing is left."""
TOLD_EVERY = 4_096
"""After so many nodes it is told how many there are."""
Row = tuple[tuple[int, int], ...]
"""From which value of a level to which, in pairs."""


class TooLarge(Exception):
    """A diagram came to more nodes than it may have. Raised inside the proof and told as *not decided*."""


@dataclass(frozen=True, slots=True)
class Step:
    """A move as the levels see it: for each level it touches, the highest first, the pairs of values."""

    rows: tuple[tuple[int, Row], ...]

    @property
    def top(self) -> int:
        """The highest level that it touches."""
        return self.rows[0][0]


@dataclass
class Diagrams:
    """The nodes of diagrams over columns of such sizes, `order` from the bottom up. `most`: how many nodes there may be."""

    sizes: Sequence[int]
    order: Sequence[int]
    most: int
    note: Note = unnoted
    nodes: list[tuple[int, ...]] = field(default_factory=lambda: [(), ()])
    levels: list[int] = field(default_factory=lambda: [-1, -1])
    _numbers: dict[tuple[int, tuple[int, ...]], int] = field(default_factory=dict)
    _unions: dict[tuple[int, int], int] = field(default_factory=dict)
    _meets: dict[tuple[int, int], int] = field(default_factory=dict)

    def __post_init__(self) -> None:
        self.level = {column: level for level, column in enumerate(self.order)}

    # --- nodes

    def node(self, level: int, below: tuple[int, ...]) -> int:
        """The node with such nodes below."""
        key = level, below
        found = self._numbers.get(key)
        if found is None:
            if not any(below):
                return EMPTY
            found = self._numbers[key] = len(self.nodes)
            if found > self.most:
                raise TooLarge
            if not found % TOLD_EVERY:
                self.note("Going through every way to play", found, self.most)
            self.nodes.append(below)
            self.levels.append(level)
        return found

    def weigh(self, kept: int) -> None:
        """Take into account what is kept beside the nodes, two of which take as much as one. Raises `TooLarge`."""
        if self.count + kept // 2 > self.most:
            raise TooLarge
        self.note("Going through every way to play", self.count, self.most)

    @property
    def count(self) -> int:
        """How many nodes there are, those no longer needed among them."""
        return len(self.nodes)

    def box(self, masks: Mapping[int, int]) -> int:
        """All situations in which some columns have one of some values."""
        found = END
        for level, column in enumerate(self.order):
            mask = masks.get(column, (1 << self.sizes[column]) - 1)
            found = self.node(level, tuple(found if mask >> v & 1 else EMPTY for v in range(self.sizes[column])))
        return found

    def one(self, at: Situation) -> int:
        """A single situation."""
        return self.box({column: 1 << value for column, value in enumerate(at)})

    # --- sets

    def union(self, a: int, b: int) -> int:
        """What is in either."""
        if a == b or not b:
            return a
        if not a:
            return b
        key = (a, b) if a < b else (b, a)
        found = self._unions.get(key)
        if found is None:
            union, pairs = self.union, zip(self.nodes[a], self.nodes[b], strict=True)
            # Most pairs need no call.
            below = tuple([x if x == y or not y else union(x, y) if x else y for x, y in pairs])
            found = self._unions[key] = self.node(self.levels[a], below)
        return found

    def meet(self, a: int, b: int) -> int:
        """What is in both."""
        if a == b or not a or not b:
            return a if a == b else EMPTY
        key = (a, b) if a < b else (b, a)
        found = self._meets.get(key)
        if found is None:
            below = tuple(self.meet(x, y) for x, y in zip(self.nodes[a], self.nodes[b], strict=True))
            found = self._meets[key] = self.node(self.levels[a], below)
        return found

    def less(self, a: int, b: int) -> int:
        """What is in the first and not in the second."""
        return self._less(a, b, {})

    def _less(self, a: int, b: int, known: dict[tuple[int, int], int]) -> int:
        if a == b or not a or not b:
            return EMPTY if a == b else a
        found = known.get((a, b))
        if found is None:
            below = tuple(self._less(x, y, known) for x, y in zip(self.nodes[a], self.nodes[b], strict=True))
            found = known[a, b] = self.node(self.levels[a], below)
        return found

    def size(self, node: int) -> int:
        """How many situations there are."""
        known = {EMPTY: 0, END: 1}

        def sized(node: int) -> int:
            if node not in known:
                known[node] = sum(sized(below) for below in self.nodes[node])
            return known[node]

        return sized(node)

    def any(self, node: int) -> Situation | None:
        """One of the situations: that of the lowest values from the top down. None where there is none."""
        if not node:
            return None
        at = [0] * len(self.sizes)
        while node != END:
            below = self.nodes[node]
            value = next(v for v, to in enumerate(below) if to)
            at[self.order[self.levels[node]]] = value
            node = below[value]
        return tuple(at)

    def has(self, node: int, at: Sequence[int]) -> bool:
        """Whether a situation is in it."""
        while node > END:
            node = self.nodes[node][at[self.order[self.levels[node]]]]
        return node == END

    # --- steps

    def forth(self, move: Move) -> Step | None:
        """A move as it goes; None where it changes nothing."""
        return self._step(move, False)

    def back(self, move: Move) -> Step | None:
        """A move the other way: from what it leads to."""
        return self._step(move, True)

    def _step(self, move: Move, back: bool) -> Step | None:
        if not move.then:
            return None
        when, then = dict(move.when), dict(move.then)
        rows = []
        for column in sorted(move.touched, key=self.level.__getitem__, reverse=True):
            table = then.get(column)
            mask = when.get(column, (1 << self.sizes[column]) - 1)
            pairs = [(v, v if table is None else table[v]) for v in values_in(mask)]
            rows.append((self.level[column], tuple((b, a) if back else (a, b) for a, b in pairs)))
        return Step(tuple(rows))


Rests = tuple[int, ...]
"""What is left of some steps below a level, by number."""
Ways = tuple[tuple[tuple[int, int], ...], ...]
"""For each value of a level to which others one is led, and the number of the rests of all steps that lead there."""


_From = tuple[int, list[tuple[int, int, int]]]
"""A value of a level, and for each to which steps lead from there their rests and the bit of that among such values."""


class Going:
    """Some steps over some diagrams: what they lead to, once or again and again. What was found out is kept for later.

    Steps that begin at one level and lead from one value to one other there are gone as one.
    """

    def __init__(self, diagrams: Diagrams, steps: Iterable[Step]):
        steps = list(dict.fromkeys(steps))
        self.d = diagrams
        self._rests: dict[tuple[tuple[int, Row], ...], int] = {(): 0}
        self._at: list[tuple[int, Row, int]] = [(-1, (), 0)]
        """For each rest of a step its highest level, the pairs there, and the rest behind it."""
        self._numbers: dict[Rests, int] = {(0,): DONE}
        self._several: list[Rests] = [(0,)]
        self._ways: dict[tuple[int, int], Ways | None] = {}
        by_level: dict[int, list[int]] = {}
        for step in steps:
            by_level.setdefault(step.top, []).append(self._rest(step.rows))
        self._from: dict[int, list[_From]] = {}
        """By the level at which steps begin, the values there, each before those that steps lead to from it."""
        self._bits: dict[int, list[int]] = {}
        """By the same levels the bit of each value among those, 0 for a value that no step leads from."""
        for level, rests in by_level.items():
            self._from[level] = _in_order(self._ways_of(self._number(rests), level) or ())
            self._bits[level] = [0] * self.d.sizes[self.d.order[level]]
            for n, (value, _) in enumerate(self._from[level]):
                self._bits[level][value] = 1 << n
        self._done: dict[tuple[int, int], int] = {}
        self._onced: dict[tuple[int, int], int] = {}
        self._fired: dict[tuple[int, int, int], int] = {}
        self._imaged: dict[tuple[int, int, int], int] = {}

    def _rest(self, rows: tuple[tuple[int, Row], ...]) -> int:
        if rows not in self._rests:
            behind = self._rest(rows[1:])
            self._rests[rows] = len(self._at)
            self._at.append((*rows[0], behind))
        return self._rests[rows]

    def _number(self, rests: Iterable[int]) -> int:
        """The number of some rests together."""
        several = tuple(sorted(set(rests)))
        if several not in self._numbers:
            self._numbers[several] = len(self._several)
            self._several.append(several)
        return self._numbers[several]

    def _ways_of(self, rests: int, level: int) -> Ways | None:
        """How some rests lead on at a level; None where none of them touches it."""
        key = rests, level
        if key not in self._ways:
            several = self._several[rests]
            if all(self._at[rest][0] < level for rest in several):
                self._ways[key] = None
            else:
                self._ways[key] = self._parted(several, level)
        return self._ways[key]

    def _parted(self, rests: Rests, level: int) -> Ways:
        passing = [rest for rest in rests if self._at[rest][0] < level]
        size = self.d.sizes[self.d.order[level]]
        led: dict[tuple[int, int], list[int]] = {(v, v): [*passing] for v in range(size)} if passing else {}
        for top, row, behind in (self._at[rest] for rest in rests):
            for pair in row if top == level else ():
                led.setdefault(pair, []).append(behind)
        ways: list[list[tuple[int, int]]] = [[] for _ in range(size)]
        for (value, to), behinds in led.items():
            ways[value].append((to, self._number(behinds)))
        return tuple(map(tuple, ways))

    def once(self, node: int, within: int = -1) -> int:
        """What the steps lead to from a set, as far as it lies within another; -1 for any."""
        if node <= END or not within:
            return EMPTY
        key = node, within
        found = self._onced.get(key)
        if found is None:
            d, level = self.d, self.d.levels[node]
            below, inside = d.nodes[node], d.nodes[within] if within > 0 else ()
            new = [self.once(b, inside[v] if inside else -1) if b else EMPTY for v, b in enumerate(below)]
            for value, ways in self._from.get(level, ()):
                for to, rests, _ in ways if below[value] else ():
                    allowed = inside[to] if inside else -1
                    if allowed:
                        new[to] = d.union(new[to], self._led(below[value], allowed, rests, False))
            found = self._onced[key] = d.node(level, tuple(new))
        return found

    def _led(self, node: int, within: int, rests: int, closing: bool) -> int:
        """What the rests of some steps lead to from a node; `closing`: closed again under the steps below.

        Neither the node nor what it lies within is empty. Those below are looked up here before they are gone into, so
        that the innermost loop of a proof calls as little as it can.
        """
        d = self.d
        kept, key = self._fired if closing else self._imaged, (node, within, rests)
        known = kept.get
        found = known(key)
        if found is not None:
            return found
        if rests == DONE:
            found = node if within < 0 else d.meet(node, within)
            if closing and within >= 0:
                # What was closed within one set may go farther within another.
                found = self.closed(found, within)
            kept[key] = found
            return found
        level, inside = d.levels[node], d.nodes[within] if within > 0 else ()
        below, new = d.nodes[node], [EMPTY] * len(d.nodes[node])
        ways = self._ways_of(rests, level)
        here, led, union = -1, self._led, d.union
        for value, b in compress(enumerate(below), below):
            for to, behind in ways[value] if ways else ((value, rests),):
                if inside:
                    here = inside[to]
                    if not here:
                        continue
                part = known((b, here, behind))
                if part is None:
                    part = led(b, here, behind, closing)
                before = new[to]
                if part != before:
                    new[to] = union(before, part) if before and part else before or part
        found = kept[key] = self._closed(level, new, within) if closing else d.node(level, tuple(new))
        if not len(kept) % TOLD_EVERY:
            d.weigh(len(self._fired) + len(self._imaged) + len(self._ways) + len(self._done))
        return found

    def closed(self, node: int, within: int = -1) -> int:
        """All that can be come to from a set by the steps again and again, within another set; -1 for any.

        Each node is closed under the steps that begin at its level or below, from the bottom up.
        """
        if node <= END or not within:
            return node if within else EMPTY
        key = node, within
        found = self._done.get(key)
        if found is None:
            d = self.d
            inside = d.nodes[within] if within > 0 else ()
            below = [self.closed(b, inside[v] if inside else -1) if b else EMPTY for v, b in enumerate(d.nodes[node])]
            found = self._done[key] = self._closed(d.levels[node], below, within)
        return found

    def _closed(self, level: int, below: list[int], within: int) -> int:
        """The node of a level whose nodes below are closed, closed under what begins at it.

        Many ways lead to the same nodes below: what those come to is looked up first.
        """
        d = self.d
        before = d.node(level, tuple(below))
        if not before:
            return EMPTY
        found = self._done.get((before, within))
        if found is None:
            self._close(level, below, d.nodes[within] if within > 0 else ())
            found = d.node(level, tuple(below))
            self._done[before, within] = self._done[found, within] = found
        return found

    def _close(self, level: int, below: list[int], inside: Sequence[int]) -> None:
        """Take what begins at a level, again and again, into the nodes below, which are closed and stay so."""
        values = self._from.get(level, ())
        union, led, known = self.d.union, self._led, self._fired.get
        waiting = sum(compress(self._bits.get(level, ()), below))
        here = -1
        while waiting:
            first = waiting & -waiting
            waiting ^= first
            value, ways = values[first.bit_length() - 1]
            b = below[value]
            for to, rests, again in ways:
                if inside:
                    here = inside[to]
                    if not here:
                        continue
                before = below[to]
                part = known((b, here, rests))
                if part is None:
                    part = led(b, here, rests, True)
                if not part or part == before:
                    continue
                wider = union(before, part)
                if wider == before:
                    continue
                if to != value:
                    below[to] = wider
                    waiting |= again
                    continue
                while wider != below[to]:
                    b = below[to] = wider
                    wider = union(wider, led(wider, here, rests, True))


def _in_order(ways: Ways) -> list[_From]:
    """The values that ways lead from, each before those that it leads to, as far as they do not lead round.

    Of each value the way that stays comes first, and is gone again and again: so the others start from more.
    """
    values = [value for value, its in enumerate(ways) if its]
    number = {value: n for n, value in enumerate(values)}
    arrows: list[list[int]] = [[] for _ in values]
    for value in values:
        arrows[number[value]] = [number[to] for to, _ in ways[value] if to in number and to != value]
    part = loops(arrows)
    order = sorted(values, key=lambda value: (-part[number[value]], value))
    bit = {value: 1 << n for n, value in enumerate(order)}
    return [
        (value, [(to, behind, bit.get(to, 0)) for to, behind in sorted(ways[value], key=lambda way: way[0] != value)])
        for value in order
    ]


# --- the order of the levels


MOST_STARTS, TURNS = 400, 24
_WORK = 4_000_000
"""So many cells of a table of starts, moves and columns are worked at once."""


def placed(system: System) -> list[int]:
    """An order of the columns, from the bottom up, in which those that moves touch together lie low and near one another.

    Deterministic. Source: FORCE (Aloul, Markov and Sakallah, 2003), each column going to the middle of the moves that
    touch it, from several starts at once.
    """
    weights: dict[tuple[int, ...], int] = {}
    for move in system.moves:
        group = tuple(sorted(move.touched))
        if len(group) > 1:
            weights[group] = weights.get(group, 0) + 1
    count = len(system.sizes)
    if not weights:
        return list(range(count))
    touches = np.zeros((len(weights), count))
    for n, group in enumerate(weights):
        touches[n, list(group)] = 1.0
    heavy = np.array(list(weights.values()), dtype=float)
    pulled = touches.T @ heavy
    drawn = np.random.default_rng(0)
    starts = max(8, min(MOST_STARTS, _WORK // touches.size))
    at = np.stack([np.arange(count), *(drawn.permutation(count) for _ in range(starts - 1))]).astype(float)
    for _ in range(TURNS):
        middles = at @ touches.T / touches.sum(axis=1)
        pull = np.where(pulled > 0, (middles * heavy) @ touches / np.maximum(pulled, 1.0), at)
        order = np.argsort(pull + at * 1e-9, axis=1, kind="stable")
        turned = np.empty_like(at)
        np.put_along_axis(turned, order, np.broadcast_to(np.arange(count, dtype=float), at.shape), axis=1)
        if (turned == at).all():
            break
        at = turned
    at = np.concatenate([at, count - 1 - at])
    best = at[int(np.argmin(_heights(weights, at)))]
    return [int(column) for column in np.argsort(best, kind="stable")]


def _heights(weights: Mapping[tuple[int, ...], int], at: npt.NDArray[np.float64]) -> npt.NDArray[np.float64]:
    """For each order, by the place of each column, how far moves reach and up to where, in all. Shape (orders,)."""
    found = np.zeros(len(at))
    for group, weight in weights.items():
        its = at[:, list(group)]
        found += weight * (2.0 * its.max(axis=1) - its.min(axis=1))
    return found


# --- asking


def events_of(system: System, event: int) -> Iterator[dict[int, int]]:
    """Where an event can happen next: for each move that brings it what it asks."""
    for move in system.moves:
        if move.events >> event & 1:
            yield dict(move.when)
