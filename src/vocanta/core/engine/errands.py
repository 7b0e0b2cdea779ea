"""Carriers: who is sent comes in by the exit nearest the player, walks up, hands over, and goes back."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from ..progress.layout import LEAVING, ON_THE_WAY
from ..progress.program import Action
from .chronicle import TICKS_A_SECOND

if TYPE_CHECKING:
    from .run import Run
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
    | leaving | reaches where they came from | at home |
    """

    def __init__(self, run: Run):
        self.run = run
        table = run.program.table
        self._columns = {
            k: table.number(f"carrier:{k}") for k in run.layout.mentions.carriers if run.has(f"carrier:{k}")
        }
        self._came_from: dict[str, Spot] = {}

    def send(self, key: str) -> None:
        """A carrier sets out: one who is not in this level comes in by the exit nearest the player."""
        run = self.run
        home = run.layout.placed[key]
        walker = run.mover.walkers.get(run.scene.number[key])
        if walker is not None and run.mover.exists[run.scene.number[key]] and home.thing.there_at_start:
            self._came_from[key] = (walker.x, walker.y)
            return
        x, y = self._entrance()
        run.world.put(key, x, y, 0.0)
        self._came_from[key] = (x, y)

    def _entrance(self) -> Spot:
        """The exit nearest the player, else where the level starts."""
        level, mover = self.run.scene.level, self.run.mover
        exits = [(e.x_m, e.y_m) for e in level.exits] or [(level.start_x_m, level.start_y_m)]
        return min(exits, key=lambda p: math.dist(p, (mover.x, mover.y)))

    def arrived(self) -> list[Action]:
        """Send every carrier on; the actions of those who have reached the player or come back."""
        due: list[Action] = []
        for key, column in self._columns.items():
            doing = self.run.row[column]
            if doing:
                due += self._go_on(key, doing)
        return due

    def _go_on(self, key: str, doing: int) -> list[Action]:
        run, number = self.run, self.run.scene.number[key]
        if not run.is_here(key, run.scene.level.key) or not run.mover.exists[number]:
            if doing == ON_THE_WAY:
                self.send(key)
            return self._back(key) if doing == LEAVING else []
        walker = run.mover.walkers[number]
        if doing == ON_THE_WAY:
            near = walker.radius_m + run.project.player.radius_m + HAND_OVER_M
            if math.hypot(walker.x - run.mover.x, walker.y - run.mover.y) <= near:
                return [a for a in run.program.actions if a.kind == "deliver" and self._brings(a, key)]
            walker.towards((run.mover.x, run.mover.y))
            return []
        goal = self._came_from.get(key, (walker.x, walker.y))
        walker.towards(goal)
        if math.dist(goal, (walker.x, walker.y)) > NEAR_M and not self._without_a_way(walker):
            return []
        walker.towards(None)
        return self._back(key)

    def _without_a_way(self, walker: Walker) -> bool:
        """Whether a carrier who leaves can get no further; looked at once a second."""
        return not walker.way and self.run.tick_number % TICKS_A_SECOND == 0

    def _back(self, key: str) -> list[Action]:
        """A carrier is where they came from; one whose home is another level is there again."""
        run, home = self.run, self.run.layout.placed[key]
        if home.level != run.scene.level.key:
            run.where[key] = (home.level, home.thing.x_m, home.thing.y_m, home.thing.turn_deg)
            run.mover.follow(key)
        return [run.program.by_name[f"carrier_back:{key}"]]

    def _brings(self, action: Action, carrier: str) -> bool:
        """Whether a delivery is under way that this carrier brings."""
        if not action.name.startswith("deliver:"):
            return False
        value = int(action.name.rpartition("/")[2])
        steps = self.run.layout.mentions.laters[action.subject]
        step = steps[value - 1]
        if step.carrier is None or self.run.value(f"later:{action.subject}") != value:
            return False
        return step.carrier.text in (carrier, "this") or step.carrier.text.startswith("its ")
