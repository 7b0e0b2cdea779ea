"""Runs kept in the database: what they were started from and their inputs, so that they can be picked up again."""

from __future__ import annotations

import hashlib
import secrets
from dataclasses import replace
from typing import Any, NamedTuple, TypeGuard

from ..core.engine.again import Fitted, as_data, fitted
from ..core.engine.beginning import Start
from ..core.engine.standing import standing_before
from ..core.progress.as_if import as_if
from ..core.project.fileformat import adapter_of
from ..core.project.keeping import Card
from ..core.project.problems import Problem
from ..core.project.tree import plain
from . import housekeeping, listing, models
from .changes import read_changes
from .programs import Compiled, compiled_project
from .proof_readings import told_way
from .proofs import PROVING, known_proof
from .refusals import Refused, not_found
from .writing import writing

ENGINE = "7"
"""Which engine a run was walked by; another one may take its inputs otherwise."""


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
    (`at`), a `level`, a place in it (`x`, `y`). Raises `Refused` 404 for an unknown card or point, 422 for a senseless one.
    """
    project = listing.found_project(project_id)
    known = compiled_project(project)
    named, place = _texts(asked), _place(asked)
    if not named["card"]:
        start, left_out = _start(project, known, named, place)
        return _begun(project, Fitted(start, left_out), _beginning(known, named, place))
    card = next((c for c in known.core.cards if c.key == named["card"]), None)
    if card is None:
        raise not_found("start card", "begin")
    return _begun(project, fitted(card, known.core, known.program, _seed()), card.name)


def begin_here(project_id: int, here: dict[str, Any]) -> Begun:
    """A new run of a project as it is now, from a moment of another run as its engine told it. Raises `Refused` 404."""
    project = listing.found_project(project_id)
    known = compiled_project(project)
    card = adapter_of("card").validate_python(here)
    return _begun(project, fitted(card, known.core, known.program, _seed()), "a spot of another walk")


def watch(project_id: int, asked: dict[str, Any]) -> Begun:
    """A kept walk (`walk`, by its name) in the project as it is now, a run as it went (`run`, by its number), or the way of a
    verdict (`way`, by its name), to be watched; `at` is the tick that is shown first. Nothing of it is kept. Raises `Refused`
    404, 409, 422."""
    project = listing.found_project(project_id)
    at, key, run = asked.get("at"), asked.get("walk"), asked.get("run")
    if at is not None and not is_number(at):
        raise _senseless("Give at as a tick.")
    if isinstance(key, str):
        return _watch_walk(project, key, at)
    if is_number(run):
        resumed = resume_run(project_id, run)
        first = resumed.first | {"inputs": [], "tick": 0, "mark": ""}
        script = {"inputs": resumed.first["inputs"], "until": resumed.first["tick"], "at": at}
        return resumed._replace(run=0, first=first | {"watch": script})
    if isinstance(asked.get("way"), str):
        return _watch_way(project, asked["way"], at)
    raise _senseless("Name a walk or a way, or give the number of a run.")


def _watch_way(project: models.Project, key: str, at: int | None) -> Begun:
    way = told_way(known_proof(project, None, going=False), key)
    if way is None:
        raise not_found("way", "watch")
    first = {
        "project": listing.filed_out(project),
        "start": as_data(Start(seed=way["walk"]["seed"])),
        "watch": {"deeds": way["deeds"], "at": at},
    }
    return Begun(0, project.edit_number, first, ())


def _watch_walk(project: models.Project, key: str, at: int | None) -> Begun:
    known = compiled_project(project)
    walk = next((w for w in known.core.walks if w.key == key), None)
    if walk is None:
        raise not_found("kept walk", "watch")
    fits = fitted(walk.begins, known.core, known.program, walk.seed)
    script = {"deeds": plain(walk.deeds), "at": at}
    first = {"project": listing.filed_out(project), "start": as_data(fits.start), "watch": script}
    return Begun(0, project.edit_number, first, fits.left_out)


def is_number(value: Any) -> TypeGuard[int]:
    """Whether a value is a whole number that a tick or an id may be."""
    return isinstance(value, int) and not isinstance(value, bool) and 0 <= value < 2**62


def _seed() -> int:
    return secrets.randbelow(2**31)


def _begun(project: models.Project, fits: Fitted, begins_at: str) -> Begun:
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
            begins_at=begins_at[:200],
        )
        housekeeping.forget_old_runs(project.pk)
    return Begun(run.pk, project.edit_number, _named(run) | {"project": file, "start": start}, fits.left_out)


def _named(run: models.PlayedRun) -> dict[str, Any]:
    """What an engine is told of the run that it walks."""
    return {"run": run.pk, "begun": run.begun_at.isoformat()}


def _texts(asked: dict[str, Any]) -> dict[str, str]:
    """What a start may name, each as a text; empty where it does not. Raises `Refused` 422."""
    found = {name: asked.get(name, "") for name in ("card", "quest", "stage", "changes", "at", "level")}
    if all(isinstance(v, str) for v in found.values()):
        return found
    raise _senseless("Give card, quest, stage, changes, at and level as texts.")


def _place(asked: dict[str, Any]) -> tuple[float, float] | None:
    """A place to begin at, in metres. Raises `Refused` 422."""
    x, y = asked.get("x"), asked.get("y")
    if x is None and y is None:
        return None
    if all(isinstance(v, int | float) and not isinstance(v, bool) and abs(v) <= 1e5 for v in (x, y)):
        return float(x or 0.0), float(y or 0.0)
    raise _senseless("Give x and y in metres, both or none.")


def _senseless(fix: str) -> Refused:
    return Refused(422, "Start senseless", [Problem("message_senseless", "The start is not understood.", fix, "begin")])


def _start(
    project: models.Project, here: Compiled, named: dict[str, str], place: tuple[float, float] | None
) -> tuple[Start, tuple[str, ...]]:
    """A place and columns to start from, and what of it could not be had: where nobody can stand one begins beside it."""
    puts: tuple[tuple[str, int], ...] = ()
    if named["quest"]:
        try:
            way = PROVING.way_to(project, named["quest"], named["stage"])
            point = named["quest"], named["stage"], read_changes(named["changes"])
            chosen = as_if(here.program, here.core, *point, None if way is None else way.puts)
        except KeyError as error:
            raise not_found(f"point {error.args[0]}", "begin") from error
        puts = tuple((a.column, a.value) for a in chosen.assumed if a.column != "cell")
    at, level = named["at"], named["level"]
    home = next((lv.key for lv in here.core.levels if at in {o.key for o in lv.objects}), "")
    wanted = home or (level if level in {lv.key for lv in here.core.levels} else "")
    if place is not None and not home:
        level_key = wanted or here.core.first_level
        fits = fitted(Card("here", "Here", level_key, *place), here.core, here.program, _seed())
        return replace(fits.start, puts=puts), fits.left_out
    x, y, facing_deg = standing_before(here.core, at, here.program.layout) or (None, None, None)
    return Start(x, y, facing_deg, puts, wanted, _seed()), ()


def _beginning(here: Compiled, named: dict[str, str], place: tuple[float, float] | None) -> str:
    """Where a run begins, in words."""
    name = here.words.name
    as_if_words = f", as if {here.words.stage(named['quest'], named['stage'])}" if named["quest"] else ""
    if named["at"] in here.words.names:
        return f"{name(named['at'])}{as_if_words}"
    if place is not None:
        return f"a spot at {place[0]:.1f}, {place[1]:.1f} m{as_if_words}"
    return f"the start of {name(named['level'] or here.core.first_level)}{as_if_words}"


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
    first["mark"] = stretches[-1].mark if stretches else ""
    return Begun(run.pk, run.edit_number, first)


def keep_inputs(run_id: int, stored: dict[str, Any]) -> None:
    """Store a stretch of a run: its inputs up to a tick, and what it came to."""
    with writing():
        models.RunInputs.objects.create(
            run_id=run_id,
            last_tick=stored["tick"],
            inputs=stored["inputs"],
            came=stored["came"],
            mark=stored["mark"],
        )
