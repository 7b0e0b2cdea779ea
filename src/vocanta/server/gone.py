"""What ends with a project: each sort of work that goes on for one says how it is ended."""

from __future__ import annotations

from collections.abc import Callable

from . import models

Ending = Callable[[models.Project], None]
_endings: list[Ending] = []


def ends_with_its_project(ending: Ending) -> None:
    """From now on this is done as well when a project is deleted. Called from any thread."""
    _endings.append(ending)


def end_all_of(project: models.Project) -> None:
    """A project is deleted: whatever goes on for it ends."""
    for ending in _endings:
        ending(project)
