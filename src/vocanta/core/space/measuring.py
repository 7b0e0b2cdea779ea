"""Distances between two places of a level: straight, and on foot past everything that blocks at the start."""

from __future__ import annotations

import itertools
import math
from dataclasses import dataclass

from ..project.designs import resolved
from ..project.records import Level, Project
from .bodies import pose_of, solid_of
from .floor import floor_of
from .ways import Way, Ways


@dataclass(frozen=True, slots=True)
class Measured:
    """Metres straight and on foot, and the way on foot; None and no way where there is none."""

    straight_m: float
    on_foot_m: float | None
    way: tuple[tuple[float, float], ...]


def measured(project: Project, level: Level, a: tuple[float, float], b: tuple[float, float]) -> Measured:
    """The distance between two places, with every object in its first state."""
    kinds = {k.key: k for k in project.kinds}
    placed = [(o, resolved(kinds[o.kind], o)) for o in level.objects if o.kind in kinds and o.there_at_start]
    solids = [
        solid_of(o, d, pose_of(d.states[0]))
        for o, d in placed
        if d.body.shape != "none" and d.states[0].blocks and not (d.walks and len(o.round) > 1)
    ]
    way: Way | None = Ways(floor_of(level), project.player.radius_m, solids).way(a, b)
    straight = math.dist(a, b)
    if not way or math.dist(way[-1], b) > project.player.radius_m:
        return Measured(straight, None, ())
    points = [a, *((float(x), float(y)) for x, y in way)]
    return Measured(straight, sum(math.dist(p, q) for p, q in itertools.pairwise(points)), tuple(points))
