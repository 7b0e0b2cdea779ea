"""A project as the core knows it, put together from its rows and kept in step with them: nothing here reads a database."""

from __future__ import annotations

import dataclasses
from collections.abc import Iterable
from typing import Any

from ..core.project.fileformat import adapter_of
from ..core.project.records import CHILDREN, SCOPED
from ..core.project.records import Project as CoreProject


@dataclasses.dataclass(frozen=True, slots=True)
class RowData:
    """A record as a row: its id, what it is called, where it stands, its version, its values."""

    id: int
    type: str
    key: str
    owner: int | None
    order: float
    version: int
    values: dict[str, Any]


@dataclasses.dataclass(frozen=True, slots=True)
class _Standing:
    """A record alone, and where it stands."""

    type: str
    owner: int | None
    place: tuple[float, int]
    alone: Any


class RowShelf:
    """The records of one project by id, each alone and with all it owns; the second is built when it is asked for."""

    def __init__(self, rows: Iterable[RowData]):
        self._standing: dict[int, _Standing] = {}
        self._below: dict[int, set[int]] = {}
        self._whole: dict[int, Any] = {}
        self._root = 0
        for row in rows:
            self.put(row)

    @property
    def whole(self) -> bool:
        """Whether there is a project at all."""
        return bool(self._root)

    def core(self) -> CoreProject:
        """The project with everything in it."""
        whole: CoreProject = self._built(self._root)
        return whole

    def put(self, row: RowData) -> None:
        """Take a row in, or in place of what it was."""
        self.forget(row.id)
        if row.type == "project":
            self._root = row.id
        alone = adapter_of(row.type).validate_python({"key": row.key, **row.values})
        owner = self._owner_of(row.type, row.owner)
        self._standing[row.id] = _Standing(row.type, owner, (row.order, row.id), alone)
        if owner is not None:
            self._below.setdefault(owner, set()).add(row.id)
        self._spoil(row.id)

    def forget(self, number: int) -> None:
        """Let go of a row."""
        self._spoil(number)
        one = self._standing.pop(number, None)
        if one is not None and one.owner is not None:
            self._below.get(one.owner, set()).discard(number)

    def addresses(self) -> dict[str, int]:
        """The id of every record by its address; `project` is the settings."""
        found = {"project": self._root}
        for number, one in self._standing.items():
            if number != self._root:
                found[self._address(number, one)] = number
        return found

    def _address(self, number: int, one: _Standing) -> str:
        own = f"{one.type}/{one.alone.key}"
        if one.type not in SCOPED or one.owner is None or one.owner not in self._standing:
            return own
        return f"{self._address(one.owner, self._standing[one.owner])}/{own}"

    def _owner_of(self, record_type: str, owner: int | None) -> int | None:
        """What stands right under the project belongs to its settings."""
        return self._root if owner is None and record_type != "project" else owner

    def _spoil(self, number: int | None) -> None:
        """What holds a record has to be built anew."""
        while number is not None:
            self._whole.pop(number, None)
            one = self._standing.get(number)
            number = one.owner if one is not None else None

    def _built(self, number: int) -> Any:
        if number not in self._whole:
            one = self._standing[number]
            below = sorted(self._below.get(number, ()), key=lambda i: self._standing[i].place)
            held = {
                field: tuple(self._built(i) for i in below if self._standing[i].type == kind)
                for field, kind in CHILDREN.get(one.type, {}).items()
            }
            self._whole[number] = dataclasses.replace(one.alone, **held) if below else one.alone
        return self._whole[number]
