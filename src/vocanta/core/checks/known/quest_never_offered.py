"""A quest that nobody offers and nothing starts."""

from __future__ import annotations

from collections.abc import Iterator

from ...phrases import nodes as n
from ...project.records import Project
from ..check import Check
from ..finding import Found, Spot, called
from ..survey import Survey


def find(survey: Survey, project: Project) -> Iterator[Found]:
    """Every quest that can come to be neither offered nor under way."""
    layout, values = survey.program.layout, survey.values
    for quest in project.quests:
        column = layout.column("status", quest.key)
        if quest.stages and not any(values.has(column, number) for number in (2, 3)):
            written = survey.steps_on(quest.key)
            why = (
                "what offers it can never happen"
                if any(isinstance(s, n.QuestStep) for s in written)
                else "nothing offers or starts it"
            )
            yield Found(
                Spot(f"quest/{quest.key}", "offered_by"), called(quest.key), f"can never be had: {why}", marks=why
            )


CHECK = Check(
    "quest_never_offered",
    "A quest that is never offered",
    "stops it",
    "N40",
    "Can every quest be had?",
    "No step offers or starts the quest, or none that could ever run, so nobody ever sees it.",
    "Lamps Before Dusk is written, and no board offers it.",
    "project",
    find,
    ("rules", "names"),
)
