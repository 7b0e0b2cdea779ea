"""All of a program at once, nothing left out of it: what never happens, what comes in one order only, and what is asked
beside the quests.

*Never* is told by pairs of values that cannot come together: what they leave out never happens. What they leave in may.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, replace
from typing import Literal

from ..progress.layout import STATUS
from ..progress.program import Program
from ..project.noting import Note, unnoted
from ..project.records import Line, Project, Quest
from .flats import DID, ENDS, Event, Flat, changed, events_told
from .places import Places
from .spans import Spans, less, span, spans_of, values_in
from .spreading import Spread, possible, spread, whole
from .trimming import trimmed
from .values import ACTIVE, Watch, recoded
from .verdicts import LONGEST, WALKS, Worked, beginnings
from .walks import Walker

PRESSES = ("use", "hold", "choose", "strike")
NOT_BEGUN = ("unavailable", "available", "declined")
NeverSort = Literal["quest", "stage", "objective", "line", "reply", "object", "action"]


@dataclass(frozen=True, slots=True)
class Never:
    """Something that never happens: of which sort, and the record or action by its name, behind that of its owner."""

    sort: NeverSort
    name: str


@dataclass(frozen=True, slots=True)
class Order:
    """A stage that is never reached before one of another quest was; quests and stages by their names."""

    quest: str
    stage: str
    after_quest: str
    after_stage: str


def is_told_of(event: Event) -> bool:
    """What the flats of a whole program tell of what happens."""
    return event[1] in (*ENDS, "active", "met", "reached", DID)


def spread_whole(program: Program, first: Sequence[int], note: Note = unnoted) -> Worked:
    """A whole program with nothing asked of it yet. Cost: some seconds for a campaign of hundreds of columns."""
    left, counts = trimmed(program, range(len(program.columns)), lambda told: True)
    places, row = Places(program.layout), tuple(first)
    seen = [row, *(one.row for one in beginnings(program))]
    for walk in Walker(left, places).walks(row, WALKS, LONGEST):
        seen += [tuple(after) for _, after in walk]
    flats = spread(left, counts, places, seen, whole(left), note, is_told_of)
    return Worked(left, places, row, flats, recoded(flats, row, ()))


def asking(worked: Worked, watches: Sequence[Watch]) -> Worked:
    """The same with some things asked of it."""
    return replace(worked, recoded=recoded(worked.spread, worked.first, (), watches))


# --- never


def happening(worked: Worked) -> frozenset[Event]:
    """All that can happen, at the beginning of a run too."""
    told = (one for begun in beginnings(worked.program) for one in begun.told)
    return worked.spread.happens | set(events_told(told))


def never(worked: Worked) -> list[Never]:
    """What never happens, in the order of the project: of what is in something that never happens, only that is told."""
    happens, project = happening(worked), worked.program.layout.project
    found = [one for quest in project.quests for one in _of_quest(quest, happens)]
    found += [one for talk in project.conversations for line in talk.lines for one in _of_line(line, happens)]
    return found + list(_of_objects(worked, project, happens))


def _of_quest(quest: Quest, happens: frozenset[Event]) -> Iterator[Never]:
    reached = [s for s in quest.stages if (f"{quest.key}.{s.key}", "reached") in happens]
    if not reached:
        if quest.stages:
            yield Never("quest", quest.key)
        return
    for stage in quest.stages:
        if stage not in reached:
            yield Never("stage", f"{quest.key}.{stage.key}")
            continue
        for objective in stage.objectives:
            if (objective.key, "met") not in happens:
                yield Never("objective", objective.key)


def _of_line(line: Line, happens: frozenset[Event]) -> Iterator[Never]:
    if (line.key, "said") not in happens:
        yield Never("line", line.key)
        return
    for reply in line.replies:
        if (f"{line.key}/{reply.key}", "chosen") not in happens:
            yield Never("reply", f"{line.key}/{reply.key}")


def _of_objects(worked: Worked, project: Project, happens: frozenset[Event]) -> Iterator[Never]:
    done: dict[str, dict[str, bool]] = {}
    for action in worked.program.actions:
        if action.kind in PRESSES:
            done.setdefault(action.subject, {})[action.name] = (action.name, DID) in happens
    for thing in (o for level in project.levels for o in level.objects):
        its = done.get(thing.key, {})
        if its and not any(its.values()):
            yield Never("object", thing.key)
        else:
            yield from (Never("action", name) for name, so in its.items() if not so)


# --- orders


NeverBefore = dict[tuple[str, str], set[tuple[int, int]]]
"""By two quests the pairs of stages, by number, of which that of the first is never reached before that of the second."""


def orders(worked: Worked, never: NeverBefore) -> list[Order]:
    """The stages that are never reached before one of another quest: of each quest the latest such stage, and told only
    where it was not so at the stage before already."""
    quests = {q.key: q for q in worked.program.layout.project.quests}
    found, behind = [], {other: _behind(worked, quests[other]) for other in {other for _, other in never}}
    for (quest, other), pairs in never.items():
        before: set[int] = set()
        for number, stage in enumerate(quests[quest].stages):
            surely = {t for n, t in pairs if n == number}
            new = surely - before
            latest = [t for t in new if not any(u != t and t in behind[other].get(u, ()) for u in new)]
            found += [Order(quest, stage.key, other, quests[other].stages[t].key) for t in latest]
            before |= surely
    return found


def never_before(worked: Worked, note: Note = unnoted) -> NeverBefore:
    """For any two quests of which some stage never comes before some of the other, which. Cost: some microseconds for each
    two stages. A stage that is never reached itself is none."""
    quests = [_Standing(worked, q) for q in worked.program.layout.project.quests if q.stages]
    found: NeverBefore = {}
    for number, one in enumerate(quests):
        note("Comparing orders", number, len(quests))
        for other in quests:
            if other is not one and (
                pairs := {(n, t) for n in one.numbers for t in other.numbers if one.never(n, other, t)}
            ):
                found[one.key, other.key] = pairs
    return found


class _Standing:
    """A quest as facts: what can be so while it stands at a stage, and when a stage was surely not reached yet."""

    def __init__(self, worked: Worked, quest: Quest):
        self._together, table = worked.spread.together, worked.program.table
        facts, stage, status = self._together.facts, table.at("stage", quest.key), table.at("status", quest.key)
        self.key, self.numbers = quest.key, range(len(quest.stages))
        self._own = facts.of_column[stage], facts.of_column[status]
        active = spans_of(STATUS[s] for s in ACTIVE)
        self._here = [possible(self._together, Flat(0, {stage: span(n, n), status: active}, {})) for n in self.numbers]
        behind = _behind(worked, quest)
        self._open = [
            [(facts.mask(c, s), facts.of_column[c]) for c, s in _not_yet(worked, quest, n, behind)]
            for n in self.numbers
        ]

    def never(self, stage: int, other: _Standing, passed: int) -> bool:
        """Whether it cannot stand at a stage while that of another quest was not reached."""
        here = self._here[stage]
        return bool(here) and not any(self._comes_with(here, mask, whole) for mask, whole in other._open[passed])

    def _comes_with(self, here: int, mask: int, whole: int) -> bool:
        left = here & self._together.with_any(mask & here)
        return all(left & column for column in (*self._own, whole))


def _not_yet(worked: Worked, quest: Quest, stage: int, behind: dict[int, set[int]]) -> list[tuple[int, Spans]]:
    """When a stage was surely not reached yet, in ways of which one holds wherever it was not."""
    table = worked.program.table
    not_begun = table.at("status", quest.key), spans_of(STATUS[s] for s in NOT_BEGUN)
    beyond = {stage, *(n for n in range(len(quest.stages)) if stage in behind.get(n, ()))}
    others = less(span(0, len(quest.stages) - 1), spans_of(beyond))
    return [not_begun, *([(table.at("stage", quest.key), others)] if others else [])]


def _behind(worked: Worked, quest: Quest) -> dict[int, set[int]]:
    """For each stage of a quest, by number, those through which every way to it leads, itself left out."""
    ways, entries = _ways_between(worked, quest)
    stages = range(len(quest.stages))
    found: dict[int, set[int]] = {n: set() for n in stages}
    for without in stages:
        seen, waiting = set(), [n for n in entries if n != without]
        while waiting:
            here = waiting.pop()
            if here not in seen:
                seen.add(here)
                waiting += [to for to in ways.get(here, ()) if to != without]
        for n in stages:
            if n != without and n not in seen:
                found[n].add(without)
    return found


def _ways_between(worked: Worked, quest: Quest) -> tuple[dict[int, set[int]], set[int]]:
    """From which stage one can come to which, and at which a quest begins."""
    stage, status = worked.program.table.at("stage", quest.key), worked.program.table.at("status", quest.key)
    active, every = {STATUS[s] for s in ACTIVE}, span(0, len(quest.stages) - 1)
    ways: dict[int, set[int]] = {}
    entries: set[int] = set()
    for flat in worked.spread.flats:
        were = set(values_in(flat.when.get(status, span(0, len(STATUS) - 1))))
        for here in values_in(flat.when.get(stage, every)):
            to = changed(flat.then[stage], here) if stage in flat.then else here
            if were & active and to != here:
                ways.setdefault(here, set()).add(to)
            becomes = {changed(flat.then[status], s) for s in were - active} if status in flat.then else set()
            if becomes & active:
                entries.add(to)
    return ways, entries


# --- what can be missed, and what comes before its time


def missable(worked: Worked) -> list[Watch]:
    """What could be missed for good: quests that are never begun, optional objectives, things that nobody takes away."""
    table, happens, project = worked.program.table, happening(worked), worked.program.layout.project
    open_yet = spans_of(STATUS[s] for s in ("unavailable", "available"))
    found = [
        Watch(f"quest/{q.key}", frozenset({(q.key, "active")}), table.at("status", q.key), open_yet)
        for q in project.quests
        if (q.key, "active") in happens
    ]
    for quest in project.quests:
        for objective in (o for s in quest.stages for o in s.objectives if o.optional and (o.key, "met") in happens):
            column = table.at("met", objective.key)
            found.append(Watch(f"objective/{objective.key}", frozenset({(objective.key, "met")}), column, span(0, 0)))
    for item in project.items:
        number = table.find("item", item.key)
        if number is not None and _only_rises(worked.spread, number):
            found.append(Watch(f"item/{item.key}", frozenset(), number, span(0, 0), raised=number))
    return found


def _only_rises(spread: Spread, column: int) -> bool:
    """Whether a column is nothing at first and is changed by flats, but never made less."""
    pieces = [piece for flat in spread.flats for piece in flat.then.get(column, ())]
    return not spread.program.columns[column].start and bool(pieces) and all(by > 0 for _, _, _, by in pieces)


def stages_that_happen(worked: Worked) -> frozenset[tuple[str, str]]:
    """The quests and stages that may ever be reached."""
    happens, quests = happening(worked), worked.program.layout.project.quests
    stages = ((q.key, s.key) for q in quests for s in q.stages)
    return frozenset(one for one in stages if (".".join(one), "reached") in happens)


def stages_reached(worked: Worked) -> list[Watch]:
    """Every stage that can be reached, asked how."""
    happens, table = happening(worked), worked.program.table
    points = [(q.key, f"{q.key}.{s.key}") for q in worked.program.layout.project.quests for s in q.stages]
    return [
        Watch(f"point/{point}", frozenset({(point, "reached")}), table.at("status", quest))
        for quest, point in points
        if (point, "reached") in happens
    ]


def before_its_time(worked: Worked) -> list[Watch]:
    """Everything that a stage asks to be worked, asked whether it can be worked before that stage is reached."""
    found = []
    for quest in worked.program.layout.project.quests:
        behind = _behind(worked, quest)
        for number, stage in enumerate(quest.stages):
            targets = dict.fromkeys(t for o in stage.objectives if o.type in ("use", "state") for t in o.targets)
            whens = tuple({column: spans} for column, spans in _not_yet(worked, quest, number, behind))
            for target in targets:
                status = worked.program.table.at("status", quest.key)
                if events := _presses_of(worked, [target]):
                    found.append(Watch(f"early/{target}/{quest.key}.{stage.key}", events, status, when=whens))
    return found


def from_cells(worked: Worked, key: str, cells: Iterable[int]) -> Watch:
    """Whether something can be worked from some cells."""
    cell = worked.program.table.at("cell")
    return Watch(f"wall/{key}", _presses_of(worked, [key]), cell, when=({cell: spans_of(cells)},))


def _presses_of(worked: Worked, keys: Iterable[str]) -> frozenset[Event]:
    wanted = set(keys)
    return frozenset((a.name, DID) for a in worked.program.actions if a.kind in PRESSES and a.subject in wanted)
