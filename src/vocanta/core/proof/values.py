"""From flats to a system: inside each column, values that nothing tells apart are one, and what never comes is left out.

Two values of a column are one where every flat asks the same of both and takes both to values that are one, and no question
tells them apart. So the system does what the flats do, in fewer values. Values are split as spans; none is gone through
one by one where a column has many.
"""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Container, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field

from ..progress.layout import STATUS
from ..progress.program import Action, Program
from .flats import Change, Event, Flat, both, changed
from .spans import Spans, joined, met
from .spreading import Spread
from .system import Move, Question, Situation, System, Table

MOST_PARTS = 2_000
"""A column that comes to more parts is too much."""
ACTIVE = ("active", "ready")
OUT = ("failed", "declined")


@dataclass(frozen=True)
class Recoding:
    """How the values of one column became few: from each of `starts` on, the class in `classes`; -1 for what never comes."""

    starts: tuple[int, ...]
    classes: tuple[int, ...]

    def of(self, value: int) -> int:
        """The class of a value, -1 for one that never comes."""
        at = bisect_right(self.starts, value) - 1
        return self.classes[at] if at >= 0 else -1


@dataclass(frozen=True)
class Recoded:
    """A system with where it comes from. `columns`: for each of its columns the one of the program; `flats`: for each of
    its moves the flats that it stands for. `too_wide`: columns that came to too many parts; flats that ask them are left out.
    """

    system: System
    program: Program
    columns: tuple[int, ...]
    recodings: Mapping[int, Recoding]
    flats: tuple[tuple[Flat, ...], ...]
    too_wide: frozenset[int] = frozenset()
    events: Mapping[Event, int] = field(default_factory=dict)

    def of(self, row: Sequence[int]) -> Situation:
        """The situation of a row; -1 where a value was thought never to come."""
        return tuple(self.recodings[n].of(row[n]) for n in self.columns)


@dataclass(frozen=True, slots=True)
class Watch:
    """Something asked beside what is asked of quests: whether one of some events can happen, and be out of reach for good.

    It is asked only where columns have some values, in one of the ways of `when`. `awaited`: in which values of `column`
    it counts as missed when it cannot happen any more. Flats must tell its events (`spread`); `raised` is a column that
    becomes more where it happens.
    """

    key: str
    events: frozenset[Event]
    column: int
    awaited: Spans = ()
    when: tuple[Mapping[int, Spans], ...] = ({},)
    raised: int = -1

    @property
    def event(self) -> Event:
        """What happens where it does."""
        return self.key, "watched"

    def flats(self, flats: Iterable[Flat]) -> Iterator[Flat]:
        """The flats that bring it, as such."""
        for flat in flats:
            if flat.ends & self.events or self.raised in flat.then:
                for when in self.when:
                    asked = both(flat.when, when)
                    if all(asked.values()):
                        yield Flat(flat.action, asked, flat.then, frozenset((self.event,)))


def is_counted(action: Action) -> bool:
    """Whether an action counts for the length of a route: what the player does beside walking."""
    return action.whose == "player" and action.kind not in ("cross", "exit")


def recoded(spread: Spread, first: Sequence[int], quests: Sequence[str], watches: Sequence[Watch] = ()) -> Recoded:
    """The system of all flats from a row on, with a question for each quest: whether it can be done, and be left undone.
    After those of quests come those of what else is watched.

    What ends the level leads nowhere: nothing can be done behind it.
    """
    program = spread.program
    flats = [_until_the_end(program, flat) for flat in spread.flats]
    flats += [flat for watch in watches for flat in watch.flats(flats)]
    changes = _changes_of(flats)
    apart = {watch.column for watch in watches} | {program.table.at("status", quest) for quest in quests}
    statuses = {program.table.at("status", quest): quest for quest in quests}
    parts: dict[int, list[tuple[int, int]]] = {}
    too_wide: set[int] = set()
    for column in sorted({c for flat in flats for c in (*flat.when, *flat.then)}):
        found = _parts(spread, column, changes.get(column, {}), first[column], column in apart)
        if found is None:
            too_wide.add(column)
        else:
            parts[column] = found
    flats = [f for f in flats if not too_wide & (f.when.keys() | f.then.keys())]
    for column in apart:
        parts.setdefault(column, [(first[column], first[column])])
    recodings = {c: _recoding(p, changes.get(c, {}), c in apart) for c, p in parts.items()}
    building = _Building(program, recodings, apart)
    for flat in flats:
        building.add(flat)
    for column, quest in statuses.items():
        building.ask_of_quest(column, quest)
    for watch in watches:
        building.ask_of(watch)
    behind = tuple(map(tuple, building.moves.values()))
    system, columns = building.system(first), building.columns
    return Recoded(system, program, columns, recodings, behind, frozenset(too_wide), building.events)


def _until_the_end(program: Program, flat: Flat) -> Flat:
    """A flat as far as it goes on: what ends the level changes nothing any more, though it may end a quest."""
    ends = flat.then.get(program.ended)
    return flat if ends is None else Flat(flat.action, flat.when, {}, flat.ends)


Asked = dict[tuple[Spans, Change | None], None]


def _changes_of(flats: Iterable[Flat]) -> dict[int, Asked]:
    """For each column what is asked of it and how it changes there; None for not at all."""
    found: dict[int, Asked] = {}
    for flat in flats:
        for column in flat.when.keys() | flat.then.keys():
            spans = flat.when.get(column, ((-(1 << 60), 1 << 60),))
            found.setdefault(column, {})[spans, flat.then.get(column)] = None
    return found


# --- parts


def _parts(spread: Spread, column: int, asked: Asked, first: int, whole: bool) -> list[tuple[int, int]] | None:
    """The spans of a column's values that no flat tells apart, nor a question where `whole`; None for too many."""
    values = spread.values(column)
    lowest, highest = values[0][0], values[-1][1] + 1
    cuts = {
        edge for spans in (values, *(spans for spans, _ in asked)) for low, high in spans for edge in (low, high + 1)
    }
    cuts = {cut for cut in cuts if lowest <= cut <= highest}
    cuts |= set(range(lowest, highest + 1)) if whole else set()
    maps = {change for _, change in asked if change is not None}
    waiting = list(cuts)
    while waiting and len(cuts) <= MOST_PARTS:
        cut = waiting.pop()
        before = {edge for change in maps for low, high in _from(change, cut) for edge in (low, high + 1)}
        new = {edge for edge in before if lowest <= edge <= highest} - cuts
        cuts |= new
        waiting += new
    if len(cuts) > MOST_PARTS:
        return None
    edges = sorted(cuts)
    inside = [part for part in zip(edges, (e - 1 for e in edges[1:]), strict=False) if met(values, (part,))]
    return _come_to(inside, asked, first)


def _from(change: Change, cut: int) -> Spans:
    """Which values become a number or more."""
    return joined(
        (first, last) if fixed else (max(first, cut - by), last)
        for first, last, fixed, by in change
        if (by if fixed else last + by) >= cut
    )


def _come_to(parts: list[tuple[int, int]], asked: Asked, first: int) -> list[tuple[int, int]]:
    """The parts that are come to at all, taken by themselves."""
    starts = [low for low, _ in parts]
    seen = {_at(starts, parts, first)}
    waiting = [*seen]
    while waiting:
        low = parts[waiting.pop()][0]
        for spans, change in asked:
            if change is not None and met(spans, ((low, low),)):
                to = _at(starts, parts, changed(change, low))
                if to >= 0 and to not in seen:
                    seen.add(to)
                    waiting.append(to)
    return [part for n, part in enumerate(parts) if n in seen]


def _recoding(parts: list[tuple[int, int]], asked: Asked, whole: bool) -> Recoding:
    """Parts that nothing tells apart as one. `whole`: a question tells all of them apart."""
    starts = [low for low, _ in parts]
    classes = list(range(len(parts))) if whole else [0] * len(parts)
    holds = [[bool(met(spans, ((low, low),))) for low in starts] for spans, _ in asked]
    to = [
        [
            _at(starts, parts, changed(change, low)) if change is not None and h else -1
            for low, h in zip(starts, of, strict=True)
        ]
        for (_, change), of in zip(asked, holds, strict=True)
    ]
    count = 0
    while count != max(classes) + 1:
        count = max(classes) + 1
        signs = [
            (classes[n], *((of[n], classes[t[n]] if t[n] >= 0 else -1) for of, t in zip(holds, to, strict=True)))
            for n in range(len(parts))
        ]
        numbers: dict[object, int] = {}
        classes = [numbers.setdefault(sign, len(numbers)) for sign in signs]
    found_starts: list[int] = []
    found: list[int] = []
    for (low, high), one in zip(parts, classes, strict=True):
        if found_starts and found_starts[-1] == low:
            found_starts.pop()
            found.pop()
        found_starts += [low, high + 1]
        found += [one, -1]
    return Recoding(tuple(found_starts), tuple(found))


def _at(starts: Sequence[int], parts: Sequence[tuple[int, int]], value: int) -> int:
    """The number of the part that holds a value; -1 where none does."""
    at = bisect_right(starts, value) - 1
    return at if at >= 0 and value <= parts[at][1] else -1


# --- the system


class _Building:
    """A system while it is put together from flats, of the columns that tell anything apart or are asked about."""

    def __init__(self, program: Program, recodings: Mapping[int, Recoding], asked_of: Container[int]):
        self._program, self._recodings = program, recodings
        self._sizes = {c: max(r.classes) + 1 for c, r in recodings.items()}
        self.columns = tuple(c for c in sorted(recodings) if self._sizes[c] > 1 or c in asked_of)
        self._number = {column: n for n, column in enumerate(self.columns)}
        self.events: dict[Event, int] = {}
        self.moves: dict[Move, list[Flat]] = {}
        self.questions: list[Question] = []
        self._masks: dict[tuple[int, Spans], int] = {}
        self._tables: dict[tuple[int, Change], Table] = {}

    def add(self, flat: Flat) -> None:
        """Add what a flat does, where it can be done and does anything."""
        when = {c: self._mask(c, spans) for c, spans in flat.when.items()}
        if not all(when.values()):
            return
        then = [
            (self._number[column], self._table(column, flat.then[column], when.get(column, self._all(column))))
            for column in sorted(flat.then)
            if column in self._number
        ]
        then = [(number, table) for number, table in then if any(v != n for n, v in enumerate(table))]
        events = sum(1 << self._event(end) for end in sorted(flat.ends))
        if then or events:
            asks = tuple(
                (self._number[c], m) for c, m in sorted(when.items()) if c in self._number and m != self._all(c)
            )
            action = self._program.actions[flat.action]
            move = Move(asks, tuple(then), events, int(is_counted(action)), action.whose == "clock")
            self.moves.setdefault(move, []).append(flat)

    def ask_of_quest(self, column: int, quest: str) -> None:
        """Ask whether a quest can be done, and be left behind while it is awaited or out."""
        active, out = (self._mask(column, joined((STATUS[s], STATUS[s]) for s in names)) for names in (ACTIVE, OUT))
        event = self._event((quest, "done"))
        self.questions.append(Question(quest, event, self._number[column], active, out))

    def ask_of(self, watch: Watch) -> None:
        """Ask about something else."""
        event, number = self._event(watch.event), self._number[watch.column]
        self.questions.append(Question(watch.key, event, number, self._mask(watch.column, watch.awaited), 0))

    def system(self, first: Sequence[int]) -> System:
        """What it came to, from a row on."""
        return System(
            tuple(self._program.columns[c].name for c in self.columns),
            tuple(self._sizes[c] for c in self.columns),
            tuple(self._recodings[c].of(first[c]) for c in self.columns),
            tuple(self.moves),
            tuple(self.questions),
        )

    def _all(self, column: int) -> int:
        return (1 << self._sizes[column]) - 1

    def _event(self, event: Event) -> int:
        return self.events.setdefault(event, len(self.events))

    def _mask(self, column: int, spans: Spans) -> int:
        key = column, spans
        if key not in self._masks:
            self._masks[key] = _mask(self._recodings[column], spans)
        return self._masks[key]

    def _table(self, column: int, change: Change, here: int) -> Table:
        """What the classes among some become by a change; the others stay, and those that never become anything."""
        key = column, change
        if key not in self._tables:
            self._tables[key] = _table(self._recodings[column], change, self._sizes[column])
        return tuple(v if here >> n & 1 and v >= 0 else n for n, v in enumerate(self._tables[key]))


def _mask(recoding: Recoding, spans: Spans) -> int:
    """The classes that have values among some."""
    found = 0
    for start, one in zip(recoding.starts, recoding.classes, strict=True):
        if one >= 0 and met(spans, ((start, start),)):
            found |= 1 << one
    return found


def _table(recoding: Recoding, change: Change, size: int) -> Table:
    """For each class what it becomes by a change; -1 where that never comes."""
    found = [-1] * size
    for start, one in zip(recoding.starts, recoding.classes, strict=True):
        if one >= 0 and found[one] < 0:
            found[one] = recoding.of(changed(change, start))
    return tuple(found)


def values_of(recoding: Recoding, one: int, highest: int) -> Spans:
    """The values of a class."""
    ends = [*recoding.starts[1:], highest + 1]
    return joined((s, e - 1) for s, e, c in zip(recoding.starts, ends, recoding.classes, strict=True) if c == one)
