"""A wait where none may stand."""

from __future__ import annotations

from collections.abc import Iterator

from ...phrases import nodes as n
from ..check import Check
from ..finding import Found, Mend, Spot
from ..mending import Reword
from ..survey import Survey
from ..taking import step_out
from ..texts import Text


def find(survey: Survey, text: Text) -> Iterator[Found]:
    """Every wait of a text that stands where nothing can wait."""
    wrong = [p for p in (text.read.limits if text.read is not None else ()) if p.code == "wait_impossible"]
    for step in text.steps if wrong else ():
        if isinstance(step, n.Wait | n.WaitForIt) or (isinstance(step, n.Show) and step.wait):
            if f"characters {step.span[0] + 1}–{step.span[1]}" not in {p.path for p in wrong}:
                continue
            mends: tuple[Mend, ...] = ()
            if isinstance(step, n.Show):
                end = step.span[1]
                begin = text.words.rindex("and wait", *step.span) - 1
                mends = (
                    Mend(
                        "do not wait",
                        "Go on without waiting for its end.",
                        (Reword(text.record, text.field, (begin, end), ""),),
                    ),
                )
            else:
                mends = step_out(text, step, says="Take the wait out.")
            at = Spot(text.record, text.field, step.span)
            says = "waits where nothing can wait, so none of these steps runs"
            yield Found(at, survey.whose(text.record), says, mends, "waits", owner=text.owner)


CHECK = Check(
    "wait_where_none",
    "A wait where none may stand",
    "stops it",
    "N20",
    "Do waits stand only in cues?",
    "Lines, rewards and entry steps take effect at once; a wait among them keeps all of them from running.",
    "The rewards of Dry Feet wait for 2 s.",
    "text",
    find,
)
