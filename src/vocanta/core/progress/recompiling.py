"""A program anew after an edit: where things were only moved, nothing is compiled that does not depend on where they are."""

from __future__ import annotations

from dataclasses import fields, replace
from typing import TypeVar

from ..project.designs import resolved
from ..project.records import Level, Object, Project
from ..space.cells import cells_of
from .compiling import compiled
from .cutting import cuts_of
from .layout import Layout
from .placed import Placed
from .program import Program

T = TypeVar("T", Program, Layout)


def recompiled(before: Program, project: Project) -> Program:
    """The program of a project, the same as compiled anew; quick where only things were moved since `before`.

    Raises `ProjectError` where an own value does not fit its kind.
    """
    moved = _moved(before.layout.project, project)
    if moved is None or any(_counts(before, thing.key) for thing, _ in moved):
        return compiled(project)
    placed: dict[str, Placed] = dict(before.layout.placed)
    kinds = {k.key: k for k in project.kinds}
    for thing, level in moved:
        placed[thing.key] = Placed(thing, resolved(kinds[thing.kind], thing), level)
    cells = cells_of(project, cuts_of(project, placed, before.layout.mentions))
    if cells != before.layout.cells:
        return compiled(project)
    layout = _with_what_is_known(before.layout, replace(before.layout, project=project, placed=placed))
    return _with_what_is_known(before, replace(before, layout=layout))


def _counts(before: Program, key: str) -> bool:
    """Whether anything compiled depends on where an object lies, besides the cells."""
    mentions = before.layout.mentions
    near = before.table.find("near", key) is not None and not before.layout.near_by_cell(key)
    return (
        near
        or key in mentions.feet
        or key in mentions.moves
        or mentions.movable(key)
        or not before.layout.placed[key].level
    )


def _moved(before: Project, now: Project) -> list[tuple[Object, str]] | None:
    """The objects that lie or go elsewhere, with their levels, where nothing else differs; None where more does."""
    if len(before.levels) != len(now.levels) or replace(before, levels=()) != replace(now, levels=()):
        return None
    found: list[tuple[Object, str]] = []
    for old, new in zip(before.levels, now.levels, strict=True):
        if not _same_but_objects(old, new):
            return None
        for one, other in zip(old.objects, new.objects, strict=True):
            if one is other or one == other:
                continue
            if replace(other, x_m=one.x_m, y_m=one.y_m, turn_deg=one.turn_deg, carried=one.carried) != one:
                return None
            found.append((other, new.key))
    return found


def _same_but_objects(old: Level, new: Level) -> bool:
    return len(old.objects) == len(new.objects) and replace(old, objects=()) == replace(new, objects=())


def _with_what_is_known(before: T, now: T) -> T:
    """A record with what was worked out from the one before it."""
    names = {f.name for f in fields(before)}
    now.__dict__.update({name: value for name, value in before.__dict__.items() if name not in names})
    return now
