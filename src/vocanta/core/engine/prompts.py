"""Prompts: what each object in reach offers, whether it is usable and why not, and which object gets which control."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..phrases.vocabulary import PLAYER
from ..progress.guards import can_hold
from ..progress.onerow import first_unmet
from ..progress.placed import Placed
from ..progress.program import Action
from ..project.records import Button, Prompt, WhenUnusable
from ..space.working import LOOKED_AT_DEG
from .focus import Candidate, focused
from .sensing import Senses
from .situation import TICKS_A_SECOND, Situation


@dataclass(frozen=True, slots=True)
class LiveButton:
    """One button of a panel on the screen now."""

    key: str
    wording: str
    usable: bool
    reason: str
    action: Action | None
    when_unusable: WhenUnusable = "dimmed"

    @property
    def shown(self) -> bool:
        """Whether it is on the panel now."""
        return self.usable or self.when_unusable != "hidden"

    @property
    def looks_usable(self) -> bool:
        """Whether it is shown as one that can be used."""
        return self.usable or self.when_unusable == "usual"


@dataclass(frozen=True, slots=True)
class LivePrompt:
    """A prompt on the screen now, of an object in a state. `reason` says why it is not usable, where that is shown."""

    number: int
    state: int
    control: str
    prompt: Prompt
    wording: str
    usable: bool
    reason: str
    hold_ticks: int
    action: Action | None
    buttons: tuple[LiveButton, ...] = ()

    @property
    def looks_usable(self) -> bool:
        """Whether it is shown as one that can be used."""
        return self.usable or self.prompt.when_unusable == "usual"

    @property
    def identity(self) -> tuple[int, int, str]:
        """What a hold belongs to: one prompt of one state of one object."""
        return self.number, self.state, self.prompt.key


class Prompts:
    """Focus in one level of a run, worked out anew whenever it is asked for."""

    def __init__(self, situation: Situation, senses: Senses):
        self.situation, self.senses, self.scene = situation, senses, senses.scene
        self.live: dict[str, LivePrompt] = {}
        self.candidates: dict[str, list[Candidate]] = {}
        self._rests_on: tuple[object, ...] | None = None

    def clear(self) -> None:
        """The player is in another level: nothing is offered here."""
        self.live, self.candidates, self._rests_on = {}, {}, None

    def _what_decides(self) -> tuple[object, ...] | None:
        """All that focus and prompts rest on, to be compared; None while something that is in reach moves."""
        senses, mover, player = self.senses, self.senses.mover, self.situation.player
        if mover.swings or any(senses.inside[n] for n in mover.walkers):
            return None
        stands = player.x, player.y, player.facing_deg
        return stands, mover.layings, senses.inside.tobytes(), tuple(self.situation.row)

    def focus(self) -> None:
        """Which object gets which control now; where nothing has changed that it rests on, it is not asked again."""
        rests_on = self._what_decides()
        if rests_on is None or rests_on != self._rests_on:
            self._focus()
            self._rests_on = rests_on

    def _focus(self) -> None:
        holders = {control: p.number for control, p in self.live.items()}
        self.clear()
        if self.situation.known("talk"):
            return
        offers: dict[str, dict[int, LivePrompt]] = {}
        for number in (int(n) for n in (self.senses.inside & self.senses.mover.exists).nonzero()[0]):
            for live in self.offered(number):
                offers.setdefault(live.control, {})[number] = live
        for control, by_number in offers.items():
            found = [self._candidate(n) for n in by_number]
            self.candidates[control] = found
            best = focused(found, holders.get(control, -1))
            if best is not None:
                self.live[control] = by_number[best.number]

    def _candidate(self, number: int) -> Candidate:
        eyes = self.senses.eyes
        looked = eyes.off_by(number) <= LOOKED_AT_DEG and eyes.sees(number)
        return Candidate(number, self.scene.objects[number].design.reach.priority, looked, eyes.reach_gap(number))

    def offered(self, number: int) -> list[LivePrompt]:
        """The prompts an object in reach offers in its state; hidden ones left out. One for each control."""
        one = self.scene.objects[number]
        state = one.design.states[self.senses.mover.states[number]]
        looked = self.situation.layout.find("looked_at", one.thing.key)
        if not state.reach_on or (looked is not None and not self.situation.row[looked]):
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
        action = self.situation.program.by_name.get(f"{verb}:{one.thing.key}/{prompt.control}")
        all_buttons = [self._button(one, b) for b in prompt.buttons]
        buttons = tuple(b for b in all_buttons if b.shown)
        if all_buttons:
            action = next((b.action for b in all_buttons if b.usable), all_buttons[0].action)
            if not buttons:
                return None
        usable = self.usable(action)
        used_up = bool(one.design.uses) and not self.situation.known("uses", one.thing.key)
        if used_up or PLAYER not in one.design.reach.who or (not usable and prompt.when_unusable == "hidden"):
            return None
        reason = "" if usable or prompt.when_unusable == "usual" else self.reason(action, one.thing.key)
        words = self.situation.words
        wording = words.filled(prompt.wording, one.thing.key, prompt.control, self.situation.known)
        hold = 0 if buttons else math.ceil(prompt.hold_s * TICKS_A_SECOND)
        state = int(self.senses.mover.states[number])
        return LivePrompt(number, state, prompt.control, prompt, wording, usable, reason, hold, action, buttons)

    def usable(self, action: Action | None) -> bool:
        """Whether a press does something: its action stands open, or its first cue has an *otherwise* that would run. A
        chance counts as met, and is drawn when the cue runs."""
        program, row = self.situation.program, self.situation.row
        if action is None:
            return False
        return can_hold(action.guard, row, program.chances) or (self._tried(action) and self._otherwise(action))

    def _tried(self, action: Action) -> bool:
        tried = action.tried if action.tried is not None else action.guard
        return can_hold(tried, self.situation.row, self.situation.program.chances)

    def _otherwise(self, action: Action) -> bool:
        """Whether the *otherwise* of the first cue is what a press runs: no refusal of a need stands before it."""
        group = self.situation.program.groups[action.group]
        branch = next(iter(group.branches[group.first_cue :]), None)
        if branch is None or branch.otherwise is None:
            return False
        unmet = first_unmet(branch.conditions, self.situation.row)
        return unmet is None or unmet.or_else is None

    def _button(self, one: Placed, button: Button) -> LiveButton:
        """One button of a panel as it stands now."""
        key, words = one.thing.key, self.situation.words
        action = self.situation.program.by_name.get(f"chosen:{key}/{button.key}")
        usable = self.usable(action)
        reason = "" if usable or button.when_unusable == "usual" else self.reason(action, key)
        wording = words.filled(button.wording, key, "", self.situation.known)
        return LiveButton(button.key, wording, usable, reason, action, button.when_unusable)

    def reason(self, action: Action | None, key: str) -> str:
        """The first unmet need of the first cue, in its own *or else* words if it has them."""
        situation = self.situation
        if action is None:
            return "nothing happens here yet"
        if situation.known("cooling", key):
            return "not again yet"
        group = situation.program.groups[action.group]
        for branch in group.branches[group.first_cue :]:
            unmet = first_unmet(branch.conditions, situation.row)
            if unmet is not None:
                if unmet.or_else_words:
                    return situation.words.filled(unmet.or_else_words, key, action.control, situation.known)
                return situation.words.need(unmet.text, situation.known, key)
        return "not possible now"
