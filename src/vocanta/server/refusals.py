"""Refusals of the server: a status and the problems, as they go out by RFC 9457."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from ..core.project.problems import Problem


class Refused(Exception):
    """Raised by services: an HTTP status, a title, every problem, and what else the screen needs to mend it."""

    def __init__(self, status: int, title: str, problems: Iterable[Problem], **more: Any):
        self.status, self.title, self.problems, self.more = status, title, tuple(problems), more
        super().__init__(title)


def not_found(what: str, place: str = "") -> Refused:
    """There is no such thing."""
    return Refused(
        404,
        f"No such {what}",
        [
            Problem(
                "not_found",
                f"There is no such {what}.",
                "It may have been deleted; go back to where it was listed.",
                place,
            )
        ],
    )
