"""An area that nobody can walk to."""

from __future__ import annotations

from collections.abc import Iterator

from ...project.records import Project
from ..check import Check
from ..finding import Found, Spot, called
from ..survey import Survey


def find(survey: Survey, project: Project) -> Iterator[Found]:
    """Every area none of whose cells the player can come to, whatever is opened and taken away."""
    layout, values = survey.program.layout, survey.values
    cell = layout.column("cell")
    for level in project.levels:
        for area in level.areas:
            cells = layout.cells.of_area(area.key)
            if not any(values.has(cell, number) for number in cells):
                says = "can be walked to by nobody, whatever is opened"
                yield Found(
                    Spot(f"area/{area.key}"),
                    called(area.key),
                    says,
                    marks="by nobody",
                    rests_on=(str(area.outline), str(area.floor_m)),
                )


CHECK = Check(
    "area_not_walked_to",
    "An area nobody can walk to",
    "likely wrong",
    "N55",
    "Can every area be walked to?",
    "Walls, steps that are too high and what never opens keep the player out of it for good.",
    "Nothing leads up to the Gallery.",
    "project",
    find,
    ("rules",),
)
