"""Apply and settle on many rows at once, each operation one write over all rows it concerns.

`onerow` walks the same program for a single row and also tells what happened; tests hold the two together.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import assert_never

import numpy as np
import numpy.typing as npt

from .chasing import chasing_groups
from .columns import Rows
from .guards import Guard, Mask, holds
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
    ToState,
    TurnBack,
    Unflag,
)
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
    _flag_log: list[tuple[Mask, Indices, bool]] = field(default_factory=list)
    """Of which flags which rows were raised, or taken back, in order."""
    _begun: dict[int, Mask] = field(default_factory=dict)
    _again: Mask | None = None
    """The rows on which a refusal may be tried once more."""

    # --- whole actions

    def act(self, action: Action, *, attempt: bool = False) -> Outcome:
        """Run an action on every row where its guard holds, then settle. Other rows, and those over, stay as they are.

        `attempt`: also where it can only be tried, as a press does that will be refused.
        """
        wanted = action.tried if attempt and action.tried is not None else action.guard
        open_rows = np.flatnonzero(holds(wanted, self.rows) & (self.rows[:, self.program.ended] == 0))
        took = self._none()
        if len(open_rows):
            took[self._begin(action, open_rows)] = True
        return self._settled(took, len(self._log) if action.kind in ("cross", "exit") else 0)

    def start(self, *, begins: str = "") -> Outcome:
        """Flag everything that is read once at the start of a run, then settle. `begins`: the level that begins too."""
        every = np.arange(len(self.rows))
        self._flag(every, self.program.at_start)
        if begins:
            self._flag(every, (self.program.begins[begins],))
        return self._settled(np.ones(len(self.rows), dtype=bool))

    def settle(self) -> Outcome:
        """Settle what is flagged now."""
        return self._settled(np.ones(len(self.rows), dtype=bool))

    def _begin(self, action: Action, rows: Indices) -> Indices:
        group = self.program.groups[action.group]
        if action.kind != "resume":
            return self._read(group, rows)
        return self._continue(group.branches[0], action.segment, rows)

    def _settled(self, took: Mask, walked: int = 0) -> Outcome:
        passes: list[frozenset[int]] = []
        for _ in range(MOST_PASSES):
            self.flags = {number: mask for number, mask in self.flags.items() if mask.any()}
            if not self.flags:
                return Outcome(took, self._none())
            self._begun, self.flags = self.flags, {}
            passes.append(frozenset(self._begun))
            for number in sorted(self._begun):
                for other, first in self.program.opposites.get(number, ()):
                    both = self._begun[number] & self._begun.get(other, self._none())
                    rows = np.flatnonzero(both)
                    rows = rows[holds(first, self.rows, rows)]
                    if len(rows):
                        self._begun[other][rows] = False
                        self._hear(other, rows)
                self._hear(number, np.flatnonzero(self._begun[number]))
        faulted: Mask = np.logical_or.reduce(list(self.flags.values()))
        self._put_back(faulted, walked)
        self.flags = {}
        return Outcome(took if walked else took & ~faulted, faulted, chasing_groups(self.program, passes))

    def _hear(self, number: int, rows: Indices) -> None:
        self._read(self.program.groups[self.program.settling[number]], rows)

    def _put_back(self, chosen: Mask, since: int) -> None:
        """Undo what was written since a place in the log, on chosen rows."""
        for column, rows, old in reversed(self._log[since:]):
            back = chosen[rows]
            self.rows[rows[back], column] = old[back]

    # --- groups and branches

    def _read(self, group: Group, rows: Indices) -> Indices:
        """Read a group's cues in order; the rows on which one took effect, ascending."""
        rows = rows[holds(group.entry, self.rows, rows)]
        unread, took, counts, fitted = rows, self._none(), self._none(), self._none()
        for branch in group.branches:
            if not len(unread):
                break
            fits = holds(branch.guard, self.rows, unread)
            fit = unread[fits]
            if len(fit):
                fitted[fit] = True
                done = self._none()
                done[self._start(branch, fit)] = True
                took |= done
                if branch.counts:
                    counts |= done
                unread = unread[~fits | done[unread]] if branch.go_on else unread[~fits]
        misfits = rows[~fitted[rows]]
        if len(misfits) and len(group.branches) > group.first_cue:
            self._refuse(group.branches[group.first_cue], misfits)
        self._ops(group.after, np.flatnonzero(counts))
        return np.flatnonzero(took)

    def _none(self) -> Mask:
        """No row."""
        return np.zeros(len(self.rows), dtype=bool)

    def _start(self, branch: Branch, rows: Indices) -> Indices:
        if branch.waits >= 0:
            busy = self.rows[rows, branch.waits] != 0
            if busy.any():
                rows = rows[~busy]
        return self._continue(branch, 0, rows)

    def _continue(self, branch: Branch, number: int, rows: Indices) -> Indices:
        """Run one segment and set where the branch waits next; rows refused by somebody in the way wait on."""
        if not len(rows):
            return rows
        segment, since = branch.segments[number], len(self._log)
        if branch.waits >= 0 and number > 0:
            self._write(rows, branch.waits, np.zeros(len(rows), dtype=np.int32))
        self._again = self._none()
        done = self._segment(segment, rows)
        again, self._again = self._again, None
        if number > 0 and again.any():
            again[done] = False
            self._put_back(again, since)
        if segment.wait is not None and len(done):
            self._write(done, branch.waits, np.full(len(done), number + 1, dtype=np.int32))
        return done

    def _refuse(self, branch: Branch, rows: Indices) -> None:
        """The *or else* of the first unmet need, else the *otherwise* of the cue; on each row some need is unmet."""
        for condition in branch.conditions:
            met = holds(condition.guard, self.rows, rows)
            unmet, rows = rows[~met], rows[met]
            instead = condition.or_else or branch.otherwise
            if len(unmet) and instead is not None:
                self._segment(instead, unmet)

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
            for mask, newly, was in reversed(self._flag_log[flagged:]):
                mask[newly[refused[newly]]] = was
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
            case Happen(occurrence):
                for number in self.program.heard_by.get(occurrence, ()):
                    self._mark(rows, number)
            case PutCopies():
                return self._put_copies(op, rows)
            case ToState(key, state, moving, table, timed):
                new = np.asarray(table, dtype=np.int32)[self.rows[rows, state]]
                self._to_state(key, state, moving, new, timed, rows)
            case TurnBack(key, state, moving):
                self._to_state(key, state, moving, self.rows[rows, moving] - 1, True, rows)
            case Plus():
                return self._plus(op, rows)
            case Flag(groups):
                self._flag(rows, groups)
            case Unflag(groups):
                self._unflag(rows, groups)
            case RefuseIf(guard, _, again):
                refused = holds(guard, self.rows, rows)
                if again and self._again is not None:
                    self._again[rows[refused]] = True
                return rows[~refused]
            case If(guard, then, otherwise):
                return self._if(guard, then, otherwise, rows)
            case Tell():
                pass
            case PutBy() | PutNext() | Exchange() | Reset():
                self._move(op, rows)
            case _:
                assert_never(op)
        return rows

    def _move(self, op: PutBy | PutNext | Exchange | Reset, rows: Indices) -> None:
        """Operations that only write."""
        match op:
            case PutBy(column, by, values):
                read = self.rows[rows, by]
                self._write(rows, column, np.asarray(values, dtype=np.int32)[read] if values else read)
            case PutNext(column, table, lowest):
                self._write(rows, column, np.asarray(table, dtype=np.int32)[self.rows[rows, column] - lowest])
            case Exchange(one, other):
                first, second = self.rows[rows, one], self.rows[rows, other]
                self._write(rows, one, second)
                self._write(rows, other, first)
            case Reset(pairs):
                for column, value in pairs:
                    self._log.append((column, rows, self.rows[rows, column]))
                    self.rows[rows, column] = value
            case _:
                assert_never(op)

    def _if(self, guard: Guard, then: tuple[Op, ...], otherwise: tuple[Op, ...], rows: Indices) -> Indices:
        fit = holds(guard, self.rows, rows)
        kept = [self._ops(then, rows[fit]), self._ops(otherwise, rows[~fit])]
        return np.sort(np.concatenate(kept))

    def _to_state(self, key: str, state: int, moving: int, new: Rows, timed: bool, rows: Indices) -> None:
        """A change of state. A motion that is under way and now leads elsewhere ends the cues that wait for it."""
        if moving != state:
            elsewhere = rows[(self.rows[rows, moving] != 0) & (new != self.rows[rows, state])]
            for waiting in self.program.waits_for_motion.get(key, ()):
                ended = elsewhere[self.rows[elsewhere, waiting.column] == waiting.value]
                self._write(ended, waiting.column, np.zeros(len(ended), dtype=np.int32))
        if timed:
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
            for column, value in copy.resets:
                self._write(chosen, column, np.full(len(chosen), value, dtype=np.int32))
            if copy.place >= 0:
                fixed = np.full(len(chosen), op.spot.cell, dtype=np.int32)
                self._write(chosen, copy.place, fixed if op.spot.column < 0 else self.rows[chosen, op.spot.column])
            self._write(chosen, copy.exists, np.ones(len(chosen), dtype=np.int32))
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
        if len(rows):
            mask = self._mask(number)
            newly = rows[~mask[rows]]
            mask[newly] = True
            self._flag_log.append((mask, newly, False))

    def _unflag(self, rows: Indices, groups: Sequence[str]) -> None:
        """Take flags back, also those of the pass that is running."""
        for group in groups:
            number = self.program.settling_number[group]
            for masks in (self.flags, self._begun):
                if number in masks:
                    gone = rows[masks[number][rows]]
                    masks[number][gone] = False
                    self._flag_log.append((masks[number], gone, True))

    def _mask(self, number: int) -> Mask:
        """The rows on which a group is flagged."""
        return self.flags.setdefault(number, self._none())


def _edge(listener: Listens, old: Rows, new: Rows) -> Mask:
    match listener.edge:
        case "rise":
            return np.greater(new, old)
        case "fall":
            return np.less(new, old)
        case "change":
            return np.ones(len(old), dtype=bool)
        case "into" | "out_of":
            return _through(listener, old, new)
        case _:
            assert_never(listener.edge)


def _through(listener: Listens, old: Rows, new: Rows) -> Mask:
    """Into or out of the values of a listener."""
    values = np.fromiter(listener.values, dtype=np.int32)
    was, now = np.isin(old, values), np.isin(new, values)
    heard: Mask = now & ~was if listener.edge == "into" else was & ~now
    return heard
