"""From which cells the player can come within a reach that moves."""

from __future__ import annotations

import itertools
from dataclasses import replace

import shapely
from shapely.geometry.base import BaseGeometry

from ..project.records import Design, Object
from ..space.bodies import LONGEST_STEP_DEG, Pose, pose_of, poses_between, solid_of
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
    for start, end in itertools.product(states, repeat=2):
        way = [_reach_at(thing, design, pose) for pose in poses_between(start, end)]
        shapes += [shapely.union(a, b).convex_hull for a, b in itertools.pairwise(way)]
    swept = shapely.union_all(shapes).buffer(LEAVE_M + LONGEST_STEP_DEG / 100.0)
    return frozenset(i for i in here if cells.cells[i].shape.intersects(swept))


def _reach_at(thing: Object, design: Design, pose: Pose) -> BaseGeometry:
    """The reach of a thing whose part stands in a pose."""
    solid = solid_of(thing, design, pose)
    return reach_shape(replace(thing, x_m=solid.x, y_m=solid.y, turn_deg=solid.turn_deg), design)
