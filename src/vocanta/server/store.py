"""Records in the database against records of the core: in, out, and a whole project at once."""

from __future__ import annotations

import copy
import itertools
from collections.abc import Collection
from functools import cache
from typing import Any

from django.db import transaction
from django.db.models import F

from ..core.cuetext.references import references_of
from ..core.project import fileformat
from ..core.project.records import CHILDREN, SCOPED, own_fields
from ..core.project.records import Project as CoreProject
from ..core.project.tree import own_data, walk
from . import models

_COLUMN = {"type": "value_type"}
"""Fields of core records that have another name in the table, because the table's own field has theirs."""


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


def scope_of(record_type: str, owner_id: int | None) -> str:
    """The scope in which a record's key is unique. The project's own name may also be the name of a thing in it."""
    if record_type == "project":
        return record_type
    return f"{record_type}:{owner_id}" if record_type in SCOPED else ""


def row_of(record: models.Record) -> dict[str, Any]:
    """A record as it travels: what every record has, and its values."""
    return {
        "id": record.pk,
        "type": record.type,
        "key": record.key,
        "owner": record.owner_id,
        "order": record.order,
        "version": record.version,
        "values": values_of(record),
    }


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


def all_records(project: models.Project) -> list[models.Record]:
    """Every record of a project in its own model, by type, in order. One query a type."""
    return [
        r
        for model in models.RECORD_MODELS.values()
        for r in model.objects.filter(project=project).order_by("order", "pk")
    ]


def get_record(project: models.Project, record_id: int) -> models.Record | None:
    """One record in its own model, None where there is none."""
    base = models.Record.objects.filter(project=project, pk=record_id).first()
    return None if base is None else models.RECORD_MODELS[base.type].objects.get(pk=record_id)


def get_records(project: models.Project, ids: Collection[int]) -> dict[int, models.Record]:
    """Some records in their own models, by id; one question a type."""
    types = models.Record.objects.filter(project=project, pk__in=ids).values_list("type", flat=True).distinct()
    return {r.pk: r for t in types for r in models.RECORD_MODELS[t].objects.filter(project=project, pk__in=ids)}


def core_project(project: models.Project) -> CoreProject:
    """The project as the core knows it."""
    return fileformat.PROJECT.validate_python(_nested(all_records(project)))


def _nested(records: list[models.Record]) -> dict[str, Any]:
    """Records as the nested plain data of the project file."""
    types = {r.pk: r.type for r in records}
    plain = {r.pk: {"key": r.key, **values_of(r)} for r in records}
    root = next(plain[r.pk] for r in records if r.type == "project")
    for record in records:
        if record.type != "project":
            holder = plain[record.owner_id] if record.owner_id is not None else root
            owner_type = types[record.owner_id] if record.owner_id is not None else "project"
            field = next(f for f, child in CHILDREN[owner_type].items() if child == record.type)
            holder.setdefault(field, []).append(plain[record.pk])
    return root


@transaction.atomic
def save_project(core: CoreProject) -> models.Project:
    """A new project with the records of a core project."""
    project = models.Project.objects.create(edit_number=1)
    order = itertools.count(1)
    settings = _new(project, "project", core, None, next(order))
    saved: dict[tuple[tuple[str, str], ...], models.Record] = {(): settings}
    for place in walk(core):
        owner = saved[place.chain[:-1]]
        saved[place.chain] = _new(project, place.type, place.record, None if owner is settings else owner, next(order))
    note_references(*saved.values())
    return project


def _new(
    project: models.Project, record_type: str, core: Any, owner: models.Record | None, order: int
) -> models.Record:
    owner_id = owner.pk if owner else None
    record = models.RECORD_MODELS[record_type](
        project=project,
        type=record_type,
        key=core.key,
        owner_id=owner_id,
        order=float(order),
        scope=scope_of(record_type, owner_id),
    )
    values = own_data(record_type, core)
    values.pop("key")
    put_values(record, values)
    record.save()
    return record


def save_values(records: list[models.Record]) -> None:
    """Store new values of records whose keys and places stay as they are, and count their versions on."""
    models.Record.objects.filter(pk__in=[r.pk for r in records]).update(version=F("version") + 1)
    by_model: dict[type[models.Record], list[models.Record]] = {}
    for record in records:
        by_model.setdefault(type(record), []).append(record)
    for model, some in by_model.items():
        for record in some:
            record.version += 1
        own = [f.name for f in model._meta.local_concrete_fields if not f.primary_key]
        model.objects.bulk_update(some, own)


def note_references(*records: models.Record) -> None:
    """Store anew which names records use."""
    models.Reference.objects.filter(record_id__in=[r.pk for r in records]).delete()
    models.Reference.objects.bulk_create(
        models.Reference(
            record_id=record.pk,
            field=r.field,
            name=r.name,
            name_owner=r.owner,
            start=r.span[0] if r.span else None,
            end=r.span[1] if r.span else None,
        )
        for record in records
        for r in references_of(record.type, values_of(record))
    )
