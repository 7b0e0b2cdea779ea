"""Records in the database against records of the core: in, out, and a whole project at once."""

from __future__ import annotations

import dataclasses
import itertools
from functools import cache
from typing import Any

from ..core.project import fileformat
from ..core.project.noting import Note, noted, unnoted
from ..core.project.records import CHILDREN, RECORD_TYPES
from ..core.project.records import Project as CoreProject
from ..core.project.tree import own_data, walk
from . import bulk, models
from .rows import made, put_values, scope_of, values_of
from .writing import writing


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
    return None if base is None else models.RECORD_MODELS[base.type].objects.filter(pk=record_id).first()


def core_project(project: models.Project, note: Note = unnoted) -> CoreProject:
    """The project as the core knows it."""
    return fileformat.PROJECT.validate_python(plain_project(project, note))


def plain_project(project: models.Project, note: Note = unnoted) -> dict[str, Any]:
    """The project as the plain data of its file, fields in the order of the records."""
    records = all_records(project)
    children: dict[int | None, dict[str, list[dict[str, Any]]]] = {}
    plain = {r.pk: {"key": r.key, **values_of(r)} for r in noted(records, "Reading the records", note)}
    for record in records:
        if record.type != "project":
            children.setdefault(record.owner_id, {}).setdefault(record.type, []).append(plain[record.pk])
    for record in records:
        own = children.get(None if record.type == "project" else record.pk, {})
        values = plain[record.pk]
        for field in _fields(record.type):
            kind = CHILDREN.get(record.type, {}).get(field)
            values[field] = own.get(kind, []) if kind is not None else values.pop(field)
    return next(plain[r.pk] for r in records if r.type == "project")


@cache
def _fields(record_type: str) -> tuple[str, ...]:
    return tuple(f.name for f in dataclasses.fields(RECORD_TYPES[record_type]))


def save_project(core: CoreProject, note: Note = unnoted) -> models.Project:
    """A new project with the records of a core project."""
    with writing():
        project = models.Project.objects.create(edit_number=1)
        numbers = itertools.count(bulk.first_free_id())
        settings = _new(project, next(numbers), "project", core, None, 1)
        saved: dict[tuple[tuple[str, str], ...], models.Record] = {(): settings}
        for order, place in enumerate(noted(list(walk(core)), "Making the records", note), start=2):
            owner = saved[place.chain[:-1]]
            above = None if owner is settings else owner
            saved[place.chain] = _new(project, next(numbers), place.type, place.record, above, order)
        bulk.write(list(saved.values()), note)
        bulk.note_references(list(saved.values()), new=True, note=note)
    return project


def copy_project(project: models.Project, name: str, note: Note = unnoted) -> models.Project:
    """A new project with the same records under another name; its history begins anew."""
    with writing():
        copied = models.Project.objects.create(edit_number=1, copied_from=project)
        records = all_records(project)
        numbers = itertools.count(bulk.first_free_id())
        ids = {r.pk: next(numbers) for r in records}
        for record in noted(records, "Copying the records", note):
            owner = None if record.owner_id is None else ids[record.owner_id]
            record.id, record.project, record.owner_id = ids[record.pk], copied, owner
            record.pk, record.version = record.id, 1
            record.scope = scope_of(record.type, owner)
            if isinstance(record, models.SettingsRecord):
                record.name = name
        bulk.write(records, note)
        bulk.copy_references(ids)
    return copied


def _new(
    project: models.Project, number: int, record_type: str, core: Any, owner: models.Record | None, order: int
) -> models.Record:
    owner_id = owner.pk if owner else None
    scope = scope_of(record_type, owner_id)
    record = made(record_type, number, project, key=core.key, owner_id=owner_id, order=float(order), scope=scope)
    values = own_data(record_type, core)
    values.pop("key")
    put_values(record, values)
    return record
