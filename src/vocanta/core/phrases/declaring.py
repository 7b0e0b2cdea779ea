"""How a moment, a need or a step is declared: a phrase of words and slots, once, beside its node.

From a phrase come the text that is written, the prose of a page, the names it uses, what can be completed in it,
the words it reserves and its row in the reference. `Phrase.parts` stand in the order of the text.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any, Literal, assert_never

from .nodes import HOLE

Sort = Literal["word", "label", "number", "seconds", "metres", "wording"]
Supply = Literal["", "given", "asked"]


@dataclass(frozen=True, slots=True)
class Slot:
    """A place for a name, a number or a wording, kept in an attribute of the node. A `label` is a name of the owner's own
    making, that names no record.

    `types`: what a name may name. `owner`: the attribute whose name it belongs to (a state, a stage), or `this`.
    `supply`: whether what is named is given or asked for by the phrase. `many`: the attribute that says how many of it.
    """

    attribute: str
    sort: Sort = "word"
    types: tuple[str, ...] = ()
    owner: str = ""
    supply: Supply = ""
    many: str = ""


@dataclass(frozen=True, slots=True)
class Both:
    """Words that read otherwise in prose, and otherwise again where a need is turned round."""

    text: str
    prose: str
    negated: str = ""


@dataclass(frozen=True, slots=True)
class Units:
    """What is counted by a number: in the text always as for many."""

    attribute: str
    one: str
    many: str


@dataclass(frozen=True, slots=True)
class Of:
    """What stands between an amount and what it is of: *3 coins*, *its gift of coins*."""

    attribute: str


@dataclass(frozen=True, slots=True)
class Unsaid:
    """A number that is not written, as a word of the prose that can be changed like any other.

    `before` and `after` stand around it once it is written, before the name in the attribute `at`, else at the end.
    """

    sort: Sort
    shown: str
    before: str = ""
    after: str = ""
    at: str = ""


@dataclass(frozen=True, slots=True)
class Aside:
    """Words that stand in prose alone, and belong to no phrase."""

    prose: str


@dataclass(frozen=True, slots=True)
class How:
    """Words chosen by an attribute: for each of its values the text and the prose. The `usual` one is not written."""

    attribute: str
    words: Mapping[str, tuple[str, str]]
    usual: str = ""


@dataclass(frozen=True, slots=True)
class Maybe:
    """Parts that stand where an attribute is set, others where it is not."""

    attribute: str
    parts: tuple[Part, ...]
    otherwise: tuple[Part, ...] = ()


@dataclass(frozen=True, slots=True)
class Each:
    """Several names of one sort, with commas between."""

    slot: Slot


Plain = str | Both | Aside | How | Slot | Each | Units | Of | Unsaid
Part = Plain | Maybe


@dataclass(frozen=True)
class Phrase:
    """One moment, need or step: its node, its words, what it means in a sentence, an example, the rule that reads it.

    `fixed` are attributes that the phrase itself decides (the verb); `offers` what a page offers to begin it with,
    worked out from the parts where none are given; `prose` its parts in prose where their order differs.
    """

    node: type[Any]
    rule: str
    parts: tuple[Part, ...]
    means: str
    example: str
    fixed: Mapping[str, str] = field(default_factory=dict)
    offers: tuple[str, ...] = ()
    prose: tuple[Part, ...] = ()

    @cached_property
    def slots(self) -> tuple[Slot, ...]:
        """Its slots in the order of the text."""
        return tuple(p.slot if isinstance(p, Each) else p for p in _flat(self.parts) if isinstance(p, Slot | Each))

    @cached_property
    def attributes(self) -> tuple[str, ...]:
        """The attributes that its rule reads, in the order of the text; an offset is one."""
        return tuple(dict.fromkeys(_attributes(self.parts)))

    @cached_property
    def usual(self) -> dict[str, str]:
        """What an attribute is where its words are left out."""
        return {p.attribute: p.usual for p in _flat(self.parts) if isinstance(p, How) and p.usual}

    @cached_property
    def several(self) -> frozenset[str]:
        """The attributes that hold several names."""
        return frozenset(p.slot.attribute for p in _flat(self.parts) if isinstance(p, Each))

    @cached_property
    def flags(self) -> frozenset[str]:
        """The attributes that only say whether words stand there."""
        return frozenset(p.attribute for p in _maybes(self.parts) if not list(_attributes(p.parts)))

    @cached_property
    def optional(self) -> frozenset[str]:
        """The attributes that may be left out."""
        return frozenset(a for p in _maybes(self.parts) for a in _attributes(p.parts))

    @cached_property
    def begins(self) -> tuple[str, ...]:
        """Its text with holes, as it is offered."""
        return self.offers or ("".join(_bare(self.parts)).strip(),)

    @cached_property
    def words(self) -> frozenset[str]:
        """The words of the language that it uses."""
        texts = [t for p in _flat(self.parts) for t in _texts(p)]
        return frozenset(w for text in texts for w in re.findall(r"[a-z]+", text))

    def fits(self, node: Any) -> bool:
        """Whether a node is written with this phrase."""
        return isinstance(node, self.node) and all(getattr(node, a) == v for a, v in self.fixed.items())


def value_of(node: Any, attribute: str) -> Any:
    """An attribute of a node; `offset.0` is the first of a pair, None where there is none."""
    name, _, number = attribute.partition(".")
    value = getattr(node, name)
    return value if not number or value is None else value[int(number)]


def shown_parts(node: Any, parts: tuple[Part, ...]) -> Iterator[Plain]:
    """The parts that stand for a node: those of what is set."""
    for part in parts:
        if isinstance(part, Maybe):
            yield from shown_parts(node, part.parts if value_of(node, part.attribute) else part.otherwise)
        else:
            yield part


def of_words(node: Any, of: Of) -> str:
    """What stands behind an amount: *of* where the owner has it for itself."""
    return " of " if value_of(node, of.attribute).its else " "


def how_words(node: Any, how: How) -> tuple[str, str]:
    """The text and the prose of words chosen by an attribute; empty for the usual ones."""
    value = str(value_of(node, how.attribute))
    return ("", "") if value == how.usual else how.words[value]


def _flat(parts: tuple[Part, ...]) -> Iterator[Plain]:
    for part in parts:
        if isinstance(part, Maybe):
            yield from _flat(part.parts)
            yield from _flat(part.otherwise)
        else:
            yield part


def _maybes(parts: tuple[Part, ...]) -> Iterator[Maybe]:
    for part in parts:
        if isinstance(part, Maybe):
            yield part
            yield from _maybes(part.parts)


def _attributes(parts: tuple[Part, ...]) -> Iterator[str]:
    for part in parts:
        if isinstance(part, Maybe):
            inner = list(_attributes(part.parts))
            yield from inner or [part.attribute]
        elif isinstance(part, Each):
            yield part.slot.attribute
        elif isinstance(part, Slot | How):
            yield part.attribute.partition(".")[0]


def _bare(parts: tuple[Part, ...]) -> Iterator[str]:
    """The text of parts with holes, without what may be left out."""
    for part in parts:
        match part:
            case str():
                yield part
            case Both(text):
                yield text
            case Slot():
                yield HOLE
            case How(_, words, usual):
                yield "" if usual else next(iter(words.values()))[0]
            case Maybe(_, _, otherwise):
                yield from _bare(otherwise)
            case Units(_, _, many):
                yield many
            case Of():
                yield " "
            case Aside() | Each() | Unsaid():
                yield ""
            case _:
                assert_never(part)


def _texts(part: Part) -> tuple[str, ...]:
    match part:
        case str():
            return (part,)
        case Both(text):
            return (text,)
        case How(_, words):
            return tuple(text for text, _ in words.values())
        case Units(_, _, many):
            return (many,)
        case Of():
            return (" of ",)
        case Slot() | Aside() | Each() | Maybe() | Unsaid():
            return ()
        case _:
            assert_never(part)
