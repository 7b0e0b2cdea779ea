"""Carriers: who is sent comes in by the exit nearest the player, walks up, hands over, and goes back."""

from __future__ import annotations

import math

from ..progress.layout import LEAVING, ON_THE_WAY
from ..progress.onerow import holds_on
from ..progress.program import Action
from .moving import Mover
from .places import Places
from .situation import TICKS_A_SECOND, Place, Situation
from .walkers import Walker

HAND_OVER_M = 0.7
"""How near a carrier comes to hand over, beyond the two bodies."""
NEAR_M = 0.3
Spot = tuple[float, float]


class Errands:
    """The carriers of one run.

    | carrier | what may happen | next |
    |---|---|---|
    | at home | sent | on the way |
    | on the way | reaches the player | leaving |
    | on the way | removed or downed | at home, the delivery over |
    | leaving | reaches where they came from | at home |
    """

    def __init__(self, situation: Situation, places: Places):
        self.situation, self.places = situation, places
        found = {key: situation.layout.find("carrier", key) for key in situation.layout.mentions.carriers}
        self._columns = {key: column for key, column in found.items() if column is not None}
        self._came_from: dict[str, Spot] = {}

    def goes_on_as(self, other: Errands) -> None:
        """Take over who came from where."""
        self._came_from = other._came_from

    def came_from(self, key: str) -> Spot | None:
        """Where a carrier came from; None for one who was never sent."""
        return self._came_from.get(key)

    def take_up(self, key: str, came_from: Spot) -> None:
        """Know where a carrier under way came from."""
        self._came_from[key] = came_from

    def send(self, key: str, mover: Mover) -> None:
        """A carrier sets out: one who is not in this level comes in by the exit nearest the player."""
        home, number = self.situation.layout.placed[key], mover.scene.number[key]
        if home.thing.there_at_start and home.level == mover.scene.level.key and mover.exists[number]:
            walker = mover.walkers[number]
            self._came_from[key] = (walker.x, walker.y)
            return
        x, y = self._entrance()
        self.places.lay(key, Place(mover.scene.level.key, x, y, 0.0))
        self._came_from[key] = (x, y)

    def _entrance(self) -> Spot:
        """The exit nearest the player, else where the level starts."""
        level, player = self.situation.scene.level, self.situation.player
        exits = [(e.x_m, e.y_m) for e in level.exits] or [(level.start_x_m, level.start_y_m)]
        return min(exits, key=lambda p: math.dist(p, (player.x, player.y)))

    def due(self, mover: Mover) -> list[Action]:
        """Send every carrier on; the actions of those who have reached the player or come back."""
        found: list[Action] = []
        for key, column in self._columns.items():
            doing = self.situation.row[column]
            if doing == ON_THE_WAY:
                found += self._bring(key, mover)
            elif doing == LEAVING:
                found += self._go_back(key, mover)
        return found

    def _bring(self, key: str, mover: Mover) -> list[Action]:
        situation, number = self.situation, mover.scene.number[key]
        back = f"carrier_back:{key}"
        if holds_on(situation.program.by_name[back].guard, situation.row):
            return self._go_back(key, mover)  # Whoever was waiting for it has started over.
        if not situation.is_here(key, mover.scene.level.key):
            self.send(key, mover)
            return []
        walker, player = mover.walkers[number], situation.player
        near = walker.radius_m + situation.project.player.radius_m + HAND_OVER_M
        if math.hypot(walker.x - player.x, walker.y - player.y) > near:
            walker.towards((player.x, player.y))
            return []
        brings = (a for a in situation.program.of_subject[key] if a.kind == "deliver" and a.name != back)
        return [a for a in brings if holds_on(a.guard, situation.row)]

    def _go_back(self, key: str, mover: Mover) -> list[Action]:
        number = mover.scene.number[key]
        if self.situation.is_here(key, mover.scene.level.key) and mover.exists[number]:
            walker = mover.walkers[number]
            goal = self._came_from.get(key, (walker.x, walker.y))
            walker.towards(goal)
            if math.dist(goal, (walker.x, walker.y)) > NEAR_M and not self._without_a_way(walker):
                return []
            walker.towards(None)
        return self._home(key, mover)

    def _without_a_way(self, walker: Walker) -> bool:
        """Whether a carrier who leaves can get no further; looked at once a second."""
        return not walker.way and self.situation.tick % TICKS_A_SECOND == 0

    def _home(self, key: str, mover: Mover) -> list[Action]:
        """A carrier is where they came from; one who is in another level than at home is at home again."""
        home = self.situation.layout.placed[key]
        if not self.situation.is_here(key, home.level):
            self.places.lay(key, Place(home.level, home.thing.x_m, home.thing.y_m, home.thing.turn_deg))
        return [self.situation.program.by_name[f"carrier_back:{key}"]]
