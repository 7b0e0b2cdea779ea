"""What touches a stage: what moves the quest there, what becomes possible, what stops being possible."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from ..project.records import Quest
from .guards import All, AtLeast, Guard, Within
from .layout import STATUS
from .ops import If, Op, Put
from .program import Branch, Program


@dataclass(frozen=True, slots=True)
class Touch:
    """One thing that touches a stage: what it is (a kind of action, a verb, an opener), whose, with which control, the
    place it comes from, and from which stages it moves."""

    verb: str
    subject: str
    control: str
    origin: str
    from_stages: tuple[str, ...] = ()


def possible(guard: Guard, fixed: dict[int, int]) -> bool:
    """Whether a guard can hold when some columns are fixed and all others are left free, each need by itself."""
    if isinstance(guard, Within):
        if guard.column not in fixed:
            return True
        return (guard.lowest <= fixed[guard.column] <= guard.highest) is guard.inside
    if isinstance(guard, All):
        return all(possible(p, fixed) for p in guard.parts)
    if isinstance(guard, AtLeast):
        return sum(possible(p, fixed) for p in guard.parts) >= guard.count
    return any(possible(p, fixed) for p in guard.parts)


def offers(program: Program) -> Iterator[tuple[Touch, Guard]]:
    """Everything that can happen by what is written: each use, hold, button, strike, reply, opener and cue that listens,
    and what the player decides of a quest, each with its guard."""
    pressed = set()
    for action in program.actions:
        if action.kind in ("use", "hold", "choose", "strike"):
            group = program.groups[action.group]
            pressed.add(group.name)
            for branch in group.branches[group.first_cue :]:
                yield Touch(action.kind, action.subject, action.control, branch.origin), branch.guard
        elif action.kind in ("reply", "decide"):
            verb = program.groups[action.group].verb if action.kind == "decide" else "reply"
            yield Touch(verb, action.subject, "", action.origin), action.guard
    for group in program.groups.values():
        if group.verb == "openers":
            for branch in group.branches[:-1]:
                yield Touch("opener", "", "", branch.origin), branch.guard
        elif group.verb != "resume" and group.name not in pressed:
            for branch in group.branches:
                if "/cue/" in branch.origin:
                    yield Touch(group.verb, group.origin.partition("/")[2], "", branch.origin), branch.guard


BEFORE: dict[str, str] = {
    "available": "unavailable",
    "offered": "available",
    "ready": "active",
    "done": "ready",
    "declined": "offered",
    "failed": "active",
}
"""The statuses of a quest that are no stages, each with the one that it is compared with."""


def fixed_at(program: Program, quest: Quest, stage: int) -> dict[int, int]:
    """The quest's columns at a stage, by number; before the first stage it is available."""
    status, column = program.table.at("status", quest.key), program.table.at("stage", quest.key)
    if stage < 0:
        return {status: STATUS["available"], column: 0}
    return {status: STATUS["active"], column: stage}


class Touching:
    """What touches the stages of one program; what cannot touch a quest is left out beforehand, by its columns."""

    def __init__(self, program: Program):
        self.program = program
        self._offers = list(offers(program))
        self._asking: dict[int, list[int]] = {}
        """The offers whose guards read a column, by their numbers."""
        for number, (_, guard) in enumerate(self._offers):
            for column in dict.fromkeys(_asked(guard)):
                self._asking.setdefault(column, []).append(number)
        self._writers: dict[int, list[tuple[str, Branch]]] = {}
        for group in program.groups.values():
            for branch in group.branches if group.verb != "resume" else ():
                written = {column for segment in branch.segments for column in _written(segment.ops)}
                for column in sorted(written):
                    self._writers.setdefault(column, []).append((group.verb, branch))

    def becomes_possible(self, quest: Quest, stage: int) -> list[Touch]:
        """What can hold at a stage and could not at the stage before, in the order of the program."""
        return self._difference(fixed_at(self.program, quest, stage), fixed_at(self.program, quest, stage - 1))

    def stops_being_possible(self, quest: Quest, stage: int) -> list[Touch]:
        """What could hold at the stage before and cannot at this one."""
        return self._difference(fixed_at(self.program, quest, stage - 1), fixed_at(self.program, quest, stage))

    def brings_status(self, quest: Quest, status: str) -> list[Touch]:
        """Every step that can bring the quest to a status, and from which statuses its needs let it."""
        column = self.program.table.at("status", quest.key)
        found = []
        for verb, branch in self._writers.get(column, ()):
            sources = tuple(
                name
                for name, number in STATUS.items()
                if name != status and _can_bring(branch, column, STATUS[status], {column: number})
            )
            if sources:
                found.append(Touch(verb, "", "", branch.origin, sources))
        return list(dict.fromkeys(found))

    def ways(self, quest: Quest) -> list[tuple[str, str]]:
        """How a quest can go on: from a stage (or `offered`) to a stage, `done` or `failed`.

        What stands open at every stage asks for none, and is told from the stage before alone. What the player gives up
        is left out: that can be done anywhere.
        """
        keys = ["offered", *(s.key for s in quest.stages)]
        found: list[tuple[str, str]] = []
        for number, stage in enumerate(quest.stages):
            for touch in self.brings_here(quest, number):
                sources = ["offered" if s == "not started" else s for s in touch.from_stages]
                everywhere = len(keys) > 2 and len(sources) == len(keys) - 1
                found += [(s, stage.key) for s in ([keys[number]] if everywhere else sources)]
        column = self.program.table.at("status", quest.key)
        for status in ("done", "failed"):
            for verb, branch in self._writers.get(column, ()) if quest.stages else ():
                sources = [s.key for i, s in enumerate(quest.stages) if self._ends(quest, i, branch, status)]
                everywhere = len(sources) == len(quest.stages)
                if verb != "give up":
                    found += [(s, status) for s in (sources[-1:] if everywhere else sources)]
        return list(dict.fromkeys(found))

    def _ends(self, quest: Quest, number: int, branch: Branch, status: str) -> bool:
        """Whether a branch can bring a status from a stage, under way or ready to be handed in there."""
        column = self.program.table.at("status", quest.key)
        fixed = [fixed_at(self.program, quest, number)]
        if quest.stages[number].then == "ready":
            fixed.append({**fixed[0], column: STATUS["ready"]})
        return any(_can_bring(branch, column, STATUS[status], at) for at in fixed)

    def becomes_at(self, quest: Quest, status: str) -> list[Touch]:
        """What can hold in a status and not in the one it is compared with."""
        column = self.program.table.at("status", quest.key)
        return self._difference({column: STATUS[status]}, {column: STATUS[BEFORE[status]]})

    def stops_at(self, quest: Quest, status: str) -> list[Touch]:
        """What could hold in the status it is compared with and cannot in a status."""
        column = self.program.table.at("status", quest.key)
        return self._difference({column: STATUS[BEFORE[status]]}, {column: STATUS[status]})

    def _difference(self, now: dict[int, int], other: dict[int, int]) -> list[Touch]:
        asked = sorted({number for column in now for number in self._asking.get(column, ())})
        found = (self._offers[number] for number in asked)
        return [touch for touch, guard in found if possible(guard, now) and not possible(guard, other)]

    def brings_here(self, quest: Quest, stage: int) -> list[Touch]:
        """Every step that can move the quest to a stage, and from which stages its needs let it."""
        found = []
        for verb, branch in self._writers.get(self.program.table.at("stage", quest.key), ()):
            sources = _sources(self.program, quest, branch, stage)
            if sources:
                found.append(Touch(verb, "", "", branch.origin, sources))
        return list(dict.fromkeys(found))


def _asked(guard: Guard) -> Iterator[int]:
    """The columns that a guard reads."""
    if isinstance(guard, Within):
        yield guard.column
    else:
        for part in guard.parts:
            yield from _asked(part)


def _written(ops: tuple[Op, ...]) -> Iterator[int]:
    """The columns that operations put to a value, at once or on a condition."""
    for op in ops:
        if isinstance(op, Put):
            yield op.column
        elif isinstance(op, If):
            yield from _written(op.then)
            yield from _written(op.otherwise)


def _moves(ops: tuple[Op, ...], column: int, stage: int, fixed: dict[int, int]) -> bool:
    """Whether operations can put a stage column to a stage, with the quest's columns as given."""
    return any(
        (isinstance(op, Put) and op.column == column and op.value == stage)
        or (isinstance(op, If) and possible(op.guard, fixed) and _moves(op.then, column, stage, fixed))
        or (isinstance(op, If) and _moves(op.otherwise, column, stage, fixed))
        for op in ops
    )


def _can_bring(branch: Branch, column: int, value: int, fixed: dict[int, int]) -> bool:
    """Whether a branch can put a column to a value, with some columns as given."""
    return any(_moves(s.ops, column, value, fixed) for s in branch.segments) and possible(branch.guard, fixed)


def _sources(program: Program, quest: Quest, branch: Branch, stage: int) -> tuple[str, ...]:
    """From which stages a branch can move the quest to a stage."""
    column = program.table.at("stage", quest.key)
    found = []
    status = program.table.at("status", quest.key)
    for number in range(-1, len(quest.stages)):
        fixed = [fixed_at(program, quest, number)]
        if number < 0:
            fixed.append({status: STATUS["offered"], column: 0})
        if number != stage and any(_can_bring(branch, column, stage, at) for at in fixed):
            found.append("not started" if number < 0 else quest.stages[number].key)
    return tuple(found)
