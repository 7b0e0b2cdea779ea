"""One edit being carried out: adding, setting, renaming and removing records, held against shape and meaning."""

from __future__ import annotations

import copy
import re
from collections.abc import Iterable
from dataclasses import replace
from functools import cached_property
from typing import Any

from pydantic import ValidationError

from ..core.cuetext import carrying
from ..core.cuetext.following import hold_whenever, of_a_quest
from ..core.cuetext.reading import CueTextError, read_needs
from ..core.cuetext.references import (
    reader_of,
    references_of,
    renamed_in_design,
    renamed_in_endings,
    renamed_in_notes,
    replaced,
    text_fields,
)
from ..core.cuetext.roles import name_uses
from ..core.engine.wording import first_words
from ..core.project.assets import ASSET_FIELDS, asset_name
from ..core.project.designs import laid, leads_somewhere, with_values
from ..core.project.english import singular
from ..core.project.fileformat import value_problem
from ..core.project.names import followed, follows, free_key, key_from, key_problem
from ..core.project.placeholder import MADE
from ..core.project.problems import Problem, ProjectError
from ..core.project.records import CHILDREN, NOTING, SCOPED
from ..core.project.signs import free_sign
from . import models, states
from .meaning import meaning_problems
from .refusals import Refused, not_found
from .rows import made, scope_of, values_of
from .shapes import ChangeAsked
from .sheet import Sheet, of_scope
from .telling import rows_of
from .validating import full_values

NUMBERED = ("cue", "reply")
"""Types whose records are named by a letter and a number where nobody names them, each in its owner."""
UNNAMED = ("cue", "reply", "wall", *NOTING)
"""Types whose names nothing else can use."""
MADE_TO_WORK = ("kind", "item", "conversation")
"""What placing an object makes besides, so that it works at once."""
STATES = ("rename_state", "remove_state")
_VALUES = "values."
MOVABLE = (("line", "conversation"), ("objective", "stage"))
"""What can be put below another owner."""


def always_fits(line: models.Line) -> bool:
    """Whether an opener is said wherever it is read: nothing below it is."""
    return line.opener and not line.needs.strip() and line.repeat != "once"


def _would_shadow(line: models.Line, needs: str) -> bool:
    """Whether a line of these needs that comes in must stand above an opener to be said: that fits wherever the new one
    does, or asks for nothing of quests while the new one does."""
    if not line.opener or line.repeat == "once":
        return False
    try:
        mine, new = read_needs(line.needs), read_needs(needs)
    except CueTextError:
        return False
    return hold_whenever(mine, new) or (of_a_quest(new) and not of_a_quest(mine))


class Changing:
    """Carries out the changes of one edit. Everything happens inside the caller's transaction."""

    def __init__(self, project: models.Project):
        self.sheet = Sheet(project)
        self._added: dict[int, models.Record] = {}
        self._made_with: dict[int, list[int]] = {}
        """For each object that is to go, what the edit that placed it made besides."""
        self._meant: dict[int, models.Record] = {}
        """Records that the edit itself names; others only follow, name for name, and need not be held against names."""
        self._carried_out = 0
        self._first_sentence = ""
        self._problems: list[Problem] = []

    # --- reading ahead

    def read_for(self, changes: Iterable[ChangeAsked]) -> None:
        """Read what the changes will ask for, all of it by type, so that many cost as many questions as one."""
        changes = list(changes)
        sheet = self.sheet
        sheet.read(i for c in changes for i in (c.id, c.owner) if i is not None)
        sheet.read_owners(r for r in sheet.known() if r.type in UNNAMED or r.type in SCOPED)
        said_first = [c for c in changes if c.do == "add" and c.type == "line" and c.values.get("opener")]
        sheet.read_owned([c.owner for c in said_first if c.owner is not None and c.order is None])
        sheet.read(c.then_of for c in changes if c.then_of is not None)
        removed = [c.id for c in changes if c.do == "remove" and c.id is not None]
        told = [c.id for c in changes if c.do == "set" and c.id is not None and "own" in c.values]
        if removed or told:
            self._read_made_with([i for i in (*removed, *told) if isinstance(sheet.get(i), models.Object)])
            sheet.read_owned([*removed, *(i for made in self._made_with.values() for i in made)])
        sheet.read_users(self._names_in_question(changes))
        self._read_names(changes)
        asked = [(sheet.get(c.id), str(c.values.get("state", ""))) for c in changes if c.do in STATES]
        stated = [(record, state) for record, state in asked if record is not None]
        if stated:
            states.read_for(sheet, stated)
        thing = [c.id for c in changes if c.do == "clear_carried" and c.id is not None]
        if thing:
            sheet.read_owned(thing)

    def _read_made_with(self, things: list[int]) -> None:
        """Read what came into being with some objects, in the very edits that placed them."""
        placed = models.Change.objects.filter(record_id__in=things, before__isnull=True).values_list(
            "edit_id", "record_id"
        )
        by_edit = {edit: thing for edit, thing in placed if things}
        found = models.Change.objects.filter(edit_id__in=by_edit, before__isnull=True, after__type__in=MADE_TO_WORK)
        for edit, record in found.values_list("edit_id", "record_id") if by_edit else ():
            self._made_with.setdefault(by_edit[edit], []).append(record)
        self.sheet.read(i for made in self._made_with.values() for i in made)

    def _names_in_question(self, changes: list[ChangeAsked]) -> set[str]:
        """The names that will be taken away or changed."""
        found: set[str] = set()
        for change in changes:
            record = self.sheet.get(change.id)
            if record is not None and (change.do == "remove" or "own" in change.values):
                made = [r for i in self._made_with.get(record.pk, ()) if (r := self.sheet.get(i)) is not None]
                whole = (record, *made) if change.do == "remove" else made
                below = [r for one in whole for r in self.sheet.below(one)]
                found |= {r.key for r in below if r.type not in UNNAMED}
            elif record is not None and (change.key not in (None, record.key) or "name" in change.values):
                found.add(record.key)
        return found

    def _read_names(self, changes: list[ChangeAsked]) -> None:
        wanted, owners = set(), set()
        for change in changes:
            record_type = change.type if change.do == "add" else getattr(self.sheet.get(change.id), "type", "")
            if change.do == "add" or change.key is not None or "name" in change.values:
                if record_type in SCOPED:
                    owner = change.owner if change.do == "add" else getattr(self.sheet.get(change.id), "owner_id", None)
                    owners |= {owner} if owner is not None else set()
                else:
                    wanted.add(change.key or _wanted_key(change.type, change.values))
        scopes = [scope_of(t, owner) for owner in owners if owner is not None for t in sorted(SCOPED)]
        if wanted or scopes:
            self.sheet.read_names(wanted, scopes)
        alone = {
            c.owner for c in changes if c.do == "add" and c.type == "cue" and c.key is None and c.owner is not None
        }
        self._read_kin([r for i in sorted(alone) if (r := self.sheet.get(i)) is not None])

    def _read_kin(self, owners: list[models.Record]) -> None:
        """Read the cues of the kinds of some objects, and of the objects of some kinds."""
        kinds = {o.kind for o in owners if isinstance(o, models.Object)}
        keys = {o.key for o in owners if isinstance(o, models.Kind)}
        if not kinds and not keys:
            return
        project = self.sheet.project
        found = [*models.Kind.objects.filter(project=project, key__in=kinds).values_list("pk", flat=True)]
        found += models.Object.objects.filter(project=project, kind__in=keys).values_list("pk", flat=True)
        self.sheet.read(found)
        self.sheet.read_owned(found)

    # --- the changes

    def carry_out(self, change: ChangeAsked) -> None:
        """One change. Raises `Refused`; wrong values are gathered and raised by `finish`."""
        {
            "add": self._add,
            "set": self._set,
            "set_in_design": self._set_in_design,
            "move": self._move,
            "remove": self._remove,
            "rename_state": self._restate,
            "remove_state": self._restate,
            "clear_carried": self._clear_carried,
            "make_sound": self._make_sound,
        }[change.do](change)
        self._carried_out += 1

    def _add(self, change: ChangeAsked) -> None:
        owner = self._owner(change)
        values = self._checked(change.type, None, change.values)
        if values is None:
            return
        if change.type == "item":
            if "icon" not in change.values:
                values["icon"] = free_sign(self._signs)
            self._signs.add(values["icon"])
        owner_id = owner.pk if owner else None
        record = made(
            change.type,
            self.sheet.next_id(),
            self.sheet.project,
            key=self._new_key(change, owner),
            owner_id=owner_id,
            order=self._new_order(change, owner),
            scope=scope_of(change.type, owner_id),
        )
        self.sheet.add(record)
        self.sheet.put(record, values)
        self._added[self._carried_out] = self._meant[record.pk] = record
        self._say(f"Added {self.shown(record)}")
        before = self._get(change.then_of) if change.then_of is not None else None
        if isinstance(before, models.Line | models.Reply) and record.type == "line" and not before.then:
            self._put(before, {"then": record.key})

    @cached_property
    def _signs(self) -> set[str]:
        """The signs that items have, read once; what this edit makes is added."""
        return set(models.Item.objects.filter(project=self.sheet.project).values_list("icon", flat=True))

    @cached_property
    def _files(self) -> frozenset[str]:
        """The names of the project's files, read once."""
        return frozenset(self.sheet.project.assets.values_list("name", flat=True))

    def _new_order(self, change: ChangeAsked, owner: models.Record | None) -> float:
        """Where a new record stands: as asked; an opener above those that it would not be said below; else behind all."""
        if change.order is not None:
            return change.order
        opens = change.type == "line" and change.values.get("opener") and owner is not None
        lines = [r for r in self.sheet.below(owner) if isinstance(r, models.Line)] if opens and owner else []
        needs = str(change.values.get("needs", ""))
        at = next((i for i, line in enumerate(lines) if _would_shadow(line, needs)), None)
        if at is None:
            return self.sheet.next_order()
        above = lines[at - 1].order if at else lines[0].order - 1.0
        return (above + lines[at].order) / 2

    def _move(self, change: ChangeAsked) -> None:
        """Put a record that is named in the whole project below another owner of the same sort, behind what it owns."""
        record, owner = self._based(change), self._get(change.owner)
        if (record.type, owner.type) not in MOVABLE:
            message = f"A {record.type} cannot be moved to a {owner.type}."
            fix = "Move a line to a conversation, or an objective to a stage."
            raise Refused(422, "Not possible there", [Problem("wrong_owner", message, fix, "owner")])
        self.sheet.touch(record)
        record.owner_id = owner.pk
        record.order = self.sheet.next_order() if change.order is None else change.order
        self._meant[record.pk] = record
        self._say(f"Moved {self.shown(record)} to {self.shown(owner)}")

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

    def _new_key(self, change: ChangeAsked, owner: models.Record | None) -> str:
        taken = self.sheet.taken(scope_of(change.type, owner.pk if owner else None))
        if change.key is not None:
            self._hold_key(change.key, taken, f"{change.type}/{change.key}")
            return change.key
        if change.type in NUMBERED:
            inherited = self._inherited_keys(owner) if change.type == "cue" and owner is not None else set()
            names = (f"{change.type[0]}{n}" for n in range(1, 10_000))
            return next(n for n in names if n not in taken and n not in inherited)
        return free_key(_wanted_key(change.type, change.values), taken)

    def _inherited_keys(self, owner: models.Record) -> set[str]:
        """The keys of cues that one of the same key would replace, or be replaced by: a kind's and its objects'."""
        kin: set[int] = set()
        for one in self.sheet.known():
            if isinstance(owner, models.Object) and isinstance(one, models.Kind) and one.key == owner.kind:
                kin.add(one.pk)
            if isinstance(owner, models.Kind) and isinstance(one, models.Object) and one.kind == owner.key:
                kin.add(one.pk)
        return {r.key for r in self.sheet.known() if r.type == "cue" and r.owner_id in kin}

    def _hold_key(self, key: str, taken: set[str], path: str) -> None:
        problem = key_problem(key, path=path)
        if problem is None and key in taken:
            problem = Problem(
                "name_taken", f"“{key}” is already the name of something.", f"Try {free_key(key, taken)}.", path
            )
        if problem:
            raise Refused(422, "Not a possible name", [problem])

    def _set(self, change: ChangeAsked) -> None:
        record = self._based(change)
        values = self._checked(record.type, record, change.values)
        if values is None:
            return
        self._meant[record.pk] = record
        self._say(self._sentence_for(record, change))
        was = getattr(record, "name", "")
        before = dict(record.own) if isinstance(record, models.Object) else {}
        text = record.text if isinstance(record, models.Cue) else ""
        self.sheet.put(record, values)
        self._take_away_unnamed(record, before)
        self._look_at_carried(record, before, text, change)
        if change.order is not None:
            record.order = change.order
        key = self._key_for(record, change, was)
        if key != record.key:
            self._rename(record, key)

    def _set_in_design(self, change: ChangeAsked) -> None:
        """Put values into a kind's design, each at its path; what else is in it stays."""
        kind = self._based(change)
        if not isinstance(kind, models.Kind):
            raise not_found("kind", f"record/{kind.pk}")
        lost = [path for path in change.values if not leads_somewhere(kind.design, path)]
        if lost:
            raise Refused(
                422,
                "Not possible there",
                [
                    Problem(
                        "path_to_nothing",
                        f"There is no “{path}” in the design of {self.shown(kind)}.",
                        "Choose a value that the kind has.",
                        f"kind/{kind.key}/design/{path}",
                    )
                    for path in lost
                ],
            )
        design = with_values(kind.design, change.values)
        self._set(replace(change, values={"design": design}))

    def _key_for(self, record: models.Record, change: ChangeAsked, was: str) -> str:
        """The name in cues after a change: as asked; else it follows the shown name, unless somebody set it by hand."""
        if change.key is not None:
            return change.key
        name = getattr(record, "name", "")
        if record.type == "project" or name == was or not follows(record.key, was):
            return record.key
        return followed(record.key, name, self.sheet.taken(record.scope) - {record.key})

    def _rename(self, record: models.Record, key: str) -> None:
        self._hold_key(key, self.sheet.taken(record.scope), f"{record.type}/{record.key}")
        old, owner = record.key, self._scope_owner(record)
        self.sheet.rekey(record, key)
        self._rewrite(self.sheet.users([old], of_scope(owner)), {old: key}, owner)

    def _scope_owner(self, record: models.Record) -> models.Record | None:
        """For a stage its quest; None for names of the whole project."""
        return self.sheet.owner_of(record) if record.type in SCOPED else None

    def _remove(self, change: ChangeAsked) -> None:
        record = self._based(change)
        if record.type == "project":
            fix = "To delete the whole project, choose Delete in the list of projects."
            raise Refused(
                422,
                "Not possible",
                [Problem("settings_stay", "A project always has its settings.", fix, f"record/{record.pk}")],
            )
        doomed = self.sheet.below(record)
        left = self._left_over(record, doomed)
        doomed += left
        ids = {r.pk for r in doomed}
        names = [r.key for r in doomed if r.type not in UNNAMED]
        owner = self._scope_owner(record)
        doomed += [u for u in self.sheet.users(names, of_scope(owner)) if u.type == "aside" and u.pk not in ids]
        users = [u for u in self.sheet.needing(names, of_scope(owner)) if u.pk not in ids]
        if users and not change.clean:
            raise self._in_use(record, users)
        self._rewrite(users, dict.fromkeys(names, "?"), owner)
        made = [self.shown(r) for r in left if r.type in MADE_TO_WORK]
        self._say(f"Deleted {self.shown(record)}" + (f", with {', '.join(made)} that nobody else used" if made else ""))
        for gone in reversed(doomed):
            self.sheet.remove(gone)
            self._meant.pop(gone.pk, None)

    def _look_at_carried(self, record: models.Record, own: dict[str, Any], text: str, change: ChangeAsked) -> None:
        """What a copy carried over and is changed now has been looked at."""
        if isinstance(record, models.Object):
            if record.carried and "carried" not in change.values:
                record.carried = carrying.answered_by_edit((own, {}), (record.own, {}), record.carried)
        elif isinstance(record, models.Cue):
            thing = self.sheet.get(record.owner_id)
            if isinstance(thing, models.Object) and thing.carried and record.text != text:
                key = record.key
                answers = carrying.answered_by_edit(({}, {key: text}), ({}, {key: record.text}), thing.carried)
                self._put(thing, {"carried": answers})

    def _take_away_unnamed(self, record: models.Record, before: dict[str, Any]) -> None:
        """What an object was placed with and names no more goes, where nobody has touched it and nobody else uses it."""
        if not isinstance(record, models.Object) or record.pk not in self._made_with:
            return
        named = {str(v) for path, v in record.own.items() if path.startswith(_VALUES)}
        lost = {str(v) for path, v in before.items() if path.startswith(_VALUES)} - named
        made = [one for i in self._made_with[record.pk] if (one := self.sheet.get(i)) is not None]
        for root in made:
            gone = self.sheet.below(root)
            if (
                root.key in lost
                and root.version == 1
                and not self._used_beside(root, {record.pk, *(r.pk for r in gone)})
            ):
                for one in reversed(gone):
                    self.sheet.remove(one)
                    self._meant.pop(one.pk, None)

    def _left_over(self, record: models.Record, doomed: list[models.Record]) -> list[models.Record]:
        """What was made with an object, to make it work, and would be used by nobody once that is gone."""
        roots = [
            r for i in self._made_with.get(record.pk, ()) if (r := self.sheet.get(i)) is not None and r not in doomed
        ]
        while True:
            found = [b for root in roots for b in self.sheet.below(root)]
            ids = {r.pk for r in (*doomed, *found)}
            kept = [r for r in roots if not self._used_beside(r, ids)]
            if len(kept) == len(roots):
                return list({r.pk: r for r in found}.values())
            roots = kept

    def _used_beside(self, record: models.Record, ids: set[int]) -> bool:
        """Whether anything but some records uses one of the names that go with a record."""
        names = [r.key for r in self.sheet.below(record) if r.type not in UNNAMED]
        return any(u.pk not in ids for u in self.sheet.needing(names, of_scope(None)))

    def _restate(self, change: ChangeAsked) -> None:
        """Rename or remove a state, and put that into every text, value and objective that names it."""
        record = self._based(change)
        old, name = str(change.values.get("state", "")), str(change.values.get("name", ""))
        new = str(change.values.get("to", "")) if change.do == "rename_state" else None
        path = f"{record.type}/{record.key}/states/{old}"
        if record.type not in ("kind", "object"):
            raise not_found("state", path)
        states.checked(states.states_of(self.sheet, record), old, new, path)
        verb = f"Renamed {old} to {new}" if new is not None else f"Removed the state {old}"
        self._say(f"{verb} of {self.shown(record)}")
        users = list(states.texts_naming(self.sheet, record, old, new))
        things = [record, *states.objects_of(self.sheet, record)] if record.type == "kind" else [record]
        for thing in things:
            self._put(thing, states.restated(values_of(thing), thing.type, old, new, name))
        for user, values in users:
            self._put(user, values)

    def _clear_carried(self, change: ChangeAsked) -> None:
        """Take away one thing that a copy carried over: its own value, or a step, which becomes a hole."""
        thing, place = self._based(change), str(change.values.get("place", ""))
        if not isinstance(thing, models.Object) or place not in thing.carried:
            raise not_found("thing carried over", place)
        self._say(f"Cleared what {self.shown(thing)} carried over")
        if place.startswith("own/"):
            self._put(thing, carrying.cleared_own(thing.own, thing.carried, place))
            return
        key = place.split("/")[1]
        cue = next((c for c in self.sheet.below(thing) if isinstance(c, models.Cue) and c.key == key), None)
        left = carrying.cleared_step(cue.text, thing.carried, place) if cue is not None else None
        if cue is None or left is None:
            raise not_found("step carried over", place)
        text, answers = left
        self._put(cue, {"text": text})
        self._put(thing, {"carried": answers})

    def _make_sound(self, change: ChangeAsked) -> None:
        """Give a sound a file that is made on the spot; one that the same edit added is named by `under`."""
        sound = self._added.get(change.under) if change.under is not None else self._based(change)
        if not isinstance(sound, models.Sound):
            raise not_found("sound", f"record/{change.id}")
        try:
            how = MADE.validate_python(change.values)
        except ValidationError as error:
            self._problems += [value_problem(dict(e), f"sound/{sound.key}") for e in error.errors()]
            return
        data = how.data()
        name = asset_name(data, ".wav")
        models.Asset.objects.get_or_create(project=self.sheet.project, name=name, defaults={"data": data})
        self._say(f"Made {self.shown(sound)} a file")
        self._put(sound, {"file": name, "seconds": how.seconds})

    def _put(self, record: models.Record, values: dict[str, Any]) -> None:
        """Values that follow from a change, where they differ."""
        now = values_of(record)
        if any(now[k] != v for k, v in values.items()):
            self._meant[record.pk] = record
            self.sheet.put(record, values)

    def _in_use(self, record: models.Record, users: list[models.Record]) -> Refused:
        self.sheet.read_owners(users)
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

    def _rewrite(self, users: list[models.Record], names: dict[str, str], owner: models.Record | None) -> None:
        """Put other names in place of some, in texts and fields of records."""
        for user in users:
            self.sheet.put(user, _with_names(user, names, owner.key if owner else None))

    # --- values

    def _checked(self, record_type: str, record: models.Record | None, values: dict[str, Any]) -> dict[str, Any] | None:
        """Values held against the core's record, texts made canonical; None where there are problems, which are kept."""
        try:
            place = f"{record_type}/{record.key}" if record else record_type
            found = full_values(record_type, values_of(record) if record else None, values, place)
        except ProjectError as error:
            self._problems += error.problems
            return None
        for field in text_fields(record_type):
            if found.get(field):
                found[field] = self._with_money(record_type, field, found[field])
        asset = found.get(ASSET_FIELDS.get(record_type, ""), "")
        if asset and asset not in self._files:
            fix = "Give it its file by choosing one, which stores the file too."
            message = f"There is no file “{asset}” in this project."
            self._problems.append(Problem("asset_missing", message, fix, f"{place}/{ASSET_FIELDS[record_type]}"))
            return None
        return found

    def _with_money(self, record_type: str, field: str, text: str) -> str:
        """A text in which the project's own word for money stands for it, where nothing else has that name."""
        reader = reader_of(record_type, field)
        called = self._money_words
        if reader is None or not called.intersection(re.findall(r"[a-z0-9_]+", text)):
            return text
        uses = [use for use in name_uses(reader(text)) if use.word.text in called and "purse" in use.types]
        taken = models.Record.objects.filter(project=self.sheet.project, scope="", key__in=called)
        if not uses or taken.exists():
            return text
        return replaced(text, [(use.word.span, "money") for use in uses])

    @cached_property
    def _money_words(self) -> frozenset[str]:
        """How the project calls its money, one and several, as names in cues."""
        name = models.SettingsRecord.objects.get(project=self.sheet.project).money_name
        return frozenset({key_from(name), key_from(singular(name))} - {"money"})

    def finish(self) -> None:
        """Hold what was changed against the project's names, then store it. Raises `Refused` 422 with every problem."""
        meant = list(self._meant.values())
        if not self._problems:
            self._problems += meaning_problems(self.sheet, meant)
            self._problems += self._own_value_problems(meant)
        if self._problems:
            raise Refused(422, "Cannot be used like that", self._problems)
        self.sheet.write()

    def _own_value_problems(self, changed: list[models.Record]) -> list[Problem]:
        things = [r for r in changed if isinstance(r, models.Object) and r.own]
        if not things:
            return []
        found: list[Problem] = []
        project, keys = self.sheet.project, {t.kind for t in things}
        designs = dict(models.Kind.objects.filter(project=project, key__in=keys).values_list("key", "design"))
        designs |= {r.key: r.design for r in self.sheet.known() if isinstance(r, models.Kind)}
        for thing in things:
            try:
                laid(designs.get(thing.kind, {}), thing.own)
            except ValidationError as error:
                found += [value_problem(dict(e), f"object/{thing.key}/own") for e in error.errors()]
        return found

    # --- keeping account

    def _get(self, record_id: int | None) -> models.Record:
        record = self.sheet.get(record_id)
        if record is None:
            raise not_found("thing", f"record/{record_id}")
        return record

    def _based(self, change: ChangeAsked) -> models.Record:
        """The record of a change, held against the version that the change is based on: the one before this edit."""
        record = self._get(change.id)
        if change.version is None:
            problem = Problem(
                "version_missing",
                f"The change of {self.shown(record)} does not say which version it is based on.",
                "Send the version that the record was given with.",
                f"record/{record.pk}/version",
            )
            raise Refused(428, "Version missing", [problem])
        if change.version != self.sheet.based_on.get(record.pk):
            problem = Problem(
                "changed_since",
                f"{self.shown(record)} was changed in another tab while you were at it.",
                "Both are shown: keep yours, or take theirs.",
                f"record/{record.pk}",
            )
            raise Refused(
                412, "Changed since", [problem], yours=change.values, theirs=rows_of(self.sheet.project, [record])[0]
            )
        return record

    def _say(self, sentence: str) -> None:
        self._first_sentence = self._first_sentence or sentence

    def sentence(self) -> str:
        """The edit in words, after its first change."""
        more = len(self._meant) - 1
        return self._first_sentence + (
            f" and {more} more" if more > 0 and "Deleted" not in self._first_sentence else ""
        )

    def shown(self, record: models.Record) -> str:
        """A record as a sentence names it."""
        name = getattr(record, "name", "")
        if record.type == "line":
            return f"line “{first_words(values_of(record)['wordings'][0], 40)}”"
        if name:
            return str(name)
        owner = self.sheet.owner_of(record)
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


def _wanted_key(record_type: str, values: dict[str, Any]) -> str:
    """The name in cues that a new record would best have, after what is shown of it."""
    wordings = values.get("wordings")
    first = wordings[0] if isinstance(wordings, list) and wordings else ""
    return key_from(str(values.get("name") or first or record_type)[:40])


def _with_names(user: models.Record, names: dict[str, str], owner: str | None) -> dict[str, Any]:
    """A record's values with other names put in place of some, in its texts and fields."""
    values = copy.deepcopy(values_of(user))
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
        if user.type in NOTING and field not in ("in_level", "at"):
            values[field] = renamed_in_notes(user.type, field, value, names, None if owner is None else (owner,))
            continue
        if field == "endings":
            values[field] = renamed_in_endings(value, names)
            continue
        put = [names.get(v, v) for v in value] if isinstance(value, list) else names.get(value, value)
        values[field] = put if isinstance(put, list) else hole.get(put, put)
    return values
