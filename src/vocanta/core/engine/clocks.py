"""The clocks of a run: how many ticks are left of everything that waits. What they bring about is an action each."""

from __future__ import annotations

import math
from collections.abc import Iterable

from ..progress.onerow import holds_on
from ..progress.program import Action, Waiting
from .situation import TICKS_A_SECOND, Situation


class Clocks:
    """Ticks left, by the name of the action that then goes on.

    | clock | what may happen | next |
    |---|---|---|
    | none | its column comes to its value | running |
    | running | a tick | running, or due |
    | running | its column leaves its value | none |
    | due | its action takes effect | none |
    | due | somebody is in the way | due, told once |
    | due | it does not settle | due again without those that chase each other |
    """

    def __init__(self, situation: Situation):
        self.situation = situation
        self.left: dict[str, int] = {}
        self.again: set[str] = set()
        """Actions that somebody in the way has stopped, and that are tried until nobody is."""
        program = situation.program
        self._for_motion = [w for w in program.waits if w.wait.motion_of]

    def follow(self, changed: Iterable[int]) -> None:
        """Start a clock for every wait whose column was written and stands at its value, stop the others of that column."""
        row, waits_of = self.situation.row, self.situation.program.waits_of
        for column in sorted(changed):
            for waiting in waits_of.get(column, ()):
                name = waiting.action.name
                self.left.pop(name, None)
                self.again.discard(name)
                if row[column] == waiting.value and not waiting.wait.motion_of:
                    self.left[name] = max(1, math.ceil(waiting.wait.seconds * TICKS_A_SECOND))

    def try_again(self, action: Action) -> None:
        """What ran out and did not settle runs out again with the next tick."""
        self.left[action.name] = 1

    def advance(self) -> list[Action]:
        """A tick for every clock; the actions that are due, and those that were stopped by somebody in the way."""
        program, row = self.situation.program, self.situation.row
        due = [program.by_name[name] for name in self.again]
        for name in list(self.left):
            self.left[name] -= 1
            if self.left[name] <= 0:
                del self.left[name]
                due.append(program.by_name[name])
        stopped = self.again
        due += [w.action for w in self._for_motion if w.action.name not in stopped and holds_on(w.action.guard, row)]
        return due

    def left_of(self, column: int) -> float | None:
        """How long the clock of a column still runs, seconds; 0 for what somebody in the way has stopped, None where none
        does."""
        names = [w.action.name for w in self._waits(column)]
        running = [0 if name in self.again else self.left[name] for name in names if name in {*self.left, *self.again}]
        return running[0] / TICKS_A_SECOND if running else None

    def set_left(self, column: int, seconds: float) -> None:
        """Let the clock of a column that runs, run so long from now on."""
        for waiting in self._waits(column):
            if waiting.action.name in self.left:
                self.left[waiting.action.name] = max(1, round(seconds * TICKS_A_SECOND))

    def _waits(self, column: int) -> Iterable[Waiting]:
        return self.situation.program.waits_of.get(column, ())

    def seconds_left(self, name: str) -> float:
        """How long a clock still runs, seconds; 0 for one that does not."""
        return self.left.get(name, 0) / TICKS_A_SECOND
