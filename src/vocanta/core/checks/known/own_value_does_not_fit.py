"""A value of an object's own that cannot stand where the cues of its kind read it."""

from __future__ import annotations

from collections.abc import Iterator

from ...cuetext.index import use_problems
from ...cuetext.own_values import is_its, number_problems
from ...phrases.vocabulary import ITS
from ...project.designs import as_word
from ...project.problems import Problem
from ...project.records import Object
from ..check import Check
from ..finding import Found, Mend, Spot, called
from ..mending import Give
from ..survey import Survey
from ..texts import Text

_OPEN = "cue_hole"
"""What is not chosen yet is a slot that is not filled in."""


def find(survey: Survey, thing: Object) -> Iterator[Found]:
    """Every own value that names nothing, or is of the wrong sort or out of bounds, where its kind reads it."""
    own = [path.removeprefix("values.") for path in thing.own if path.startswith("values.")]
    told: set[str] = set()
    for text in survey.texts if own else ():
        if text.owner == f"kind/{thing.kind}" and text.record.rpartition("/")[2] not in thing.cues_off:
            for name, problem in _wrong(survey, text, thing.key):
                if name in own and name not in told:
                    told.add(name)
                    says = f"has its {name} as it cannot be: {problem.message[:1].lower()}{problem.message[1:].rstrip('.')}"
                    at = Spot(f"object/{thing.key}", f"design.values.{name}")
                    yield Found(at, called(thing.key), says, _as_its_kind(survey, thing, text, name))


def _as_its_kind(survey: Survey, thing: Object, text: Text, name: str) -> tuple[Mend, ...]:
    """The value of its kind instead, where that can stand in the text."""
    values = survey.kinds[thing.kind].design.values
    if name not in values or any(wrong == name for wrong, _ in _wrong(survey, text, thing.kind)):
        return ()
    says = f"Let its {name} be {called(as_word(values[name]))}, as its kind has it."
    return (Mend("as its kind has it", says, (Give(f"object/{thing.key}", f"design.values.{name}", values[name]),)),)


def _wrong(survey: Survey, text: Text, key: str) -> Iterator[tuple[str, Problem]]:
    """What is wrong with the values that a text reads for one object, each with the value's name."""
    if text.read is None:
        return
    values = survey.index.values.get(key, {})
    for use in text.read.uses:
        if is_its(use.word.text):
            for problem in use_problems((use,), survey.index, key):
                if problem.code != _OPEN:
                    yield use.word.text.removeprefix(ITS), problem
    for number in text.read.left:
        for problem in number_problems((number,), values):
            if problem.code != _OPEN:
                yield number.its, problem
        for problem in text.read.of(values, True).limits:
            if problem.path == f"characters {number.span[0] + 1}–{number.span[1]}":
                yield number.its, problem


CHECK = Check(
    "own_value_does_not_fit",
    "A value of its own that does not fit",
    "stops it",
    "N52",
    "Can the cues of its kind be read with its own values?",
    "A cue of the kind reads a value that this object has otherwise, and cannot run with it. Give it another one.",
    "The money box has “lots” as its gift, where the cue asks for a number.",
    "object",
    find,
    ("names", "kinds"),
)
