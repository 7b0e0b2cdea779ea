"""Values of one record held against the core's record of that type; cue texts brought into canonical form."""

from __future__ import annotations

from typing import Any

from pydantic import ValidationError

from ..core.cuetext.reading import CueTextError, read_needs
from ..core.cuetext.references import reader_of, text_fields
from ..core.cuetext.writing import write_cue, write_needs, write_steps
from ..core.phrases.nodes import CueTree
from ..core.project.fileformat import adapter_of, value_problem
from ..core.project.outlines import outline_problem
from ..core.project.problems import Problem, ProjectError
from ..core.project.tree import own_data
from .rows import value_fields


def full_values(record_type: str, now: dict[str, Any] | None, values: dict[str, Any], place: str) -> dict[str, Any]:
    """The values to be stored: given ones over those of now, over the usual ones.

    Raises `ProjectError` with every problem: unknown fields, wrong values, texts that cannot be read.
    """
    unknown = [k for k in values if k not in value_fields(record_type)]
    if unknown:
        raise ProjectError(
            [
                Problem(
                    "field_unknown",
                    f"A {record_type} has no “{k}”.",
                    f"It has: {', '.join(value_fields(record_type))}.",
                    f"{place}/{k}",
                )
                for k in unknown
            ]
        )
    try:
        record = adapter_of(record_type).validate_python({"key": "x", **(now or {}), **values})
    except ValidationError as error:
        raise ProjectError([value_problem(dict(e), place) for e in error.errors()]) from error
    data = own_data(record_type, record)
    data.pop("key")
    problems: list[Problem] = []
    for field in text_fields(record_type):
        if field in values:
            data[field] = _canonical(record_type, field, data[field], f"{place}/{field}", problems)
    if record_type == "area" and "outline" in values:
        crossed = outline_problem(record.outline, f"{place}/outline")
        problems += [] if crossed is None else [crossed]
    if problems:
        raise ProjectError(problems)
    if now is None:
        return data
    return {k: v for k, v in data.items() if k in values}


def _canonical(record_type: str, field: str, text: str, place: str, problems: list[Problem]) -> str:
    reader = reader_of(record_type, field)
    assert reader is not None
    if not text.strip():
        return ""
    try:
        tree = reader(text)
    except CueTextError as error:
        problems += [p.at(place) for p in error.problems]
        return text
    if isinstance(tree, CueTree):
        return write_cue(tree)
    return write_needs(tree) if reader is read_needs else write_steps(tree)
