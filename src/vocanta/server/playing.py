"""Runs kept in the database: what they were started from and their inputs, so that they can be picked up again."""

from __future__ import annotations

import hashlib
import secrets
from dataclasses import asdict
from typing import Any, NamedTuple

from ..core.engine import again
from ..core.engine.standing import standing_before
from ..core.progress.as_if import as_if
from ..core.project.problems import Problem
from . import listing, models
from .changes import read_changes
from .programs import Compiled, compiled_project
from .refusals import Refused, not_found
from .writing import writing

ENGINE = "2"
KEPT_RUNS = 50
"""So many runs of a project are kept."""


class Begun(NamedTuple):
    """A run that begins or goes on: its number, the edit of the project that it is of, the first message for its engine."""

    run: int
    edit: int
    first: dict[str, Any]


def begin_run(project_id: int, asked: dict[str, Any]) -> Begun:
    """A new run of a project as it is now.

    `asked` may name a point to be as if at (`quest`, `stage`, `changes`), an object to stand before (`at`), a `level`.
    Raises `Refused` 404 for an unknown point, 422 for a senseless one.
    """
    project = listing.found_project(project_id)
    return _begun(project, _start(compiled_project(project), asked))


def begin_here(project_id: int, here: dict[str, Any]) -> tuple[Begun, list[str]]:
    """A new run of a project as it is now, from a moment of another run as its engine told it; and what had to be left
    out, in words. Raises `Refused` 404."""
    project = listing.found_project(project_id)
    known = compiled_project(project)
    start, left_out = again.from_data(here).start(known.core, known.program, secrets.randbelow(2**31))
    data = {k: v for k, v in asdict(start).items() if v not in (None, "", ())}
    data["facing"] = data.pop("facing_deg", None)
    data["spots"] = [list(asdict(spot).values()) for spot in start.spots]
    return _begun(project, data), left_out


def _begun(project: models.Project, start: dict[str, Any]) -> Begun:
    file = listing.filed_out(project)
    digest = hashlib.sha256(file.encode()).hexdigest()
    with writing():
        snapshot, _ = models.Snapshot.objects.get_or_create(hash=digest, defaults={"file": file})
        run = models.PlayedRun.objects.create(
            project=project,
            snapshot=snapshot,
            edit_number=project.edit_number,
            engine=ENGINE,
            start=start,
            seed=start["seed"],
        )
        _forget_old_runs(project)
    return Begun(run.pk, project.edit_number, {"project": file, "start": start})


def _forget_old_runs(project: models.Project) -> None:
    """Only the newest runs of a project are kept, with their inputs and what they were started from."""
    kept = project.runs.order_by("-pk").values_list("pk", flat=True)[:KEPT_RUNS]
    project.runs.exclude(pk__in=list(kept)).delete()
    models.Snapshot.objects.filter(playedrun=None).delete()


def _start(here: Compiled, asked: dict[str, Any]) -> dict[str, Any]:
    """A place and columns to start from."""
    quest, stage, changes, at, level = (asked.get(k, "") for k in ("quest", "stage", "changes", "at", "level"))
    if not all(isinstance(v, str) for v in (quest, stage, changes, at, level)):
        raise Refused(
            422,
            "Start senseless",
            [
                Problem(
                    "message_senseless",
                    "The start is not understood.",
                    "Give quest, stage, changes, at and level as texts.",
                    "begin",
                )
            ],
        )
    start: dict[str, Any] = {}
    if quest:
        try:
            chosen = as_if(here.program, here.core, quest, stage, read_changes(changes))
        except KeyError as error:
            raise not_found(f"point {error.args[0]}", "begin") from error
        start["puts"] = [[a.column, a.value] for a in chosen.assumed if a.column != "cell"]
    spot = standing_before(here.core, at)
    home = next((lv.key for lv in here.core.levels if at in {o.key for o in lv.objects}), "")
    wanted = home or (level if level in {lv.key for lv in here.core.levels} else "")
    if wanted:
        start["level"] = wanted
    if spot is not None:
        start |= {"x": spot[0], "y": spot[1], "facing": spot[2]}
    start["seed"] = secrets.randbelow(2**31)
    return start


def resume_run(project_id: int, run_id: int) -> Begun:
    """A run as it was left: its snapshot, start and inputs. Raises `Refused` 404."""
    run = models.PlayedRun.objects.filter(pk=run_id, project_id=project_id).select_related("snapshot").first()
    if run is None:
        raise Refused(404, "No such run", [Problem("not_found", "There is no such run.", "Begin a new one.", "run")])
    stretches = list(run.inputs.order_by("last_tick"))
    inputs = [pair for s in stretches for pair in s.inputs]
    last = stretches[-1].last_tick if stretches else 0
    first = {"project": run.snapshot.file, "start": run.start, "inputs": inputs, "tick": last}
    return Begun(run.pk, run.edit_number, first)


def keep_inputs(run_id: int, last_tick: int, inputs: list[Any]) -> None:
    """Store a stretch of inputs."""
    with writing():
        models.RunInputs.objects.create(run_id=run_id, last_tick=last_tick, inputs=inputs)
