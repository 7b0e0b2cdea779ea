"""A quest in which one can get stuck, as the proof has it."""

from __future__ import annotations

from collections.abc import Iterator

from ..check import Check
from ..finding import Found
from ..proven import Proven
from ..survey import Survey


def find(survey: Survey, proven: Proven) -> Iterator[Found]:
    """Every quest of which the proof shows a way to where it is under way and out of reach for good."""
    return proven.found("stuck", "can get stuck", "get stuck")


CHECK = Check(
    "quest_gets_stuck",
    "A quest in which one can get stuck",
    "stops it",
    "N54",
    "Can somebody get stuck?",
    "There is a way to play after which the quest is under way and can never be done any more, whatever the player does. "
    "The Proof place shows it step by step.",
    "The Night Bloom can get stuck: 8 things to do, the last of them: use Pump console.",
    "proven",
    find,
)
