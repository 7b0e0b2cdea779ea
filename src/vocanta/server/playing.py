"""Runs kept in the database: what they were started from and their inputs, so that they can be picked up again."""

from __future__ import annotations

import hashlib
import secrets
from typing import Any, NamedTuple

from ..core.engine.again import Fitted, as_data, fitted
from ..core.engine.beginning import Start
from ..core.engine.standing import standing_before
from ..core.progress.as_if import as_if
from ..core.project.fileformat import adapter_of
from ..core.project.problems import Problem
from . import listing, models
from .changes import read_changes
from .programs import Compiled, compiled_project
from .refusals import Refused, not_found
from .writing import writing

ENGINE = "3"
"""Which engine a run was walked by; another one may take its inputs otherwise."""
KEPT_RUNS = 50
"""So many runs of a project are kept."""


class Begun(NamedTuple):
    """A run that begins or goes on: its number, the edit of the project that it is of, the first message for its engine,
    and what of its start did not fit the project, in words."""

    run: int
    edit: int
    first: dict[str, Any]
    left_out: tuple[str, ...] = ()


def begin_run(project_id: int, asked: dict[str, Any]) -> Begun:
    """A new run of a project as it is now.

    `asked` may name a start card (`card`), or a point to be as if at (`quest`, `stage`, `changes`), an object to stand before
    (`at`), a `level`. Raises `Refused` 404 for an unknown card or point, 422 for a senseless one.
    """
    project = listing.found_project(project_id)
    known = compiled_project(project)
    named = _texts(asked)
    if not named["card"]:
        return _begun(project, Fitted(_start(known, named), ()))
    card = next((c for c in known.core.cards if c.key == named["card"]), None)
    if card is None:
        raise not_found("start card", "begin")
    return _begun(project, fitted(card, known.core, known.program, _seed()))


def begin_here(project_id: int, here: dict[str, Any]) -> Begun:
    """A new run of a project as it is now, from a moment of another run as its engine told it. Raises `Refused` 404."""
    project = listing.found_project(project_id)
    known = compiled_project(project)
    card = adapter_of("card").validate_python(here)
    return _begun(project, fitted(card, known.core, known.program, _seed()))


def _seed() -> int:
    return secrets.randbelow(2**31)


def _begun(project: models.Project, fits: Fitted) -> Begun:
    start = as_data(fits.start)
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
            seed=fits.start.seed,
        )
        _forget_old_runs(project)
    return Begun(run.pk, project.edit_number, _named(run) | {"project": file, "start": start}, fits.left_out)


def _named(run: models.PlayedRun) -> dict[str, Any]:
    """What an engine is told of the run that it walks."""
    return {"run": run.pk, "begun": run.begun_at.isoformat()}


def _forget_old_runs(project: models.Project) -> None:
    """Only the newest runs of a project are kept, with their inputs and what they were started from."""
    kept = project.runs.order_by("-pk").values_list("pk", flat=True)[:KEPT_RUNS]
    project.runs.exclude(pk__in=list(kept)).delete()
    models.Snapshot.objects.filter(playedrun=None).delete()


def _texts(asked: dict[str, Any]) -> dict[str, str]:
    """What a start may name, each as a text; empty where it does not. Raises `Refused` 422."""
    found = {name: asked.get(name, "") for name in ("card", "quest", "stage", "changes", "at", "level")}
    if all(isinstance(v, str) for v in found.values()):
        return found
    fix = "Give card, quest, stage, changes, at and level as texts."
    raise Refused(422, "Start senseless", [Problem("message_senseless", "The start is not understood.", fix, "begin")])


def _start(here: Compiled, named: dict[str, str]) -> Start:
    """A place and columns to start from."""
    puts: tuple[tuple[str, int], ...] = ()
    if named["quest"]:
        try:
            chosen = as_if(here.program, here.core, named["quest"], named["stage"], read_changes(named["changes"]))
        except KeyError as error:
            raise not_found(f"point {error.args[0]}", "begin") from error
        puts = tuple((a.column, a.value) for a in chosen.assumed if a.column != "cell")
    at, level = named["at"], named["level"]
    home = next((lv.key for lv in here.core.levels if at in {o.key for o in lv.objects}), "")
    wanted = home or (level if level in {lv.key for lv in here.core.levels} else "")
    x, y, facing_deg = standing_before(here.core, at, here.program.layout) or (None, None, None)
    return Start(x, y, facing_deg, puts, wanted, _seed())


def resume_run(project_id: int, run_id: int) -> Begun:
    """A run as it was left: its snapshot, start and inputs. Raises `Refused` 404, 409 for one of another engine."""
    run = models.PlayedRun.objects.filter(pk=run_id, project_id=project_id).select_related("snapshot").first()
    if run is None:
        raise Refused(404, "No such run", [Problem("not_found", "There is no such run.", "Begin a new one.", "run")])
    if run.engine != ENGINE:
        says = "This run was walked by another version of the program, which may take its inputs otherwise."
        raise Refused(409, "Another engine", [Problem("engine_other", says, "Begin again with F2.", "run")])
    stretches = list(run.inputs.order_by("last_tick"))
    inputs = [pair for s in stretches for pair in s.inputs]
    last = stretches[-1].last_tick if stretches else 0
    first = _named(run) | {"project": run.snapshot.file, "start": run.start, "inputs": inputs, "tick": last}
    return Begun(run.pk, run.edit_number, first)


def keep_inputs(run_id: int, last_tick: int, inputs: list[Any]) -> None:
    """Store a stretch of inputs."""
    with writing():
        models.RunInputs.objects.create(run_id=run_id, last_tick=last_tick, inputs=inputs)
