"""What is wrong, where, and how to mend it: the one shape that travels from the core to the screen."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from typing_extensions import TypedDict


class ProblemData(TypedDict):
    """One thing wrong as it travels: what, how to mend it, and where."""

    code: str
    message: str
    fix: str
    path: str


@dataclass(frozen=True, slots=True)
class Problem:
    """One thing wrong. `path` names the place, outermost first, parts joined by `/`."""

    code: str
    message: str
    fix: str
    path: str = ""

    def as_dict(self) -> ProblemData:
        """The problem as plain data, ready for JSON."""
        return {"code": self.code, "message": self.message, "fix": self.fix, "path": self.path}

    def at(self, prefix: str) -> Problem:
        """The same problem, told from further out."""
        path = f"{prefix}/{self.path}" if self.path else prefix
        return Problem(self.code, self.message, self.fix, path)


class ProjectError(Exception):
    """Raised with every problem of an input at once, never the first alone."""

    def __init__(self, problems: Iterable[Problem]):
        self.problems = tuple(problems)
        super().__init__("; ".join(p.message for p in self.problems))
