"""What bodies mean to the rules besides the player's reach: who counts, who stands in the way, touch, look, aim."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import TYPE_CHECKING

import numpy as np

from ..progress.layout import around_column
from ..progress.mentions import PLAYER
from ..progress.needs import may_use
from ..progress.onerow import holds_on
from ..project.records import Ability
from ..space.bodies import in_the_way
from .focus import LOOKED_AT_DEG

if TYPE_CHECKING:
    from .run import Run
    from .scene import Scene
    from .sensing import Senses

CHARACTERS = "characters"
SOMEBODY = "somebody"
TOUCH_M = 0.03
LOOK_M = 10.0
"""How far off something can be looked at that has no reach and asks for no sight."""


class Bodily:
    """The sensed columns of one level that go by bodies: other characters, tagged things, the player's own."""

    def __init__(self, run: Run, scene: Scene):
        self.run, self.scene = run, scene
        table, numbers = run.program.table, scene.number
        self._standing = [n for n, one in enumerate(scene.objects) if one.design.walks and n not in scene.walkers]
        """Characters that have no round and carry nothing: they stand where they were placed."""
        self._in_way = {n: table.number(f"in_way:{scene.objects[n].thing.key}") for n in scene.swept}
        self._around = [
            (numbers[key], how, who, table.number(around_column(key, how, who)))
            for key, how, who in run.layout.mentions.arounds
            if key in numbers and not (how == "in reach of" and who == PLAYER)
        ]
        self._touching = self._columns("touching")
        self._looking = self._columns("looking")
        self.aims: dict[str, int] = {}
        """For each ability the object that is aimed at now."""
        self._targets = {
            ability.key: [(numbers[k], table.number(f"aimed_at:{k}/{ability.key}")) for k in keys if k in numbers]
            for ability in run.project.abilities
            if (keys := run.layout.mentions.struck.get(ability.key))
        }
        self._usable = {key: may_use(run.layout, key) for key in self._targets}

    def _columns(self, what: str) -> dict[int, int]:
        table = self.run.program.table
        keys = {n: f"{what}:{one.thing.key}" for n, one in enumerate(self.scene.objects)}
        return {n: table.number(key) for n, key in keys.items() if table.has(key)}

    def sense(self, senses: Senses) -> list[str]:
        """Write the columns; the actions of what began or ended by touch and look, in order of creation."""
        row = self.run.row
        for column in self._in_way.values():
            row[column] = 0
        for number in self._ways_met():
            row[self._in_way[number]] = 1
        for number, how, who, column in self._around:
            row[column] = int(self._is_around(number, how, who, bool(row[column])))
        for ability in self._targets:
            self._aim(ability, senses)
        found = [(n, c, "touch", "let_go", self._touches(n)) for n, c in self._touching.items()]
        found += [(n, c, "look_at", "look_away", self._is_looked_at(n, senses)) for n, c in self._looking.items()]
        return [
            f"{begin if now else end}:{self.scene.objects[n].thing.key}"
            for n, column, begin, end, now in found
            if now != bool(row[column])
        ]

    def _ways_met(self) -> list[int]:
        """The stay-clear objects that somebody is in the way of; only bodies near one are looked at closely."""
        if not self._in_way:
            return []
        numbers, bodies = np.array(list(self._in_way), dtype=np.intp), list(self.bodies(SOMEBODY))
        places = np.array(bodies)
        gaps = np.hypot(
            self.scene.middles[numbers, 0, None] - places[None, :, 0],
            self.scene.middles[numbers, 1, None] - places[None, :, 1],
        )
        near = gaps < self.scene.swept_sizes[numbers, None] + places[None, :, 2]
        pairs: dict[int, list[int]] = {}
        for i, j in np.argwhere(near):
            pairs.setdefault(int(numbers[i]), []).append(int(j))
        return [n for n, found in pairs.items() if any(self._in_the_way(n, bodies[j]) for j in found)]

    def leave(self) -> None:
        """The player is in another level."""
        row = self.run.row
        for column in (*self._in_way.values(), *(c for *_, c in self._around)):
            row[column] = 0
        for column in (*self._touching.values(), *self._looking.values()):
            row[column] = 0
        for targets in self._targets.values():
            for _, column in targets:
                row[column] = 0
        self.aims = {}

    # --- who counts

    def bodies(self, who: str, but: int = -1) -> Iterator[tuple[float, float, float]]:
        """Everybody of a sort who is here, as discs: the player, characters, somebody (either), or what has a tag.

        The object of the number `but` is left out: nothing is in its own reach or way.
        """
        mover, scene = self.run.mover, self.scene
        if who in (PLAYER, SOMEBODY):
            yield mover.x, mover.y, self.run.project.player.radius_m
        if who in (CHARACTERS, SOMEBODY):
            yield from ((w.x, w.y, w.radius_m) for n, w in mover.walkers.items() if n != but and self._is_up(n))
            yield from (self._disc(n) for n in self._standing if n != but and self._is_up(n))
        if who in (PLAYER, SOMEBODY, CHARACTERS):
            return
        for number, one in enumerate(scene.objects):
            if who in one.design.tags and number != but and self._is_up(number):
                yield self._disc(number)

    def _disc(self, number: int) -> tuple[float, float, float]:
        one = self.scene.objects[number]
        return *self.run.mover.place_of(one.thing.key), max(one.design.body.width_m / 2, 0.05)

    def _is_up(self, number: int) -> bool:
        return bool(self.run.mover.exists[number]) and not self.run.is_down(self.scene.objects[number].thing.key)

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
        if not self.run.mover.exists[number]:
            return False
        if how == "in reach of":
            return self._inside(number, who, was)
        return any(self._in_the_way(number, body) for body in self.bodies(who, number))

    def _in_the_way(self, number: int, body: tuple[float, float, float]) -> bool:
        if self.scene.objects[number].design.body.shape == "none":
            return False
        return in_the_way(self.scene.passes_over(number), *body)

    # --- the player's own body and eyes

    def _touches(self, number: int) -> bool:
        mover, radius = self.run.mover, self.run.project.player.radius_m
        if not mover.exists[number]:
            return False
        if number in mover.walkers:
            walker = mover.walkers[number]
            return math.hypot(walker.x - mover.x, walker.y - mover.y) < walker.radius_m + radius + TOUCH_M
        solid = self.scene.solids[number][mover.states[number]]
        return bool(solid.distance(mover.x, mover.y) < radius + TOUCH_M)

    def _is_looked_at(self, number: int, senses: Senses) -> bool:
        reach = self.scene.objects[number].design.reach
        if not self.run.mover.exists[number] or senses.facing(number) > (reach.facing_deg or LOOKED_AT_DEG):
            return False
        if reach.sight_m is None and reach.shape != "none":
            return bool(senses.inside[number]) and senses.sees(number)
        return self._gap(number, senses) <= (reach.sight_m or LOOK_M) and senses.sees(number)

    def _gap(self, number: int, senses: Senses) -> float:
        x, y = senses.place(number)
        return math.hypot(x - self.run.mover.x, y - self.run.mover.y)

    def _aim(self, ability: str, senses: Senses) -> None:
        """Write who is aimed at with an ability: of those in range, in sight and in front the one most in front."""
        record = next(a for a in self.run.project.abilities if a.key == ability)
        best = self._best_target(record, senses) if holds_on(self._usable[ability], self.run.row) else None
        self.aims.pop(ability, None)
        if best is not None:
            self.aims[ability] = best
        for number, column in self._targets[ability]:
            self.run.row[column] = int(number == best)

    def why_not(self, ability: str) -> str:
        """Why an ability has no target now: what the player lacks for it, or that nothing is aimed at."""
        run = self.run
        record = next(a for a in run.project.abilities if a.key == ability)
        if holds_on(may_use(run.layout, ability), run.row):
            return f"nothing within {record.range_m:g} m in front answers to it"
        zones = [z for z in run.layout.hands_off(ability) if run.value(f"near:{z}")]
        if zones:
            return f"not here: {run.words.name(zones[0])} suspends it"
        if run.value(f"suspended:{ability}"):
            return "it is suspended"
        return f"needs {run.words.name(record.gear)} in hand" if record.gear else "it was not granted"

    def _best_target(self, ability: Ability, senses: Senses) -> int | None:
        found = []
        for number, _ in self._targets[ability.key]:
            near = self._is_up(number) and self._gap(number, senses) <= ability.range_m
            if near and senses.facing(number) <= ability.aim_deg and senses.sees(number):
                found.append((senses.facing(number), self._gap(number, senses), number))
        return min(found)[2] if found else None
