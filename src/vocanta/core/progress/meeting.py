"""From which cells the player can come within a reach that moves."""

from __future__ import annotations

import shapely

from ..space.bodies import LONGEST_STEP_DEG, pose_of, poses_between, solid_of
from ..space.cells import reach_shape
from ..space.reaches import LEAVE_M
from .layout import Layout


def meeting_cells(layout: Layout, key: str) -> frozenset[int]:
    """The cells that a moving reach may touch: those its part carries it over, every one of the level for whoever walks,
    every one at all for what can be put elsewhere. Never fewer than there are."""
    one, cells = layout.placed[key], layout.cells
    if layout.mentions.movable(key):
        return frozenset(range(len(cells.cells)))
    here = cells.of_level(one.level)
    if one.walks or not one.design.reach.moves_with_part:
        return here
    design, thing = one.design, one.thing
    states = [pose_of(s) for s in design.states]
    shapes = []
    for start in states:
        for end in states:
            for pose in poses_between(start, end):
                solid = solid_of(thing, design, pose)
                moved = type(thing)(thing.key, thing.name, thing.kind, solid.x, solid.y, solid.turn_deg)
                shapes.append(reach_shape(moved, design))
    swept = shapely.union_all(shapes).buffer(LEAVE_M + LONGEST_STEP_DEG / 100.0)
    return frozenset(i for i in here if cells.cells[i].shape.intersects(swept))
