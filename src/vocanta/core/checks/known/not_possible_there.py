"""What a text says that the language has words for and its place has not: a wait in a line, a number out of bounds."""

from __future__ import annotations

import re
from collections.abc import Iterator

from ..check import Check
from ..finding import Found, Spot
from ..survey import Survey
from ..texts import Text

ELSEWHERE = frozenset({"wait_impossible", "cue_hole"})


def find(survey: Survey, text: Text) -> Iterator[Found]:
    """Every limit that a text does not keep, but for waits, which have a check of their own."""
    for problem in text.read.limits if text.read is not None else ():
        if problem.code not in ELSEWHERE:
            found = re.search(r"(\d+)–(\d+)", problem.path)
            span = (int(found.group(1)) - 1, int(found.group(2))) if found else None
            says = f"says what cannot be: {problem.message[:1].lower()}{problem.message[1:].rstrip('.')}"
            yield Found(Spot(text.record, text.field, span), survey.whose(text.record), says, owner=text.owner)


CHECK = Check(
    "not_possible_there",
    "Something that cannot be said there",
    "stops it",
    "N52",
    "Can everything be done where it is written?",
    "A moment that its owner never has, or a number out of bounds, keeps the whole text from running.",
    "An area waits to be used, and only an object can be.",
    "text",
    find,
)
