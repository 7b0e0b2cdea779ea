"""In which cell the player comes to stand at an entry."""

from __future__ import annotations

from ..space.landings import landing
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


def entry_cell(layout: Layout, entry: str) -> Spot | None:
    """The cell of an entry, fixed or where its object is; None where it leads nowhere."""
    moving = moved_to(layout, entry)
    if moving:
        return spot_of(layout, moving)
    place = landing(layout.project, entry)
    return None if place is None else Spot(layout.cells.at(place.level, place.x, place.y))
