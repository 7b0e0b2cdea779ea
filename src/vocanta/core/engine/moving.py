"""What moves: the player, the characters, and the parts of objects between two states."""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

import numpy as np

from ..space.bodies import Pose, Solid, cleared, pose_of, slide, solid_of
from ..space.geometry import turned
from ..space.ways import Way, Ways
from .chronicle import TICKS_A_SECOND
from .inputs import Input
from .scene import Scene, Swing
from .walkers import KEEP_CLEAR_M, Walker

if TYPE_CHECKING:
    from .run import Run

CLOSE_M = 0.05
PATIENCE = 45
"""For how many ticks a character waits for another before looking for a way around."""


class Mover:
    """Positions and swings of one run. It draws what progress has decided and never decides itself."""

    def __init__(self, run: Run, scene: Scene, x: float, y: float, facing_deg: float):
        self.run, self.scene = run, scene
        self.x, self.y, self.facing_deg = x, y, facing_deg
        count = len(scene.objects)
        self.states = np.zeros(count, dtype=np.intp)
        self.exists = np.zeros(count, dtype=bool)
        self.reach_on = np.zeros(count, dtype=bool)
        self.blocking = np.zeros(count, dtype=bool)
        self.swings: dict[int, Swing] = {}
        self.still: list[int] = []
        self.changed: set[int] = set()
        self.walkers = {n: self._walker(n) for n in scene.walkers}
        self._ways: dict[float, tuple[bytes, Ways]] = {}
        self.look_again()

    def _walker(self, number: int) -> Walker:
        one = self.scene.objects[number]
        radius = max(one.design.body.width_m / 2, 0.1)
        return Walker(one.thing.x_m, one.thing.y_m, one.thing.turn_deg, one.design.speed_mps, radius, one.thing.round)

    @property
    def floor_m(self) -> float:
        """The height of the floor the player stands on."""
        return self.scene.floor.height_at(self.x, self.y)

    def stand(self, x: float, y: float, facing_deg: float) -> None:
        """The player stands somewhere else at once."""
        self.x, self.y, self.facing_deg = round(x, 3), round(y, 3), facing_deg
        self.run.way = []

    # --- following progress

    def look_again(self) -> None:
        """Take every object's state from the row, nothing under way."""
        self.swings.clear()
        for number, one in enumerate(self.scene.objects):
            self.states[number] = self.run.value(f"state:{one.thing.key}")
            self._settle_into(number)
            if one.design.reach.moves_with_part:
                self._carry_reach(number)
        self.changed = set(range(len(self.scene.objects)))

    def follow(self, key: str) -> None:
        """An object's state or existence has changed: begin, turn or end its motion. Those of other levels wait."""
        number = self.scene.number.get(key)
        if number is None:
            return
        old, new = int(self.states[number]), self.run.value(f"state:{key}")
        self.states[number] = new
        design = self.scene.objects[number].design
        if new != old and self.run.value(f"moving:{key}"):
            self._begin_swing(number, pose_of(design.states[old]), pose_of(design.states[new]))
        self._settle_into(number)
        self.changed.add(number)

    def _begin_swing(self, number: int, start: Pose, end: Pose) -> None:
        motion = self.scene.objects[number].design.motion
        under_way = self.swings.get(number)
        if under_way is not None and under_way.start == end:
            self.swings[number] = under_way.reversed()
            return
        total = max(1, math.ceil(motion.seconds * TICKS_A_SECOND))
        self.swings[number] = Swing(under_way.pose() if under_way else start, end, total, 0, motion.easing)

    def _settle_into(self, number: int) -> None:
        """What follows from an object's state: whether it is there, can be reached, and blocks."""
        one = self.scene.objects[number]
        key, states = one.thing.key, one.design.states
        state, moving = states[self.states[number]], self.run.value(f"moving:{key}")
        down = self.run.is_down(key)
        self.exists[number] = bool(self.run.value(f"exists:{key}")) and self.run.is_here(key, self.scene.level.key)
        self.reach_on[number] = state.reach_on and not down
        blocks = state.blocks or (moving > 0 and states[moving - 1].blocks)
        solid = one.design.body.shape != "none" and number not in self.walkers and not down
        self.blocking[number] = self.exists[number] and blocks and solid

    def advance_swings(self) -> list[str]:
        """A tick for every motion; the keys of the objects that have arrived, in order of creation."""
        self.still = []
        for number in sorted(self.swings):
            swing = self.swings[number]
            swing.passed += 1
            if swing.passed >= swing.total:
                del self.swings[number]
                self.still.append(number)
            self._carry_reach(number)
        return [self.scene.objects[n].thing.key for n in self.still]

    def _carry_reach(self, number: int) -> None:
        one = self.scene.objects[number]
        if one.design.reach.moves_with_part:
            solid, reach = solid_of(one.thing, one.design, self.pose(number)), one.design.reach
            dx, dy = turned(reach.offset_x_m, reach.offset_y_m, solid.turn_deg)
            self.scene.reaches.put(number, solid.x + dx, solid.y + dy, solid.turn_deg)

    def arrived(self, key: str) -> None:
        """A motion has ended: only its last state decides what blocks."""
        number = self.scene.number.get(key)
        if number is not None:
            self.swings.pop(number, None)
            self._settle_into(number)
            self.changed.add(number)

    def placed(self, key: str, x: float, y: float, turn_deg: float) -> None:
        """An object was put somewhere in this level."""
        number = self.scene.number[key]
        self.scene.place(number, x, y, turn_deg)
        self.swings.pop(number, None)
        self.states[number] = self.run.value(f"state:{key}")
        if number in self.walkers:
            walker = self.walkers[number]
            walker.x, walker.y, walker.facing_deg, walker.way = x, y, turn_deg, []
        self._settle_into(number)
        self._ways.clear()
        self.changed.add(number)

    def pose(self, number: int) -> Pose:
        """Where an object's part is now."""
        swing = self.swings.get(number)
        return swing.pose() if swing else pose_of(self.scene.objects[number].design.states[self.states[number]])

    # --- walking

    def move(self, given: Input, seconds: float) -> None:
        """The player, then the characters, by one tick. Positions are rounded to 1 mm."""
        player = self.run.project.player
        dx, dy = self._direction(given, player.speed_mps * seconds)
        if dx or dy:
            self.facing_deg = round(math.degrees(math.atan2(dy, dx)), 3)
            x, y = slide(
                self.x,
                self.y,
                dx,
                dy,
                player.radius_m,
                self.scene.floor.stops_at(self.x, self.y),
                self.solids_near(math.hypot(dx, dy)),
            )
            if self.run.way and math.hypot(x - self.x, y - self.y) < math.hypot(dx, dy) * 0.1:
                self._go_round()
            self._step_to(x, y)
        if given.look is not None:
            self.facing_deg = round(given.look, 3)
        self._move_walkers(seconds)

    def _step_to(self, x: float, y: float) -> None:
        """Stand a step further; over a ledge one comes to stand clear of it, below."""
        floor = self.scene.floor
        if floor.ledges and floor.area_at(x, y) != floor.area_at(self.x, self.y):
            x, y = cleared(x, y, self.run.project.player.radius_m, floor.stops_at(x, y))
        self.x, self.y = round(x, 3), round(y, 3)

    def _go_round(self) -> None:
        """The way is blocked by somebody: look for another once around all who stand there now, else stop."""
        run, radius = self.run, self.run.project.player.radius_m
        goal = run.way[-1]
        people = [
            Solid(w.x, w.y, 0.0, self.scene.objects[n].design.body) for n, w in self.walkers.items() if self.exists[n]
        ]
        solids = [s for n in np.flatnonzero(self.blocking) for s in self.solids_of(int(n))]
        way = Ways(self.scene.floor, radius + CLOSE_M, [*solids, *people]).way((self.x, self.y), goal) or []
        run.way = [] if way[:1] == run.way[:1] else way

    def _direction(self, given: Input, length: float) -> tuple[float, float]:
        if given.move != (0.0, 0.0):
            size = max(1.0, math.hypot(*given.move))
            return given.move[0] / size * length, given.move[1] / size * length
        while self.run.way:
            gx, gy = self.run.way[0][0] - self.x, self.run.way[0][1] - self.y
            gap = math.hypot(gx, gy)
            if gap > 0.02:
                share = min(1.0, length / gap)
                return gx * share, gy * share
            self.run.way.pop(0)
        return 0.0, 0.0

    def _move_walkers(self, seconds: float) -> None:
        talker = self._talker()
        for number, walker in self.walkers.items():
            if self.exists[number] and not self.run.is_down(self.scene.objects[number].thing.key):
                others = [(self.x, self.y, self.run.project.player.radius_m)]
                others += [(w.x, w.y, w.radius_m) for n, w in self.walkers.items() if n != number and self.exists[n]]
                walker.step(seconds, self.ways(walker.radius_m), others, number == talker)
                if walker.waited >= PATIENCE:
                    self._pass_by(number, walker)
                self._carry_walker(number, walker)

    def _pass_by(self, number: int, walker: Walker) -> None:
        """Two characters who stand in each other's way: this one looks for a way around everybody else who is here."""
        walker.waited = 0
        goal = walker.way[-1] if walker.way else None
        others = [
            Solid(w.x, w.y, 0.0, self.scene.objects[n].design.body)
            for n, w in self.walkers.items()
            if n != number and self.exists[n]
        ]
        if goal is not None and others:
            solids = [s for n in np.flatnonzero(self.blocking) for s in self.solids_of(int(n))]
            clear = Ways(self.scene.floor, walker.radius_m + CLOSE_M + KEEP_CLEAR_M, [*solids, *others])
            walker.way = clear.way((walker.x, walker.y), goal) or walker.way

    def _carry_walker(self, number: int, walker: Walker) -> None:
        """The reach of whoever walks goes along."""
        reach = self.scene.objects[number].design.reach
        dx, dy = turned(reach.offset_x_m, reach.offset_y_m, walker.facing_deg)
        self.scene.reaches.put(number, walker.x + dx, walker.y + dy, walker.facing_deg)
        self.scene.reaches.floor[number] = self.scene.floor.height_at(walker.x, walker.y)

    def _talker(self) -> int:
        if self.run.speech is None:
            return -1
        talk = next(c for c in self.run.project.conversations if c.key == self.run.speech.conversation)
        return self.scene.number.get(talk.talker, -1)

    def solids_near(self, step: float) -> list[Solid]:
        """What the player could run into within a step, characters among it."""
        scene, radius = self.scene, self.run.project.player.radius_m
        gaps = np.hypot(scene.middles[:, 0] - self.x, scene.middles[:, 1] - self.y)
        near = np.flatnonzero(self.blocking & (gaps < scene.sizes + radius + step + CLOSE_M))
        found = [s for n in near for s in self.solids_of(int(n))]
        for number, walker in self.walkers.items():
            down = self.run.is_down(scene.objects[number].thing.key)
            if self.exists[number] and not down and math.hypot(walker.x - self.x, walker.y - self.y) < 3.0:
                body = scene.objects[number].design.body
                found.append(Solid(walker.x, walker.y, walker.facing_deg, body))
        return found

    def solids_of(self, number: int) -> list[Solid]:
        """What of an object blocks now: while it moves, each end that does."""
        one = self.scene.objects[number]
        ends = {int(self.states[number])}
        moving = self.run.value(f"moving:{one.thing.key}")
        if moving:
            ends.add(moving - 1)
        return [self.scene.solids[number][i] for i in sorted(ends) if one.design.states[i].blocks]

    def ways(self, radius: float) -> Ways:
        """The walkable floor as it is now, kept until something that blocks changes."""
        mark = self.blocking.tobytes()
        known = self._ways.get(radius)
        if known is None or known[0] != mark:
            solids = [s for n in np.flatnonzero(self.blocking) for s in self.solids_of(int(n))]
            known = (mark, Ways(self.scene.floor, radius, solids))
            self._ways[radius] = known
        return known[1]

    def place_of(self, key: str) -> tuple[float, float]:
        """Where an object is now, or was before it went; a character where it walks, a part where it has moved to."""
        number = self.scene.number[key]
        walker = self.walkers.get(number)
        if walker is not None:
            return walker.x, walker.y
        one = self.scene.objects[number]
        solid = solid_of(one.thing, one.design, self.pose(number))
        return solid.x, solid.y

    def way_to(self, goal: tuple[float, float]) -> Way:
        """The player's way to a point, empty without one."""
        return self.ways(self.run.project.player.radius_m).way((self.x, self.y), goal) or []
