"""What the compiler says cannot run, and no other check tells."""

from __future__ import annotations

from collections.abc import Iterator

from ...project.records import Project
from ..addresses import address_and_field
from ..check import Check
from ..finding import Found, Spot
from ..survey import Survey

TOLD_ELSEWHERE = frozenset(
    {
        "cue_hole",
        "cue_unreadable",
        "name_unknown",
        "name_wrong_type",
        "value_unknown",
        "number_outside",
        "wait_impossible",
        "moment_impossible",
        "objective_aimless",
        "objective_impossible",
    }
)


def find(survey: Survey, project: Project) -> Iterator[Found]:
    """Every problem of the compiled program that has no check of its own."""
    for problem in survey.program.problems:
        record, field = address_and_field(problem.path)
        if problem.code in TOLD_ELSEWHERE and not (
            problem.code == "moment_impossible" and "/" not in field and not field
        ):
            continue
        known = record if record in survey.records else "project"
        message = problem.message[:1].lower() + problem.message[1:].rstrip(".")
        yield Found(
            Spot(known, field.split("/")[0] if field in ("needs", "steps", "text", "rewards", "entering") else ""),
            survey.whose(known),
            f"cannot run as it is: {message}",
            rests_on=(problem.code, message),
        )


CHECK = Check(
    "cannot_run",
    "Something that cannot run",
    "stops it",
    "N52",
    "Can everything that is written be made to run?",
    "The rules that were written do not add up to something that can be run: what is said tells why.",
    "All steps together may put 4,000 copies.",
    "project",
    find,
    ("rules", "names", "kinds"),
)
