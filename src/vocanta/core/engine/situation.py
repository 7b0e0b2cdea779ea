"""The situation of a run: what its parts work on. The row decides; the rest is the picture and the clock.

Every exact position lies in the cell that its column names; `disagreements` tells where one does not.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field

from ..progress.columns import What
from ..progress.layout import Layout
from ..progress.program import Program
from ..project.records import Project
from ..space.cells import Cells
from ..space.reaches import LEAVE_M
from ..space.ways import Way
from .scene import Scene
from .wording import Words

TICKS_A_SECOND = 30
TICK_S = 1.0 / TICKS_A_SECOND
_ROUNDING_M = 2e-3


def at_clock(tick: int) -> str:
    """A tick as minutes, seconds and tenths.

    >>> at_clock(30 * 72 + 12)
    '01:12.4'
    """
    tenths = tick * 10 // TICKS_A_SECOND
    return f"{tenths // 600:02d}:{tenths // 10 % 60:02d}.{tenths % 10}"


@dataclass(frozen=True, slots=True)
class Place:
    """Where something is: level, metres east and north, the way it is turned, degrees."""

    level: str
    x: float
    y: float
    turn_deg: float


@dataclass
class Player:
    """The player's body: where it stands and looks, the way it still has to walk, and where its last step began."""

    x: float = 0.0
    y: float = 0.0
    facing_deg: float = 0.0
    way: Way = field(default_factory=list)
    was: tuple[float, float] = (0.0, 0.0)
    inside: tuple[float, float] = (0.0, 0.0)
    """Where the body was last within the very border of its cell."""

    def stand(self, x: float, y: float, facing_deg: float) -> None:
        """Stand somewhere else at once."""
        self.x, self.y, self.facing_deg = round(x, 3), round(y, 3), facing_deg
        self.way, self.was, self.inside = [], (self.x, self.y), (self.x, self.y)


class Situation:
    """One run's row and pictures. Its parts share it; none of them knows another."""

    def __init__(self, project: Project, program: Program, seed: int):
        self.project, self.program, self.seed = project, program, seed
        self.layout: Layout = program.layout
        self.cells: Cells = program.layout.cells
        self.words = Words(project, lambda: program.layout)
        self.row: list[int] = [c.start for c in program.columns]
        self.tick, self.actions = 0, 0
        self.player = Player()
        self.scenes: dict[str, Scene] = {}
        self.spots: dict[str, Place] = {
            key: Place(one.level, one.thing.x_m, one.thing.y_m, one.thing.turn_deg)
            for key, one in self.layout.placed.items()
            if self.layout.mentions.movable(key)
        }
        """Where everything is that a step can move."""
        self.stood: dict[str, Place] = {}
        """Where the owners of cues stood when those began, for what is put there later."""
        self._cell = self.layout.column("cell")
        heights = {area.key: area.floor_m for level in project.levels for area in level.areas}
        self._heights = [heights.get(cell.area, 0.0) for cell in self.cells.cells]

    # --- reading

    def value(self, what: What, key: str = "") -> int:
        """The value of a column. Raises `KeyError` where there is none."""
        return self.row[self.layout.column(what, key)]

    def known(self, what: What, key: str = "") -> int:
        """The value of a column, 0 where nothing asks for it."""
        column = self.layout.find(what, key)
        return 0 if column is None else self.row[column]

    def who(self, key: str) -> str | None:
        """Who is meant by a name: itself, or whoever fills a role by now; None for a role that nobody fills."""
        role = self.layout.find("role", key)
        if role is None:
            return key
        return self.layout.mentions.fillings[key][self.row[role] - 1] if self.row[role] else None

    def named(self, column: str) -> int:
        """The value of a column by the name it has outside."""
        return self.row[self.program.table.number(column)]

    @property
    def cell(self) -> int:
        """The player's cell."""
        return self.row[self._cell]

    @property
    def level(self) -> str:
        """The level where the player is."""
        return self.cells.cells[self.row[self._cell]].level

    @property
    def scene(self) -> Scene:
        """The level where the player is, laid out; laid out when first come into."""
        return self.scene_at(self.level)

    def scene_at(self, level: str) -> Scene:
        """A level laid out."""
        if level not in self.scenes:
            record = next(lv for lv in self.project.levels if lv.key == level)
            self.scenes[level] = Scene.of(self.layout, record)
        return self.scenes[level]

    @property
    def ended(self) -> bool:
        """Whether the level is over."""
        return bool(self.row[self.program.ended])

    @property
    def floor_m(self) -> float:
        """The height of the floor the player stands on."""
        return self._heights[self.cell]

    def is_here(self, key: str, level: str) -> bool:
        """Whether an object is in a level: where it was put, else where it was placed."""
        spot = self.spots.get(key)
        return (spot.level if spot is not None else self.layout.placed[key].level) == level

    # --- agreement

    def disagreements(self) -> Iterator[str]:
        """Where an exact position does not lie in the cell of its column, in words; none in a sound run."""
        gap = self.cells.gap_m(self.cell, self.player.x, self.player.y)
        if gap > LEAVE_M + _ROUNDING_M:
            yield f"the player stands {gap:.3f} m beyond cell {self.cell}"
        for key, spot in self.spots.items():
            column = self.layout.find("place", key)
            if column is None or not self.known("exists", key):
                continue
            cell = self.cells.cells[self.row[column]]
            gap = self.cells.gap_m(self.row[column], spot.x, spot.y)
            if cell.level != spot.level or gap > _ROUNDING_M:
                yield f"{key} lies in {spot.level}, {gap:.3f} m beyond cell {self.row[column]} of {cell.level}"
