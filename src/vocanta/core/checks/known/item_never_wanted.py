"""An item that is given and never wanted."""

from __future__ import annotations

from collections.abc import Iterator

from ...project.records import Project
from ..check import Check
from ..finding import Found, Spot, called
from ..survey import Survey


def find(survey: Survey, project: Project) -> Iterator[Found]:
    """Every item that steps give and that nothing asks for, that cannot be read and is no gear."""
    for item in project.items:
        use = survey.uses(item.key)
        useful = use.asked or use.worded or item.text.strip() or item.slot or survey.gear_of(item.key)
        if use.given and not useful:
            spot = Spot(f"item/{item.key}")
            yield Found(
                spot, called(item.key), "is given, and nothing ever asks for it", marks="nothing ever asks for it"
            )


CHECK = Check(
    "item_never_wanted",
    "An item that is never wanted",
    "worth a look",
    "N56",
    "Is everything that is given good for something?",
    "The player gets the item, and no need, step, objective or ability ever looks for it.",
    "Crates give brass tags, and nobody takes any.",
    "project",
    find,
    ("names",),
)
