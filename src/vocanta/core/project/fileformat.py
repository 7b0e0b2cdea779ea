"""The project file: one readable JSON document with a format version, in and out without loss."""

from __future__ import annotations

import json
import math
from functools import cache
from typing import Any

from pydantic import TypeAdapter, ValidationError

from .designs import own_value_problems
from .older import brought_up_project
from .outlines import outline_problem
from .problems import Problem, ProjectError
from .records import RECORD_TYPES, Project
from .tree import name_problems, plain

FORMAT = "vocanta project"
VERSION = 2
PROJECT = TypeAdapter(Project)
MOST_TOLD = 100
"""So many wrong values of one file are told; of the others it is told how many there are."""
MOST_BYTES = 32 * 1024 * 1024
MOST_PARTS = 400_000
"""A file of more bytes, or of more records and lists, is refused before it is read: it would take the memory of others."""
MOST_DIGITS = 18
"""A whole number in a file has no more digits."""


@cache
def adapter_of(record_type: str) -> TypeAdapter[Any]:
    """What makes a record of a type from plain data."""
    return TypeAdapter(RECORD_TYPES[record_type])


def dumps(project: Project) -> str:
    """The project as file text: two spaces, one value a line, keys in the order of the records, final newline."""
    return dumped(plain(project))


def dumped(project: dict[str, Any]) -> str:
    """A project's plain data as file text."""
    document = {"format": FORMAT, "version": VERSION, "project": project}
    return json.dumps(document, ensure_ascii=False, indent=1) + "\n"


def loads(text: str) -> Project:
    """The project in a file's text.

    Raises `ProjectError` with every problem: `file_broken` (no JSON; line and column), `file_foreign`,
    `file_version`, `file_too_large`, `value_unreadable` (one for each of the first wrong values), `name_…`.
    """
    parts = text.count("{") + text.count("[")
    if len(text) > MOST_BYTES or parts > MOST_PARTS:
        message = (
            f"The file holds {len(text) // 2**20:,} MB and {parts:,} records and lists; that is more than any project."
        )
        fix = f"Bring it to at most {MOST_BYTES // 2**20} MB and {MOST_PARTS:,} records and lists."
        raise ProjectError([Problem("file_too_large", message, fix, "file")])
    return from_data(_content(read_json(text)))


def read_json(text: str) -> Any:
    """Plain data from JSON text, every number of it finite. Raises `ProjectError` (`file_broken`)."""
    try:
        return json.loads(text, parse_constant=_no_number, parse_float=_finite, parse_int=_whole)
    except json.JSONDecodeError as error:
        where = f"line {error.lineno}"
        raise _broken(f"{error.msg} at {where}, column {error.colno}", where) from error
    except RecursionError as error:
        raise _broken("it nests deeper than any project does", "file") from error


def _no_number(text: str) -> Any:
    raise _broken(f"{text} is no number", "file")


def _finite(text: str) -> float:
    value = float(text)
    return value if math.isfinite(value) else _no_number(text[:20])


def _whole(text: str) -> int:
    return int(text) if len(text) <= MOST_DIGITS else _no_number(f"{text[:20]} … with {len(text)} digits")


def _broken(what: str, where: str) -> ProjectError:
    fix = "Mend that place, or file the project out again."
    return ProjectError([Problem("file_broken", f"The file is not readable JSON: {what}.", fix, where)])


def from_data(data: Any) -> Project:
    """The project in plain data. Raises `ProjectError` with every problem."""
    try:
        project = PROJECT.validate_python(data)
    except ValidationError as error:
        raise ProjectError(_told(error)) from error
    if problems := [*name_problems(project), *own_value_problems(project), *_outline_problems(project)]:
        raise ProjectError(problems)
    return project


def _outline_problems(project: Project) -> list[Problem]:
    found = (
        outline_problem(area.outline, f"level/{level.key}/area/{area.key}/outline")
        for level in project.levels
        for area in level.areas
    )
    return [problem for problem in found if problem is not None]


def _told(error: ValidationError) -> list[Problem]:
    """The first wrong values of a file, and how many more there are."""
    found = error.errors(include_url=False, include_context=False)
    problems = [value_problem(dict(e), "project") for e in found[:MOST_TOLD]]
    if left := len(found) - MOST_TOLD if len(found) > MOST_TOLD else 0:
        message = f"{left:,} more values of the file are wrong."
        problems.append(
            Problem("more_unreadable", message, "Mend those above first; the rest is often the same.", "project")
        )
    return problems


def value_problem(error: dict[str, Any], where: str) -> Problem:
    """One wrong value in our words: place, what was expected, what was found."""
    place = "/".join([where, *(str(part) for part in error["loc"])])
    found = repr(error.get("input"))
    found = found if len(found) <= 60 else found[:57] + "…"
    return Problem(
        "value_unreadable",
        f"{place}: {_lower(error['msg'])}; found {found}.",
        "Give a value of that type and within those limits.",
        place,
    )


def json_schema() -> dict[str, Any]:
    """The published JSON Schema of the project file."""
    project = PROJECT.json_schema(ref_template="#/$defs/{model}")
    definitions = project.pop("$defs")
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "Vocanta project file",
        "type": "object",
        "required": ["format", "version", "project"],
        "properties": {"format": {"const": FORMAT}, "version": {"const": VERSION}, "project": project},
        "$defs": definitions,
    }


def _content(document: Any) -> Any:
    if not isinstance(document, dict) or document.get("format") != FORMAT:
        raise ProjectError(
            [
                Problem(
                    "file_foreign",
                    "This is not a Vocanta project file.",
                    f"Choose a file whose first line names the format “{FORMAT}”.",
                    "format",
                )
            ]
        )
    version = document.get("version")
    if type(version) is int and version == 1:
        return brought_up_project(document.get("project"))
    if type(version) is not int or version != VERSION:
        raise ProjectError(
            [
                Problem(
                    "file_version",
                    f"The file has format version {version!r}; this program reads 1 to {VERSION}.",
                    "Open it in the version of Vocanta that wrote it and export it again.",
                    "version",
                )
            ]
        )
    return document.get("project")


def _lower(message: str) -> str:
    return message[:1].lower() + message[1:]
