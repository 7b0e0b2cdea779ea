"""Projects as a list: new, copied, deleted and brought back, filed in and out."""

from __future__ import annotations

import math
from typing import Any

from django.db.models import Count, Q
from django.utils import timezone

from ..core.cuetext.intake import taken
from ..core.project import fileformat
from ..core.project.assets import Package, unfolded
from ..core.project.names import key_from
from ..core.project.noting import Note, unnoted
from ..core.project.problems import Problem
from ..core.project.records import Area, Level
from ..core.project.records import Project as CoreProject
from . import models, store
from .housekeeping import DELETED
from .refusals import Refused, not_found
from .shapes import DeletedLine, ProjectLine, SmallArea, SmallPlan
from .telling import rows_of
from .writing import writing

ZIP_MARK = b"PK"
MOST_THINGS = 200
"""So many things are drawn in the small picture of a project."""
FIRST_ROOM = ((0.0, 0.0), (10.0, 0.0), (10.0, 7.5), (0.0, 7.5))


def found_project(project_id: int) -> models.Project:
    """A project that is not deleted. Raises `Refused` 404."""
    project = models.Project.objects.filter(pk=project_id, deleted_at=None).first()
    if project is None:
        raise not_found("project")
    return project


def all_projects() -> list[ProjectLine]:
    """Every project, the one changed last first. Five queries, however many there are."""
    counted = {t: Count("records", filter=Q(records__type=t)) for t in ("level", "object", "quest")}
    found = models.Project.objects.filter(deleted_at=None).annotate(**counted).order_by("-changed_at")
    columns = ("pk", "changed_at", "edit_number", "copied_from", *counted)
    lines = list(found.values_list(*columns))
    names = dict(models.SettingsRecord.objects.values_list("project_id", "name"))
    plans = _small_plans({line[0] for line in lines})
    return [
        ProjectLine(
            pk, names[pk], changed_at.isoformat(), number, levels, objects, quests, names.get(of, ""), plans[pk]
        )
        for pk, changed_at, number, of, levels, objects, quests in lines
    ]


def deleted_projects() -> list[DeletedLine]:
    """Every deleted project that can be brought back, the one deleted last first."""
    found = models.Project.objects.exclude(deleted_at=None).order_by("-deleted_at").values_list("pk", "deleted_at")
    names = dict(models.SettingsRecord.objects.values_list("project_id", "name"))
    return [DeletedLine(pk, names[pk], (deleted_at + DELETED).isoformat()) for pk, deleted_at in found if deleted_at]


def _small_plans(projects: set[int]) -> dict[int, SmallPlan]:
    """The small picture of each project: its first level, else the first there is."""
    firsts = set(models.SettingsRecord.objects.filter(project__in=projects).values_list("project_id", "first_level"))
    levels: dict[int, int] = {}
    found = models.Record.objects.filter(project__in=projects, type="level").order_by("order", "pk")
    for pk, project, key in found.values_list("pk", "project_id", "key"):
        if (project, key) in firsts:
            levels[project] = pk
        else:
            levels.setdefault(project, pk)
    shown = {level: project for project, level in levels.items()}
    plans = {project: SmallPlan([], []) for project in projects}
    for level, outline, tint in models.Area.objects.filter(owner__in=shown).values_list("owner_id", "outline", "tint"):
        plans[shown[level]].areas.append(SmallArea(outline, tint))
    for level, x, y in models.Object.objects.filter(owner__in=shown).values_list("owner_id", "x_m", "y_m"):
        things = plans[shown[level]].things
        if len(things) < MOST_THINGS:
            things.append([round(x, 2), round(y, 2)])
    return plans


def new_project(name: str) -> models.Project:
    """A project with one level of one room to begin in."""
    room = Area("first_room", "First room", FIRST_ROOM)
    level = Level("first_level", "First level", 5.0, 1.5, 90.0, (room,))
    return store.save_project(CoreProject(_own_key(name), name, "first_level", levels=(level,)))


def copied(project_id: int, note: Note = unnoted) -> models.Project:
    """A copy under a name of its own; its history begins anew."""
    project = found_project(project_id)
    with writing():
        name = models.SettingsRecord.objects.get(project=project).name
        made = store.copy_project(project, f"{name[:110]} (copy)", note)
        assets = project.assets.values_list("name", "data")
        models.Asset.objects.bulk_create(models.Asset(project=made, name=n, data=d) for n, d in assets)
    return made


def _own_key(name: str) -> str:
    key = key_from(name)
    return f"{key}_project" if key in ("first_room", "first_level") else key


def set_deleted(project_id: int, deleted: bool) -> None:
    """Delete a project or bring it back. Its records stay until then. Raises `Refused` 404."""
    with writing():
        project = models.Project.objects.filter(pk=project_id).first()
        if project is None:
            raise not_found("project")
        project.deleted_at = timezone.now() if deleted else None
        project.save()


def filed_in(data: bytes, note: Note = unnoted) -> tuple[models.Project, list[Problem]]:
    """A new project from a file or a zip, and the cues of it that are kept as drafts since they cannot be read.

    Raises `ProjectError` with every problem of the file; nothing is written then.
    """
    package = _package_in(data)
    readable, drafts = taken(package.project, note)
    return taken_in(Package(readable, package.assets), note), drafts


def _package_in(data: bytes) -> Package:
    if data.startswith(ZIP_MARK):
        return unfolded(data)
    return Package(fileformat.loads(data.decode("utf-8", errors="replace")))


def taken_in(package: Package, note: Note = unnoted) -> models.Project:
    """A new project with its assets."""
    with writing():
        project = store.save_project(package.project, note)
        assets = package.assets.items()
        models.Asset.objects.bulk_create(models.Asset(project=project, name=n, data=d) for n, d in assets)
    return project


def packed(project: models.Project, note: Note = unnoted) -> Package:
    """A project with its assets."""
    return Package(store.core_project(project, note), {a.name: bytes(a.data) for a in project.assets.order_by("name")})


def filed_out(project: models.Project, note: Note = unnoted) -> str:
    """A project as file text."""
    return fileformat.dumped(store.plain_project(project, note))


def rows(project: models.Project) -> list[dict[str, Any]]:
    """Every record of a project as it travels."""
    return rows_of(project, store.all_records(project))


def if_match(header: str | None) -> int | None:
    """The version a write is based on, from its If-Match header. Raises `Refused` 428 without one, 400 for nonsense."""
    if header is None:
        raise Refused(
            428,
            "Version missing",
            [
                Problem(
                    "version_missing",
                    "The write does not say which version it is based on.",
                    "Send the record's ETag as If-Match.",
                    "If-Match",
                )
            ],
        )
    version = whole_number(header.strip().removeprefix("W/").strip('"'))
    if version is None:
        raise Refused(
            400,
            "Version unreadable",
            [
                Problem(
                    "version_unreadable",
                    f"{header[:40]!r} is no version.",
                    "Send the record's ETag as it was given.",
                    "If-Match",
                )
            ],
        )
    return version


def whole_number(text: str, most: int = 2**31) -> int | None:
    """A whole number from 0 to `most` written in plain digits, None for anything else: the one reader of what is asked."""
    plain = text.isascii() and text.isdigit() and len(text) <= len(str(most))
    return int(text) if plain and int(text) <= most else None


def number_in(text: str | None, low: float, high: float) -> float | None:
    """A number from a query, held within limits; None where there is none. Raises `Refused` 400 for nonsense."""
    if text is None:
        return None
    try:
        value = float(text)
    except ValueError as error:
        problem = Problem("value_unreadable", f"“{text[:40]}” is no number.", "Give seconds as a number.", "seconds")
        raise Refused(400, "No number", [problem]) from error
    return min(max(value, low), high) if math.isfinite(value) else None
