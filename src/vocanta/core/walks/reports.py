"""What kept walks came to, for people and in the forms of others: plain data, JUnit."""

from __future__ import annotations

import json
from collections.abc import Sequence
from typing import Any
from xml.etree import ElementTree as ET

from ..engine.situation import TICKS_A_SECOND, at_clock
from ..project.keeping import Came
from ..project.xmltext import cleaned, document
from .comparing import Parting
from .rewalking import Outcome


def summary(outcome: Outcome) -> str:
    """What a walk came to, in a few words."""
    if outcome.same:
        return "same end" + ("" if outcome.how == "as pressed" else ", walked as it was meant")
    return f"parts ways at {at_clock(_parts_at(outcome))}: {first_difference(outcome)}"


def first_difference(outcome: Outcome) -> str:
    """Where a walk parts ways first, in words."""
    if outcome.parting is not None:
        return outcome.parting.says()
    if outcome.stuck:
        return outcome.stuck
    return "it does not come to: " + ", ".join(one.says for one in outcome.missing)


def _parts_at(outcome: Outcome) -> int:
    """The tick of the run as it goes now at which it parts ways."""
    parting = outcome.parting
    return outcome.ticks if parting is None or parting.now is None else parting.now.tick


def lines(outcome: Outcome) -> list[str]:
    """What a walk came to, for people; what it was to come to where it did not."""
    head = f"{'same ' if outcome.same else 'PARTS'}  {outcome.walk.name}: {summary(outcome)}"
    more = []
    if not outcome.same:
        more += [f"         stopped there: {outcome.stuck}"] if outcome.stuck else []
        more += [f"         was to come to: {one.says}" for one in outcome.missing]
    more += [f"         left out of its beginning: {what}" for what in outcome.left_out]
    return [head, *more]


def as_data(outcome: Outcome) -> dict[str, Any]:
    """What a walk came to as plain data."""
    parting = outcome.parting
    return {
        "walk": outcome.walk.key,
        "name": outcome.walk.name,
        "same": outcome.same,
        "how": outcome.how,
        "seconds": round(outcome.ticks / TICKS_A_SECOND, 1),
        "says": summary(outcome),
        "stuck": outcome.stuck,
        "missing": [one.says for one in outcome.missing],
        "left_out": list(outcome.left_out),
        "parting": None if parting is None else parting_data(parting),
    }


def parting_data(parting: Parting) -> dict[str, Any]:
    """Where two walks part ways as plain data."""
    return {"says": parting.says(), "was": _came(parting.was), "now": _came(parting.now)}


def _came(one: Came | None) -> dict[str, Any] | None:
    if one is None:
        return None
    where = {"level": one.level, "x_m": one.x_m, "y_m": one.y_m}
    return {
        "at": at_clock(one.tick),
        "tick": one.tick,
        "what": one.what,
        "subject": one.subject,
        "says": one.says,
        **where,
    }


def as_json(outcomes: Sequence[Outcome], file: str) -> str:
    """The report as one JSON document."""
    counts = {"same": sum(o.same for o in outcomes), "parted": sum(not o.same for o in outcomes)}
    whole = {"file": file, "counts": counts, "walks": [as_data(o) for o in outcomes]}
    return json.dumps(whole, ensure_ascii=False, indent=1) + "\n"


def as_junit(outcomes: Sequence[Outcome], file: str) -> str:
    """The report as JUnit XML: a test case for each kept walk, which fails where it parts ways."""
    parted = [o for o in outcomes if not o.same]
    suite = ET.Element(
        "testsuite", name=f"vocanta walk {file}", tests=str(len(outcomes)), errors="0", failures=str(len(parted))
    )
    for outcome in outcomes:
        case = ET.SubElement(suite, "testcase", classname="vocanta.walk", name=cleaned(outcome.walk.name))
        if not outcome.same:
            failure = ET.SubElement(case, "failure", message=cleaned(summary(outcome)), type="parts ways")
            failure.text = cleaned("\n".join(lines(outcome)))
    return document(suite)
