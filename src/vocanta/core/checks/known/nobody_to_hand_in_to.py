"""A quest that is ready to be handed in, with nothing that takes it."""

from __future__ import annotations

from collections.abc import Iterator

from ...phrases import nodes as n
from ...project.records import Project
from ..check import Check
from ..finding import Found, Mend, Spot, called
from ..mending import Give
from ..survey import Survey


def find(survey: Survey, project: Project) -> Iterator[Found]:
    """Every stage that leads to *ready*, where no step hands its quest in or finishes it."""
    for quest in project.quests:
        taken = any(isinstance(s, n.QuestStep) and s.verb in ("hand in", "finish") for s in survey.steps_on(quest.key))
        for stage in quest.stages:
            if stage.then == "ready" and not taken:
                address = f"quest/{quest.key}/stage/{stage.key}"
                mend = Mend(
                    "end with it",
                    "Be done when its objectives are met, without handing in.",
                    (Give(address, "then", "done"),),
                )
                says = "is ready to be handed in at its end, and nobody takes it"
                yield Found(Spot(address, "then"), called(quest.key), says, (mend,), "nobody takes it")


CHECK = Check(
    "nobody_to_hand_in_to",
    "Nobody to hand in to",
    "stops it",
    "N40",
    "Is there somebody to hand every quest in to?",
    "The quest becomes ready, and no step anywhere hands it in or finishes it, so it is never done.",
    "Dry Feet is ready after “Report back”, and Odile never takes it.",
    "project",
    find,
    ("names",),
)
