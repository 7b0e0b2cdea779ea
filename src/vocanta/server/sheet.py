"""The records of one edit: each read once, by type, changed in memory, and written together at the end."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterable, Iterator
from typing import Any

from django.db.models import Max, Q

from ..core.cuetext.references import SIBLING, Reference, references_of
from ..core.project.records import NOTING, SCOPED
from . import bulk, models
from .rows import put_values, snapshot, values_of

MANY_NAMES = 40
"""Above so many wanted names all names of the project are read rather than those that begin alike."""


class Sheet:
    """What an edit knows and changes of a project.

    | a record is | what may happen | next |
    |---|---|---|
    | not read | `read`, `read_owned`, `read_users` | known |
    | known | `put`, or `touch` before its name or place is set | changed |
    | known, changed, added | `remove` | gone |
    | not there | `add` | added |

    `write` stores what was changed and added, and removes what is gone; nothing is stored before.
    """

    def __init__(self, project: models.Project):
        self.project = project
        self.before: dict[int, dict[str, Any] | None] = {}
        """The data of each touched record as it was before; None where there was none."""
        self.based_on: dict[int, int] = {}
        """The version of each record as it was read."""
        self._asked: set[int] = set()
        self._known: dict[int, models.Record] = {}
        self._changed: dict[int, models.Record] = {}
        self._gone: dict[int, models.Record] = {}
        self._by_name: dict[str, models.Record] = {}
        self._names: dict[str, set[str]] = {}
        self._references: dict[int, list[Reference]] = {}
        self._using: dict[str, set[int]] = {}
        self._used_before: dict[int, set[Reference]] = {}
        self._next_id = 0
        self._last_order: float | None = None

    # --- reading

    def read(self, ids: Iterable[int]) -> None:
        """Read records."""
        wanted = {i for i in ids if i not in self._asked}
        if wanted:
            self._asked |= wanted
            self._take(bulk.read(self.project, wanted))

    def read_owners(self, records: Iterable[models.Record]) -> None:
        """Read whatever owns some records, and its owners."""
        wanted = {r.owner_id for r in records if r.owner_id is not None}
        while wanted:
            self.read(wanted)
            above = {r.owner_id for i in wanted if (r := self._known.get(i)) is not None}
            wanted = {i for i in above if i is not None and i not in self._asked}

    def read_owned(self, ids: Collection[int], without: str = "") -> None:
        """Read everything below some records, but for one type."""
        self._take(bulk.read_owned(self.project, ids, without))

    def read_users(self, names: Collection[str], owners: Collection[str] = ()) -> None:
        """Read every record that uses one of some names, or a name that belongs to one of some owners."""
        if names or owners:
            asked = Q(name__in=list(names)) | Q(name_owner__in=list(owners))
            found = models.Reference.objects.filter(asked, record__project=self.project)
            self.read(found.values_list("record_id", flat=True).distinct())

    def read_named(self, keys: Collection[str]) -> None:
        """Read the records of project-wide names."""
        asked = models.Record.objects.filter(project=self.project, scope="", key__in=list(keys))
        self.read(asked.values_list("pk", flat=True))

    def read_holders(self, names: Collection[tuple[str, str]]) -> None:
        """Read the records that have some (scope, name) pairs."""
        of_scope: dict[str, list[str]] = {}
        for scope, key in names:
            of_scope.setdefault(scope, []).append(key)
        asked = Q(pk__in=[])
        for scope, keys in of_scope.items():
            asked |= Q(scope=scope, key__in=keys)
        self.read(models.Record.objects.filter(asked, project=self.project).values_list("pk", flat=True))

    def holder(self, scope: str, key: str) -> models.Record | None:
        """Who has a name among what was read."""
        if not scope:
            return self.named(key)
        return next((r for r in self._known.values() if r.scope == scope and r.key == key), None)

    def _take(self, found: dict[int, models.Record]) -> None:
        self._asked |= found.keys()
        for number, record in found.items():
            if number not in self._known and number not in self._gone:
                self._know(record)
                self.based_on[number] = record.version

    def _know(self, record: models.Record) -> None:
        self._known[record.pk] = record
        if not record.scope:
            self._by_name[record.key] = record

    def _unname(self, record: models.Record) -> None:
        if self._by_name.get(record.key) is record:
            del self._by_name[record.key]

    def get(self, record_id: int | None) -> models.Record | None:
        """A record, None where there is none."""
        if record_id is None or record_id in self._gone:
            return None
        if record_id not in self._known and record_id not in self._asked:
            self.read([record_id])
        return self._known.get(record_id)

    def known(self) -> Iterator[models.Record]:
        """Every record read or added so far that is still there."""
        return iter(list(self._known.values()))

    def owner_of(self, record: models.Record) -> models.Record | None:
        """Its owner, None right under the project."""
        return self.get(record.owner_id)

    def named(self, key: str) -> models.Record | None:
        """The record of a project-wide name among those read; the settings, which share no names, are none."""
        return self._by_name.get(key)

    def below(self, record: models.Record) -> list[models.Record]:
        """A record and everything it owns, owners first, among what was read."""
        kids: dict[int | None, list[models.Record]] = {}
        for one in self._known.values():
            kids.setdefault(one.owner_id, []).append(one)
        found = [record]
        for one in found:
            found += sorted(kids.get(one.pk, []), key=lambda r: (r.order, r.pk))
        return found

    def references(self, record: models.Record) -> list[Reference]:
        """The names that a known record uses now."""
        if record.pk not in self._references:
            found = self._references[record.pk] = list(references_of(record.type, values_of(record)))
            for one in found:
                self._using.setdefault(one.name, set()).add(record.pk)
        return self._references[record.pk]

    def users(self, names: Collection[str], uses: Callable[[models.Record, Reference], bool]) -> list[models.Record]:
        """Of what was read, the records with a use of one of some names that counts, in order of creation."""
        for record in self.known():
            self.references(record)
        ids = sorted({i for name in names for i in self._using.get(name, ()) if i in self._known})
        found = [self._known[i] for i in ids]
        return [r for r in found if any(u.name in names and uses(r, u) for u in self.references(r))]

    def needing(self, names: Collection[str], uses: Callable[[models.Record, Reference], bool]) -> list[models.Record]:
        """The same without those that only note a name."""
        return [record for record in self.users(names, uses) if record.type not in NOTING]

    # --- names and order

    def read_names(self, wanted: Collection[str], scopes: Collection[str] = ()) -> None:
        """Learn which names are taken: of the whole project those that begin like a wanted one, of a scope all."""
        of_project = Q(scope="")
        if 0 < len(wanted) <= MANY_NAMES:
            alike = Q()
            for name in wanted:
                alike |= Q(key__startswith=name)
            of_project &= alike
        asked = Q(scope__in=list(scopes)) | of_project if wanted else Q(scope__in=list(scopes))
        found = models.Record.objects.filter(asked, project=self.project).values_list("scope", "key")
        for scope, key in found:
            self.taken(scope).add(key)

    def taken(self, scope: str) -> set[str]:
        """The names known to be taken in a scope."""
        return self._names.setdefault(scope, set())

    def next_order(self) -> float:
        """A place behind all others."""
        if self._last_order is None:
            found = models.Record.objects.filter(project=self.project).aggregate(most=Max("order"))
            self._last_order = float(found["most"] or 0.0)
        self._last_order += 1.0
        return self._last_order

    # --- changing

    def next_id(self) -> int:
        """The id of a record that is about to be added."""
        self._next_id = self._next_id + 1 if self._next_id else bulk.first_free_id()
        return self._next_id

    def add(self, record: models.Record) -> None:
        """Take in a new record, or one that comes back, with its id."""
        self._gone.pop(record.pk, None)
        self._know(record)
        self._changed[record.pk] = record
        self.before.setdefault(record.pk, None)
        self.taken(record.scope).add(record.key)

    def put(self, record: models.Record, values: dict[str, Any]) -> None:
        """Give a record other values."""
        self.touch(record)
        self._used_before.setdefault(
            record.pk, set() if self.before[record.pk] is None else set(self.references(record))
        )
        put_values(record, values)
        self._references.pop(record.pk, None)

    def touch(self, record: models.Record) -> None:
        """Say that a record is about to be changed; its version counts on once an edit."""
        if record.pk not in self.before:
            self.before[record.pk] = snapshot(record)
        if record.pk not in self._changed:
            record.version += 1
            self._changed[record.pk] = record

    def rekey(self, record: models.Record, key: str) -> None:
        """Give a touched record another name."""
        self.taken(record.scope).discard(record.key)
        self.taken(record.scope).add(key)
        self._unname(record)
        record.key = key
        self._know(record)

    def remove(self, record: models.Record) -> None:
        """Take a record away."""
        if record.pk not in self.before:
            self.before[record.pk] = snapshot(record)
        self._changed.pop(record.pk, None)
        self._known.pop(record.pk, None)
        self._unname(record)
        self._gone[record.pk] = record
        self.taken(record.scope).discard(record.key)

    # --- the outcome

    def after(self, record_id: int) -> dict[str, Any] | None:
        """The data of a touched record as it is now; None where there is none."""
        record = self._changed.get(record_id)
        return None if record is None else snapshot(record)

    def changed(self) -> list[models.Record]:
        """The records added and changed."""
        return list(self._changed.values())

    def removed(self) -> list[int]:
        """The ids of the records that were there and are gone."""
        return [i for i in self._gone if self.before[i] is not None]

    def removed_keys(self) -> set[str]:
        """The names that stand for nothing any more: of what is gone, and those that were changed."""
        was = {data["key"] for i, data in self.before.items() if data is not None and data["type"] not in SCOPED}
        return was - {r.key for r in self._changed.values() if r.type not in SCOPED}

    def write(self) -> None:
        """Store everything."""
        bulk.erase(r for i, r in self._gone.items() if self.before[i] is not None)
        self._part_names()
        bulk.write(self.changed())
        bulk.note_references([r for r in self.changed() if self._uses_others(r)])

    def _uses_others(self, record: models.Record) -> bool:
        """Whether a record uses other names than before, or in other places."""
        return self._used_before.get(record.pk, set()) != set(self.references(record))

    def _part_names(self) -> None:
        """Where several records take other names, one may take another's: names go out of the way first."""
        renamed = [r.pk for r in self._changed.values() if (was := self.before[r.pk]) and was["key"] != r.key]
        if len(renamed) > 1:
            bulk.clear_names(renamed)


def of_scope(owner: models.Record | None) -> Callable[[models.Record, Reference], bool]:
    """Which uses of a name mean one of the whole project (without an owner), or one that the owner gives: a stage."""

    def uses(record: models.Record, found: Reference) -> bool:
        if owner is None:
            return not found.owner
        return found.owner == owner.key or (found.owner == SIBLING and record.owner_id == owner.pk)

    return uses
