"""A run driven the way a player drives it; after every tick the row is held against its limits and exact positions."""

from __future__ import annotations

from tests.core.test_project import demo
from vocanta.core.engine.beginning import Start
from vocanta.core.engine.inputs import Input
from vocanta.core.engine.run import Run
from vocanta.core.engine.standing import standing_before

STILL = Input()


def out_of_bounds(program, row):
    """The names of columns that hold what they cannot hold."""
    columns = program.columns
    return [c.name for c, value in zip(columns, row, strict=True) if not c.lowest <= value <= c.highest]


class CheckedRun(Run):
    """A run in which, after every tick, every exact position lies in the cell that its column names, and every column
    within its limits."""

    def tick(self, given):
        entries = super().tick(given)
        wrong = list(self.situation.disagreements())
        wrong += out_of_bounds(self.situation.program, self.situation.row)
        assert not wrong, (self.situation.tick, wrong)
        return entries


class Walked:
    """One walk: what is done returns the walk, so that it can be told in a row."""

    def __init__(self, at: str = "", project=None, puts=(), start: Start | None = None, program=None):
        self.project = project or demo()
        spot = standing_before(self.project, at) if at else None
        self.run = CheckedRun(self.project, start or Start(*(spot or ()), puts=tuple(puts)), program)

    def wait(self, ticks: int) -> Walked:
        for _ in range(ticks):
            self.run.tick(STILL)
        return self

    def press(self, control: str = "use", held: int = 1) -> Walked:
        self.run.tick(Input(down=(control,)))
        self.wait(held)
        self.run.tick(Input(up=(control,)))
        return self

    def go(self, x: float, y: float) -> Walked:
        self.run.tick(Input(walk_to=(x, y)))
        for _ in range(900):
            if not self.run.situation.player.way:
                return self
            self.run.tick(STILL)
        raise AssertionError("still walking")

    def move(self, east: float, north: float, ticks: int) -> Walked:
        """Walk straight in a direction."""
        for _ in range(ticks):
            self.run.tick(Input(move=(east, north)))
        return self

    def stand(self, x: float, y: float, facing: float = 90.0) -> Walked:
        """Stand somewhere of the present level without walking there."""
        situation = self.run.situation
        situation.row[situation.layout.column("cell")] = situation.cells.at(situation.level, x, y)
        situation.player.stand(x, y, facing)
        return self

    def told(self, what: str) -> list[str]:
        return [e.text for e in self.run.chronicle if e.what == what]

    def value(self, column: str) -> int:
        return self.run.situation.named(column)

    def place(self, key: str) -> tuple[str, float, float]:
        """Where a thing lies that a step has put somewhere: level, metres east and north."""
        spot = self.run.situation.spots[key]
        return spot.level, spot.x, spot.y


def walked(small, x=2.0, y=1.0, facing=90.0, **start) -> Walked:
    """A walk that begins at a place of a small project."""
    w = Walked(project=small, start=Start(x, y, facing, **start))
    assert w.run.situation.program.problems == (), w.run.situation.program.problems
    return w
