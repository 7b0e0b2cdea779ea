"""A project as the core knows it, kept in step with its edits: only what changed is read and built anew."""

from __future__ import annotations

import dataclasses
from typing import Any

from ..core.project.records import CHILDREN
from ..core.project.records import Project as CoreProject
from . import bulk, models, store
from .rows import values_of
from .validating import adapter


@dataclasses.dataclass(frozen=True, slots=True)
class _Standing:
    """A record alone, and where it stands."""

    type: str
    owner: int | None
    place: tuple[float, int]
    alone: Any


class Shelf:
    """The records of one project by id, each alone and with all it owns; the second is built when it is asked for."""

    def __init__(self, project: models.Project):
        self._standing: dict[int, _Standing] = {}
        self._below: dict[int, set[int]] = {}
        self._whole: dict[int, Any] = {}
        self._root = 0
        for record in store.all_records(project):
            self._put(record)

    def renew(self, project: models.Project, changed: list[int], removed: list[int]) -> None:
        """Read some records again, and let go of others."""
        for number in removed:
            self._forget(number)
            self._standing.pop(number, None)
        found = bulk.read(project, changed)
        for number in changed:
            self._forget(number)
            if number in found:
                self._put(found[number])
            else:
                self._standing.pop(number, None)

    def core(self) -> CoreProject:
        """The project with everything in it."""
        whole: CoreProject = self._built(self._root)
        return whole

    def _put(self, record: models.Record) -> None:
        if record.type == "project":
            self._root = record.pk
        alone = adapter(record.type).validate_python({"key": record.key, **values_of(record)})
        owner = self._owner_of(record.type, record.owner_id)
        self._standing[record.pk] = _Standing(record.type, owner, (record.order, record.pk), alone)
        if owner is not None:
            self._below.setdefault(owner, set()).add(record.pk)
        self._spoil(record.pk)

    def _owner_of(self, record_type: str, owner: int | None) -> int | None:
        """What stands right under the project belongs to its settings."""
        return self._root if owner is None and record_type != "project" else owner

    def _forget(self, number: int) -> None:
        """Take a record out of what it stands in."""
        self._spoil(number)
        one = self._standing.get(number)
        if one is not None and one.owner is not None:
            self._below.get(one.owner, set()).discard(number)

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
