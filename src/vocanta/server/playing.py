"""Runs kept in the database: what they were started from and their inputs, so that they can be picked up again."""

from __future__ import annotations

import hashlib
from typing import Any

from ..core.project.problems import Problem
from . import listing, models
from .refusals import Refused

ENGINE = "1"


def begin_run(project_id: int, start: dict[str, Any]) -> tuple[int, dict[str, Any]]:
    """A new run of a project as it is now: its number, and the first message for its engine."""
    project = listing.found_project(project_id)
    file = listing.filed_out(project)
    digest = hashlib.sha256(file.encode()).hexdigest()
    snapshot, _ = models.Snapshot.objects.get_or_create(hash=digest, defaults={"file": file})
    run = models.PlayedRun.objects.create(project=project, snapshot=snapshot, edit_number=project.edit_number, engine=ENGINE, start=start)
    return run.pk, {"project": file, "start": start}


def resume_run(project_id: int, run_id: int) -> tuple[int, dict[str, Any]]:
    """A run as it was left: its snapshot, start and inputs. Raises `Refused` 404."""
    run = models.PlayedRun.objects.filter(pk=run_id, project_id=project_id).select_related("snapshot").first()
    if run is None:
        raise Refused(404, "No such run", [Problem("not_found", "There is no such run.", "Begin a new one.", "run")])
    stretches = list(run.inputs.order_by("last_tick"))
    inputs = [pair for s in stretches for pair in s.inputs]
    last = stretches[-1].last_tick if stretches else 0
    return run.pk, {"project": run.snapshot.file, "start": run.start, "inputs": inputs, "tick": last}


def keep_inputs(run_id: int, last_tick: int, inputs: list[Any]) -> None:
    """Store a stretch of inputs."""
    models.RunInputs.objects.create(run_id=run_id, last_tick=last_tick, inputs=inputs)
