"""What steps do that put things into the world, move the player, bring something later, or end the level."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from ..cuetext import nodes as n
from ..cuetext.writing import write_step
from .guards import Guard, Within, equals, opposite
from .layout import ON_THE_WAY, OUTCOMES
from .mentions import PLAYER
from .needs import Meaning
from .ops import Copy, Happen, If, Op, Put, PutBy, PutCopies, Tell, Told

GoAway = Callable[[str, Meaning], tuple[Op, ...]]


# --- putting


def put_ops(step: n.PutAt | n.Scatter | n.Drop, meaning: Meaning) -> list[Op]:
    """Put an object, or copies of a kind: the first copies of the step that are not there, or refused."""
    where = _where(step, meaning)
    key = meaning.key(step.what)
    pool = meaning.layout.mentions.pools.get((meaning.owner, write_step(step)))
    if pool is None:
        exists = meaning.layout.column("exists", key)
        return [Put(exists, 1), *(Put(c, v) for c, v in resets_of(key, meaning)), Tell(Told("put", key, where))]
    count = 1 if isinstance(step, n.PutAt) or step.count is None else int(step.count.value or 1)
    copies = tuple(Copy(k, meaning.layout.column("exists", k), tuple(resets_of(k, meaning))) for k in pool.copies)
    why = f"there are {pool.most} of them already"
    return [PutCopies(copies, count, Told("put", "", where), Told("refused", key, (("why", why),)))]


def _where(step: n.PutAt | n.Scatter | n.Drop, meaning: Meaning) -> tuple[tuple[str, str | float], ...]:
    """Where a copy comes to lie, for the run: at or around whom, how far beside, within how many metres."""
    match step:
        case n.PutAt(_, at, offset):
            beside = (("east", offset[0].value or 0.0), ("north", offset[1].value or 0.0)) if offset else ()
            return (("at", meaning.key(at) if at else meaning.this), *beside)
        case n.Scatter(_, _, around, within):
            return (("at", meaning.key(around) if around else meaning.this), ("within", within.value or 0.0))
        case n.Drop(_, feet):
            return (("at", meaning.key(feet)), ("feet", 1))


def resets_of(key: str, meaning: Meaning) -> list[tuple[int, int]]:
    """The columns of an object that start over, with their starting values; being there and being near left out."""
    table = meaning.layout.table
    found = []
    for what in ("state", "moving", "uses", "queued", "cooling", "down", "touching", "looking"):
        if table.has(f"{what}:{key}"):
            number = table.number(f"{what}:{key}")
            found.append((number, table.columns[number].start))
    return found


# --- everything else in the world


def world_ops(step: Any, meaning: Meaning, go_away: GoAway) -> list[Op]:
    """The operations of a step that moves, downs, opens, brings or ends."""
    layout = meaning.layout
    match step:
        case n.Later():
            return _later(step, meaning)
        case n.MovePlayer(place):
            return move_player(f"at:{meaning.key(place)}", meaning)
        case n.ExitStep(verb, exit):
            key = meaning.key(exit)
            return [Put(layout.column("exit", key), int(verb == "open")), Tell(Told(f"exit_{verb}", key))]
        case n.Down(who):
            key = meaning.key(who)
            return down_player(meaning) if key == PLAYER else _down(key, meaning, go_away)
        case n.EndLevel():
            return _end(step, meaning)
        case _:
            raise AssertionError(f"no operations for {step}")


def _later(step: n.Later, meaning: Meaning) -> list[Op]:
    layout, owner = meaning.layout, meaning.this or meaning.owner
    column, value = layout.column("later", owner), layout.deliveries[owner, step]
    ops: list[Op] = [Put(column, value)]
    if step.carrier is not None:
        carrier = meaning.key(step.carrier)
        ops += [Put(layout.column("carrier", carrier), ON_THE_WAY), Put(layout.column("exists", carrier), 1)]
        ops.append(Tell(Told("sent", carrier)))
    told = Tell(Told("later", owner, (("how", write_step(step)),)))
    return [If(equals(column, 0), (*ops, told), (Tell(Told("under_way", owner)),))]


def move_player(entry: str, meaning: Meaning) -> list[Op]:
    """The player stands at an entry; in another level that is where the level was entered."""
    layout = meaning.layout
    number = layout.entries.index(entry)
    told = Tell(Told("moved", entry))
    if number >= len(layout.map.arrivals):
        return [told]
    cell = layout.map.arrivals[number]
    here = sorted(layout.map.of_level(layout.map.levels[cell]))
    inside = _cell_in(here, meaning)
    return [If(opposite(inside), (Put(layout.column("entry"), number),)), told, Put(layout.column("cell"), cell)]


def _cell_in(cells: list[int], meaning: Meaning) -> Guard:
    """The player's cell is one of a level's, which are numbered without a gap."""
    return Within(meaning.layout.column("cell"), cells[0], cells[-1])


def down_player(meaning: Meaning) -> list[Op]:
    """The player is downed and comes back where the present level was last entered, with all things kept."""
    layout = meaning.layout
    talk = layout.column("talk")
    quiet = If(opposite(equals(talk, 0)), (Put(talk, 0), Tell(Told("talk_ended", PLAYER))))
    told = Tell(Told("player_downed", PLAYER), (("entry", layout.column("entry")),))
    back: list[Op] = []
    if len(layout.map.arrivals) == len(layout.entries):
        back = [PutBy(layout.column("cell"), layout.column("entry"), layout.map.arrivals)]
    return [quiet, told, Happen(f"downed:{PLAYER}"), *back]


def _down(key: str, meaning: Meaning, go_away: GoAway) -> list[Op]:
    layout = meaning.layout
    down = layout.column("down", key)
    ops = (Put(down, 1), *go_away(key, meaning), Tell(Told("downed", key)), Happen(f"downed:{key}"))
    here = equals(layout.column("exists", key), 1)
    return [If(here, (If(equals(down, 0), ops),))]


def _end(step: n.EndLevel, meaning: Meaning) -> list[Op]:
    layout = meaning.layout
    ended, ending = layout.column("ended"), layout.column("ending")
    if step.after is None:
        return [If(equals(ended, 0), end_level(step.outcome, meaning))]
    number = list(layout.mentions.ends).index(step) + 1
    told = Tell(Told("ending", step.outcome, (("after", step.after.value or 0.0),)))
    begin = If(equals(ending, 0), (Put(ending, number), told))
    return [If(equals(ended, 0), (begin,))]


def end_level(outcome: str, meaning: Meaning) -> tuple[Op, ...]:
    """The level is over."""
    return (Put(meaning.layout.column("ended"), OUTCOMES.index(outcome)), Tell(Told("ended", outcome)))
