"""Changed records held against the project's names, reading only the records they name, all of them at once."""

from __future__ import annotations

from typing import Any

from ..core.cuetext.index import NameIndex, index_of, text_problems
from ..core.cuetext.references import Reference, reader_of, text_fields
from ..core.project.designs import resolved
from ..core.project.fileformat import adapter_of
from ..core.project.problems import Problem
from ..core.project.records import NOTING, SCOPED, Design, Kind, Object
from . import models, store
from .rows import values_of
from .sheet import Sheet


def meaning_problems(sheet: Sheet, changed: list[models.Record]) -> list[Problem]:
    """References to nothing in the fields that were changed, each with its place."""
    held = [_Held(sheet, record) for record in changed if record.type not in NOTING]
    held = [one for one in held if one.fields]
    if not held:
        return []
    names = _read_for(sheet, held)
    problems = [p for one in held for p in _field_problems(sheet, one)]
    with_texts = [one for one in held if one.texts()]
    if with_texts:
        index = _small_index(sheet, names)
        wrong = [one for one in with_texts if _text_problems(sheet, one, index)]
        if wrong:
            index = _whole_index(sheet, index)
            problems += [p for one in wrong for p in _text_problems(sheet, one, index)]
    return problems


class _Held:
    """A changed record with the fields that changed, and the names that it uses in them."""

    def __init__(self, sheet: Sheet, record: models.Record):
        self.record, self.values = record, values_of(record)
        was = sheet.before.get(record.pk)
        self.fields = {f for f, v in self.values.items() if was is None or was["values"].get(f) != v}
        self.references = [r for r in sheet.references(record) if r.field.partition(":")[0] in self.fields]

    def plain(self) -> list[Reference]:
        """The names that a field is, rather than those in its text. A value of a design may be a word of its own."""
        return [r for r in self.references if r.span is None and ":values." not in r.field]

    def texts(self) -> list[str]:
        """The text fields that changed and are not empty."""
        return [f for f in text_fields(self.record.type) if f in self.fields and self.values[f].strip()]

    def names(self) -> set[str]:
        """Every name that has to be known to judge it."""
        texts = self.references if self.texts() else self.plain()
        return {r.name for r in texts} | {r.owner for r in texts}


def _read_for(sheet: Sheet, held: list[_Held]) -> set[str]:
    """Read what is named, the kinds of the objects among it, and the stages of its quests; the names."""
    sheet.read_owners(one.record for one in held if one.texts() or one.record.type == "stage")
    names = set().union(*(one.names() for one in held))
    names |= {this_of(sheet, one.record) for one in held if one.texts()}
    names -= {"", "this"}
    sheet.read_named(names)
    sheet.read_named({r.kind for r in sheet.known() if isinstance(r, models.Object) and r.key in names})
    quests = {r.pk for r in sheet.known() if isinstance(r, models.Quest) and r.key in names}
    quests |= {one.record.owner_id for one in held if one.record.type == "stage" and one.record.owner_id}
    if quests:
        sheet.read_owned(sorted(quests))
    return names


def _field_problems(sheet: Sheet, one: _Held) -> list[Problem]:
    record = one.record
    known = {r.key for r in sheet.known() if r.type not in SCOPED}
    if record.type == "stage":
        known |= {r.key for r in sheet.known() if r.owner_id == record.owner_id}
    return [
        Problem(
            "name_unknown",
            f"Nothing is called “{r.name}”.",
            "Choose something that is there, or make it first.",
            f"{record.type}/{record.key}/{r.field}",
        )
        for r in one.plain()
        if r.name not in known
    ]


def this_of(sheet: Sheet, record: models.Record) -> str:
    """What `this` stands for in a record's texts: the object, kind or talker they belong to."""
    owner: models.Record | None = record
    while owner is not None and owner.type in ("cue", "line", "reply"):
        owner = sheet.owner_of(owner)
    if isinstance(owner, models.Conversation):
        return owner.talker
    return owner.key if owner is not None and owner.type in ("object", "kind") else ""


def _text_problems(sheet: Sheet, one: _Held, index: NameIndex) -> list[Problem]:
    record, this = one.record, this_of(sheet, one.record)
    found: list[Problem] = []
    for field in one.texts():
        reader = reader_of(record.type, field)
        assert reader is not None
        tree = reader(one.values[field])
        found += [
            p.at(f"{record.type}/{record.key}/{field}")
            for p in text_problems(tree, index, this)
            if p.code != "cue_hole"
        ]
    return found


def _small_index(sheet: Sheet, names: set[str]) -> NameIndex:
    """An index of some names alone, with their states and stages."""
    things: dict[str, tuple[str, Any]] = {}
    states: dict[str, tuple[str, ...]] = {}
    values: dict[str, Any] = {}
    stages: dict[str, tuple[str, ...]] = {}
    buttons: dict[str, tuple[str, ...]] = {}
    for base in sheet.known():
        if base.type in SCOPED or base.key not in names:
            continue
        record = _core(base)
        things[base.key] = (base.type, record)
        design = _design(sheet, record)
        if design is not None:
            states[base.key], values[base.key] = tuple(s.key for s in design.states), design.values
            buttons[base.key] = tuple(b.key for p in design.prompts for b in p.buttons)
        if base.type == "quest":
            below = [r for r in sheet.below(base) if r.type == "stage"]
            stages[base.key] = tuple(r.key for r in sorted(below, key=lambda r: (r.order, r.pk)))
    controls = models.SettingsRecord.objects.get(project=sheet.project).controls
    return NameIndex(things, states, values, stages, tuple(c["key"] for c in controls), buttons)


def _whole_index(sheet: Sheet, small: NameIndex) -> NameIndex:
    """Every name of the project as it will be: for saying which name may have been meant."""
    stored = index_of(store.core_project(sheet.project))
    gone = sheet.removed_keys()
    things = {k: v for k, v in stored.things.items() if k not in gone} | {**small.things}
    return NameIndex(
        things,
        {**stored.states, **small.states},
        {**stored.values, **small.values},
        {**stored.stages, **small.stages},
        small.controls,
        {**stored.buttons, **small.buttons},
    )


def _core(base: models.Record) -> Any:
    return adapter_of(base.type).validate_python({"key": base.key, **values_of(base)})


def _design(sheet: Sheet, record: Any) -> Design | None:
    if isinstance(record, Kind):
        return record.design
    if not isinstance(record, Object):
        return None
    kind = sheet.named(record.kind) if record.kind else None
    return resolved(_core(kind), record) if kind is not None else Design()
