"""One edit being carried out: adding, setting, renaming and removing records, held against shape and meaning."""

from __future__ import annotations

import copy
from typing import Any

from django.db.models import Max
from pydantic import ValidationError

from ..core.cuetext.references import SIBLING, references_of, renamed_in_design, replaced, text_fields
from ..core.engine.wording import first_words
from ..core.project.designs import DESIGN, with_values
from ..core.project.fileformat import value_problem
from ..core.project.names import free_key, key_from, key_problem
from ..core.project.problems import Problem, ProjectError
from ..core.project.records import CHILDREN, SCOPED
from . import carrying, models, states, store
from .meaning import meaning_problems
from .refusals import Refused, not_found
from .shapes import ChangeAsked
from .validating import full_values


class Changing:
    """Carries out the changes of one edit. Everything happens inside the caller's transaction."""

    def __init__(self, project: models.Project):
        self.project = project
        self.before: dict[int, dict[str, Any] | None] = {}
        self.after: dict[int, dict[str, Any] | None] = {}
        self._records: dict[int, models.Record] = {}
        self._added: dict[int, models.Record] = {}
        self._meant: set[int] = set()
        """Records that the edit itself names; others only follow, name for name, and need not be held against names."""
        self._carried_out = 0
        self._first_sentence = ""
        self._problems: list[Problem] = []

    # --- the three changes

    def carry_out(self, change: ChangeAsked) -> None:
        """One change. Raises `Refused`; wrong values are gathered and raised by `finish`."""
        {
            "add": self._add,
            "set": self._set,
            "remove": self._remove,
            "rename_state": self._restate,
            "remove_state": self._restate,
            "clear_carried": self._clear_carried,
        }[change.do](change)
        self._carried_out += 1

    def _add(self, change: ChangeAsked) -> None:
        owner = self._owner(change)
        values = self._checked(change.type, None, change.values)
        if values is None:
            return
        key = self._new_key(change, values, owner)
        owner_id = owner.pk if owner else None
        record = models.RECORD_MODELS[change.type](
            project=self.project,
            type=change.type,
            key=key,
            owner_id=owner_id,
            order=self._order(change),
            scope=store.scope_of(change.type, owner_id),
        )
        store.put_values(record, values)
        record.save()
        self._added[self._carried_out] = record
        self._meant.add(record.pk)
        self._note(record, None)
        self._say(f"Added {self.shown(record)}")

    def _owner(self, change: ChangeAsked) -> models.Record | None:
        owner = self._get(change.owner) if change.owner is not None else None
        if change.under is not None:
            owner = self._added.get(change.under)
            if owner is None:
                raise not_found("owner", f"changes/{change.under}")
        owner_type = owner.type if owner else "project"
        if change.type not in CHILDREN.get(owner_type, {}).values():
            raise Refused(
                422,
                "Not possible there",
                [
                    Problem(
                        "wrong_owner",
                        f"A {owner_type} cannot own a {change.type or 'nameless thing'}.",
                        "Add it to one of: "
                        + ", ".join(t for t, kids in CHILDREN.items() if change.type in kids.values())
                        + ".",
                        "owner",
                    )
                ],
            )
        return owner

    def _new_key(self, change: ChangeAsked, values: dict[str, Any], owner: models.Record | None) -> str:
        scope = store.scope_of(change.type, owner.pk if owner else None)
        taken = set(models.Record.objects.filter(project=self.project, scope=scope).values_list("key", flat=True))
        if change.key is not None:
            self._hold_key(change.key, taken, f"{change.type}/{change.key}")
            return change.key
        if change.type == "cue" and owner is not None:
            taken |= self._inherited_keys(owner)
        shown = str(values.get("name") or (values.get("wordings") or [""])[0] or values.get("wording") or change.type)
        wanted = change.type[0] + "1" if change.type in ("cue", "reply") else key_from(shown[:40])
        if change.type in ("cue", "reply"):
            return next(f"{change.type[0]}{n}" for n in range(1, 10_000) if f"{change.type[0]}{n}" not in taken)
        return free_key(wanted, taken)

    def _inherited_keys(self, owner: models.Record) -> set[str]:
        """The keys of cues that one of the same key would replace, or be replaced by: a kind's and its objects'."""
        if owner.type == "object":
            kinds = models.Kind.objects.filter(project=self.project, key=models.Object.objects.get(pk=owner.pk).kind)
            owners = list(kinds.values_list("pk", flat=True))
        elif owner.type == "kind":
            placed = models.Object.objects.filter(project=self.project, kind=owner.key)
            owners = list(placed.values_list("pk", flat=True))
        else:
            return set()
        return set(models.Cue.objects.filter(owner_id__in=owners).values_list("key", flat=True))

    def _hold_key(self, key: str, taken: set[str], path: str) -> None:
        problem = key_problem(key, path=path)
        if problem is None and key in taken:
            problem = Problem(
                "name_taken", f"“{key}” is already the name of something.", f"Try {free_key(key, taken)}.", path
            )
        if problem:
            raise Refused(422, "Not a possible name", [problem])

    def _order(self, change: ChangeAsked) -> float:
        if change.order is not None:
            return change.order
        last = models.Record.objects.filter(project=self.project).aggregate(most=Max("order"))["most"]
        return float(last or 0.0) + 1.0

    def _set(self, change: ChangeAsked) -> None:
        record = self._get(change.id)
        if change.version is not None and change.version != record.version:
            raise self._stale(record, change)
        values = self._checked(record.type, record, change.values)
        if values is None:
            return
        was = store.snapshot(record)
        self._meant.add(record.pk)
        self._say(self._sentence_for(record, change))
        store.put_values(record, values)
        if change.order is not None:
            record.order = change.order
        if change.key is not None and change.key != record.key:
            self._rename(record, change.key)
        self._save(record, was)

    def _stale(self, record: models.Record, change: ChangeAsked) -> Refused:
        problem = Problem(
            "changed_since",
            f"{self.shown(record)} was changed in another tab while you were at it.",
            "Both are shown: keep yours, or take theirs.",
            f"record/{record.pk}",
        )
        return Refused(412, "Changed since", [problem], yours=change.values, theirs=store.row_of(record))

    def _rename(self, record: models.Record, key: str) -> None:
        taken = set(
            models.Record.objects.filter(project=self.project, scope=record.scope).values_list("key", flat=True)
        )
        self._hold_key(key, taken, f"{record.type}/{record.key}")
        old = record.key
        record.key = key
        self._rewrite(self._users([old], record), {old: key}, self._scope_key(record))

    def _scope_key(self, record: models.Record) -> str | None:
        """For a stage the key of its quest; None for names of the whole project."""
        if record.type not in SCOPED or record.owner_id is None:
            return None
        return models.Record.objects.get(pk=record.owner_id).key

    def _remove(self, change: ChangeAsked) -> None:
        record = self._get(change.id)
        if change.version is not None and change.version != record.version:
            raise self._stale(record, change)
        doomed = self._subtree(record)
        ids = {r.pk for r in doomed}
        names = [r.key for r in doomed if r.type not in ("cue", "reply", "wall")]
        users = [u for u in self._users(names, record) if u.pk not in ids]
        if users and not change.clean:
            raise self._in_use(record, users)
        self._rewrite(users, dict.fromkeys(names, "?"), self._scope_key(record))
        self._say(f"Deleted {self.shown(record)}")
        for gone in reversed(doomed):
            self.before.setdefault(gone.pk, store.snapshot(gone))
            self.after[gone.pk] = None
            self._records.pop(gone.pk, None)
        models.Record.objects.filter(pk=record.pk).delete()

    def _restate(self, change: ChangeAsked) -> None:
        """Rename or remove a state, and put that into every text, value and objective that names it."""
        record = self._get(change.id)
        old, name = str(change.values.get("state", "")), str(change.values.get("name", ""))
        new = str(change.values.get("to", "")) if change.do == "rename_state" else None
        path = f"{record.type}/{record.key}/states/{old}"
        if record.type not in ("kind", "object"):
            raise not_found("state", path)
        states.checked(states.states_of(self.project, record), old, new, path)
        verb = f"Renamed {old} to {new}" if new is not None else f"Removed the state {old}"
        self._say(f"{verb} of {self.shown(record)}")
        users = list(states.texts_naming(self.project, record, old, new))
        things = [record, *states.objects_of(self.project, record)] if record.type == "kind" else [record]
        for thing in things:
            self._put(self._get(thing.pk), states.restated(store.values_of(thing), thing.type, old, new, name))
        for user, values in users:
            self._put(self._get(user.pk), values)

    def _clear_carried(self, change: ChangeAsked) -> None:
        """Take away one thing that a copy carried over: its own value, or a step, which becomes a hole."""
        thing, place = self._get(change.id), str(change.values.get("place", ""))
        if not isinstance(thing, models.Object) or place not in thing.carried:
            raise not_found("thing carried over", place)
        self._say(f"Cleared what {self.shown(thing)} carried over")
        if place.startswith("own/"):
            self._put(thing, carrying.cleared_own(thing.own, thing.carried, place))
            return
        cue = models.Cue.objects.filter(owner_id=thing.pk, key=place.split("/")[1]).first()
        left = carrying.cleared_step(cue.text, thing.carried, place) if cue is not None else None
        if cue is None or left is None:
            raise not_found("step carried over", place)
        text, answers = left
        self._put(self._get(cue.pk), {"text": text})
        self._put(thing, {"carried": answers})

    def _put(self, record: models.Record, values: dict[str, Any]) -> None:
        """Store values that follow from a change, where they differ."""
        now = store.values_of(record)
        if any(now[k] != v for k, v in values.items()):
            was = store.snapshot(record)
            store.put_values(record, values)
            self._save(record, was)

    def _subtree(self, record: models.Record) -> list[models.Record]:
        found = [record]
        for child in models.Record.objects.filter(owner_id=record.pk).order_by("order", "pk"):
            found += self._subtree(models.RECORD_MODELS[child.type].objects.get(pk=child.pk))
        return found

    def _in_use(self, record: models.Record, users: list[models.Record]) -> Refused:
        places = [self.shown(u) for u in users]
        uses = [{"record": u.pk, "place": p} for u, p in zip(users, places, strict=True)]
        listed = ", ".join(places[:6])
        return Refused(
            409,
            "Still used",
            [
                Problem(
                    "in_use",
                    f"{self.shown(record)} is used by {listed}.",
                    "Agree to the cleaning up: every use becomes a “?” to be filled in. Or change the uses first.",
                    f"record/{record.pk}",
                )
            ],
            uses=uses,
        )

    # --- other records that name one

    def _users(self, names: list[str], record: models.Record) -> list[models.Record]:
        """The records that use a name of a record: of the whole project, or of its owner for a stage."""
        found = models.Reference.objects.filter(record__project=self.project, name__in=names)
        owner = self._scope_key(record)
        if owner is None:
            found = found.filter(name_owner="")
        else:
            found = found.filter(name_owner=owner) | found.filter(name_owner=SIBLING, record__owner_id=record.owner_id)
        ids = sorted(set(found.values_list("record_id", flat=True)))
        known = store.get_records(self.project, [i for i in ids if i not in self._records])
        return [self._records.get(i) or known[i] for i in ids]

    def _rewrite(self, users: list[models.Record], names: dict[str, str], owner: str | None) -> None:
        """Put other names in place of some, in texts and fields of records."""
        was = [store.snapshot(user) for user in users]
        for user in users:
            values = copy.deepcopy(store.values_of(user))
            used = [r for r in references_of(user.type, values) if r.name in names]
            for field in text_fields(user.type):
                spans = [(r.span, names[r.name]) for r in used if r.field == field and (r.owner or None) == owner]
                values[field] = replaced(values.get(field) or "", [(span, new) for span, new in spans if span])
            plain = {r.field for r in used if r.span is None}
            for holder in {f.partition(":")[0] for f in plain if ":" in f}:
                values[holder] = renamed_in_design(user.type, values[holder], names)
            for field in (f for f in plain if ":" not in f):
                hole = {"?": ""}
                value = values[field]
                put = [names.get(v, v) for v in value] if isinstance(value, list) else names.get(value, value)
                values[field] = put if isinstance(put, list) else hole.get(put, put)
            store.put_values(user, values)
        store.save_values(users)
        for user, before in zip(users, was, strict=True):
            self._note(user, before)

    # --- values

    def _checked(self, record_type: str, record: models.Record | None, values: dict[str, Any]) -> dict[str, Any] | None:
        """Values held against the core's record, texts made canonical; None where there are problems, which are kept."""
        try:
            return full_values(
                record_type,
                store.values_of(record) if record else None,
                values,
                f"{record_type}/{record.key}" if record else record_type,
            )
        except ProjectError as error:
            self._problems += error.problems
            return None

    def finish(self) -> None:
        """Hold what was changed against the project's names. Raises `Refused` 422 with every problem."""
        if not self._problems:
            changed = [r for i, r in self._records.items() if self.after.get(i) is not None and i in self._meant]
            self._problems += meaning_problems(self.project, changed, self.before)
            self._problems += self._own_value_problems(changed)
        if self._problems:
            raise Refused(422, "Cannot be used like that", self._problems)
        store.note_references(*self._records.values())

    def _own_value_problems(self, changed: list[models.Record]) -> list[Problem]:
        found: list[Problem] = []
        for record in changed:
            if isinstance(record, models.Object) and record.own:
                kind = models.Kind.objects.filter(project=self.project, key=record.kind).first()
                try:
                    DESIGN.validate_python(with_values(kind.design if kind else {}, record.own))
                except ValidationError as error:
                    found += [value_problem(dict(e), f"object/{record.key}/own") for e in error.errors()]
        return found

    # --- keeping account

    def _get(self, record_id: int | None) -> models.Record:
        if record_id in self._records:
            return self._records[record_id]
        record = store.get_record(self.project, record_id) if record_id is not None else None
        if record is None:
            raise not_found("thing", f"record/{record_id}")
        return record

    def _save(self, record: models.Record, was: dict[str, Any]) -> None:
        record.version += 1
        record.save()
        self._note(record, was)

    def _note(self, record: models.Record, was: dict[str, Any] | None) -> None:
        self._records[record.pk] = record
        self.before.setdefault(record.pk, was)
        self.after[record.pk] = store.snapshot(record)

    def touched_rows(self) -> list[dict[str, Any]]:
        """The records added and changed, as they travel."""
        return [store.row_of(r) for i, r in self._records.items() if self.after.get(i) is not None]

    def removed_ids(self) -> list[int]:
        """The ids of the records removed."""
        return [i for i, data in self.after.items() if data is None]

    def _say(self, sentence: str) -> None:
        self._first_sentence = self._first_sentence or sentence

    def sentence(self) -> str:
        """The edit in words, after its first change."""
        more = len(self.after) - 1
        return self._first_sentence + (
            f" and {more} more" if more > 0 and "Deleted" not in self._first_sentence else ""
        )

    @staticmethod
    def shown(record: models.Record) -> str:
        """A record as a sentence names it."""
        name = getattr(record, "name", "")
        if record.type == "line":
            return f"line “{first_words(store.values_of(record)['wordings'][0], 40)}”"
        if name:
            return str(name)
        owner = models.Record.objects.filter(pk=record.owner_id).first() if record.owner_id else None
        return f"{record.type} {record.key}" + (f" of {owner.key.replace('_', ' ')}" if owner else "")

    def _sentence_for(self, record: models.Record, change: ChangeAsked) -> str:
        fields = set(change.values)
        if fields and fields <= {"x_m", "y_m"}:
            return f"Moved {self.shown(record)}"
        if fields == {"turn_deg"}:
            return f"Turned {self.shown(record)}"
        if change.key is not None or fields == {"name"}:
            return f"Renamed {self.shown(record)}"
        return (
            f"Changed {', '.join(sorted(f.replace('_', ' ') for f in fields)) or 'the place'} of {self.shown(record)}"
        )
