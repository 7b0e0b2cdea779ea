"""A need that always holds, by the values that each column can come to."""

from __future__ import annotations

from collections.abc import Iterator

from ...progress.needs import guard_of
from ..check import Check
from ..finding import Found, Spot
from ..needing import prose
from ..survey import Survey
from ..taking import need_out
from ..texts import Text


def find(survey: Survey, text: Text) -> Iterator[Found]:
    """Every top-level need of a text that holds for everybody who has the text, whatever happens."""
    if not text.tops or survey.broken(text):
        return
    meanings = [meaning for _, meaning in survey.meanings(text)]
    for top in text.tops if meanings else ():
        if all(survey.values.always(guard_of(top.need, m)) for m in meanings):
            words = prose(survey, top.need, text)
            mends = need_out(text, top, "Take the need out: it makes no difference.")
            at, says = Spot(text.record, text.field, top.need.span), f"asks for what is always so: {words}"
            yield Found(at, survey.whose(text.record), says, mends, words, owner=text.owner)


CHECK = Check(
    "need_always_holds",
    "A need that always holds",
    "worth a look",
    "N52",
    "Does every need keep something back at some time?",
    "What is asked for is so from the beginning and nothing changes it, so the need makes no difference.",
    "The bell asks that the gate is shut, and nothing ever opens it.",
    "text",
    find,
    ("rules", "names", "kinds"),
)
