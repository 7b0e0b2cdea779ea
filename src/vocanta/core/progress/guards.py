"""Guards: conditions over columns, in negation normal form.

One meaning, walked in two ways: `holds` asks one guard of many rows; `GuardTable` asks all guards of one row.
"""

from __future__ import annotations

from collections.abc import Container, Iterable, Sequence
from dataclasses import dataclass
from typing import assert_never, final

import numpy as np
import numpy.typing as npt

from .columns import Rows

Mask = npt.NDArray[np.bool_]


@final
@dataclass(frozen=True, slots=True)
class Within:
    """`lowest <= column <= highest`, or its opposite where `inside` is false. `text` is the need it came from."""

    column: int
    lowest: int
    highest: int
    inside: bool = True
    text: str = ""


@final
@dataclass(frozen=True, slots=True)
class All:
    """Every part holds; without parts always."""

    parts: tuple[Guard, ...]
    text: str = ""


@final
@dataclass(frozen=True, slots=True)
class AnyOf:
    """At least one part holds; without parts never."""

    parts: tuple[Guard, ...]
    text: str = ""


@final
@dataclass(frozen=True, slots=True)
class AtLeast:
    """At least `count` of the parts hold."""

    count: int
    parts: tuple[Guard, ...]
    text: str = ""


Guard = Within | All | AnyOf | AtLeast
ALWAYS = All(())
NEVER = AnyOf(())


def equals(column: int, value: int, text: str = "") -> Within:
    """The column has that value."""
    return Within(column, value, value, True, text)


def opposite(guard: Guard, text: str = "") -> Guard:
    """The guard that holds exactly where this one does not."""
    match guard:
        case Within(column, lowest, highest, inside, own):
            return Within(column, lowest, highest, not inside, text or (f"not {own}" if own else ""))
        case All(parts, own):
            return AnyOf(tuple(opposite(p) for p in parts), text or (f"not {own}" if own else ""))
        case AnyOf(parts, own):
            return All(tuple(opposite(p) for p in parts), text or (f"not {own}" if own else ""))
        case AtLeast(count, parts, own):
            turned = tuple(opposite(p) for p in parts)
            return AtLeast(len(parts) - count + 1, turned, text or (f"not {own}" if own else ""))
        case _:
            assert_never(guard)


def both(*guards: Guard) -> Guard:
    """All of them; a single one as it is. Those that are *all* themselves, and no need of their own, give their parts."""
    parts: list[Guard] = []
    for guard in guards:
        parts += guard.parts if isinstance(guard, All) and not guard.text else (guard,)
    return parts[0] if len(parts) == 1 else All(tuple(parts))


def columns_of(guard: Guard) -> frozenset[int]:
    """Every column a guard reads."""
    if isinstance(guard, Within):
        return frozenset({guard.column})
    return frozenset().union(*(columns_of(p) for p in guard.parts))


def holds(guard: Guard, rows: Rows, at: npt.NDArray[np.intp] | None = None) -> Mask:
    """For each row, or each of the rows numbered in `at`, whether the guard holds. Reads only the guard's columns."""
    if isinstance(guard, Within):
        return _within(guard, rows[:, guard.column] if at is None else rows[at, guard.column])
    count = len(rows) if at is None else len(at)
    if isinstance(guard, AtLeast):
        counts = sum((holds(p, rows, at).astype(np.int32) for p in guard.parts), np.zeros(count, dtype=np.int32))
        enough: Mask = counts >= guard.count
        return enough
    wanted_all = isinstance(guard, All)
    result = np.full(count, wanted_all)
    for part in guard.parts:
        if wanted_all:
            result &= holds(part, rows, at)
        else:
            result |= holds(part, rows, at)
    return result


def _within(guard: Within, values: npt.NDArray[np.int32]) -> Mask:
    if guard.lowest == guard.highest:
        same: Mask = values == guard.lowest
        return same if guard.inside else ~same
    inside: Mask = (values >= guard.lowest) & (values <= guard.highest)
    return inside if guard.inside else ~inside


def can_hold(guard: Guard, row: Sequence[int], free: Container[int]) -> bool:
    """Whether a guard holds on a row for some values of the free columns, each of its comparisons taken by itself."""
    if isinstance(guard, Within):
        return guard.column in free or (guard.lowest <= row[guard.column] <= guard.highest) is guard.inside
    if isinstance(guard, AtLeast):
        return sum(can_hold(p, row, free) for p in guard.parts) >= guard.count
    if isinstance(guard, All):
        return all(can_hold(p, row, free) for p in guard.parts)
    return any(can_hold(p, row, free) for p in guard.parts)


def among(column: int, values: Iterable[int], text: str = "") -> Guard:
    """The column has one of the values: runs of neighbours as one comparison each."""
    runs: list[list[int]] = []
    for value in sorted(set(values)):
        if runs and value == runs[-1][1] + 1:
            runs[-1][1] = value
        else:
            runs.append([value, value])
    if len(runs) == 1:
        return Within(column, runs[0][0], runs[0][1], True, text)
    return AnyOf(tuple(Within(column, low, high) for low, high in runs), text)


class GuardTable:
    """Many guards asked of one row at once: a level of comparisons, then levels of counting gates.

    A gate holds when at least `threshold` of its inputs do: all of them for *all*, one for *any*. Cost: a few
    NumPy calls a level, whatever the number of guards.
    """

    def __init__(self, guards: Sequence[Guard]):
        self._atoms: dict[tuple[int, int, int, bool], int] = {}
        self._gates: dict[int, list[tuple[list[int], int]]] = {}
        self._memo: dict[Guard, tuple[int, int]] = {}
        placed = [self._place(g) for g in guards]
        self._freeze()
        self._out = np.array([self._position(level, slot) for level, slot in placed], dtype=np.intp)

    def _place(self, guard: Guard) -> tuple[int, int]:
        if guard in self._memo:
            return self._memo[guard]
        if isinstance(guard, Within):
            key = (guard.column, guard.lowest, guard.highest, guard.inside)
            place = (0, self._atoms.setdefault(key, len(self._atoms)))
        else:
            place = self._place_gate(guard)
        self._memo[guard] = place
        return place

    def _place_gate(self, guard: All | AnyOf | AtLeast) -> tuple[int, int]:
        inputs = [self._place(p) for p in guard.parts]
        level = 1 + max((lv for lv, _ in inputs), default=0)
        gates = self._gates.setdefault(level, [])
        threshold = guard.count if isinstance(guard, AtLeast) else len(inputs) if isinstance(guard, All) else 1
        gates.append(([lv << 32 | slot for lv, slot in inputs], threshold))
        return level, len(gates) - 1

    def _position(self, level: int, slot: int) -> int:
        return self._starts[level] + slot

    def _freeze(self) -> None:
        atoms = np.array(list(self._atoms), dtype=np.int64).reshape(-1, 4)
        self._columns, self._lowest, self._highest = (atoms[:, i].astype(np.intp) for i in range(3))
        self._inside = atoms[:, 3].astype(bool)
        self._starts = {0: 0}
        total = len(atoms)
        for level in sorted(self._gates):
            self._starts[level] = total
            total += len(self._gates[level])
        self._size = total
        self._levels = [self._frozen_level(level) for level in sorted(self._gates)]

    def _frozen_level(self, level: int) -> tuple[int, npt.NDArray[np.intp], npt.NDArray[np.intp], Mask, Mask]:
        gates = self._gates[level]
        flat = [self._position(i >> 32, i & 0xFFFFFFFF) for inputs, _ in gates for i in inputs]
        sizes = np.array([len(inputs) for inputs, _ in gates])
        bounds = np.concatenate([[0], np.cumsum(sizes)])
        needed = np.array([threshold for _, threshold in gates])
        return self._starts[level], np.array(flat, dtype=np.intp), bounds.astype(np.intp), needed, sizes

    def ask(self, row: npt.NDArray[np.int32]) -> Mask:
        """For each guard, in the order given, whether it holds for the row of shape (columns,)."""
        truth = np.empty(self._size, dtype=np.int32)
        values = row[self._columns]
        atoms = (values >= self._lowest) & (values <= self._highest)
        truth[: len(atoms)] = atoms == self._inside
        for start, flat, bounds, needed, _ in self._levels:
            counts = np.concatenate([[0], np.cumsum(truth[flat])])
            truth[start : start + len(needed)] = counts[bounds[1:]] - counts[bounds[:-1]] >= needed
        return truth[self._out].astype(bool)
