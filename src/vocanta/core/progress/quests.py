"""Quests in the program: availability, entry steps, rewards, objectives, and moving on."""

from __future__ import annotations

from ..project.problems import Problem
from ..project.records import Objective, Quest, Stage
from .building import Building, conditions_of, plain_branch, steps_branch, written_segment
from .filled import Counting, countings
from .guards import ALWAYS, NEVER, Guard, both, equals, opposite
from .happenings import Happening
from .layout import STATUS, TIME_IS_UP, TIME_RUNS, Layout
from .live import LIVE, in_time, live_changes, live_guard, now_met
from .meaning import Meaning
from .needs import inside
from .ops import Flag, If, Op, Plus, Put, Tell, Told
from .program import Action, Branch, Group, Listens
from .quest_steps import (
    COUNTED,
    DECISIONS,
    at_stage,
    decision,
    end_quest,
    enter_stage,
    fail_quest,
    required_met,
)


def announce_objectives(building: Building) -> None:
    """Note which objectives count uses and talks, before objects and conversations are compiled."""
    for quest in building.layout.project.quests:
        for stage in quest.stages:
            for objective in stage.objectives:
                _announce(building, objective)
                _tell_impossible(building, quest, stage, objective)


def _announce(building: Building, objective: Objective) -> None:
    noted = {"use": building.used_objectives, "talk": building.talked_objectives}.get(objective.type)
    if noted is None:
        return
    for one in countings(objective, building.layout):
        flag = Flag((one.group,))
        noted.setdefault(one.who, []).append(flag if one.entry is ALWAYS else If(one.entry, (flag,)))


def _tell_impossible(building: Building, quest: Quest, stage: Stage, objective: Objective) -> None:
    """Several targets count once each, so that a larger number can never be met."""
    targets = len(set(objective.targets))
    if not targets and objective.type != "by_hand":
        building.texts.problems.append(
            Problem(
                "objective_aimless",
                f"{objective.name} asks for something, but for what is not said.",
                "Choose its target, or let it be met by a step.",
                f"quest/{quest.key}/stage/{stage.key}/objective/{objective.key}",
            )
        )
    if objective.type in COUNTED and targets > 1 and objective.count > targets:
        building.texts.problems.append(
            Problem(
                "objective_impossible",
                f"{objective.name} asks for {objective.count}, but each of its {targets} targets counts once.",
                f"Ask for {targets} at the most, or name more targets.",
                f"quest/{quest.key}/stage/{stage.key}/objective/{objective.key}",
            )
        )


def note_requirements(building: Building) -> None:
    """Note what each quest asks for before it is available: steps read it anew."""
    layout = building.layout
    for quest in layout.project.quests:
        if quest.needs.strip():
            place = f"quest/{quest.key}/needs"
            tops = building.texts.needs(quest.needs, place)
            inner = Meaning(layout).at(place)
            needs = both(*(c.guard for c in conditions_of(building, tops, inner))) if tops is not None else NEVER
            layout.required[quest.key] = needs


def add_quest(building: Building, quest: Quest) -> None:
    """A quest's own groups: becoming available, entry steps, rewards, moving on."""
    origin, layout = f"quest/{quest.key}", building.layout
    if quest.key in layout.required:
        status, needs = layout.column("status", quest.key), layout.required[quest.key]
        guard = both(equals(status, STATUS["unavailable"]), needs)
        branch = plain_branch(f"{origin}/needs", guard, end_quest(quest.key, "available", layout))
        building.follow(Group(f"available:{quest.key}", origin, (branch,)), [needs])
    for stage in quest.stages:
        place = f"{origin}/stage/{stage.key}/entering"
        _add_written(building, f"enter:{quest.key}/{stage.key}", origin, stage.entering, place)
    _add_written(building, f"rewards:{quest.key}", origin, quest.rewards, f"{origin}/rewards", gifts=True)
    _add_advance(building, quest)
    _add_decisions(building, quest)


def _add_decisions(building: Building, quest: Quest) -> None:
    """What the player can decide: to take on what is offered, to decline it, to give up what is under way."""
    for verb in DECISIONS:
        found = decision(verb, quest, building.layout)
        if found is not None:
            guard, ops = found
            name, origin = f"{verb}:{quest.key}", f"quest/{quest.key}"
            building.add_group(Group(name, origin, (plain_branch(origin, guard, ops),), verb=verb))
            building.actions.append(Action(name, "decide", quest.key, guard, name, origin))


def _add_written(building: Building, name: str, origin: str, text: str, place: str, *, gifts: bool = False) -> None:
    """The group of steps that a quest runs by itself; none where nothing is written."""
    if text.strip():
        segment = written_segment(building, text, place, gifts=gifts)
        building.add_listening(Group(name, origin, (steps_branch(place, ALWAYS, segment),)))


def _add_advance(building: Building, quest: Quest) -> None:
    """Moving on when all required objectives of the stage are met."""
    origin, layout = f"quest/{quest.key}", building.layout
    branches: list[Branch] = []
    for number, stage in enumerate(quest.stages):
        here, place = at_stage(quest.key, number, layout), f"{origin}/stage/{stage.key}"
        met = required_met(quest, number, layout)
        if stage.then == "ready":
            branches += _readiness(layout, quest, place, here, met)
        elif stage.then and met.parts:
            branches.append(plain_branch(place, both(here, met), _onward(layout, quest, stage)))
    name = f"advance:{quest.key}"
    listens = [
        Listens(name, layout.column("met", o.key), "change" if s.then == "ready" else "rise")
        for s in quest.stages
        for o in s.objectives
    ]
    building.add_listening(Group(name, origin, tuple(branches), verb="advance"), listens)


def _onward(layout: Layout, quest: Quest, stage: Stage) -> tuple[Op, ...]:
    if stage.then == "done":
        return end_quest(quest.key, "done", layout)
    numbers = {s.key: i for i, s in enumerate(quest.stages)}
    if stage.then not in numbers:
        return (Tell(Told(Happening.POINTS_NOWHERE, quest.key, (("then", stage.then),))),)
    return enter_stage(quest.key, numbers[stage.then], layout)


def _readiness(layout: Layout, quest: Quest, place: str, here: Guard, met: Guard) -> list[Branch]:
    status = layout.column("status", quest.key)

    def becomes(name: str) -> tuple[Op, ...]:
        return Put(status, STATUS[name]), Tell(Told(Happening.QUEST, quest.key, (("status", name),)))

    return [
        plain_branch(place, both(here, equals(status, STATUS["active"]), met), becomes("ready")),
        plain_branch(place, both(here, equals(status, STATUS["ready"]), opposite(met)), becomes("active")),
    ]


# --- objectives


def add_objectives(building: Building, quest: Quest) -> None:
    """The groups that keep a quest's objectives: live ones follow what they read, counted ones count occurrences."""
    for number, stage in enumerate(quest.stages):
        for objective in stage.objectives:
            here = both(at_stage(quest.key, number, building.layout), in_time(objective, building.layout))
            _add_limit(building, quest, number, objective)
            if objective.type in COUNTED:
                _add_counted(building, quest, objective, here)
            elif objective.type in LIVE:
                _add_live(building, quest, objective, here)


def _add_limit(building: Building, quest: Quest, number: int, objective: Objective) -> None:
    """The time of an objective: when it runs out unmet the quest fails, or an optional objective is closed."""
    layout, limit = building.layout, building.layout.find("limit", objective.key)
    if limit is None or objective.time_s is None:
        return
    told = Tell(Told(Happening.TIME_UP, objective.key))
    over = (Put(limit, TIME_IS_UP), told) if objective.optional else (told, *fail_quest(quest, layout))
    origin = f"quest/{quest.key}/objective/{objective.key}"
    here, name = at_stage(quest.key, number, layout), f"limit:{objective.key}"
    building.add_clock(name, objective.key, limit, TIME_RUNS, objective.time_s, over, origin, here)


def _add_live(building: Building, quest: Quest, objective: Objective, here: Guard) -> None:
    origin, name = f"quest/{quest.key}/objective/{objective.key}", f"live:{objective.key}"
    guard = live_guard(building.layout, objective)
    if guard is None:
        building.add_listening(Group(name, origin, ()))
        return
    branches = tuple(
        plain_branch(origin, both(here, when), ops) for when, ops in live_changes(objective, guard, building.layout)
    )
    building.follow(Group(name, origin, branches), [guard])


def _add_counted(building: Building, quest: Quest, objective: Objective, here: Guard) -> None:
    layout = building.layout
    origin = f"quest/{quest.key}/objective/{objective.key}"
    met, count = layout.column("met", objective.key), layout.column("count", objective.key)
    for one in countings(objective, layout):
        unmet: Guard = both(here, equals(met, 0))
        ops: list[Op] = [Plus(count, 1, 0, objective.count, clamped=True)]
        counted = layout.find("counted", f"{objective.key}/{one.target}")
        if counted is not None:
            unmet = both(unmet, equals(counted, 0))
            ops.append(Put(counted, 1))
        told = Tell(Told(Happening.PROGRESS, objective.key, (("of", objective.count),)), (("count", count),))
        full = both(here, equals(met, 0), equals(count, objective.count))
        reached = Tell(Told(Happening.OBJECTIVE, objective.key, (("met", 1),)))
        branches = (
            plain_branch(origin, unmet, (*ops, told), go_on=True),
            plain_branch(origin, full, (*now_met(objective.key, layout), reached)),
        )
        # A use or a talk was counted as the role was filled when it began.
        entry = both(one.entry, inside(one.who, layout)) if objective.type == "go" else ALWAYS
        listens = _going(layout, one) if objective.type == "go" else []
        building.add_listening(Group(one.group, origin, branches, entry), listens)


def _going(layout: Layout, one: Counting) -> list[Listens]:
    """What says that the player has come to a place: an area, a level, a zone, or that of whoever fills a role by now."""
    role = layout.find("role", one.target)
    filled = [] if role is None else [Listens(one.group, role, "change")]
    return [*filled, *_coming(layout, one.group, one.who)]


def _coming(layout: Layout, name: str, target: str) -> list[Listens]:
    if target not in layout.placed:
        return [
            Listens(name, layout.column("cell"), "into", layout.cells.of_area(target) or layout.cells.of_level(target))
        ]
    if layout.cut(target):
        into = Listens(name, layout.column("cell"), "into", layout.zone(target))
        return [into, Listens(name, layout.column("exists", target), "rise")]
    reached = layout.find("in_reach", target)
    return [] if reached is None else [Listens(name, reached, "rise")]
