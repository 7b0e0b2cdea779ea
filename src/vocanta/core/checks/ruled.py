"""What the rules of a project come to: its program, the values that can be, how often, how much."""

from __future__ import annotations

from collections.abc import Iterator
from functools import cached_property
from typing import Any

from ..cuetext.presses import in_vain
from ..cuetext.writing import write_step
from ..progress.balance import Balance, balances
from ..progress.compiling import compiled
from ..progress.layout import STATUS
from ..progress.meaning import Meaning
from ..progress.often import Often, Times, plus
from ..progress.ops import Put
from ..progress.program import Program
from ..progress.recompiling import recompiled
from ..progress.threads import Touching
from ..progress.values import Values
from ..project.designs import cues_of
from ..project.records import Level, Object, Quest
from .supplied import Supplied
from .texts import Text


class Ruled(Supplied):
    """A state with its rules."""

    @cached_property
    def program(self) -> Program:
        """The compiled program; that of the state before where no rule has changed since."""
        before = self._before
        if before is None or "program" not in before.__dict__:
            return compiled(self.project)
        if self.same_rules and self.same_order:
            return recompiled(before.program, self.project) if self._moved else before.program
        return compiled(self.project)

    @cached_property
    def _moved(self) -> bool:
        """Whether anything lies elsewhere than before."""
        return any(isinstance(a, Object | Level) for a, _ in (self.changed or {}).values())

    @cached_property
    def same_program(self) -> bool:
        """Whether the program means what it meant: columns, groups and actions are the same."""
        before = self._before
        if before is None or "program" not in before.__dict__:
            return False
        return self.program is before.program or self.program.groups is before.program.groups

    @cached_property
    def values(self) -> Values:
        """Which values each column can come to."""
        if self._before is not None and "values" in self._before.__dict__ and self.same_program:
            return self._before.values
        return Values(self.program)

    @cached_property
    def often(self) -> Often:
        """At most how often what is written can take effect."""
        if self._before is not None and "often" in self._before.__dict__ and self.same_program:
            return self._before.often
        return Often(self.program)

    @cached_property
    def balances(self) -> list[Balance]:
        """How much of each item can be had against how much is asked for."""
        if self._before is not None and "balances" in self._before.__dict__ and self.same_program:
            return self._before.balances
        return balances(self.program, self.often)

    @cached_property
    def _touching(self) -> Touching:
        if self._before is not None and "_touching" in self._before.__dict__ and self.same_program:
            return self._before._touching
        return Touching(self.program)

    def ways_on(self, quest: Quest) -> list[tuple[str, str]]:
        """How a quest can go on: from a stage to a stage, `done` or `failed`."""
        return self._touching.ways(quest)

    def offers_at_most(self, quest: str) -> int | None:
        """At most how often a quest can be offered, None for without end."""
        column = self.program.table.at("status", quest)
        most: Times = 0
        for one in self.often.taken:
            if any(isinstance(op, Put) and (op.column, op.value) == (column, STATUS["offered"]) for op in one.every):
                most = plus(most, self.often.branch(one))
        return most

    # --- texts as the program has them

    def broken(self, text: Text) -> bool:
        """Whether a text cannot run: unreadable, with a hole, or with a name that names nothing."""
        return text.read is None or text.read.has_hole or self._origin(text) in self._broken_origins

    @cached_property
    def _broken_origins(self) -> frozenset[str]:
        found: set[str] = set()
        for problem in self.program.problems:
            parts = problem.path.split("/")
            found |= {"/".join(parts[:i]) for i in range(2, len(parts) + 1)}
        return frozenset(found)

    def meanings(self, text: Text) -> Iterator[tuple[str, Meaning]]:
        """What the names of a text mean, for each object that has it: its key, empty for what has no body."""
        layout = self.program.layout
        place = self._origin(text)
        if not text.owner.startswith("kind/"):
            if not text.this or text.this in layout.placed:
                yield text.this, Meaning(layout, text.this, place)
            return
        cue = text.record.rpartition("/")[2]
        for thing in self.of_kind.get(text.this, ()):
            if cue not in thing.cues_off and all(c.key != cue for c in thing.cues):
                yield thing.key, Meaning(layout, thing.key, place)

    def _origin(self, text: Text) -> str:
        """The place of a text as the compiler calls it."""
        chain = self.records[text.record].chain
        kept = [p for p in chain if not (p[0] == "level" and len(chain) > 1 and chain[1][0] in ("object", "area"))]
        return "/".join(f"{t}/{k}" for t, k in kept) + (f"/{text.origin_field}" if text.origin_field else "")

    def pool_keys(self, text: Text, step: Any) -> list[str]:
        """The pools of a step that puts copies, one for each owner that has its text."""
        pools = self.program.layout.mentions.pools
        owners = dict.fromkeys(meaning.owner for _, meaning in self.meanings(text))
        return [pools[o, write_step(step)].key for o in owners if (o, write_step(step)) in pools]

    # --- objects

    def free_cue(self, thing: Object) -> str:
        """A name for a new cue of an object that neither its own nor its kind's cues have."""
        kind = self.kinds.get(thing.kind)
        taken = {c.key for c in (*thing.cues, *(kind.cues if kind is not None else ()))}
        return next(name for n_ in range(1, 10_000) if (name := f"c{n_}") not in taken)

    def waits_in_vain(self, thing: Object) -> bool:
        """Whether a cue of an object waits for a press that nothing raises: the prompt it was meant for is told there."""
        cues = [(c.text, place) for c, place in cues_of(self.kinds.get(thing.kind), thing) if c.text.strip()]
        return bool(in_vain(self.designs[thing.key], cues))

    def states_reached(self, key: str) -> list[int]:
        """The numbers of the states that an object can come to."""
        column = self.program.table.at("state", key)
        return [i for i in range(len(self.designs[key].states)) if self.values.has(column, i)]

    def state_steps(self, key: str) -> set[tuple[int, int]]:
        """How an object's state can change: from which state to which."""
        return self.values.moves.get(self.program.table.at("state", key), set())

    def leaves(self, key: str, state: int) -> bool:
        """Whether anything that could run takes an object out of a state again."""
        column = self.program.table.at("state", key)
        return column in self.values.reset or any(a == state and b != a for a, b in self.state_steps(key))
