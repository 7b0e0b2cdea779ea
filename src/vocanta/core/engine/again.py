"""Beginning from a start card: one that a designer keeps, or what a run has come to, in the same project or a later state.

What is kept of a run is what it has come to: everything of progress and of what is counted, by the names that columns have
outside and the names of their values, what is left of time limits, and where what can be moved lies. What was under way (a
talk, a motion, a wait, a cool-down) is not, and who walks about begins where he was placed.
"""

from __future__ import annotations

import math
from array import array
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from types import MappingProxyType
from typing import Any

from pydantic import TypeAdapter

from ..progress.as_if import PASSING, Changes, as_if
from ..progress.columns import Column
from ..progress.layout import Layout
from ..progress.program import Program
from ..project.keeping import Card, Held, Lying
from ..project.records import Project
from .beginning import Start
from .clocks import Clocks
from .situation import Place, Situation
from .standing import free_near, standing_before
from .walkers import Walker
from .wording import Words

_DERIVED = frozenset({"cell", "entry", "place", "stood", "ended", "ending", "carrier", "later"})
"""Columns that follow from where things are, or from what is under way."""


@dataclass(frozen=True, slots=True)
class Reached:
    """What a run has come to by a tick: its row, the level, where the player stands (x, y, facing), where things lie, seconds
    left of time limits by column, where those who walk are, by their numbers in the level."""

    tick: int
    row: Sequence[int]
    level: str
    player: tuple[float, float, float]
    spots: Mapping[str, Place]
    left: Mapping[int, float]
    walkers: Mapping[int, tuple[float, float, float]]


def reached(here: Situation, clocks: Clocks, walkers: Mapping[int, Walker] = MappingProxyType({})) -> Reached:
    """What a run has come to now, of its own: it stays as it is while the run goes on."""
    columns, player = here.program.columns, here.player
    timed = (n for n in here.program.waits_of if columns[n].what == "limit")
    left = {n: seconds for n in timed if (seconds := clocks.left_of(n)) is not None}
    stands = player.x, player.y, player.facing_deg
    walk = {number: (w.x, w.y, w.facing_deg) for number, w in walkers.items()}
    return Reached(here.tick, array("i", here.row), here.level, stands, dict(here.spots), left, walk)


def card_of(here: Situation, then: Reached, key: str = "here", name: str = "Here") -> Card:
    """What a run has come to as a start card."""
    layout = here.layout
    holds = tuple(
        held_of(layout, here.words, column, value, then.left.get(number))
        for number, (column, value) in enumerate(zip(here.program.columns, then.row, strict=True))
        if value != column.start and is_kept(column)
    )
    lies = tuple(
        Lying(thing, spot.level, spot.x, spot.y, spot.turn_deg)
        for thing, spot in then.spots.items()
        if layout.find("place", thing) is not None
        and (spot.level, spot.x, spot.y, spot.turn_deg) != _placed(layout, thing)
    )
    return Card(key, name, then.level, *then.player, holds, lies)


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
    return Card(key, name, level.key if level is not None else "", x, y, facing_deg, holds, start.lies)


def is_kept(column: Column) -> bool:
    """Whether a start card says what a column has come to."""
    return not column.sensed and column.what not in (*PASSING, *_DERIVED)


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
        value, said = _value_now(program, one)
        if said:
            left_out.append(said)
        if value is not None:
            puts.append((one.column, value))
            if one.seconds is not None:
                left.append((one.column, one.seconds))
    levels = {level.key: level for level in project.levels}
    lies = tuple(one for one in card.lies if one.key in program.layout.placed and one.level in levels)
    left_out += [f"where {one.key.replace('_', ' ')} lies" for one in card.lies if one not in lies]
    start = Start(puts=tuple(puts), seed=seed, lies=lies, left=tuple(left))
    if card.in_level not in levels:
        first = levels.get(project.first_level)
        where = f": it begins at the start of {first.name}" if first is not None else ""
        return Fitted(start, (*dict.fromkeys(left_out), f"the level, which is gone{where}"))
    free = free_near(program.layout, card.in_level, card.x_m, card.y_m, dict(puts))
    beside = math.dist(free, (card.x_m, card.y_m)) if free is not None else 0.0
    if free is None:
        left_out.append("the very spot, where nobody can stand now: it begins at the start of the level")
    elif beside > 0:
        left_out.append(f"the very spot, where nobody can stand now: it begins {beside:.1f} m beside it")
    x, y = free or (None, None)
    facing = card.facing_deg if free is not None else None
    return Fitted(replace(start, x=x, y=y, facing_deg=facing, level=card.in_level), tuple(dict.fromkeys(left_out)))


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
    }
    return dict(enumerate(named[column.what]())) if column.what in named else {}


def kept_now(program: Program, held: Held) -> int | None:
    """The value that a start card comes to in a state of a project; None where it is left out."""
    return _value_now(program, held)[0]


def _value_now(program: Program, held: Held) -> tuple[int | None, str]:
    """The value in a state of a project, and in words what is left out or otherwise; None where there is no such column,
    or no value of that name."""
    said = held.says or held.column.replace(":", " ").replace("_", " ")
    try:
        column = program.columns[program.table.number(held.column)]
    except KeyError:
        return None, said
    if held.named:
        names = _names(program.layout, column)
        return next(((n, "") for n, name in names.items() if name == held.named), (None, said))
    value = min(max(held.value, column.lowest), column.highest)
    return value, "" if value == held.value else f"{said}, which goes no further than {value} now"
