"""Findings: one place where a check found something, what it says there, and what would take it away."""

from __future__ import annotations

import hashlib
import re
from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal, get_args

from ..phrases.nodes import Span
from .mending import Write

Weight = Literal["stops it", "likely wrong", "worth a look"]
WEIGHTS: tuple[Weight, ...] = get_args(Weight)
"""The weights of a finding, the heaviest first."""
_NAME = re.compile("\x02([^\x03]*)\x03")


@dataclass(frozen=True, slots=True)
class Spot:
    """A place in a project: the address of a record, a field of it (a path in a design), and a span of its text."""

    record: str
    field: str = ""
    span: Span | None = None


@dataclass(frozen=True, slots=True)
class Mend:
    """What takes a finding away: in two or three words, in a sentence, and what it writes."""

    label: str
    says: str
    writes: tuple[Write, ...]


@dataclass(frozen=True, slots=True)
class Found:
    """What a check found at a place. `whose` and `says` make up its sentence; names in them stand as `called` has them.

    `marks` are the words of `says` that are underlined. `also` are other records that it is about. `rests_on` is what
    it rests on, besides the text or the value at its place: when that changes, what was put aside comes back.
    """

    at: Spot
    whose: str
    says: str
    mends: tuple[Mend, ...] = ()
    marks: str = ""
    also: tuple[str, ...] = ()
    rests_on: tuple[str, ...] = ()
    owner: str = ""
    """The address of the record whose finding it is, where that is not the one it stands in: the object of a cue."""
    behind: str = ""
    """What is said behind its sentence and makes it no other finding."""


@dataclass(frozen=True, slots=True)
class Finding:
    """A finding as it is shown. `key` is the same as long as its check, place and sentence are.

    `rests_on` stands for what it rests on; `aside` is the reason for which it was put aside, None where it was not.
    """

    check: str
    weight: Weight
    key: str
    at: Spot
    owner: str
    whose: str
    says: str
    mends: tuple[Mend, ...]
    marks: str
    also: tuple[str, ...]
    rests_on: str
    level: str = ""
    quest: str = ""
    aside: str | None = None

    @property
    def sentence(self) -> str:
        """The whole sentence."""
        return f"{self.whose} {self.says}"


def called(key: str) -> str:
    """A name in a sentence, as it will be called when that is shown."""
    return f"\x02{key}\x03"


def quoted(words: str, most: int = 40) -> str:
    """Words of a designer's in a sentence: the first of them, in quotes."""
    plain = " ".join(words.replace("\x02", "").replace("\x03", "").split())
    return f"“{plain if len(plain) <= most else plain[:most].rsplit(' ', 1)[0].rstrip(',.;:') + '…'}”"


def shown(sentence: str, name: Callable[[str], str]) -> str:
    """A sentence with its names as they are called now."""
    return _NAME.sub(lambda found: name(found.group(1)), sentence) if "\x02" in sentence else sentence


def names_in(found: Found) -> frozenset[str]:
    """What a finding names, each part of a stage's or a state's name by itself."""
    sentences = (found.whose, found.says, found.marks, *(m.says for m in found.mends))
    return frozenset(part for s in sentences for name in _NAME.findall(s) for part in re.split("[.:]", name))


def ended(sentence: str) -> str:
    """A sentence with one end: none behind that of the words that it ends with.

    >>> ended("Move it above “Evening.”."), ended("Take it out.")
    ('Move it above “Evening.”', 'Take it out.')
    """
    return re.sub("([.!?…]”)\\.$", r"\1", sentence)


def stamp(*parts: str) -> str:
    """A short text that stands for some parts and for no others."""
    return hashlib.sha256("\x00".join(parts).encode()).hexdigest()[:16]
