"""Needs as checks take them apart, and as their sentences say them."""

from __future__ import annotations

from collections.abc import Iterator

from ..cuetext.own_values import is_its
from ..cuetext.prose import prose_of_needs
from ..phrases import nodes as n
from .finding import called
from .survey import Survey
from .texts import Text


def atoms_of(need: n.Need) -> Iterator[n.Need]:
    """The needs inside one that stand for nothing but themselves; one that is turned round with its *not*."""
    if isinstance(need, n.And | n.Or):
        for member in need.needs:
            yield from atoms_of(member)
    elif not isinstance(need, n.Not) or not isinstance(need.need, n.And | n.Or | n.Not):
        yield need


def prose(survey: Survey, need: n.Need, text: Text) -> str:
    """A need in words, with its names as they are called when it is shown."""

    def naming(word: str, owner: str) -> str:
        if word in ("this", "player", "yes", "no") or is_its(word):
            return "it" if word == "this" else word
        if owner:
            of = text.this if owner == "this" else owner
            return called(f"{of}:{word}") if of else word
        return called(word)

    return "".join(token.text for token in prose_of_needs((n.Top(need),), naming)).strip()
