"""A record as plain data: its values, how it travels, how an edit keeps it."""

from __future__ import annotations

import copy
from functools import cache
from typing import Any

from ..core.project.records import SCOPED, own_fields
from . import models

_COLUMN = {"type": "value_type", "check": "check_name"}
"""Fields of core records that have another name in the table, because the table or its library has theirs."""


UNTOLD = {"walk": ("deeds", "came", "pressed")}
"""Fields that come by the hundred and that no screen shows: empty in what is told."""


@cache
def value_fields(record_type: str) -> tuple[str, ...]:
    """The fields of a record besides its key and its children."""
    return tuple(f for f in own_fields(record_type) if f != "key")


def values_of(record: models.Record) -> dict[str, Any]:
    """A record's values as plain data."""
    return {f: getattr(record, _COLUMN.get(f, f)) for f in value_fields(record.type)}


def put_values(record: models.Record, values: dict[str, Any]) -> None:
    """Set a record's values from plain data; unknown names are our own mistake."""
    for name, value in values.items():
        assert name in value_fields(record.type), name
        setattr(record, _COLUMN.get(name, name), value)


def made(record_type: str, number: int, project: models.Project, **common: Any) -> models.Record:
    """A record that is not stored yet, under an id of its own in both of its tables."""
    record = models.RECORD_MODELS[record_type](id=number, type=record_type, project=project, **common)
    record.pk = number
    return record


def scope_of(record_type: str, owner_id: int | None) -> str:
    """The scope in which a record's key is unique. The project's own name may also be the name of a thing in it."""
    if record_type == "project":
        return record_type
    return f"{record_type}:{owner_id}" if record_type in SCOPED else ""


def row_of(record: models.Record, design: dict[str, Any] | None) -> dict[str, Any]:
    """A record as it travels: what every record has, and its values; an object with its design where that is its own."""
    row = {
        "id": record.pk,
        "type": record.type,
        "key": record.key,
        "owner": record.owner_id,
        "order": record.order,
        "version": record.version,
        "values": values_of(record) | {field: [] for field in UNTOLD.get(record.type, ())},
    }
    return row | {"design": design} if record.type == "object" else row


def snapshot(record: models.Record) -> dict[str, Any]:
    """A record's data as edits keep it; a copy."""
    return {
        "type": record.type,
        "key": record.key,
        "scope": record.scope,
        "owner": record.owner_id,
        "order": record.order,
        "values": copy.deepcopy(values_of(record)),
    }
