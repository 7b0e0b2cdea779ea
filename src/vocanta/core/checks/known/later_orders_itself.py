"""A *later* that asks for itself again, with nothing between: it comes again and again, without an end."""

from __future__ import annotations

from collections.abc import Iterator

from ...phrases import nodes as n
from ..check import Check
from ..finding import Found, Mend, Spot
from ..mending import Reword
from ..survey import Survey
from ..texts import Text

LEAST_S = 1.0
"""What comes again after less runs away."""


def find(survey: Survey, text: Text) -> Iterator[Found]:
    """Every step of a cue on *later* that asks for the same at once, in a cue that nothing stops."""
    moment = text.read.tree.moment if text.start == "cue" and text.read is not None else None
    if moment is None or moment.verb not in ("later", "comes") or text.tops:
        return
    name = moment.word if moment.verb == "comes" else None
    for run in text.runs:
        for step in run:
            if isinstance(step, n.Wait) and (step.seconds.value is None or step.seconds.value >= LEAST_S):
                break
            if isinstance(step, n.Later) and step.name == name and _at_once(step):
                says = "asks for itself again as soon as it has come, and never ends"
                write = Reword(text.record, text.field, (step.span[0], step.span[0]), "wait 10 s\n  ")
                mends = (Mend("wait before it", "Wait 10 s before it is asked for again.", (write,)),)
                at = Spot(text.record, text.field, step.span)
                yield Found(at, survey.whose(text.record), says, mends, "asks for itself again", owner=text.owner)


def _at_once(step: n.Later) -> bool:
    """Whether it can come without anything being done: who brings it stands there, or no time passes."""
    return step.how == "by" or (step.seconds is not None and (step.seconds.value or 0.0) < LEAST_S)


CHECK = Check(
    "later_orders_itself",
    "A later that orders itself again",
    "likely wrong",
    "N20",
    "Does everything that comes later come to an end?",
    "What has come asks for itself again at once, so it comes again with each moment, and the run has no time for anything "
    "else. Wait before it, or give the cue a need.",
    "When later, then later by Pip: Pip stands there already, and hands over again and again.",
    "text",
    find,
)
