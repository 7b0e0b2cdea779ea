"""Where a run begins: a place, columns that differ from the beginning, and where things lie that were moved."""

from __future__ import annotations

from dataclasses import dataclass

from ..project.keeping import Afoot, Lying
from ..project.problems import Problem, ProjectError
from ..project.records import Level, Project
from ..space.reaches import LEAVE_M
from .situation import Place, Situation


@dataclass(frozen=True, slots=True)
class Start:
    """Where a run begins: a place, and columns that differ from the beginning (an *as if*). No place: the level's start.

    `seed` is what chances and scattering draw from. `lies` is where things lie that were moved, `left` the seconds that are
    left of what runs out, by columns. `goes_on`: it was taken from a run, so that nothing begins anew; `stood` and `afoot`
    as in a start card.
    """

    x: float | None = None
    y: float | None = None
    facing_deg: float | None = None
    puts: tuple[tuple[str, int], ...] = ()
    level: str = ""
    seed: int = 0
    lies: tuple[Lying, ...] = ()
    left: tuple[tuple[str, float], ...] = ()
    stood: tuple[Lying, ...] = ()
    afoot: tuple[Afoot, ...] = ()
    goes_on: bool = False


def level_of(start: Start, project: Project) -> Level:
    """The level where a run begins. Raises `ProjectError` (`no_level`)."""
    wanted = start.level or project.first_level
    level = next((lv for lv in project.levels if lv.key == wanted), None)
    if level is None:
        raise ProjectError(
            [Problem("no_level", "There is no level to start in.", "Make a level first.", "project/first_level")]
        )
    return level


def stand_at(situation: Situation, start: Start, level: Level) -> None:
    """Put columns, things and the player where a run begins."""
    situation.row[situation.layout.column("entry")] = situation.layout.entries.index(f"start:{level.key}")
    cell = None
    for name, value in start.puts:
        number = situation.program.table.number(name)
        situation.row[number] = value
        cell = value if number == situation.layout.column("cell") else cell
    for one in start.lies:
        _lay(situation, one)
    for one in start.stood:
        _note_where_stood(situation, one)
    x = level.start_x_m if start.x is None else start.x
    y = level.start_y_m if start.y is None else start.y
    situation.player.stand(x, y, level.start_facing_deg if start.facing_deg is None else start.facing_deg)
    x, y = situation.player.x, situation.player.y
    situation.row[situation.layout.column("cell")] = situation.cells.at(level.key, x, y) if cell is None else cell
    _lay_out_puts(situation)


def _lay(situation: Situation, one: Lying) -> None:
    """Lay something where it was moved, if it can be moved at all; beside the floor the nearest place on it."""
    if one.key in situation.spots:
        column = situation.layout.find("place", one.key)
        likely = -1 if column is None else situation.row[column]
        cell = _cell_at(situation, one, likely)
        if column is not None:
            situation.row[column] = cell
        x, y = situation.cells.inside(cell, one.x_m, one.y_m)
        situation.spots[one.key] = Place(one.level, round(x, 3), round(y, 3), one.turn_deg)


def _cell_at(situation: Situation, one: Lying, likely: int) -> int:
    """The cell of a place; on a border the one that is likely."""
    cells = situation.cells
    if likely >= 0 and cells.cells[likely].level == one.level and cells.gap_m(likely, one.x_m, one.y_m) <= LEAVE_M:
        return likely
    return cells.at(one.level, one.x_m, one.y_m)


def _note_where_stood(situation: Situation, one: Lying) -> None:
    """Know where the owner of a cue stood that waits to put something there."""
    column = situation.program.table.number(one.key)
    situation.row[column] = _cell_at(situation, one, situation.row[column])
    situation.stood[situation.program.columns[column].key] = Place(one.level, one.x_m, one.y_m, one.turn_deg)


def _lay_out_puts(situation: Situation) -> None:
    """What a chosen point says lies elsewhere than it was placed lies there from the beginning."""
    for key, spot in situation.spots.items():
        column = situation.layout.find("place", key)
        if column is not None and situation.row[column] != situation.program.columns[column].start:
            cell = situation.row[column]
            x, y = situation.cells.inside(cell, spot.x, spot.y)
            level = situation.cells.cells[cell].level
            situation.spots[key] = Place(level, round(x, 3), round(y, 3), spot.turn_deg)
