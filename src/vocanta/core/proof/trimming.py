"""A program without what no question hangs on: a smaller program that does the same to the columns that count.

Kept is what writes a column that counts, or leads to a group that does; what such a group reads counts in turn, until
nothing more is drawn in. What is left out can neither help nor hinder anything that was asked.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from dataclasses import replace
from typing import assert_never

from ..progress.guards import Guard, columns_of
from ..progress.onerow import holds_on
from ..progress.ops import (
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
    Tell,
    Told,
    ToState,
    TurnBack,
    Unflag,
    can_refuse,
)
from ..progress.program import Branch, Group, Program, Segment
from .together import NARROW

Heeded = Callable[[Told], bool]


def trimmed(program: Program, asked: Iterable[int], heeded: Heeded) -> tuple[Program, frozenset[int]]:
    """A program as far as some columns hang on it, and what is told that is heeded; and the columns that count in it.

    Other columns are written no more. Cost: a few readings of the program.
    """
    trim = _Trim(program, asked, heeded)
    trim.draw_in()
    return trim.program_left(), frozenset(trim.counts)


class _Trim:
    def __init__(self, program: Program, asked: Iterable[int], heeded: Heeded):
        self.program, self.counts, self.heeded = program, set(asked) | {program.ended}, heeded
        self.kept: dict[str, None] = {}
        """The groups that count."""
        self._listened: dict[str, list[int]] = {}
        for one in program.listeners:
            self._listened.setdefault(one.group, []).append(one.column)

    def draw_in(self) -> None:
        """Draw in whatever counts, until nothing more does."""
        before = (-1, -1)
        while before != (len(self.counts), len(self.kept)):
            before = len(self.counts), len(self.kept)
            self.counts |= set(self._places_behind())
            for group in self.program.groups.values():
                if group.name in self.kept or self._does(group):
                    self.kept[group.name] = None
                    self.counts.update(self._reads(group))
            for action in self.program.actions:
                if action.group in self.kept:
                    self.counts |= columns_of(action.guard)
                    self.counts |= columns_of(action.tried) if action.tried is not None else frozenset()

    def _places_behind(self) -> Iterator[int]:
        """Where things lie that the senses are asked about, and where the player is."""
        columns, layout = self.program.columns, self.program.layout
        for number in self.counts:
            if columns[number].sensed:
                yield self.program.table.at("cell")
                place = layout.find("place", columns[number].key.partition("/")[0])
                if place is not None:
                    yield place

    def program_left(self) -> Program:
        """What is left."""
        program, kept = self.program, self.kept
        listeners = tuple(one for one in program.listeners if one.group in kept)
        heard = {one.column for one in listeners}
        actions = tuple(
            a
            for a in program.actions
            if (program.table.number(a.control) in heard if a.kind == "sensed" else a.group in kept)
        )
        groups = {name: self._left_of(program.groups[name]) for name in program.groups if name in kept}
        groups |= {a.group: program.groups[a.group] for a in actions if a.kind == "sensed"}
        return replace(
            program,
            groups=groups,
            actions=actions,
            settling=tuple(name for name in program.settling if name in kept),
            listeners=listeners,
            at_start=tuple(name for name in program.at_start if name in kept),
            begins={level: name for level, name in program.begins.items() if name in kept},
            hears=tuple(one for one in program.hears if one.group in kept),
            timers=tuple(one for one in program.timers if one.action.group in kept),
        )

    # --- groups

    def _does(self, group: Group) -> bool:
        """Whether a group does something that counts."""
        if any(self._ops(group.after)):
            return True
        for branch in group.branches:
            if any(s.wait is not None for s in branch.segments) and branch.waits in self.counts:
                return True
            if any(not isinstance(op, RefuseIf) for ops in _all_ops(branch) for op in self._ops(ops)):
                return True
        return False

    def _reads(self, group: Group) -> Iterator[int]:
        """The columns that count because a group does."""
        yield from columns_of(group.entry)
        yield from self._listened.get(group.name, ())
        yield from self._read_by(self._ops(group.after))
        for branch in group.branches:
            yield from columns_of(branch.guard)
            for condition in branch.conditions:
                yield from columns_of(condition.guard)
            if branch.waits >= 0:
                yield branch.waits
            for ops in _all_ops(branch):
                yield from self._read_by(self._ops(ops, refusing=True))

    def _left_of(self, group: Group) -> Group:
        branches = tuple(
            replace(
                branch,
                segments=tuple(self._segment(s) for s in branch.segments),
                otherwise=None if branch.otherwise is None else self._segment(branch.otherwise),
                conditions=tuple(
                    c if c.or_else is None else replace(c, or_else=self._segment(c.or_else)) for c in branch.conditions
                ),
            )
            for branch in group.branches
        )
        return replace(group, branches=branches, after=tuple(self._ops(group.after)))

    def _segment(self, segment: Segment) -> Segment:
        ops = tuple(self._ops(segment.ops, refusing=True))
        return replace(segment, ops=ops, can_refuse=can_refuse(ops))

    # --- operations

    def _ops(self, ops: Iterable[Op], refusing: bool = False) -> Iterator[Op]:
        """Operations as far as they count. `refusing`: those that only refuse as well."""
        for op in ops:
            left = self._left(op, refusing)
            if left is not None:
                yield left

    def _left(self, op: Op, refusing: bool) -> Op | None:
        counts = self.counts
        match op:
            case Put() | PutBy() | PutNext():
                return op if op.column in counts else None
            case Plus():
                return op if op.column in counts or (refusing and not op.clamped) else None
            case Exchange():
                return op if op.one in counts or op.other in counts else None
            case Reset(values):
                kept = tuple((column, value) for column, value in values if column in counts)
                return Reset(kept) if kept else None
            case ToState() | TurnBack():
                waits = any(w.column in counts for w in self.program.waits_for_motion.get(op.key, ()))
                return op if waits or op.state in counts or op.moving in counts else None
            case PutCopies():
                return self._copies(op, refusing)
            case Flag(groups) | Unflag(groups):
                names = tuple(g for g in groups if g in self.kept)
                return type(op)(names) if names else None
            case Happen(occurrence):
                hearing = (self.program.settling[n] for n in self.program.heard_by.get(occurrence, ()))
                return op if any(name in self.kept for name in hearing) else None
            case RefuseIf():
                return op if refusing else None
            case If(guard, then, otherwise):
                arms = tuple(self._ops(then, refusing)), tuple(self._ops(otherwise, refusing))
                return (self._by_itself(guard, *arms) or If(guard, *arms)) if any(arms) else None
            case Tell(told):
                return Tell(told) if self.heeded(told) else None
            case _:
                assert_never(op)

    def _by_itself(self, guard: Guard, then: tuple[Op, ...], otherwise: tuple[Op, ...]) -> Op | None:
        """What changes one column by what that column is, as a table; None for what is more than that."""
        columns = columns_of(guard)
        if len(columns) != 1 or not all(isinstance(op, Put) and op.column in columns for op in (*then, *otherwise)):
            return None
        (number,) = columns
        column = self.program.columns[number]
        if column.highest - column.lowest >= NARROW:
            return None
        row, table = [0] * len(self.program.columns), []
        for value in range(column.lowest, column.highest + 1):
            row[number] = value
            done = then if holds_on(guard, row) else otherwise
            table.append(done[-1].value if done and isinstance(done[-1], Put) else value)
        return PutNext(number, tuple(table), column.lowest)

    def _copies(self, op: PutCopies, refusing: bool) -> Op | None:
        copies = tuple(
            replace(
                copy,
                place=copy.place if copy.place in self.counts else -1,
                resets=tuple(pair for pair in copy.resets if pair[0] in self.counts),
            )
            for copy in op.copies
        )
        written = any(c.exists in self.counts or c.place >= 0 or c.resets for c in copies)
        return replace(op, copies=copies) if written or refusing else None

    def _read_by(self, ops: Iterable[Op]) -> Iterator[int]:
        """The columns that operations read, or write beside another that counts."""
        for op in ops:
            match op:
                case Plus():
                    yield op.column
                case PutBy():
                    yield op.by
                case Exchange():
                    yield from (op.one, op.other)
                case ToState():
                    yield op.state
                    if any(w.column in self.counts for w in self.program.waits_for_motion.get(op.key, ())):
                        yield op.moving
                case TurnBack():
                    yield from (op.state, op.moving)
                case PutCopies():
                    yield from (c.exists for c in op.copies)
                    if op.spot.column >= 0 and any(c.place >= 0 for c in op.copies):
                        yield op.spot.column
                case RefuseIf(guard):
                    yield from columns_of(guard)
                case If(guard, then, otherwise):
                    yield from columns_of(guard)
                    yield from self._read_by(then)
                    yield from self._read_by(otherwise)
                case Put() | PutNext() | Reset() | Flag() | Unflag() | Happen() | Tell():
                    pass
                case _:
                    assert_never(op)


def _all_ops(branch: Branch) -> Iterator[tuple[Op, ...]]:
    """The operations of a branch, those of its refusals among them."""
    yield from (segment.ops for segment in branch.segments)
    if branch.otherwise is not None:
        yield branch.otherwise.ops
    yield from (c.or_else.ops for c in branch.conditions if c.or_else is not None)
