"""Changed records held against the project's names, reading only the records they name."""

from __future__ import annotations

from typing import Any

from ..core.cuetext.index import NameIndex, index_of, text_problems
from ..core.cuetext.references import Reference, reader_of, references_of, text_fields
from ..core.project.designs import resolved
from ..core.project.problems import Problem
from ..core.project.records import Design, Kind, Object
from . import models, store
from .validating import adapter


def meaning_problems(project: models.Project, changed: list[models.Record], before: dict[int, Any]) -> list[Problem]:
    """References to nothing in the fields that were changed, each with its place."""
    problems: list[Problem] = []
    for record in changed:
        was = before.get(record.pk)
        values = store.values_of(record)
        fields = {f for f, v in values.items() if was is None or was["values"].get(f) != v}
        references = [r for r in references_of(record.type, values) if r.field.partition(":")[0] in fields]
        plain = [r for r in references if r.span is None and ":values." not in r.field]
        problems += _field_problems(project, record, plain)
        if any(f in fields and values[f].strip() for f in text_fields(record.type)):
            problems += _text_problems(project, record, values, fields, references)
    return problems


def _field_problems(project: models.Project, record: models.Record, references: list[Reference]) -> list[Problem]:
    names = {r.name for r in references}
    known = set(models.Record.objects.filter(project=project, key__in=names).values_list("key", flat=True))
    if record.type == "stage" and record.owner_id:
        known |= set(models.Record.objects.filter(owner_id=record.owner_id).values_list("key", flat=True))
    return [
        Problem(
            "name_unknown",
            f"Nothing is called “{r.name}”.",
            "Choose something that is there, or make it first.",
            f"{record.type}/{record.key}/{r.field}",
        )
        for r in references
        if r.name not in known
    ]


def this_of(record: models.Record) -> str:
    """What `this` stands for in a record's texts: the object, kind or talker they belong to."""
    owner = record
    while owner.owner_id is not None and owner.type in ("cue", "line", "reply"):
        owner = models.Record.objects.get(pk=owner.owner_id)
    if owner.type == "conversation":
        return models.Conversation.objects.get(pk=owner.pk).talker
    return owner.key if owner.type in ("object", "kind") else ""


def _text_problems(
    project: models.Project,
    record: models.Record,
    values: dict[str, Any],
    fields: set[str],
    references: list[Reference],
) -> list[Problem]:
    this = this_of(record)
    index = _small_index(project, {r.name for r in references} | {r.owner for r in references} | {this})
    found: list[Problem] = []
    for field in text_fields(record.type):
        reader = reader_of(record.type, field)
        if field in fields and reader is not None and values[field].strip():
            tree = reader(values[field])
            wrong = text_problems(tree, index, this)
            if wrong:
                wrong = text_problems(tree, index_of(store.core_project(project)), this)
            found += [p.at(f"{record.type}/{record.key}/{field}") for p in wrong if p.code != "cue_hole"]
    return found


def _small_index(project: models.Project, names: set[str]) -> NameIndex:
    """An index of some names alone, with their states and stages."""
    things: dict[str, tuple[str, Any]] = {}
    states: dict[str, tuple[str, ...]] = {}
    values: dict[str, Any] = {}
    stages: dict[str, tuple[str, ...]] = {}
    buttons: dict[str, tuple[str, ...]] = {}
    for base in models.Record.objects.filter(project=project, scope="", key__in=names):
        record = _core(project, base)
        things[base.key] = (base.type, record)
        design = _design(project, record)
        if design is not None:
            states[base.key], values[base.key] = tuple(s.key for s in design.states), design.values
            buttons[base.key] = tuple(b.key for p in design.prompts for b in p.buttons)
        if base.type == "quest":
            stages[base.key] = tuple(
                models.Stage.objects.filter(owner_id=base.pk).order_by("order").values_list("key", flat=True)
            )
    controls = models.SettingsRecord.objects.get(project=project).controls
    return NameIndex(things, states, values, stages, tuple(c["key"] for c in controls), buttons)


def _core(project: models.Project, base: models.Record) -> Any:
    record = models.RECORD_MODELS[base.type].objects.get(pk=base.pk)
    return adapter(base.type).validate_python({"key": record.key, **store.values_of(record)})


def _design(project: models.Project, record: Any) -> Design | None:
    if isinstance(record, Kind):
        return record.design
    if not isinstance(record, Object):
        return None
    kind = models.Kind.objects.filter(project=project, key=record.kind).first()
    return resolved(_core(project, kind), record) if kind else Design()
