"""A marker that points at nothing."""

from __future__ import annotations

from collections.abc import Iterator

from ...project.records import Project
from ..check import Check
from ..finding import Found, Mend, Spot, called
from ..mending import Give
from ..survey import Survey


def find(survey: Survey, project: Project) -> Iterator[Found]:
    """Every objective whose marker names a role that nobody ever fills, or an object that is never there."""
    layout, values = survey.program.layout, survey.values
    for quest in project.quests:
        for objective in (o for s in quest.stages for o in s.objectives):
            key, address = objective.marker, f"objective/{objective.key}"
            role, exists = layout.find("role", key), layout.find("exists", key)
            why = ""
            if role is not None and values.highest(role) == 0:
                why = f"{called(key)}, which nobody ever is"
            elif exists is not None and not values.has(exists, 1):
                why = f"{called(key)}, which is never there"
            if why:
                mend = Mend("no marker", "Take the marker away.", (Give(address, "marker", ""),))
                yield Found(
                    Spot(address, "marker"), called(quest.key), f"marks {called(objective.key)} at {why}", (mend,), why
                )


CHECK = Check(
    "marker_without_target",
    "A marker without a target",
    "likely wrong",
    "N42",
    "Does every marker point at something?",
    "The marker of an objective names a role that nobody fills or a thing that never exists, so it shows nowhere.",
    "“Find the messenger” points at the messenger, and no step says who that is.",
    "project",
    find,
    ("rules",),
)
