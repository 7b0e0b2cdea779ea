"""The project as a tree of records: walking it, and holding its names against the rules."""

from __future__ import annotations

import dataclasses
from collections.abc import Iterator
from dataclasses import dataclass
from functools import cache
from typing import Any

from .keeping import SPARSE
from .names import key_problem
from .problems import Problem
from .records import CHILDREN, SCOPED, Project, own_fields


@dataclass(frozen=True, slots=True)
class Place:
    """One record with its type and the chain of (type, key) that leads to it, outermost first."""

    type: str
    record: Any
    chain: tuple[tuple[str, str], ...]

    @property
    def path(self) -> str:
        """The place in words of the file: `level/glasshouse/object/sluice_wheel`."""
        return "/".join(f"{t}/{k}" for t, k in self.chain)

    @property
    def owner(self) -> tuple[str, str] | None:
        """Type and key of the owner, None right under the project."""
        return self.chain[-2] if len(self.chain) > 1 else None


def walk(project: Project) -> Iterator[Place]:
    """Every record below the project, owners before what they own, in file order."""
    for record_type, record in branches(project):
        yield from walk_branch(record_type, record)


def branches(project: Project) -> Iterator[tuple[str, Any]]:
    """The records right under the project with their types, in file order."""
    for field, child_type in CHILDREN["project"].items():
        for child in getattr(project, field):
            yield child_type, child


def walk_branch(record_type: str, record: Any, chain: tuple[tuple[str, str], ...] = ()) -> Iterator[Place]:
    """A record below what a chain leads to, and everything below it, owners before what they own."""
    place = Place(record_type, record, (*chain, (record_type, record.key)))
    yield place
    for field, child_type in CHILDREN.get(record_type, {}).items():
        for child in getattr(record, field):
            yield from walk_branch(child_type, child, place.chain)


def own_data(record_type: str, record: Any) -> dict[str, Any]:
    """A record's own fields as plain data, values inside it as dicts; children left out."""
    return {name: plain(getattr(record, name)) for name in own_fields(record_type)}


def plain(value: Any) -> Any:
    """A value as plain data: records and values as dicts, tuples as lists. Of values that come by the hundred, what is as
    usual is left out."""
    if dataclasses.is_dataclass(value) and not isinstance(value, type):
        names = _unusual(value) if isinstance(value, SPARSE) else own_names(type(value))
        return {name: plain(getattr(value, name)) for name in names}
    if isinstance(value, tuple | list):
        return [plain(v) for v in value]
    if isinstance(value, dict):
        return {k: plain(v) for k, v in value.items()}
    return value


@cache
def own_names(record: type[Any]) -> tuple[str, ...]:
    """The names of the fields of a record or value, in order."""
    return tuple(f.name for f in dataclasses.fields(record))


def _unusual(value: Any) -> list[str]:
    return [f.name for f in dataclasses.fields(value) if getattr(value, f.name) != f.default]


def name_problems(project: Project) -> list[Problem]:
    """Unreadable, reserved and doubled names, each with its place."""
    problems: list[Problem] = []
    taken: dict[str, str] = {}
    for place in walk(project):
        scope = "" if place.type not in SCOPED else "/".join(f"{t}/{k}" for t, k in place.chain[:-1])
        if place.type not in SCOPED and (bad := key_problem(place.record.key, path=place.path)):
            problems.append(bad)
        full = f"{scope}:{place.type if scope else ''}:{place.record.key}"
        if full in taken:
            problems.append(
                Problem(
                    "name_taken",
                    f"“{place.record.key}” is the name of two things.",
                    f"Rename one of them; the other is at {taken[full]}.",
                    place.path,
                )
            )
        taken[full] = place.path
    return problems
