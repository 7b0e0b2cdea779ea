"""How the player comes to stand elsewhere at once: moved, downed, or through an exit."""

from __future__ import annotations

from .guards import Within, equals, opposite
from .happenings import Happening
from .landing import entry_cell, leads_to
from .layout import Layout
from .nearness import after_leaping
from .ops import Happen, If, Op, Put, PutBy, Tell, Told


def leap(layout: Layout, entry: str) -> list[Op]:
    """The player stands at an entry; in another level that is where the level was entered."""
    number, cell = layout.entries.index(entry), layout.column("cell")
    told = Tell(Told(Happening.MOVED, entry, (("to", leads_to(layout, entry)),)))
    spot = entry_cell(layout, entry)
    if spot is None:
        return [told]
    ops: list[Op] = []
    if spot.column >= 0:
        ops += [_entered(layout, number, level.key, spot.column) for level in layout.project.levels]
        ops.append(PutBy(cell, spot.column, spot.table))
    else:
        inside = Within(cell, *layout.level_cells(layout.cells.cells[spot.cell].level))
        ops += [If(opposite(inside), (Put(layout.column("entry"), number),)), Put(cell, spot.cell)]
    return [told, *ops, *after_leaping(layout)]


def _entered(layout: Layout, number: int, level: str, column: int) -> Op:
    """The level was entered here, where it is another than that the player was in."""
    here = layout.level_cells(level)
    comes = If(opposite(Within(layout.column("cell"), *here)), (Put(layout.column("entry"), number),))
    return If(Within(column, *here), (comes,))


def down_player(layout: Layout) -> list[Op]:
    """The player is downed and comes back where the present level was last entered, with all things kept."""
    talk, entry = layout.column("talk"), layout.column("entry")
    at = layout.find("talk_at")
    silent = (Put(talk, 0), *(() if at is None else (Put(at, 0),)), Tell(Told(Happening.TALK_ENDED, "player")))
    quiet = If(opposite(equals(talk, 0)), silent)
    told = Tell(Told(Happening.PLAYER_DOWNED, "player"), (("entry", entry),))
    back = [_back(layout, number, name) for number, name in enumerate(layout.entries)]
    return [quiet, told, Happen("downed:player"), *back, *after_leaping(layout)]


def _back(layout: Layout, number: int, entry: str) -> Op:
    spot, cell = entry_cell(layout, entry), layout.column("cell")
    there: tuple[Op, ...] = ()
    if spot is not None:
        there = (PutBy(cell, spot.column, spot.table) if spot.column >= 0 else Put(cell, spot.cell),)
    return If(equals(layout.column("entry"), number), there)
