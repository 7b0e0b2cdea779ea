"""Records read, written and erased many at once: as many questions as there are types, however many the records."""

from __future__ import annotations

import json
from collections.abc import Collection, Iterable, Iterator, Mapping, Sequence
from operator import attrgetter
from typing import Any

from django.db import connection
from django.db import models as db
from django.db.models import Value
from django.db.models.functions import Cast, Concat

from ..core.cuetext.references import references_of
from ..core.project.noting import Note, noted, unnoted
from . import models
from .rows import values_of

MOST_IDS = 10_000
"""So many ids in one question; SQLite takes no more than 32,766 values in one."""


def read(project: models.Project, ids: Collection[int]) -> dict[int, models.Record]:
    """Records in their own models, by id; what is not there, or of another project, is left out."""
    of_type: dict[str, list[int]] = {}
    for some in in_parts(sorted(ids)):
        for number, record_type in models.Record.objects.filter(project=project, pk__in=some).values_list("pk", "type"):
            of_type.setdefault(record_type, []).append(number)
    return {
        record.pk: record
        for record_type, numbers in of_type.items()
        for some in in_parts(numbers)
        for record in models.RECORD_MODELS[record_type].objects.filter(pk__in=some)
    }


def read_owned(project: models.Project, owners: Iterable[int], without: str = "") -> dict[int, models.Record]:
    """Everything below some records, at any depth, but for one type; one round of questions for each depth."""
    found: dict[int, models.Record] = {}
    edge = list(owners)
    while edge:
        below = [
            number
            for some in in_parts(edge)
            for number in models.Record.objects.filter(owner_id__in=some)
            .exclude(type=without)
            .values_list("pk", flat=True)
        ]
        found |= read(project, below)
        edge = below
    return found


def write(records: Sequence[models.Record], note: Note = unnoted) -> None:
    """Store records, new ones and old: the common table first, then each type's own.

    Django's own bulk insertion takes no models that have a parent's table, hence the statements here. Their ids are given.
    """
    note("Storing the records", 0, len(records))
    _put(models.Record, records)
    of_model: dict[type[models.Record], list[models.Record]] = {}
    for record in records:
        of_model.setdefault(type(record), []).append(record)
    done = 0
    for model, some in of_model.items():
        note("Storing the records", done, len(records))
        _put(model, some)
        done += len(some)


def _put(model: type[db.Model], records: Sequence[models.Record]) -> None:
    """Insert rows of one table, or overwrite those that are there, by their primary key."""
    fields = model._meta.local_concrete_fields
    key = connection.ops.quote_name(str(model._meta.pk.column))
    columns = [connection.ops.quote_name(str(f.column)) for f in fields]
    overwritten = ", ".join(f"{c} = excluded.{c}" for c in columns if c != key)
    _insert(
        model,
        fields,
        map(attrgetter(*(f.attname for f in fields)), records),
        f"ON CONFLICT ({key}) DO UPDATE SET {overwritten}",
    )


def _insert(model: type[db.Model], fields: Sequence[Any], rows: Iterable[Sequence[Any]], conflict: str = "") -> None:
    """Insert rows of plain values, as one statement said many times. What is kept as JSON is written as that."""
    quote = connection.ops.quote_name
    names, marks = ", ".join(quote(str(f.column)) for f in fields), ", ".join("%s" for _ in fields)
    as_json = [i for i, f in enumerate(fields) if isinstance(f, db.JSONField)]
    statement = f"INSERT INTO {quote(model._meta.db_table)} ({names}) VALUES ({marks}) {conflict}"
    prepared = [_with_json(row, as_json) for row in rows]
    if prepared:
        with connection.cursor() as cursor:
            cursor.executemany(statement, prepared)


def _with_json(row: Sequence[Any], places: Sequence[int]) -> list[Any]:
    put = list(row)
    for place in places:
        put[place] = json.dumps(put[place])
    return put


def first_free_id() -> int:
    """The id that the next new record takes. Ids of removed records never come again. Valid inside a transaction only."""
    with connection.cursor() as cursor:
        cursor.execute("SELECT seq FROM sqlite_sequence WHERE name = %s", [models.Record._meta.db_table])
        found = cursor.fetchone()
    return 1 if found is None else int(found[0]) + 1


def erase(records: Iterable[models.Record]) -> None:
    """Remove records that own nothing any more, with their references."""
    of_model: dict[type[db.Model], list[int]] = {}
    for record in records:
        of_model.setdefault(type(record), []).append(record.pk)
    gone = [number for numbers in of_model.values() for number in numbers]
    for some in in_parts(gone):
        models.Reference.objects.filter(record_id__in=some).delete()
    for model, numbers in of_model.items():
        _erase(model, numbers)
    _erase(models.Record, gone)


def _erase(model: type[db.Model], ids: Sequence[int]) -> None:
    """Rows of one table, without the questions about what hangs on them: that is gone already."""
    for some in in_parts(ids):
        found: Any = model._base_manager.filter(pk__in=some)
        found._raw_delete(found.db)


def clear_names(ids: Sequence[int]) -> None:
    """Give records names that nobody else has, before they are written with their new ones."""
    for some in in_parts(ids):
        models.Record.objects.filter(pk__in=some).update(key=Concat(Value("~"), Cast("pk", db.CharField())))


REFERENCE = [f for f in models.Reference._meta.local_concrete_fields if not f.primary_key]


def note_references(records: Sequence[models.Record], *, new: bool = False, note: Note = unnoted) -> None:
    """Store anew which names records use; of `new` ones none are stored yet."""
    for some in () if new else in_parts([r.pk for r in records]):
        models.Reference.objects.filter(record_id__in=some).delete()
    rows = (
        (record.pk, r.field, r.name, r.owner, r.span[0] if r.span else None, r.span[1] if r.span else None)
        for record in noted(records, "Noting who uses what", note)
        for r in references_of(record.type, values_of(record))
    )
    _insert(models.Reference, REFERENCE, rows)


def copy_references(ids: Mapping[int, int]) -> None:
    """Store for some records the references of others that they are copies of, by the old id."""
    names = [f.attname for f in REFERENCE]
    for some in in_parts(list(ids)):
        found = models.Reference.objects.filter(record_id__in=some).values_list(*names)
        _insert(models.Reference, REFERENCE, ((ids[row[0]], *row[1:]) for row in found))


def in_parts(ids: Sequence[int]) -> Iterator[Sequence[int]]:
    """Ids in parts that one question takes."""
    return (ids[start : start + MOST_IDS] for start in range(0, len(ids), MOST_IDS))
