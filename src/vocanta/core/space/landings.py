"""Where the player comes into a level: its start, the end of an exit, the place of a *move player*."""

from __future__ import annotations

from dataclasses import dataclass

from ..project.records import Project
from .geometry import turned


@dataclass(frozen=True, slots=True)
class Landing:
    """A place in a level, metres, and the way the player then faces, degrees."""

    level: str
    x: float
    y: float
    facing_deg: float


def landing(project: Project, entry: str) -> Landing | None:
    """The place of an entry (`start:level`, `exit:key`, `at:key`), None where it leads nowhere.

    At an object the player stands a step before its front, at an area in its middle.
    """
    what, _, key = entry.partition(":")
    for level in project.levels:
        if what == "start" and level.key == key:
            return Landing(level.key, level.start_x_m, level.start_y_m, level.start_facing_deg)
        for exit in level.exits:
            if exit.key == key and what in ("exit", "at"):
                return _beyond(project, exit.to_level, exit.to_x_m, exit.to_y_m, exit.to_facing_deg)
        if what == "at":
            for thing in level.objects:
                if thing.key == key:
                    return Landing(level.key, *before(thing.x_m, thing.y_m, thing.turn_deg))
            for area in level.areas:
                if area.key == key:
                    xs, ys = zip(*area.outline, strict=True)
                    return Landing(level.key, (min(xs) + max(xs)) / 2, (min(ys) + max(ys)) / 2, 90.0)
    return None


def before(x: float, y: float, turn_deg: float) -> tuple[float, float, float]:
    """A step before the front of something, looking at it: metres east and north, degrees."""
    dx, dy = turned(0.0, -0.8, turn_deg)
    return x + dx, y + dy, turn_deg + 90.0


def _beyond(project: Project, level: str, x: float, y: float, facing_deg: float) -> Landing | None:
    return Landing(level, x, y, facing_deg) if level in {lv.key for lv in project.levels} else None
