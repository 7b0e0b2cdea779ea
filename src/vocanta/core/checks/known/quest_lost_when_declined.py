"""A quest that is gone for good once it was declined."""

from __future__ import annotations

from collections.abc import Iterator

from ...phrases import nodes as n
from ...project.records import Project
from ..check import Check
from ..finding import Found, Mend, Spot, called
from ..mending import Give
from ..survey import Survey


def find(survey: Survey, project: Project) -> Iterator[Found]:
    """Every quest that can be declined for good, and every one that is offered once alone and can be declined."""
    for quest in project.quests:
        at, whose = Spot(f"quest/{quest.key}", "decline"), called(quest.key)
        steps = survey.steps_on(quest.key)
        offered = any(isinstance(s, n.QuestStep) and s.verb == "offer" for s in steps)
        if not quest.stages or not offered:
            continue
        if quest.decline == "for_good":
            mend = Mend(
                "offer again", "Let it be available again when it was declined.", (Give(at.record, "decline", "again"),)
            )
            yield Found(at, whose, "is offered by nobody once it was declined", (mend,), "once it was declined")
        elif quest.decline == "again" and survey.offers_at_most(quest.key) == 1:
            mend = Mend("forbid declining", "Let it not be declined.", (Give(at.record, "decline", "no"),))
            says = "can be declined, and is offered once only: nobody can have it again"
            yield Found(at, whose, says, (mend,), "is offered once only", rests_on=("once",))


CHECK = Check(
    "quest_lost_when_declined",
    "A quest that is lost when declined",
    "stops it",
    "N54",
    "Can a quest be had again once it was declined?",
    "Who says no once can never say yes: the quest is declined for good, or what offers it never happens again.",
    "Lamps Before Dusk is declined for good.",
    "project",
    find,
    ("rules", "names"),
)
