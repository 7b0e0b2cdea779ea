"""What progress brings about in the world: things put and scattered, the player moved, abilities striking."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import TYPE_CHECKING, Any

from shapely.geometry import Point
from shapely.ops import nearest_points

from ..progress.mentions import PLAYER
from ..progress.needs import may_use
from ..progress.onerow import holds_on
from ..progress.ops import Told
from ..progress.program import Action
from ..space.geometry import crossings
from ..space.landings import landing

if TYPE_CHECKING:
    from .moving import Mover
    from .run import Run

TRIES = 40
EDGE_M = 0.1
"""Things come to lie at least so far from the edge of the floor."""


class World:
    """The hand that carries out in one run what steps have decided."""

    def __init__(self, run: Run):
        self.run = run
        self.landed = -1
        """The cell the player came to stand in without walking; its exit leads on only once it was left."""
        self._cell = run.program.table.number("cell")

    def lay_out(self, mover: Mover) -> None:
        """Put everything that was put into a level where it lies there."""
        for key, (level, x, y, turn) in self.run.where.items():
            if level == mover.scene.level.key and key in mover.scene.number:
                mover.placed(key, x, y, turn)

    def follow(self, told: Told) -> None:
        """An object has changed: one that starts over is back where it was placed."""
        if told.what == "fresh" and told.subject in self.run.where:
            thing = self.run.layout.placed[told.subject].thing
            self.put(told.subject, thing.x_m, thing.y_m, thing.turn_deg)
        self.run.mover.follow(told.subject)

    # --- things

    def take_in(self, told: Told) -> None:
        """Carry out what was told: a thing put, somebody sent, the player moved or downed."""
        details = dict(told.details)
        match told.what:
            case "put":
                x, y = self._lie(told.subject, details)
                self.put(told.subject, x, y, 0.0)
            case "sent":
                self.run.errands.send(told.subject)
            case "moved":
                self._land(told.subject)
            case "player_downed":
                self._land(self.run.layout.entries[int(details["entry"])])

    def put(self, key: str, x: float, y: float, turn_deg: float) -> None:
        """Put an object at a place of the present level, on the floor."""
        run = self.run
        run.where[key] = (run.scene.level.key, round(x, 3), round(y, 3), turn_deg)
        if key in run.scene.number:
            run.mover.placed(key, round(x, 3), round(y, 3), turn_deg)

    def spot(self, details: Mapping[str, Any]) -> tuple[float, float] | None:
        """Where a step means: at an object or the player, beside it; None for what is not in this level."""
        at, run = str(details.get("at", "")), self.run
        if at in (PLAYER, ""):
            x, y = run.mover.x, run.mover.y
        elif at in run.scene.number:
            x, y = run.mover.place_of(at)
        else:
            return None
        return round(x + float(details.get("east", 0.0)), 3), round(y + float(details.get("north", 0.0)), 3)

    def _lie(self, key: str, details: Mapping[str, Any]) -> tuple[float, float]:
        """Where a thing comes to lie: on the floor, in the same area as its spot, not behind a wall."""
        x, y = self.spot(details) or (self.run.mover.x, self.run.mover.y)
        within = float(details.get("within", 0.0))
        if not within:
            return self._on_floor(x, y)
        floor, source = self.run.scene.floor, self.run.chances.scattering(key)
        home = floor.area_at(x, y)
        for _ in range(TRIES):
            angle, far = source.random() * 2 * math.pi, within * math.sqrt(source.random())
            px, py = x + math.cos(angle) * far, y + math.sin(angle) * far
            if floor.area_at(px, py) == home and not crossings(floor.stops, x, y, px, py)[1].any():
                return px, py
        return self._on_floor(x, y)

    def _on_floor(self, x: float, y: float) -> tuple[float, float]:
        """The place itself, or the nearest on the floor."""
        whole = self.run.scene.floor.whole
        if whole.is_empty or whole.covers(Point(x, y)):
            return x, y
        inner = whole.buffer(-EDGE_M)
        _, near = nearest_points(Point(x, y), whole if inner.is_empty else inner)
        return float(near.x), float(near.y)

    # --- the player

    def _land(self, entry: str) -> None:
        """The player stands at an entry."""
        spot = landing(self.run.project, entry)
        if spot is None:
            return
        self.run.hold = None
        self.run.enter(spot.level, spot.x, spot.y, spot.facing_deg)
        self.landed = self.run.cells.at(spot.level, spot.x, spot.y)

    def exit_here(self) -> Action | None:
        """The action of the exit whose patch the player has walked into, if it is open."""
        cell = self.run.row[self._cell]
        if cell != self.landed:
            self.landed = -1
        if not self.run.cells.cells or self.landed == cell:
            return None
        action = self.run.program.by_name.get(f"exit:{self.run.cells.cells[cell].exit}")
        return action if action is not None and holds_on(action.guard, self.run.row) else None

    def strike(self, control: str) -> None:
        """Use an ability on a control: the first that has a target, else say why the first that could be used has none."""
        run = self.run
        found = [a.key for a in run.project.abilities if a.control == control]
        aimed = next((a for a in found if a in run.senses.bodily.aims), None)
        if aimed is not None:
            key = run.scene.objects[run.senses.bodily.aims[aimed]].thing.key
            run.hear(Told("struck", key, (("by", aimed),)), f"ability/{aimed}")
            run.act(run.program.by_name[f"struck:{key}/{aimed}"], cause=f"{control}: {aimed}", attempt=True)
            return
        ready = [a for a in found if holds_on(may_use(run.layout, a), run.row)]
        for ability in (ready or found)[:1]:
            run.hear(Told("missed", ability, (("why", run.senses.bodily.why_not(ability)),)), f"ability/{ability}")
