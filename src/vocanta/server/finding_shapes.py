"""The shapes of findings as they go out over the API."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from ..core.checks.finding import Weight
from ..core.project.problems import ProblemData


@dataclass(frozen=True)
class FindingShape:
    """One finding: what it says, and of which records. `marks` are the words of `says` that are underlined.

    `record` is where it stands, in `field` and at `span` of its text; `owner` whose page tells it, null for the project;
    `also` are others that it is about. `mend` is the first mend in two or three words, empty without one. `reason` is
    given where it was put aside.
    """

    key: str
    check: str
    title: str
    weight: Weight
    whose: str
    says: str
    marks: str
    record: int | None
    owner: int | None
    field: str
    span: list[int] | None
    also: list[int]
    mend: str
    level: str
    quest: str
    reason: str | None


@dataclass(frozen=True)
class CheckCount:
    """How many findings a check has."""

    name: str
    title: str
    count: int


@dataclass(frozen=True)
class FailedShape:
    """A check that failed: a fault of the program's own."""

    check: str
    what: str


@dataclass(frozen=True)
class FindingsReading:
    """The findings of a project: `edit_number` is the edit that they speak of; where not `whole`, some still follow.

    `total` and `weights` count all of them, `matching` those that were asked for; `findings` are one page of these.
    """

    edit_number: int
    whole: bool
    total: int
    weights: dict[str, int]
    aside: int
    matching: int
    pages: int
    checks: list[CheckCount]
    failed: list[FailedShape]
    problems: list[ProblemData]
    findings: list[FindingShape]


@dataclass(frozen=True)
class MarkShape:
    """A record with findings: how many, and the heaviest of them in words. `own`: it stands in it, and is not only about it."""

    record: int
    count: int
    weight: Weight
    whose: str
    says: str
    own: bool


@dataclass(frozen=True)
class MarksReading:
    """What the findings of a project come to at each record, for the plan and all lists."""

    edit_number: int
    whole: bool
    total: int
    marks: list[MarkShape]


@dataclass(frozen=True)
class PieceShape:
    """Some words of where a finding stands; marked are those that it is about."""

    text: str
    marked: bool


@dataclass(frozen=True)
class WrittenLine:
    """One thing that a mend writes: where, what stands there now, and what will."""

    where: str
    before: str
    after: str


@dataclass(frozen=True)
class MendShape:
    """What takes a finding away: what it writes, line by line, and the changes of the edit that does it.

    `alike` is how many findings of the check have the same mend, this one among them; `together` how many of them one
    edit mends.
    """

    label: str
    says: str
    lines: list[WrittenLine]
    changes: list[dict[str, Any]]
    alike: int
    together: int


@dataclass(frozen=True)
class AsideShape:
    """The values of the record that puts a finding aside, besides the reason."""

    check: str
    at: str
    rests_on: str


@dataclass(frozen=True)
class FindingDetail:
    """All that is to be said of one finding. `aside_record` is the record that puts it aside, where one does."""

    edit_number: int
    finding: FindingShape
    means: str
    example: str
    need: str
    number: int
    standing: list[list[PieceShape]]
    mends: list[MendShape]
    aside: AsideShape
    aside_record: int | None
    others: list[FindingShape]


@dataclass(frozen=True)
class FindingAnswer:
    """One finding, or null where it is there no longer: an address of it may be older than what put it right."""

    detail: FindingDetail | None


@dataclass(frozen=True)
class TogetherShape:
    """One edit that mends many findings of a check."""

    edit_number: int
    count: int
    changes: list[dict[str, Any]]


FINDING_SHAPES: tuple[type, ...] = (
    FindingShape,
    FindingsReading,
    MarksReading,
    FindingDetail,
    FindingAnswer,
    TogetherShape,
)
