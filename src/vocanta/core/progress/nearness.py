"""Who is near what: the one place that keeps `near` in step with cells, states and being there, in pairs."""

from __future__ import annotations

from collections.abc import Iterable

from .guards import All, Guard, among, both, equals, opposite
from .happenings import Happening
from .layout import Layout
from .meaning import has_reach, player_inside
from .ops import If, Op, Put, Tell, Told


def near_guard(layout: Layout, key: str) -> Guard:
    """When somebody who counts is near for certain, where that follows from the player's cell."""
    return player_inside(layout, key)


def after_change(layout: Layout, key: str) -> tuple[Op, ...]:
    """What follows for nearness when an object came, went, changed its state or was downed: told as away, then near."""
    near = layout.find("near", key)
    if near is None:
        return ()
    if layout.near_by_cell(key):
        return _paired(near, key, near_guard(layout, key))
    return (If(both(equals(near, 1), opposite(has_reach(layout, key))), _away(near, key)),)


def go_away(layout: Layout, key: str) -> tuple[Op, ...]:
    """Whoever is near an object is so no longer; the one *away* of this change, told."""
    near = layout.find("near", key)
    return () if near is None else (If(equals(near, 1), _away(near, key)),)


def after_walking(layout: Layout, keys: Iterable[str]) -> tuple[Op, ...]:
    """What follows for the nearness of objects when the player's cell has changed."""
    ops: list[Op] = []
    for key in keys:
        ops += _paired(layout.column("near", key), key, near_guard(layout, key))
    return tuple(ops)


def after_leaping(layout: Layout) -> tuple[Op, ...]:
    """What follows when the player stands elsewhere at once: also whatever moves is no longer near, unless sensed anew."""
    away = (op for key in layout.sensed_near for op in go_away(layout, key))
    return (*after_walking(layout, layout.zone_keys), *away)


def differing(layout: Layout, number: int, sources: Iterable[int]) -> tuple[str, ...]:
    """The objects whose nearness may change on walking into a cell from one of others."""
    cells = layout.cells.cells
    zones = frozenset[str]().union(*(cells[number].zones ^ cells[i].zones for i in sources))
    return tuple(k for k in layout.zone_keys if k in zones)


def come_near_guard(layout: Layout, key: str, meeting: frozenset[int]) -> Guard:
    """When somebody can come near an object whose nearness is sensed: from the cells where it can be met."""
    near = equals(layout.column("near", key), 0)
    if len(meeting) == len(layout.cells.cells) or layout.placed[key].design.reach.who != ("player",):
        return All((has_reach(layout, key), near))
    return All((has_reach(layout, key), near, among(layout.column("cell"), meeting)))


def _paired(near: int, key: str, guard: Guard) -> tuple[Op, ...]:
    there = (Put(near, 1), Tell(Told(Happening.NEAR, key)))
    return If(both(equals(near, 1), opposite(guard)), _away(near, key)), If(both(equals(near, 0), guard), there)


def _away(near: int, key: str) -> tuple[Op, ...]:
    return Put(near, 0), Tell(Told(Happening.AWAY, key))
