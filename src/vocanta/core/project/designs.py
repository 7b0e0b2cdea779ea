"""What an object is: its kind's design with the object's own values laid over it.

An own value is addressed by a path into the design as plain data, parts joined by `.`; members of a
list are addressed by their key: `reach.radius_m`, `states.open.swing_deg`, `prompts.use.wording`.
"""

from __future__ import annotations

import copy
from collections.abc import Mapping
from typing import Any

from pydantic import JsonValue, TypeAdapter, ValidationError

from .problems import Problem, ProjectError
from .records import Cue, Design, Kind, Object, Project
from .tree import plain

DESIGN = TypeAdapter(Design)


def resolved(kind: Kind, thing: Object) -> Design:
    """The object's design. Raises `ProjectError` (`own_value_unreadable`) where an own value does not fit."""
    if not thing.own:
        return kind.design
    try:
        return laid(plain(kind.design), thing.own)
    except ValidationError as error:
        raise ProjectError(_own_problems(thing, error)) from error


def laid(design: dict[str, Any], own: Mapping[str, JsonValue]) -> Design:
    """A design as plain data with own values laid over it. Raises pydantic's `ValidationError` where one does not fit."""
    return DESIGN.validate_python(with_values(design, own))


def own_value_problems(project: Project) -> list[Problem]:
    """Every own value of an object that does not fit its kind, each with its place."""
    kinds = {k.key: k for k in project.kinds}
    found: list[Problem] = []
    for thing in (o for level in project.levels for o in level.objects if o.own and o.kind in kinds):
        try:
            resolved(kinds[thing.kind], thing)
        except ProjectError as error:
            found += error.problems
    return found


def cues_in_order(kind: Kind | None, thing: Object) -> list[tuple[Cue, str]]:
    """An object's cues with their places in the order in which they are read: its kind's first, those replaced in their
    place, then its own. Those switched off are among them."""
    own = {c.key: c for c in thing.cues}
    found: list[tuple[Cue, str]] = []
    for cue in kind.cues if kind is not None else ():
        if cue.key in own:
            found.append((own.pop(cue.key), f"object/{thing.key}/cue/{cue.key}"))
        else:
            found.append((cue, f"kind/{thing.kind}/cue/{cue.key}"))
    return found + [(c, f"object/{thing.key}/cue/{c.key}") for c in own.values()]


def cues_of(kind: Kind | None, thing: Object) -> list[tuple[Cue, str]]:
    """An object's cues with their places, in order, without those it has switched off."""
    off = {f"kind/{thing.kind}/cue/{key}" for key in thing.cues_off}
    return [(cue, place) for cue, place in cues_in_order(kind, thing) if place not in off]


def as_word(value: str | float | bool) -> str:
    """A value that a kind declares as it would stand in a text: a name, a number, *yes* or *no*.

    >>> as_word(3.0), as_word(True), as_word("oil")
    ('3', 'yes', 'oil')
    """
    if isinstance(value, bool):
        return "yes" if value else "no"
    return value if isinstance(value, str) else f"{value:.15g}"


def with_values(design: dict[str, Any], values: Mapping[str, JsonValue]) -> dict[str, Any]:
    """A design as plain data with values set by path. A path to nothing is left out: its kind has moved on."""
    data = copy.deepcopy(design)
    for path, value in sorted(values.items()):
        holder = _holder(data, path)
        if holder is not None:
            holder[path.rsplit(".", 1)[-1]] = copy.deepcopy(value)
    return data


def leads_somewhere(design: dict[str, Any], path: str) -> bool:
    """Whether a path leads to a value of a design as plain data, or to a slot that may be filled."""
    return _holder(design, path) is not None


def _holder(data: Any, path: str) -> dict[str, Any] | None:
    *way, last = path.split(".")
    for part in way:
        if isinstance(data, list):
            data = next((m for m in data if m.get("key") == part), None)
        else:
            data = data.get(part) if isinstance(data, dict) else None
    if not isinstance(data, dict):
        return None
    return data if last in data or way == ["values"] else None


def _own_problems(thing: Object, error: ValidationError) -> list[Problem]:
    return [
        Problem(
            "own_value_unreadable",
            f"{thing.name}: its own value cannot be used: {e['msg']}.",
            "Change it, or go back to the kind's value.",
            f"object/{thing.key}/own/" + ".".join(str(part) for part in e["loc"]),
        )
        for e in error.errors()
    ]
