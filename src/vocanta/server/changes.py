"""Columns overruled in an *as if*, as they stand in an address."""

from __future__ import annotations

from ..core.project.problems import Problem
from .listing import whole_number
from .refusals import Refused


def read_changes(text: str) -> tuple[tuple[str, int], ...]:
    """Pairs of column and value from `column=value,…`. Raises `Refused` 422."""
    found = []
    for pair in filter(None, text.split(",")):
        column, _, value = pair.partition("=")
        number = whole_number(value.removeprefix("-"))
        if number is None:
            raise Refused(
                422,
                "Change unreadable",
                [Problem("change_unreadable", f"“{pair[:60]}” is no change.", "Write column=number.", "changes")],
            )
        found.append((column, -number if value.startswith("-") else number))
    return tuple(found)
