"""Which names a tree uses, and what each of them must be the name of."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from typing import Any

from ..phrases import nodes as n
from ..phrases.declaring import Supply, value_of
from ..phrases.language import phrase_of

_THIS = n.Word("this")


@dataclass(frozen=True, slots=True)
class NameUse:
    """One name in a text: what it may name; a state or stage also names whose it is; whether it is given or asked for."""

    word: n.Word
    types: tuple[str, ...]
    owner: n.Word | None = None
    supply: Supply = ""


def name_uses(tree: Any) -> Iterator[NameUse]:
    """Every name in a tree in the order of the text, holes included."""
    return uses_in(n.nodes_in(tree))


def uses_in(nodes: Iterable[Any]) -> Iterator[NameUse]:
    """The names that nodes use, in their order."""
    for node in nodes:
        phrase = phrase_of(node)
        for slot in phrase.slots if phrase is not None else ():
            if slot.types:
                owner = _THIS if slot.owner == "this" else value_of(node, slot.owner) if slot.owner else None
                value = value_of(node, slot.attribute)
                words = value if isinstance(value, tuple) else () if value is None else (value,)
                yield from (NameUse(word, slot.types, owner, slot.supply) for word in words)
