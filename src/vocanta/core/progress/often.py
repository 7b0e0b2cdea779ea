"""At most how often what is written can take effect in a run: once, n times, or without end.

A bound, never less than what can be. Two grounds are looked for. What a branch asks for and ends by itself can be had
again only as often as something else brings it back: a thing that is removed, a state that is left, an item that is
taken, a use that is counted down. And what only listens runs no more often than what it listens to occurs.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from functools import cached_property

from .columns import What
from .effects import Effects, effects_of, refusals_in
from .guards import All, AnyOf, AtLeast, Guard, Within
from .ops import If, Op, Plus, Put, PutCopies, Reset, ToState
from .program import Branch, Group, Program

ENDLESS = None
"""Without end."""
Times = int | None
COUNTED: frozenset[What] = frozenset(
    {"exists", "state", "uses", "item", "fact", "money", "experience", "heard", "chosen", "status", "completions"}
)
"""The columns that nothing but what is written alters."""


def plus(one: Times, other: Times) -> Times:
    """The sum of two bounds."""
    return None if one is None or other is None else one + other


def times(one: Times, number: int) -> Times:
    """So many times a bound."""
    return 0 if number == 0 else None if one is None else one * number


def least(one: Times, other: Times) -> Times:
    """The smaller of two bounds."""
    return other if one is None else one if other is None else min(one, other)


def parts(guard: Guard) -> Iterator[Within]:
    """What must hold of single columns for a guard to hold."""
    if isinstance(guard, Within):
        yield guard
    elif isinstance(guard, All) or (isinstance(guard, AnyOf) and len(guard.parts) == 1):
        for part in guard.parts:
            yield from parts(part)


def holds(part: Within, value: int) -> bool:
    """Whether a value is one that a part asks for."""
    return (part.lowest <= value <= part.highest) is part.inside


def follows(guard: Guard, asked: list[Within]) -> bool:
    """Whether a guard holds wherever some parts hold."""
    if isinstance(guard, Within):
        same = [p for p in asked if p.column == guard.column and p.inside]
        return any(all(holds(guard, v) for v in range(p.lowest, p.highest + 1)) for p in same)
    met = [follows(part, asked) for part in guard.parts]
    return all(met) if isinstance(guard, All) else sum(met) >= (guard.count if isinstance(guard, AtLeast) else 1)


@dataclass(frozen=True)
class Taken:
    """One branch of one group: what it does when it is taken."""

    group: Group
    number: int

    @cached_property
    def key(self) -> tuple[str, int]:
        """What stands for it."""
        return self.group.name, self.number

    @cached_property
    def branch(self) -> Branch:
        """The branch itself."""
        return self.group.branches[self.number]

    @cached_property
    def ops(self) -> tuple[Op, ...]:
        """Everything it does when it is taken, refusals aside."""
        return (*(op for segment in self.branch.segments for op in segment.ops), *self.group.after)

    @cached_property
    def every(self) -> tuple[Op, ...]:
        """The same with what it does on a condition."""
        return tuple(nested(self.ops))

    @cached_property
    def at_once(self) -> tuple[Op, ...]:
        """What it does at once; what comes after a wait may never come."""
        return (*self.branch.segments[0].ops, *self.group.after)


def nested(ops: tuple[Op, ...]) -> Iterator[Op]:
    """Operations, those on a condition among them."""
    for op in ops:
        yield op
        if isinstance(op, If):
            yield from nested(op.then)
            yield from nested(op.otherwise)


def results(op: Op, column: int) -> tuple[int, ...] | None:
    """The values that an operation can give a column; None where it leaves it alone, or alters it by an amount."""
    if isinstance(op, Put) and op.column == column:
        return (op.value,)
    if isinstance(op, Reset):
        return next(((value,) for of, value in op.values if of == column), None)
    if isinstance(op, ToState) and op.state == column:
        return op.table
    if isinstance(op, PutCopies):
        again = tuple(value for copy in op.copies for of, value in copy.resets if of == column)
        return again or ((1,) if any(copy.exists == column for copy in op.copies) else None)
    return None


class Often:
    """The bounds for one program."""

    def __init__(self, program: Program):
        self.program = program
        groups = [g for g in program.groups.values() if g.verb != "resume"]
        self.taken = [Taken(g, number) for g in groups for number in range(len(g.branches))]
        self._known: dict[tuple[str, int], Times] = {}
        self._asked_by: dict[tuple[str, int], list[Within]] = {}
        self._groups: dict[str, Times] = {}
        self._conditional: dict[int, tuple[If, frozenset[int]]] = {}
        self._under_way: set[tuple[str, int] | str] = set()

    # --- what is written, turned around

    @cached_property
    def _effects(self) -> list[tuple[Taken, Effects, Effects]]:
        """For each branch what it does when taken, and what its refusals do."""
        of = self.program
        return [
            (one, effects_of(one.ops, of), effects_of((op for s in refusals_in(one.branch) for op in s.ops), of))
            for one in self.taken
        ]

    @cached_property
    def _writers(self) -> dict[int, list[tuple[Taken, bool]]]:
        """Who writes a column, and whether only by being taken."""
        found: dict[int, list[tuple[Taken, bool]]] = {}
        for one, mine, refusing in self._effects:
            for column in mine.writes | refusing.writes:
                found.setdefault(column, []).append((one, column not in refusing.writes))
        return found

    @cached_property
    def _causes(self) -> dict[str, list[Taken]]:
        """What flags a group, by a flag or by an occurrence."""
        hears: dict[str, list[str]] = {}
        for one in self.program.hears:
            hears.setdefault(one.occurrence, []).append(one.group)
        found: dict[str, list[Taken]] = {}
        for taken, mine, refusing in self._effects:
            both = mine | refusing
            for group in {*both.flags, *(g for what in both.raises for g in hears.get(what, ()))}:
                found.setdefault(group, []).append(taken)
        return found

    @cached_property
    def _listened(self) -> dict[str, list[int]]:
        found: dict[str, list[int]] = {}
        for one in self.program.listeners:
            found.setdefault(one.group, []).append(one.column)
        return found

    @cached_property
    def _written(self) -> dict[tuple[str, int], frozenset[int]]:
        return {one.key: mine.writes for one, mine, _ in self._effects}

    def written(self, one: Taken) -> frozenset[int]:
        """The columns that a branch writes when it is taken."""
        return self._written[one.key]

    # --- the bounds

    def branch(self, one: Taken) -> Times:
        """At most how often a branch can be taken."""
        key = one.key
        if key not in self._known:
            if key in self._under_way:
                return ENDLESS
            self._under_way.add(key)
            found = self._read(one.group)
            for part in self._asked(one):
                if found == 0:
                    break
                if self.program.columns[part.column].what in COUNTED:
                    found = least(found, self._had(one, part))
            self._under_way.discard(key)
            self._known[key] = found
        return self._known[key]

    def goes_with_it(self, one: Taken) -> bool:
        """Whether what a branch belongs to is gone once it is taken."""
        key, asked = one.group.origin.rpartition("/")[2], self._asked(one)
        own = self.program.table.find("exists", key)
        return any(p.column == own and self._ends(one.at_once, p, asked) for p in asked)

    def _asked(self, one: Taken) -> list[Within]:
        """What must hold of single columns for a branch to be taken."""
        if one.key not in self._asked_by:
            self._asked_by[one.key] = self._asked_anew(one)
        return self._asked_by[one.key]

    def _asked_anew(self, one: Taken) -> list[Within]:
        guards = [one.group.entry, one.branch.guard]
        acting = self.program.of_group.get(one.group.name, ())
        guards += [acting[0].guard] if len(acting) == 1 else []
        found = [self._upright(p) for g in guards for p in parts(g)]
        for op in one.branch.segments[0].ops:
            if isinstance(op, Plus) and op.amount < 0 and op.refusal is not None:
                found.append(Within(op.column, op.lowest - op.amount, op.highest))
        return found

    def _upright(self, part: Within) -> Within:
        """The same part said by the values that it asks for, where those are neighbours."""
        column = self.program.columns[part.column]
        if not part.inside and part.lowest <= column.lowest:
            return Within(part.column, part.highest + 1, column.highest)
        if not part.inside and part.highest >= column.highest:
            return Within(part.column, column.lowest, part.lowest - 1)
        return part

    def _read(self, group: Group) -> Times:
        """At most how often a group is read: what is pressed any number of times, what listens as often as it hears."""
        if group.name in self.program.of_group or group.name in self.program.begins.values():
            return ENDLESS
        if group.name.startswith("rewards:"):
            return self.program.layout.quests[group.name.partition(":")[2]].times or ENDLESS
        if group.name not in self._groups:
            if group.name in self._under_way:
                return ENDLESS
            self._under_way.add(group.name)
            found: Times = int(group.name in self.program.at_start)
            for cause in self._causes.get(group.name, ()):
                found = plus(found, self.branch(cause))
            for column in self._listened.get(group.name, ()):
                found = plus(found, self._altered(column))
            self._under_way.discard(group.name)
            self._groups[group.name] = found
        return self._groups[group.name]

    def _altered(self, column: int) -> Times:
        if self.program.columns[column].what not in COUNTED:
            return ENDLESS
        found: Times = 0
        for writer, only_taken in self._writers.get(column, ()):
            found = plus(found, self.branch(writer) if only_taken else ENDLESS)
        return found

    def _had(self, one: Taken, part: Within) -> Times:
        """At most how often a branch can be taken that ends by itself what it asks for."""
        start = self.program.columns[part.column].start
        taking = [op for op in one.at_once if isinstance(op, Plus) and op.column == part.column and op.amount < 0]
        if taking and part.inside and part.lowest > 0:
            return self._used_up(one, part, min(-sum(op.amount for op in taking), part.lowest), start)
        if not self._ends(one.at_once, part, self._asked(one)):
            return ENDLESS
        found: Times = int(holds(part, start))
        for writer, only_taken in self._writers.get(part.column, ()):
            if writer.key != one.key and self._brings_back(writer, part):
                found = plus(found, self.branch(writer) if only_taken else ENDLESS)
        return found

    def _ends(self, ops: tuple[Op, ...], part: Within, asked: list[Within]) -> bool:
        """Whether a column that is as a part asks is not so any more after some operations, given what was asked."""
        over = False
        for number, op in enumerate(ops):
            if (values := results(op, part.column)) is not None:
                over = not any(holds(part, value) for value in values)
            elif isinstance(op, Plus) and op.column == part.column and part.inside:
                over = part.lowest + op.amount > part.highest
            elif isinstance(op, If) and part.column in self._written_on(op):
                altered = effects_of(ops[:number], self.program).writes
                known = [p for p in asked if p.column not in altered]
                over = follows(op.guard, known) and self._ends(op.then, part, known)
        return over

    def _written_on(self, op: If) -> frozenset[int]:
        """What is written where a condition holds or does not; asked over and over of the same few."""
        if id(op) not in self._conditional:
            self._conditional[id(op)] = op, effects_of((op,), self.program).writes
        return self._conditional[id(op)][1]

    def _brings_back(self, writer: Taken, part: Within) -> bool:
        """Whether a branch can give a column a value that a part asks for; what alters it by an amount can."""
        return any(self._gives(op, part) for op in _with_refusals(writer) if not isinstance(op, If))

    def _gives(self, op: Op, part: Within) -> bool:
        values = results(op, part.column)
        if values is not None:
            return any(holds(part, value) for value in values)
        return part.column in effects_of((op,), self.program).writes

    def _used_up(self, one: Taken, part: Within, amount: int, start: int) -> Times:
        """How often so much can be taken of all there ever is."""
        most: Times = start
        for writer, only_taken in self._writers.get(part.column, ()):
            gain = self._gain(writer, part.column)
            if gain is None:
                return ENDLESS
            most = plus(
                most,
                times(self.branch(writer) if only_taken and writer.key != one.key else ENDLESS, gain),
            )
        return None if most is None else most // amount

    def _gain(self, writer: Taken, column: int) -> int | None:
        """By how much a branch can make a column larger; None where that is not said by an amount."""
        found = 0
        for op in _with_refusals(writer):
            if isinstance(op, Plus) and op.column == column:
                found += max(op.amount, 0)
            elif (values := results(op, column)) is not None:
                found += max(0, *values)
            elif not isinstance(op, If | Plus) and column in effects_of((op,), self.program).writes:
                return None
        return found


def _with_refusals(one: Taken) -> Iterator[Op]:
    """Everything a branch can do, taken or refused."""
    yield from one.every
    for segment in refusals_in(one.branch):
        yield from nested(segment.ops)
