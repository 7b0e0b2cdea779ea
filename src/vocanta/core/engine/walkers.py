"""Characters on their rounds: along way-points on the walkable floor, stopping for whoever stands in the way."""

from __future__ import annotations

import math
from dataclasses import dataclass, field

from ..space.ways import Way, Ways

KEEP_CLEAR_M = 0.1
REPLAN_M = 0.5
ASIDE = 90
"""For how many ticks somebody stands aside."""


@dataclass
class Walker:
    """One character on a round: `next_stop` is the way-point it walks to, `way` what is left of the way there."""

    x: float
    y: float
    facing_deg: float
    speed_mps: float
    radius_m: float
    stops: tuple[tuple[float, float], ...]
    next_stop: int = 1
    way: Way = field(default_factory=list)
    goal: tuple[float, float] | None = None
    """Where an errand leads just now; None on the round."""
    waited: int = 0
    """For how many ticks somebody has stood in the way."""
    aside: int = 0
    """For how many ticks more it stands aside to let another by."""

    def towards(self, goal: tuple[float, float] | None) -> None:
        """Walk to a place of an errand, or None: back to the round. A goal that moved by less than 0.5 m keeps the way."""
        if goal is None or self.goal is None or math.dist(goal, self.goal) > REPLAN_M:
            self.goal, self.way = goal, []

    def step(self, seconds: float, ways: Ways, others: list[tuple[float, float, float]], talking: bool) -> None:
        """Walk on for some seconds; `others` are discs (x, y, radius) not to be walked into. Stands while talking."""
        if talking:
            return
        if not self.way and self.aside:
            self.aside -= 1
            return
        left, planned = self.speed_mps * seconds, 0
        while left > 1e-9:
            planned += not self.way
            if not self.way and (planned > len(self.stops) + 1 or not self._plan(ways)):
                return  # Whoever can get to none of the way-points stands still.
            tx, ty = self.way[0]
            gap = math.hypot(tx - self.x, ty - self.y)
            if gap < 1e-6:
                self.way.pop(0)
                continue
            share = min(1.0, left / gap)
            nx, ny = self.x + (tx - self.x) * share, self.y + (ty - self.y) * share
            self.facing_deg = math.degrees(math.atan2(ty - self.y, tx - self.x))
            if any(self._nears(nx, ny, o) for o in others):
                self.waited += 1
                return
            self.waited = 0
            self.x, self.y = round(nx, 3), round(ny, 3)
            left -= gap * share
            if share == 1.0:
                self.way.pop(0)

    def step_aside(self, ways: Ways, crowd: list[tuple[float, float]], room: float) -> None:
        """Go where it stands clear of a crowd, the nearest such place first, and wait there for the others to pass."""
        found = ways.nearest_clear((self.x, self.y), crowd, room)
        if found is not None:
            self.way, self.aside = ways.way((self.x, self.y), found) or [], ASIDE
            if self.goal is None and self.stops:
                self.next_stop = (self.next_stop - 1) % len(self.stops)

    def _plan(self, ways: Ways) -> bool:
        if self.goal is not None:
            if math.dist(self.goal, (self.x, self.y)) < 1e-6:
                return False
            self.way = ways.way((self.x, self.y), self.goal) or []
            return bool(self.way)
        if len(self.stops) < 2:
            return False
        goal = self.stops[self.next_stop % len(self.stops)]
        self.next_stop = (self.next_stop + 1) % len(self.stops)
        way = ways.way((self.x, self.y), goal)
        self.way = way or []
        return bool(self.way)

    def _nears(self, x: float, y: float, other: tuple[float, float, float]) -> bool:
        """Whether a step would end too near somebody, and nearer than now."""
        then, now = math.hypot(other[0] - x, other[1] - y), math.hypot(other[0] - self.x, other[1] - self.y)
        return then < self.radius_m + other[2] + KEEP_CLEAR_M and then < now
