"""A stage that no step reaches."""

from __future__ import annotations

from collections.abc import Iterator

from ...project.records import Project
from ..check import Check
from ..finding import Found, Mend, Spot, called
from ..mending import Give
from ..survey import Survey


def find(survey: Survey, project: Project) -> Iterator[Found]:
    """Every stage but the first that its quest can never come to, where the quest can be had at all."""
    layout, values = survey.program.layout, survey.values
    for quest in project.quests:
        status, column = layout.column("status", quest.key), layout.column("stage", quest.key)
        if not values.has(status, 3):
            continue
        for number, stage in enumerate(quest.stages):
            if not values.has(column, number):
                address, before = f"quest/{quest.key}/stage/{stage.key}", quest.stages[number - 1]
                names = called(f"{quest.key}.{stage.key}"), called(f"{quest.key}.{before.key}")
                mends: tuple[Mend, ...] = ()
                if before.then in ("", "?") and before.objectives:
                    write = Give(f"quest/{quest.key}/stage/{before.key}", "then", stage.key)
                    mends = (
                        Mend(
                            "lead on to it",
                            f"Go on from {names[1]} to {names[0]} when its objectives are met.",
                            (write,),
                        ),
                    )
                yield Found(
                    Spot(address), called(quest.key), f"never comes to {names[0]}: no step leads there", mends, names[0]
                )


CHECK = Check(
    "stage_not_reached",
    "A stage that nothing reaches",
    "stops it",
    "N39",
    "Can every stage be come to?",
    "No objective leads on to the stage and no step moves the quest there, or none that could ever run.",
    "Dry Feet never comes to “Report back”.",
    "project",
    find,
    ("rules",),
)
