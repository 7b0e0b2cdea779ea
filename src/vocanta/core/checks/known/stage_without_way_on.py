"""A stage that nothing leads on from."""

from __future__ import annotations

from collections.abc import Iterator

from ...phrases import nodes as n
from ...project.records import Project, Quest
from ..check import Check
from ..finding import Found, Mend, Spot, called
from ..mending import Give
from ..survey import Survey


def find(survey: Survey, project: Project) -> Iterator[Found]:
    """Every stage that waits for a cue although no step that could run there moves or ends its quest."""
    for quest in project.quests:
        ways = {source for source, to in survey.ways_on(quest) if to != "failed"}
        for number, stage in enumerate(quest.stages):
            if stage.key in ways or _handed_in(survey, quest, number):
                continue
            address, name = f"quest/{quest.key}/stage/{stage.key}", called(f"{quest.key}.{stage.key}")
            yield Found(
                Spot(address, "then"),
                called(quest.key),
                f"stays at {name} for ever: nothing leads on",
                _mends(quest, number),
                "nothing leads on",
            )


def _handed_in(survey: Survey, quest: Quest, number: int) -> bool:
    """Whether a step hands the quest in at its last stage."""
    last = number == len(quest.stages) - 1
    return last and any(isinstance(s, n.QuestStep) and s.verb == "hand in" for s in survey.steps_on(quest.key))


def _mends(quest: Quest, number: int) -> tuple[Mend, ...]:
    stage, address = quest.stages[number], f"quest/{quest.key}/stage/{quest.stages[number].key}"
    if not any(not o.optional for o in stage.objectives) or stage.then not in ("", "?"):
        return ()
    if number + 1 < len(quest.stages):
        after = quest.stages[number + 1]
        says = f"Go on to {called(f'{quest.key}.{after.key}')} when its objectives are met."
        return (Mend("lead on", says, (Give(address, "then", after.key),)),)
    return (Mend("end with it", "Be done when its objectives are met.", (Give(address, "then", "done"),)),)


CHECK = Check(
    "stage_without_way_on",
    "A stage without a way on",
    "stops it",
    "N39",
    "Does something lead on from every stage?",
    "Once there, the quest stays there: its objectives lead nowhere, and no step moves, ends or hands it in.",
    "Lamps Before Dusk waits for a cue at “All lit”, and there is none.",
    "project",
    find,
    ("rules", "names"),
)
