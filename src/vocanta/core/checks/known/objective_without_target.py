"""An objective that asks for something and does not say for what."""

from __future__ import annotations

from collections.abc import Iterator

from ...project.records import Objective
from ..check import Check
from ..finding import Found, Spot, called
from ..survey import Survey


def find(survey: Survey, address: str) -> Iterator[Found]:
    """Every objective without a target, but for those met by hand."""
    record = survey.record(address)
    if isinstance(record, Objective) and record.type != "by_hand" and not record.targets:
        says = f"asks for {called(record.key)}, but for what is not said"
        yield Found(Spot(address, "targets"), survey.whose(address), says, (), "for what is not said")


CHECK = Check(
    "objective_without_target",
    "An objective without a target",
    "stops it",
    "N41",
    "Has every objective its target?",
    "Have, use, go, talk, fact and state ask for something; without it the objective can never be met.",
    "“Light the lamps” is to be used, and no lamp is named.",
    "record",
    find,
)
