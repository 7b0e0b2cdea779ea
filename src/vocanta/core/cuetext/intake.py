"""A project that comes from a file: every text of it read before anything is kept."""

from __future__ import annotations

import dataclasses
from typing import Any

from ..project.noting import EVERY, Note, unnoted
from ..project.problems import Problem, ProjectError
from ..project.records import CHILDREN, Project
from ..project.tree import walk
from .reading import CueTextError
from .references import reader_of, text_fields


def taken(project: Project, note: Note = unnoted) -> tuple[Project, list[Problem]]:
    """The project with every cue that cannot be read as a draft, and what is wrong with each.

    Other texts have no drafts. Raises `ProjectError` with every problem where one of those cannot be read.
    """
    intake = _Intake(note, sum(1 for _ in walk(project)))
    kept: Project = intake.taken("project", project, "")
    if intake.refused:
        raise ProjectError(intake.refused)
    return kept, intake.drafts


class _Intake:
    """What was found so far, and how many of the records were read."""

    def __init__(self, note: Note, of: int):
        self.drafts: list[Problem] = []
        self.refused: list[Problem] = []
        self._note, self._read, self._of = note, 0, of

    def taken(self, record_type: str, record: Any, place: str) -> Any:
        """A record with all that it owns, its cues that cannot be read as drafts."""
        if self._read % EVERY == 0:
            self._note("Reading the texts", self._read, self._of)
        self._read += 1
        changes: dict[str, Any] = {}
        for field, kind in CHILDREN.get(record_type, {}).items():
            old = getattr(record, field)
            new = tuple(self.taken(kind, child, f"{place}{kind}/{child.key}/") for child in old)
            if any(a is not b for a, b in zip(old, new, strict=True)):
                changes[field] = new
        for field in text_fields(record_type):
            problems = _unreadable(record_type, field, getattr(record, field), f"{place}{field}")
            if problems and record_type == "cue":
                self.drafts += problems
                changes |= {"text": "", "draft": record.text}
            else:
                self.refused += problems
        return dataclasses.replace(record, **changes) if changes else record


def _unreadable(record_type: str, field: str, text: str, place: str) -> list[Problem]:
    reader = reader_of(record_type, field)
    assert reader is not None
    try:
        if text.strip():
            reader(text)
    except CueTextError as error:
        return [p.at(place) for p in error.problems]
    return []
