"""Renaming and removing a state of a kind or an object, with every text and value that names it, inside one edit."""

from __future__ import annotations

import copy
from collections.abc import Collection, Iterator
from typing import Any

from ..core.cuetext.references import references_of, renamed_in_notes, replaced, text_fields
from ..core.project.designs import with_values
from ..core.project.names import key_problem
from ..core.project.problems import Problem
from ..core.project.records import NOTING
from . import models
from .refusals import Refused
from .rows import values_of
from .sheet import Sheet

HOLE = "?"


def read_for(sheet: Sheet, stated: Collection[tuple[models.Record, str]]) -> None:
    """Read what the change of some states of some records will ask for: objects and kinds, and who names the states."""
    kinds = {r.key for r, _ in stated if isinstance(r, models.Kind)}
    project, names = sheet.project, {name for _, name in stated}
    found = list(models.Object.objects.filter(project=project, kind__in=kinds).values_list("pk", flat=True))
    found += models.Objective.objects.filter(project=project, state__in=names).values_list("pk", flat=True)
    sheet.read(found)
    sheet.read_named({r.kind for r, _ in stated if isinstance(r, models.Object)})
    sheet.read_users(names)
    sheet.read_named({r.talker for r in sheet.known() if isinstance(r, models.Conversation)})


def objects_of(sheet: Sheet, record: models.Record) -> list[models.Object]:
    """The objects whose states a record declares: itself, or every object of the kind with no states of its own."""
    if isinstance(record, models.Object):
        return [record]
    found = [r for r in sheet.known() if isinstance(r, models.Object) and r.kind == record.key]
    return [thing for thing in found if "states" not in thing.own]


def states_of(sheet: Sheet, record: models.Record) -> list[dict[str, Any]]:
    """The states that a record declares, as plain data."""
    if isinstance(record, models.Kind):
        return list(record.design.get("states", []))
    assert isinstance(record, models.Object)
    kind = sheet.named(record.kind) if record.kind else None
    design = kind.design if isinstance(kind, models.Kind) else {}
    return list(with_values(design, record.own).get("states", []))


def checked(states: list[dict[str, Any]], old: str, new: str | None, path: str) -> None:
    """Raises `Refused` 422 where the state is not there, its new name cannot be one, or it is the last."""
    keys = [s["key"] for s in states]
    problem = None
    if old not in keys:
        problem = Problem("state_unknown", f"There is no state “{old}”.", f"It has: {', '.join(keys)}.", path)
    elif new is None and len(keys) == 1:
        problem = Problem("state_last", "Something is always in some state.", "Add another state first.", path)
    elif new is not None and new != old:
        problem = key_problem(new, state=True, path=path)
        if problem is None and new in keys:
            problem = Problem("name_taken", f"“{new}” is a state already.", "Choose another name.", path)
    if problem is not None:
        raise Refused(422, "Not possible with this state", [problem])


def restated(values: dict[str, Any], record_type: str, old: str, new: str | None, name: str) -> dict[str, Any]:
    """A kind's design or an object's own values with one state renamed, or without it."""
    if record_type == "kind":
        return {"design": _in_design(values["design"], old, new, name)}
    own = _in_own(values["own"], old, new)
    if "states" in own:
        own["states"] = _states(own["states"], old, new, name)
    return {"own": own}


def _states(states: list[dict[str, Any]], old: str, new: str | None, name: str) -> list[dict[str, Any]]:
    if new is None:
        return [s for s in states if s["key"] != old]
    return [{**s, "key": new, "name": name or s["name"]} if s["key"] == old else s for s in states]


def _in_design(design: dict[str, Any], old: str, new: str | None, name: str) -> dict[str, Any]:
    put = copy.deepcopy(design)
    put["states"] = _states(put["states"], old, new, name)
    put["prompts"] = _prompts(put.get("prompts", []), old, new)
    return put


def _prompts(prompts: list[dict[str, Any]], old: str, new: str | None) -> list[dict[str, Any]]:
    """Prompts with a state renamed or removed. One of the removed state alone goes with it: without states it would be for any."""
    kept = [p for p in prompts if new is not None or list(p.get("states", [])) != [old]]
    return [{**p, "states": _listed(p.get("states", []), old, new)} for p in kept]


def _in_own(own: dict[str, Any], old: str, new: str | None) -> dict[str, Any]:
    """Own values whose path leads through the state, and lists of states of own prompts; what is empty then is the kind's."""
    put: dict[str, Any] = {}
    for path, value in own.items():
        if path.startswith(f"states.{old}."):
            if new is not None:
                put[f"states.{new}." + path.split(".", 2)[2]] = value
        elif path.startswith("prompts.") and path.endswith(".states"):
            if new is not None or list(value) != [old]:
                put[path] = _listed(value, old, new)
        elif path == "prompts":
            put[path] = _prompts(value, old, new)
        else:
            put[path] = value
    return put


def _listed(states: list[str], old: str, new: str | None) -> list[str]:
    if new is None:
        return [s for s in states if s != old]
    return [new if s == old else s for s in states]


def texts_naming(
    sheet: Sheet, record: models.Record, old: str, new: str | None
) -> Iterator[tuple[models.Record, dict[str, Any]]]:
    """Every record with a text or an objective that names the state, with its values as they must become."""
    things = objects_of(sheet, record)
    owners = {t.key for t in things} | {record.key}
    ids = {t.pk for t in things} | {record.pk}
    for user in sheet.users([old], lambda _, found: found.owner in {*owners, "this"}):
        here = owners | ({"this"} if _belongs(sheet, user, ids) else set())
        values = _reworded(user, old, new or HOLE, here)
        if values:
            yield user, values
    for objective in sheet.known():
        if isinstance(objective, models.Objective) and objective.state == old and owners & set(objective.targets):
            yield objective, {"state": new or ""}


def _belongs(sheet: Sheet, user: models.Record, ids: set[int]) -> bool:
    """Whether `this` in a record's texts is one of some objects or kinds."""
    at: models.Record | None = user
    while at is not None:
        if at.pk in ids:
            return True
        if isinstance(at, models.Conversation):
            talker = sheet.named(at.talker) if at.talker else None
            return talker is not None and talker.pk in ids
        at = sheet.owner_of(at)
    return False


def _reworded(user: models.Record, old: str, new: str, owners: set[str]) -> dict[str, Any]:
    values = values_of(user)
    put: dict[str, Any] = {}
    if user.type in NOTING and new != HOLE:
        for field in {r.field for r in references_of(user.type, values) if r.name == old and r.owner in owners}:
            put[field] = renamed_in_notes(user.type, field, values[field], {old: new}, owners)
    for field in text_fields(user.type):
        text = values.get(field) or ""
        spans = [
            r.span for r in references_of(user.type, {field: text}) if r.span and r.name == old and r.owner in owners
        ]
        if spans:
            put[field] = replaced(text, [(span, new) for span in spans])
    return put
