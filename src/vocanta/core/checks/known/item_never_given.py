"""An item that is asked for and never given."""

from __future__ import annotations

from collections.abc import Iterator

from ...project.records import Project
from ..check import Check
from ..finding import Found, Spot, called
from ..survey import Survey


def find(survey: Survey, project: Project) -> Iterator[Found]:
    """Every item that something asks for, that the player does not begin with and that no step gives."""
    for item in project.items:
        use = survey.uses(item.key)
        if use.asked and not use.given and not item.at_start:
            spot = Spot(f"item/{item.key}", "at_start")
            yield Found(
                spot, called(item.key), "is asked for, and nothing ever gives it", marks="nothing ever gives it"
            )


CHECK = Check(
    "item_never_given",
    "An item that is never given",
    "stops it",
    "N56",
    "Can everything that is asked for be had?",
    "Something asks for the item, the player does not begin with it, and no step gives it.",
    "The vault asks for seed oil, and the press makes something else.",
    "project",
    find,
    ("names",),
)
