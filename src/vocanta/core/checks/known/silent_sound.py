"""A sound or an effect with nothing chosen: silence is the commonest slip."""

from __future__ import annotations

from collections.abc import Iterator

from ...phrases import nodes as n
from ...phrases.vocabulary import EFFECTS
from ...project.names import free_key
from ...project.placeholder import Made, Sort
from ...project.records import Line, Sound
from ..addresses import key_of
from ..check import Check
from ..finding import Found, Mend, Spot, called
from ..mending import Add, MakeSound, Reword
from ..survey import Survey
from ..texts import Text

SECONDS = 0.6


def find(survey: Survey, address: str) -> Iterator[Found]:
    """Every step of a record that plays or shows nothing, and every line whose voice has no file."""
    record = survey.record(address)
    for text in survey.texts_of(address):
        for step in text.steps:
            if isinstance(step, n.Show):
                yield from _in_step(survey, text, step)
    if isinstance(record, Line) and (sound := _without_file(survey, record.voice)) is not None:
        says, mends = (
            f"says {called(record.key)} with the voice {called(sound.key)}, which has no file",
            (_made(sound.key),),
        )
        yield Found(Spot(address, "voice"), survey.whose(address), says, mends, "has no file")


def _in_step(survey: Survey, text: Text, step: n.Show) -> Iterator[Found]:
    spot, whose = Spot(text.record, text.field, step.what.span), survey.whose(text.record)
    if step.what.is_hole:
        what = (
            "plays a sound, but no sound is chosen" if step.verb == "sound" else "shows an effect, but none is chosen"
        )
        marks = "no sound" if step.verb == "sound" else "none is chosen"
        yield Found(spot, whose, what, (_new(survey, text, step),), marks, owner=text.owner)
    elif step.verb == "sound" and (sound := _without_file(survey, step.what.text)) is not None:
        says = f"plays {called(sound.key)}, which has no file: nothing is heard"
        yield Found(spot, whose, says, (_made(sound.key),), "nothing is heard", rests_on=(sound.key,), owner=text.owner)


def _without_file(survey: Survey, key: str) -> Sound | None:
    kind, record = survey.index.things.get(key, ("", None))
    return record if kind == "sound" and isinstance(record, Sound) and not record.file else None


def _made(key: str) -> Mend:
    says = f"Make a placeholder for {called(key)}, {SECONDS:g} s long; replace it with the real one later."
    return Mend("make one", says, (MakeSound(f"sound/{key}", Made(sort_for(key), SECONDS)),))


def _new(survey: Survey, text: Text, step: n.Show) -> Mend:
    record, span = text.record, step.what.span
    if step.verb == "effect":
        return Mend("show dust", "Show dust there.", (Reword(record, text.field, span, EFFECTS[1]),))
    key = free_key(f"{key_of(text.owner)}_sound"[:50], survey.index.things.keys())
    name = f"{survey.name(key_of(text.owner))} sound"[:120]
    says = f"Make a new sound, {name}, as a placeholder of {SECONDS:g} s, and play it there."
    made = Add("", "sound", key, (("name", name),))
    writes = (made, MakeSound(f"sound/{key}", Made(sort_for(key), SECONDS)), Reword(record, text.field, span, key))
    return Mend("make one", says, writes)


def sort_for(key: str) -> Sort:
    """What sort of placeholder a sound's name suggests."""
    hints: dict[str, Sort] = {
        "creak": "creak", "hinge": "creak", "bell": "chime", "chime": "chime", "ring": "chime", "water": "splash",
        "splash": "splash", "step": "step", "hum": "hum", "pump": "hum", "wind": "whoosh", "swing": "whoosh",
    }  # fmt: skip
    return next((sort for word, sort in hints.items() if word in key), "knock")


CHECK = Check(
    "silent_sound",
    "A sound with nothing chosen",
    "likely wrong",
    "N23",
    "Is everything that shall be heard and seen chosen?",
    "A step plays a sound that has no file, or shows an effect that is not chosen: silence, where something was meant.",
    "The yard bell plays a sound, but no sound is chosen.",
    "record",
    find,
    ("names",),
)
