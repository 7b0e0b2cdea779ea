"""Beginning from a start card: one that a designer keeps, or what a run has come to, in the same project or a later state.

What is kept of a run is all that it has come to: its columns by the names that they and their values have outside, what is
left of whatever runs out, where what can be moved lies, who walks where. Not kept is what the player holds down or walks to,
which cues chase each other, the number that chances are drawn from, and that the level is over, which is said.
"""

from __future__ import annotations

import hashlib
import math
from array import array
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

from pydantic import TypeAdapter

from ..cuetext.writing import write_step
from ..progress.as_if import Changes, as_if
from ..progress.columns import Column, What
from ..progress.layout import Layout
from ..progress.mentions import pending
from ..progress.program import Program
from ..project.keeping import Afoot, Card, Held, Lying
from ..project.records import Project
from ..space.cells import Cell
from ..space.reaches import LEAVE_M
from .beginning import Start
from .run import Run
from .situation import Place, Situation
from .standing import free_near, standing_before
from .wording import Words

_DRAWN: frozenset[What] = frozenset({"chance", "ended"})
"""Columns that are drawn anew, and the end of a level, which a run does not begin with."""
_CELLS: frozenset[What] = frozenset({"cell", "whereabouts", "place", "stood"})
"""Columns that say in which cell somebody or something is."""
_ALWAYS: frozenset[What] = frozenset({"cell", "entry"})
"""Columns that go by where a run begins, whatever they are at the start of the first level."""


@dataclass(frozen=True, slots=True)
class Reached:
    """What a run has come to by a tick: its row, the level, where the player stands (x, y, facing), where things lie and the
    owners of cues stood, the seconds that are left of whatever runs out, by column, and who walks where."""

    tick: int
    row: Sequence[int]
    level: str
    player: tuple[float, float, float]
    spots: Mapping[str, Place]
    stood: Mapping[str, Place]
    left: Mapping[int, float]
    afoot: tuple[Afoot, ...]


def reached(run: Run) -> Reached:
    """What a run has come to now, of its own: it stays as it is while the run goes on."""
    here, player = run.situation, run.situation.player
    stands, left, afoot = (player.x, player.y, player.facing_deg), dict(run.time_left()), tuple(run.afoot())
    return Reached(here.tick, array("i", here.row), here.level, stands, dict(here.spots), dict(here.stood), left, afoot)


def card_of(here: Situation, then: Reached, key: str = "here", name: str = "Here") -> Card:
    """What a run has come to as a start card."""
    layout = here.layout
    holds = tuple(
        held_of(layout, here.words, column, value, then.left.get(number))
        for number, (column, value) in enumerate(zip(here.program.columns, then.row, strict=True))
        if column.what in _ALWAYS or (value != column.start and (is_kept(column) or column.what == "ended"))
    )
    lies = tuple(
        Lying(thing, spot.level, spot.x, spot.y, spot.turn_deg)
        for thing, spot in then.spots.items()
        if (spot.level, spot.x, spot.y, spot.turn_deg) != _placed(layout, thing)
    )
    stood = tuple(_stood(layout, then))
    return Card(key, name, then.level, *then.player, holds, lies, stood, then.afoot, goes_on=True)


def _stood(layout: Layout, then: Reached) -> Iterator[Lying]:
    for key, spot in then.stood.items():
        column = layout.find("stood", key)
        if column is not None and then.row[column] != layout.table.columns[column].start:
            yield Lying(layout.table.columns[column].name, spot.level, spot.x, spot.y, spot.turn_deg)


def point_card(
    project: Project,
    program: Program,
    words: Words,
    point: tuple[str, str, Changes],
    at: str,
    key: str = "here",
    way: Changes | None = None,
) -> Card:
    """A start card for a point to be as if at (a quest, a stage, what is changed), before an object where one is named, else
    at the start; without a quest as everything begins. Raises `KeyError` for an unknown point."""
    quest, stage, changes = point
    assumed = as_if(program, project, quest, stage, changes, way).assumed if quest else ()
    columns = [(program.columns[program.table.number(one.column)], one.value) for one in assumed]
    holds = tuple(held_of(program.layout, words, column, value) for column, value in columns if is_kept(column))
    level = next((lv for lv in project.levels if at in {o.key for o in lv.objects}), None)
    level = level or next((lv for lv in project.levels if lv.key == project.first_level), None)
    spot = standing_before(project, at, program.layout)
    if spot is None and level is not None:
        spot = level.start_x_m, level.start_y_m, level.start_facing_deg
    x, y, facing_deg = spot or (0.0, 0.0, 0.0)
    return Card(key, "Here", level.key if level is not None else "", x, y, facing_deg, holds)


def card_of_start(start: Start, program: Program, words: Words, key: str = "here", name: str = "Here") -> Card:
    """The start card that a run begins from which begins so."""
    project, columns = program.layout.project, program.columns
    level = next((lv for lv in project.levels if lv.key == (start.level or project.first_level)), None)
    placed = (0.0, 0.0, 0.0) if level is None else (level.start_x_m, level.start_y_m, level.start_facing_deg)
    chosen = (start.x, start.y, start.facing_deg)
    x, y, facing_deg = (usual if own is None else own for usual, own in zip(placed, chosen, strict=True))
    left = dict(start.left)
    holds = tuple(
        held_of(program.layout, words, columns[program.table.number(column)], value, left.get(column))
        for column, value in start.puts
    )
    in_level = level.key if level is not None else ""
    return Card(
        key, name, in_level, x, y, facing_deg, holds, start.lies, start.stood, start.afoot, goes_on=start.goes_on
    )


def is_kept(column: Column) -> bool:
    """Whether a start card says what a column has come to."""
    return column.what not in _DRAWN


def is_said(column: Column) -> bool:
    """Whether what a column has come to is told as something that a start card holds: not what follows from where the player
    stands and from what is under way."""
    return (
        is_kept(column) and not column.sensed and column.belongs not in ("place", "motion") and column.what not in _OPEN
    )


_OPEN: frozenset[What] = frozenset({"talk_at", "waiting_at", "waits", "carrier"})


def held_of(layout: Layout, words: Words, column: Column, value: int, seconds: float | None = None) -> Held:
    """A value of a column as a start card holds it."""
    return Held(column.name, value, _names(layout, column).get(value, ""), words.standing(column, value), seconds)


_START = TypeAdapter(Start)


def as_data(start: Start) -> dict[str, Any]:
    """The start of a run as plain data."""
    data: dict[str, Any] = _START.dump_python(start, mode="json", exclude_defaults=True)
    return data


def from_data(data: Any) -> Start:
    """The start of a run from the data of `as_data`."""
    return _START.validate_python(data)


@dataclass(frozen=True, slots=True)
class Fitted:
    """How a start card fits a state of the project: the start of a run, and what was left out or filled, in words."""

    start: Start
    left_out: tuple[str, ...]


def fitted(card: Card, project: Project, program: Program, seed: int = 0) -> Fitted:
    """A start card as the start of a run."""
    left_out: list[str] = []
    puts, left = [], []
    for one in card.holds:
        if one.column == "ended":
            left_out.append("that the level was over")
            continue
        value, said = _value_now(program, one)
        if value is not None and one.column.partition(":")[0] in _CELLS:
            value = _cell_now(program, card, one.column, value)
        if said:
            left_out.append(said)
        if value is not None:
            puts.append((one.column, value))
            if one.seconds is not None:
                left.append((one.column, one.seconds))
    levels = {level.key: level for level in project.levels}
    placed, table = program.layout.placed, program.table
    lies = tuple(one for one in card.lies if one.key in placed and one.level in levels)
    stood = tuple(one for one in card.stood if table.has(one.key) and one.level in levels)
    afoot = tuple(one for one in card.afoot if one.key in placed and one.level in levels)
    left_out += [f"where {one.key.replace('_', ' ')} lies" for one in card.lies if one not in lies]
    left_out += [f"where {one.key.replace('_', ' ')} walks" for one in card.afoot if one not in afoot]
    start = Start(
        puts=tuple(puts), seed=seed, lies=lies, left=tuple(left), stood=stood, afoot=afoot, goes_on=card.goes_on
    )
    if card.in_level not in levels:
        first = levels.get(project.first_level)
        where = f": it begins at the start of {first.name}" if first is not None else ""
        start = replace(start, puts=_elsewhere(program, puts))
        return Fitted(start, (*dict.fromkeys(left_out), f"the level, which is gone{where}"))
    elsewhere = [(one.key, one.level, one.x_m, one.y_m, one.turn_deg) for one in lies]
    elsewhere += [(one.key, one.level, one.x_m, one.y_m, one.facing_deg) for one in afoot]
    free = free_near(program.layout, card.in_level, card.x_m, card.y_m, dict(puts), elsewhere)
    beside = math.dist(free, (card.x_m, card.y_m)) if free is not None else 0.0
    if free is None:
        left_out.append("the very spot, where nobody can stand now: it begins at the start of the level")
    elif beside > 0:
        left_out.append(f"the very spot, where nobody can stand now: it begins {beside:.1f} m beside it")
    if beside > 0 or free is None:
        start = replace(start, puts=_elsewhere(program, puts))
    x, y = free or (None, None)
    facing = card.facing_deg if free is not None else None
    return Fitted(replace(start, x=x, y=y, facing_deg=facing, level=card.in_level), tuple(dict.fromkeys(left_out)))


def _cell_now(program: Program, card: Card, column: str, value: int) -> int | None:
    """The cell where the player of a card, somebody who walks or what lies there was: of those called the same the one that
    is there; None where none is."""
    cells, (what, _, key) = program.layout.cells, column.partition(":")
    spots = {one.key: (one.level, one.x_m, one.y_m) for one in (card.stood if what == "stood" else card.lies)}
    if what == "whereabouts":
        spots = {one.key: (one.level, one.x_m, one.y_m) for one in card.afoot}
    spots[""] = card.in_level, card.x_m, card.y_m
    spot = spots.get(column if what == "stood" else key)
    if spot is None:
        return value
    level, x, y = spot
    here = (n for n in cells.by_level.get(level, ()) if cells.gap_m(n, x, y) <= LEAVE_M)
    return next((n for n in here if _called(cells.cells[n]) == _called(cells.cells[value])), None)


def _elsewhere(program: Program, puts: Iterable[tuple[str, int]]) -> tuple[tuple[str, int], ...]:
    """Columns without those that go by where the player stands."""
    numbers = program.table.number
    return tuple(
        (name, value)
        for name, value in puts
        if not (column := program.columns[numbers(name)]).sensed and column.what != "cell"
    )


def _placed(layout: Layout, key: str) -> tuple[str, float, float, float]:
    one = layout.placed[key]
    return one.level, one.thing.x_m, one.thing.y_m, one.thing.turn_deg


def _names(layout: Layout, column: Column) -> Mapping[int, str]:
    """The names that the values of a column have, where they have any: their numbers change when others are added."""
    key = column.key
    named: dict[str, Callable[[], Iterable[str]]] = {
        "state": lambda: [s.key for s in layout.placed[key].design.states],
        "stage": lambda: [s.key for s in layout.quests[key].stages],
        "role": lambda: ["", *layout.mentions.fillings.get(key, ())],
        "gear": lambda: ["", *layout.slots[key]],
        "cell": lambda: [_called(cell) for cell in layout.cells.cells],
        "whereabouts": lambda: [_called(cell) for cell in layout.cells.cells],
        "place": lambda: [_called(cell) for cell in layout.cells.cells],
        "stood": lambda: [_called(cell) for cell in layout.cells.cells],
        "entry": lambda: layout.entries,
        "moving": lambda: ["", *(s.key for s in layout.placed[key].design.states)],
        "talk": lambda: ["", *("/".join(speech) for speech in layout.speeches)],
        "talk_at": lambda: ["", *layout.talkers],
        "waiting_at": lambda: ["", *layout.talkers],
        "talk_waiting": lambda: ["", *layout.conversations],
        "later": lambda: ["", *_awaited(layout, key)],
    }
    return dict(enumerate(named[column.what]())) if column.what in named else {}


def _called(cell: Cell) -> str:
    """What a cell is called: by all that can be said of it, so that others by the same name are as good."""
    said = "/".join(
        (cell.area, cell.exit, *sorted(cell.zones), *(f"{b.key} {sorted(b.states)}" for b in cell.blockers))
    )
    return hashlib.sha256(said.encode()).hexdigest()[:12]


def _awaited(layout: Layout, key: str) -> Iterator[str]:
    """What an owner waits for, in the order of the values, each as it is written."""
    for owner, named in layout.mentions.laters.items():
        for name, steps in named.items():
            if pending(owner, name) == key:
                yield from (write_step(step)[:300] for step in steps)


def kept_now(program: Program, held: Held) -> int | None:
    """The value that a start card comes to in a state of a project; None where it is left out."""
    return _value_now(program, held)[0]


def _value_now(program: Program, held: Held) -> tuple[int | None, str]:
    """The value in a state of a project, and in words what is left out or otherwise; None where there is no such column,
    or no value of that name."""
    said = held.says
    try:
        column = program.columns[program.table.number(held.column)]
    except KeyError:
        return None, said
    if held.named:
        names = _names(program.layout, column)
        return next(((n, "") for n, name in names.items() if name == held.named), (None, said))
    value = min(max(held.value, column.lowest), column.highest)
    return value, "" if value == held.value else f"{said}, which goes no further than {value} now"
