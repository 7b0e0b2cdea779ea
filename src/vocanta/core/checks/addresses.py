"""Addresses: how checks call the place of a record, shorter than its whole chain and as lasting as its names.

What is named in the whole project stands by itself, `object/crate`; what is named in its owner stands behind that,
`object/crate/cue/c1`. What the compiler calls an origin leads to the same.
"""

from __future__ import annotations

from ..project.records import RECORD_TYPES, SCOPED
from ..project.tree import Place


def address_of(place: Place) -> str:
    """The address of a record."""
    return _joined(place.chain)


def _joined(chain: tuple[tuple[str, str], ...]) -> str:
    kept = [chain[-1]]
    for pair in reversed(chain[:-1]):
        if kept[0][0] not in SCOPED:
            break
        kept.insert(0, pair)
    return "/".join(f"{kind}/{key}" for kind, key in kept)


def address_and_field(origin: str) -> tuple[str, str]:
    """The address of the record that an origin means, and the field of it where the origin names one.

    >>> address_and_field("conversation/odile_talk/line/hello/reply/r1/steps")
    ('line/hello/reply/r1', 'steps')
    >>> address_and_field("object/crate/cue/c1")
    ('object/crate/cue/c1', '')
    """
    parts, chain = origin.split("/"), []
    while len(parts) > 1 and parts[0] in RECORD_TYPES:
        chain.append((parts[0], parts[1]))
        parts = parts[2:]
    return (_joined(tuple(chain)) if chain else origin), "/".join(parts) if chain else ""


def owner_of(address: str) -> str:
    """The address of what owns a record that is named in its owner; else its own."""
    return address.rsplit("/", 2)[0] if address.count("/") > 1 else address


def key_of(address: str) -> str:
    """The name in cues of a record."""
    return address.rpartition("/")[2]


def type_of(address: str) -> str:
    """The type of a record."""
    return address.split("/")[-2] if "/" in address else address
