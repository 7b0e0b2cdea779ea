"""Work on projects that goes on by itself in a process of low priority, one for each project: asked for, followed, stopped."""

from __future__ import annotations

import contextlib
import json
import os
import subprocess
import threading
import time
from abc import ABC, abstractmethod
from dataclasses import dataclass, field
from typing import Any, Generic, TypeVar

from ..core.project.problems import Problem, ProblemData
from ..core.project.records import Project
from . import listing, models
from .events import Key, key_of
from .processes import begun
from .programs import compiled_project

Told = dict[str, Any]
Prepared = tuple[Project, str]
"""A project as the core has it, and as file text."""
MOST_WAIT_S = 10.0
_FAULT = Problem(
    "fault",
    "The work ended before it was done. That is a fault of ours, or it was ended from outside.",
    "Begin it again; nothing of the project is touched by it.",
    "",
)


@dataclass
class AtWork:
    """What is known of the work on one project: as of which edit, and the process that does it while it goes on.

    `stamp` counts on whenever anything is new.
    """

    edit: int = 0
    problems: list[ProblemData] = field(default_factory=list)
    stamp: int = 0
    process: subprocess.Popen[str] | None = None
    waits: bool = False
    """Whether it waits for its turn: too many others are at work."""

    @property
    def going(self) -> bool:
        """Whether it is at work, or will be."""
        return self.process is not None or self.waits


Known = TypeVar("Known", bound=AtWork)


class Background(ABC, Generic[Known]):
    """The work of one sort on all projects.

    | work | what may happen | next |
    |---|---|---|
    | known | the project is edited, and somebody asks | waiting, or at work |
    | waiting | fewer are at work | at work |
    | at work | something came out | at work, or known after the last |
    | at work | the project is edited, and somebody asks | at work anew |
    | at work | stopped | known as far as it is |
    """

    module = ""
    """The module whose process does it: a line of JSON in, such lines out."""
    most = max(1, (os.cpu_count() or 2) - 1)
    """So many projects are worked on at a time; the others wait, and who looked first comes first."""

    def __init__(self) -> None:
        self._lock = threading.RLock()
        self._news = threading.Condition(self._lock)
        self._known: dict[Key, Known] = {}
        self._waiting: list[tuple[Known, str]] = []
        """What is still to be begun, with what its process is to be asked."""

    def known(self, project: models.Project, stamp: int | None, *, anew: bool = False, going: bool = True) -> Known:
        """What came out for a project; worked out again where it was not since it is as it is now.

        `stamp`: what the caller has seen; something newer is waited for, up to 10 s, while there is work. `anew`: all of
        it is done again. `going`: nothing is begun where it was stopped.
        """
        with self._lock:
            known = self._known.get(key_of(project))
            if known is None:
                known = self._known[key_of(project)] = self._first(project)
            missing = anew or (going and known.edit != project.edit_number)
        asked = self._prepared(project) if missing else None
        with self._lock:
            if anew:
                self._forget(known)
            if asked is not None and (anew or (going and known.edit != project.edit_number)):
                self._end(known)
                known.edit = project.edit_number
                self._begin(project, known, asked, anew=anew)
            end = time.monotonic() + MOST_WAIT_S
            while stamp == known.stamp and known.going and (left := end - time.monotonic()) > 0:
                self._news.wait(left)
            return known

    def stop(self, project: models.Project) -> None:
        """Stop the work on a project; what was come to so far stays."""
        with self._lock:
            known = self._known.get(key_of(project))
            if known is not None:
                self._end(known)

    def close(self) -> None:
        """End all that is at work, and forget what it came to."""
        with self._lock:
            self._waiting.clear()
            for known in self._known.values():
                self._end(known)
            self._known.clear()

    # --- what each sort does by itself

    @abstractmethod
    def _first(self, project: models.Project) -> Known:
        """What is known of a project before anything was worked out."""

    def _forget(self, known: Known) -> None:
        """Forget what came out, since all is to be done anew."""

    def _prepared(self, project: models.Project) -> Prepared:
        """What its process needs of a project as it is now. It may take long: nobody waits for a lock meanwhile."""
        return compiled_project(project).core, listing.filed_out(project)

    @abstractmethod
    def _begin(self, project: models.Project, known: Known, prepared: Prepared, *, anew: bool) -> None:
        """Begin whatever is missing for the project as it is now; `anew`: since somebody asks for it."""

    @abstractmethod
    def _hear(self, known: Known, said: Told) -> None:
        """Take in what the process says."""

    def _stopped(self, known: Known) -> None:
        """The process has ended, by itself or not."""

    # --- the process

    def _start(self, known: Known, asked: Told) -> None:
        known.problems, known.waits = [], True
        self._waiting.append((known, json.dumps(asked) + "\n"))
        self._begin_next()

    def _begin_next(self) -> None:
        """Begin what has waited longest, as long as not too many are at work."""
        while self._waiting and sum(one.process is not None for one in self._known.values()) < self.most:
            known, line = self._waiting.pop(0)
            process = known.process = begun(self.module)
            known.waits = False
            threading.Thread(target=self._listen, args=(known, process, line), daemon=True).start()

    def _listen(self, known: Known, process: subprocess.Popen[str], asked: str) -> None:
        assert process.stdin is not None
        assert process.stdout is not None
        with contextlib.suppress(BrokenPipeError), process.stdin as asking:
            asking.write(asked)
        with process.stdout as lines:
            for line in lines:
                self._take(known, process, json.loads(line))
        process.wait()
        with self._lock:
            if known.process is process:
                known.process = None
                known.problems = known.problems if not process.returncode else [_FAULT.as_dict()]
                self._stopped(known)
                self._tell(known)
            self._begin_next()

    def _take(self, known: Known, process: subprocess.Popen[str], said: Told) -> None:
        with self._lock:
            if known.process is not process:
                return
            if "problems" in said:
                known.problems = said["problems"]
            else:
                self._hear(known, said)
            self._tell(known)

    def _tell(self, known: Known) -> None:
        known.stamp += 1
        self._news.notify_all()

    def _end(self, known: Known) -> None:
        going, process = known.going, known.process
        known.process, known.waits = None, False
        self._waiting = [one for one in self._waiting if one[0] is not known]
        if process is not None:
            process.kill()
        if going:
            self._stopped(known)
            self._tell(known)
            self._begin_next()
