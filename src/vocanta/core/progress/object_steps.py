"""What steps do to objects: their states, being there, being down, markers and roles."""

from __future__ import annotations

from typing import assert_never

from ..phrases import nodes as n
from ..phrases.vocabulary import PLAYER
from .guards import All, AnyOf, equals
from .happenings import Happening
from .layout import Layout
from .leaping import down_player
from .meaning import Meaning, is_here
from .mentions import pending
from .nearness import after_change
from .ops import Happen, If, Op, Put, RefuseIf, Tell, Told, ToState

ObjectStep = n.Set | n.SetNext | n.Remove | n.Marking | n.Fill | n.Down


def object_ops(step: ObjectStep, meaning: Meaning) -> list[Op]:
    """The operations of one such step."""
    match step:
        case n.Set(target, value):
            return _set(target, value, meaning)
        case n.SetNext(target, states):
            return _set_next(target, states, meaning)
        case n.Remove(target):
            return remove(meaning.key(target), meaning.layout)
        case n.Marking(verb, target):
            return _mark(verb == "mark", meaning.key(target), meaning.layout)
        case n.Fill(role, thing):
            return _fill(meaning.key(role), meaning.key(thing), meaning.layout)
        case n.Down(who):
            key = meaning.key(who)
            return down_player(meaning.layout) if key == PLAYER else _down(key, meaning.layout)
        case _:
            assert_never(step)


def _set(target: n.Word, value: n.Word, meaning: Meaning) -> list[Op]:
    key, number = meaning.key(target), meaning.value(target, value)
    if key in meaning.layout.placed:
        return to_state(key, (number,) * len(meaning.layout.placed[key].design.states), meaning.layout)
    column = meaning.column("fact", target)
    limits = meaning.layout.table.columns[column]
    number = min(max(number, limits.lowest), limits.highest)
    return [Put(column, number), Tell(Told(Happening.FACT, key, (("value", number),)))]


def _set_next(target: n.Word, states: tuple[n.Word, ...], meaning: Meaning) -> list[Op]:
    key = meaning.key(target)
    one = meaning.layout.placed[key]
    every = range(len(one.design.states))
    ring = [one.state_numbers[meaning.key(s)] for s in states] or list(every)
    table = tuple(ring[(ring.index(i) + 1) % len(ring)] if i in ring else ring[0] for i in every)
    return to_state(key, table, meaning.layout)


def to_state(key: str, table: tuple[int, ...], layout: Layout) -> list[Op]:
    """A change of state by a table from old to new: stay-clear first, then the state at once, its motion under way.

    In a level where the player is not, a motion takes its end at once.
    """
    timed, state = layout.placed[key].design.motion.seconds > 0, layout.column("state", key)
    changes = AnyOf(tuple(equals(state, old) for old, new in enumerate(table) if old != new))
    moving = layout.find("moving", key)
    column = state if moving is None else moving
    change: Op = ToState(key, state, column, table, timed)
    if timed and len(layout.project.levels) > 1:
        change = If(is_here(layout, key), (change,), (ToState(key, state, column, table, timed=False), Put(column, 0)))
    told = Tell(Told(Happening.STATE, key), (("state", state),))
    ops = (*stay_clear(key, layout), change, told, *after_change(layout, key))
    return [If(All((equals(layout.column("exists", key), 1), changes)), ops)]


def stay_clear(key: str, layout: Layout) -> tuple[Op, ...]:
    """The refusal of a change onto a body, where the object asks for it."""
    if not layout.placed[key].design.motion.stay_clear:
        return ()
    told = Told(Happening.REFUSED, key, (("why", "somebody is in the way"),))
    return (RefuseIf(equals(layout.column("in_way", key), 1), told, again=True),)


def remove(key: str, layout: Layout) -> list[Op]:
    """An object is no longer there, nobody is near it, and what it was bringing is over."""
    exists = layout.column("exists", key)
    gone = (
        Put(exists, 0),
        *after_change(layout, key),
        *end_deliveries(key, layout),
        Tell(Told(Happening.REMOVED, key)),
    )
    return [If(equals(exists, 1), gone)]


def end_deliveries(carrier: str, layout: Layout) -> tuple[Op, ...]:
    """Whatever a carrier is bringing is over, told, and can be asked for again."""
    column = layout.find("carrier", carrier)
    if column is None:
        return ()
    found: list[Op] = [Put(column, 0)]
    for (owner, step), value in layout.deliveries.items():
        if step.carrier is not None and carrier_of(owner, step, layout) == carrier:
            later = layout.column("later", awaited(owner, step))
            told = Told(Happening.DELIVERY_OVER, owner, named(step))
            found.append(If(equals(later, value), (Put(later, 0), Tell(told))))
    return tuple(found)


def awaited(owner: str, step: n.Later) -> str:
    """The key of what an owner's step lets come later."""
    return pending(owner, step.name.text if step.name is not None else "")


def named(step: n.Later) -> tuple[tuple[str, str], ...]:
    """Under which name it is told, where it has one."""
    return () if step.name is None else (("name", step.name.text),)


def carrier_of(owner: str, step: n.Later, layout: Layout) -> str:
    """The object that brings what an owner's step lets come later; empty where nobody does."""
    if step.carrier is None:
        return ""
    return Meaning(layout, owner if owner in layout.placed else "").key(step.carrier)


def _down(key: str, layout: Layout) -> list[Op]:
    down = layout.column("down", key)
    told = Tell(Told(Happening.DOWNED, key))
    ops = (Put(down, 1), *after_change(layout, key), *end_deliveries(key, layout), told, Happen(f"downed:{key}"))
    return [If(All((equals(layout.column("exists", key), 1), equals(down, 0))), ops)]


def _mark(marks: bool, key: str, layout: Layout) -> list[Op]:
    told = Tell(Told(Happening.MARKED if marks else Happening.UNMARKED, key))
    column = layout.find("mark", key)
    return [told] if column is None else [Put(column, int(marks)), told]


def _fill(role: str, thing: str, layout: Layout) -> list[Op]:
    number = layout.mentions.fillings[role].index(thing) + 1
    return [Put(layout.column("role", role), number), Tell(Told(Happening.FILLED, role, (("with", thing),)))]
