"""What moves in one level: the player, the characters, and the parts of objects between two states."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
from shapely.geometry.base import BaseGeometry

from ..project.keeping import Afoot
from ..space.bodies import Pose, Solid, cleared, pose_of, room, slide, solid_of
from ..space.clear import NOWHERE, Clear
from ..space.geometry import turned
from ..space.ways import Way, Ways, ways_among
from .inputs import Input
from .scene import Scene, Swing
from .situation import TICKS_A_SECOND, Situation
from .walkers import KEEP_CLEAR_M, Walker

CLOSE_M = 0.05
PATIENCE = 45
"""For how many ticks a character waits for another before looking for a way around."""
ELDERS = 3
"""The elder of two waits so many times as long, so that one gives way."""


class Mover:
    """Poses and walkers of one level. It draws what progress has decided and never decides itself."""

    def __init__(self, situation: Situation, scene: Scene):
        self.situation, self.scene = situation, scene
        count = len(scene.objects)
        self.states = np.zeros(count, dtype=np.intp)
        self.exists = np.zeros(count, dtype=bool)
        self.reach_on = np.zeros(count, dtype=bool)
        self.blocking = np.zeros(count, dtype=bool)
        self.swings: dict[int, Swing] = {}
        self.still: list[int] = []
        self.changed: set[int] = set()
        self.layings = 0
        """How often anything here was laid elsewhere."""
        self.walkers = {n: self._walker(n) for n in scene.walkers}
        self._ways: dict[float, Ways] = {}
        self._ends: dict[int, tuple[Solid, ...]] = {}
        self._wall_free = -1, NOWHERE
        self._body_free = NOWHERE
        self.look_again()

    def _walker(self, number: int) -> Walker:
        one = self.scene.objects[number]
        radius = max(one.design.body.width_m / 2, 0.1)
        return Walker(one.thing.x_m, one.thing.y_m, one.thing.turn_deg, one.design.speed_mps, radius, one.thing.round)

    def goes_on_as(self, other: Mover) -> None:
        """Take over motions under way, between the poses that parts have by now, and who walks where."""
        for number, swing in other.swings.items():
            was, design = other.scene.objects[number].design, self.scene.objects[number].design
            now = {pose_of(a): pose_of(b) for a, b in zip(was.states, design.states, strict=True)}
            total = max(1, math.ceil(design.motion.seconds * TICKS_A_SECOND))
            passed = min(round(swing.passed / swing.total * total), total)
            ends = now.get(swing.start, swing.start), now.get(swing.end, swing.end)
            self.swings[number] = Swing(*ends, total, passed, design.motion.easing)
            self._settle_into(number)
        for number, walker in other.walkers.items():
            mine = self.walkers[number]
            self.walkers[number] = replace(walker, speed_mps=mine.speed_mps, radius_m=mine.radius_m, stops=mine.stops)
            self._carry_walker(number, self.walkers[number])

    def take_up(self, key: str, seconds: float) -> None:
        """A motion that the row says is under way goes on, for so long."""
        number, moving = self.scene.number.get(key), self.situation.known("moving", key)
        if number is None or not moving:
            return
        design = self.scene.objects[number].design
        ends = pose_of(design.states[moving - 1]), pose_of(design.states[self.states[number]])
        total = max(1, math.ceil(design.motion.seconds * TICKS_A_SECOND))
        passed = total - min(round(seconds * TICKS_A_SECOND), total)
        self.swings[number] = Swing(*ends, total, passed, design.motion.easing)
        self._settle_into(number)
        self._carry_reach(number)

    def take_up_walk(self, one: Afoot) -> None:
        """Somebody who walks here goes on from where they were."""
        number = self.scene.number.get(one.key, -1)
        if number in self.walkers:
            walker = self.walkers[number]
            walker.x, walker.y, walker.facing_deg, walker.next_stop = one.x_m, one.y_m, one.facing_deg, one.next_stop
            walker.way, walker.goal, walker.waited, walker.aside = list(one.way), one.goal, one.waited, one.aside
            self._carry_walker(number, walker)

    # --- following progress

    def look_again(self) -> None:
        """Take every object's state and place from the situation, nothing under way."""
        self.swings.clear()
        for number, one in enumerate(self.scene.objects):
            spot = self.situation.spots.get(one.thing.key)
            if spot is not None and spot.level == self.scene.level.key:
                self._lay(number, spot.x, spot.y, spot.turn_deg)
            self.states[number] = self.situation.value("state", one.thing.key)
            self._settle_into(number)
            if one.design.reach.moves_with_part:
                self._carry_reach(number)
        self.changed = set(range(len(self.scene.objects)))

    def follow(self, key: str) -> None:
        """An object's state, motion or being there has changed: begin, turn or end its motion."""
        number = self.scene.number.get(key)
        if number is None:
            return
        one, moving = self.scene.objects[number], self.situation.known("moving", key)
        old, new = int(self.states[number]), self.situation.value("state", key)
        self.states[number] = new
        if moving and self.situation.is_here(key, self.scene.level.key):
            self._swing(number, pose_of(one.design.states[old]), pose_of(one.design.states[new]))
        else:
            self.swings.pop(number, None)
            self._carry_reach(number)
        self._settle_into(number)
        self.changed.add(number)

    def _swing(self, number: int, start: Pose, end: Pose) -> None:
        """Be under way to a pose: as before, turned back from where it is, or from here."""
        motion, under_way = self.scene.objects[number].design.motion, self.swings.get(number)
        if under_way is not None and under_way.end == end:
            return
        if under_way is not None and under_way.start == end:
            self.swings[number] = under_way.reversed()
            return
        total = max(1, math.ceil(motion.seconds * TICKS_A_SECOND))
        begun = under_way.pose() if under_way is not None else start
        self.swings[number] = Swing(begun, end, total, total - 1 if begun == end else 0, motion.easing)

    def _settle_into(self, number: int) -> None:
        """What follows from an object's state: whether it is there, can be reached, and blocks."""
        one = self.scene.objects[number]
        key, states = one.thing.key, one.design.states
        state, moving = states[self.states[number]], self.situation.known("moving", key)
        down = self.is_down(key)
        here = self.situation.is_here(key, self.scene.level.key)
        self.exists[number] = bool(self.situation.value("exists", key)) and here
        self.reach_on[number] = state.reach_on and not down
        blocks = state.blocks or (moving > 0 and states[moving - 1].blocks)
        solid = one.design.body.shape != "none" and number not in self.walkers and not down
        self.blocking[number] = self.exists[number] and blocks and solid
        self._body_free = NOWHERE
        ends = tuple(self.solids_of(number)) if self.blocking[number] else ()
        if ends != self._ends.get(number, ()):
            self._ends[number] = ends
            self._ways.clear()

    def is_down(self, key: str) -> bool:
        """Whether a character is downed."""
        return bool(self.situation.known("down", key))

    def advance_swings(self) -> list[str]:
        """A tick for every motion; the keys of the objects that have come to their end, in order of creation."""
        self.still = []
        for number in sorted(self.swings):
            swing = self.swings[number]
            swing.passed = min(swing.passed + 1, swing.total)
            if swing.passed >= swing.total:
                self.still.append(number)
            self._carry_reach(number)
        return [self.scene.objects[n].thing.key for n in self.still]

    def _carry_reach(self, number: int) -> None:
        one = self.scene.objects[number]
        if one.design.reach.moves_with_part:
            solid, reach = solid_of(one.thing, one.design, self.pose(number)), one.design.reach
            dx, dy = turned(reach.offset_x_m, reach.offset_y_m, solid.turn_deg)
            self.scene.reaches.put(number, solid.x + dx, solid.y + dy, solid.turn_deg)

    def placed(self, key: str, x: float, y: float, turn_deg: float) -> None:
        """An object was put somewhere in this level."""
        number = self.scene.number.get(key)
        if number is not None:
            self._lay(number, x, y, turn_deg)
            self.swings.pop(number, None)
            self.states[number] = self.situation.value("state", key)
            self._settle_into(number)
            self.changed.add(number)

    def _lay(self, number: int, x: float, y: float, turn_deg: float) -> None:
        self.scene.place(number, x, y, turn_deg)
        self.layings += 1
        self._body_free = NOWHERE
        if number in self.walkers:
            walker = self.walkers[number]
            walker.x, walker.y, walker.facing_deg, walker.way, walker.goal = x, y, turn_deg, [], None
        self._ways.clear()

    def pose(self, number: int) -> Pose:
        """Where an object's part is now."""
        swing = self.swings.get(number)
        return swing.pose() if swing else pose_of(self.scene.objects[number].design.states[self.states[number]])

    # --- walking

    def move(self, given: Input, seconds: float, *, held: bool) -> None:
        """The player, then the characters, by one tick. Positions are rounded to 1 mm. `held`: the player cannot walk."""
        player, body = self.situation.player, self.situation.project.player
        player.was = player.x, player.y
        dx, dy = (0.0, 0.0) if held else self._direction(given, body.speed_mps * seconds)
        if dx or dy:
            player.facing_deg = round(math.degrees(math.atan2(dy, dx)), 3)
            area, step = self.scene.floor.area_at(player.x, player.y), math.hypot(dx, dy)
            solids, x, y = self.solids_near(step), player.x + dx, player.y + dy
            if solids or not self._free_of_walls(area, body.radius_m + step):
                stops = self.scene.floor.stops_in(area)
                x, y = slide(player.x, player.y, dx, dy, body.radius_m, stops, solids)
            if player.way and math.hypot(x - player.x, y - player.y) < math.hypot(dx, dy) * 0.1:
                self._go_round()
            self._step_to(x, y, area)
        if given.look is not None:
            player.facing_deg = round(given.look, 3)
        self._move_walkers(seconds)

    def _free_of_walls(self, area: int, room_m: float) -> bool:
        """Whether nothing of the floor of an area is so near to the player."""
        player = self.situation.player
        if self._wall_free[0] != area or not self._wall_free[1].has(player.x, player.y, room_m):
            free = room(player.x, player.y, self.scene.floor.stops_in(area))
            self._wall_free = area, Clear(player.x, player.y, free)
        return self._wall_free[1].has(player.x, player.y, room_m)

    def _step_to(self, x: float, y: float, area: int) -> None:
        """Stand a step further than in an area; over a ledge one comes to stand clear of it, below."""
        floor, player = self.scene.floor, self.situation.player
        if floor.ledges and (there := floor.area_at(x, y)) != area:
            x, y = cleared(x, y, self.situation.project.player.radius_m, floor.stops_in(there))
        player.x, player.y = round(x, 3), round(y, 3)

    def way_round(self, goal: tuple[float, float], shunned: BaseGeometry) -> list[tuple[float, float]]:
        """The bends of the way to a place that keeps out of a shape, the place last; empty where there is none."""
        player, radius = self.situation.player, self.situation.project.player.radius_m
        ways = Ways(self.scene.floor, radius + CLOSE_M, [*self._standing(), *self._people(-1)], shunned)
        return ways.way((player.x, player.y), goal) or []

    def _go_round(self) -> None:
        """The way is blocked by somebody: look for another once around all who stand there now, else stop."""
        player, radius = self.situation.player, self.situation.project.player.radius_m
        goal = player.way[-1]
        ways = Ways(self.scene.floor, radius + CLOSE_M, [*self._standing(), *self._people(-1)])
        way = ways.way((player.x, player.y), goal) or []
        player.way = [] if way[:1] == player.way[:1] else way

    def _standing(self) -> list[Solid]:
        return [s for n in self.blocking.nonzero()[0] for s in self.solids_of(int(n))]

    def _people(self, but: int) -> list[Solid]:
        """Everybody who walks here, as bodies."""
        return [
            Solid(w.x, w.y, 0.0, self.scene.objects[n].design.body)
            for n, w in self.walkers.items()
            if n != but and self.exists[n]
        ]

    def _direction(self, given: Input, length: float) -> tuple[float, float]:
        player = self.situation.player
        if given.move != (0.0, 0.0):
            size = max(1.0, math.hypot(*given.move))
            return given.move[0] / size * length, given.move[1] / size * length
        while player.way:
            gx, gy = player.way[0][0] - player.x, player.way[0][1] - player.y
            gap = math.hypot(gx, gy)
            if gap > 0.02:
                share = min(1.0, length / gap)
                return gx * share, gy * share
            player.way.pop(0)
        return 0.0, 0.0

    def _move_walkers(self, seconds: float) -> None:
        talker, player = self._talker(), self.situation.player
        for number, walker in self.walkers.items():
            if self.exists[number] and not self.is_down(self.scene.objects[number].thing.key):
                others = [(player.x, player.y, self.situation.project.player.radius_m)]
                others += [(w.x, w.y, w.radius_m) for n, w in self.walkers.items() if n != number and self.exists[n]]
                walker.step(seconds, self.ways(walker.radius_m), others, number == talker)
                patience = PATIENCE if self._gives_way(number, walker) else ELDERS * PATIENCE
                if walker.waited >= patience:
                    self._pass_by(number, walker)
                self._carry_walker(number, walker)

    def _pass_by(self, number: int, walker: Walker) -> None:
        """Two who stand in each other's way: this one looks for a way around everybody else, else lets the other by."""
        walker.waited = 0
        goal = walker.way[-1] if walker.way else None
        player, radius = self.situation.player, self.situation.project.player.radius_m
        if goal is None:
            return
        others = self._people(number)
        clear = Ways(self.scene.floor, walker.radius_m + CLOSE_M + KEEP_CLEAR_M, [*self._standing(), *others])
        way = clear.way((walker.x, walker.y), goal)
        if way and math.dist(way[-1], goal) < CLOSE_M:
            walker.way = way
        else:
            crowd = [(w.x, w.y) for n, w in self.walkers.items() if n != number and self.exists[n]]
            crowd.append((player.x, player.y))
            walker.step_aside(self.ways(walker.radius_m), crowd, 2 * (walker.radius_m + max(radius, walker.radius_m)))

    def _gives_way(self, number: int, walker: Walker) -> bool:
        """Whether of those who stand close together another is older, or nobody but the player is there."""
        if not walker.waited:
            return True
        near = [
            n
            for n, w in self.walkers.items()
            if n != number and self.exists[n] and math.dist((w.x, w.y), (walker.x, walker.y)) < 4 * walker.radius_m
        ]
        return not near or number > min(near)

    def _carry_walker(self, number: int, walker: Walker) -> None:
        """The reach of whoever walks goes along, and where it is seen."""
        reach, key = self.scene.objects[number].design.reach, self.scene.objects[number].thing.key
        dx, dy = turned(reach.offset_x_m, reach.offset_y_m, walker.facing_deg)
        self.scene.reaches.put(number, walker.x + dx, walker.y + dy, walker.facing_deg)
        self.scene.reaches.floor[number] = self.scene.floor.height_at(walker.x, walker.y)
        column = self.situation.layout.find("whereabouts", key)
        if column is not None:
            likely = self.situation.row[column]
            self.situation.row[column] = self.situation.cells.at(self.scene.level.key, walker.x, walker.y, likely)

    def _talker(self) -> int:
        """Who stands still because they speak."""
        spoken = self.situation.known("talk")
        if not 0 < spoken <= len(self.situation.layout.speeches):
            return -1
        conversation, _ = self.situation.layout.speeches[spoken - 1]
        talker = self.situation.who(self.situation.layout.conversations[conversation].talker)
        return self.scene.number.get(talker or "", -1)

    def solids_near(self, step: float) -> list[Solid]:
        """What the player could run into within a step, characters among it."""
        scene, player = self.scene, self.situation.player
        found, radius = [], self.situation.project.player.radius_m
        if not self._body_free.has(player.x, player.y, radius + step + CLOSE_M):
            gaps = np.hypot(scene.middles[:, 0] - player.x, scene.middles[:, 1] - player.y) - scene.sizes
            meets = (self.blocking & (gaps < radius + step + CLOSE_M)).nonzero()[0]
            found = [s for n in meets for s in self.solids_of(int(n))]
            self._body_free = Clear(player.x, player.y, float(gaps[self.blocking].min(initial=math.inf)))
        for number, walker in self.walkers.items():
            body = Solid(walker.x, walker.y, walker.facing_deg, scene.objects[number].design.body)
            near = math.hypot(walker.x - player.x, walker.y - player.y) < body.reach_m + radius + step + CLOSE_M
            if near and self.exists[number] and not self.is_down(scene.objects[number].thing.key):
                found.append(body)
        return found

    def solids_of(self, number: int) -> list[Solid]:
        """What of an object blocks now: while it moves, each end that does."""
        one = self.scene.objects[number]
        ends = {int(self.states[number])}
        moving = self.situation.known("moving", one.thing.key)
        if moving:
            ends.add(moving - 1)
        return [self.scene.solids[number][i] for i in sorted(ends) if one.design.states[i].blocks]

    def ways(self, radius: float) -> Ways:
        """The walkable floor as it is now, kept until something that blocks changes."""
        if radius not in self._ways:
            self._ways[radius] = ways_among(self.scene.floor, radius, tuple(self._standing()))
        return self._ways[radius]

    def place_of(self, key: str) -> tuple[float, float, float]:
        """Where an object is now, or was before it went, and how it is turned; a character where it walks, a part where
        it has moved to."""
        number = self.scene.number[key]
        walker = self.walkers.get(number)
        if walker is not None:
            return walker.x, walker.y, walker.facing_deg
        one = self.scene.objects[number]
        solid = solid_of(one.thing, one.design, self.pose(number))
        return solid.x, solid.y, solid.turn_deg

    def way_to(self, goal: tuple[float, float]) -> Way:
        """The player's way to a point, empty without one."""
        player = self.situation.player
        return self.ways(self.situation.project.player.radius_m).way((player.x, player.y), goal) or []
