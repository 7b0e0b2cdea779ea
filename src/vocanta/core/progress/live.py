"""Live objectives: what they read, and how they come to be met and not met."""

from __future__ import annotations

from typing import assert_never

from ..project.records import Objective
from .columns import ColumnTable, What
from .filled import who_may_be
from .guards import ALWAYS, NEVER, AnyOf, AtLeast, Guard, Within, both, equals, opposite
from .happenings import Happening
from .layout import TIME_RUNS, Layout
from .ops import Op, Put, Tell, Told

LIVE = frozenset({"have", "fact", "state"})


def live_guard(layout: Layout, objective: Objective) -> Guard | None:
    """What a live objective reads, None where its targets name nothing."""
    held: list[Guard] = [
        Within(column, objective.count, layout.table.columns[column].highest)
        for column in held_columns(layout.table, objective)
    ]
    if objective.type != "state":
        return both(*held) if held else None
    parts = tuple(_in_state(layout, t, objective.state) for t in objective.targets if _is_somebody(layout, t))
    return AtLeast(min(objective.count, len(parts)), parts) if parts else None


def held_columns(table: ColumnTable, objective: Objective) -> list[int]:
    """The columns of what an objective asks the player to have, or of what shall be so; none for what is done."""
    match objective.type:
        case "have":
            what: What = "item"
        case "fact":
            what = "fact"
        case "use" | "go" | "talk" | "state" | "by_hand":
            return []
        case _:
            assert_never(objective.type)
    return [column for t in objective.targets if (column := table.find(what, t)) is not None]


def _in_state(layout: Layout, target: str, state: str) -> Guard:
    """A thing, or whoever fills a role, is in a state; nobody is in any."""
    found = tuple(both(entry, _is_in(layout, who, state)) for who, entry in who_may_be(target, layout))
    return found[0] if len(found) == 1 else AnyOf(found)


def _is_somebody(layout: Layout, target: str) -> bool:
    return target in layout.placed or layout.find("role", target) is not None


def _is_in(layout: Layout, target: str, state: str) -> Guard:
    exists = layout.column("exists", target)
    if state == "gone":
        return equals(exists, 0)
    number = layout.placed[target].state_numbers.get(state)
    return NEVER if number is None else both(equals(exists, 1), equals(layout.column("state", target), number))


def live_changes(objective: Objective, guard: Guard, layout: Layout) -> tuple[tuple[Guard, tuple[Op, ...]], ...]:
    """What follows from what a live objective reads, each with when it does: it is met; it is met no more."""
    met, limit = layout.column("met", objective.key), layout.find("limit", objective.key)
    now = Tell(Told(Happening.OBJECTIVE, objective.key, (("met", 1),)))
    not_now = Tell(Told(Happening.OBJECTIVE, objective.key, (("met", 0),)))
    unmet = (Put(met, 0), *(() if limit is None else (Put(limit, TIME_RUNS),)))
    return (
        (both(equals(met, 0), guard), (*now_met(objective.key, layout), now)),
        (both(equals(met, 1), opposite(guard)), (*unmet, not_now)),
    )


def in_time(objective: Objective, layout: Layout) -> Guard:
    """The time of an objective is not up."""
    limit = layout.find("limit", objective.key)
    return ALWAYS if limit is None else Within(limit, 0, TIME_RUNS)


def now_met(objective: str, layout: Layout) -> tuple[Op, ...]:
    """It is met; its time runs no more."""
    limit = layout.find("limit", objective)
    return (Put(layout.column("met", objective), 1), *(() if limit is None else (Put(limit, 0),)))
