"""Apply and settle on one row, telling what happened and why: what a run uses. About 20 µs an action.

Same program, same meaning as `walking`, in plain Python, since a NumPy call on one row costs more than the work.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, field

from .guards import All, AtLeast, Guard, Within
from .ops import (
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
    Tell,
    Told,
    ToState,
    TurnBack,
    can_refuse,
)
from .program import MOST_PASSES, Action, Branch, Condition, Group, Listens, Program, Segment

Row = list[int]
Teller = Callable[[Told, str], None]
"""Is told what happened, and the origin of what did it."""


def holds_on(guard: Guard, row: Sequence[int]) -> bool:
    """Whether a guard holds on one row. Plain loops: this is the innermost loop of a run."""
    if isinstance(guard, Within):
        return (guard.lowest <= row[guard.column] <= guard.highest) is guard.inside
    if isinstance(guard, AtLeast):
        return sum(holds_on(p, row) for p in guard.parts) >= guard.count
    wanted_all = isinstance(guard, All)
    for part in guard.parts:
        if holds_on(part, row) is not wanted_all:
            return not wanted_all
    return wanted_all


class Refused(Exception):
    """Raised inside a segment that is refused; never leaves this module."""


@dataclass(frozen=True, slots=True)
class RowOutcome:
    """What one action did. `chasing` names the groups that never settled; the row was then put back."""

    took_effect: bool
    chasing: tuple[str, ...] = ()


@dataclass
class RowWalk:
    """One application of a program to one row, a list of column values that is changed in place."""

    program: Program
    row: Row
    teller: Teller | None = None
    off: frozenset[str] = frozenset()
    """Groups switched off for this run after a fault."""
    flags: set[int] = field(default_factory=set)
    _log: list[tuple[int, int]] = field(default_factory=list)
    _origin: str = ""
    _told: list[tuple[Told, str]] | None = None

    def act(self, action: Action, *, attempt: bool = False) -> RowOutcome:
        """Run an action where its guard holds, then settle. `attempt`: also where its group can only be read."""
        group = self.program.groups[action.group]
        took = False
        if holds_on(group.entry if attempt else action.guard, self.row) and group.name not in self.off:
            resumes = action.kind == "resume"
            took = self._continue(group.branches[0], action.segment) if resumes else self._read(group)
        return self._settled(took)

    def start(self, *, begins: bool = True) -> RowOutcome:
        """Flag everything that is read once at the start of a run, then settle. `begins`: the level begins too."""
        self._flag(self.program.at_start)
        if begins:
            self._flag(self.program.begins)
        return self._settled(True)

    def put(self, column: int, value: int) -> None:
        """Write a column from outside and flag who listens; `settle` follows."""
        self._write(column, value)

    def run_freely(self, ops: Sequence[Op], origin: str) -> None:
        """Run operations without asking for needs (*as if*); refused ones are put back, nothing settles."""
        self._segment(Segment(tuple(ops), can_refuse(ops)), origin)

    def settle(self) -> RowOutcome:
        """Settle what is flagged now."""
        return self._settled(True)

    def _settled(self, took: bool) -> RowOutcome:
        for _ in range(MOST_PASSES):
            if not self.flags:
                return RowOutcome(took)
            begun, self.flags = sorted(self.flags), set()
            for number in begun:
                name = self.program.settling[number]
                if name not in self.off:
                    self._read(self.program.groups[name])
        if not self.flags:
            return RowOutcome(took)
        chasing = tuple(self.program.settling[i] for i in sorted(self.flags))
        self._put_back(0, keep=self.program.table.number("cell"))
        self.flags = set()
        return RowOutcome(False, chasing)

    def _put_back(self, since: int, keep: int = -1) -> None:
        """Undo what was written since a place in the log, but for one column."""
        for column, old in reversed(self._log[since:]):
            if column != keep:
                self.row[column] = old

    # --- groups and branches

    def _read(self, group: Group) -> bool:
        """Read a group's cues in order; whether one took effect."""
        if not holds_on(group.entry, self.row):
            return False
        took = fitted = False
        for branch in group.branches:
            if holds_on(branch.guard, self.row):
                fitted = True
                done = self._start(branch)
                took = took or done
                if not (done and branch.go_on):
                    break
        if not fitted and len(group.branches) > group.first_cue:
            self._refuse(group.branches[group.first_cue])
        if took and group.after:
            self._origin = group.origin
            self._run(group.after)
        return took

    def _start(self, branch: Branch) -> bool:
        if branch.waits >= 0 and self.row[branch.waits]:
            self._tell(Told("under_way"), branch.origin)
            return False
        return self._continue(branch, 0)

    def _continue(self, branch: Branch, number: int) -> bool:
        segment = branch.segments[number]
        if number > 0:
            self._write(branch.waits, 0)
        done = self._segment(segment, branch.origin)
        if done and segment.wait is not None:
            self._write(branch.waits, number + 1)
        return done

    def _refuse(self, branch: Branch) -> None:
        unmet = first_unmet(branch.conditions, self.row)
        instead = unmet.or_else if unmet and unmet.or_else else branch.otherwise
        if instead is not None:
            self._segment(instead, branch.origin)
        elif unmet is not None:
            self._tell(Told("unmet", details=(("need", unmet.text),)), branch.origin)

    # --- segments and operations

    def _segment(self, segment: Segment, origin: str) -> bool:
        self._origin = origin
        if not segment.can_refuse:
            self._run(segment.ops)
            return True
        since, flags, self._told = len(self._log), self.flags.copy(), []
        try:
            self._run(segment.ops)
            return True
        except Refused:
            self._put_back(since)
            self.flags = flags
            self._told = self._told[-1:]
            return False
        finally:
            held, self._told = self._told, None
            for told, by in held:
                self._tell(told, by)

    def _run(self, ops: Iterable[Op]) -> None:
        for op in ops:
            match op:
                case Put(column, value):
                    self._write(column, value)
                case Happen(occurrence):
                    self.flags.update(self.program.heard_by.get(occurrence, ()))
                case PutBy(column, by, values):
                    self._write(column, values[self.row[by]])
                case PutCopies():
                    self._put_copies(op)
                case PutNext(column, table, lowest):
                    self._write(column, table[self.row[column] - lowest])
                case ToState(key, state, moving, table, timed):
                    self._to_state(key, state, moving, table[self.row[state]], timed)
                case TurnBack(key, state, moving):
                    self._to_state(key, state, moving, self.row[moving] - 1, True)
                case Plus():
                    self._plus(op)
                case Flag(groups):
                    self._flag(groups)
                case Tell(told, columns):
                    self._tell_read(told, columns)
                case If(guard, then, otherwise):
                    self._run(then if holds_on(guard, self.row) else otherwise)
                case RefuseIf(guard, told):
                    if holds_on(guard, self.row):
                        self._refused(told)

    def _to_state(self, key: str, state: int, moving: int, new: int, timed: bool) -> None:
        if timed and self.row[moving] == new + 1:
            for column, value in self.program.waits_for_motion.get(key, ()):
                if self.row[column] == value:
                    self._write(column, 0)
                    self._tell(Told("wait_ended", key), self._origin)
        if timed:
            self._write(moving, self.row[state] + 1)
        self._write(state, new)

    def _put_copies(self, op: PutCopies) -> None:
        free = [copy for copy in op.copies if not self.row[copy.exists]]
        if len(free) < op.count:
            self._refused(op.refusal)
        for copy in free[: op.count]:
            for column, value in copy.resets:
                self._write(column, value)
            self._write(copy.exists, 1)
            self._tell(Told(op.told.what, copy.key, op.told.details), self._origin)

    def _plus(self, op: Plus) -> None:
        wanted = self.row[op.column] + op.amount
        if not op.clamped and not op.lowest <= wanted <= op.highest:
            self._refused(op.refusal or Told("refused"))
        self._write(op.column, min(max(wanted, op.lowest), op.highest))

    def _refused(self, told: Told) -> None:
        self._tell(told, self._origin)
        raise Refused

    def _write(self, column: int, value: int) -> None:
        old = self.row[column]
        if old != value:
            self.row[column] = value
            self._log.append((column, old))
            for number, listener in self.program.listeners_of.get(column, ()):
                if _heard(listener, old, value):
                    self.flags.add(number)

    def _flag(self, groups: Iterable[str]) -> None:
        self.flags.update(self.program.settling_number[g] for g in groups)

    def _tell_read(self, told: Told, columns: tuple[tuple[str, int], ...]) -> None:
        if self.teller is not None:
            read = tuple((name, self.row[column]) for name, column in columns)
            self._tell(Told(told.what, told.subject, told.details + read), self._origin)

    def _tell(self, told: Told, origin: str) -> None:
        if self._told is not None:
            self._told.append((told, origin))
        elif self.teller is not None:
            self.teller(told, origin)


def first_unmet(conditions: Iterable[Condition], row: Sequence[int]) -> Condition | None:
    """The first condition that does not hold, None when all do."""
    return next((c for c in conditions if not holds_on(c.guard, row)), None)


def _heard(listener: Listens, old: int, new: int) -> bool:
    match listener.edge:
        case "rise":
            return new > old
        case "fall":
            return new < old
        case "into":
            return new in listener.values and old not in listener.values
        case "out_of":
            return old in listener.values and new not in listener.values
    return True
