"""A quest that can never be done, as the proof has it."""

from __future__ import annotations

from collections.abc import Iterator

from ..check import Check
from ..finding import Found
from ..proven import Proven
from ..survey import Survey


def find(survey: Survey, proven: Proven) -> Iterator[Found]:
    """Every quest of which the proof says so."""
    return proven.found("can", "can never be done", "never be done")


CHECK = Check(
    "quest_never_done",
    "A quest that can never be done",
    "stops it",
    "N53",
    "Can every quest be done?",
    "Every way to play was gone through: none leads to its end.",
    "The Night Bloom can never be done.",
    "proven",
    find,
)
