"""Kept walks and runs as they are read: what each comes to, two beside each other."""

from __future__ import annotations

from typing import Any

from django.db.models import Max
from pydantic import TypeAdapter

from ..core.engine.situation import TICKS_A_SECOND, at_clock
from ..core.project.keeping import Came
from ..core.walks.comparing import parting
from . import models
from .background import Told
from .playing import ENGINE
from .refusals import not_found
from .walk_shapes import CameShape, ComparedShape, PartingShape, RunShape, WalkNow, WalkReading, WalksReading, WayPoint
from .walking import REWALKING, Walks

_CAME = TypeAdapter(list[Came])


def walks_reading(project: models.Project, walks: Walks) -> WalksReading:
    """What is known of the kept walks of a project, in their order."""
    found = models.Walk.objects.filter(project=project).order_by("order", "pk").values_list("pk", "key")
    return WalksReading(
        walks.edit,
        walks.stamp,
        walks.at_work,
        walks.going,
        walks.done,
        walks.of,
        walks.problems,
        [_walk(walks, pk, key) for pk, key in found],
    )


def _walk(walks: Walks, pk: int, key: str) -> WalkReading:
    rests, told = walks.outcomes.get(key, ("", {}))
    stale = rests != walks.rests_on.get(key)
    if not told:
        return WalkReading(pk, key, None, stale, "", "", 0.0, "", [], [], None, [], [])
    return WalkReading(
        pk,
        key,
        told["same"],
        stale,
        told["says"],
        told["how"],
        told["seconds"],
        told["stuck"],
        told["missing"],
        told["left_out"],
        _parting(told["parting"]),
        [WayPoint(*point) for point in told["way_was"]],
        [WayPoint(*point) for point in told["way_now"]],
    )


def _parting(told: Told | None) -> PartingShape | None:
    if told is None:
        return None
    was, now = (None if told[side] is None else CameShape(**told[side]) for side in ("was", "now"))
    return PartingShape(told["says"], was, now)


def walk_now(project: models.Project, record: int) -> WalkNow:
    """A kept walk as it goes now. Raises `Refused` 404 for one that comes to the same, or was not walked yet."""
    walk = models.Walk.objects.filter(project=project, pk=record).first()
    told = REWALKING.known(project, None).outcomes.get(walk.key, ("", {}))[1] if walk is not None else {}
    if "now" not in told:
        raise not_found("walk that parts ways", f"walks/{record}")
    return WalkNow(told["now"])


# --- runs


def runs_of(project: models.Project) -> list[RunShape]:
    """The runs of a project that are kept, the newest first; those in which nothing was done are left out."""
    runs = models.PlayedRun.objects.filter(project=project).annotate(ticks=Max("inputs__last_tick")).order_by("-pk")
    return [_run(run) for run in runs.prefetch_related("inputs") if run.ticks]


def _run(run: Any) -> RunShape:
    came = [one for stretch in run.inputs.all() for one in stretch.came]
    ended = next((one["says"] for one in came if one["what"] == "ended"), "")
    last = came[-1].get("says", "") if came else ""
    seconds = round(run.ticks / TICKS_A_SECOND, 1)
    begun = run.begun_at.isoformat()
    return RunShape(run.pk, begun, run.edit_number, run.begins_at, seconds, last, ended, run.engine == ENGINE)


def found_run(project: models.Project, number: int) -> models.PlayedRun:
    """A run of a project. Raises `Refused` 404."""
    run = models.PlayedRun.objects.filter(project=project, pk=number).first()
    if run is None:
        raise not_found("run", f"runs/{number}")
    return run


def compared(project: models.Project, one: int, other: int) -> ComparedShape:
    """Two runs beside each other. Raises `Refused` 404."""
    mine, theirs = (_came(found_run(project, number)) for number in (one, other))
    found = parting(mine, theirs)
    shape = None
    if found is not None:
        was, now = (None if side is None else came_shape(side) for side in (found.was, found.now))
        shape = PartingShape(found.says(), was, now)
    return ComparedShape(shape, [came_shape(c) for c in mine], [came_shape(c) for c in theirs])


def _came(run: models.PlayedRun) -> list[Came]:
    stretches = models.RunInputs.objects.filter(run=run).order_by("last_tick")
    return _CAME.validate_python([one for stretch in stretches for one in stretch.came])


def came_shape(one: Came) -> CameShape:
    """Something that a walk came to as it travels."""
    return CameShape(at_clock(one.tick), one.tick, one.what, one.subject, one.says, one.level, one.x_m, one.y_m)
