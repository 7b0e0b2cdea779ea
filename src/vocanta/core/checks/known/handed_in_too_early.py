"""A quest that is handed in by the very use, talk or arrival that its last objective still has to count."""

from __future__ import annotations

from collections.abc import Iterator

from ...cuetext.own_values import meant
from ...phrases import nodes as n
from ...project.records import Objective, Quest
from ..check import Check
from ..finding import Found, Mend, Spot, called
from ..mending import Reword
from ..survey import Survey
from ..texts import Text

_USES = ("used", "held", "chosen", "struck")


def find(survey: Survey, text: Text) -> Iterator[Found]:
    """Every *hand in* of a text, before its first wait, that comes before what brings the text about is counted."""
    for step in _at_once(text):
        quest = survey.quests.get(step.quest.text)
        for objective in _counted_at_the_end(quest) if quest is not None else ():
            if quest is not None and _brings_it(survey, text, objective):
                says = f"hands in {called(quest.key)} before {called(objective.key)} has counted it, so it is refused"
                at = Spot(text.record, text.field, step.span)
                yield Found(at, survey.whose(text.record), says, _later(text, step), "hands in", owner=text.owner)
                break


def _at_once(text: Text) -> Iterator[n.QuestStep]:
    for run in text.runs:
        for step in run:
            if isinstance(step, n.Wait | n.WaitForIt) or (isinstance(step, n.Show) and step.wait):
                break
            if isinstance(step, n.QuestStep) and step.verb == "hand in":
                yield step


def _counted_at_the_end(quest: Quest) -> Iterator[Objective]:
    """The required objectives of the stages where a quest can be handed in that count what happens."""
    for number, stage in enumerate(quest.stages):
        if stage.then == "ready" or number == len(quest.stages) - 1:
            yield from (o for o in stage.objectives if o.type in ("use", "talk", "go") and not o.optional)


def _brings_it(survey: Survey, text: Text, objective: Objective) -> bool:
    """Whether a text is read because of what an objective counts."""
    if text.record.startswith("conversation/"):
        return objective.type == "talk" and survey.talks[text.record.split("/")[1]].talker in objective.targets
    moment = text.read.tree.moment if text.start == "cue" and text.read is not None else None
    if moment is None:
        return False
    if objective.type == "use" and moment.verb in _USES:
        return text.this in objective.targets
    word = "" if moment.word is None else meant(moment.word.text, survey.index.values.get(text.this, {}))
    place = word or text.owner.rpartition("/")[2]
    return objective.type == "go" and moment.verb in ("entered", "near") and place in objective.targets


def _later(text: Text, step: n.QuestStep) -> tuple[Mend, ...]:
    """A wait of nothing before it: what brought the cue about has been counted by then."""
    if text.start != "cue":
        return ()
    begin = step.span[0]
    write = Reword(text.record, text.field, (begin, begin), "wait 0 s\n  ")
    return (Mend("a moment later", "Hand it in a moment later, when it has been counted.", (write,)),)


CHECK = Check(
    "handed_in_too_early",
    "Handed in too early",
    "likely wrong",
    "N20",
    "Is what a quest asks for counted before it is handed in?",
    "A use, a talk or an arrival is counted once all that it sets off has settled; a quest that the same moment hands in "
    "still lacks it, and the step is refused.",
    "The lamp hands in Lamps Before Dusk when it is used, and its use is what the quest still waits for.",
    "text",
    find,
    ("names", "kinds"),
)
