"""The shapes of what a proof says, as they go out over the API."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, Literal

from ..core.project.problems import ProblemData
from .finding_shapes import WrittenLine

Weight = Literal["stops it", "worth a look", ""]
Answered = Literal["yes", "never", "undecided", "coming"]


@dataclass(frozen=True)
class StepShape:
    """One step of a way: in words, the record that it is of, metres on foot to it, what comes of it; whether it counts."""

    says: str
    record: int | None
    metres: float
    then: list[str]
    counts: bool


@dataclass(frozen=True)
class RouteShape:
    """A way: its steps, how many things there are to do, metres on foot, and whether the engine has gone it to its end.

    `shortest`: whether none has fewer things to do; else it was come upon, and one with fewer may be."""

    steps: list[StepShape]
    counted: int
    metres: float
    walked: bool
    shortest: bool


@dataclass(frozen=True)
class WayOutShape:
    """A way out, proved: what it does in a sentence and line by line, and the changes of the edit that does it.

    No changes where it was found for an earlier state of the project."""

    label: str
    says: str
    lines: list[WrittenLine]
    changes: list[dict[str, Any]]


@dataclass(frozen=True)
class VerdictShape:
    """One verdict: what is asked, what came out, how heavy it weighs, why it is not decided.

    `stale`: it speaks of the project as it was before the last edits. `coming`: nothing is known yet.
    """

    key: str
    what: Literal["can", "stuck", "lost", "failed", "declined"]
    answer: Answered
    weight: Weight
    because: str
    stale: bool
    way: RouteShape
    ways_out: list[WayOutShape] | None


@dataclass(frozen=True)
class ProvedQuest:
    """The verdicts of one quest, in the order: can be done, get stuck, be lost, and how else it can end."""

    id: int
    key: str
    name: str
    verdicts: list[VerdictShape]


@dataclass(frozen=True)
class RemarkShape:
    """One thing that comes out around the quests: `record` whose it is, in words behind its name `whose`."""

    key: str
    sort: Literal["never", "missed", "order", "any_order", "wall", "early"]
    record: int | None
    whose: str
    says: str
    answer: Answered
    weight: Weight
    because: str
    way: RouteShape


@dataclass(frozen=True)
class GateShape:
    """Something that becomes possible: in which round, of which sort, of which record, by what, and after which others."""

    number: int
    round: int
    sort: str
    record: int | None
    says: str
    by: str
    after: list[int]


@dataclass(frozen=True)
class MapReading:
    """What becomes possible after what, as if at a point; without one from the start."""

    edit_number: int
    gates: list[GateShape]


@dataclass(frozen=True)
class LeftOutShape:
    """A text that could not be used and was left out: whose it is, in words, its record, and why."""

    where: str
    record: int | None
    says: str


@dataclass(frozen=True)
class ProofReading:
    """What is proved of a project. `edit_number` is the edit it is at, `proved_at` that of the last whole proof, 0 before one;
    `edits_since` how many were made since, where they touch what is played.

    While it is `going`, `doing` says what is being done, `done` of `of` of it. `stopped`: the last one was stopped, nothing
    of it is kept. `stamp` counts on whenever anything is new.
    """

    edit_number: int
    proved_at: int
    edits_since: int
    stamp: int
    going: bool
    stopped: bool
    doing: str
    done: int
    of: int
    seconds: float
    budget_s: float
    problems: list[ProblemData]
    quests: list[ProvedQuest]
    remarks: list[RemarkShape]
    remarks_stale: bool
    gates: list[GateShape]
    chasing: list[str]
    left_out: list[LeftOutShape]


@dataclass(frozen=True)
class ProofAsked:
    """A project proved where it was not since it was edited (`go`), proved again within so many seconds, or the proof stopped."""

    do: Literal["go", "again", "stop"]
    budget_s: float = 600.0


@dataclass(frozen=True)
class WayValues:
    """A way as something to be kept: the values of a start card where it ends, and of a walk that goes it."""

    card: dict[str, Any] | None
    walk: dict[str, Any] | None


PROOF_SHAPES: tuple[type, ...] = (
    StepShape,
    RouteShape,
    WayOutShape,
    VerdictShape,
    ProvedQuest,
    RemarkShape,
    GateShape,
    MapReading,
    LeftOutShape,
    ProofReading,
    ProofAsked,
    WayValues,
)
