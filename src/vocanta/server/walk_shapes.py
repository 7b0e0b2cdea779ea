"""The shapes of kept walks and of runs as they are told."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any, Literal

from ..core.project.problems import ProblemData


@dataclass(frozen=True)
class CameShape:
    """Something that a walk came to: when (as minutes and seconds, and as a tick), in words, and where the player was."""

    at: str
    tick: int
    what: str
    subject: str
    says: str
    level: str
    x_m: float
    y_m: float


@dataclass(frozen=True)
class PartingShape:
    """Where two walks part ways: what the one came to, and the other; none where one of them was over."""

    says: str
    was: CameShape | None
    now: CameShape | None


@dataclass(frozen=True)
class WayPoint:
    """A bend of a way: level, metres east and north."""

    level: str
    x_m: float
    y_m: float


@dataclass(frozen=True)
class WalkReading:
    """What a kept walk comes to, by its id. `same` is none while it was not walked; `stale`: what is told is of an earlier
    state of the project. The ways are where it led as it was kept, and where it leads now."""

    id: int
    key: str
    same: bool | None
    stale: bool
    says: str
    how: str
    seconds: float
    stuck: str
    missing: list[str]
    left_out: list[str]
    parting: PartingShape | None
    way_was: list[WayPoint]
    way_now: list[WayPoint]


@dataclass(frozen=True)
class WalksReading:
    """What the kept walks come to at an edit. `at_work` names the one that is being walked, `done` and `of` how many are;
    `stamp` counts on whenever anything is new."""

    edit_number: int
    stamp: int
    at_work: str
    going: bool
    done: int
    of: int
    problems: list[ProblemData]
    walks: list[WalkReading]


@dataclass(frozen=True)
class WalkNow:
    """A kept walk as it goes now, as the values that it is changed to where that is right."""

    values: dict[str, Any]


@dataclass(frozen=True)
class WalksAsked:
    """Kept walks walked where they were not since the project was edited (`go`), all walked again, or stopped."""

    do: Literal["go", "again", "stop"]


@dataclass(frozen=True)
class RunShape:
    """A run that is kept: when it was begun and where, how long it lasts, the last that it came to; `walkable` says whether
    this program can walk it again."""

    id: int
    begun_at: str
    edit_number: int
    begins_at: str
    seconds: float
    last: str
    ended: str
    walkable: bool


@dataclass(frozen=True)
class ComparedShape:
    """Two runs beside each other: where they part ways first, none where they do not; both ways, as far as is known."""

    parting: PartingShape | None
    came: list[CameShape] = field(default_factory=list)
    other: list[CameShape] = field(default_factory=list)


WALK_SHAPES: tuple[type, ...] = (
    CameShape,
    PartingShape,
    WayPoint,
    WalkReading,
    WalksReading,
    WalkNow,
    WalksAsked,
    RunShape,
    ComparedShape,
)
