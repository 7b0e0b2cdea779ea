"""A draft: a newer text of a cue that cannot be read."""

from __future__ import annotations

from collections.abc import Iterator

from ...cuetext.reading import CueTextError, read_cue
from ...project.records import Cue
from ..addresses import owner_of
from ..check import Check
from ..finding import Found, Mend, Spot
from ..mending import Give, Remove
from ..survey import Survey


def find(survey: Survey, address: str) -> Iterator[Found]:
    """The draft of a cue, with where it stops being readable."""
    record = survey.record(address)
    if not isinstance(record, Cue) or not record.draft.strip():
        return
    try:
        read_cue(record.draft)
        where = ""
    except CueTextError as error:
        where = f"it stops at line {error.line}, column {error.column}"
    if not where:
        says = "has a newer text that can be read by now, and is not in force"
        over = (Give(address, "text", record.draft), Give(address, "draft", ""))
        take, drop = (
            Mend("take it over", "Let the newer text be in force.", over),
            Mend("drop the draft", "Throw the newer text away.", (Give(address, "draft", ""),)),
        )
        at = Spot(address, "draft")
        yield Found(at, survey.whose(address), says, (take, drop), "not in force", owner=owner_of(address))
        return
    if record.text.strip():
        says = f"has a newer text that cannot be read ({where}); the last readable one stays in force"
        mend = Mend(
            "drop the draft", "Throw the newer text away; the sentence in force stays.", (Give(address, "draft", ""),)
        )
    else:
        says = f"has a cue that cannot be read ({where}), so it never runs"
        mend = Mend("delete the cue", "Delete the cue with its draft.", (Remove(address),))
    yield Found(Spot(address, "draft"), survey.whose(address), says, (mend,), "cannot be read", owner=owner_of(address))


CHECK = Check(
    "draft_unreadable",
    "A draft that cannot be read",
    "stops it",
    "N52",
    "Can every text be read?",
    "What was typed last cannot be understood, so the last readable version is in force, or nothing is.",
    "The bell has a newer text that stops at line 2.",
    "record",
    find,
)
