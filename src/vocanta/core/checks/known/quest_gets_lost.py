"""A quest that can be lost for good, as the proof has it."""

from __future__ import annotations

from collections.abc import Iterator

from ..check import Check
from ..finding import Found
from ..proven import Proven
from ..survey import Survey


def find(survey: Survey, proven: Proven) -> Iterator[Found]:
    """Every quest of which the proof shows a way to where it was failed or declined for good."""
    return proven.found("lost", "can be lost for good", "be lost for good")


CHECK = Check(
    "quest_gets_lost",
    "A quest that can be lost",
    "worth a look",
    "N54",
    "Can a quest be lost for good?",
    "There is a way to play after which it was failed or declined and can never be done any more. That may be meant so.",
    "Lamps Before Dusk can be lost for good: 2 things to do, the last of them: decline Lamps Before Dusk.",
    "proven",
    find,
)
