"""Apply and settle on one row, gathering what happened and why: what a run uses. 5 to 80 µs an action.

Same program, same meaning as `walking`, in plain Python, since a NumPy call on one row costs more than the work.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from typing import assert_never

from .chasing import chasing_groups
from .guards import All, AtLeast, Guard, Within
from .happenings import Happening
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
from .program import MOST_PASSES, Action, Branch, Condition, Group, Listens, Program, Segment

Row = list[int]
Telling = tuple[Told, str]
"""What happened, and the origin of what did it."""


def holds_on(guard: Guard, row: Sequence[int]) -> bool:
    """Whether a guard holds on one row. Plain loops: this is the innermost loop of a run."""
    if type(guard) is Within:
        return (guard.lowest <= row[guard.column] <= guard.highest) is guard.inside
    if type(guard) is AtLeast:
        return sum(holds_on(p, row) for p in guard.parts) >= guard.count
    wanted_all = type(guard) is All
    for part in guard.parts:
        held = (
            (part.lowest <= row[part.column] <= part.highest) is part.inside
            if type(part) is Within
            else holds_on(part, row)
        )
        if held is not wanted_all:
            return not wanted_all
    return wanted_all


class Refused(Exception):
    """Raised inside a segment that is refused; never leaves this module. `again`: it may be tried once more."""

    def __init__(self, again: bool = False):
        super().__init__()
        self.again = again


@dataclass(frozen=True, slots=True)
class RowOutcome:
    """What one action did: what was told, in order, and which columns were written.

    `chasing` names the groups that never settled; the row was then put back, but for the walking itself, and nothing of
    the action is told. `again`: a cue that goes on was refused by somebody in the way, and waits to try once more.
    """

    took_effect: bool
    told: tuple[Telling, ...] = ()
    changed: frozenset[int] = frozenset()
    chasing: tuple[str, ...] = ()
    again: bool = False


@dataclass
class RowWalk:
    """One application of a program to one row, a list of column values that is changed in place."""

    program: Program
    row: Row
    off: frozenset[str] = frozenset()
    """Groups switched off for this run after a fault."""
    flags: set[int] = field(default_factory=set)
    told: list[Telling] = field(default_factory=list)
    _log: list[tuple[int, int]] = field(default_factory=list)
    _begun: set[int] = field(default_factory=set)
    _origin: str = ""
    _again: bool = False

    def act(self, action: Action, *, attempt: bool = False) -> RowOutcome:
        """Run an action where its guard holds, then settle. `attempt`: also where it can only be tried."""
        group = self.program.groups[action.group]
        tried = action.tried if attempt and action.tried is not None else action.guard
        if self.row[self.program.ended] or not holds_on(tried, self.row):
            return RowOutcome(False)
        took = self._continue(group.branches[0], action.segment) if action.kind == "resume" else self._read(group)
        walked = action.kind in ("cross", "exit")
        return self._settled(took, (len(self._log), len(self.told)) if walked else (0, 0))

    def refuse(self, action: Action) -> RowOutcome:
        """Run the refusal of an action that is not usable, and nothing else, then settle."""
        group = self.program.groups[action.group]
        if self.row[self.program.ended] or not holds_on(group.entry, self.row):
            return RowOutcome(False)
        if len(group.branches) > group.first_cue:
            self._refuse(group.branches[group.first_cue])
        return self._settled(False)

    def start(self, *, begins: str = "") -> RowOutcome:
        """Flag everything that is read once at the start of a run, then settle. `begins`: the level that begins too."""
        self._flag(self.program.at_start)
        if begins:
            self._flag((self.program.begins[begins],))
        return self._settled(True)

    def sensed(self, column: int, old: int) -> RowOutcome:
        """Let those who listen hear that a sensed column, written already, was another before; then settle."""
        self._heard(column, old, self.row[column])
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

    def _settled(self, took: bool, walked: tuple[int, int] = (0, 0)) -> RowOutcome:
        passes: list[frozenset[int]] = []
        for _ in range(MOST_PASSES):
            if not self.flags:
                changed = frozenset(column for column, _ in self._log)
                return RowOutcome(took, tuple(self.told), changed, again=self._again)
            self._begun, self.flags = self.flags, set()
            passes.append(frozenset(self._begun))
            for number in sorted(self._begun):
                for other, first in self.program.opposites.get(number, ()):
                    if other in self._begun and number in self._begun and holds_on(first, self.row):
                        self._begun.discard(other)
                        self._hear(other)
                if number in self._begun:
                    self._hear(number)
        return self._faulted(passes, walked)

    def _hear(self, number: int) -> None:
        """Read a group that was flagged, unless it is off."""
        name = self.program.settling[number]
        if name not in self.off:
            self._read(self.program.groups[name])

    def _faulted(self, passes: list[frozenset[int]], walked: tuple[int, int]) -> RowOutcome:
        """An action that did not settle: all but the walking itself is put back, and only that is told."""
        since, told = walked
        self._put_back(since)
        self.flags = set()
        kept = frozenset(column for column, _ in self._log)
        return RowOutcome(bool(since), tuple(self.told[:told]), kept, chasing_groups(self.program, passes))

    def _put_back(self, since: int) -> None:
        """Undo what was written since a place in the log."""
        for column, old in reversed(self._log[since:]):
            self.row[column] = old
        del self._log[since:]

    # --- groups and branches

    def _read(self, group: Group) -> bool:
        """Read a group's cues in order; whether one took effect."""
        if not holds_on(group.entry, self.row):
            return False
        first, row, fitting = group.first_cue, self.row, self._fitting(group)
        took = counts = fitted = False
        for branch in group.branches:
            if holds_on(branch.guard, row):
                fitted = True
                done = self._start(branch)
                took, counts = took or done, counts or (done and branch.counts)
                if not (done and branch.go_on):
                    if counts:
                        self._pass_over(fitting, branch)
                    break
        if not fitted and len(group.branches) > first:
            self._refuse(group.branches[first])
        if counts and group.after:
            self._origin = group.origin
            self._run(group.after)
        return took

    def _fitting(self, group: Group) -> list[Branch]:
        """The cues of a press that fit, to tell which were passed over."""
        first, row = group.first_cue, self.row
        several = group.press and len(group.branches) > first + 1
        return [b for b in group.branches[first:] if holds_on(b.guard, row)] if several else []

    def _pass_over(self, fitting: list[Branch], ran: Branch) -> None:
        """Tell which cues would have fitted as well."""
        behind = fitting[fitting.index(ran) + 1 :] if ran in fitting else []
        for branch in behind:
            self.told.append((Told(Happening.PASSED_OVER), branch.origin))

    def _start(self, branch: Branch) -> bool:
        if branch.waits >= 0 and self.row[branch.waits]:
            self.told.append((Told(Happening.UNDER_WAY), branch.origin))
            return False
        return self._continue(branch, 0)

    def _continue(self, branch: Branch, number: int) -> bool:
        """Run one segment and set where the branch waits next; one refused by somebody in the way waits on."""
        segment, since = branch.segments[number], len(self._log)
        if number > 0:
            self._write(branch.waits, 0)
        refused = self._segment(segment, branch.origin)
        if refused is None:
            if segment.wait is not None:
                self._write(branch.waits, number + 1)
            return True
        if number > 0 and refused.again:
            self._put_back(since)
            self._again = True
        return False

    def _refuse(self, branch: Branch) -> None:
        unmet = first_unmet(branch.conditions, self.row)
        instead = unmet.or_else if unmet and unmet.or_else else branch.otherwise
        if instead is not None:
            self._segment(instead, branch.origin)
        elif unmet is not None:
            self.told.append((Told(Happening.UNMET, details=(("need", unmet.text),)), branch.origin))

    # --- segments and operations

    def _segment(self, segment: Segment, origin: str) -> Refused | None:
        """Run a segment whole or not at all; how it was refused, None where it took effect."""
        self._origin = origin
        if not segment.can_refuse:
            self._run(segment.ops)
            return None
        since, flags, begun, told = len(self._log), self.flags.copy(), self._begun.copy(), len(self.told)
        try:
            self._run(segment.ops)
            return None
        except Refused as refused:
            self._put_back(since)
            self.flags, self._begun = flags, begun
            self.told[told:] = self.told[-1:]
            return refused

    def _run(self, ops: Iterable[Op]) -> None:
        """Run operations in order. The commonest are asked for first, and none is taken apart: this loop is hot."""
        row = self.row
        for op in ops:
            match op:
                case Put():
                    self._write(op.column, op.value)
                case Tell():
                    self.told.append((self._read_off(op) if op.columns else op.told, self._origin))
                case Happen():
                    self.flags.update(self.program.heard_by.get(op.occurrence, ()))
                case If():
                    self._run(op.then if holds_on(op.guard, row) else op.otherwise)
                case Plus():
                    self._plus(op)
                case Flag():
                    self._flag(op.groups)
                case ToState():
                    self._to_state(op.key, op.state, op.moving, op.table[row[op.state]], op.timed)
                case TurnBack():
                    self._to_state(op.key, op.state, op.moving, row[op.moving] - 1, True)
                case RefuseIf():
                    if holds_on(op.guard, row):
                        self._refused(op.told, op.again)
                case PutBy() | PutNext() | Exchange() | Reset() | PutCopies() | Unflag():
                    self._rarer(op)
                case _:
                    assert_never(op)

    def _read_off(self, op: Tell) -> Told:
        """What is told, with the values of the columns that are told beside it."""
        told = op.told
        return Told(told.what, told.subject, told.details + tuple((name, self.row[c]) for name, c in op.columns))

    def _rarer(self, op: PutBy | PutNext | Exchange | Reset | PutCopies | Unflag) -> None:
        match op:
            case PutBy(column, by, values):
                self._write(column, values[self.row[by]] if values else self.row[by])
            case PutNext(column, table, lowest):
                self._write(column, table[self.row[column] - lowest])
            case Exchange(one, other):
                first, second = self.row[one], self.row[other]
                self._write(one, second)
                self._write(other, first)
            case Reset(pairs):
                for column, value in pairs:
                    self._log.append((column, self.row[column]))
                    self.row[column] = value
            case PutCopies():
                self._put_copies(op)
            case Unflag(groups):
                for group in groups:
                    self.flags.discard(self.program.settling_number[group])
                    self._begun.discard(self.program.settling_number[group])
            case _:
                assert_never(op)

    def _to_state(self, key: str, state: int, moving: int, new: int, timed: bool) -> None:
        """A change of state. A motion that is under way and now leads elsewhere ends the cues that wait for it."""
        if self.row[moving] and moving != state and new != self.row[state]:
            for waiting in self.program.waits_for_motion.get(key, ()):
                if self.row[waiting.column] == waiting.value:
                    self._write(waiting.column, 0)
                    self.told.append((Told(Happening.WAIT_ENDED, key), waiting.action.origin))
        if timed:
            self._write(moving, self.row[state] + 1)
        self._write(state, new)

    def _put_copies(self, op: PutCopies) -> None:
        free = [copy for copy in op.copies if not self.row[copy.exists]]
        if len(free) < op.count:
            self._refused(op.refusal, False)
        cell = op.spot.cell if op.spot.column < 0 else self.row[op.spot.column]
        for copy in free[: op.count]:
            for column, value in copy.resets:
                self._write(column, value)
            if copy.place >= 0:
                self._write(copy.place, cell)
            self._write(copy.exists, 1)
            self.told.append((Told(op.told.what, copy.key, op.told.details), self._origin))

    def _plus(self, op: Plus) -> None:
        wanted = self.row[op.column] + op.amount
        if not op.clamped and not op.lowest <= wanted <= op.highest:
            self._refused(op.refusal or Told(Happening.REFUSED), False)
        self._write(op.column, min(max(wanted, op.lowest), op.highest))

    def _refused(self, told: Told, again: bool) -> None:
        self.told.append((told, self._origin))
        raise Refused(again)

    def _write(self, column: int, value: int) -> None:
        old = self.row[column]
        if old != value:
            self.row[column] = value
            self._log.append((column, old))
            self._heard(column, old, value)

    def _heard(self, column: int, old: int, value: int) -> None:
        for number, listener in self.program.listeners_of.get(column, ()):
            if _hears(listener, old, value):
                self.flags.add(number)

    def _flag(self, groups: Iterable[str]) -> None:
        self.flags.update(self.program.settling_number[g] for g in groups)


def first_unmet(conditions: Iterable[Condition], row: Sequence[int]) -> Condition | None:
    """The first condition that does not hold, None when all do."""
    return next((c for c in conditions if not holds_on(c.guard, row)), None)


def _hears(listener: Listens, old: int, new: int) -> bool:
    match listener.edge:
        case "rise":
            return new > old
        case "fall":
            return new < old
        case "into":
            return new in listener.values and old not in listener.values
        case "out_of":
            return old in listener.values and new not in listener.values
        case "change":
            return True
        case _:
            assert_never(listener.edge)
