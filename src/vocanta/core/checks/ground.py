"""A level as checks see it: where one can stand, what is solid, what lies behind a wall, how far it is on foot."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterable, Mapping
from functools import cached_property

import numpy as np
import shapely
import shapely.ops
from shapely.geometry import LineString, Point
from shapely.geometry.base import BaseGeometry

from ..project.records import Design, Exit, Level, Object, Project
from ..space.bodies import Solid, footprint, pose_of, poses_between, solid_of
from ..space.cells import exit_patch, reach_shape
from ..space.floor import Floor, floor_of
from ..space.geometry import Floats, crossings
from ..space.ways import Way, Ways

SAMPLE_M = 0.25
"""Points of a patch of floor are taken so far apart."""
TALL_M = 1.5
"""A wall of less does not keep hands apart."""
EDGE_M = 0.1
_OF_THE_FLOOR = ("floor", "standable", "_edges", "_tall")
Spot = tuple[float, float]


class Ground:
    """One level, with the designs of what stands in it."""

    def __init__(self, project: Project, level: Level, designs: Mapping[str, Design], floored: Ground | None = None):
        """`floored`: the same level as it was, where only what stands in it has changed."""
        self.level = level
        self.player = project.player
        self.designs: dict[str, Design] = {o.key: designs[o.key] for o in level.objects}
        self.objects: dict[str, Object] = {o.key: o for o in level.objects}
        if floored is not None:
            self.__dict__.update({k: v for k, v in floored.__dict__.items() if k in _OF_THE_FLOOR})

    @cached_property
    def floor(self) -> Floor:
        """Its floor."""
        return floor_of(self.level)

    @cached_property
    def standable(self) -> BaseGeometry:
        """Where the middle of the player can be, as far as walls and the edge of the floor let it."""
        return self.floor.whole.difference(self._edges.buffer(self.player.radius_m - 1e-3))

    @cached_property
    def _edges(self) -> BaseGeometry:
        return shapely.union_all([LineString([(s[0], s[1]), (s[2], s[3])]) for s in self.floor.stops])

    @cached_property
    def _tall(self) -> Floats:
        """The segments of the walls that hands do not reach over, glass among them."""
        walls = [w for w in self.level.walls if w.height_m is None or w.height_m >= TALL_M]
        rows = [(*a, *b) for w in walls for a, b in itertools.pairwise(w.points)]
        return np.array(rows, dtype=float).reshape(-1, 4)

    @cached_property
    def lasting(self) -> dict[str, Solid]:
        """What stands in the way in each of its states, and does not walk, by object."""
        return {
            key: solid_of(self.objects[key], d, pose_of(d.states[0]))
            for key, d in self.designs.items()
            if d.body.shape != "none" and not d.walks and all(s.blocks for s in d.states)
        }

    def off_the_floor(self, x: float, y: float) -> bool:
        """Whether a point lies outside all areas."""
        return not bool(shapely.intersects_xy(self.floor.whole, x, y))

    def solid_at(self, x: float, y: float, room: float) -> str:
        """What a disc would overlap: the key of an object that always stands there, `wall`, `edge`, or nothing."""
        point = Point(x, y)
        if not self.floor.whole.covers(point):
            return "edge"
        if self._edges.distance(point) < room - 1e-3:
            return "wall"
        return next((key for key, solid in self.lasting.items() if solid.distance(x, y) <= max(room - 1e-3, 0.0)), "")

    def area_of(self, x: float, y: float) -> str:
        """The key of the area at a point, empty outside all."""
        number = self.floor.area_at(x, y)
        return self.floor.areas[number].key if number >= 0 else ""

    def reach_of(self, key: str) -> BaseGeometry:
        """Where an object's reach lies on floors that are in its band."""
        thing, design = self.objects[key], self.designs[key]
        height, shape = self.floor.height_at(thing.x_m, thing.y_m), reach_shape(thing, design)
        low, high = height - design.reach.below_m - 1e-9, height + design.reach.above_m + 1e-9
        near = [p for a, p in zip(self.floor.areas, self.floor.polygons, strict=True) if low <= a.floor_m <= high]
        return shapely.intersection(shape, shapely.union_all(near)) if near else Point()

    def nearest_standing(self, x: float, y: float) -> Spot | None:
        """The place nearest to a point where the player can stand."""
        if self.standable.is_empty:
            return None
        near = shapely.ops.nearest_points(self.standable, Point(x, y))[0]
        return float(near.x), float(near.y)

    @staticmethod
    def gap(x: float, y: float, spot: Spot) -> float:
        """How far a point lies from another, metres."""
        return math.dist((x, y), spot)

    def same_band(self, key: str, spot: Spot) -> bool:
        """Whether the floor at a spot counts for an object's reach."""
        thing, reach = self.objects[key], self.designs[key].reach
        rise = self.floor.height_at(*spot) - self.floor.height_at(thing.x_m, thing.y_m)
        return -reach.below_m - 1e-9 <= rise <= reach.above_m + 1e-9

    def behind_walls(self, key: str) -> str:
        """The area in which an object's reach can be stood in with a wall between, empty where there is none.

        An object that stands in a wall itself, such as a door, has no side.
        """
        thing = self.objects[key]
        here, middle = self.area_of(thing.x_m, thing.y_m), Point(thing.x_m, thing.y_m)
        if not len(self._tall) or self._wall_at(middle):
            return ""
        within = self.reach_of(key).intersection(self.standable)
        if within.is_empty:
            return ""
        for area, polygon in zip(self.floor.areas, self.floor.polygons, strict=True):
            if area.key == here:
                continue
            for x, y in _points(within.intersection(polygon)):
                if bool(np.any(crossings(self._tall, x, y, thing.x_m, thing.y_m)[1])):
                    return area.key
        return ""

    def on_a_wall(self, key: str) -> bool:
        """Whether an object hangs on a wall or at the edge of the floor: its body touches one."""
        thing, design = self.objects[key], self.designs[key]
        body = (
            footprint(solid_of(thing, design, pose_of(design.states[0])))
            if design.body.shape != "none"
            else Point(thing.x_m, thing.y_m)
        )
        return bool(self._edges.distance(body) < EDGE_M or self.floor.whole.distance(body) < EDGE_M)

    def exit_closed(self, exit: Exit) -> bool:
        """Whether nobody can stand in the patch of an exit."""
        return bool(exit_patch(exit).intersection(self.standable).area < EDGE_M**2)

    def walled(self, a: Spot, b: Spot) -> bool:
        """Whether a straight way meets a wall or leaves the floor."""
        return bool(np.any(crossings(self.floor.stops, a[0], a[1], b[0], b[1])[1]))

    def _wall_at(self, point: Point) -> bool:
        lines = [LineString([(s[0], s[1]), (s[2], s[3])]) for s in self._tall]
        return any(line.distance(point) < 0.2 for line in lines)

    def shut_on_m2(self, key: str, before: int, after: int) -> float:
        """How much floor on which somebody can stand clear of a body in one state it passes over and takes in going to
        another, square metres."""
        thing, design = self.objects[key], self.designs[key]
        start, end = (pose_of(design.states[i]) for i in (before, after))
        poses = [footprint(solid_of(thing, design, p)) for p in poses_between(start, end)]
        room = shapely.union_all(poses).buffer(self.player.radius_m).intersection(self.standable)
        held = poses[0].buffer(self.player.radius_m) if design.states[before].blocks else None
        return float((room if held is None else room.difference(held)).area)

    @cached_property
    def ways(self) -> Ways:
        """Ways on foot past what always stands there."""
        return Ways(self.floor, self.player.radius_m, list(self.lasting.values()))

    def on_foot(self, a: Spot, b: Spot, near: float = 0.0) -> float | None:
        """Metres on foot from one place to within some metres of another, None without a way."""
        way: Way | None = self.ways.way(a, b)
        if not way:
            return None
        points = [a, *((float(x), float(y)) for x, y in way)]
        left = math.dist(points[-1], b)
        if left > near + self.player.radius_m:
            return None
        return max(0.0, sum(math.dist(p, q) for p, q in itertools.pairwise(points)) - max(0.0, near - left))

    def on_foot_at_most(self, a: Spot, b: Spot, near: float = 0.0) -> float:
        """Metres that the way from one place to within some metres of another is no longer than; found quickly."""
        found = self.ways.at_most(a, b)
        if found is None or math.dist(found[1], b) > near + self.player.radius_m:
            return math.inf
        return found[0] + math.dist(found[1], b)


def standing_mend(ground: Ground, spot: Spot) -> tuple[float, float, float] | None:
    """The place nearest to a spot where somebody can stand, a little inside, and how far away it is."""
    inner = ground.standable.difference(
        shapely.union_all([footprint(s).buffer(ground.player.radius_m) for s in ground.lasting.values()])
    )
    inside = inner.buffer(-EDGE_M)
    if inside.is_empty:
        return None
    near = shapely.ops.nearest_points(inside, Point(spot))[0]
    return round(float(near.x), 2), round(float(near.y), 2), math.dist(spot, (near.x, near.y))


def _points(shape: BaseGeometry) -> Iterable[Spot]:
    """Points of a shape: one of each piece, and a grid."""
    for piece in (p for p in shapely.get_parts(shape) if p.area > SAMPLE_M**2 / 4):
        inner = piece.representative_point()
        yield inner.x, inner.y
        left, low, right, high = piece.bounds
        gx, gy = np.meshgrid(np.arange(left, right, SAMPLE_M), np.arange(low, high, SAMPLE_M))
        inside = shapely.contains_xy(piece, gx.ravel(), gy.ravel())
        yield from zip(gx.ravel()[inside].tolist(), gy.ravel()[inside].tolist(), strict=True)
