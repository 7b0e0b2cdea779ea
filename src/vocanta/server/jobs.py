"""Long work that one can watch and stop: each has a name, given by whoever asks for it.

| state | what may happen | next |
|---|---|---|
| at work | it comes on | at work |
| at work | it is stopped | stopping: it ends at its next note, and nothing of it is kept |
| at work | its end, or a refusal | forgotten |
"""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import AbstractContextManager, contextmanager
from dataclasses import dataclass

from rest_framework.request import Request

from ..core.project.noting import Note, unnoted
from ..core.project.problems import Problem
from .refusals import Refused

_at_work: dict[str, Job] = {}


@dataclass
class Job:
    """One work: what is being done, how much of it is done, and of how much."""

    what: str = ""
    done: int = 0
    of: int = 0
    stopped: bool = False

    def note(self, what: str, done: int, of: int) -> None:
        """It has come this far. Raises `Refused` 409 once somebody has stopped it."""
        self.what, self.done, self.of = what, done, of
        if self.stopped:
            problem = Problem("stopped", "It was stopped; nothing of it is kept.", "Begin it again when you like.", "")
            raise Refused(409, "Stopped", [problem])


@contextmanager
def at_work(name: str) -> Iterator[Note]:
    """Where a work of this name tells how far it has come; one without a name is not watched. Raises `Refused` 409 where
    another goes on under that name."""
    if not name:
        yield unnoted
        return
    job = Job()
    if _at_work.setdefault(name, job) is not job:
        problem = Problem(
            "job_taken", "Another work goes on under that name.", "Give this one a name of its own.", "job"
        )
        raise Refused(409, "Name taken", [problem])
    try:
        yield job.note
    finally:
        _at_work.pop(name, None)


def at_work_for(request: Request) -> AbstractContextManager[Note]:
    """The same under the name that a request gives (`JOB`)."""
    return at_work(request.query_params.get("job", "")[:64])


def job_at_work(name: str) -> Job | None:
    """A work that goes on; None where it is done, or was never begun."""
    return _at_work.get(name)
