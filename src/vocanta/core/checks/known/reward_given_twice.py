"""A reward that a step gives as well."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from ...phrases import nodes as n
from ...project.records import Project, Quest
from ..check import Check
from ..finding import Found, Spot, called
from ..survey import Survey
from ..taking import step_out
from ..texts import Text

_PAID = (n.Hand, n.Grant)


def find(survey: Survey, project: Project) -> Iterator[Found]:
    """Every step that gives what the reward of a quest gives, in a text that ends that quest or answers its end."""
    paid: dict[str, list[Any]] = {}
    for quest in project.quests:
        rewards = survey.text_of.get((f"quest/{quest.key}", "rewards"))
        given = [s for s in (rewards.steps if rewards is not None else ()) if isinstance(s, _PAID)]
        paid |= {quest.key: given} if given else {}
    for text in survey.texts if paid else ():
        for key in _ended(survey, text) if text.field != "rewards" else ():
            for step in (s for run in text.runs for s in run if any(_same(s, p) for p in paid.get(key, ()))):
                yield _found(survey, survey.quests[key], text, step)


def _ended(survey: Survey, text: Text) -> list[str]:
    """The quests that a text ends by its steps, or is read at the end or the last stage of."""
    found = [s.quest.text for s in text.steps if isinstance(s, n.QuestStep) and s.verb in ("hand in", "finish")]
    moment = text.read.tree.moment if text.start == "cue" and text.read is not None else None
    if moment is not None and moment.verb == "done" and moment.word is not None:
        found.append(moment.word.text)
    if text.field == "entering":
        quest = text.record.split("/")[1]
        found += [quest] if text.record.rpartition("/")[2] == survey.quests[quest].stages[-1].key else []
    return [key for key in dict.fromkeys(found) if key in survey.quests]


def _same(step: Any, paid: Any) -> bool:
    if isinstance(step, n.Grant) and isinstance(paid, n.Grant):
        return step.ability == paid.ability
    if isinstance(step, n.Hand) and isinstance(paid, n.Hand) and step.verb == paid.verb == "give":
        return step.item == paid.item and (step.item.text not in ("money", "experience") or step.count == paid.count)
    return False


def _found(survey: Survey, quest: Quest, text: Text, step: Any) -> Found:
    mends = step_out(text, step, "keep one", "Take the step out; the reward stays.")
    what = "grants" if isinstance(step, n.Grant) else "gives"
    thing = called(step.ability.text if isinstance(step, n.Grant) else step.item.text)
    number = "" if isinstance(step, n.Grant) or step.count is None else f"{step.count.value or 0:g} "
    says = f"{what} {number}{thing} as its reward and again by a step"
    at = Spot(text.record, text.field, step.span)
    return Found(
        at,
        called(quest.key),
        says,
        mends,
        "again by a step",
        (f"quest/{quest.key}",),
        (str(step),),
        f"quest/{quest.key}",
    )


CHECK = Check(
    "reward_given_twice",
    "A reward that is given twice",
    "worth a look",
    "N43",
    "Is every reward given once?",
    "What ends the quest also gives what its reward gives, so the player gets it twice.",
    "Dry Feet gives 40 shillings as its reward, and the line that takes it gives them, too.",
    "project",
    find,
    ("names",),
)
