"""What a value of a kind can be for one of its objects: what stands wherever the cues that they share read it."""

from __future__ import annotations

import dataclasses
from collections.abc import Iterable
from dataclasses import dataclass

from ..phrases.nodes import Word
from ..phrases.vocabulary import FIXED, ITS, SELVES
from .analysing import Analysis
from .index import NameIndex, use_problems
from .roles import NameUse


@dataclass(frozen=True, slots=True)
class Fits:
    """The names that a value can be, the sorts of them; whether it can be a number, or words of any sort."""

    names: tuple[str, ...]
    sorts: tuple[str, ...]
    number: bool
    words: bool


def fitting(index: NameIndex, this: str, value: str, reads: Iterable[Analysis]) -> Fits:
    """What the value of an object or kind can be, held against every text of it. One that no text reads can be anything."""
    word = ITS + value
    found = list(reads)
    if any(number.its == value for read in found for number in read.left):
        return Fits((), (), True, False)
    uses = [use for read in found for use in read.uses if word in _words(use)]
    stands = [use for use in uses if use.word.text == word]
    if not stands:
        return Fits((*sorted(index.things), "yes", "no"), (), True, True)
    could = set.intersection(*(_could(index, use, this) for use in stands)) - SELVES
    names = tuple(name for name in sorted(could) if not _wrong(index, this, value, name, uses))
    sorts = [sort for sort in stands[0].types if sort not in FIXED and all(sort in use.types for use in stands)]
    number = all(FIXED[1] in use.types or use.owner is not None for use in stands)
    return Fits(names, tuple(sorts) if all(use.owner is None for use in stands) else (), number, False)


def _words(use: NameUse) -> tuple[str, ...]:
    return (use.word.text,) if use.owner is None else (use.word.text, use.owner.text)


def _could(index: NameIndex, use: NameUse, this: str) -> set[str]:
    found = set(index.candidates(dataclasses.replace(use, word=Word("?")), this))
    return found | ({"yes", "no"} if FIXED[0] in use.types and use.owner is None else set())


def _wrong(index: NameIndex, this: str, value: str, name: str, uses: list[NameUse]) -> bool:
    """Whether a name cannot be the value, with what belongs to it in the same texts."""
    own: str | bool = name == "yes" if name in ("yes", "no") else name
    tried = dataclasses.replace(index, values={**index.values, this: {**index.values.get(this, {}), value: own}})
    return bool(use_problems(uses, tried, this))
