"""The mends that take a need or a step out of a text."""

from __future__ import annotations

from typing import Any

from ..cuetext.rearranging import NEEDS, OTHERWISE, STEPS, rearranged
from ..phrases.nodes import Span, Top
from ..project.problems import ProjectError
from .finding import Mend
from .mending import Reword
from .texts import Text


def step_out(text: Text, step: Any, label: str = "take it out", says: str = "Take the step out.") -> tuple[Mend, ...]:
    """The mend that takes a step out of a text; none for a step that cannot go alone."""
    out = _without_step(text, step)
    return () if out is None else (Mend(label, says, (Reword(text.record, text.field, *out),)),)


def need_out(text: Text, top: Top, says: str = "Take the need out.") -> tuple[Mend, ...]:
    """The mend that takes a top-level need out of a text."""
    number = next((i for i, one in enumerate(text.tops) if one is top), None)
    out = None if number is None else _without(text, f"{NEEDS}.{number}", alone=False)
    return () if out is None else (Mend("take it out", says, (Reword(text.record, text.field, *out),)),)


def _without_step(text: Text, step: Any) -> tuple[Span, str] | None:
    """What rewords a text so that one of its steps is gone: the whole text; None for a step after *or else*.

    A cue whose last step goes keeps a slot to be filled in, since a cue without steps cannot be written.
    """
    for part, run in zip((STEPS, OTHERWISE), text.runs, strict=False):
        for number, one in enumerate(run):
            if one is step:
                return _without(text, f"{part}.{number}", alone=len(run) == 1 and part == STEPS)
    return None


def _without(text: Text, place: str, *, alone: bool) -> tuple[Span, str] | None:
    if alone and text.start == "cue":
        return None
    try:
        return (0, len(text.words)), rearranged(text.words, text.start, take=place).text
    except ProjectError:
        return None
