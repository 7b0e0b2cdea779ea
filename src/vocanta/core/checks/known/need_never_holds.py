"""A need that can never hold, by the values that each column can come to."""

from __future__ import annotations

from collections.abc import Iterator

from ...phrases import nodes as n
from ...progress.needs import guard_of
from ..check import Check
from ..finding import Found, Spot
from ..needing import atoms_of, prose
from ..survey import Survey
from ..taking import need_out
from ..texts import Text


def find(survey: Survey, text: Text) -> Iterator[Found]:
    """Every need of a text that holds for nobody who has the text, in no situation that could come about."""
    if not text.tops or survey.broken(text):
        return
    meanings = [meaning for _, meaning in survey.meanings(text)]
    for top in text.tops if meanings else ():
        never = [a for a in atoms_of(top.need) if not any(survey.values.can(guard_of(a, m)) for m in meanings)]
        whole = not any(survey.values.can(guard_of(top.need, m)) for m in meanings)
        if whole and top.need not in never:
            never = [top.need] if not never or not isinstance(top.need, n.And | n.Not) else never
        for need in never:
            at = Spot(text.record, text.field, _span(need, top))
            words = prose(survey, need, text)
            says = f"asks for what can never be: {words}"
            mends = need_out(text, top) if whole and len(text.tops) > 1 else ()
            yield Found(at, survey.whose(text.record), says, mends, words, owner=text.owner)


def _span(need: n.Need, top: n.Top) -> n.Span:
    return need.span if need.span != n.NOWHERE else top.need.span


CHECK = Check(
    "need_never_holds",
    "A need that can never hold",
    "likely wrong",
    "N52",
    "Can every need hold at some time?",
    "Nothing in the project ever brings about what is asked for, so what stands behind it never happens.",
    "The vault asks for the moon orchid, and nothing ever gives one.",
    "text",
    find,
    ("rules", "names", "kinds"),
)
