"""The whole language as declared: its phrases by node and by rule, and the words that are taken by it."""

from __future__ import annotations

from functools import cache
from typing import Any

from .declaring import Phrase
from .moments import MOMENTS
from .needs import NEEDS, NOT
from .steps import STEPS
from .vocabulary import CHARACTERS, CONDITIONS, GRADE, PURSES, SELVES, STATUSES

PHRASES: tuple[Phrase, ...] = (*MOMENTS, *NEEDS, *STEPS)
JOINTS = ("when", "only if", "then", "otherwise", "and go on", "or else", "and", "or", "not", "its")
"""What holds a cue together."""


@cache
def _by_node() -> dict[type[Any], tuple[Phrase, ...]]:
    found: dict[type[Any], tuple[Phrase, ...]] = {}
    for phrase in PHRASES:
        found[phrase.node] = (*found.get(phrase.node, ()), phrase)
    return found


def phrase_of(node: Any) -> Phrase | None:
    """The phrase that a node is written with, None for what is no phrase: words, numbers, holes, and, or, not."""
    return next((p for p in _by_node().get(type(node), ()) if p.fits(node)), None)


@cache
def by_rule() -> dict[str, Phrase]:
    """Every phrase by the rule of the grammar that reads it."""
    return {p.rule: p for p in PHRASES}


@cache
def reserved() -> frozenset[str]:
    """The words that cannot name a thing: those of the phrases, the joints, and what has a fixed meaning."""
    joints = {word for joint in JOINTS for word in joint.split()}
    fixed = {*SELVES, *PURSES, *STATUSES, *CONDITIONS, GRADE, CHARACTERS}
    return frozenset(joints | fixed).union(*(p.words for p in PHRASES)) - {"s", "m"}


def begins(sort: str) -> tuple[str, ...]:
    """What a moment, a need or a step can be begun with, each with holes."""
    phrases = {"moment": MOMENTS, "need": NEEDS, "step": STEPS}[sort]
    found = tuple(text for p in phrases for text in p.begins if text != "?")
    return (*found, NOT) if sort == "need" else found
