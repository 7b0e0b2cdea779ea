"""What kept walks come to in a project as it is now: walked again by a process of low priority, kept by what they rest on."""

from __future__ import annotations

import atexit
import contextlib
import hashlib
import json
import subprocess
import threading
import time
from dataclasses import dataclass, field, replace
from typing import Any

from ..core.project.fileformat import dumps
from ..core.project.keeping import Walk
from ..core.project.problems import ProblemData
from ..core.project.records import Project
from ..core.project.tree import plain
from . import listing, models
from .events import Key, key_of
from .processes import begun
from .programs import compiled_project

Told = dict[str, Any]
MOST_WAIT_S = 10.0


@dataclass
class Walks:
    """What is known of the kept walks of one project.

    `outcomes` by the name of the walk, with what each rests on; `stamp` counts on whenever anything is new.
    """

    edit: int = 0
    outcomes: dict[str, tuple[str, Told]] = field(default_factory=dict)
    rests_on: dict[str, str] = field(default_factory=dict)
    """What each walk rests on as the project is now."""
    problems: list[ProblemData] = field(default_factory=list)
    at_work: str = ""
    done: int = 0
    of: int = 0
    stamp: int = 0
    process: subprocess.Popen[str] | None = None

    def missing(self) -> list[str]:
        """The walks of which nothing is known for the project as it is now."""
        return [key for key, rests in self.rests_on.items() if self.outcomes.get(key, ("", {}))[0] != rests]


class Rewalking:
    """The kept walks of all projects.

    | walks | what may happen | next |
    |---|---|---|
    | known | the project is edited, and somebody asks | at work |
    | at work | a walk is through | at work, or known after the last |
    | at work | the project is edited, and somebody asks | at work anew |
    | at work | stopped | known as far as they are |
    """

    def __init__(self) -> None:
        self._lock = threading.RLock()
        self._news = threading.Condition(self._lock)
        self._known: dict[Key, Walks] = {}

    def known(self, project: models.Project, stamp: int | None, *, anew: bool = False, going: bool = True) -> Walks:
        """What the kept walks of a project come to; walked again where they were not since it is as it is now.

        `stamp`: what the caller has seen; something newer is waited for, up to 10 s, while there is work. `anew`: all of
        them are walked again. `going`: not at all where they were stopped.
        """
        with self._lock:
            walks = self._known.setdefault(key_of(project), Walks())
            if anew:
                walks.outcomes.clear()
            if anew or (going and walks.edit != project.edit_number):
                self._begin(project, walks)
            end = time.monotonic() + MOST_WAIT_S
            while stamp == walks.stamp and walks.process is not None and (left := end - time.monotonic()) > 0:
                self._news.wait(left)
            return walks

    def stop(self, project: models.Project) -> None:
        """Stop walking; what was come to so far stays."""
        with self._lock:
            walks = self._known.get(key_of(project))
            if walks is not None:
                self._end(walks)

    def close(self) -> None:
        """End all that is at work, and forget what it came to."""
        with self._lock:
            for walks in self._known.values():
                self._end(walks)
            self._known.clear()

    # --- at work

    def _begin(self, project: models.Project, walks: Walks) -> None:
        """Walk what is not known for the project as it is now; what was at work for an older one ends."""
        self._end(walks)
        core = compiled_project(project).core
        walks.edit, walks.rests_on = project.edit_number, rests_on(core)
        walks.outcomes = {key: told for key, told in walks.outcomes.items() if key in walks.rests_on}
        missing = walks.missing()
        if missing:
            self._start(walks, listing.filed_out(project), missing)

    def _start(self, walks: Walks, file: str, only: list[str]) -> None:
        process = begun("vocanta.server.walks_process")
        walks.process, walks.problems, walks.done, walks.of = process, [], 0, len(only)
        asked = json.dumps({"file": file, "only": only}) + "\n"
        threading.Thread(target=self._listen, args=(walks, process, asked), daemon=True).start()

    def _listen(self, walks: Walks, process: subprocess.Popen[str], asked: str) -> None:
        assert process.stdin is not None
        assert process.stdout is not None
        with contextlib.suppress(BrokenPipeError), process.stdin as asking:
            asking.write(asked)
        with process.stdout as lines:
            for line in lines:
                self._take(walks, process, json.loads(line))
        process.wait()
        with self._lock:
            if walks.process is process:
                walks.process, walks.at_work = None, ""
                self._tell(walks)

    def _take(self, walks: Walks, process: subprocess.Popen[str], said: Told) -> None:
        with self._lock:
            if walks.process is not process:
                return
            if "outcome" in said:
                key = said["outcome"]["walk"]
                walks.outcomes[key] = walks.rests_on[key], said["outcome"]
                walks.done += 1
            elif "problems" in said:
                walks.problems = said["problems"]
            else:
                walks.at_work = said["walk"]
            self._tell(walks)

    def _tell(self, walks: Walks) -> None:
        walks.stamp += 1
        self._news.notify_all()

    def _end(self, walks: Walks) -> None:
        process, walks.process, walks.at_work = walks.process, None, ""
        if process is not None:
            process.kill()
            self._tell(walks)


def rests_on(project: Project) -> dict[str, str]:
    """What each kept walk of a project rests on, as a digest: the walk, and all of the project but what it keeps of work."""
    played = replace(project, name="", asides=(), cards=(), walks=(), camera=type(project.camera)())
    whole = hashlib.sha256(dumps(played).encode()).hexdigest()
    return {walk.key: _digest(whole, walk) for walk in project.walks}


def _digest(whole: str, walk: Walk) -> str:
    own = json.dumps(plain(replace(walk, name="")), sort_keys=True)
    return hashlib.sha256(f"{whole} {own}".encode()).hexdigest()


REWALKING = Rewalking()
atexit.register(REWALKING.close)
