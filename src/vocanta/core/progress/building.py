"""What the parts of the compiler share: the program as it grows, and how cues become branches."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field

from ..cuetext.own_values import is_its
from ..cuetext.writing import write_need
from ..phrases.nodes import (
    Chance,
    CueTree,
    Drop,
    Later,
    PutAt,
    Say,
    Scatter,
    Show,
    Step,
    Talk,
    Top,
    Word,
    nodes_in,
)
from .guards import ALWAYS, Guard, both, columns_of, equals
from .happenings import Happening
from .layout import Layout, spot_column
from .meaning import Meaning
from .needs import guard_of
from .ops import Op, PutBy, Tell, Told
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
    begins: dict[str, str] = field(default_factory=dict)
    hears: list[Hears] = field(default_factory=list)
    timers: list[Waiting] = field(default_factory=list)
    used_objectives: dict[str, list[Op]] = field(default_factory=dict)
    talked_objectives: dict[str, list[Op]] = field(default_factory=dict)
    """For each object what counts a use of it, or a talk with it, where an objective counts them."""
    conditions: dict[tuple[Top, ...], tuple[Condition, ...]] = field(default_factory=dict)
    """The needs that mean the same for every owner, worked out once."""

    def add_group(self, group: Group) -> None:
        """Take in a group that an action runs."""
        assert group.name not in self.groups, group.name
        self.groups[group.name] = group

    def add_listening(self, group: Group, listens: Iterable[Listens] = ()) -> None:
        """Take in a group that settles, after those before it."""
        self.add_group(group)
        self.settling.append(group.name)
        self.listeners += listens

    def add_hearing(self, group: Group, *occurrences: str) -> None:
        """Take in a group that settles after each of some occurrences."""
        self.add_listening(group)
        self.hears += [Hears(group.name, occurrence) for occurrence in occurrences]

    def add_clock(
        self,
        name: str,
        subject: str,
        column: int,
        value: int,
        seconds: float,
        ops: Sequence[Op],
        origin: str = "",
        where: Guard = ALWAYS,
    ) -> None:
        """Take in a clock that runs while a column has a value, and the action of its running out. `where` holds
        whenever it runs, and says no more than what can be at the same time."""
        guard = both(equals(column, value), where)
        origin = origin or (f"object/{subject}" if subject in self.layout.placed else subject)
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


def conditions_of(building: Building, tops: tuple[Top, ...], meaning: Meaning) -> tuple[Condition, ...]:
    """Top-level needs as conditions with their refusals; those that mean the same for every owner are worked out once."""
    if not tops or (meaning.this and any(_is_own(node) for node in nodes_in(tops))):
        return tuple(_condition(top, meaning) for top in tops)
    known = building.conditions.get(tops)
    if known is None:
        known = building.conditions[tops] = tuple(_condition(top, meaning) for top in tops)
    return known


def _is_own(node: object) -> bool:
    """Whether a node means something else for each owner: itself, its values, its place, its deliveries, its copies."""
    if isinstance(node, Word):
        return node.text == "this" or is_its(node.text)
    return isinstance(node, Chance | Say | Talk | Show | Later | PutAt | Scatter | Drop)


def _condition(top: Top, meaning: Meaning) -> Condition:
    guard, text = guard_of(top.need, meaning), write_need(top.need)
    if top.or_else is None:
        return Condition(guard, text)
    words = top.or_else.text.value or "" if isinstance(top.or_else, Say) else ""
    return Condition(guard, text, one_segment((top.or_else,), meaning), words)


def cue_branch(building: Building, tree: CueTree, origin: str, meaning: Meaning) -> Branch:
    """One cue as a branch. What was counted by its use is flagged with its first segment."""
    meaning = meaning.at(origin)
    conditions = conditions_of(building, tree.tops, meaning)
    segments = segments_of(tree.steps, meaning)
    waits = building.layout.find("waits", f"{meaning.this}/{origin}")
    assert (waits is not None) == (len(segments) > 1), origin
    segments = (_begun(building, segments[0], origin, meaning.this), *segments[1:])
    otherwise = one_segment(tree.otherwise, meaning) if tree.otherwise else None
    guard = both(*(c.guard for c in conditions)) if conditions else ALWAYS
    return Branch(origin, conditions, guard, segments, otherwise, tree.go_on, -1 if waits is None else waits)


def _begun(building: Building, first: Segment, origin: str, this: str) -> Segment:
    """The first segment of a cue, which remembers where its owner stood where a later one asks for that."""
    layout = building.layout
    stood, place = layout.find("stood", f"{this}/{origin}"), spot_column(layout, this)
    if stood is None or place is None:
        return first
    told = Tell(Told(Happening.STOOD, this, (("at", f"{this}/{origin}"),)))
    return Segment((PutBy(stood, place), told, *first.ops), first.can_refuse, first.wait)


def counted(branch: Branch, counts: tuple[Op, ...]) -> Branch:
    """A branch whose taking effect is counted by objectives, as things stood before it; a stage that it brings takes the
    flag back."""
    if not counts:
        return branch
    first = branch.segments[0]
    flagged = Segment((*counts, *first.ops), first.can_refuse, first.wait)
    return Branch(
        branch.origin,
        branch.conditions,
        branch.guard,
        (flagged, *branch.segments[1:]),
        branch.otherwise,
        branch.go_on,
        branch.waits,
    )


def add_resumes(building: Building, subject: str, branch: Branch) -> None:
    """For each wait of a cue the action that goes on after it."""
    for number, segment in enumerate(branch.segments[:-1]):
        assert segment.wait is not None
        guard: Guard = equals(branch.waits, number + 1)
        moving = building.layout.find("moving", segment.wait.motion_of)
        if moving is not None:
            guard = both(guard, equals(moving, 0))
        group = f"resume:{subject}/{branch.origin}"
        if group not in building.groups:
            building.add_group(Group(group, branch.origin, (branch,), verb="resume"))
        building.actions.append(
            Action(f"{group}/{number + 1}", "resume", subject, guard, group, branch.origin, segment=number + 1)
        )


def written_segment(
    building: Building, text: str, place: str, this: str = "", *, gifts: bool = False, talk: bool = False
) -> Segment:
    """The steps of a text that belongs to no cue, as one segment."""
    steps: tuple[Step, ...] = building.texts.steps(text, place, this)
    return one_segment(steps, Meaning(building.layout, this, place, talk=talk), gifts=gifts)
