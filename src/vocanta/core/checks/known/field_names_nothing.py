"""A field of a record whose name stands for nothing."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import Any

from ..check import Check
from ..finding import Found, Mend, Spot, called, quoted
from ..mending import Give
from ..survey import Survey

_WORDS: Mapping[str, str] = {
    "first_level": "the level it begins in",
    "offered_by": "who offers it",
    "to_level": "the level it leads to",
    "then": "what follows",
    "drops_to": "an area to drop to",
    "targets": "a target",
    "endings": "what ends the level",
}


def find(survey: Survey, address: str) -> Iterator[Found]:
    """Every name in a field, not in a text, that stands for nothing."""
    siblings = survey.siblings(address)
    for path, name, sibling in survey.fields_naming[address]:
        known = siblings if sibling else survey.index.things
        if name not in known and not path.partition(":")[2].startswith("values."):
            field = path.replace(":", ".").replace("own.", "design.")
            says = f"names {quoted(name)} as {_WORDS.get(path, 'its ' + path.rpartition('.')[2])}"
            yield Found(
                Spot(address, field),
                survey.whose(address),
                f"{says}, and nothing is called that",
                _mends(address, path, survey.record(address)),
            )


def _mends(address: str, field: str, record: Any) -> tuple[Mend, ...]:
    if isinstance(getattr(record, field, None), str) and field not in ("kind", "to_level"):
        return (
            Mend(
                "leave it open",
                f"Take the name out of {called(address.rpartition('/')[2])}.",
                (Give(address, field, ""),),
            ),
        )
    return ()


CHECK = Check(
    "field_names_nothing",
    "A field that names nothing",
    "stops it",
    "N52",
    "Does every field name something that is there?",
    "Somebody or something is named here that the project does not have: a talker, a target, a level.",
    "Dry Feet is offered by odile, who was deleted.",
    "record",
    find,
    ("names",),
)
