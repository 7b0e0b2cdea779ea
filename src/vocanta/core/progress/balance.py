"""How much of an item can be had at most, against how much is asked for, in all and along each quest.

Bounds, not a proof: as much as can be had is never said to be less, and what is asked for counts what a quest's own
places, stages and objectives ask, the most of several that stand beside one another, stages one after the other.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, field

from ..project.records import Objective, Quest
from .guards import Within, columns_of
from .layout import STATUS, Layout
from .live import held_columns, live_guard
from .often import Often, Taken, Times, least, parts, plus, times
from .ops import Plus, Put, PutCopies
from .program import Program
from .threads import fixed_at, possible


@dataclass(frozen=True, slots=True)
class Share:
    """Something that gives or takes: the place in the project, how much at a time, and at most how often."""

    origin: str
    amount: int
    times: Times


@dataclass(frozen=True, slots=True)
class Balance:
    """One item, or the money: `most` can be had, None for without end; `asked` along each quest; `limit` at one time."""

    key: str
    most: Times
    limit: int
    gives: tuple[Share, ...] = ()
    takes: tuple[Share, ...] = ()
    kept: int = 0
    """The most that anything asks to have without taking it."""
    asked: dict[str, int] = field(default_factory=dict)
    spent: int = 0
    """How much all quests together take for good, or have made into something else."""
    beside: int = 0
    """How much is taken beside all quests, and for nothing that a quest asks for: each place once."""

    @property
    def all_asked(self) -> int:
        """How much all quests ask for together, and what anything asks to have."""
        return max(sum(self.asked.values()), self.kept)

    @property
    def all_wanted(self) -> int:
        """How much everything together asks for, what takes it beside all quests included."""
        return max(self.all_asked, self.spent + self.beside)

    @property
    def too_few(self) -> int:
        """How much less can be had than is asked for."""
        return 0 if self.most is None else max(0, self.all_wanted - self.most)


def balances(program: Program, often: Often | None = None) -> list[Balance]:
    """The balance of every item in order, and of the money after them. `often`: the bounds, where they are known."""
    weighing = _Weighing(program, often or Often(program))
    items = [("item", item.key) for item in program.layout.project.items]
    return [weighing.balance(column) for column in (program.table.number(f"{w}:{k}") for w, k in items)] + [
        weighing.balance(program.table.number("money"))
    ]


@dataclass(frozen=True, slots=True)
class _Asked:
    """How much a quest's own places ask for, by column: to be given away, and to have."""

    taken: dict[int, int]
    kept: dict[int, int]


class _Weighing:
    def __init__(self, program: Program, often: Often):
        self.program = program
        self.layout: Layout = program.layout
        self.often = often
        self.made: dict[str, Times] = {}
        """For each kind and owner whose copies steps put, how many are ever put."""
        for one in self.often.taken:
            for op in one.every:
                if isinstance(op, PutCopies) and op.copies:
                    pool = self._pool(op.copies[0].key)
                    put = times(self.often.branch(one), op.count)
                    self.made[pool] = plus(self.made.get(pool, 0), put)
        self.handling: dict[int, list[Taken]] = {}
        """Who gives or takes of a column."""
        self._alters: dict[tuple[str, int], dict[int, list[int]]] = {}
        """For each branch the amounts by which it alters columns."""
        self._had: dict[tuple[str, int], list[Within]] = {}
        """For each branch what it asks to have at least, whether it takes it or not."""
        self.kept: dict[int, int] = {}
        """The most that anything asks to have of a column."""
        self.touching: dict[int, list[int]] = {}
        """Who asks for a column or writes it, by their numbers."""
        for number, one in enumerate(self.often.taken):
            alters = self._alters.setdefault(one.key, {})
            for op in one.every:
                if isinstance(op, Plus):
                    alters.setdefault(op.column, []).append(op.amount)
            for column in alters:
                self.handling.setdefault(column, []).append(one)
            self._had[one.key] = _had(one)
            for column in {p.column for p in parts(one.branch.guard)} | self.often.written(one):
                self.touching.setdefault(column, []).append(number)
            for part in self._had[one.key]:
                self.kept[part.column] = max(self.kept.get(part.column, 0), part.lowest)
        self._of_quests: set[str] = set()
        """Where the branches stand that are any quest's own places."""
        self.asking = {q.key: self._of_quest(q) for q in self.layout.project.quests}

    def _pool(self, key: str) -> str:
        return self.layout.placed[key].pool if key in self.layout.placed else ""

    def balance(self, column: int) -> Balance:
        """The balance of what a column counts."""
        gives, takes = self._shares(column, 1), self._shares(column, -1)
        most: Times = self.program.columns[column].start
        for share in gives:
            most = plus(most, times(share.times, share.amount))
        asked = {key: number for key in self.asking if (number := self._along(key, column, frozenset()))}
        of = self.program.columns[column]
        kept = self.kept.get(column, 0)
        spent = sum(self._along(key, column, frozenset(), to_have=False) for key in asked)
        return Balance(of.key or of.what, most, of.highest, gives, takes, kept, asked, spent, self._beside(column))

    def _beside(self, column: int) -> int:
        found = 0
        for one in self.handling.get(column, ()):
            taken = self._amount(one, column, -1)
            if taken and one.group.origin not in self._of_quests and not self._makes_asked(one, column):
                found += taken
        return found

    def _makes_asked(self, one: Taken, column: int) -> bool:
        """Whether a branch makes something of it that a quest asks for."""
        made = [c for c in self._alters[one.key] if c != column and self._amount(one, c, 1)]
        return any(self._along(quest, c, frozenset({column})) for c in made for quest in self.asking)

    def _amount(self, one: Taken, column: int, sign: int) -> int:
        """How much of something a branch gives, or takes."""
        return sum(max(sign * amount, 0) for amount in self._alters[one.key].get(column, ()))

    def _shares(self, column: int, sign: int) -> tuple[Share, ...]:
        """What gives, or takes; copies of one kind are one."""
        found: dict[tuple[str, int, str], Times] = {}
        lasting = set()
        for one in self.handling.get(column, ()):
            amount = self._amount(one, column, sign)
            if amount:
                pool = self._pool(one.group.origin.rpartition("/")[2])
                place = one.branch.origin if not one.group.origin.startswith("object/") or pool else one.group.origin
                key = (place, amount, pool)
                found[key] = plus(found.get(key, 0), self.often.branch(one))
                if not (pool and self.often.goes_with_it(one)):
                    lasting.add(key)
        return tuple(
            Share(key[0], key[1], often if key in lasting else least(often, self.made.get(key[2])))
            for key, often in found.items()
        )

    # --- what is asked for

    def _of_quest(self, quest: Quest) -> _Asked:
        """What a quest's own places ask: those that stand open at one stage alone by it, the others together."""
        table, objectives = self.program.table, [o for stage in quest.stages for o in stage.objectives]
        status, stage = table.at("status", quest.key), table.at("stage", quest.key)
        wanted = {stage, *(column for o in objectives for column in _read_by(self.layout, o))}
        wanted |= {table.at(what, o.key) for o in objectives for what in ("met", "count")}
        found: dict[int, list[Taken]] = {}
        for number in sorted({n for column in (status, *wanted) for n in self.touching.get(column, ())}):
            one = self.often.taken[number]
            read = {p.column for p in parts(one.branch.guard)}
            written = self.often.written(one)
            ends = any(isinstance(op, Put) and (op.column, op.value) == (status, STATUS["done"]) for op in one.every)
            if not (stage in read or ends or wanted & written) or one.group.origin == f"quest/{quest.key}":
                continue
            stages = [
                i for i in range(len(quest.stages)) if possible(one.branch.guard, fixed_at(self.program, quest, i))
            ]
            found.setdefault(stages[0] if len(stages) == 1 else -1, []).append(one)
            self._of_quests.add(one.group.origin)
        return self._asked(objectives, found)

    def _asked(self, objectives: list[Objective], beside: dict[int, list[Taken]]) -> _Asked:
        taken: dict[int, int] = {}
        kept: dict[int, int] = {}
        for ones in beside.values():
            most: dict[int, int] = {}
            for one in ones:
                for column in self._alters[one.key]:
                    most[column] = max(most.get(column, 0), self._amount(one, column, -1))
                for part in self._had[one.key]:
                    kept[part.column] = max(kept.get(part.column, 0), part.lowest)
            for column, number in most.items():
                taken[column] = taken.get(column, 0) + number
        for objective in objectives:
            for column in held_columns(self.program.table, objective):
                kept[column] = max(kept.get(column, 0), objective.count)
        return _Asked(taken, kept)

    def _along(self, quest: str, column: int, above: frozenset[int], *, to_have: bool = True) -> int:
        """How much of something a quest asks for: to have, to give away, and to make what it asks for from."""
        asked = self.asking[quest]
        made = 0
        for one in self.handling.get(column, ()) if column not in above else ():
            cost = self._amount(one, column, -1)
            for other in self._alters[one.key] if cost else ():
                gain = self._amount(one, other, 1) if other != column else 0
                if gain:
                    needed = self._along(quest, other, above | {column})
                    made = max(made, math.ceil(needed / gain) * cost)
        return max(asked.kept.get(column, 0) if to_have else 0, asked.taken.get(column, 0), made)


def _read_by(layout: Layout, objective: Objective) -> frozenset[int]:
    guard = live_guard(layout, objective) if objective.type in ("fact", "state") else None
    return frozenset() if guard is None else columns_of(guard)


def _had(one: Taken) -> list[Within]:
    """What a branch asks to have at least, whether it takes it or not."""
    return [p for g in (one.group.entry, one.branch.guard) for p in parts(g) if p.inside and p.lowest > 0]
