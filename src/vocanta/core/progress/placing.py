"""What steps put, scatter, drop and swap: which copies come into being, and in which cell things come to lie."""

from __future__ import annotations

from typing import assert_never

from ..cuetext.writing import write_step
from ..phrases import nodes as n
from .guards import AnyOf, equals, opposite
from .happenings import Happening
from .layout import Layout
from .meaning import Meaning, spot_of
from .nearness import after_change, go_away
from .ops import Copy, Exchange, If, Op, Put, PutBy, PutCopies, RefuseIf, Spot, Tell, Told

PlacingStep = n.PutAt | n.Scatter | n.Drop | n.Swap


def put_ops(step: PlacingStep, meaning: Meaning) -> list[Op]:
    """Put an object, or copies of a kind: the first copies of the step that are not there, or refused."""
    if isinstance(step, n.Swap):
        return _swap(meaning.key(step.target), meaning.key(step.other), meaning.layout)
    layout, key = meaning.layout, meaning.key(step.what)
    spot, where = _spot(step, meaning), _where(step, meaning)
    pool = layout.mentions.pools.get((meaning.owner, write_step(step)))
    if pool is None:
        return _put(key, spot, Tell(Told(Happening.PUT, key, where)), layout)
    count = 1 if isinstance(step, n.PutAt) or step.count is None else int(step.count.value or 1)
    copies = tuple(_copy(k, layout) for k in pool.copies)
    why = f"there are {pool.most} of them already"
    refusal = Told(Happening.REFUSED, key, (("why", why),))
    return [PutCopies(copies, count, spot, Told(Happening.PUT, "", where), refusal)]


def _put(key: str, spot: Spot, told: Op, layout: Layout) -> list[Op]:
    """An object comes to be at a spot; it keeps its columns and waits."""
    place = layout.find("place", key)
    ops: list[Op] = [*go_away(layout, key), *_end_motion(layout, key), Put(layout.column("exists", key), 1)]
    if place is not None:
        ops.append(Put(place, spot.cell) if spot.column < 0 else PutBy(place, spot.column))
    return [*ops, told, *after_change(layout, key)]


def _end_motion(layout: Layout, key: str) -> tuple[Op, ...]:
    """What is moved has come to the end of its motion; a use that was kept for it lapses."""
    moving, queued = layout.find("moving", key), layout.find("queued", key)
    if moving is None:
        return ()
    told = Tell(Told(Happening.ARRIVED, key), (("state", layout.column("state", key)),))
    lapses = () if queued is None else (Put(queued, 0),)
    return (If(opposite(equals(moving, 0)), (Put(moving, 0), *lapses, told)),)


def _copy(key: str, layout: Layout) -> Copy:
    place = layout.find("place", key)
    return Copy(key, layout.column("exists", key), -1 if place is None else place, resets_of(key, layout))


def resets_of(key: str, layout: Layout) -> tuple[tuple[int, int], ...]:
    """Everything of an object that starts over, with the starting values: its columns, marks and waits."""
    columns = layout.table.columns
    kept = ("exists", "place", "carrier", "near")
    own = [(number, columns[number]) for number in layout.table.own(key)]
    return tuple((number, c.start) for number, c in own if c.what not in kept and not c.sensed)


def _spot(step: n.PutAt | n.Scatter | n.Drop, meaning: Meaning) -> Spot:
    """The cell where something comes to lie: that of its own spot where it is fixed, else that of what it lies at."""
    layout = meaning.layout
    at = step.at if isinstance(step, n.PutAt) else step.around if isinstance(step, n.Scatter) else step.feet
    if at is None:
        stood = layout.find("stood", f"{meaning.this}/{meaning.place}") if meaning.late else None
        if stood is not None:
            return Spot(column=stood)
    key = meaning.this if at is None else meaning.key(at)
    spot = spot_of(layout, key)
    offset = step.offset if isinstance(step, n.PutAt) else None
    if spot.column >= 0 or offset is None:
        return spot
    one = layout.placed[key]
    east, north = (o.value or 0.0 for o in offset)
    return Spot(layout.cells.at(one.level, one.thing.x_m + east, one.thing.y_m + north))


def _where(step: n.PutAt | n.Scatter | n.Drop, meaning: Meaning) -> tuple[tuple[str, str | float], ...]:
    """Where a thing comes to lie, for the run: at or around whom, how far beside, within how many metres."""
    stood = f"{meaning.this}/{meaning.place}" if meaning.late else ""
    match step:
        case n.PutAt(_, at, offset):
            beside = (("east", offset[0].value or 0.0), ("north", offset[1].value or 0.0)) if offset else ()
            return (*_at(at, stood, meaning), *beside)
        case n.Scatter(_, _, around, within):
            return (*_at(around, stood, meaning), ("within", within.value or 0.0))
        case n.Drop(_, feet):
            return (("at", meaning.key(feet)), ("feet", 1))
        case _:
            assert_never(step)


def _at(at: n.Word | None, stood: str, meaning: Meaning) -> tuple[tuple[str, str | float], ...]:
    if at is not None:
        return (("at", meaning.key(at)),)
    return (("at", meaning.this), *((("stood", stood),) if stood else ()))


def _swap(one: str, other: str, layout: Layout) -> list[Op]:
    """Two objects change places, wherever they lie; refused where one of them is not there."""
    missing = AnyOf(tuple(equals(layout.column("exists", k), 0) for k in (one, other)))
    refusal = RefuseIf(missing, Told(Happening.REFUSED, one, (("why", "one of the two is not there"),)))
    columns = [layout.find("place", k) for k in (one, other)]
    ops: list[Op] = []
    if columns[0] is not None and columns[1] is not None:
        ops = [Exchange(columns[0], columns[1])]
    else:
        for column, seen in ((columns[0], other), (columns[1], one)):
            source = layout.find("whereabouts", seen)
            if column is not None and source is not None:
                ops.append(PutBy(column, source))
    told = Tell(Told(Happening.SWAPPED, one, (("with", other),)))
    if one == other:
        return [refusal]
    leaving = [op for key in (one, other) for op in (*go_away(layout, key), *_end_motion(layout, key))]
    return [refusal, *leaving, *ops, told, *after_change(layout, one), *after_change(layout, other)]
