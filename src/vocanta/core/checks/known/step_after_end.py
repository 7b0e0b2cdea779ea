"""A step behind the end of the level."""

from __future__ import annotations

from collections.abc import Iterator

from ...phrases import nodes as n
from ..check import Check
from ..finding import Found, Spot
from ..survey import Survey
from ..taking import step_out
from ..texts import Text


def find(survey: Survey, text: Text) -> Iterator[Found]:
    """Every step that stands behind one that ends the level at once."""
    for run in text.runs:
        ends = next((i for i, s in enumerate(run) if isinstance(s, n.EndLevel) and s.after is None), None)
        for step in run[ends + 1 :] if ends is not None else ():
            if isinstance(step, n.HoleStep):
                continue
            mends = step_out(text, step)
            at = Spot(text.record, text.field, step.span)
            says = "has a step behind the end of the level, where nobody sees it"
            yield Found(at, survey.whose(text.record), says, mends, "behind the end of the level", owner=text.owner)


CHECK = Check(
    "step_after_end",
    "A step behind the end",
    "likely wrong",
    "N45",
    "Does every step come before the level ends?",
    "The level is over as soon as it ends; what comes behind that in the same cue is never seen.",
    "End the level won, then say “Well done.”",
    "text",
    find,
)
