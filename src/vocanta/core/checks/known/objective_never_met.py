"""An objective that can never be met."""

from __future__ import annotations

from collections.abc import Iterator

from ...progress.quest_steps import COUNTED
from ...project.records import Objective, Project
from ..check import Check
from ..finding import Found, Mend, Spot, called
from ..mending import Give
from ..survey import Survey


def find(survey: Survey, project: Project) -> Iterator[Found]:
    """Every objective with a target that its column says is never met, where its stage can be come to."""
    layout, values = survey.program.layout, survey.values
    for quest in project.quests:
        status, column = layout.column("status", quest.key), layout.column("stage", quest.key)
        for number, stage in enumerate(quest.stages):
            if not (values.has(status, 3) and values.has(column, number)):
                continue
            for objective in stage.objectives:
                met = layout.column("met", objective.key)
                barred = not values.has(met, 1) or _asks_too_many(objective)
                if barred and (objective.targets or objective.type == "by_hand"):
                    yield _found(survey, objective)


def _asks_too_many(objective: Objective) -> bool:
    """Whether it asks for more than its several targets, each of which counts once."""
    return objective.type in COUNTED and 1 < len(set(objective.targets)) < objective.count


def _found(survey: Survey, objective: Objective) -> Found:
    address, targets = f"objective/{objective.key}", len(set(objective.targets))
    mends: tuple[Mend, ...] = ()
    why = "nothing that could happen meets it"
    if _asks_too_many(objective):
        why = f"it asks for {objective.count}, and each of its {targets} targets counts once"
        mends = (Mend(f"ask for {targets}", f"Ask for {targets}.", (Give(address, "count", targets),)),)
    elif objective.type == "by_hand":
        why = "no step that could run counts it as met"
    elif objective.type == "have":
        limit = min((survey.index.things[t][1].limit for t in objective.targets if t in survey.index.things), default=0)
        if 0 < limit < objective.count:
            why = f"it asks for {objective.count}, and {limit} is the most that can be held"
            mends = (Mend(f"ask for {limit}", f"Ask for {limit}.", (Give(address, "count", limit),)),)
    return Found(Spot(address, "count"), survey.whose(address), f"asks for {called(objective.key)}: {why}", mends, why)


CHECK = Check(
    "objective_never_met",
    "An objective that can never be met",
    "stops it",
    "N41",
    "Can every objective be met?",
    "Nothing that could happen meets the objective: too many are asked for, or what it waits for never comes.",
    "“Four lamps” asks for 4 lamps, and names three.",
    "project",
    find,
    ("rules", "names"),
)
