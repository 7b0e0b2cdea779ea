"""A line that no opener is and that nothing leads to."""

from __future__ import annotations

from collections.abc import Iterator

from ...project.records import Conversation
from ..check import Check
from ..finding import Found, Mend, Spot, called
from ..mending import Give
from ..survey import Survey


def find(survey: Survey, talk: Conversation) -> Iterator[Found]:
    """Every line that cannot be come to from an opener."""
    lines = {line.key: line for line in talk.lines}
    edge = [line.key for line in talk.lines if line.opener]
    found = set(edge)
    while edge:
        line = lines[edge.pop()]
        for then in (line.then, *(r.then for r in line.replies)):
            if then in lines and then not in found:
                found.add(then)
                edge.append(then)
    for number, line in enumerate(talk.lines):
        if line.key not in found:
            address = f"line/{line.key}"
            says = f"never says {called(line.key)}: no line and no answer leads to it"
            mends = tuple(_mends(talk, number, found))
            yield Found(Spot(address, "wordings"), survey.whose(address), says, mends, called(line.key))


def _mends(talk: Conversation, number: int, found: set[str]) -> Iterator[Mend]:
    line, before = talk.lines[number], talk.lines[number - 1] if number else None
    if before is not None and before.key in found and not before.then and not before.replies:
        says = f"Go on to {called(line.key)} behind {called(before.key)}."
        yield Mend("lead on to it", says, (Give(f"line/{before.key}", "then", line.key),))
    if not any(m.opener and not m.needs.strip() and m.repeat != "once" for m in talk.lines):
        says = f"Let the talk begin with {called(line.key)} where it fits."
        yield Mend("make it an opener", says, (Give(f"line/{line.key}", "opener", True),))


CHECK = Check(
    "line_not_led_to",
    "A line that nothing leads to",
    "stops it",
    "N55",
    "Can every line be come to?",
    "The line begins no talk, and neither a line nor an answer goes on with it.",
    "“Mind the wet.” stands at the end, and the answer before it ends the talk.",
    "conversation",
    find,
)
