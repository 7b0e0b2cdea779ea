"""A fact that is asked and never set."""

from __future__ import annotations

from collections.abc import Iterator

from ...project.records import Project
from ..check import Check
from ..finding import Found, Spot, called
from ..survey import Survey


def find(survey: Survey, project: Project) -> Iterator[Found]:
    """Every fact that something asks for and that no step sets."""
    for fact in project.facts:
        use = survey.uses(fact.key)
        if use.asked and not use.given:
            spot = Spot(f"fact/{fact.key}")
            yield Found(spot, called(fact.key), "is asked for, and nothing ever sets it", marks="nothing ever sets it")


CHECK = Check(
    "fact_never_set",
    "A fact that is never set",
    "likely wrong",
    "N52",
    "Is every fact that is asked set somewhere?",
    "Needs look at the fact, and it stays for ever as it is at the start.",
    "The vault asks whether the lamps are lit, and no lamp says so.",
    "project",
    find,
    ("names",),
)
