"""Prompts being held: each belongs to one prompt of one state, and lasts only while nothing breaks it."""

from __future__ import annotations

from collections.abc import Callable, Collection, Mapping
from dataclasses import dataclass

from ..progress.program import Action
from .prompts import LivePrompt


@dataclass
class Hold:
    """A prompt being held: it advances while nothing breaks it; `done` waits for the control to be let go."""

    control: str
    number: int
    identity: tuple[int, int, str]
    total: int
    ticks: int = 0
    done: bool = False


class Holds:
    """What is being held, by control."""

    def __init__(self, broken: Callable[[Hold], None], held: Callable[[Hold, Action], None]):
        self.by_control: dict[str, Hold] = {}
        self._broken, self._held = broken, held

    def begin(self, prompt: LivePrompt) -> None:
        """A prompt begins to be held."""
        self.by_control[prompt.control] = Hold(prompt.control, prompt.number, prompt.identity, prompt.hold_ticks)

    def let_go(self, control: str) -> None:
        """A control was let go; what it held is broken, unless it was done."""
        hold = self.by_control.pop(control, None)
        if hold is not None and not hold.done:
            self._broken(hold)

    def drop(self) -> None:
        """The player is elsewhere: whatever was held is broken."""
        for control in list(self.by_control):
            self.let_go(control)

    def advance(self, controls: Collection[str], live: Callable[[], Mapping[str, LivePrompt]]) -> None:
        """A tick for every hold; one that has lasted runs its action. `live` gives the prompts as they are by then."""
        for control, hold in list(self.by_control.items()):
            prompt = live().get(control)
            lasts = prompt is not None and prompt.usable and prompt.identity == hold.identity
            if control not in controls or (not hold.done and not lasts):
                self.let_go(control)
            elif not hold.done and prompt is not None and prompt.action is not None:
                hold.ticks += 1
                if hold.ticks >= hold.total:
                    hold.done = True
                    self._held(hold, prompt.action)
