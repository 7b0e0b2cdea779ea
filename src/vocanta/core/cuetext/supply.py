"""How often each item, fact, ability and sound is given and asked for, over all texts and objectives of a project."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass
from typing import Any

from ..project.records import Objective, Project
from ..project.tree import own_data, walk
from . import nodes as n
from .reading import CueTextError
from .references import reader_of, text_fields


@dataclass(frozen=True, slots=True)
class Supply:
    """In how many steps a thing is given (set, granted, played), in how many needs, steps and objectives asked for."""

    given: int
    asked: int


def supply_of(project: Project) -> dict[str, Supply]:
    """The supply of every name that is given or asked for anywhere; texts that cannot be read count as none."""
    given: Counter[str] = Counter()
    asked: Counter[str] = Counter()
    for place in walk(project):
        data = own_data(place.type, place.record)
        for field in text_fields(place.type):
            _count(place.type, field, data[field], given, asked)
        if isinstance(place.record, Objective) and place.record.type in ("have", "fact"):
            asked.update(place.record.targets)
    return {key: Supply(given[key], asked[key]) for key in sorted(given.keys() | asked.keys())}


def _count(record_type: str, field: str, text: str, given: Counter[str], asked: Counter[str]) -> None:
    reader = reader_of(record_type, field)
    assert reader is not None
    try:
        tree: Any = reader(text) if text.strip() else ()
    except CueTextError:
        return
    for node in n.nodes_in(tree):
        match node:
            case n.Hand("give", item) | n.Grant(item) | n.Show(_, item) | n.Fill(item):
                given[item.text] += 1
            case n.Change(item, into):
                asked[item.text] += 1
                given[into.text] += 1
            case n.Set(target) | n.Add(_, target):
                given[target.text] += 1
            case n.Tally(item) | n.Limit(_, item):
                asked[item.text] += 1
            case n.Has(item) | n.Holds(item) | n.Is(item) | n.Compare(item) | n.Can(item) | n.Hand("take", item):
                asked[item.text] += 1
