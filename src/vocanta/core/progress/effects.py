"""What the compiler tells of groups and branches: what each reads, writes, raises and flags, refusals included.

What is merely told to the player is apart from it.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
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


def effects_of(ops: Iterable[Op], program: Program) -> Effects:
    """What operations read, write, raise and flag; a change of state may end the cues that wait for its motion."""
    several = [_one(op, program) for op in ops]
    if len(several) == 1:
        return several[0]
    return Effects(
        frozenset().union(*(e.reads for e in several)),
        frozenset().union(*(e.writes for e in several)),
        frozenset().union(*(e.raises for e in several)),
        frozenset().union(*(e.flags for e in several)),
        any(e.refuses for e in several),
    )


def _one(op: Op, program: Program) -> Effects:
    match op:
        case Put(column):
            return Effects(writes=frozenset({column}))
        case PutBy(column, by):
            return Effects(frozenset({by}), frozenset({column}))
        case PutNext(column):
            return Effects(frozenset({column}), frozenset({column}))
        case Exchange(one, other):
            return Effects(frozenset({one, other}), frozenset({one, other}))
        case Reset(values):
            return Effects(writes=frozenset(column for column, _ in values))
        case ToState(key, state, moving) | TurnBack(key, state, moving):
            waits = frozenset(w.column for w in program.waits_for_motion.get(key, ()))
            both = frozenset({state, moving})
            return Effects(both | waits, both | waits)
        case Plus(column):
            return Effects(frozenset({column}), frozenset({column}), refuses=can_refuse((op,)))
        case Flag(groups) | Unflag(groups):
            return Effects(flags=frozenset(groups))
        case Happen(occurrence):
            return Effects(raises=frozenset({occurrence}))
        case RefuseIf(guard):
            return Effects(columns_of(guard), refuses=True)
        case PutCopies() | If():
            return _several(op, program)
        case Tell():
            return Effects()
        case _:
            assert_never(op)


def _several(op: PutCopies | If, program: Program) -> Effects:
    if isinstance(op, If):
        inner = effects_of(op.then, program) | effects_of(op.otherwise, program)
        return inner | Effects(columns_of(op.guard))
    writes = {column for copy in op.copies for column, _ in copy.resets}
    writes |= {number for copy in op.copies for number in (copy.exists, copy.place) if number >= 0}
    reads = {copy.exists for copy in op.copies} | ({op.spot.column} if op.spot.column >= 0 else set())
    return Effects(frozenset(reads), frozenset(writes), refuses=True)


def segments_in(branch: Branch) -> Iterator[Segment]:
    """Every segment a branch may run, refusals included."""
    yield from branch.segments
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
