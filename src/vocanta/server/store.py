"""Records in the database against records of the core: in, out, and a whole project at once."""

from __future__ import annotations

import itertools
from typing import Any

from ..core.project import fileformat
from ..core.project.records import CHILDREN
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
    return None if base is None else models.RECORD_MODELS[base.type].objects.get(pk=record_id)


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


def save_project(core: CoreProject) -> models.Project:
    """A new project with the records of a core project."""
    with writing():
        project = models.Project.objects.create(edit_number=1)
        numbers = itertools.count(bulk.first_free_id())
        settings = _new(project, next(numbers), "project", core, None, 1)
        saved: dict[tuple[tuple[str, str], ...], models.Record] = {(): settings}
        for order, place in enumerate(walk(core), start=2):
            owner = saved[place.chain[:-1]]
            above = None if owner is settings else owner
            saved[place.chain] = _new(project, next(numbers), place.type, place.record, above, order)
        bulk.write(list(saved.values()))
        bulk.note_references(list(saved.values()))
    return project


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
