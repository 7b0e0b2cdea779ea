"""The program a project is compiled to: columns, groups of branches, actions, and who listens to what."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cached_property
from typing import Literal

import numpy as np

from ..project.problems import Problem
from .columns import Column, ColumnTable, Rows
from .guards import ALWAYS, Guard, GuardTable
from .layout import Layout
from .ops import Op

MOST_PASSES = 64


@dataclass(frozen=True, slots=True)
class Wait:
    """What ends a segment: seconds running out, or the arrival of an object's motion."""

    seconds: float = 0.0
    motion_of: str = ""


@dataclass(frozen=True, slots=True)
class Segment:
    """Operations between two waits; they take effect whole or not at all. `wait` follows them, None at the end."""

    ops: tuple[Op, ...]
    can_refuse: bool
    wait: Wait | None = None


@dataclass(frozen=True, slots=True)
class Condition:
    """One top-level need: its guard, its text, and what is done instead when it is the first unmet one."""

    guard: Guard
    text: str
    or_else: Segment | None = None
    or_else_words: str = ""


@dataclass(frozen=True, slots=True)
class Branch:
    """One cue of a group. `waits` is the column that says before which segment it waits, -1 without waits."""

    origin: str
    conditions: tuple[Condition, ...]
    guard: Guard
    segments: tuple[Segment, ...]
    otherwise: Segment | None = None
    go_on: bool = False
    waits: int = -1


@dataclass(frozen=True, slots=True)
class Group:
    """Cues read in order at one moment of one owner. `entry` must hold for it to be read at all."""

    name: str
    origin: str
    branches: tuple[Branch, ...]
    entry: Guard = ALWAYS
    after: tuple[Op, ...] = ()
    first_cue: int = 0
    """Where the written cues begin: branches of our own stand before them, and are not asked for a refusal."""


Kind = Literal[
    "use",
    "hold",
    "choose",
    "strike",
    "reply",
    "voice",
    "leave",
    "resume",
    "arrive",
    "clock",
    "deliver",
    "near",
    "away",
    "cross",
    "exit",
]


@dataclass(frozen=True, slots=True)
class Action:
    """One thing that can change progress. `guard` says when it stands open; it runs `group`, or resumes a branch."""

    name: str
    kind: Kind
    subject: str
    guard: Guard
    group: str
    origin: str
    control: str = ""
    segment: int = 0


@dataclass(frozen=True, slots=True)
class Waiting:
    """One wait of one cue: while `column` is `value` it waits, and `action` goes on."""

    column: int
    value: int
    wait: Wait
    action: Action


@dataclass(frozen=True, slots=True)
class Listens:
    """A group flagged when a column's value alters in one way: `change`, `rise`, `fall`, or into or out of `values`."""

    group: str
    column: int
    edge: Literal["change", "rise", "fall", "into", "out_of"]
    values: frozenset[int] = frozenset()


@dataclass(frozen=True, slots=True)
class Hears:
    """A group flagged whenever something occurs: a line heard, a stage reached, somebody downed …"""

    group: str
    occurrence: str


@dataclass(frozen=True)
class Program:
    """A compiled project. Groups that listen stand in settling order in `settling`."""

    table: ColumnTable
    groups: Mapping[str, Group]
    actions: tuple[Action, ...]
    settling: tuple[str, ...]
    listeners: tuple[Listens, ...]
    at_start: tuple[str, ...]
    """Groups read once at the start of a run."""
    begins: tuple[str, ...] = ()
    """Groups read at the start of a run that does not begin from a chosen point."""
    hears: tuple[Hears, ...] = ()
    timers: tuple[Waiting, ...] = ()
    problems: tuple[Problem, ...] = ()
    layout: Layout | None = None
    by_name: Mapping[str, Action] = field(default_factory=dict)

    @property
    def columns(self) -> list[Column]:
        """The columns in order."""
        return self.table.columns

    @cached_property
    def settling_number(self) -> dict[str, int]:
        """The place of each listening group in settling order."""
        return {name: i for i, name in enumerate(self.settling)}

    @cached_property
    def listeners_of(self) -> dict[int, tuple[tuple[int, Listens], ...]]:
        """For each column, who listens to it, with the place in settling order."""
        found: dict[int, list[tuple[int, Listens]]] = {}
        for listener in self.listeners:
            found.setdefault(listener.column, []).append((self.settling_number[listener.group], listener))
        return {column: tuple(entries) for column, entries in found.items()}

    @cached_property
    def heard_by(self) -> dict[str, tuple[int, ...]]:
        """For each occurrence the groups that hear it, by their place in settling order."""
        found: dict[str, list[int]] = {}
        for hearer in self.hears:
            found.setdefault(hearer.occurrence, []).append(self.settling_number[hearer.group])
        return {occurrence: tuple(numbers) for occurrence, numbers in found.items()}

    @cached_property
    def waits(self) -> tuple[Waiting, ...]:
        """Every wait of every cue, in program order, then every other clock."""
        found = []
        for action in self.actions:
            if action.kind == "resume":
                branch = self.groups[action.group].branches[0]
                wait = branch.segments[action.segment - 1].wait
                assert wait is not None
                found.append(Waiting(branch.waits, action.segment, wait, action))
        return (*found, *self.timers)

    @cached_property
    def waits_for_motion(self) -> dict[str, tuple[tuple[int, int], ...]]:
        """For each object the (column, value) pairs of cues that wait for its motion."""
        found: dict[str, list[tuple[int, int]]] = {}
        for waiting in self.waits:
            if waiting.wait.motion_of:
                found.setdefault(waiting.wait.motion_of, []).append((waiting.column, waiting.value))
        return {key: tuple(pairs) for key, pairs in found.items()}

    @cached_property
    def action_guards(self) -> GuardTable:
        """All action guards as one table."""
        return GuardTable([a.guard for a in self.actions])

    @cached_property
    def sensed(self) -> tuple[int, ...]:
        """The numbers of the sensed columns."""
        return tuple(i for i, c in enumerate(self.columns) if c.sensed)

    def open_actions(self, row: Rows) -> list[Action]:
        """The actions that stand open in one row of shape (1, columns), in program order."""
        return [self.actions[i] for i in np.flatnonzero(self.action_guards.ask(row[0]))]
