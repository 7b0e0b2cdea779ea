"""Flats: all that an action with its settling can do, as conditions and maps of columns without any order left in them.

A flat holds where each of its columns has one of some values, and then maps each column it writes by what that column
held before. Each comes from one course of the action through `RowWalk`, the code that runs it in a playtest: the row
holds unknown values, and each question about one parts the courses. Flats that do the same are put together.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import partial
from typing import assert_never, cast

from ..progress.happenings import Happening
from ..progress.onerow import Row, RowOutcome, RowWalk, Telling
from ..progress.ops import Exchange, Plus, PutBy, PutCopies, PutNext, Reset, Unflag
from ..progress.program import Action, Branch, Group, Listens, Program
from .places import Places, When, Whens
from .spans import Spans, has, joined, less, met, size, span, spans_of, values_in
from .together import Together
from .unknown import ENDLESS, Course, Piece, Tree, Unknown, at_first

MOST_COURSES = 20_000
"""An action that can go more ways is too much: it is named."""
Change = tuple[Piece, ...]
Event = tuple[str, str]
"""Whose it is, and what: a quest by its key and the status that it comes to, an objective and `met`, a line and `said`."""
ENDS = ("done", "failed", "declined")
DID = "did"
"""What happens to an action, by its name, where it took effect."""
Watched = Callable[[Event], bool]


@dataclass(frozen=True, slots=True)
class Flat:
    """One thing that an action can do: `when` the columns have such values, each of `then` changes by itself.

    `ends`: what happens by it of all that is watched, as a rule which quests come to which end.
    """

    action: int
    when: Mapping[int, Spans]
    then: Mapping[int, Change]
    ends: frozenset[Event] = frozenset()

    def holds(self, row: Sequence[int]) -> bool:
        """Whether it can be done in a row."""
        return all(has(spans, row[column]) for column, spans in self.when.items())

    def after(self, row: Sequence[int]) -> list[int]:
        """The row that it leads to."""
        new = list(row)
        for column, change in self.then.items():
            new[column] = changed(change, row[column])
        return new


def changed(change: Change, value: int) -> int:
    """What a value becomes."""
    return next((by if fixed else value + by for first, last, fixed, by in change if first <= value <= last), value)


class TooMany(Exception):
    """An action can go too many ways. Raised inside the proof and told as *not decided*; `columns` are the culprits."""

    def __init__(self, action: Action, columns: Sequence[int]):
        super().__init__(f"{action.name}: more than {MOST_COURSES} ways through it")
        self.action, self.columns = action, tuple(columns)


class _Walk(RowWalk):
    """The walk of a program over unknown values. Nobody is asked what nothing hangs on."""

    def _write(self, column: int, value: int) -> None:
        """Write a column. What it was before is asked only as far as somebody hears it."""
        old = cast(object, self.row[column])
        if not isinstance(old, Unknown) or column not in self.program.listeners_of:
            self._log.append((column, self.row[column]))
            self.row[column] = value
            if column in self.program.listeners_of and old != value:
                self._heard(column, cast(int, old), value)
            return
        new = cast(object, value)
        if isinstance(new, Unknown) and new.column != column:
            new = new.settled()
        self._log.append((column, self.row[column]))
        self.row[column] = value = cast(int, new)
        for number, listener in self.program.listeners_of[column]:
            if number not in self.flags and _heard_from(listener, old, new):
                self.flags.add(number)

    def _rarer(self, op: PutBy | PutNext | Exchange | Reset | PutCopies | Unflag) -> None:
        if isinstance(op, PutNext):
            value = cast(object, self.row[op.column])
            if isinstance(value, Unknown) and op.column not in self.program.listeners_of:
                self._write(op.column, cast(int, value.mapped(op.table, op.lowest)))
                return
        super()._rarer(op)

    def _plus(self, op: Plus) -> None:
        value = cast(object, self.row[op.column])
        if op.clamped and isinstance(value, Unknown):
            self._write(op.column, cast(int, (value + op.amount).clamped(op.lowest, op.highest)))
        else:
            super()._plus(op)

    def _fitting(self, group: Group) -> list[Branch]:
        return []

    def _refuse(self, branch: Branch) -> None:
        if branch.otherwise is not None or any(c.or_else is not None for c in branch.conditions):
            super()._refuse(branch)


def _heard_from(listener: Listens, old: Unknown, new: object) -> bool:
    """Whether a listener hears of a change, asked of what the column was before."""
    held = cast(int, new.settled() if isinstance(new, Unknown) and listener.values else new)
    match listener.edge:
        case "into":
            return held in listener.values and not old.among(listener.values)
        case "out_of":
            return held not in listener.values and old.among(listener.values)
        case "rise":
            return old < held
        case "fall":
            return old > held
        case "change":
            return old != held
        case _:
            assert_never(listener.edge)


@dataclass(frozen=True, slots=True)
class Flattened:
    """What one action came to: its flats, the columns that it was asked of, and the groups that chase each other by it.

    `happens`: all that happens on any of its courses, whether it is watched or not.
    """

    flats: tuple[Flat, ...]
    asked: frozenset[int]
    chasing: frozenset[str]
    courses: int
    happens: frozenset[Event] = frozenset()


@dataclass(frozen=True, slots=True)
class _Done:
    """What an action does on one course: what it changes, what happens by it, what of that is watched, what chases."""

    then: dict[int, Change]
    events: frozenset[Event]
    ends: frozenset[Event]
    chasing: frozenset[str]


def quest_ends(event: Event) -> bool:
    """Whether something that happens is the end of a quest: what is watched as a rule."""
    return event[1] in ENDS


class Parting:
    """The actions of one program parted into flats, within what can come together. `counts`: the columns that matter."""

    def __init__(
        self,
        program: Program,
        together: Together,
        places: Places,
        counts: frozenset[int],
        watched: Watched = quest_ends,
    ):
        self.program, self.places, self._counts, self._watched = program, places, counts, watched
        self._course = course = Course(together)
        self._fresh: list[Unknown | int] = [
            at_first(course, n) if n in counts or column.sensed else column.start
            for n, column in enumerate(program.columns)
        ]
        self._trees: dict[tuple[int, tuple[int, int] | None], Tree] = {}
        self._cell = program.table.at("cell")
        self._beside = [one for one in places.heard(program) if any(when.keys() - {self._cell} for when in one.whens)]

    def flattened(self, number: int) -> Flattened:
        """The flats of one action, those that change nothing and do nothing left out. In the order of its courses.

        Raises `TooMany`. Cost: each course as much as the action itself.
        """
        action, course = self.program.actions[number], self._course
        course.asked = set()
        found: list[Flat] = []
        chasing: set[str] = set()
        happens: set[Event] = set()
        courses = 0
        for turned, given, when in self._ways(action):
            tree = self._trees.setdefault((number, turned), Tree())
            for does in course.gone(tree, given, partial(self._done, action, turned)):
                courses += 1
                if courses > MOST_COURSES:
                    del self._trees[number, turned]
                    raise TooMany(action, _most_parted(found))
                if does is None:
                    continue
                chasing |= does.chasing
                if (does.then or does.ends or not does.events <= happens) and self._possible(does.then):
                    happens |= does.events
                    if does.then or does.ends:
                        whens = self._placed(both(when, course.chosen))
                        found += [Flat(number, w, does.then, does.ends) for w in whens]
        return Flattened(tuple(found), frozenset(course.asked), frozenset(chasing), courses, frozenset(happens))

    def _done(self, action: Action, turned: tuple[int, int] | None) -> _Done:
        """What an action does on the present course."""
        row = cast(Row, self._fresh[:])
        outcomes = self._gone(row, action, turned)
        then = self._changes(row, outcomes, turned)
        events = {event for outcome in outcomes for event in events_told(outcome.told)}
        events |= {(action.name, DID)} if outcomes[0].took_effect else set()
        chasing = frozenset(name for outcome in outcomes for name in outcome.chasing)
        return _Done(then, frozenset(events), frozenset(filter(self._watched, events)), chasing)

    def _ways(self, action: Action) -> Iterator[tuple[tuple[int, int] | None, dict[int, Spans], dict[int, Spans]]]:
        """How an action can be come to: a sensed column turned to a value, what columns have then, and what of it is asked.

        That the level is not over is not asked: what lies behind its end is left out as a whole.
        """
        program, places = self.program, self.places
        going: dict[int, Spans] = {program.ended: ((0, 0),)}
        if action.kind == "sensed":
            column = program.table.number(action.control)
            for new in (0, 1):
                old = {column: span(1 - new, 1 - new)}
                for when in places.whens(program.columns[column], new) or ({},):
                    yield (column, new), going | old | dict(when), old | dict(when)
            return
        for when in places.whens_of(action) or ({},):
            here = dict(when)
            if action.kind == "cross":
                here |= places.surely_in(program, int(action.name.partition(":")[2]))
            yield None, going | here, here

    def _gone(self, row: Row, action: Action, turned: tuple[int, int] | None) -> list[RowOutcome]:
        """Go one course. Whoever comes to be elsewhere by it, or moves something, senses at once what there is to sense."""
        walk = _Walk(self.program, row)
        if turned is None:
            outcomes = [walk.act(action, attempt=action.tried is not None or action.kind == "resume")]
        else:
            row[turned[0]] = turned[1]
            outcomes = [walk.sensed(turned[0], 1 - turned[1])]
        if not row[self.program.ended]:
            outcomes += self._heard(row, {column for outcome in outcomes for column in outcome.changed})
        return outcomes

    def _heard(self, row: Row, changed: set[int]) -> Iterator[RowOutcome]:
        """What is heard where columns that say where something is have changed: what cannot be sensed there any more."""
        found = list(self.places.heard_in(self.program, int(row[self._cell]))) if self._cell in changed else []
        found += [one for one in self._beside if any(n in changed for when in one.whens for n in when)]
        for one in found:
            if row[one.column] == one.value and not _holds_one(one.whens, row):
                row[one.column] = 1 - one.value
                yield _Walk(self.program, row).sensed(one.column, one.value)
                yield RowOutcome(True, changed=frozenset((one.column,)))

    def _changes(self, row: Row, outcomes: Iterable[RowOutcome], turned: tuple[int, int] | None) -> dict[int, Change]:
        written = {column for outcome in outcomes for column in outcome.changed}
        written |= set() if turned is None else {turned[0]}
        found = {}
        for number in sorted(written & self._counts):
            value = row[number]
            if value is not self._fresh[number]:
                change = _change(self._course, number, value)
                if change is not None:
                    found[number] = change
        return found

    def _possible(self, then: Mapping[int, Change]) -> bool:
        """Whether every column that was asked or is changed can have a value still."""
        course = self._course
        return all(course.possible & course.facts.of_column[n] for n in (*course.chosen, *then))

    def _placed(self, when: dict[int, Spans]) -> Iterator[dict[int, Spans]]:
        """What is asked of the senses as what is asked of where the player and things are."""
        columns, free = self.program.columns, self._course.together.free
        found = [{n: spans for n, spans in when.items() if n not in free}]
        asked: list[list[When]] = []
        for number in sorted(when.keys() & free):
            several = [self.places.whens(columns[number], v) for v in values_in(when[number])]
            if None not in several:
                asked.append([one for whens in several for one in whens or ()])
        if sum(len(one) > 1 for one in asked) > 1:
            asked = [self._cell_by_cell(asked)]
        for also in asked:
            found = [one for a in found for b in also if self._can_be(b) and all((one := both(a, b)).values())]
        yield from found

    def _can_be(self, when: When) -> bool:
        """Whether things can have come to be so on this course; where more comes to be, the action is taken apart again."""
        course, beside = self._course, when.keys() - {self._cell}
        course.asked |= beside
        return all(met(when[n], course.values(n)) for n in beside)

    def _cell_by_cell(self, asked: list[list[When]]) -> list[When]:
        """Several sets of conditions as one: what each asks besides in a cell, and the cells for which that is the same."""
        cells: dict[tuple[tuple[int, Spans], ...], list[int]] = {}
        for cell in range(self.program.columns[self._cell].highest + 1):
            here: list[dict[int, Spans]] = [{}]
            for whens in asked:
                there = [one for one in whens if self._cell not in one or has(one[self._cell], cell)]
                here = [both(a, b) for a in here for b in _joined([_without(one, self._cell) for one in there])]
            for one in here:
                cells.setdefault(tuple(sorted(one.items())), []).append(cell)
        return [dict(rest) | {self._cell: spans_of(of)} for rest, of in cells.items() if all(s for _, s in rest)]


def _without(when: When, column: int) -> dict[int, Spans]:
    return {n: spans for n, spans in when.items() if n != column}


def _joined(whens: Sequence[When]) -> list[When]:
    """Conditions of which one holds, as one where all ask about the same column alone, or one asks nothing."""
    if not all(whens):
        return [{}]
    asked = {n for when in whens for n in when}
    if whens and len(asked) == 1:
        column = asked.pop()
        return [{column: joined(part for when in whens for part in when[column])}]
    return list(whens)


def _holds_one(whens: Whens, row: Row) -> bool:
    """Whether one of several conditions holds in a row of which not all is known."""
    return any(all(_is_among(row[n], spans) for n, spans in when.items()) for when in whens)


def _is_among(value: object, spans: Spans) -> bool:
    if isinstance(value, Unknown):
        return value.among(frozenset(values_in(spans)))
    return has(spans, cast(int, value))


def both(when: Mapping[int, Spans], chosen: Mapping[int, Spans]) -> dict[int, Spans]:
    """What is asked by two conditions together; nothing is left of a column of which they ask different values."""
    found = dict(chosen)
    for column, spans in when.items():
        found[column] = met(found[column], spans) if column in found else spans
    return found


def events_told(several: Iterable[Telling]) -> Iterator[Event]:
    """What happens by what is told: what comes of quests, stages, objectives, lines and replies."""
    for told, _ in several:
        by = _EVENTS.get(told.what)
        if by is not None and (event := by(told.subject, dict(told.details))) is not None:
            yield event


_EVENTS: Mapping[Happening, Callable[[str, dict[str, str | int | float]], Event | None]] = {
    Happening.QUEST: lambda whose, of: (whose, str(of["status"])),
    Happening.STAGE: lambda whose, of: (f"{whose}.{of['stage']}", "reached"),
    Happening.OBJECTIVE: lambda whose, of: (whose, "met") if of["met"] else None,
    Happening.LINE: lambda whose, of: (whose, "said"),
    Happening.REPLY: lambda whose, of: (f"{of['line']}/{whose}", "chosen"),
}


def _change(course: Course, column: int, value: object) -> Change | None:
    """How a column has changed on a course, None where it has not."""
    if isinstance(value, Unknown):
        if value.column == column:
            return value.pieces if any(fixed or by for _, _, fixed, by in value.pieces) else None
        value = value.settled()
    assert isinstance(value, int)
    return ((-ENDLESS, ENDLESS, True, value),)


def _most_parted(found: Sequence[Flat]) -> list[int]:
    """The columns that most flats tell apart."""
    counts: dict[int, set[Spans]] = {}
    for flat in found:
        for column, spans in flat.when.items():
            counts.setdefault(column, set()).add(spans)
    return sorted(counts, key=lambda c: -len(counts[c]))[:3]


# --- putting together


def put_together(flats: Iterable[Flat], base: Sequence[Spans]) -> list[Flat]:
    """The same flats, fewer: two that do the same and differ in what they ask of one column are one."""
    by_doing: dict[tuple[int, frozenset[Event], tuple[tuple[int, Change], ...]], list[dict[int, Spans]]] = {}
    for flat in flats:
        then = {n: _widest(change) for n, change in flat.then.items()}
        doing = flat.action, flat.ends, tuple(sorted(then.items()))
        by_doing.setdefault(doing, []).append(dict(flat.when))
    found: list[Flat] = []
    for (action, ends, does), whens in by_doing.items():
        for when in _fewer(whens, base):
            left = {n: change for n, change in does if not _changes_nothing(change, when.get(n))}
            if left or ends:
                found.append(Flat(action, when, left, ends))
    return found


def _changes_nothing(change: Change, known: Spans | None) -> bool:
    """Whether a column is put to the one value that it has."""
    return known is not None and size(known) == 1 and changed(change, known[0][0]) == known[0][0]


def _widest(change: Change) -> Change:
    """A change of one sort as it is for every value, so that the same is known as the same."""
    if len({(fixed, by) for _, _, fixed, by in change}) == 1:
        _, _, fixed, by = change[0]
        return ((-ENDLESS, ENDLESS, fixed, by),)
    return change


def _fewer(whens: list[dict[int, Spans]], base: Sequence[Spans]) -> list[dict[int, Spans]]:
    """Conditions put together as long as two of them differ in one column."""
    parted = True
    while parted:
        parted = False
        for column in {c for when in whens for c in when}:
            rest: dict[tuple[tuple[int, Spans], ...], Spans] = {}
            for when in whens:
                others = tuple(sorted((c, s) for c, s in when.items() if c != column))
                spans = when.get(column, base[column])
                rest[others] = joined((*rest[others], *spans)) if others in rest else spans
            parted = parted or len(rest) < len(whens)
            whens = [
                dict(others) | ({} if not less(base[column], spans) else {column: spans})
                for others, spans in rest.items()
            ]
    return whens
