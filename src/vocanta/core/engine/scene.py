"""One level as a run needs it: its objects in order, their solids by state, their reaches as arrays."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from shapely.geometry.base import BaseGeometry

from ..progress.layout import Placed
from ..project.designs import resolved
from ..project.records import Design, Level, Project
from ..space.bodies import Pose, Solid, pose_of, solid_of, swept_shape
from ..space.floor import Floor, floor_of
from ..space.geometry import Floats
from ..space.reaches import Reaches


@dataclass(frozen=True)
class Scene:
    """A level laid out: object numbers are places in `objects`, in order of creation."""

    level: Level
    floor: Floor
    objects: tuple[Placed, ...]
    reaches: Reaches
    middles: Floats
    """Where each object was placed, shape (objects, 2)."""

    @cached_property
    def number(self) -> dict[str, int]:
        """The number of each object by key."""
        return {one.thing.key: i for i, one in enumerate(self.objects)}

    @cached_property
    def solids(self) -> tuple[tuple[Solid, ...], ...]:
        """For each object its solid in each state."""
        return tuple(tuple(solid_of(o.thing, o.design, pose_of(s)) for s in o.design.states) for o in self.objects)

    @cached_property
    def sizes(self) -> Floats:
        """For each object how far any of its solids comes from where it was placed, metres."""

        def farthest(i: int) -> float:
            x, y = self.middles[i]
            return max(float(np.hypot(s.x - x, s.y - y)) + s.reach_m for s in self.solids[i])

        return np.array([farthest(i) if o.design.body.shape != "none" else 0.0 for i, o in enumerate(self.objects)])

    @cached_property
    def swept(self) -> dict[int, BaseGeometry]:
        """What each stay-clear object passes over."""
        return {i: swept_shape(o.thing, o.design) for i, o in enumerate(self.objects) if o.design.motion.stay_clear}

    @cached_property
    def walkers(self) -> tuple[int, ...]:
        """The characters that walk a round."""
        return tuple(i for i, o in enumerate(self.objects) if o.design.walks and len(o.thing.round) > 1)


def scene_of(project: Project, level: Level) -> Scene:
    """The scene of one level."""
    kinds = {k.key: k for k in project.kinds}
    objects = tuple(
        Placed(o, resolved(kinds[o.kind], o) if o.kind in kinds else Design(), level.key) for o in level.objects
    )
    middles = np.array([(o.thing.x_m, o.thing.y_m) for o in objects], dtype=float).reshape(-1, 2)
    return Scene(level, floor_of(level), objects, Reaches([(o.thing, o.design) for o in objects]), middles)


@dataclass
class Swing:
    """A motion under way: from a pose to a state's pose, `passed` of `total` ticks.

    | state | what may happen | next |
    |---|---|---|
    | under way | a tick | under way, or arrived when `passed` is `total` |
    | under way | turned back | under way the other way, from where it is |
    """

    start: Pose
    end: Pose
    total: int
    passed: int
    easing: str

    def pose(self) -> Pose:
        """Where the part is now."""
        share = self.passed / self.total
        return self.start.towards(self.end, eased(share) if self.easing == "smooth" else share)

    def reversed(self) -> Swing:
        """The way back from here; it takes as long as the way so far took."""
        return Swing(self.end, self.start, self.total, self.total - self.passed, self.easing)


def eased(share: float) -> float:
    """A share of time as a share of the way, slow at both ends; `eased(1 - x) == 1 - eased(x)`.

    >>> eased(0.5), eased(1.0)
    (0.5, 1.0)
    """
    return share * share * (3.0 - 2.0 * share)
