"""What kept walks come to in a project as it is now: walked again by a process of low priority, kept by what they rest on."""

from __future__ import annotations

import atexit
import hashlib
import json
from dataclasses import dataclass, field, replace

from ..core.project.fileformat import dumps
from ..core.project.keeping import Walk
from ..core.project.records import Project
from ..core.project.tree import plain
from . import models
from .background import AtWork, Background, Prepared, Told
from .gone import ends_with_its_project


@dataclass
class Walks(AtWork):
    """What is known of the kept walks of one project: `outcomes` by the name of the walk, with what each rests on."""

    outcomes: dict[str, tuple[str, Told]] = field(default_factory=dict)
    rests_on: dict[str, str] = field(default_factory=dict)
    """What each walk rests on as the project is now."""
    at_work: str = ""
    done: int = 0
    of: int = 0

    def missing(self) -> list[str]:
        """The walks of which nothing is known for the project as it is now."""
        return [key for key, rests in self.rests_on.items() if self.outcomes.get(key, ("", {}))[0] != rests]


class Rewalking(Background[Walks]):
    """The kept walks of all projects."""

    module = "vocanta.server.walks_process"
    most = 4
    """They are short, and somebody waits for them: a proof that goes on does not hold them up."""

    def _first(self, project: models.Project) -> Walks:
        return Walks()

    def _forget(self, known: Walks) -> None:
        known.outcomes.clear()

    def _begin(self, project: models.Project, known: Walks, prepared: Prepared, *, anew: bool) -> None:
        core, file = prepared
        known.rests_on = rests_on(core)
        known.outcomes = {key: told for key, told in known.outcomes.items() if key in known.rests_on}
        if missing := known.missing():
            known.done, known.of = 0, len(missing)
            self._start(known, {"file": file, "only": missing})

    def _hear(self, known: Walks, said: Told) -> None:
        if "outcome" in said:
            key = said["outcome"]["walk"]
            known.outcomes[key] = known.rests_on[key], said["outcome"]
            known.done += 1
        else:
            known.at_work = said["walk"]

    def _stopped(self, known: Walks) -> None:
        known.at_work = ""


def rests_on(project: Project) -> dict[str, str]:
    """What each kept walk of a project rests on, as a digest: the walk, and what is played."""
    whole = played(project)
    return {walk.key: _digest(whole, walk) for walk in project.walks}


def played(project: Project) -> str:
    """A digest of all of a project but what it keeps of work on it."""
    left = replace(project, name="", asides=(), cards=(), walks=(), camera=type(project.camera)())
    return hashlib.sha256(dumps(left).encode()).hexdigest()


def _digest(whole: str, walk: Walk) -> str:
    own = json.dumps(plain(replace(walk, name="")), sort_keys=True)
    return hashlib.sha256(f"{whole} {own}".encode()).hexdigest()


REWALKING = Rewalking()
ends_with_its_project(REWALKING.stop)
atexit.register(REWALKING.close)
