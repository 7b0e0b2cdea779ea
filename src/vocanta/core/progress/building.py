"""What the parts of the compiler share: the program as it grows, and how cues become branches."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field

from ..cuetext.nodes import CueTree, Say, Step, Top
from ..cuetext.writing import write_need
from .columns import Column
from .guards import ALWAYS, Guard, both, columns_of, equals
from .layout import Layout
from .needs import Meaning, guard_of
from .ops import Op
from .program import Action, Branch, Condition, Group, Hears, Listens, Segment, Wait, Waiting
from .steps import one_segment, segments_of
from .texts import Texts


@dataclass
class Building:
    """A program under construction. `settling` is the settling order of the groups that listen."""

    layout: Layout
    texts: Texts
    groups: dict[str, Group] = field(default_factory=dict)
    actions: list[Action] = field(default_factory=list)
    settling: list[str] = field(default_factory=list)
    listeners: list[Listens] = field(default_factory=list)
    at_start: list[str] = field(default_factory=list)
    first: list[str] = field(default_factory=list)
    """Groups of our own that settle before all others: what leaving and entering a level brings."""
    arrivals: dict[str, tuple[Op, ...]] = field(default_factory=dict)
    begins: list[str] = field(default_factory=list)
    hears: list[Hears] = field(default_factory=list)
    timers: list[Waiting] = field(default_factory=list)
    used_objectives: dict[str, list[str]] = field(default_factory=dict)
    talked_objectives: dict[str, list[str]] = field(default_factory=dict)

    def add_group(self, group: Group) -> None:
        """Take in a group that an action runs."""
        assert group.name not in self.groups, group.name
        self.groups[group.name] = group

    def add_listening(self, group: Group, listens: Iterable[Listens] = ()) -> None:
        """Take in a group that settles, after those before it."""
        self.add_group(group)
        self.settling.append(group.name)
        self.listeners += listens

    def add_hearing(self, group: Group, occurrence: str) -> None:
        """Take in a group that settles after each occurrence."""
        self.add_listening(group)
        self.hears.append(Hears(group.name, occurrence))

    def add_clock(self, name: str, subject: str, column: int, value: int, seconds: float, ops: Sequence[Op]) -> None:
        """Take in a clock that runs while a column has a value, and the action of its running out."""
        guard, origin = equals(column, value), f"object/{subject}" if subject in self.layout.placed else subject
        self.add_group(Group(name, origin, (plain_branch(origin, guard, ops),)))
        action = Action(name, "clock", subject, guard, name, origin)
        self.actions.append(action)
        self.timers.append(Waiting(column, value, Wait(seconds), action))

    def follow(self, group: Group, guards: Iterable[Guard]) -> None:
        """Take in a group that is read whenever a column of the guards changes, and once at the start."""
        columns = sorted(frozenset().union(*(columns_of(g) for g in guards)))
        self.add_listening(group, [Listens(group.name, c, "change") for c in columns])
        self.at_start.append(group.name)


def plain_branch(origin: str, guard: Guard, ops: Sequence[Op], *, go_on: bool = False) -> Branch:
    """A branch of our own making: one segment that cannot be refused."""
    return Branch(origin, (), guard, (Segment(tuple(ops), can_refuse=False),), go_on=go_on)


def steps_branch(origin: str, guard: Guard, segment: Segment) -> Branch:
    """A branch that runs one written segment."""
    return Branch(origin, (), guard, (segment,))


def conditions_of(tops: tuple[Top, ...], meaning: Meaning) -> tuple[Condition, ...]:
    """Top-level needs as conditions with their refusals."""
    return tuple(_condition(top, meaning) for top in tops)


def _condition(top: Top, meaning: Meaning) -> Condition:
    guard, text = guard_of(top.need, meaning), write_need(top.need)
    if top.or_else is None:
        return Condition(guard, text)
    words = top.or_else.text.value or "" if isinstance(top.or_else, Say) else ""
    return Condition(guard, text, one_segment((top.or_else,), meaning), words)


def cue_branch(building: Building, tree: CueTree, origin: str, meaning: Meaning) -> Branch:
    """One cue as a branch, with a column for where it waits if it waits."""
    meaning = meaning.at(origin)
    conditions = conditions_of(tree.tops, meaning)
    segments = segments_of(tree.steps, meaning)
    waits = -1
    if len(segments) > 1:
        column = Column(f"waits:{meaning.this}/{origin}", 0, len(segments) - 1, 0, origin)
        waits = building.layout.table.add(column)
    otherwise = one_segment(tree.otherwise, meaning) if tree.otherwise else None
    guard = both(*(c.guard for c in conditions)) if conditions else ALWAYS
    return Branch(origin, conditions, guard, segments, otherwise, tree.go_on, waits)


def add_resumes(building: Building, subject: str, branch: Branch) -> None:
    """For each wait of a cue the action that goes on after it."""
    for number, segment in enumerate(branch.segments[:-1]):
        assert segment.wait is not None
        guard: Guard = equals(branch.waits, number + 1)
        if segment.wait.motion_of:
            guard = both(guard, equals(building.layout.column("moving", segment.wait.motion_of), 0))
        group = f"resume:{subject}/{branch.origin}"
        if group not in building.groups:
            building.add_group(Group(group, branch.origin, (branch,)))
        building.actions.append(
            Action(f"{group}/{number + 1}", "resume", subject, guard, group, branch.origin, segment=number + 1)
        )


def written_segment(building: Building, text: str, place: str, this: str = "", *, gifts: bool = False) -> Segment:
    """The steps of a text that belongs to no cue, as one segment."""
    steps: tuple[Step, ...] = building.texts.steps(text, place, this)
    return one_segment(steps, Meaning(building.layout, this, place), gifts=gifts)
