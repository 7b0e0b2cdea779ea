"""The map of the gates from the *as if* point: worked out when it is asked for, and kept as long as it may be asked for again."""

from __future__ import annotations

import json
import subprocess
import threading
from typing import Any

from ..core.project.noting import Note
from ..core.project.problems import Problem
from . import events, listing, models
from .background import Told
from .gone import ends_with_its_project
from .processes import begun
from .refusals import Refused

MOST_KEPT = 8
"""So many maps are kept, those that were asked for last."""
_MODULE = "vocanta.server.map_process"
_Puts = tuple[tuple[str, int], ...]
_kept: dict[Any, list[Told]] = {}
_going: dict[events.Key, list[subprocess.Popen[str]]] = {}
_lock = threading.Lock()


def map_from(project: models.Project, puts: _Puts, note: Note) -> list[Told]:
    """The gates of a project from a situation on, told by what it has otherwise than the start.

    Raises `Refused` 409 once `note` does, and 503 where the work could not be done.
    """
    key = events.key_of(project), project.edit_number, puts
    with _lock:
        if key in _kept:
            _kept[key] = _kept.pop(key)
            return _kept[key]
    gates = _worked_out(key[0], {"file": listing.filed_out(project), "puts": puts}, note)
    with _lock:
        _kept[key] = gates
        while len(_kept) > MOST_KEPT:
            _kept.pop(next(iter(_kept)))
    return gates


def end(project: models.Project) -> None:
    """A project is gone, and with it the maps that are being worked out for it."""
    with _lock:
        for process in _going.get(events.key_of(project), ()):
            process.kill()


def _worked_out(key: events.Key, asked: Told, note: Note) -> list[Told]:
    process = begun(_MODULE)
    with _lock:
        _going.setdefault(key, []).append(process)
    assert process.stdin is not None
    assert process.stdout is not None
    try:
        with process.stdin as asking:
            asking.write(json.dumps(asked) + "\n")
        for line in process.stdout:
            said = json.loads(line)
            if "gates" in said:
                gates: list[Told] = said["gates"]
                return gates
            if "problems" in said:
                raise Refused(422, "Not to be worked out", [Problem(**p) for p in said["problems"]])
            note(*said["note"])
    except BrokenPipeError:
        pass  # It has ended before it was asked; that is told below.
    finally:
        process.kill()
        process.stdout.close()
        process.wait()
        with _lock:
            _going[key].remove(process)
            if not _going[key]:
                del _going[key]
    fault = "The map could not be worked out: the work ended before it was done, or took more memory than it may."
    raise Refused(503, "Not worked out", [Problem("fault", fault, "Ask for it again, or from another point.", "as_if")])


ends_with_its_project(end)
