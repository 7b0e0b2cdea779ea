"""About how far it is on foot from one thing to be done to the next: over the bare floor, whatever stands on it or is shut.

By this the ways of as few things to do are weighed against one another; the metres that are told are those that were walked.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property

from ..progress.program import Action, Program
from ..project.records import Level
from ..proof.flats import Flat
from ..proof.places import Places
from ..proof.routes import Place
from ..space.floor import floor_of
from ..space.ways import Ways


@dataclass(frozen=True, slots=True)
class Spot:
    """A place on the floor of a level, metres."""

    level: str
    x_m: float
    y_m: float


class Afoot:
    """The metres between the things to be done in one program, from where a run of it begins."""

    def __init__(self, program: Program, places: Places, begins: Spot):
        self._actions, self._places, self._begins = program.actions, places, begins
        self._radius = program.layout.project.player.radius_m
        self._levels: dict[str, Level] = {level.key: level for level in program.layout.project.levels}
        self._ways: dict[str, Ways] = {}
        self._from: dict[Spot, dict[Spot, float]] = {}

    def __call__(self, flat: Flat, place: Place) -> tuple[float, Place]:
        """How many metres from a place to where a flat is done, and where one is behind it; None is the beginning."""
        here = place if isinstance(place, Spot) else self._begins
        to, behind = self._done_at(self._actions[flat.action])
        if to is None:
            return 0.0, here
        metres = self._metres_from(here).get(to, math.inf) if here.level == to.level else 0.0
        # Where the bare floor leads nowhere one gets there by something else: a ledge, a step that moves the player.
        return metres if math.isfinite(metres) else 0.0, behind

    def _done_at(self, action: Action) -> tuple[Spot | None, Spot | None]:
        """Where an action is done and where the player is behind it; None where that is anywhere."""
        if action.kind == "exit":
            return self._exits.get(action.subject, (None, None))
        spot = self._objects.get(action.subject)
        return spot, spot

    @cached_property
    def _objects(self) -> dict[str, Spot]:
        layout = self._places.layout
        return {
            key: Spot(one.level, one.thing.x_m, one.thing.y_m)
            for key, one in layout.placed.items()
            if one.level and not layout.mentions.movable(key) and not self._places.roams(key)
        }

    @cached_property
    def _exits(self) -> dict[str, tuple[Spot, Spot]]:
        return {
            e.key: (Spot(level.key, e.x_m, e.y_m), Spot(e.to_level or level.key, e.to_x_m, e.to_y_m))
            for level in self._levels.values()
            for e in level.exits
        }

    def _metres_from(self, here: Spot) -> dict[Spot, float]:
        """The metres from a spot to everything that is done on its level."""
        if here not in self._from:
            if here.level not in self._ways:
                self._ways[here.level] = Ways(floor_of(self._levels[here.level]), self._radius, ())
            spots = [*self._objects.values(), *(leaves for leaves, _ in self._exits.values())]
            there = [spot for spot in dict.fromkeys(spots) if spot.level == here.level]
            metres = self._ways[here.level].metres((here.x_m, here.y_m), [(s.x_m, s.y_m) for s in there])
            self._from[here] = dict(zip(there, metres, strict=True))
        return self._from[here]
