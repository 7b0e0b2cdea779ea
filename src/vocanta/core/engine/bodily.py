"""What bodies mean to the rules besides the player's reach: who counts, who stands in the way, touch, look, aim."""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np
import shapely
from shapely.geometry import Point

from ..phrases.vocabulary import CHARACTERS, PLAYER, SOMEBODY
from ..progress.columns import What
from ..progress.layout import around_column
from ..progress.meaning import player_inside
from ..progress.needs import may_use
from ..progress.onerow import holds_on
from ..space.clear import NOWHERE, Clear
from ..space.working import LOOKED_AT_DEG
from .looking import MARGIN_DEG, Eyes
from .moving import Mover
from .situation import Situation

TOUCH_M = 0.03
_ROUNDING_M = 1e-6
LOOK_M = 10.0
"""How far off something can be looked at that has no reach and asks for no sight."""
Edge = tuple[int, str, str, bool]
"""An object's number, the actions of beginning and ending, and whether it is so now."""


class Bodily:
    """The sensed columns of one level that go by bodies: other characters, tagged things, the player's own."""

    def __init__(self, situation: Situation, mover: Mover, eyes: Eyes):
        self.situation, self.mover, self.eyes, self.scene = situation, mover, eyes, mover.scene
        layout, numbers, scene = situation.layout, self.scene.number, self.scene
        self._standing = [n for n, one in enumerate(scene.objects) if one.design.walks and n not in scene.walkers]
        """Characters that have no round and carry nothing: they stand where they were placed."""
        self._in_way = self._columns("in_way")
        self._ways_of = list(self._in_way)
        self._laid = -1
        self._free: dict[int, Clear] = {}
        self._gaps: dict[tuple[int, int], tuple[float, float, float]] = {}
        """What is remembered only to be quick: where each body is in nobody's way, and how far it was off whose."""
        self._around = [
            (numbers[key], how, who, layout.column(*around_column(key, how, who)))
            for key, how, who in layout.mentions.arounds
            if key in numbers and around_column(key, how, who)[0] in ("reach_by", "way_by")
        ]
        self._touching = self._columns("touching")
        self._looking = self._columns("looking")
        self.aims: dict[str, int] = {}
        """For each ability the object that is aimed at now."""
        self._targets = {
            ability.key: [(numbers[k], layout.column("aimed_at", f"{k}/{ability.key}")) for k in keys if k in numbers]
            for ability in situation.project.abilities
            if (keys := layout.mentions.struck.get(ability.key))
        }
        self._abilities = {ability.key: ability for ability in situation.project.abilities}
        self._usable = {key: may_use(layout, key) for key in self._targets}

    def _columns(self, what: What) -> dict[int, int]:
        found = {n: self.situation.layout.find(what, one.thing.key) for n, one in enumerate(self.scene.objects)}
        return {n: column for n, column in found.items() if column is not None}

    def senses(self) -> Iterator[tuple[int, int]]:
        """The sensed columns that are something else now, with their values; those of arounds always."""
        row, met = self.situation.row, set(self._ways_met())
        yield from ((column, int(n in met)) for n, column in self._in_way.items() if row[column] != (n in met))
        for number, how, who, column in self._around:
            yield column, int(self._is_around(number, how, who, bool(self.situation.row[column])))
        for ability in self._targets:
            yield from self._aim(ability)

    def edges(self) -> list[tuple[int, Edge]]:
        """For each column of touch and look the object, its two actions, and whether it is so now."""
        row = self.situation.row
        found = [(c, (n, "touch", "let_go", self._touches(n))) for n, c in self._touching.items()]
        return found + [
            (c, (n, "look_at", "look_away", self._is_looked_at(n, bool(row[c])))) for n, c in self._looking.items()
        ]

    def silent(self) -> Iterator[tuple[int, int]]:
        """The sensed columns of a level where the player is not."""
        self.aims = {}
        yield from ((column, 0) for column in self._in_way.values())
        yield from ((column, 0) for *_, column in self._around)
        yield from ((column, 0) for targets in self._targets.values() for _, column in targets)

    def pairs(self) -> list[tuple[int, int, str]]:
        """The columns of touch and look, their objects, and the actions that end them."""
        touching = [(c, n, "let_go") for n, c in self._touching.items()]
        return touching + [(c, n, "look_away") for n, c in self._looking.items()]

    def _ways_met(self) -> list[int]:
        """The objects that somebody is in the way of; only bodies near one are looked at closely."""
        if not self._in_way:
            return []
        if self._laid != self.mover.layings:
            self._laid, self._free, self._gaps = self.mover.layings, {}, {}
        found: set[int] = set()
        for who, (x, y, radius) in enumerate(self.bodies(SOMEBODY)):
            if not self._free.get(who, NOWHERE).has(x, y, radius):
                found.update(n for n in self._ways_near(who, x, y, radius) if n not in found and self._stands(n))
        return sorted(found)

    def _ways_near(self, who: int, x: float, y: float, radius: float) -> Iterator[int]:
        """The objects whose ways a disc touches; for whom it is, is remembered, as one who moves little meets the same."""
        numbers = np.array(self._ways_of, dtype=np.intp)
        away = np.hypot(*(self.scene.middles[numbers] - (x, y)).T) - self.scene.swept_size(numbers)
        free = float(away.min(initial=math.inf, where=away >= radius))
        for number in numbers[away < radius].tolist():
            least, meets = self._met_by(who, number, x, y, radius)
            free = min(free, least)
            if meets:
                yield number
        self._free[who] = Clear(x, y, free)

    def _met_by(self, who: int, number: int, x: float, y: float, radius: float) -> tuple[float, bool]:
        """How far a point is off the way of an object at least, and whether a disc there touches it; asked again only
        where it has moved far enough to change that."""
        was_x, was_y, gap = self._gaps.get((who, number), (math.inf, math.inf, 0.0))
        moved = math.hypot(x - was_x, y - was_y) + _ROUNDING_M
        if gap - moved < radius < gap + moved:
            gap, moved = self._gap(number, x, y), 0.0
            self._gaps[who, number] = x, y, gap
        return gap - moved, gap < radius

    def _gap(self, number: int, x: float, y: float) -> float:
        """How far a point is off what an object passes over, metres; endless for what has no body."""
        if self.scene.objects[number].design.body.shape == "none":
            return math.inf
        return float(shapely.distance(self.scene.passes_over(number), Point(x, y)))

    def _stands(self, number: int) -> bool:
        return bool(self.mover.exists[number])

    # --- who counts

    def bodies(self, who: str, but: int = -1) -> Iterator[tuple[float, float, float]]:
        """Everybody of a sort who is here, as discs: the player, characters, somebody (either), or what has a tag.

        The object of the number `but` is left out: nothing is in its own reach or way.
        """
        player = self.situation.player
        if who in (PLAYER, SOMEBODY):
            yield player.x, player.y, self.situation.project.player.radius_m
        if who in (CHARACTERS, SOMEBODY):
            yield from ((w.x, w.y, w.radius_m) for n, w in self.mover.walkers.items() if n != but and self._is_up(n))
            yield from (self._disc(n) for n in self._standing if n != but and self._is_up(n))
        if who in (PLAYER, SOMEBODY, CHARACTERS):
            return
        for number, one in enumerate(self.scene.objects):
            if who in one.design.tags and number != but and self._is_up(number):
                yield self._disc(number)

    def _disc(self, number: int) -> tuple[float, float, float]:
        one = self.scene.objects[number]
        x, y, _ = self.mover.place_of(one.thing.key)
        return x, y, max(one.design.body.width_m / 2, 0.05)

    def _is_up(self, number: int) -> bool:
        return bool(self.mover.exists[number]) and not self.mover.is_down(self.scene.objects[number].thing.key)

    def anybody_in(self, number: int, who: tuple[str, ...], was_in: bool, *, player_in: bool) -> bool:
        """Whether anybody who counts is inside an object's reach; the object itself does not count."""
        if PLAYER in who and player_in:
            return True
        return any(self._inside(number, sort, was_in) for sort in who if sort != PLAYER)

    def _inside(self, number: int, sort: str, was_in: bool) -> bool:
        scene = self.scene
        return any(
            scene.reaches.holds(number, x, y, was_in, scene.floor.height_at(x, y))
            for x, y, _ in self.bodies(sort, number)
        )

    def _is_around(self, number: int, how: str, who: str, was: bool) -> bool:
        if not self.mover.exists[number]:
            return False
        if how == "in reach of":
            return bool(self.mover.reach_on[number]) and self._inside(number, who, was)
        return any(self._gap(number, x, y) < radius for x, y, radius in self.bodies(who, number))

    # --- the player's own body and eyes

    def _touches(self, number: int) -> bool:
        mover, player, radius = self.mover, self.situation.player, self.situation.project.player.radius_m
        if not mover.exists[number]:
            return False
        if number in mover.walkers:
            walker = mover.walkers[number]
            return math.hypot(walker.x - player.x, walker.y - player.y) < walker.radius_m + radius + TOUCH_M
        solid = self.scene.solids[number][mover.states[number]]
        return bool(solid.distance(player.x, player.y) < radius + TOUCH_M)

    def _is_looked_at(self, number: int, was: bool) -> bool:
        reach = self.scene.objects[number].design.reach
        limit = (reach.facing_deg or LOOKED_AT_DEG) + (MARGIN_DEG if was else 0.0)
        if not self.mover.exists[number] or self.eyes.off_by(number) > limit:
            return False
        if reach.sight_m is None and reach.shape != "none":
            return self._inside(number, PLAYER, was) and self.eyes.sees(number)
        return self.eyes.gap(number) <= (reach.sight_m or LOOK_M) and self.eyes.sees(number)

    def _aim(self, ability: str) -> Iterator[tuple[int, int]]:
        """Who is aimed at with an ability: of those in range, in sight and in front the one most in front."""
        usable = holds_on(self._usable[ability], self.situation.row)
        best = self._best_target(ability) if usable else None
        self.aims.pop(ability, None)
        if best is not None:
            self.aims[ability] = best
        row, targets = self.situation.row, self._targets[ability]
        yield from ((column, int(n == best)) for n, column in targets if row[column] != (n == best))

    def usable(self, ability: str) -> bool:
        """Whether the player may use an ability now."""
        return holds_on(may_use(self.situation.layout, ability), self.situation.row)

    def why_not(self, ability: str) -> str:
        """Why an ability has no target now: what the player lacks for it, or that nothing is aimed at."""
        situation = self.situation
        record = next(a for a in situation.project.abilities if a.key == ability)
        if self.usable(ability):
            return f"nothing within {record.range_m:g} m in front answers to it"
        zones = [
            z
            for z in situation.layout.hands_off(ability)
            if holds_on(player_inside(situation.layout, z), situation.row)
        ]
        if zones:
            return f"not here: {situation.words.name(zones[0])} suspends it"
        if situation.known("suspended", ability):
            return "it is suspended"
        return f"needs {situation.words.name(record.gear)} in hand" if record.gear else "it was not granted"

    def _best_target(self, key: str) -> int | None:
        found, ability = [], self._abilities[key]
        for number, _ in self._targets[ability.key]:
            near = self._is_up(number) and self.eyes.gap(number) <= ability.range_m
            if near and self.eyes.off_by(number) <= ability.aim_deg and self.eyes.sees(number):
                found.append((self.eyes.off_by(number), self.eyes.gap(number), number))
        return min(found)[2] if found else None
