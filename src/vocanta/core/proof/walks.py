"""Random walks: what happens when somebody does this and that. They show what can be, and prove nothing else.

Every situation of a walk can be reached; the walks prefer what was done seldom.
"""

from __future__ import annotations

import random
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field

import numpy as np

from ..progress.guards import GuardTable
from ..progress.onerow import RowWalk
from ..progress.program import Action, Program
from .places import Places, holds_one

_LIKELY = {"in_reach": 1.0, "looked_at": 1.0, "aimed_at": 1.0}
"""How often a sensed column is so where it can be; of the others now and then."""
SELDOM = 0.2


@dataclass
class Walker:
    """Walks of one program. `seed`: the same walks each time."""

    program: Program
    places: Places
    seed: int = 1
    done: dict[str, int] = field(default_factory=dict)
    """How often each action was done."""

    def __post_init__(self) -> None:
        program = self.program
        self._r = random.Random(self.seed)
        self._free = [n for n in program.sensed if n not in program.sensed_actions]
        self._open = GuardTable([a.tried if a.tried is not None else a.guard for a in program.actions])
        self._at = [self.places.whens_of(a) for a in program.actions]
        self._heard = self.places.heard(program)

    def walks(self, start: Sequence[int], count: int, longest: int) -> Iterator[list[tuple[Action | None, list[int]]]]:
        """So many walks from a situation, each a list of what was done and the situation after it, the first with None."""
        for _ in range(count):
            yield list(self.walk(start, longest))

    def walk(self, start: Sequence[int], longest: int) -> Iterator[tuple[Action | None, list[int]]]:
        """One walk: what was done and the situation after it, until nothing can be done or it is long enough."""
        row = list(start)
        self._sense(row)
        yield None, list(row)
        for _ in range(longest):
            action = self._drawn(row)
            if action is None:
                return
            self.act(row, action)
            self._sense(row)
            yield action, list(row)

    def act(self, row: list[int], action: Action) -> None:
        """Do an action in a row, which is changed."""
        walk = RowWalk(self.program, row)
        if action.kind == "sensed":
            number = self.program.table.number(action.control)
            row[number] = 1 - row[number]
            self._hear(row, set(walk.sensed(number, 1 - row[number]).changed))
            return
        if action.kind == "cross":
            for number, spans in self.places.surely_in(self.program, int(action.name.partition(":")[2])).items():
                if row[number] != spans[0][0]:
                    row[number] = spans[0][0]
                    RowWalk(self.program, row).sensed(number, 1 - row[number])
        changed = walk.act(action, attempt=action.tried is not None or action.kind == "resume").changed
        self._hear(row, set(changed))
        self.done[action.name] = self.done.get(action.name, 0) + 1

    def _hear(self, row: list[int], changed: set[int]) -> None:
        """Where something is elsewhere by now, what cannot be sensed there any more is heard at once."""
        for one in () if row[self.program.ended] else self._heard:
            elsewhere = any(n in changed for when in one.whens for n in when)
            if elsewhere and row[one.column] == one.value and not holds_one(one.whens, row):
                row[one.column] = 1 - one.value
                RowWalk(self.program, row).sensed(one.column, one.value)

    def _drawn(self, row: list[int]) -> Action | None:
        """One of the actions that can be done; what was done seldom sooner."""
        if row[self.program.ended]:
            return None
        numbers = [
            int(i) for i in np.flatnonzero(self._open.ask(np.array(row, dtype=np.int32))) if holds_one(self._at[i], row)
        ]
        actions = [
            a for a in (self.program.actions[i] for i in numbers) if a.kind != "sensed" or self._can_turn(row, a)
        ]
        if not actions:
            return None
        weights = [1.0 / (1 + self.done.get(a.name, 0)) for a in actions]
        return self._r.choices(actions, weights)[0]

    def _can_turn(self, row: list[int], action: Action) -> bool:
        number = self.program.table.number(action.control)
        return self.places.allows(self.program.columns[number], 1 - row[number], row)

    def _sense(self, row: list[int]) -> None:
        """What the senses tell where nobody listens: as often as not what makes things possible."""
        for number in self._free:
            column = self.program.columns[number]
            can = [v for v in range(column.lowest, column.highest + 1) if self.places.allows(column, v, row)]
            if len(can) > 1 and column.highest == 1:
                row[number] = int(self._r.random() < _LIKELY.get(column.what, SELDOM))
            else:
                row[number] = self._r.choice(can) if can else column.start
