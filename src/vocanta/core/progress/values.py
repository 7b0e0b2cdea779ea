"""Which values each column can come to have at all: relaxed reachability, worked out to a fixpoint.

Every column is taken by itself: a comparison can hold where some value that its column can have meets it, whatever the
other columns are then. So what is left out can never be; what is in may be, and is no promise. Sensed columns can have
every value. Cost: some milliseconds for each hundred groups, a few readings of each.
"""

from __future__ import annotations

from collections import deque
from collections.abc import Iterable, Mapping
from functools import cached_property
from typing import assert_never

from .columns import Column
from .guards import All, AnyOf, AtLeast, Guard, Within, columns_of
from .ops import (
    Exchange,
    Flag,
    Happen,
    If,
    Op,
    Plus,
    Put,
    PutBy,
    PutCopies,
    PutNext,
    RefuseIf,
    Reset,
    Spot,
    Tell,
    ToState,
    TurnBack,
    Unflag,
)
from .program import Branch, Group, Listens, Program, Segment

WIDEST = 4_096
"""A column with more values is kept as the span from its lowest to its highest one, as if all between could be."""
Narrowed = dict[int, int]
"""For some columns the values that they have where something was asked of them."""


class Values:
    """What the columns of one program can come to. A set of values is a whole number: bit n stands for `lowest + n`."""

    def __init__(self, program: Program):
        self.program = program
        self._writes: dict[int, frozenset[int]] = {}
        self._single: dict[int, tuple[Guard, tuple[Within, ...]]] = {}
        self._known_spans: dict[tuple[int, int, int, bool], int] = {}
        self._all = [(1 << _width(c)) - 1 for c in program.columns]
        self.sets = [a if c.sensed else 1 << _step(c, c.start) for c, a in zip(program.columns, self._all, strict=True)]
        self.read: set[str] = set()
        """The groups that are ever read with their entry holding."""
        self.taken: set[tuple[str, int]] = set()
        """The branches that can be taken, by group and number."""
        self.begun: set[tuple[str, int]] = set()
        """The actions' segments that can go on after a wait, by group and number."""
        sensed = {one.group for one in program.listeners if program.columns[one.column].sensed}
        self.moves: dict[int, set[tuple[int, int]]] = {}
        """For each column of a state the steps that could be made in it: from which state to which."""
        self.reset: set[int] = set()
        """The columns that could start over."""
        self._flagged = {*program.at_start, *self._first_level(), *sensed}
        self._walking = {a.group for a in program.actions if a.kind in ("cross", "exit")}
        self._first = deque(sorted(self._walking))
        self._waiting = deque(name for name in program.groups if name not in self._walking)
        self._in_line = set(program.groups)
        while self._first or self._waiting:
            # Where one can walk to is settled before what can be done there: most of the rest reads the place.
            name = (self._first or self._waiting).popleft()
            self._in_line.discard(name)
            self._read(program.groups[name])

    # --- questions

    def can(self, guard: Guard, narrowed: Mapping[int, int] | None = None) -> bool:
        """Whether a guard may hold at some time. `narrowed`: what some columns are known to be by then."""
        narrowed = narrowed or {}
        if isinstance(guard, Within):
            return bool(narrowed.get(guard.column, self.sets[guard.column]) & self.meeting(guard))
        if isinstance(guard, All):
            inner = self.narrowed(guard, narrowed)
            return inner is not None and all(isinstance(part, Within) or self.can(part, inner) for part in guard.parts)
        if isinstance(guard, AtLeast):
            return sum(self.can(part, narrowed) for part in guard.parts) >= guard.count
        return any(self.can(part, narrowed) for part in guard.parts)

    def can_fail(self, guard: Guard, narrowed: Mapping[int, int] | None = None) -> bool:
        """Whether a guard may not hold at some time."""
        narrowed = narrowed or {}
        if isinstance(guard, Within):
            return bool(narrowed.get(guard.column, self.sets[guard.column]) & self.missing(guard))
        if isinstance(guard, All):
            return any(self.can_fail(part, narrowed) for part in guard.parts)
        if isinstance(guard, AtLeast):
            return sum(self.can_fail(part, narrowed) for part in guard.parts) > len(guard.parts) - guard.count
        left = dict(narrowed)
        for part in guard.parts:
            if isinstance(part, Within):
                left[part.column] = left.get(part.column, self.sets[part.column]) & self.missing(part)
                if not left[part.column]:
                    return False
            elif not self.can_fail(part, narrowed):
                return False
        return True

    def always(self, guard: Guard, narrowed: Mapping[int, int] | None = None) -> bool:
        """Whether a guard holds whatever happens."""
        return not self.can_fail(guard, narrowed)

    def narrowed(self, guard: Guard, known: Mapping[int, int] | None = None) -> Narrowed | None:
        """What columns can be where a guard holds, as far as its single comparisons say; None where it never does."""
        found = dict(known or {})
        for part in self._conjuncts(guard):
            left = found.get(part.column, self.sets[part.column]) & self.meeting(part)
            if not left:
                return None
            found[part.column] = left
        return found

    def _conjuncts(self, guard: Guard) -> tuple[Within, ...]:
        """The single comparisons of a guard that must all hold, worked out once for each."""
        held = self._single.get(id(guard))
        if held is None or held[0] is not guard:
            held = self._single[id(guard)] = guard, tuple(_conjuncts(guard))
        return held[1]

    def has(self, column: int, value: int) -> bool:
        """Whether a column can come to have a value."""
        of = self.program.columns[column]
        return of.lowest <= value <= of.highest and bool(self.sets[column] >> _step(of, value) & 1)

    def highest(self, column: int) -> int:
        """The largest value that a column can come to have."""
        of = self.program.columns[column]
        top = self.sets[column].bit_length() - 1
        return of.highest if _wide(of) and top == _width(of) - 1 else min(of.highest, of.lowest + top * _scale(of))

    def meeting(self, part: Within) -> int:
        """The values that meet a comparison, or may."""
        return self._where(part.column, part.lowest, part.highest, part.inside)

    def missing(self, part: Within) -> int:
        """The values that do not meet a comparison, or may not."""
        return self._where(part.column, part.lowest, part.highest, not part.inside)

    def _where(self, column: int, lowest: int, highest: int, inside: bool) -> int:
        key = column, lowest, highest, inside
        if key not in self._known_spans:
            of = self.program.columns[column]
            low, high = max(lowest, of.lowest), min(highest, of.highest)
            span = 0 if low > high else self._span(of, low, high, whole=inside)
            self._known_spans[key] = span if inside else self._all[column] & ~span
        return self._known_spans[key]

    def _span(self, of: Column, low: int, high: int, whole: bool) -> int:
        """The steps from one value to another; in a wide column those that are only partly in count where `whole`."""
        first, last = _step(of, low), _step(of, high)
        if _wide(of) and not whole:
            scale = _scale(of)
            first += (low - of.lowest) % scale != 0
            last -= (high - of.lowest + 1) % scale != 0 and high != of.highest
        return 0 if first > last else ((1 << (last - first + 1)) - 1) << first

    # --- the fixpoint

    def _first_level(self) -> Iterable[str]:
        level = self.program.layout.project.first_level
        return (self.program.begins[level],) if level in self.program.begins else ()

    @cached_property
    def _readers(self) -> dict[int, list[str]]:
        """For each column the groups whose reading it may change."""
        found: dict[int, list[str]] = {}
        for group in self.program.groups.values():
            for column in self._read_by(group):
                found.setdefault(column, []).append(group.name)
        return found

    def _read_by(self, group: Group) -> frozenset[int]:
        guards = [
            group.entry,
            *(b.guard for b in group.branches),
            *(c.guard for b in group.branches for c in b.conditions),
        ]
        guards += [g for a in self.program.of_group.get(group.name, ()) for g in (a.guard, a.tried) if g is not None]
        ops = [*group.after, *(op for b in group.branches for s in _every_segment(b) for op in s.ops)]
        return frozenset().union(*(columns_of(g) for g in guards), *(_read_columns(op) for op in ops))

    def _put(self, column: int, values: int) -> None:
        new = values & self._all[column] & ~self.sets[column]
        if not new:
            return
        self.sets[column] |= new
        for name in self._readers.get(column, ()):
            self._again(name)
        for _, listener in self.program.listeners_of.get(column, ()):
            if self._turns(listener):
                self._flag(listener.group)

    def _turns(self, listener: Listens) -> bool:
        """Whether a column may alter as a listener waits for."""
        values = self.sets[listener.column]
        if not values & (values - 1):
            return False
        if not listener.values:
            return listener.edge not in ("into", "out_of")
        of = self.program.columns[listener.column]
        return any(values >> _step(of, v) & 1 for v in listener.values)

    def _flag(self, group: str) -> None:
        if group not in self._flagged:
            self._flagged.add(group)
            self._again(group)

    def _again(self, name: str) -> None:
        if name not in self._in_line:
            self._in_line.add(name)
            (self._first if name in self._walking else self._waiting).append(name)

    def _read(self, group: Group) -> None:
        """Read a group as often as anything about it changes: whatever it can do is added to what can be."""
        acting = self.program.of_group.get(group.name, ())
        for action in acting if group.verb == "resume" else ():
            if (known := self._known(action.guard)) is not None:
                self.begun.add((group.name, action.segment))
                self._run(group.branches[0].segments[action.segment].ops, known)
        if group.verb == "resume":
            return
        entries = [known for a in acting if (known := self._known(a.tried or a.guard)) is not None]
        if group.name in self._flagged:
            entries = [{}]
        if not entries:
            return
        entry = self.narrowed(group.entry, entries[0] if len(entries) == 1 else {})
        if entry is not None and self.can(group.entry, entry):
            self.read.add(group.name)
            self._read_branches(group, entry)

    def _known(self, guard: Guard) -> Narrowed | None:
        return self.narrowed(guard) if self.can(guard) else None

    def _read_branches(self, group: Group, entry: Narrowed) -> None:
        took = False
        for number, branch in enumerate(group.branches):
            known = self.narrowed(branch.guard, entry)
            if known is not None and self.can(branch.guard, known):
                self.taken.add((group.name, number))
                took = True
                self._take(branch, known)
            if self.can_fail(branch.guard, entry):
                self._refuse(branch, entry)
            elif not branch.go_on:
                break
        if took:
            self._run(group.after, {})

    def _take(self, branch: Branch, known: Narrowed) -> None:
        if branch.waits >= 0:
            self._put(branch.waits, (1 << len(branch.segments)) - 1)
        if branch.segments:
            self._run(branch.segments[0].ops, dict(known))

    def _refuse(self, branch: Branch, entry: Narrowed) -> None:
        for condition in branch.conditions:
            if condition.or_else is not None and self.can_fail(condition.guard, entry):
                self._run(condition.or_else.ops, dict(entry))
        if branch.otherwise is not None:
            self._run(branch.otherwise.ops, dict(entry))

    # --- operations

    def _run(self, ops: Iterable[Op], known: Narrowed) -> bool:
        """Add what operations can do, as far as they are not refused for certain; whether all can be done."""
        for op in ops:
            if isinstance(op, RefuseIf) and self.always(op.guard, known):
                return False
            if isinstance(op, If):
                self._run_if(op, known)
            else:
                self._do(op, known)
            for column in self._written(op) if known else ():
                known.pop(column, None)
        return True

    def _written(self, op: Op) -> frozenset[int]:
        """What an operation writes, worked out once: the program holds on to its operations."""
        if id(op) not in self._writes:
            self._writes[id(op)] = _written_columns(op)
        return self._writes[id(op)]

    def _run_if(self, op: If, known: Narrowed) -> None:
        inner = self.narrowed(op.guard, known)
        if inner is not None and self.can(op.guard, inner):
            self._run(op.then, inner)
        if op.otherwise and self.can_fail(op.guard, known):
            self._run(op.otherwise, dict(known))

    def _do(self, op: Op, known: Narrowed) -> None:
        match op:
            case Put(column, value):
                self._add(column, (value,))
            case PutNext(column, table, lowest):
                self._add(
                    column, (table[v - lowest] for v in self._values(column, known) if 0 <= v - lowest < len(table))
                )
            case PutBy(column, by, table):
                self._add(column, (table[v] if table else v for v in self._values(by, known)))
            case Exchange(one, other):
                first, second = list(self._values(one, known)), list(self._values(other, known))
                self._add(one, second)
                self._add(other, first)
            case Reset(values):
                for column, value in values:
                    self.reset.add(column)
                    self._add(column, (value,))
            case ToState():
                self._to_state(op, known)
            case TurnBack(_, state, moving):
                back = [v - 1 for v in self._values(moving, known) if v > 0]
                now = list(self._values(state, known))
                self.moves.setdefault(state, set()).update((a, b) for a in now for b in back)
                self._add(moving, (v + 1 for v in now))
                self._add(state, back)
            case Plus():
                self._plus(op, known)
            case Flag(groups):
                for group in groups:
                    self._flag(group)
            case Happen(occurrence):
                for number in self.program.heard_by.get(occurrence, ()):
                    self._flag(self.program.settling[number])
            case PutCopies():
                self._put_copies(op)
            case RefuseIf() | If() | Unflag() | Tell():
                pass
            case _:
                assert_never(op)

    def _values(self, column: int, known: Mapping[int, int]) -> Iterable[int]:
        of, left, number = self.program.columns[column], known.get(column, self.sets[column]), 0
        while left:
            if left & 1:
                yield of.lowest + number * _scale(of)
            left >>= 1
            number += 1

    def _add(self, column: int, values: Iterable[int]) -> None:
        of, bits = self.program.columns[column], 0
        for value in values:
            if of.lowest <= value <= of.highest:
                bits |= 1 << _step(of, value)
        self._put(column, bits)

    def _to_state(self, op: ToState, known: Mapping[int, int]) -> None:
        states = list(self._values(op.state, known))
        if op.timed:
            self._add(op.moving, (s + 1 for s in states))
        self._add(op.state, (op.table[s] for s in states))
        self.moves.setdefault(op.state, set()).update((s, op.table[s]) for s in states)

    def _plus(self, op: Plus, known: Mapping[int, int]) -> None:
        """Add an amount, as often as it may be: at once where nothing was asked of the column."""
        of, free = self.program.columns[op.column], op.column not in known
        values = self.sets[op.column] if free else known[op.column]
        limits = self._span(of, max(op.lowest, of.lowest), min(op.highest, of.highest), whole=True)
        while True:
            moved = self._added(of, values, op)
            moved = moved if op.clamped else moved & limits
            if not free or not moved & ~values:
                break
            values |= moved
        self._put(op.column, values | moved if free else moved)
        if op.clamped and op.highest < of.highest:
            self._add(op.column, (op.highest,))

    @staticmethod
    def _added(of: Column, values: int, op: Plus) -> int:
        width = _width(of)
        if not _wide(of):
            return _shifted(values, op.amount, width, op.clamped)
        # A step holds many values: an amount may end in it or in the next.
        low, high = op.amount // _scale(of), -(-op.amount // _scale(of))
        return _shifted(values, low, width, op.clamped) | _shifted(values, high, width, op.clamped)

    def _put_copies(self, op: PutCopies) -> None:
        for copy in op.copies:
            self._add(copy.exists, (1,))
            if copy.place >= 0:
                self._add(copy.place, self._spots(op.spot))
            for column, value in copy.resets:
                self._add(column, (value,))

    def _spots(self, spot: Spot) -> list[int]:
        if spot.column < 0:
            return [spot.cell]
        values = self._values(spot.column, {})
        return [spot.table[v] for v in values] if spot.table else list(values)


# --- sets of values


def _wide(of: Column) -> bool:
    return of.highest - of.lowest >= WIDEST


def _scale(of: Column) -> int:
    """How many values one step stands for."""
    return -(-(of.highest - of.lowest + 1) // WIDEST) if _wide(of) else 1


def _width(of: Column) -> int:
    return (of.highest - of.lowest) // _scale(of) + 1


def _step(of: Column, value: int) -> int:
    return (value - of.lowest) // _scale(of)


def _shifted(values: int, amount: int, width: int, clamped: bool) -> int:
    """Values moved by an amount; what leaves the limits stays at them where clamped."""
    if amount >= 0:
        moved = values << amount
        over = moved >> width
        return (moved & ((1 << width) - 1)) | ((1 << (width - 1)) if clamped and over else 0)
    under = values & ((1 << -amount) - 1)
    return (values >> -amount) | (1 if clamped and under else 0)


def _conjuncts(guard: Guard) -> Iterable[Within]:
    if isinstance(guard, Within):
        yield guard
    elif isinstance(guard, All) or (isinstance(guard, AnyOf | AtLeast) and len(guard.parts) == 1):
        for part in guard.parts:
            yield from _conjuncts(part)


def _every_segment(branch: Branch) -> Iterable[Segment]:
    yield from branch.segments
    yield from (c.or_else for c in branch.conditions if c.or_else is not None)
    if branch.otherwise is not None:
        yield branch.otherwise


def _read_columns(op: Op) -> frozenset[int]:
    """The columns by whose values it depends what an operation does."""
    if isinstance(op, PutBy):
        return frozenset({op.by})
    if isinstance(op, PutNext | Plus):
        return frozenset({op.column})
    if isinstance(op, Exchange):
        return frozenset({op.one, op.other})
    if isinstance(op, ToState | TurnBack):
        return frozenset({op.state, op.moving})
    if isinstance(op, RefuseIf):
        return columns_of(op.guard)
    if isinstance(op, PutCopies):
        return frozenset({op.spot.column}) if op.spot.column >= 0 else frozenset()
    if isinstance(op, If):
        return columns_of(op.guard).union(*(_read_columns(o) for o in (*op.then, *op.otherwise)))
    return frozenset()


def _written_columns(op: Op) -> frozenset[int]:
    """The columns of which nothing is known any more behind an operation."""
    if isinstance(op, Put | PutBy | PutNext | Plus):
        return frozenset({op.column})
    if isinstance(op, Exchange):
        return frozenset({op.one, op.other})
    if isinstance(op, Reset):
        return frozenset(column for column, _ in op.values)
    if isinstance(op, ToState | TurnBack):
        return frozenset({op.state, op.moving})
    if isinstance(op, PutCopies):
        return frozenset(c for copy in op.copies for c in (copy.exists, copy.place, *(n for n, _ in copy.resets)))
    if isinstance(op, If):
        return frozenset().union(*(_written_columns(o) for o in (*op.then, *op.otherwise)))
    return frozenset()
