"""A cue that waits for a press which no prompt of its object raises."""

from __future__ import annotations

from collections.abc import Iterator

from ...cuetext.presses import InVain, in_vain, pressed
from ...project.designs import cues_of
from ...project.records import Object, Project
from ..addresses import owner_of
from ..check import Check
from ..finding import Found, Mend, Spot
from ..mending import Give
from ..survey import Survey


def find(survey: Survey, project: Project) -> Iterator[Found]:
    """Every cue that waits in vain at each object that has it, and every one of an object that offers nothing at all."""
    vain: dict[str, list[InVain]] = {}
    having: dict[str, int] = {}
    for key, (thing, _) in survey.objects.items():
        for place in _readable(survey, thing):
            having[place] = having.get(place, 0) + 1
        for one in _in_vain(survey, key, thing):
            vain.setdefault(one.place, []).append(one)
    for place, ones in vain.items():
        if len(ones) == having.get(place, 0):
            yield _found(survey, place, ones[0])


def _readable(survey: Survey, thing: Object) -> list[str]:
    return [place for cue, place in cues_of(survey.kinds.get(thing.kind), thing) if cue.text.strip()]


def _in_vain(survey: Survey, key: str, thing: Object) -> list[InVain]:
    cues = [(c.text, place) for c, place in cues_of(survey.kinds.get(thing.kind), thing) if c.text.strip()]
    if survey.designs[key].prompts:
        return in_vain(survey.designs[key], cues)
    says = "it waits for a press, and the object has no prompt"
    return [InVain(place, says, "") for text, place in cues if pressed(text) is not None]


def _found(survey: Survey, place: str, one: InVain) -> Found:
    text = survey.text_of[place, "text"]
    moment = text.read.tree.moment if text.read is not None else None
    line = one.instead.split("\n")[0].strip()
    mends = (
        (Mend(_label(line), f"Let the cue begin {line}.", (Give(place, "text", one.instead),)),) if one.instead else ()
    )
    span = moment.span if moment is not None else None
    says = f"has a cue that never runs: {one.says}"
    return Found(Spot(place, "text", span), survey.whose(place), says, mends, "never runs", owner=owner_of(place))


def _label(line: str) -> str:
    word = line.removeprefix("when ").split(" ")[0]
    return {"held": "wait for a hold", "used": "wait for a press"}.get(word, "wait for the button")


CHECK = Check(
    "cue_without_prompt",
    "A cue without a prompt",
    "likely wrong",
    "N12",
    "Can every press that a cue waits for be made?",
    "The prompt is held and the cue waits for a press, or the other way round, or there is no such control or button.",
    "The oil press is held, but its cue waits for a press.",
    "project",
    find,
    ("names", "kinds"),
)
