"""A project as the core knows it, kept in step with its edits: only what changed is read and built anew."""

from __future__ import annotations

from . import bulk, models, store
from .refusals import not_found
from .rows import values_of
from .rowshelf import RowData, RowShelf


def row_data(record: models.Record) -> RowData:
    """A record as a row."""
    key, owner = record.key, record.owner_id
    return RowData(record.pk, record.type, key, owner, record.order, record.version, values_of(record))


class Shelf(RowShelf):
    """The records of one project in the database. Raises `Refused` 404 where it was deleted while it was asked for."""

    def __init__(self, project: models.Project):
        super().__init__(row_data(record) for record in store.all_records(project))
        if not self.whole:
            raise not_found("project")

    def renew(self, project: models.Project, changed: list[int], removed: list[int]) -> None:
        """Read some records again, and let go of others."""
        found = bulk.read(project, changed)
        for number in (*removed, *(i for i in changed if i not in found)):
            self.forget(number)
        for number in changed:
            if number in found:
                self.put(row_data(found[number]))
