"""As if: a plausible row for a chosen point of a quest, with what was assumed for it."""

from __future__ import annotations

from dataclasses import dataclass

from ..project.records import Objective, Project, Quest
from .columns import Column
from .layout import STATUS, TIME_RUNS
from .live import held_columns
from .onerow import Row, RowWalk
from .program import Branch, Program
from .threads import Touching

Changes = tuple[tuple[str, int], ...]
"""Columns by name with the values they have instead."""


@dataclass(frozen=True, slots=True)
class Assumed:
    """One column that differs from the beginning; `text` says it in words of the project's keys."""

    column: str
    value: int


@dataclass(frozen=True, slots=True)
class AsIf:
    """A row, and every column of it that differs from the start of a run."""

    row: Row
    assumed: tuple[Assumed, ...]


PASSING = ("moving", "queued", "waits", "talk", "talk_at", "talk_waiting", "waiting_at", "cooling")
"""What is under way only while it is walked there, not at the point that is shown."""


def as_if(
    program: Program, project: Project, quest: str, stage: str, changes: Changes = (), way: Changes | None = None
) -> AsIf:
    """The row at a stage: what a `way` there leaves behind, where one is known. Else its quest is walked there stage by stage,
    each by what a designer wrote to bring it on.

    For every stage passed its live objectives are made to hold and the steps of the first cue that moves the quest
    onward are run without asking for their needs. `stage` may be `offered` or `done`. `changes` overrule columns.
    Raises `KeyError` for an unknown quest, stage or column.
    """
    row = [c.start for c in program.columns]
    walk = RowWalk(program, row)
    walk.start()
    record = next((q for q in project.quests if q.key == quest), None)
    if record is None:
        raise KeyError(quest)
    if way is None:
        _walk_to(program, record, stage, walk)
    for column, value in way or ():
        if program.table.has(column):
            row[program.table.number(column)] = value
    for column, value in changes:
        number = program.table.number(column)
        limits = program.columns[number]
        walk.put(number, min(max(value, limits.lowest), limits.highest))
    walk.settle()
    return AsIf(row, _differences(program, row))


def _walk_to(program: Program, quest: Quest, stage: str, walk: RowWalk) -> None:
    status = program.table.at("status", quest.key)
    if stage == "offered":
        walk.put(status, STATUS["offered"])
        return
    keys = [s.key for s in quest.stages]
    last = len(keys) - 1 if stage == "done" else keys.index(stage) if stage in keys else -1
    if last < 0:
        raise KeyError(stage)
    touching = Touching(program)
    for number in range(last + 1):
        _enter(touching, quest, number, walk)
        if number < last or stage == "done":
            for objective in quest.stages[number].objectives:
                _make_hold(program, objective, walk)
    if stage == "done":
        walk.put(program.table.at("completions", quest.key), 1)
        walk.put(status, STATUS["done"])
        _run_all(program, f"rewards:{quest.key}", walk)
    walk.settle()


def _enter(touching: Touching, quest: Quest, number: int, walk: RowWalk) -> None:
    """Be at a stage, by the steps of the first written cue that moves the quest there."""
    program = touching.program
    status, stage = program.table.at("status", quest.key), program.table.at("stage", quest.key)
    for touch in touching.brings_here(quest, number):
        branch = _written(program, touch.origin)
        if branch is not None:
            for segment in branch.segments:
                walk.run_freely(segment.ops, touch.origin)
            break
    walk.put(status, STATUS["active"])
    walk.put(stage, number)
    for i, one in enumerate(quest.stages):
        for timed in (o for o in one.objectives if o.time_s is not None):
            walk.put(program.table.at("limit", timed.key), TIME_RUNS if i == number else 0)
    _run_all(program, f"enter:{quest.key}/{quest.stages[number].key}", walk)
    for column, limits in enumerate(program.columns):
        if limits.what in PASSING:
            walk.row[column] = 0
    walk.flags.clear()


def _written(program: Program, origin: str) -> Branch | None:
    """The branch of a cue in the project's own words; lines and moves of our own are left out."""
    if "/cue/" not in origin:
        return None
    return next((b for g in program.groups.values() for b in g.branches if b.origin == origin), None)


def _run_all(program: Program, group: str, walk: RowWalk) -> None:
    """Run what a group's steps do; without written steps there is no such group."""
    for branch in program.groups[group].branches if group in program.groups else ():
        for segment in branch.segments:
            walk.run_freely(segment.ops, branch.origin)


def _make_hold(program: Program, objective: Objective, walk: RowWalk) -> None:
    table = program.table
    for column in held_columns(table, objective):
        _at_least(program, column, objective.count, walk)
    walk.put(table.at("met", objective.key), 1)
    walk.put(table.at("count", objective.key), objective.count)
    walk.flags.clear()


def _at_least(program: Program, column: int, count: int, walk: RowWalk) -> None:
    limits: Column = program.columns[column]
    walk.put(column, max(walk.row[column], min(count, limits.highest)))


def _differences(program: Program, row: Row) -> tuple[Assumed, ...]:
    return tuple(Assumed(c.name, row[i]) for i, c in enumerate(program.columns) if row[i] != c.start and not c.sensed)
