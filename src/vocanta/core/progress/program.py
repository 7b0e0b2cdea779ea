"""The program a project is compiled to: columns, groups of branches, actions, and who listens to what."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cached_property
from typing import Literal

import numpy as np

from ..project.problems import Problem
from .columns import Column, ColumnTable, Rows
from .guards import ALWAYS, Guard, GuardTable, among, opposite
from .layout import Layout
from .ops import Op
from .raising import raised

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
    """One cue of a group. `waits` is the column that says before which segment it waits, -1 without waits.

    `counts`: taking effect is a use, so that what follows a use follows it.
    """

    origin: str
    conditions: tuple[Condition, ...]
    guard: Guard
    segments: tuple[Segment, ...]
    otherwise: Segment | None = None
    go_on: bool = False
    waits: int = -1
    counts: bool = True


@dataclass(frozen=True, slots=True)
class Group:
    """Cues read in order at one moment of one owner. `entry` must hold for it to be read at all.

    `first_cue` is where the written cues begin: branches of our own stand before them, and are not asked for a refusal.
    `press`: what fitted and was passed over is told.
    """

    name: str
    origin: str
    branches: tuple[Branch, ...]
    entry: Guard = ALWAYS
    after: tuple[Op, ...] = ()
    first_cue: int = 0
    press: bool = False
    verb: str = ""
    """What its cues wait for, or which part of talk or quest it is."""


Kind = Literal[
    "use",
    "hold",
    "choose",
    "strike",
    "reply",
    "decide",
    "voice",
    "resume",
    "arrive",
    "clock",
    "deliver",
    "near",
    "away",
    "cross",
    "exit",
    "sensed",
]
Whose = Literal["player", "clock", "sensed"]
_WHOSE: dict[Kind, Whose] = {
    "use": "player",
    "hold": "player",
    "choose": "player",
    "strike": "player",
    "reply": "player",
    "decide": "player",
    "cross": "player",
    "exit": "player",
    "voice": "clock",
    "resume": "clock",
    "arrive": "clock",
    "clock": "clock",
    "deliver": "clock",
    "near": "sensed",
    "away": "sensed",
    "sensed": "sensed",
}


@dataclass(frozen=True, slots=True)
class Action:
    """One thing that can change progress. `guard` says when it stands open; it runs `group`, or resumes a branch.

    `tried`: when it can be tried, though it may be refused; None for when it stands open.
    """

    name: str
    kind: Kind
    subject: str
    guard: Guard
    group: str
    origin: str
    control: str = ""
    segment: int = 0
    tried: Guard | None = None

    @property
    def whose(self) -> Whose:
        """Whether the player, a clock or the senses bring it about."""
        return _WHOSE[self.kind]


@dataclass(frozen=True, slots=True)
class Waiting:
    """One wait of one cue, or another clock: while `column` is `value` it waits, and `action` goes on."""

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
    """A compiled project. Groups that listen stand in settling order in `settling`, actions in order of creation:
    objects, then areas, levels, quests, talk."""

    layout: Layout
    table: ColumnTable
    groups: Mapping[str, Group]
    actions: tuple[Action, ...]
    settling: tuple[str, ...]
    listeners: tuple[Listens, ...]
    at_start: tuple[str, ...]
    """Groups read once at the start of a run."""
    begins: Mapping[str, str] = field(default_factory=dict)
    """For each level the group read at the start of a run that begins there, not from a chosen point."""
    hears: tuple[Hears, ...] = ()
    timers: tuple[Waiting, ...] = ()
    problems: tuple[Problem, ...] = ()

    @property
    def columns(self) -> list[Column]:
        """The columns in order."""
        return self.table.columns

    @cached_property
    def by_name(self) -> dict[str, Action]:
        """Every action by its name."""
        return {a.name: a for a in self.actions}

    @cached_property
    def rank(self) -> dict[str, int]:
        """The place of each action in order of creation."""
        return {a.name: i for i, a in enumerate(self.actions)}

    @cached_property
    def of_subject(self) -> dict[str, tuple[Action, ...]]:
        """The actions of each subject."""
        found: dict[str, list[Action]] = {}
        for action in self.actions:
            found.setdefault(action.subject, []).append(action)
        return {key: tuple(actions) for key, actions in found.items()}

    @cached_property
    def raisers(self) -> dict[int, tuple[tuple[str, str], ...]]:
        """For each column the places that raise it or set it: the origins of a group and of its branch, each once, in order."""
        found: dict[int, dict[tuple[str, str], None]] = {}
        for group in self.groups.values():
            for branch in group.branches:
                for column in (c for segment in branch.segments for c in raised(segment.ops)):
                    found.setdefault(column, {})[group.origin, branch.origin] = None
        return {column: tuple(places) for column, places in found.items()}

    @cached_property
    def of_group(self) -> dict[str, tuple[Action, ...]]:
        """The actions that run each group."""
        found: dict[str, list[Action]] = {}
        for action in self.actions:
            found.setdefault(action.group, []).append(action)
        return {name: tuple(actions) for name, actions in found.items()}

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
    def opposites(self) -> dict[int, tuple[tuple[int, Guard], ...]]:
        """For a group that listens to a beginning or an end, the later ones that listen to the opposite, by their places in
        settling order, and when such a one is read first: whatever came last is read last."""
        pairs = {"near": "near", "away": "near", "entered": "entered", "left": "entered"}
        sides: dict[tuple[str, str, int, frozenset[int]], list[tuple[int, bool]]] = {}
        for one in self.listeners:
            group = self.groups[one.group]
            if group.verb in pairs:
                key = pairs[group.verb], group.origin, one.column, one.values
                sides.setdefault(key, []).append((self.settling_number[one.group], group.verb == pairs[group.verb]))
        found: dict[int, list[tuple[int, Guard]]] = {}
        for (_, _, column, values), groups in sides.items():
            is_so = among(column, values or {1})
            for number, begins in groups:
                first = is_so if begins else opposite(is_so)
                found.setdefault(number, []).extend((n, first) for n, b in groups if n > number and b != begins)
        return {number: tuple(others) for number, others in found.items()}

    @cached_property
    def heard_by(self) -> dict[str, tuple[int, ...]]:
        """For each occurrence the groups that hear it, by their place in settling order."""
        found: dict[str, list[int]] = {}
        for hearer in self.hears:
            found.setdefault(hearer.occurrence, []).append(self.settling_number[hearer.group])
        return {occurrence: tuple(numbers) for occurrence, numbers in found.items()}

    @cached_property
    def sensed_actions(self) -> dict[int, Action]:
        """For each sensed column that somebody listens to, the action by which they hear of its change."""
        return {self.table.number(a.control): a for a in self.actions if a.kind == "sensed"}

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
    def waits_of(self) -> dict[int, tuple[Waiting, ...]]:
        """The waits of each column."""
        found: dict[int, list[Waiting]] = {}
        for waiting in self.waits:
            found.setdefault(waiting.column, []).append(waiting)
        return {column: tuple(waits) for column, waits in found.items()}

    @cached_property
    def waits_for_motion(self) -> dict[str, tuple[Waiting, ...]]:
        """For each object the waits of cues for its motion."""
        found: dict[str, list[Waiting]] = {}
        for waiting in self.waits:
            if waiting.wait.motion_of:
                found.setdefault(waiting.wait.motion_of, []).append(waiting)
        return {key: tuple(waits) for key, waits in found.items()}

    @cached_property
    def action_guards(self) -> GuardTable:
        """All action guards as one table."""
        return GuardTable([a.guard for a in self.actions])

    @cached_property
    def sensed(self) -> tuple[int, ...]:
        """The numbers of the sensed columns."""
        return tuple(i for i, c in enumerate(self.columns) if c.sensed)

    @cached_property
    def chances(self) -> frozenset[int]:
        """The columns that are drawn: for *usable* they count as met."""
        return frozenset(i for i, c in enumerate(self.columns) if c.what == "chance")

    @cached_property
    def ended(self) -> int:
        """The column that says how the level ended."""
        return self.table.at("ended")

    def open_actions(self, row: Rows) -> list[Action]:
        """The actions that stand open in one row of shape (1, columns), in program order; none once the level is over."""
        if row[0, self.ended]:
            return []
        return [self.actions[i] for i in np.flatnonzero(self.action_guards.ask(row[0]))]
