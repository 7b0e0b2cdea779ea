"""Apply and settle on many rows at once, each operation one write over all rows it concerns.

`onerow` walks the same program for a single row and also tells what happened; tests hold the two together.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np
import numpy.typing as npt

from .columns import Rows
from .guards import Guard, Mask, holds
from .ops import Flag, Happen, If, Op, Plus, Put, PutBy, PutCopies, PutNext, RefuseIf, ToState, TurnBack
from .program import MOST_PASSES, Action, Branch, Group, Listens, Program, Segment

Indices = npt.NDArray[np.intp]


@dataclass
class Outcome:
    """What one action did, row by row. `faulted` rows were put back; `chasing` names the groups that never settled."""

    took_effect: Mask
    faulted: Mask
    chasing: tuple[str, ...] = ()


@dataclass
class Walk:
    """One application of a program to rows of shape (rows, columns), which are changed in place.

    Rows laid out column by column (`np.asfortranarray`) go through three times as fast.

    Whatever is written is logged, so that a refused segment or a faulted action is put back by what it wrote alone.
    """

    program: Program
    rows: Rows
    flags: dict[int, Mask] = field(default_factory=dict)
    """For each flagged group, by its number in settling order, the rows on which it is flagged."""
    _log: list[tuple[int, Indices, Rows]] = field(default_factory=list)
    _flag_log: list[tuple[int, Indices]] = field(default_factory=list)

    # --- whole actions

    def act(self, action: Action, *, attempt: bool = False) -> Outcome:
        """Run an action on every row where its guard holds, then settle. Other rows stay as they are.

        `attempt`: also where only its group can be read, as a press does that will be refused.
        """
        wanted = self.program.groups[action.group].entry if attempt else action.guard
        open_rows = np.flatnonzero(holds(wanted, self.rows))
        took = np.zeros(len(self.rows), dtype=bool)
        if len(open_rows):
            took[self._begin(action, open_rows)] = True
        return self._settled(took)

    def start(self, *, begins: bool = True) -> Outcome:
        """Flag everything that is read once at the start of a run, then settle. `begins`: the level begins too."""
        self._flag(np.arange(len(self.rows)), self.program.at_start)
        if begins:
            self._flag(np.arange(len(self.rows)), self.program.begins)
        return self._settled(np.ones(len(self.rows), dtype=bool))

    def set_column(self, column: int, value: int) -> None:
        """Write one column of every row from outside (sensed columns, *as if*) and flag who listens."""
        self._write(np.arange(len(self.rows)), column, np.full(len(self.rows), value, dtype=np.int32))

    def settle(self) -> Outcome:
        """Settle what is flagged now."""
        return self._settled(np.ones(len(self.rows), dtype=bool))

    def _begin(self, action: Action, rows: Indices) -> Indices:
        group = self.program.groups[action.group]
        if action.kind != "resume":
            return self._read(group, rows)
        return self._continue(group, group.branches[0], action.segment, rows)

    def _settled(self, took: Mask) -> Outcome:
        nothing = np.zeros(len(self.rows), dtype=bool)
        for _ in range(MOST_PASSES):
            if not self.flags:
                return Outcome(took, nothing)
            begun, self.flags = self.flags, {}
            for number in sorted(begun):
                self._read(self.program.groups[self.program.settling[number]], np.flatnonzero(begun[number]))
        if not self.flags:
            return Outcome(took, nothing)
        faulted: Mask = np.logical_or.reduce(list(self.flags.values()))
        chasing = tuple(self.program.settling[i] for i in sorted(self.flags))
        self._put_back(faulted, 0, keep=self.program.table.number("cell"))
        self.flags = {}
        return Outcome(took & ~faulted, faulted, chasing)

    def _put_back(self, chosen: Mask, since: int, keep: int = -1) -> None:
        """Undo what was written since a place in the log, on chosen rows, but for one column."""
        for column, rows, old in reversed(self._log[since:]):
            if column != keep:
                back = chosen[rows]
                self.rows[rows[back], column] = old[back]

    # --- groups and branches

    def _read(self, group: Group, rows: Indices) -> Indices:
        """Read a group's cues in order; the rows on which one took effect, ascending."""
        rows = rows[holds(group.entry, self.rows, rows)]
        unread, took, fitted = rows, self._none(), self._none()
        for branch in group.branches:
            if not len(unread):
                break
            fits = holds(branch.guard, self.rows, unread)
            fit = unread[fits]
            if len(fit):
                fitted[fit] = True
                done = self._none()
                done[self._start(group, branch, fit)] = True
                took |= done
                unread = unread[~fits | done[unread]] if branch.go_on else unread[~fits]
        misfits = rows[~fitted[rows]]
        if len(misfits) and len(group.branches) > group.first_cue:
            self._refuse(group.branches[group.first_cue], misfits)
        effect = np.flatnonzero(took)
        return self._ops(group.after, effect)

    def _none(self) -> Mask:
        """No row."""
        return np.zeros(len(self.rows), dtype=bool)

    def _start(self, group: Group, branch: Branch, rows: Indices) -> Indices:
        if branch.waits >= 0:
            busy = self.rows[rows, branch.waits] != 0
            if busy.any():
                rows = rows[~busy]
        return self._continue(group, branch, 0, rows)

    def _continue(self, group: Group, branch: Branch, number: int, rows: Indices) -> Indices:
        """Run one segment and set where the branch waits next."""
        if not len(rows):
            return rows
        segment = branch.segments[number]
        if branch.waits >= 0 and number > 0:
            self._write(rows, branch.waits, np.zeros(len(rows), dtype=np.int32))
        done = self._segment(segment, rows)
        if segment.wait is not None and len(done):
            self._write(done, branch.waits, np.full(len(done), number + 1, dtype=np.int32))
        return done

    def _refuse(self, branch: Branch, rows: Indices) -> None:
        """The *or else* of the first unmet need, else the *otherwise* of the first cue."""
        for condition in branch.conditions:
            met = holds(condition.guard, self.rows, rows)
            unmet, rows = rows[~met], rows[met]
            instead = condition.or_else or branch.otherwise
            if len(unmet) and instead is not None:
                self._segment(instead, unmet)
        if branch.otherwise is not None:
            self._segment(branch.otherwise, rows)

    # --- segments and operations

    def _segment(self, segment: Segment, rows: Indices) -> Indices:
        """Run a segment; the rows on which it took effect. Refused rows are put back whole."""
        if not segment.can_refuse:
            return self._ops(segment.ops, rows)
        since, flagged = len(self._log), len(self._flag_log)
        done = self._ops(segment.ops, rows)
        if len(done) < len(rows):
            refused = np.zeros(len(self.rows), dtype=bool)
            refused[rows] = True
            refused[done] = False
            self._put_back(refused, since)
            for number, newly in self._flag_log[flagged:]:
                self.flags[number][newly[refused[newly]]] = False
        return done

    def _ops(self, ops: Sequence[Op], rows: Indices) -> Indices:
        for op in ops:
            if not len(rows):
                break
            rows = self._op(op, rows)
        return rows

    def _op(self, op: Op, rows: Indices) -> Indices:
        match op:
            case Put(column, value):
                self._write(rows, column, np.full(len(rows), value, dtype=np.int32))
            case PutBy(column, by, values):
                self._write(rows, column, np.asarray(values, dtype=np.int32)[self.rows[rows, by]])
            case Happen(occurrence):
                for number in self.program.heard_by.get(occurrence, ()):
                    self._mark(rows, number)
            case PutCopies():
                return self._put_copies(op, rows)
            case PutNext(column, table, lowest):
                self._write(rows, column, np.asarray(table, dtype=np.int32)[self.rows[rows, column] - lowest])
            case ToState(key, state, moving, table, timed):
                new = np.asarray(table, dtype=np.int32)[self.rows[rows, state]]
                self._to_state(key, state, moving, new, timed, rows)
            case TurnBack(key, state, moving):
                self._to_state(key, state, moving, self.rows[rows, moving] - 1, True, rows)
            case Plus():
                return self._plus(op, rows)
            case Flag(groups):
                self._flag(rows, groups)
            case RefuseIf(guard):
                return rows[~holds(guard, self.rows, rows)]
            case If(guard, then, otherwise):
                return self._if(guard, then, otherwise, rows)
        return rows

    def _if(self, guard: Guard, then: tuple[Op, ...], otherwise: tuple[Op, ...], rows: Indices) -> Indices:
        fit = holds(guard, self.rows, rows)
        kept = [self._ops(then, rows[fit]), self._ops(otherwise, rows[~fit])]
        return np.sort(np.concatenate(kept))

    def _to_state(self, key: str, state: int, moving: int, new: Rows, timed: bool, rows: Indices) -> None:
        if timed:
            back = rows[self.rows[rows, moving] == new + 1]
            for column, value in self.program.waits_for_motion.get(key, ()):
                ended = back[self.rows[back, column] == value]
                self._write(ended, column, np.zeros(len(ended), dtype=np.int32))
            self._write(rows, moving, self.rows[rows, state] + 1)
        self._write(rows, state, new)

    def _put_copies(self, op: PutCopies, rows: Indices) -> Indices:
        """Each row takes the first of its copies that are not there; rows with too few are refused."""
        columns = np.array([c.exists for c in op.copies], dtype=np.intp)
        there = self.rows[rows[:, None], columns] != 0
        enough = (~there).sum(axis=1) >= op.count
        rows, there = rows[enough], there[enough]
        place = np.cumsum(~there, axis=1)
        for number, copy in enumerate(op.copies):
            chosen = rows[~there[:, number] & (place[:, number] <= op.count)]
            for column, value in (*copy.resets, (copy.exists, 1)):
                self._write(chosen, column, np.full(len(chosen), value, dtype=np.int32))
        return rows

    def _plus(self, op: Plus, rows: Indices) -> Indices:
        wanted = self.rows[rows, op.column] + op.amount
        if op.clamped:
            self._write(rows, op.column, np.clip(wanted, op.lowest, op.highest).astype(np.int32))
            return rows
        outside = (wanted < op.lowest) | (wanted > op.highest)
        left: Indices = rows[~outside]
        self._write(left, op.column, wanted[~outside].astype(np.int32))
        return left

    def _write(self, rows: Indices, column: int, values: Rows) -> None:
        """Write a column and flag every group that listens to how it altered."""
        old = self.rows[rows, column]
        self.rows[rows, column] = values
        self._log.append((column, rows, old))
        listening = self.program.listeners_of.get(column)
        if listening:
            altered = old != values
            if altered.any():
                for number, listener in listening:
                    self._mark(rows[altered & _edge(listener, old, values)], number)

    def _flag(self, rows: Indices, groups: Sequence[str]) -> None:
        for group in groups:
            self._mark(rows, self.program.settling_number[group])

    def _mark(self, rows: Indices, number: int) -> None:
        """Flag a group on some rows."""
        if not len(rows):
            return
        mask = self.flags.get(number)
        if mask is None:
            mask = self.flags[number] = np.zeros(len(self.rows), dtype=bool)
        newly = rows[~mask[rows]]
        mask[newly] = True
        self._flag_log.append((number, newly))


def _edge(listener: Listens, old: Rows, new: Rows) -> Mask:
    match listener.edge:
        case "rise":
            return np.greater(new, old)
        case "fall":
            return np.less(new, old)
        case "change":
            return np.ones(len(old), dtype=bool)
    values = np.fromiter(listener.values, dtype=np.int32)
    was, now = np.isin(old, values), np.isin(new, values)
    heard: Mask = now & ~was if listener.edge == "into" else was & ~now
    return heard
