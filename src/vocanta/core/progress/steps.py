"""What a step means: tree to operations. The only place that says what a step does."""

from __future__ import annotations

from ..cuetext import nodes as n
from .guards import All, AnyOf, Within, both, equals
from .layout import STATUS, Layout
from .mentions import PLAYER
from .needs import ACTIVE, Meaning, is_equipped
from .ops import Flag, Happen, If, Op, Plus, Put, RefuseIf, Tell, Told, ToState, can_refuse
from .program import Segment, Wait
from .world_steps import put_ops, world_ops

EFFECT_S = 0.8
"""How long an effect is shown."""


def segments_of(steps: tuple[n.Step, ...], meaning: Meaning) -> tuple[Segment, ...]:
    """The steps as segments, cut at waits. A wait for a motion waits for the object last set."""
    segments: list[Segment] = []
    ops: list[Op] = []
    last_set = ""
    for step in steps:
        if isinstance(step, n.Set | n.SetNext):
            last_set = meaning.key(step.target)
        if isinstance(step, n.Show) and step.wait:
            segments.append(_segment([*ops, *ops_of(step, meaning)], Wait(seconds=lasting(step, meaning))))
            ops = []
        elif isinstance(step, n.Wait):
            segments.append(_segment(ops, Wait(seconds=step.seconds.value or 0.0)))
            ops = []
        elif isinstance(step, n.WaitForIt):
            segments.append(_segment(ops, Wait(motion_of=last_set)))
            ops = []
        else:
            ops += ops_of(step, meaning)
    segments.append(_segment(ops, None))
    return tuple(segments)


def one_segment(steps: tuple[n.Step, ...], meaning: Meaning, *, gifts: bool = False) -> Segment:
    """Steps that must not wait, as one segment. `gifts`: a give that does not fit gives what fits (rewards)."""
    return _segment([op for s in steps for op in ops_of(s, meaning, gifts=gifts)], None)


def lasting(step: n.Show, meaning: Meaning) -> float:
    """How long a sound or an effect lasts, seconds."""
    if step.verb == "effect":
        return EFFECT_S
    key = meaning.key(step.what)
    return next((s.seconds for s in meaning.layout.project.sounds if s.key == key), 0.0)


def _segment(ops: list[Op], wait: Wait | None) -> Segment:
    return Segment(tuple(ops), can_refuse(ops), wait)


def ops_of(step: n.Step, meaning: Meaning, *, gifts: bool = False) -> list[Op]:
    """The operations of one step that is no wait."""
    match step:
        case n.Set(target, value):
            return _set(target, value, meaning)
        case n.SetNext(target, states):
            return _set_next(target, states, meaning)
        case n.Add(number, target):
            return _count(meaning.counter(target), int(number.value or 0), meaning, "counted", meaning.key(target))
        case n.Hand():
            return _hand(step, meaning, gifts)
        case n.Grant(ability, uses):
            return _grant(ability, int(uses.value or 0) if uses else 0, meaning)
        case n.QuestStep() | n.Move():
            return _quest(step, meaning)
        case n.Say(text):
            return [Tell(Told("notice", meaning.this, (("text", text.value or ""),)))]
        case n.Talk(conversation):
            return open_talk(meaning.key(conversation), meaning)
        case n.Show():
            return _show(step, meaning)
        case _:
            return _on_object(step, meaning)


def _show(step: n.Show, meaning: Meaning) -> list[Op]:
    where = meaning.key(step.at) if step.at else meaning.this or PLAYER
    return [Tell(Told(step.verb, meaning.key(step.what), (("at", where), *_beside(step.offset))))]


def _beside(offset: n.Offset | None) -> tuple[tuple[str, float], ...]:
    return (("east", offset[0].value or 0.0), ("north", offset[1].value or 0.0)) if offset else ()


def _on_object(step: n.Step, meaning: Meaning) -> list[Op]:
    match step:
        case n.Marking(verb, target):
            return _mark(verb, meaning.key(target), meaning)
        case n.Remove(target):
            return remove(meaning.key(target), meaning)
        case n.Meet(objective):
            return _meet(meaning.key(objective), meaning)
        case n.CountUp(objective):
            return _count_up(meaning.key(objective), meaning)
        case n.Fill(role, thing):
            return _fill(meaning.key(role), meaning.key(thing), meaning)
        case n.Change(item, into, count, gives):
            amounts = [int(c.value or 0) if c else 1 for c in (count, gives)]
            taken = hand_over("take", meaning.key(item), amounts[0], meaning)
            return [*taken, *hand_over("give", meaning.key(into), amounts[1], meaning)]
        case n.Gear(verb, item):
            return _gear(verb, meaning.key(item), meaning)
        case n.Limit(verb, ability):
            return _limit(verb, meaning.key(ability), meaning)
        case n.PutAt() | n.Scatter() | n.Drop():
            return put_ops(step, meaning)
        case _:
            return world_ops(step, meaning, go_away)


def _mark(verb: str, key: str, meaning: Meaning) -> list[Op]:
    told = Tell(Told(f"{verb}ed", key))
    if not meaning.layout.table.has(f"mark:{key}"):
        return [told]
    return [Put(meaning.layout.column("mark", key), int(verb == "mark")), told]


def remove(key: str, meaning: Meaning) -> list[Op]:
    """An object is no longer there, and nobody is near it."""
    exists = meaning.layout.column("exists", key)
    gone = (Put(exists, 0), *go_away(key, meaning), Tell(Told("removed", key)))
    return [If(equals(exists, 1), gone)]


def _fill(role: str, thing: str, meaning: Meaning) -> list[Op]:
    number = meaning.layout.mentions.fillings[role].index(thing) + 1
    return [Put(meaning.layout.column("role", role), number), Tell(Told("filled", role, (("with", thing),)))]


# --- objects


def _set(target: n.Word, value: n.Word, meaning: Meaning) -> list[Op]:
    key = meaning.key(target)
    number = meaning.value(target, value)
    if key in meaning.layout.placed:
        states = len(meaning.layout.placed[key].design.states)
        return to_state(key, (number,) * states, meaning)
    column = meaning.column("fact", target)
    limits = meaning.layout.table.columns[column]
    number = min(max(number, limits.lowest), limits.highest)
    return [Put(column, number), Tell(Told("fact", key, (("value", number),)))]


def _set_next(target: n.Word, states: tuple[n.Word, ...], meaning: Meaning) -> list[Op]:
    key = meaning.key(target)
    one = meaning.layout.placed[key]
    chosen = [one.state_numbers[meaning.key(s)] for s in states] or list(range(len(one.design.states)))
    table = [
        chosen[(chosen.index(i) + 1) % len(chosen)] if i in chosen else chosen[0] for i in range(len(one.design.states))
    ]
    return to_state(key, tuple(table), meaning)


def to_state(key: str, table: tuple[int, ...], meaning: Meaning) -> list[Op]:
    """A change of state by a table from old to new: stay-clear first, then the state at once, its motion under way."""
    layout, design = meaning.layout, meaning.layout.placed[key].design
    state, exists = layout.column("state", key), equals(layout.column("exists", key), 1)
    changes = AnyOf(tuple(equals(state, old) for old, new in enumerate(table) if old != new))
    change = ToState(key, state, layout.column("moving", key), table, design.motion.seconds > 0)
    ops = (
        *stay_clear(key, meaning),
        change,
        *out_of_reach(key, meaning),
        Tell(Told("state", key), (("state", state),)),
    )
    return [If(All((exists, changes)), ops)]


def stay_clear(key: str, meaning: Meaning) -> tuple[Op, ...]:
    """The refusal of a change onto a body, where the object asks for it."""
    if not meaning.layout.placed[key].design.motion.stay_clear:
        return ()
    told = Told("refused", key, (("why", "somebody is in the way"),))
    return (RefuseIf(equals(meaning.layout.column("in_way", key), 1), told),)


def out_of_reach(key: str, meaning: Meaning) -> tuple[Op, ...]:
    """Nobody is near an object whose state has no reach."""
    state = meaning.layout.column("state", key)
    off = [i for i, s in enumerate(meaning.layout.placed[key].design.states) if not s.reach_on]
    if not off:
        return ()
    return (If(AnyOf(tuple(equals(state, i) for i in off)), go_away(key, meaning)),)


def go_away(key: str, meaning: Meaning) -> tuple[Op, ...]:
    """Whoever is near an object is so no longer; the one *away* of this change, told."""
    near = meaning.layout.column("near", key)
    return (If(equals(near, 1), (Put(near, 0), Tell(Told("away", key)))),)


# --- having


def _count(column: int, amount: int, meaning: Meaning, what: str, key: str) -> list[Op]:
    limits = meaning.layout.table.columns[column]
    plus = Plus(column, amount, limits.lowest, limits.highest, clamped=True)
    told = Tell(Told(what, key, (("by", amount),)), (("now", column),))
    return [plus, *tally("gained", key, meaning.layout, amount), told]


def tally(verb: str, key: str, layout: Layout, amount: int = 1) -> tuple[Op, ...]:
    """One more of what is tracked, where anything asks for it."""
    if amount <= 0 or not layout.table.has(f"tally:{verb}/{key}"):
        return ()
    column = layout.column("tally", f"{verb}/{key}")
    return (Plus(column, amount, 0, layout.table.columns[column].highest, clamped=True),)


def _hand(step: n.Hand, meaning: Meaning, gifts: bool) -> list[Op]:
    amount = int(step.count.value or 0) if step.count else 1
    return hand_over(step.verb, meaning.key(step.item), amount, meaning, gifts=gifts)


def hand_over(verb: str, key: str, amount: int, meaning: Meaning, *, gifts: bool = False) -> list[Op]:
    """Give or take; refused whole where it does not fit, but money and gifts are clamped. Gear that is gone is put away."""
    layout = meaning.layout
    column = meaning.counter(n.Word(key))
    signed = amount if verb == "give" else -amount
    if verb == "give" and (gifts or not layout.table.has(f"item:{key}")):
        return _count(column, signed, meaning, "gained", key)
    limits = layout.table.columns[column]
    why = "there are too few" if verb == "take" else "there is no room for more"
    refusal = Told("refused", key, (("why", why), ("asked", amount)))
    told = Tell(Told("gained" if signed > 0 else "lost", key, (("by", signed),)), (("now", column),))
    plus = Plus(column, signed, limits.lowest, limits.highest, clamped=False, refusal=refusal)
    held = is_equipped(layout, key) if verb == "take" else None
    off = (If(both(held, equals(column, 0)), put_away(held, key)),) if held is not None else ()
    return [plus, *tally("gained", key, layout, signed), told, *off]


def _gear(verb: str, key: str, meaning: Meaning) -> list[Op]:
    held = is_equipped(meaning.layout, key)
    if held is None:
        return [RefuseIf(All(()), Told("refused", key, (("why", "it goes to no hand and no slot"),)))]
    if verb == "put away":
        return [If(held, put_away(held, key))]
    missing = RefuseIf(
        equals(meaning.layout.column("item", key), 0), Told("refused", key, (("why", "it is not there"),))
    )
    return [missing, Put(held.column, held.lowest), Tell(Told("equipped", key))]


def _limit(verb: str, key: str, meaning: Meaning) -> list[Op]:
    layout = meaning.layout
    if verb == "suspend":
        return [Put(layout.column("suspended", key), 1), Tell(Told("suspended", key))]
    put = (Put(layout.column("ability", key), 0), Put(layout.column("ability_uses", key), 0))
    return [*put, Tell(Told("revoked", key))]


def put_away(held: Within, key: str) -> tuple[Op, ...]:
    """The slot that holds an item is empty."""
    return (Put(held.column, 0), Tell(Told("put_away", key)))


def _grant(ability: n.Word, uses: int, meaning: Meaning) -> list[Op]:
    key = meaning.key(ability)
    return [
        Put(meaning.column("ability", ability), 1),
        Put(meaning.column("ability_uses", ability), uses),
        Put(meaning.column("suspended", ability), 0),
        Tell(Told("granted", key, (("uses", uses),))),
    ]


# --- conversations


def open_talk(conversation: str, meaning: Meaning) -> list[Op]:
    """Open a conversation: at once when nobody speaks, as the one that waits, or refused."""
    layout = meaning.layout
    talk, waiting = layout.column("talk"), layout.column("talk_waiting")
    opening = (Put(talk, layout.opening(conversation)), Flag((f"openers:{conversation}",)))
    number = list(layout.conversations).index(conversation) + 1
    waits = (Put(waiting, number), Tell(Told("talk_waits", conversation)))
    refused = (RefuseIf(All(()), Told("refused", conversation, (("why", "somebody else is waiting to speak"),))),)
    return [If(equals(talk, 0), opening, (If(equals(waiting, 0), waits, refused),))]


# --- quests


def enter_stage(quest: str, number: int, meaning: Meaning) -> tuple[Op, ...]:
    """Be at a stage: its objectives start over, its entry steps and objectives are flagged."""
    layout = meaning.layout
    stage = layout.quests[quest].stages[number]
    ops: list[Op] = [Put(layout.column("status", quest), STATUS["active"]), Put(layout.column("stage", quest), number)]
    for objective in stage.objectives:
        ops += [Put(layout.column("met", objective.key), 0), Put(layout.column("count", objective.key), 0)]
        if len(objective.targets) > 1:
            ops += [Put(layout.column("counted", f"{objective.key}/{t}"), 0) for t in dict.fromkeys(objective.targets)]
    listeners = [f"enter:{quest}/{stage.key}", f"advance:{quest}", *(f"live:{o.key}" for o in stage.objectives)]
    told = Told("stage", quest, (("stage", stage.key),))
    return (*ops, Flag(tuple(listeners)), Happen(f"stage:{quest}/{stage.key}"), Tell(told))


def end_quest(quest: str, status: str, meaning: Meaning) -> tuple[Op, ...]:
    """Be done (with rewards, once), failed or declined."""
    layout = meaning.layout
    put: Op = Put(layout.column("status", quest), STATUS[status])
    told = Tell(Told("quest", quest, (("status", status),)))
    if status != "done":
        return (put, told, Happen(f"{status}:{quest}"))
    completions = layout.column("completions", quest)
    reward: Op = If(equals(completions, 0), (Put(completions, 1), Flag((f"rewards:{quest}",))))
    return (put, told, reward, Happen(f"done:{quest}"))


def _quest(step: n.QuestStep | n.Move, meaning: Meaning) -> list[Op]:
    key = meaning.key(step.quest)
    status = meaning.layout.column("status", key)
    allowed, ops = _quest_rule(step, key, meaning)
    verb = "move" if isinstance(step, n.Move) else step.verb
    instead = Tell(Told("not_allowed", key, (("step", verb),)), (("status", status),))
    return [If(Within(status, min(allowed), max(allowed)), ops, (instead,))]


def _quest_rule(step: n.QuestStep | n.Move, key: str, meaning: Meaning) -> tuple[tuple[int, ...], tuple[Op, ...]]:
    """The statuses (one run of neighbours) in which a quest step is allowed, and what it does."""
    if isinstance(step, n.Move):
        return ACTIVE, enter_stage(key, meaning.stage_number(step.quest, step.stage), meaning)
    quest = meaning.layout.quests[key]
    again = not step.for_good
    match step.verb:
        case "offer":
            return (STATUS["available"],), end_quest(key, "offered", meaning)
        case "start":
            ops = enter_stage(key, 0, meaning) if quest.stages else end_quest(key, "active", meaning)
            return (STATUS["available"], STATUS["offered"]), (*ops, Happen(f"accepted:{key}"))
        case "decline":
            good = quest.decline == "for_good" or not again
            ops = end_quest(key, "declined" if good else "available", meaning)
            return (STATUS["offered"],), ops if good else (*ops, Happen(f"declined:{key}"))
        case "give up":
            good = quest.give_up == "for_good" or not again
            return ACTIVE, end_quest(key, "failed" if good else "available", meaning)
        case "hand in":
            return (STATUS["ready"],), end_quest(key, "done", meaning)
        case "finish":
            return ACTIVE, end_quest(key, "done", meaning)
        case _:
            return (STATUS["offered"], *ACTIVE), end_quest(key, "failed", meaning)


def _asked_for(objective: str, meaning: Meaning) -> All:
    """Where an objective is of the present stage and not met yet."""
    layout = meaning.layout
    quest, stage = next(
        (q.key, i)
        for q in layout.quests.values()
        for i, s in enumerate(q.stages)
        if any(o.key == objective for o in s.objectives)
    )
    return All(
        (
            Within(layout.column("status", quest), *ACTIVE),
            equals(layout.column("stage", quest), stage),
            equals(layout.column("met", objective), 0),
        )
    )


def _now_met(objective: str, meaning: Meaning) -> tuple[Op, ...]:
    return (Put(meaning.layout.column("met", objective), 1), Tell(Told("objective", objective, (("met", 1),))))


def _meet(objective: str, meaning: Meaning) -> list[Op]:
    return [If(_asked_for(objective, meaning), _now_met(objective, meaning))]


def _count_up(objective: str, meaning: Meaning) -> list[Op]:
    count = meaning.layout.column("count", objective)
    most = meaning.layout.table.columns[count].highest
    told = Tell(Told("progress", objective, (("of", most),)), (("count", count),))
    full = If(equals(count, most), _now_met(objective, meaning))
    return [If(_asked_for(objective, meaning), (Plus(count, 1, 0, most, clamped=True), told, full))]
