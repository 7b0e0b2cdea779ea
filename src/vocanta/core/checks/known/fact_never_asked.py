"""A fact that is set and never asked."""

from __future__ import annotations

from collections.abc import Iterator

from ...project.records import Project
from ..check import Check
from ..finding import Found, Spot, called
from ..survey import Survey


def find(survey: Survey, project: Project) -> Iterator[Found]:
    """Every fact that steps set and that no need, objective, moment or wording asks."""
    for fact in project.facts:
        use = survey.uses(fact.key)
        if use.given and not use.asked and not use.worded:
            spot = Spot(f"fact/{fact.key}")
            yield Found(
                spot, called(fact.key), "is set, and nothing ever asks for it", marks="nothing ever asks for it"
            )


CHECK = Check(
    "fact_never_asked",
    "A fact that is never asked",
    "worth a look",
    "N52",
    "Is every fact that is set asked somewhere?",
    "Steps set the fact, and no need, objective or wording looks at it: it makes no difference.",
    "The sluice sets “wing dry”, and the wing door asks for something else.",
    "project",
    find,
    ("names",),
)
