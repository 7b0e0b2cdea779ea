"""Where to stand to try an object: within its reach, on free floor, looking at it."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping
from types import MappingProxyType

from ..progress.layout import Layout, lay_out
from ..project.records import Level, Project
from ..space.bodies import Solid, in_the_way
from ..space.geometry import nearest_on
from ..space.sight import clear_sight
from .scene import Scene

Spot = tuple[float, float, float]
_SHARES = (0.62, 0.8, 0.95, 0.45)
_TURNS = 24
_RINGS, _RING_M = 25, 0.25
_TOUCHING_M = 5e-3
"""Whoever stands so near to what blocks touches it."""


def standing_before(project: Project, key: str, layout: Layout | None = None) -> Spot | None:
    """A place (x, y, facing) from which an object can be tried; its front is tried first. None where there is none.

    Deterministic: the nearest ring first, then the least turn away from the front. `layout`: that of the project, where it
    is known.
    """
    level = next((lv for lv in project.levels if key in {o.key for o in lv.objects}), None)
    if level is None:
        return None
    scene = Scene.of(layout or lay_out(project), level)
    number = scene.number[key]
    one = scene.objects[number]
    reach = one.design.reach
    size = reach.radius_m if reach.shape in ("circle", "wedge") else min(reach.width_m, reach.depth_m) / 2
    size = max(size, scene.sizes[number] + project.player.radius_m + 0.1) if reach.shape == "none" else size
    middle = float(scene.reaches.x[number]), float(scene.reaches.y[number])
    for share in _SHARES:
        for turn in sorted(range(_TURNS), key=lambda t: min(t, _TURNS - t)):
            angle = math.radians(one.thing.turn_deg - 90.0 + turn * 360.0 / _TURNS)
            x, y = middle[0] + math.cos(angle) * size * share, middle[1] + math.sin(angle) * size * share
            if (
                _free(project, level, scene, x, y)
                and _sees(scene, number, x, y)
                and _clear(project, scene, number, x, y)
            ):
                facing = math.degrees(math.atan2(one.thing.y_m - y, one.thing.x_m - x))
                return round(x, 3), round(y, 3), round(facing, 1)
    return None


def free_near(
    layout: Layout,
    level: str,
    x: float,
    y: float,
    puts: Mapping[str, int],
    lies: Iterable[tuple[str, str, float, float, float]] = (),
) -> tuple[float, float] | None:
    """The place itself where the player can stand there, else the nearest of those round it; None within 6 m of none.

    `puts` are the values of columns that differ from the start of a run: states, and what is there. `lies` is what lies
    elsewhere than it was placed: key, level, metres, degrees.
    """
    project = layout.project
    record = next(lv for lv in project.levels if lv.key == level)
    scene, elsewhere = Scene.of(layout, record), dict[str, int]()
    for key, where, *spot in lies:
        if key in scene.number and where == level:
            scene.place(scene.number[key], *spot)
        elsewhere[key] = int(where == level)
    puts = {**puts, **{f"exists:{key}": 0 for key, here in elsewhere.items() if not here}}
    for ring in range(_RINGS):
        for turn in range(_TURNS if ring else 1):
            angle = math.radians(turn * 360.0 / _TURNS)
            near = x + math.cos(angle) * ring * _RING_M, y + math.sin(angle) * ring * _RING_M
            if _free(project, record, scene, *near, puts):
                return (x, y) if not ring else (round(near[0], 3), round(near[1], 3))
    return None


def _free(
    project: Project, level: Level, scene: Scene, x: float, y: float, puts: Mapping[str, int] = MappingProxyType({})
) -> bool:
    """Whether the player can stand there: on the floor, clear of walls and bodies in the states that they are put in."""
    radius = project.player.radius_m
    if scene.floor.area_at(x, y) < 0 or not level.areas:
        return False
    near = nearest_on(scene.floor.stops, x, y)
    if len(near) and min(math.hypot(px - x, py - y) for px, py in near) < radius - _TOUCHING_M:
        return False
    return all(s.distance(x, y) >= radius - _TOUCHING_M for s in _bodies(scene, puts))


def _clear(project: Project, scene: Scene, number: int, x: float, y: float) -> bool:
    """Whether one does not stand in the way of the object's own motion."""
    if not scene.objects[number].design.motion.stay_clear:
        return True
    return not in_the_way(scene.passes_over(number), x, y, project.player.radius_m)


def _bodies(scene: Scene, puts: Mapping[str, int]) -> list[Solid]:
    found = []
    for one, solids in zip(scene.objects, scene.solids, strict=True):
        key = one.thing.key
        state = puts.get(f"state:{key}", 0)
        there = puts.get(f"exists:{key}", one.thing.there_at_start)
        if there and one.design.body.shape != "none" and one.design.states[state].blocks:
            found.append(solids[state])
    return found


def _sees(scene: Scene, number: int, x: float, y: float) -> bool:
    """Whether no wall stands between a place and the object."""
    one = scene.objects[number]
    return clear_sight(scene.floor, (x, y, 1.6), (one.thing.x_m, one.thing.y_m, 1.0), ())
