"""What the player's place means: what is in reach, looked at, in the way, and which prompt gets which control."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from ..progress.mentions import PLAYER, Placed
from ..progress.onerow import first_unmet, holds_on
from ..progress.program import Action
from ..project.records import Button, Prompt
from ..space.bodies import Solid
from ..space.geometry import angle_between
from ..space.sight import clear_sight
from .bodily import Bodily
from .chronicle import TICKS_A_SECOND
from .focus import LOOKED_AT_DEG, Candidate, focused

if TYPE_CHECKING:
    from .run import Run
    from .scene import Scene


@dataclass(frozen=True, slots=True)
class LivePrompt:
    """A prompt on the screen now. `reason` says why it is not usable, empty when it is."""

    number: int
    control: str
    prompt: Prompt
    wording: str
    usable: bool
    reason: str
    hold_ticks: int
    action: Action | None
    buttons: tuple[LiveButton, ...] = ()


@dataclass(frozen=True, slots=True)
class LiveButton:
    """One button of a panel on the screen now."""

    key: str
    wording: str
    usable: bool
    reason: str
    action: Action | None


class Senses:
    """Sensed columns and focus in one level of a run, worked out anew each tick."""

    def __init__(self, run: Run, scene: Scene):
        self.run, self.scene = run, scene
        table, objects = run.program.table, scene.objects
        self.inside = np.zeros(len(objects), dtype=bool)
        self.counted = np.zeros(len(objects), dtype=bool)
        self.changes: list[str] = []
        self.prompts: dict[str, LivePrompt] = {}
        self.candidates: dict[str, list[Candidate]] = {}
        self.bodily = Bodily(run, scene)
        self._in_reach = [table.number(f"in_reach:{o.thing.key}") for o in objects]
        self._others = [i for i, o in enumerate(objects) if o.design.reach.who != (PLAYER,)]
        self._looked_at = {
            i: table.number(f"looked_at:{o.thing.key}")
            for i, o in enumerate(objects)
            if table.has(f"looked_at:{o.thing.key}")
        }

    def sense(self) -> None:
        """Write the sensed columns; `changes` names the actions of who came near, went away, touched, looked."""
        run, mover, scene = self.run, self.run.mover, self.scene
        was, counted = self.inside, self.counted
        here = mover.exists & mover.reach_on
        self.inside = scene.reaches.inside(mover.x, mover.y, was, mover.floor_m) & here
        for number in (int(n) for n in np.flatnonzero(self.inside != was)):
            run.row[self._in_reach[number]] = int(self.inside[number])
        self.counted = self.inside.copy()
        for number in self._others:
            who = scene.objects[number].design.reach.who
            self.counted[number] = here[number] and self.bodily.anybody_in(
                number, who, bool(counted[number]), player_in=bool(self.inside[number])
            )
        keys = [scene.objects[int(n)].thing.key for n in np.flatnonzero(self.counted != counted)]
        self.changes = [f"{'come_near' if self.counted[scene.number[k]] else 'go_away'}:{k}" for k in keys]
        for number, column in self._looked_at.items():
            if self.inside[number] or run.row[column]:
                run.row[column] = int(bool(self.inside[number]) and self.looked_at(number))
        self.changes += self.bodily.sense(self)

    def leave(self) -> None:
        """The player is in another level: nothing here is sensed any more."""
        for number in (int(n) for n in np.flatnonzero(self.inside)):
            self.run.row[self._in_reach[number]] = 0
        for column in self._looked_at.values():
            self.run.row[column] = 0
        self.bodily.leave()
        self.inside[:] = self.counted[:] = False
        self.prompts, self.candidates, self.changes = {}, {}, []

    # --- facing and sight

    def distance(self, number: int) -> float:
        """From the player to the middle of an object's reach, metres."""
        reaches, mover = self.scene.reaches, self.run.mover
        return math.hypot(reaches.x[number] - mover.x, reaches.y[number] - mover.y)

    def facing(self, number: int) -> float:
        """How far the player looks past an object, degrees."""
        x, y = self.place(number)
        towards = math.degrees(math.atan2(y - self.run.mover.y, x - self.run.mover.x))
        return angle_between(towards, self.run.mover.facing_deg)

    def place(self, number: int) -> tuple[float, float]:
        """Where an object is now; a walking character where it walks."""
        walker = self.run.mover.walkers.get(number)
        return (
            (walker.x, walker.y)
            if walker
            else (float(self.scene.middles[number, 0]), float(self.scene.middles[number, 1]))
        )

    def sees(self, number: int) -> bool:
        """Whether the player has clear sight of an object's middle."""
        scene, mover = self.scene, self.run.mover
        x, y = self.place(number)
        eye = (mover.x, mover.y, mover.floor_m + self.run.project.player.eyes_m)
        target = (x, y, scene.heights[number] + scene.objects[number].design.body.height_m / 2)
        return clear_sight(scene.floor, eye, target, self._screens(number, eye[:2], (x, y)))

    def _screens(self, target: int, a: tuple[float, float], b: tuple[float, float]) -> list[tuple[Solid, float]]:
        """Bodies that could stop sight between two points, with their tops."""
        scene, mover = self.scene, self.run.mover
        middle, half = ((a[0] + b[0]) / 2, (a[1] + b[1]) / 2), math.dist(a, b) / 2
        gaps = np.hypot(scene.middles[:, 0] - middle[0], scene.middles[:, 1] - middle[1])
        near = np.flatnonzero(mover.exists & (scene.sizes > 0) & (gaps < scene.sizes + half))
        found = []
        for number in (int(n) for n in near):
            one, state = scene.objects[number], int(mover.states[number])
            if number != target and number not in mover.walkers and not one.design.states[state].lets_sight_through:
                solid = scene.solids[number][state]
                found.append((solid, float(scene.heights[number]) + one.design.body.height_m))
        return found

    def looked_at(self, number: int) -> bool:
        """Whether the object's own demands on facing and sight are met."""
        reach = self.scene.objects[number].design.reach
        if reach.facing_deg is not None and self.facing(number) > reach.facing_deg:
            return False
        if reach.sight_m is None:
            return True
        x, y = self.place(number)
        return math.dist((x, y), (self.run.mover.x, self.run.mover.y)) <= reach.sight_m and self.sees(number)

    # --- prompts and focus

    def focus(self) -> None:
        """Which object gets which control now."""
        holders = {control: p.number for control, p in self.prompts.items()}
        self.prompts, self.candidates = {}, {}
        if self.run.speech is not None or self.run.value("talk"):
            return
        offers: dict[str, dict[int, LivePrompt]] = {}
        for number in (int(n) for n in np.flatnonzero(self.inside & self.run.mover.exists)):
            for live in self.offered(number):
                offers.setdefault(live.control, {})[number] = live
        for control, by_number in offers.items():
            found = [self._candidate(n) for n in by_number]
            self.candidates[control] = found
            best = focused(found, holders.get(control, -1))
            if best is not None:
                self.prompts[control] = by_number[best.number]

    def _candidate(self, number: int) -> Candidate:
        looked = self.facing(number) <= LOOKED_AT_DEG and self.sees(number)
        return Candidate(number, self.scene.objects[number].design.reach.priority, looked, self.distance(number))

    def offered(self, number: int) -> list[LivePrompt]:
        """The prompts an object in reach offers in its state; hidden ones left out. One for each control."""
        one = self.scene.objects[number]
        state = one.design.states[self.run.mover.states[number]]
        if not state.reach_on or (number in self._looked_at and not self.run.row[self._looked_at[number]]):
            return []
        found: dict[str, LivePrompt] = {}
        for prompt in one.design.prompts:
            if prompt.control not in found and (not prompt.states or state.key in prompt.states):
                live = self._live(number, one, prompt)
                if live is not None:
                    found[prompt.control] = live
        return list(found.values())

    def _live(self, number: int, one: Placed, prompt: Prompt) -> LivePrompt | None:
        verb = "held" if prompt.hold_s > 0 else "used"
        action = self.run.program.by_name.get(f"{verb}:{one.thing.key}/{prompt.control}")
        buttons = tuple(self._button(one, b) for b in prompt.buttons)
        if buttons:
            action = next((b.action for b in buttons if b.usable), buttons[0].action)
        usable = action is not None and holds_on(action.guard, self.run.row)
        used_up = bool(one.design.uses) and not self.run.value(f"uses:{one.thing.key}")
        if used_up or PLAYER not in one.design.reach.who or (not usable and prompt.when_unusable == "hidden"):
            return None
        reason = "" if usable or prompt.when_unusable == "usual" else self.reason(action, one.thing.key)
        wording = self.run.words.filled(prompt.wording, one.thing.key, prompt.control, self.run.value)
        return LivePrompt(
            number,
            prompt.control,
            prompt,
            wording,
            usable or prompt.when_unusable == "usual",
            reason,
            0 if buttons else math.ceil(prompt.hold_s * TICKS_A_SECOND),
            action,
            buttons,
        )

    def _button(self, one: Placed, button: Button) -> LiveButton:
        """One button of a panel as it stands now."""
        key, run = one.thing.key, self.run
        action = run.program.by_name.get(f"chosen:{key}/{button.key}")
        usable = action is not None and holds_on(action.guard, run.row)
        reason = "" if usable else self.reason(action, key)
        return LiveButton(button.key, run.words.filled(button.wording, key, "", run.value), usable, reason, action)

    def reason(self, action: Action | None, key: str) -> str:
        """The first unmet need of the first cue, in its own *or else* words if it has them."""
        if action is None:
            return "nothing happens here yet"
        if self.run.has(f"cooling:{key}") and self.run.value(f"cooling:{key}"):
            return "not again yet"
        group = self.run.program.groups[action.group]
        for branch in group.branches[group.first_cue :]:
            unmet = first_unmet(branch.conditions, self.run.row)
            if unmet is not None:
                if unmet.or_else_words:
                    return self.run.words.filled(unmet.or_else_words, key, action.control, self.run.value)
                return self.run.words.need(unmet.text, self.run.value, key)
        return "not possible now"
