"""How often each item, fact, ability and sound is given and asked for, over all texts and objectives of a project."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass
from typing import Any

from ..phrases import nodes as n
from ..project.designs import resolved
from ..project.records import Objective, Project
from ..project.tree import own_data, walk
from .own_values import Values, is_its, meant
from .reading import CueTextError
from .references import reader_of, text_fields
from .roles import name_uses


@dataclass(frozen=True, slots=True)
class Supply:
    """In how many steps a thing is given (set, granted, played), in how many needs, steps and objectives asked for."""

    given: int
    asked: int


def supply_of(project: Project) -> dict[str, Supply]:
    """The supply of every name that is given or asked for anywhere; texts that cannot be read count as none."""
    given: Counter[str] = Counter()
    asked: Counter[str] = Counter()
    values = _values(project)
    for place in walk(project):
        data, owner = own_data(place.type, place.record), place.chain[-2][1] if len(place.chain) > 1 else ""
        for field in text_fields(place.type):
            _count(place.type, field, data[field], given, asked, values.get(owner, ({},)))
        if isinstance(place.record, Objective) and place.record.type in ("have", "fact"):
            asked.update(place.record.targets)
    return {key: Supply(given[key], asked[key]) for key in sorted(given.keys() | asked.keys())}


def _values(project: Project) -> dict[str, tuple[Values, ...]]:
    """For each object its values; for each kind those of every object placed from it, else its own."""
    kinds = {k.key: k for k in project.kinds}
    found: dict[str, tuple[Values, ...]] = {}
    for level in project.levels:
        for thing in level.objects:
            if thing.kind in kinds:
                values = resolved(kinds[thing.kind], thing).values
                found[thing.key] = (values,)
                found[thing.kind] = (*found.get(thing.kind, ()), values)
    return {**{key: (kind.design.values,) for key, kind in kinds.items()}, **found}


def _count(
    record_type: str, field: str, text: str, given: Counter[str], asked: Counter[str], values: tuple[Values, ...]
) -> None:
    """Count a text once for everybody who has it; `its …` is what each of them has there."""
    reader = reader_of(record_type, field)
    assert reader is not None
    try:
        tree: Any = reader(text) if text.strip() else ()
    except CueTextError:
        return
    uses = [use for use in name_uses(tree) if use.supply]
    named = any(is_its(use.word.text) for use in uses)
    for mine in values if named else values[:1]:
        given.update(_key(use.word, mine) for use in uses if use.supply == "given")
        asked.update(_key(use.word, mine) for use in uses if use.supply == "asked")


def _key(word: n.Word, values: Values) -> str:
    return meant(word.text, values) or n.HOLE
