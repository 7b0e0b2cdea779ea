"""What the compiler tells of groups and branches: what each reads, writes, raises and flags, refusals included.

What is merely told to the player is apart from it.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field
from typing import assert_never

from .guards import Guard, columns_of
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
    Tell,
    Told,
    ToState,
    TurnBack,
    Unflag,
    can_refuse,
)
from .program import Action, Branch, Group, Program, Segment


@dataclass(frozen=True, slots=True)
class Effects:
    """Columns that are read and written, occurrences that are raised, groups that are flagged, whether it can refuse."""

    reads: frozenset[int] = frozenset()
    writes: frozenset[int] = frozenset()
    raises: frozenset[str] = frozenset()
    flags: frozenset[str] = frozenset()
    refuses: bool = False

    def __or__(self, other: Effects) -> Effects:
        return Effects(
            self.reads | other.reads,
            self.writes | other.writes,
            self.raises | other.raises,
            self.flags | other.flags,
            self.refuses or other.refuses,
        )


@dataclass(slots=True)
class _Gathered:
    """Effects as they are put together, operation by operation."""

    reads: set[int] = field(default_factory=set)
    writes: set[int] = field(default_factory=set)
    raises: set[str] = field(default_factory=set)
    flags: set[str] = field(default_factory=set)
    refuses: bool = False

    def both(self, *columns: int) -> None:
        """Columns that are read and written."""
        self.reads.update(columns)
        self.writes.update(columns)

    def done(self) -> Effects:
        """What they come to."""
        sets = frozenset(self.reads), frozenset(self.writes), frozenset(self.raises), frozenset(self.flags)
        return Effects(*sets, refuses=self.refuses)


def effects_of(ops: Iterable[Op], program: Program) -> Effects:
    """What operations read, write, raise and flag; a change of state may end the cues that wait for its motion."""
    found = _Gathered()
    for op in ops:
        _gather(op, program, found)
    return found.done()


def _gather(op: Op, program: Program, found: _Gathered) -> None:
    match op:
        case Put(column):
            found.writes.add(column)
        case PutBy(column, by):
            found.reads.add(by)
            found.writes.add(column)
        case PutNext(column):
            found.both(column)
        case Exchange(one, other):
            found.both(one, other)
        case Reset(values):
            found.writes.update(column for column, _ in values)
        case ToState(key, state, moving) | TurnBack(key, state, moving):
            found.both(state, moving, *(w.column for w in program.waits_for_motion.get(key, ())))
        case Plus(column):
            found.both(column)
            found.refuses |= can_refuse((op,))
        case Flag(groups) | Unflag(groups):
            found.flags.update(groups)
        case Happen(occurrence):
            found.raises.add(occurrence)
        case RefuseIf(guard):
            found.reads |= columns_of(guard)
            found.refuses = True
        case PutCopies():
            _gather_copies(op, found)
        case If(guard):
            found.reads |= columns_of(guard)
            for inner in (*op.then, *op.otherwise):
                _gather(inner, program, found)
        case Tell():
            pass
        case _:
            assert_never(op)


def _gather_copies(op: PutCopies, found: _Gathered) -> None:
    for copy in op.copies:
        found.reads.add(copy.exists)
        found.writes.update(column for column, _ in copy.resets)
        found.writes.update(number for number in (copy.exists, copy.place) if number >= 0)
    if op.spot.column >= 0:
        found.reads.add(op.spot.column)
    found.refuses = True


def segments_in(branch: Branch) -> Iterator[Segment]:
    """Every segment a branch may run, refusals included."""
    yield from branch.segments
    yield from refusals_in(branch)


def refusals_in(branch: Branch) -> Iterator[Segment]:
    """Every segment a branch may run instead of being taken."""
    yield from (c.or_else for c in branch.conditions if c.or_else is not None)
    if branch.otherwise is not None:
        yield branch.otherwise


def branch_effects(branch: Branch, program: Program) -> Effects:
    """What a cue reads to be taken, and what its segments and refusals do."""
    found = Effects(columns_of(branch.guard))
    if branch.waits >= 0:
        found = found | Effects(frozenset({branch.waits}), frozenset({branch.waits}))
    for segment in segments_in(branch):
        found = found | effects_of(segment.ops, program)
    return found


def group_effects(group: Group, program: Program) -> Effects:
    """What all cues of a moment do, with what follows a use."""
    found = Effects(columns_of(group.entry)) | effects_of(group.after, program)
    for branch in group.branches:
        found = found | branch_effects(branch, program)
    return found


def told_by(ops: Iterable[Op]) -> Iterator[Told]:
    """What operations may tell; that changes nothing."""
    for op in ops:
        if isinstance(op, Tell):
            yield op.told
        elif isinstance(op, If):
            yield from told_by((*op.then, *op.otherwise))
        elif isinstance(op, RefuseIf | PutCopies):
            yield op.told
        elif isinstance(op, Plus) and op.refusal is not None:
            yield op.refusal


class Consequences:
    """Who is flagged by what, over a whole program: worked out once, asked often."""

    def __init__(self, program: Program):
        self.program = program
        self._effects: dict[str, Effects] = {}
        self._next: dict[str, frozenset[str]] = {}

    def effects(self, group: str) -> Effects:
        """What a group reads, writes, raises and flags."""
        if group not in self._effects:
            self._effects[group] = group_effects(self.program.groups[group], self.program)
        return self._effects[group]

    def flagged_by(self, group: str) -> frozenset[str]:
        """The groups that a group may flag."""
        if group not in self._next:
            mine, program = self.effects(group), self.program
            numbers = {n for column in mine.writes for n, _ in program.listeners_of.get(column, ())}
            numbers |= {n for occurrence in mine.raises for n in program.heard_by.get(occurrence, ())}
            self._next[group] = frozenset(program.settling[n] for n in numbers) | mine.flags
        return self._next[group]

    def until_settled(self, group: str) -> frozenset[str]:
        """The group and every group that may be read until an action of it has settled."""
        found, edge = {group}, [group]
        while edge:
            for other in self.flagged_by(edge.pop()) - found:
                found.add(other)
                edge.append(other)
        return frozenset(found)

    def sensed_by(self, action: Action) -> frozenset[int]:
        """The sensed columns that an action may read until it has settled, its own guard among the readers."""
        reads: set[int] = set(columns_of(action.guard)) | set(guards_columns(action.tried))
        for name in self.until_settled(action.group):
            reads |= self.effects(name).reads
        return frozenset(n for n in reads if self.program.columns[n].sensed)


def guards_columns(guard: Guard | None) -> frozenset[int]:
    """The columns of a guard, none of None."""
    return frozenset() if guard is None else columns_of(guard)
