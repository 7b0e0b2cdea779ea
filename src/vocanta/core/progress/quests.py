"""Quests in the program: availability, entry steps, rewards, objectives, and moving on."""

from __future__ import annotations

from ..project.records import Objective, Quest, Stage
from .building import Building, conditions_of, plain_branch, steps_branch, written_segment
from .guards import ALWAYS, NEVER, All, AtLeast, Guard, Within, both, equals, opposite
from .layout import STATUS
from .needs import ACTIVE, Meaning
from .ops import Flag, Op, Plus, Put, Tell, Told
from .program import Branch, Group, Listens
from .steps import end_quest, enter_stage

COUNTED = frozenset({"use", "go", "talk"})


def announce_objectives(building: Building) -> None:
    """Note which objectives count uses and talks, before objects and conversations are compiled."""
    for quest in building.layout.project.quests:
        for stage in quest.stages:
            for objective in stage.objectives:
                noted = {"use": building.used_objectives, "talk": building.talked_objectives}.get(objective.type)
                for target in dict.fromkeys(objective.targets) if noted is not None else ():
                    assert noted is not None
                    noted.setdefault(target, []).append(f"count:{objective.key}/{target}")


def add_quest(building: Building, quest: Quest) -> None:
    """A quest's own groups: becoming available, entry steps, rewards, moving on."""
    origin, meaning = f"quest/{quest.key}", Meaning(building.layout)
    status = building.layout.column("status", quest.key)
    if quest.needs.strip():
        tops = building.texts.needs(quest.needs, f"{origin}/needs")
        inside = meaning.at(f"{origin}/needs")
        needs = both(*(c.guard for c in conditions_of(tops, inside))) if tops is not None else NEVER
        guard = both(equals(status, STATUS["unavailable"]), needs)
        ops = end_quest(quest.key, "available", meaning)
        building.follow(
            Group(f"available:{quest.key}", origin, (plain_branch(f"{origin}/needs", guard, ops),)), [guard]
        )
    for stage in quest.stages:
        place = f"{origin}/stage/{stage.key}/entering"
        segment = written_segment(building, stage.entering, place)
        building.add_listening(Group(f"enter:{quest.key}/{stage.key}", origin, (steps_branch(place, ALWAYS, segment),)))
    rewards = written_segment(building, quest.rewards, f"{origin}/rewards", gifts=True)
    building.add_listening(Group(f"rewards:{quest.key}", origin, (steps_branch(f"{origin}/rewards", ALWAYS, rewards),)))
    _add_advance(building, quest)


def _add_advance(building: Building, quest: Quest) -> None:
    """Moving on when all required objectives of the stage are met."""
    origin, layout = f"quest/{quest.key}", building.layout
    branches: list[Branch] = []
    for number, stage in enumerate(quest.stages):
        here = All(
            (Within(layout.column("status", quest.key), *ACTIVE), equals(layout.column("stage", quest.key), number))
        )
        met = [equals(layout.column("met", o.key), 1) for o in stage.objectives if not o.optional]
        place = f"{origin}/stage/{stage.key}"
        if number == len(quest.stages) - 1 and quest.handed_in:
            branches += _readiness(building, quest, place, here, All(tuple(met)))
        elif stage.then and met:
            ops = _onward(building, quest, stage)
            branches.append(plain_branch(place, both(here, *met), ops))
    name = f"advance:{quest.key}"
    objectives = [o.key for s in quest.stages for o in s.objectives]
    listens = [Listens(name, layout.column("met", key), "change") for key in objectives]
    building.add_listening(Group(name, origin, tuple(branches)), listens)


def _onward(building: Building, quest: Quest, stage: Stage) -> tuple[Op, ...]:
    meaning = Meaning(building.layout)
    if stage.then == "done":
        return end_quest(quest.key, "done", meaning)
    numbers = {s.key: i for i, s in enumerate(quest.stages)}
    if stage.then not in numbers:
        return (Tell(Told("points_nowhere", quest.key, (("then", stage.then),))),)
    return enter_stage(quest.key, numbers[stage.then], meaning)


def _readiness(building: Building, quest: Quest, place: str, here: Guard, met: Guard) -> list[Branch]:
    status = building.layout.column("status", quest.key)
    ready = (Put(status, STATUS["ready"]), Tell(Told("quest", quest.key, (("status", "ready"),))))
    unready = (Put(status, STATUS["active"]), Tell(Told("quest", quest.key, (("status", "active"),))))
    return [
        plain_branch(place, both(here, equals(status, STATUS["active"]), met), ready),
        plain_branch(place, both(here, equals(status, STATUS["ready"]), opposite(met)), unready),
    ]


def add_objectives(building: Building, quest: Quest) -> None:
    """The groups that keep a quest's objectives: live ones follow what they read, counted ones count occurrences."""
    for number, stage in enumerate(quest.stages):
        for objective in stage.objectives:
            here = All(
                (
                    Within(building.layout.column("status", quest.key), *ACTIVE),
                    equals(building.layout.column("stage", quest.key), number),
                )
            )
            if objective.type in COUNTED:
                _add_counted(building, quest, objective, here)
            else:
                _add_live(building, quest, objective, here)


def _add_live(building: Building, quest: Quest, objective: Objective, here: Guard) -> None:
    origin, met = f"quest/{quest.key}/objective/{objective.key}", building.layout.column("met", objective.key)
    name = f"live:{objective.key}"
    guard = live_guard(building, objective)
    if guard is None:
        building.add_listening(Group(name, origin, ()))
        return
    now = Told("objective", objective.key, (("met", 1),))
    not_now = Told("objective", objective.key, (("met", 0),))
    branches = (
        plain_branch(origin, both(here, equals(met, 0), guard), (Put(met, 1), Tell(now))),
        plain_branch(origin, both(here, equals(met, 1), opposite(guard)), (Put(met, 0), Tell(not_now))),
    )
    building.follow(Group(name, origin, branches), [guard])


def live_guard(building: Building, objective: Objective) -> Guard | None:
    """What a live objective reads, None where it is met by hand or its targets name nothing."""
    layout, parts = building.layout, list[Guard]()
    for target in objective.targets:
        if objective.type == "have" and layout.table.has(f"item:{target}"):
            parts.append(Within(layout.column("item", target), objective.count, 999))
        elif objective.type == "fact" and layout.table.has(f"fact:{target}"):
            parts.append(Within(layout.column("fact", target), objective.count, 999_999))
        elif objective.type == "state" and target in layout.placed:
            parts.append(_in_state(building, target, objective.state))
    if not parts or objective.type == "by_hand":
        return None
    return AtLeast(min(objective.count, len(parts)), tuple(parts)) if objective.type == "state" else both(*parts)


def _in_state(building: Building, target: str, state: str) -> Guard:
    exists = building.layout.column("exists", target)
    if state == "gone":
        return equals(exists, 0)
    number = building.layout.placed[target].state_numbers.get(state)
    return (
        NEVER if number is None else All((equals(exists, 1), equals(building.layout.column("state", target), number)))
    )


def _add_counted(building: Building, quest: Quest, objective: Objective, here: Guard) -> None:
    layout = building.layout
    origin = f"quest/{quest.key}/objective/{objective.key}"
    met, count = layout.column("met", objective.key), layout.column("count", objective.key)
    building.add_listening(Group(f"live:{objective.key}", origin, ()))
    for target in dict.fromkeys(objective.targets):
        unmet: Guard = both(here, equals(met, 0))
        ops: list[Op] = [Plus(count, 1, 0, objective.count, clamped=True)]
        if len(objective.targets) > 1:
            counted = layout.column("counted", f"{objective.key}/{target}")
            unmet = both(unmet, equals(counted, 0))
            ops.append(Put(counted, 1))
        told = Tell(Told("progress", objective.key, (("of", objective.count),)), (("count", count),))
        full = both(here, equals(met, 0), equals(count, objective.count))
        reached = Tell(Told("objective", objective.key, (("met", 1),)))
        branches = (
            plain_branch(origin, unmet, (*ops, told), go_on=True),
            plain_branch(origin, full, (Put(met, 1), reached)),
        )
        name = f"count:{objective.key}/{target}"
        cells = frozenset(i for i, area in enumerate(layout.map.areas) if area == target)
        listens = [Listens(name, layout.column("cell"), "into", cells)] if objective.type == "go" else []
        building.add_listening(Group(name, origin, branches), listens)


def objective_flags(targets: list[str]) -> tuple[Op, ...]:
    """The operation that flags counting objectives; none without any."""
    return (Flag(tuple(targets)),) if targets else ()
