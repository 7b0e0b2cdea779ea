"""Exact places: where things come to lie that steps put, and where the player comes to stand. Which cell, the row says."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from typing import Any

from shapely.geometry import LineString

from ..phrases.vocabulary import PLAYER
from ..progress.landing import moved_to
from ..progress.ops import Told
from ..space.bodies import Solid
from ..space.cells import EDGE_M
from ..space.landings import before, landing
from .chances import scattering
from .moving import Mover
from .situation import Place, Situation

TRIES = 40
ROUND, RING_M, FAR_M = 24, 0.25, 3.0
"""Who comes to stand in a body stands beside it: so many places on each ring, so far apart, so far at most."""
_HAIR_M = 1e-3
MoverOf = Callable[[str], Mover | None]
"""Gives the mover of a level, None for one that nobody has been in."""


class Places:
    """The hand that lays out in one run what steps have decided."""

    def __init__(self, situation: Situation, mover_of: MoverOf):
        self.situation, self.mover_of = situation, mover_of
        self.landed = -1
        """The cell the player came to stand in without walking; its exit leads on only once it was left."""
        self.landings = self.moves = 0
        """How often the player came to stand elsewhere without walking; how often that, or that anything was laid elsewhere."""

    # --- reading

    def place_of(self, key: str) -> Place:
        """Where the player or an object is, whatever its level: where it was put, walks or was placed."""
        situation = self.situation
        if key in (PLAYER, ""):
            player = situation.player
            return Place(situation.level, player.x, player.y, player.facing_deg)
        one, spot = situation.layout.placed[key], situation.spots.get(key)
        level = spot.level if spot is not None else one.level
        mover = self.mover_of(level)
        number = mover.scene.number.get(key) if mover is not None else None
        if mover is not None and number in mover.walkers:
            walker = mover.walkers[number]
            return Place(level, walker.x, walker.y, walker.facing_deg)
        return spot if spot is not None else Place(level, one.thing.x_m, one.thing.y_m, one.thing.turn_deg)

    def spot(self, details: Mapping[str, Any]) -> tuple[float, float] | None:
        """Where a sound or an effect is: at an object's part or the player, beside it; None outside the present level."""
        key, situation = str(details.get("at", "")), self.situation
        place = self.place_of(key)
        mover = self.mover_of(place.level)
        if place.level != situation.level:
            return None
        x, y = place.x, place.y
        if mover is not None and key in mover.scene.number:
            x, y, _ = mover.place_of(key)
        return round(x + float(details.get("east", 0.0)), 3), round(y + float(details.get("north", 0.0)), 3)

    # --- things

    def put(self, told: Told) -> None:
        """A thing comes to lie where the row says, at the spot named or as near it as the cell allows."""
        key, details = told.subject, dict(told.details)
        at = self.situation.stood.get(str(details.get("stood", ""))) or self.place_of(str(details.get("at", "")))
        x, y = at.x + float(details.get("east", 0.0)), at.y + float(details.get("north", 0.0))
        column = self.situation.layout.find("place", key)
        cell = self.situation.cells.at(at.level, x, y) if column is None else self.situation.row[column]
        within = float(details.get("within", 0.0))
        x, y = self._scattered(key, cell, x, y, within) if within else self.situation.cells.inside(cell, x, y, EDGE_M)
        self.lay(key, Place(self.situation.cells.cells[cell].level, x, y, 0.0))

    def _scattered(self, key: str, cell: int, x: float, y: float, within: float) -> tuple[float, float]:
        """A place of the cell within so many metres, with nothing between; the spot itself where none is found."""
        cells, source = self.situation.cells, scattering(self.situation, key)
        x, y = cells.inside(cell, x, y)
        shape = cells.cells[cell].shape.buffer(_HAIR_M)
        for _ in range(TRIES):
            angle, far = source.random() * 2 * math.pi, within * math.sqrt(source.random())
            px, py = x + math.cos(angle) * far, y + math.sin(angle) * far
            if shape.covers(LineString([(x, y), (px, py)])) and self._is_free(cell, (x, y), (px, py), key):
                return cells.inside(cell, px, py)
        return x, y

    def _is_free(self, cell: int, a: tuple[float, float], b: tuple[float, float], key: str) -> bool:
        """Whether no wall stands between two places of a cell, and nothing that blocks at the second."""
        level = self.situation.cells.cells[cell].level
        walls = self.situation.scene_at(level).floor.walls
        if not walls.is_empty and walls.intersects(LineString([a, b])):
            return False
        return all(solid.distance(*b) > 0.0 for solid in self._solids(level, but=key))

    def _solids(self, level: str, but: str = "") -> list[Solid]:
        """What blocks in a level now, by the row; somebody who walks is no such thing."""
        situation, scene, found = self.situation, self.situation.scene_at(level), []
        for number, one in enumerate(scene.objects):
            key, design = one.thing.key, one.design
            there = (
                situation.value("exists", key) and situation.is_here(key, level) and not situation.known("down", key)
            )
            state = situation.value("state", key)
            solid = design.body.shape != "none" and number not in scene.walkers and design.states[state].blocks
            if there and solid and key != but:
                found.append(scene.solids[number][state])
        return found

    def lay(self, key: str, place: Place) -> None:
        """An object is at a place from now on."""
        place = Place(place.level, round(place.x, 3), round(place.y, 3), place.turn_deg)
        self.situation.spots[key] = place
        self.moves += 1
        seen = self.situation.layout.find("whereabouts", key)
        if seen is not None:
            self.situation.row[seen] = self.situation.cells.at(place.level, place.x, place.y)
        for level in {place.level, self.situation.layout.placed[key].level, self.situation.level}:
            mover = self.mover_of(level)
            if mover is not None and place.level == level:
                mover.placed(key, place.x, place.y, place.turn_deg)
            elif mover is not None:
                mover.follow(key)

    def swap(self, told: Told) -> None:
        """Two objects have changed places; each stays turned as it was."""
        other = str(dict(told.details)["with"])
        here, there = self.place_of(told.subject), self.place_of(other)
        self.lay(told.subject, Place(there.level, there.x, there.y, here.turn_deg))
        self.lay(other, Place(here.level, here.x, here.y, there.turn_deg))

    def remember(self, told: Told) -> None:
        """Keep where the owner of a cue stands as it begins."""
        self.situation.stood[str(dict(told.details)["at"])] = self.place_of(told.subject)

    def start_over(self, told: Told) -> None:
        """An object is back where it was placed."""
        key = told.subject
        if key in self.situation.spots and self.situation.layout.placed[key].level:
            one = self.situation.layout.placed[key]
            self.lay(key, Place(one.level, one.thing.x_m, one.thing.y_m, one.thing.turn_deg))

    # --- the player

    def land(self, entry: str) -> None:
        """The player stands at an entry, in the cell that the row says."""
        situation, key = self.situation, moved_to(self.situation.layout, entry)
        if key:
            place = self.place_of(key)
            x, y, facing = before(place.x, place.y, place.turn_deg)
        else:
            spot = landing(situation.project, entry)
            if spot is None:
                return
            x, y, facing = spot.x, spot.y, spot.facing_deg
        x, y = self._clear_of_bodies(*situation.cells.inside(situation.cell, x, y))
        situation.player.stand(x, y, facing)
        self.landed = situation.cell
        self.landings += 1
        self.moves += 1

    def _clear_of_bodies(self, x: float, y: float) -> tuple[float, float]:
        """The place itself or the nearest of those round it in the same cell where the player stands in nothing that blocks;
        the place itself where there is none."""
        situation, radius = self.situation, self.situation.project.player.radius_m
        level, cell = situation.level, situation.cell
        solids = [s for s in self._solids(level) if s.distance(x, y) < FAR_M + radius]
        walls = situation.scene_at(level).floor.walls
        for ring in range(int(FAR_M / RING_M) + 1):
            for turn in range(ROUND if ring else 1):
                angle = 2 * math.pi * turn / ROUND
                px, py = x + math.cos(angle) * ring * RING_M, y + math.sin(angle) * ring * RING_M
                beyond = ring and (
                    situation.cells.gap_m(cell, px, py) > 0 or walls.intersects(LineString([(x, y), (px, py)]))
                )
                if not beyond and all(s.distance(px, py) >= radius for s in solids):
                    return round(px, 3), round(py, 3)
        return x, y

    def walked(self) -> None:
        """The player has walked: an exit one came out of can be taken again once it was left."""
        if self.situation.cell != self.landed:
            self.landed = -1
