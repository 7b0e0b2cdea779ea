"""The player's eyes in one level: how far off things are, past what the player looks, and what is in clear sight."""

from __future__ import annotations

import math

import numpy as np

from ..space.bodies import Solid
from ..space.working import Target, demands_met, off_by, seen
from .moving import Mover
from .situation import Situation

MARGIN_DEG = 5.0
"""What is looked at is lost so far beyond its limit."""


class Eyes:
    """What the player sees from where the player stands; asks `space` the questions that a proof asks for many places."""

    def __init__(self, situation: Situation, mover: Mover):
        self.situation, self.mover, self.scene = situation, mover, mover.scene

    def place(self, number: int) -> tuple[float, float]:
        """Where an object is now; a walking character where it walks."""
        walker = self.mover.walkers.get(number)
        if walker is not None:
            return walker.x, walker.y
        return float(self.scene.middles[number, 0]), float(self.scene.middles[number, 1])

    def gap(self, number: int) -> float:
        """How far an object is off, metres."""
        x, y = self.place(number)
        return math.hypot(x - self.situation.player.x, y - self.situation.player.y)

    def reach_gap(self, number: int) -> float:
        """From the player to the middle of an object's reach, metres."""
        reaches, player = self.scene.reaches, self.situation.player
        return math.hypot(reaches.x[number] - player.x, reaches.y[number] - player.y)

    def target(self, number: int) -> Target:
        """An object as something to be seen."""
        x, y = self.place(number)
        reach = self.scene.objects[number].design.reach
        height = float(self.scene.heights[number]) + self.scene.objects[number].design.body.height_m / 2
        return Target(x, y, height, reach.sight_m, reach.facing_deg)

    def _here(self) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        player, eyes = self.situation.player, self.situation.floor_m + self.situation.project.player.eyes_m
        return np.array([player.x]), np.array([player.y]), np.array([eyes])

    def off_by(self, number: int) -> float:
        """How far the player looks past an object, degrees."""
        x, y, _ = self._here()
        return float(off_by(self.target(number), x, y, np.array([self.situation.player.facing_deg]))[0])

    def sees(self, number: int) -> bool:
        """Whether the player has clear sight of an object's middle."""
        target = self.target(number)
        return bool(seen(self.scene.floor, target, *self._here(), self._screens(number, (target.x, target.y)))[0])

    def demands_met(self, number: int, was: bool) -> bool:
        """Whether the object's own demands on facing and sight are met; facing is lost only beyond its limit."""
        target = self.target(number)
        limit = None if target.facing_deg is None else target.facing_deg + (MARGIN_DEG if was else 0.0)
        if limit is not None and self.off_by(number) > limit:
            return False
        screens = [] if target.sight_m is None else self._screens(number, (target.x, target.y))
        return bool(demands_met(self.scene.floor, target, *self._here(), screens)[0])

    def _screens(self, target: int, there: tuple[float, float]) -> list[tuple[Solid, float]]:
        """Bodies that could stop sight on the way to a place, with their tops."""
        scene, mover, here = self.scene, self.mover, (self.situation.player.x, self.situation.player.y)
        middle, half = ((here[0] + there[0]) / 2, (here[1] + there[1]) / 2), math.dist(here, there) / 2
        gaps = np.hypot(scene.middles[:, 0] - middle[0], scene.middles[:, 1] - middle[1])
        near = np.flatnonzero(mover.exists & (scene.sizes > 0) & (gaps < scene.sizes + half))
        found = []
        for number in (int(n) for n in near):
            one, state = scene.objects[number], int(mover.states[number])
            if number != target and number not in mover.walkers and not one.design.states[state].lets_sight_through:
                solid = scene.solids[number][state]
                found.append((solid, float(scene.heights[number]) + one.design.body.height_m))
        return found
