"""From which cells the player can come within a reach that moves."""

from __future__ import annotations

from ..space.cells import reach_carried
from ..space.reaches import LEAVE_M
from .layout import Layout

_ROUNDING_M = 2e-3


def meeting_cells(layout: Layout, key: str) -> frozenset[int]:
    """The cells that a moving reach may touch: those its part carries it over, every one of the level for whoever walks,
    every one at all for what can be put elsewhere. Never fewer than there are: a cell is left late, and so is a reach."""
    one, cells = layout.placed[key], layout.cells
    if layout.mentions.movable(key):
        return frozenset(range(len(cells.cells)))
    here = cells.of_level(one.level)
    if one.walks or not one.design.reach.moves_with_part:
        return here
    carried = reach_carried(one.thing, one.design).buffer(2 * LEAVE_M + _ROUNDING_M)
    return frozenset(i for i in here if cells.cells[i].shape.intersects(carried))
