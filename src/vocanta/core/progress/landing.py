"""In which cell the player comes to stand at an entry."""

from __future__ import annotations

from dataclasses import replace

from ..space.landings import before, landing
from .cutting import put_spots
from .layout import Layout
from .meaning import spot_of
from .ops import Spot


def moved_to(layout: Layout, entry: str) -> str:
    """The object before which an entry lies that can be elsewhere by then; empty for a fixed place."""
    for key in layout.mentions.moves:
        if entry == f"at:{key}" and key in layout.placed and spot_of(layout, key).column >= 0:
            return key
    return ""


def leads_to(layout: Layout, entry: str) -> str:
    """What an entry is named by for the player: the level behind an exit, else what the player comes to stand at."""
    for key, (exit, _) in layout.exits.items():
        if entry in (f"exit:{key}", f"at:{key}"):
            return exit.to_level
    return next((key for key in layout.mentions.moves if entry == f"at:{key}"), entry)


def _before(layout: Layout, key: str) -> Spot:
    """The cell before something that can be elsewhere: where its body fills a cell of its own, that in front of it."""
    spot, cells = spot_of(layout, key), layout.cells
    table = list(range(len(cells.cells)))
    one = layout.placed[key]
    for number, (level, thing) in enumerate(put_spots(one, dict(layout.placed), layout.mentions) if one.level else ()):
        x, y, _ = before(thing.x_m, thing.y_m, thing.turn_deg)
        for cell in cells.of_spot(key, number):
            table[cell] = cells.at(level, x, y)
    return replace(spot, table=tuple(table))


def entry_cell(layout: Layout, entry: str) -> Spot | None:
    """The cell of an entry, fixed or where its object is; None where it leads nowhere."""
    moving = moved_to(layout, entry)
    if moving:
        return _before(layout, moving)
    place = landing(layout.project, entry)
    return None if place is None else Spot(layout.cells.at(place.level, place.x, place.y))
