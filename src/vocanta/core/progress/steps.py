"""What a step means: tree to operations. The only place, with its neighbours for things and quests, that says it."""

from __future__ import annotations

from collections.abc import Sequence
from typing import assert_never

from ..phrases import nodes as n
from ..phrases.vocabulary import EFFECT_S, PLAYER
from .guards import All, both, equals
from .happenings import Happening
from .layout import Layout
from .meaning import Meaning
from .needs import is_equipped
from .object_steps import object_ops
from .ops import If, Op, Plus, Put, RefuseIf, Tell, Told, can_refuse
from .placing import put_ops
from .program import Segment, Wait
from .quest_steps import quest_ops
from .talk_steps import open_talk
from .tracking import tally
from .world_steps import world_ops


def segments_of(steps: tuple[n.Step, ...], meaning: Meaning) -> tuple[Segment, ...]:
    """The steps as segments, cut at waits. A wait for a motion waits for the object last set."""
    segments: list[Segment] = []
    ops: list[Op] = []
    last_set = ""
    for step in steps:
        if isinstance(step, n.Set | n.SetNext):
            last_set = meaning.key(step.target)
        ops += ops_of(step, meaning)
        wait = _wait_of(step, last_set, meaning)
        if wait is not None:
            segments.append(segment_of(ops, wait))
            ops, meaning = [], meaning.behind_a_wait()
    segments.append(segment_of(ops))
    return tuple(segments)


def _wait_of(step: n.Step, last_set: str, meaning: Meaning) -> Wait | None:
    """What a step waits for, None where the next follows at once."""
    if isinstance(step, n.Wait):
        return Wait(seconds=step.seconds.value or 0.0)
    if isinstance(step, n.WaitForIt):
        return Wait(motion_of=last_set)
    return Wait(seconds=lasting(step, meaning)) if isinstance(step, n.Show) and step.wait else None


def one_segment(steps: tuple[n.Step, ...], meaning: Meaning, *, gifts: bool = False) -> Segment:
    """Steps that must not wait, as one segment. `gifts`: a give that does not fit gives what fits (rewards)."""
    return segment_of([op for s in steps for op in ops_of(s, meaning, gifts=gifts)])


def lasting(step: n.Show, meaning: Meaning) -> float:
    """How long a sound or an effect lasts, seconds."""
    if step.verb == "effect":
        return EFFECT_S
    key = meaning.key(step.what)
    return next((s.seconds for s in meaning.layout.project.sounds if s.key == key), 0.0)


def segment_of(ops: Sequence[Op], wait: Wait | None = None) -> Segment:
    """Operations as a segment."""
    return Segment(tuple(ops), can_refuse(ops), wait)


def ops_of(step: n.Step, meaning: Meaning, *, gifts: bool = False) -> list[Op]:
    """The operations of one step; none of a wait or a hole."""
    match step:
        case n.Wait() | n.WaitForIt() | n.HoleStep():
            return []
        case n.Hand() | n.Change() | n.Add() | n.Gear() | n.Grant() | n.Limit():
            return _having(step, meaning, gifts)
        case n.Set() | n.SetNext() | n.Remove() | n.Marking() | n.Fill() | n.Down():
            return object_ops(step, meaning)
        case n.QuestStep() | n.Move() | n.Meet() | n.CountUp():
            return quest_ops(step, meaning)
        case n.PutAt() | n.Scatter() | n.Drop() | n.Swap():
            return put_ops(step, meaning)
        case n.Later() | n.MovePlayer() | n.ExitStep() | n.EndLevel():
            return world_ops(step, meaning)
        case n.Say(text):
            return [Tell(Told(Happening.NOTICE, meaning.this, (("text", text.value or ""),)))]
        case n.Talk(conversation):
            return open_talk(meaning.key(conversation), meaning)
        case n.Show():
            return _show(step, meaning)
        case _:
            assert_never(step)


def _show(step: n.Show, meaning: Meaning) -> list[Op]:
    where = meaning.key(step.at) if step.at else meaning.this or PLAYER
    told = Happening.SOUND if step.verb == "sound" else Happening.EFFECT
    return [Tell(Told(told, meaning.key(step.what), (("at", where), *beside(step.offset))))]


def beside(offset: n.Offset | None) -> tuple[tuple[str, float], ...]:
    """How far beside a place something is, for the run."""
    return (("east", offset[0].value or 0.0), ("north", offset[1].value or 0.0)) if offset else ()


# --- having


def _having(step: n.Hand | n.Change | n.Add | n.Gear | n.Grant | n.Limit, meaning: Meaning, gifts: bool) -> list[Op]:
    match step:
        case n.Hand(verb, item, count):
            return _hand_over(verb == "give", meaning.key(item), _amount(count), meaning, gifts=gifts)
        case n.Change(item, into, count, gives):
            taken = _hand_over(False, meaning.key(item), _amount(count), meaning)
            return [*taken, *_hand_over(True, meaning.key(into), _amount(gives), meaning)]
        case n.Add(number, target):
            key = meaning.key(target)
            return _count(meaning.counter(key), int(number.value or 0), meaning, Happening.COUNTED, key)
        case n.Gear(verb, item):
            return _gear(verb == "equip", meaning.key(item), meaning)
        case n.Grant(ability, uses):
            return _grant(meaning.key(ability), int(uses.value or 0) if uses else 0, meaning.layout)
        case n.Limit(verb, ability):
            return _limit(verb == "suspend", meaning.key(ability), meaning.layout)
        case _:
            assert_never(step)


def _amount(count: n.Number | None) -> int:
    return int(count.value or 0) if count else 1


def _count(column: int, amount: int, meaning: Meaning, what: Happening, key: str) -> list[Op]:
    limits = meaning.layout.table.columns[column]
    plus = Plus(column, amount, limits.lowest, limits.highest, clamped=True)
    within = ("by", amount), ("lowest", limits.lowest), ("highest", limits.highest)
    told = Tell(Told(what, key, within), (("was", column),))
    return [told, plus, *tally("gained", key, meaning.layout, amount)]


def _hand_over(gives: bool, key: str, amount: int, meaning: Meaning, *, gifts: bool = False) -> list[Op]:
    """Give or take; refused whole where it does not fit, but money and gifts are clamped. Gear that is gone is put away."""
    layout, column = meaning.layout, meaning.counter(key)
    signed = amount if gives else -amount
    if gives and (gifts or layout.find("item", key) is None):
        return _count(column, signed, meaning, Happening.GAINED, key)
    limits = layout.table.columns[column]
    why = "there is no room for more" if gives else "there are too few"
    refusal = Told(Happening.REFUSED, key, (("why", why), ("asked", amount)))
    told = Told(Happening.GAINED if gives else Happening.LOST, key, (("by", signed),))
    plus = Plus(column, signed, limits.lowest, limits.highest, clamped=False, refusal=refusal)
    held = None if gives else is_equipped(layout, key)
    off = (If(both(held, equals(column, 0)), _put_away(held.column, key)),) if held is not None else ()
    return [plus, *tally("gained", key, layout, signed), Tell(told, (("now", column),)), *off]


def _gear(equips: bool, key: str, meaning: Meaning) -> list[Op]:
    held = is_equipped(meaning.layout, key)
    if held is None:
        return [RefuseIf(All(()), Told(Happening.REFUSED, key, (("why", "it goes to no hand and no slot"),)))]
    if not equips:
        return [If(held, _put_away(held.column, key))]
    lacking = Told(Happening.REFUSED, key, (("why", "the player does not have it"),))
    missing = RefuseIf(equals(meaning.layout.column("item", key), 0), lacking)
    return [missing, Put(held.column, held.lowest), Tell(Told(Happening.EQUIPPED, key))]


def _put_away(slot: int, key: str) -> tuple[Op, ...]:
    """The slot that holds an item is empty."""
    return Put(slot, 0), Tell(Told(Happening.PUT_AWAY, key))


def _grant(key: str, uses: int, layout: Layout) -> list[Op]:
    left, suspended = layout.find("ability_uses", key), layout.find("suspended", key)
    return [
        Put(layout.column("ability", key), 1),
        *([] if left is None else [Put(left, uses)]),
        *([] if suspended is None else [Put(suspended, 0)]),
        Tell(Told(Happening.GRANTED, key, (("uses", uses),))),
    ]


def _limit(suspends: bool, key: str, layout: Layout) -> list[Op]:
    if suspends:
        return [Put(layout.column("suspended", key), 1), Tell(Told(Happening.SUSPENDED, key))]
    left = layout.find("ability_uses", key)
    gone = [Put(layout.column("ability", key), 0), *([] if left is None else [Put(left, 0)])]
    return [*gone, Tell(Told(Happening.REVOKED, key))]
