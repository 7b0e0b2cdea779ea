"""What steps do that move the player, open exits, bring something later, or end the level."""

from __future__ import annotations

from typing import assert_never

from ..cuetext.writing import write_step
from ..phrases import nodes as n
from .guards import equals
from .happenings import Happening
from .layout import ON_THE_WAY, OUTCOMES, Layout
from .leaping import leap
from .meaning import Meaning
from .object_steps import awaited, carrier_of
from .ops import If, Op, Put, RefuseIf, Tell, Told

WorldStep = n.Later | n.MovePlayer | n.ExitStep | n.EndLevel


def world_ops(step: WorldStep, meaning: Meaning) -> list[Op]:
    """The operations of one such step."""
    layout = meaning.layout
    match step:
        case n.Later():
            return _later(step, meaning)
        case n.MovePlayer(place):
            return leap(layout, f"at:{meaning.key(place)}")
        case n.ExitStep(verb, exit):
            key, opens = meaning.key(exit), verb == "open"
            told = Told(Happening.EXIT_OPEN if opens else Happening.EXIT_CLOSE, key)
            return [Put(layout.column("exit", key), int(opens)), Tell(told)]
        case n.EndLevel():
            return _end(step, layout)
        case _:
            assert_never(step)


def _later(step: n.Later, meaning: Meaning) -> list[Op]:
    layout, owner = meaning.layout, meaning.this or meaning.owner
    column, value = layout.column("later", awaited(owner, step)), layout.deliveries[owner, step]
    ops: list[Op] = [Put(column, value)]
    carrier, down = carrier_of(owner, step, layout), None
    if carrier:
        down = layout.find("down", carrier)
        ops += [Put(layout.column("carrier", carrier), ON_THE_WAY), Put(layout.column("exists", carrier), 1)]
        ops.append(Tell(Told(Happening.SENT, carrier)))
    told = Tell(Told(Happening.LATER, owner, (("how", write_step(step)),)))
    lying = Told(Happening.REFUSED, carrier, (("why", "whoever lies down brings nothing"),))
    refusal = [] if down is None else [RefuseIf(equals(down, 1), lying)]
    return [*refusal, If(equals(column, 0), (*ops, told), (Tell(Told(Happening.UNDER_WAY, owner)),))]


def _end(step: n.EndLevel, layout: Layout) -> list[Op]:
    ended, ending = layout.column("ended"), layout.column("ending")
    if step.after is None:
        return [If(equals(ended, 0), end_level(step.outcome, layout))]
    number = list(layout.mentions.ends).index(step) + 1
    told = Tell(Told(Happening.ENDING, step.outcome, (("after", step.after.value or 0.0),)))
    begin = If(equals(ending, 0), (Put(ending, number), told))
    return [If(equals(ended, 0), (begin,))]


def end_level(outcome: n.Outcome, layout: Layout) -> tuple[Op, ...]:
    """The level is over."""
    return (Put(layout.column("ended"), OUTCOMES.index(outcome)), Tell(Told(Happening.ENDED, outcome)))
