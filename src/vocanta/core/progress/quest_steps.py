"""What steps do to quests and objectives."""

from __future__ import annotations

from collections.abc import Iterable
from typing import assert_never

from ..phrases import nodes as n
from ..project.records import Objective, Quest
from .filled import countings
from .guards import All, AnyOf, Guard, Within, both, equals
from .happenings import Happening
from .layout import STATUS, TIME_RUNS, Layout
from .live import LIVE, in_time, live_changes, live_guard, now_met
from .meaning import Meaning
from .needs import ACTIVE, inside
from .ops import Flag, Happen, If, Op, Plus, Put, Tell, Told, Unflag

QuestedStep = n.QuestStep | n.Move | n.Meet | n.CountUp
COUNTED = frozenset({"use", "go", "talk"})


def quest_ops(step: QuestedStep, meaning: Meaning) -> list[Op]:
    """The operations of one such step."""
    match step:
        case n.QuestStep() | n.Move():
            return _quest(step, meaning)
        case n.Meet(objective):
            key = meaning.key(objective)
            return [If(_asked_for(key, meaning.layout), _met_by_hand(key, meaning.layout))]
        case n.CountUp(objective):
            return _count_up(meaning.key(objective), meaning.layout)
        case _:
            assert_never(step)


# --- where a quest is


def enter_stage(quest: str, number: int, layout: Layout) -> tuple[Op, ...]:
    """Be at a stage: its objectives start over, its entry steps and objectives are flagged.

    What was counted by the action that brings the stage does not count for it; a place where the player is does.
    """
    stage = layout.quests[quest].stages[number]
    counts = tuple(c.group for o in stage.objectives if o.type in COUNTED for c in countings(o, layout))
    entry = (f"enter:{quest}/{stage.key}",) if stage.entering.strip() else ()
    live = (f"live:{o.key}" for o in stage.objectives if o.type in LIVE)
    return (
        Put(layout.column("status", quest), STATUS["active"]),
        Put(layout.column("stage", quest), number),
        *stop_clocks(quest, layout),
        *start_over(stage.objectives, layout),
        *(Put(limit, TIME_RUNS) for limit in _limits(stage.objectives, layout)),
        Unflag(counts),
        *(op for o in stage.objectives if o.type == "go" for op in _there_already(o, layout)),
        Flag((*entry, f"advance:{quest}", *live)),
        Happen(f"stage:{quest}/{stage.key}"),
        Tell(Told(Happening.STAGE, quest, (("stage", stage.key),))),
    )


def _there_already(objective: Objective, layout: Layout) -> list[Op]:
    return [If(both(c.entry, inside(c.who, layout)), (Flag((c.group,)),)) for c in countings(objective, layout)]


def start_over(objectives: tuple[Objective, ...], layout: Layout) -> tuple[Op, ...]:
    """Objectives are not met and have counted nothing."""
    ops: list[Op] = []
    for objective in objectives:
        ops += [Put(layout.column("met", objective.key), 0), Put(layout.column("count", objective.key), 0)]
        columns = [layout.find("counted", f"{objective.key}/{t}") for t in dict.fromkeys(objective.targets)]
        ops += [Put(column, 0) for column in columns if column is not None]
    return tuple(ops)


def _limits(objectives: Iterable[Objective], layout: Layout) -> list[int]:
    """The columns of those that have a time limit."""
    return [limit for o in objectives if (limit := layout.find("limit", o.key)) is not None]


def stop_clocks(quest: str, layout: Layout) -> tuple[Op, ...]:
    """No time of a quest's objectives runs any more."""
    return tuple(Put(limit, 0) for s in layout.quests[quest].stages for limit in _limits(s.objectives, layout))


def end_quest(quest: str, status: str, layout: Layout) -> tuple[Op, ...]:
    """Be available, offered, done (with rewards), failed or declined; what begins anew has met nothing.

    One that can be done again is available at once.
    """
    record = layout.quests[quest]
    put: Op = Put(layout.column("status", quest), STATUS[status])
    told = Tell(Told(Happening.QUEST, quest, (("status", status),)))
    stopped = stop_clocks(quest, layout)
    if status == "available":
        objectives = tuple(o for s in record.stages for o in s.objectives)
        return (put, *stopped, *start_over(objectives, layout), told)
    if status != "done":
        return (put, *stopped, told, Happen(f"{status}:{quest}"))
    completions = layout.column("completions", quest)
    rewarded = (Flag((f"rewards:{quest}",)),) if record.rewards.strip() else ()
    count = (Plus(completions, 1, 0, max(record.times, 1), clamped=True), *rewarded)
    counted = count if record.times == 0 else (If(Within(completions, 0, record.times - 1), count),)
    return (put, *stopped, told, *counted, Happen(f"done:{quest}"), *_again(record, completions, layout))


def _again(quest: Quest, completions: int, layout: Layout) -> tuple[Op, ...]:
    """What is done can be done again, where it has not been done as often as it can be."""
    if quest.times == 1:
        return ()
    available = end_quest(quest.key, "available", layout)
    return available if quest.times == 0 else (If(Within(completions, 0, quest.times - 1), available),)


def fail_quest(quest: Quest, layout: Layout) -> tuple[Op, ...]:
    """It fails: for good, or it can be had again."""
    again = end_quest(quest.key, "available", layout) if quest.failing == "again" else ()
    return (*end_quest(quest.key, "failed", layout), *again)


def at_stage(quest: str, number: int, layout: Layout) -> All:
    """The quest is under way, at a stage."""
    return All((Within(layout.column("status", quest), *ACTIVE), equals(layout.column("stage", quest), number)))


def required_met(quest: Quest, number: int, layout: Layout) -> All:
    """All required objectives of a stage are met."""
    required = [o for o in quest.stages[number].objectives if not o.optional]
    return All(tuple(equals(layout.column("met", o.key), 1) for o in required))


# --- steps


def _quest(step: n.QuestStep | n.Move, meaning: Meaning) -> list[Op]:
    layout, key = meaning.layout, meaning.key(step.quest)
    status, verb = layout.column("status", key), "move" if isinstance(step, n.Move) else step.verb
    instead = Tell(Told(Happening.NOT_ALLOWED, key, (("step", verb),)), (("status", status),))
    if isinstance(step, n.Move):
        number = meaning.stage_number(step.quest, step.stage)
        return [If(Within(status, *ACTIVE), enter_stage(key, number, layout), (instead,))]
    quest = layout.quests[key]
    if {"decline": quest.decline, "give up": quest.give_up}.get(verb) == "no":
        return [Tell(Told(Happening.NOT_ALLOWED, key, (("step", verb), ("never", 1))), (("status", status),))]
    return [
        *_read_anew(step.verb, quest, layout),
        If(_allowed(step.verb, quest, layout), _done(step, quest, layout), (instead,)),
    ]


def _read_anew(verb: n.QuestVerb, quest: Quest, layout: Layout) -> list[Op]:
    """What the steps before have changed counts already: a quest is available from when its needs are met on; for what is
    handed in, live objectives are met by what the same steps have brought. What they take away was there before."""
    needs, ops = layout.required.get(quest.key), list[Op]()
    if needs is not None:
        unavailable = equals(layout.column("status", quest.key), STATUS["unavailable"])
        ops.append(If(both(unavailable, needs), end_quest(quest.key, "available", layout)))
    for number in _ends(quest) if verb == "hand in" else ():
        for objective in quest.stages[number].objectives:
            guard = live_guard(layout, objective) if objective.type in LIVE and not objective.optional else None
            here = both(at_stage(quest.key, number, layout), in_time(objective, layout))
            if guard is not None:
                when, then = live_changes(objective, guard, layout)[0]
                ops.append(If(both(here, when), then))
    return ops


def _ends(quest: Quest) -> list[int]:
    """The stages at which a quest can be handed in."""
    last = len(quest.stages) - 1
    return [i for i, s in enumerate(quest.stages) if i == last or s.then == "ready"]


def _allowed(verb: n.QuestVerb, quest: Quest, layout: Layout) -> Guard:
    """In which statuses a step is allowed."""
    status = layout.column("status", quest.key)
    match verb:
        case "offer":
            return equals(status, STATUS["available"])
        case "start":
            return Within(status, STATUS["available"], STATUS["offered"])
        case "decline":
            return equals(status, STATUS["offered"])
        case "give up" | "finish":
            return Within(status, *ACTIVE)
        case "fail":
            return Within(status, STATUS["offered"], STATUS["ready"])
        case "hand in":
            ends = (All((at_stage(quest.key, i, layout), required_met(quest, i, layout))) for i in _ends(quest))
            return AnyOf((equals(status, STATUS["ready"]), *ends))
        case _:
            assert_never(verb)


def _done(step: n.QuestStep, quest: Quest, layout: Layout) -> tuple[Op, ...]:
    """What a step does where it is allowed."""
    key = quest.key
    match step.verb:
        case "offer":
            return end_quest(key, "offered", layout)
        case "start":
            begun = enter_stage(key, 0, layout) if quest.stages else end_quest(key, "active", layout)
            return (*begun, Happen(f"accepted:{key}"))
        case "decline":
            if quest.decline == "for_good" or step.for_good:
                return end_quest(key, "declined", layout)
            return (*end_quest(key, "available", layout), Happen(f"declined:{key}"))
        case "give up":
            good = quest.give_up == "for_good" or step.for_good
            return end_quest(key, "failed" if good else "available", layout)
        case "hand in" | "finish":
            return end_quest(key, "done", layout)
        case "fail":
            return fail_quest(quest, layout)
        case _:
            assert_never(step.verb)


# --- what the player decides


DECISIONS: tuple[n.QuestVerb, ...] = ("start", "decline", "give up")
"""What the player can do with a quest from the offer card and the quest list."""


def decision(verb: n.QuestVerb, quest: Quest, layout: Layout) -> tuple[Guard, tuple[Op, ...]] | None:
    """When the player can decide something about a quest, and what it does; None where the quest never lets them."""
    if {"decline": quest.decline, "give up": quest.give_up}.get(verb) == "no":
        return None
    status = layout.column("status", quest.key)
    open_now = equals(status, STATUS["offered"]) if verb == "start" else _allowed(verb, quest, layout)
    return both(open_now, equals(layout.column("talk"), 0)), _done(n.QuestStep(verb, n.Word(quest.key)), quest, layout)


# --- objectives by hand


def _asked_for(objective: str, layout: Layout) -> All:
    """Where an objective is of the present stage and not met yet."""
    quest, stage = next(
        (q.key, i)
        for q in layout.quests.values()
        for i, s in enumerate(q.stages)
        if any(o.key == objective for o in s.objectives)
    )
    record = next(o for o in layout.quests[quest].stages[stage].objectives if o.key == objective)
    unmet = equals(layout.column("met", objective), 0)
    return All((at_stage(quest, stage, layout), in_time(record, layout), unmet))


def _met_by_hand(objective: str, layout: Layout) -> tuple[Op, ...]:
    return (*now_met(objective, layout), Tell(Told(Happening.OBJECTIVE, objective, (("met", 1),))))


def _count_up(objective: str, layout: Layout) -> list[Op]:
    count = layout.column("count", objective)
    most = layout.table.columns[count].highest
    told = Tell(Told(Happening.PROGRESS, objective, (("of", most),)), (("count", count),))
    full = If(equals(count, most), _met_by_hand(objective, layout))
    return [If(_asked_for(objective, layout), (Plus(count, 1, 0, most, clamped=True), told, full))]
