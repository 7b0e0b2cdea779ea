"""A project that comes from a file: every text of it read before anything is kept."""

from __future__ import annotations

import dataclasses
from typing import Any

from ..project.problems import Problem, ProjectError
from ..project.records import CHILDREN, Project
from .reading import CueTextError
from .references import reader_of, text_fields


def taken(project: Project) -> tuple[Project, list[Problem]]:
    """The project with every cue that cannot be read as a draft, and what is wrong with each.

    Other texts have no drafts. Raises `ProjectError` with every problem where one of those cannot be read.
    """
    drafts: list[Problem] = []
    refused: list[Problem] = []
    kept: Project = _taken("project", project, "", drafts, refused)
    if refused:
        raise ProjectError(refused)
    return kept, drafts


def _taken(record_type: str, record: Any, place: str, drafts: list[Problem], refused: list[Problem]) -> Any:
    changes: dict[str, Any] = {}
    for field, kind in CHILDREN.get(record_type, {}).items():
        old = getattr(record, field)
        new = tuple(_taken(kind, child, f"{place}{kind}/{child.key}/", drafts, refused) for child in old)
        if any(a is not b for a, b in zip(old, new, strict=True)):
            changes[field] = new
    for field in text_fields(record_type):
        problems = _unreadable(record_type, field, getattr(record, field), f"{place}{field}")
        if problems and record_type == "cue":
            drafts += problems
            changes |= {"text": "", "draft": record.text}
        else:
            refused += problems
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
