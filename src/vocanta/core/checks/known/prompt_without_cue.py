"""A prompt that no cue of its object answers."""

from __future__ import annotations

from collections.abc import Iterator

from ...cuetext.presses import Press, hears, pressed, raised_by
from ...project.designs import cues_of
from ...project.records import Object, Prompt
from ..check import Check
from ..finding import Found, Mend, Spot, called, quoted
from ..mending import Add, Give
from ..survey import Survey

_SAID: dict[str, str] = {"used": "pressed", "held": "held", "chosen": "chosen"}


def find(survey: Survey, thing: Object) -> Iterator[Found]:
    """Every prompt, and every button of a panel, whose press no readable cue waits for."""
    design = survey.designs[thing.key]
    texts = [c.text or c.draft for c, _ in cues_of(survey.kinds.get(thing.kind), thing)]
    if any(t.strip() and pressed(t) is None and _unreadable(survey, thing, t) for t in texts):
        return
    moments = [m for t in texts if t.strip() and (m := pressed(t)) is not None]
    vain = survey.waits_in_vain(thing)
    for prompt in design.prompts:
        free = [press for press in raised_by(prompt) if not any(hears(m, press) for m in moments)]
        if free and not vain:
            yield _found(survey, thing, prompt, free)


def _unreadable(survey: Survey, thing: Object, text: str) -> bool:
    """Whether a cue says something that cannot be read, so that nobody can tell what it waits for."""
    texts = [t for t in survey.texts if t.words == text and t.this in (thing.key, thing.kind)]
    return not texts or any(t.read is None or t.read.has_hole for t in texts)


def _found(survey: Survey, thing: Object, prompt: Prompt, free: list[Press]) -> Found:
    verb, by = free[0]
    button = next((b.wording for b in prompt.buttons if b.key == by), prompt.wording)
    says = f"shows {quoted(button)}, and no cue waits for it to be {_SAID[verb]}"
    address, path, mends = f"object/{thing.key}", f"design.prompts.{prompt.key}.wording", list[Mend]()
    if len(free) == len(raised_by(prompt)):
        left = [survey.plain(p) for p in survey.designs[thing.key].prompts if p.key != prompt.key]
        says_so = f"Take the prompt {quoted(button)} away."
        mends.append(Mend("take it away", says_so, (Give(address, "design.prompts", left),)))
    if len(survey.designs[thing.key].states) > 1:
        moment = f"chosen {by}" if verb == "chosen" else f"{verb} with {by}"
        values = (("text", f"when {moment}\nthen\n  set this to next"),)
        says_so = f"Write a cue: when it is {_SAID[verb]}, then set it to the next state."
        mends.append(Mend("write a cue", says_so, (Add(address, "cue", survey.free_cue(thing), values),)))
    return Found(Spot(address, path), called(thing.key), says, tuple(mends), quoted(button))


CHECK = Check(
    "prompt_without_cue",
    "A prompt without a cue",
    "likely wrong",
    "N10",
    "Does something happen at every prompt?",
    "The player is told to press, and no cue of the object waits for that press.",
    "The trolley says “Push”, and nothing happens when it is pushed.",
    "object",
    find,
    ("names", "kinds"),
)
