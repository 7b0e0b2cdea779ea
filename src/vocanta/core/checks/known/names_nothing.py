"""A name in a text that names nothing, or the wrong sort of thing."""

from __future__ import annotations

import re
from collections.abc import Iterator
from difflib import get_close_matches

from ...cuetext.index import use_problems
from ...cuetext.own_values import number_problems
from ...cuetext.roles import NameUse
from ..check import Check
from ..finding import Found, Mend, Spot, called, quoted
from ..mending import Reword
from ..survey import Survey
from ..texts import Text

_OPEN = ("cue_hole",)


def find(survey: Survey, text: Text) -> Iterator[Found]:
    """Every name of a text that cannot stand where it stands."""
    for use in text.read.uses if text.read is not None else ():
        for problem in use_problems((use,), survey.index, text.this):
            if problem.code not in _OPEN:
                says = re.sub(r"“[^”]*”", lambda m: quoted(m.group()[1:-1], 60), _lowered(problem.message))
                mends = tuple(_instead(text, use, name) for name in _near(survey, text, use))
                at = Spot(text.record, text.field, use.word.span)
                yield Found(
                    at, survey.whose(text.record), f"names nothing: {says}", mends, use.word.text, owner=text.owner
                )
    for number in text.read.left if text.read is not None else ():
        for problem in number_problems((number,), survey.index.values.get(text.this, {})):
            if problem.code not in _OPEN:
                says = f"names nothing: {_lowered(problem.message)}"
                yield Found(
                    Spot(text.record, text.field, number.span), survey.whose(text.record), says, owner=text.owner
                )


def _lowered(message: str) -> str:
    return message[:1].lower() + message[1:].rstrip(".")


def _near(survey: Survey, text: Text, use: NameUse) -> list[str]:
    return get_close_matches(use.word.text, survey.index.candidates(use, text.this), 1)


def _instead(text: Text, use: NameUse, name: str) -> Mend:
    return Mend(
        "write the near one",
        f"Write {called(name)} instead of {quoted(use.word.text)}.",
        (Reword(text.record, text.field, use.word.span, name),),
    )


CHECK = Check(
    "names_nothing",
    "A reference to nothing",
    "stops it",
    "N52",
    "Does every name name something?",
    "A text with a name that stands for nothing, or for another sort of thing, never runs. Name what is there, or make it.",
    "The wheel asks for coper_key, and there is only copper_key.",
    "text",
    find,
    ("names", "kinds"),
)
