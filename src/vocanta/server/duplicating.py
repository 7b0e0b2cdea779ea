"""Duplicating objects: copies with a memory of their own, and what each of them carried over, to be looked at."""

from __future__ import annotations

from typing import Any

from ..core.cuetext.carrying import carried
from ..core.project.names import free_key, key_from
from . import listing, models
from .edits import apply_edit
from .refusals import not_found
from .shapes import ChangeAsked, DuplicateAsked, EditAsked, EditDone
from .sheet import Sheet


def duplicate(project_id: int, asked: DuplicateAsked) -> EditDone:
    """Copies of some objects, moved by (dx, dy), as one edit; the first is to be selected. Raises `Refused` 404."""
    project = listing.found_project(project_id)
    sheet = Sheet(project)
    sheet.read(asked.records)
    sheet.read_owned(asked.records)
    taken = set(models.Record.objects.filter(project=project, scope="").values_list("key", flat=True))
    names = set(models.Object.objects.filter(project=project).values_list("name", flat=True))
    changes: list[ChangeAsked] = []
    first, name = "", ""
    for record_id in asked.records:
        thing = sheet.get(record_id)
        if not isinstance(thing, models.Object):
            raise not_found("object", f"record/{record_id}")
        cues = [c for c in sheet.below(thing) if isinstance(c, models.Cue)]
        key = free_key(thing.key, taken)
        taken.add(key)
        values = _values(thing, _next_name(thing.name, names), cues, asked)
        changes.append(ChangeAsked("add", type="object", owner=thing.owner_id, key=key, values=values))
        place = len(changes) - 1
        changes += [
            ChangeAsked("add", type="cue", under=place, key=c.key, values={"text": c.text, "draft": c.draft})
            for c in cues
        ]
        first, name = first or key, name or thing.name
    more = f" and {len(asked.records) - 1} more" if len(asked.records) > 1 else ""
    return apply_edit(project.pk, EditAsked(asked.tab, changes, f"Duplicated {name}{more}", ask=asked.ask), first)


def _values(thing: models.Object, name: str, cues: list[models.Cue], asked: DuplicateAsked) -> dict[str, Any]:
    return {
        "name": name,
        "kind": thing.kind,
        "x_m": thing.x_m + asked.dx_m,
        "y_m": thing.y_m + asked.dy_m,
        "turn_deg": thing.turn_deg,
        "own": thing.own,
        "round": [[x + asked.dx_m, y + asked.dy_m] for x, y in thing.round],
        "there_at_start": thing.there_at_start,
        "cues_off": thing.cues_off,
        "carried": dict.fromkeys(carried(thing.own, {c.key: c.text for c in cues}), "open"),
    }


def _next_name(name: str, names: set[str]) -> str:
    """A name with the next free number at its end, which is taken from then on."""
    stem, _, last = name.rpartition(" ")
    stem = stem if last.isdigit() and stem else name
    number = 2
    while f"{stem} {number}" in names or key_from(f"{stem} {number}") in names:
        number += 1
    names.add(f"{stem} {number}")
    return f"{stem} {number}"
