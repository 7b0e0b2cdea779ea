"""Undo and redo: an edit takes back what it did itself, and nothing of anybody else's."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from typing import Any

from django.db.models import Max

from ..core.project.problems import Problem
from ..core.project.records import CHILDREN, NOTING, SCOPED
from . import edits, models, states
from .refusals import Refused
from .rows import made, snapshot
from .shapes import EditDone, TabAsked
from .sheet import Sheet, of_scope
from .writing import writing

Data = dict[str, Any]


@dataclass(frozen=True)
class Turned:
    """One record of an edit that is turned: its data as the edit left it, and as they shall be; None is no record."""

    record_id: int
    left: Data | None
    wanted: Data | None


def undo(project_id: int, asked: TabAsked) -> EditDone:
    """Take back the last edit of a tab. Raises `Refused` 409 where there is none or somebody built on it since."""
    return _turn(project_id, asked, "done", "undone")


def redo(project_id: int, asked: TabAsked) -> EditDone:
    """Do again the edit of a tab that was undone last."""
    return _turn(project_id, asked, "undone", "done")


def _turn(project_id: int, asked: TabAsked, found_as: str, becomes: str) -> EditDone:
    tab = asked.tab
    with writing():
        known = edits.answered_before(project_id, tab, asked.ask)
        if known is not None:
            return known
        project = edits.locked(project_id)
        edit = edits.next_edit(project, tab, found_as)
        if edit is None:
            word = "undo" if found_as == "done" else "redo"
            problem = Problem(
                f"nothing_to_{word}",
                f"There is nothing to {word} in this tab.",
                "Edits of other tabs are undone in History.",
                "edit",
            )
            raise Refused(409, f"Nothing to {word}", [problem])
        sheet = turned(project, _changes(edit, back=found_as == "done"))
        edit.state = becomes
        edit.save()
        edits.note_asked(edit, tab, asked.ask)
        return edits.done(project, tab, sheet, *edits.can_undo(project, tab))


def undo_one(project_id: int, number: int, asked: TabAsked) -> EditDone:
    """Take back one edit of any tab, as an edit of this tab. Raises `Refused` 404, 409 where it was built on since."""
    with writing():
        known = edits.answered_before(project_id, asked.tab, asked.ask)
        if known is not None:
            return known
        project = edits.locked(project_id)
        edit = models.Edit.objects.filter(project=project, number=number, state="done").first()
        if edit is None:
            problem = Problem("not_found", "There is no such edit to undo.", "Choose one from the history.", "edit")
            raise Refused(404, "No such edit", [problem])
        sheet = turned(project, _changes(edit, back=True))
        undone = models.Edit.objects.create(
            project=project,
            number=project.edit_number,
            tab=asked.tab,
            name=f"Undid: {edit.name}"[:300],
        )
        edits.note_asked(undone, asked.tab, asked.ask)
        edits.write_changes(undone, sheet)
        return edits.done(project, asked.tab, sheet, undone.name, edits.can_undo(project, asked.tab)[1])


def _changes(edit: models.Edit, *, back: bool) -> list[Turned]:
    found = edit.changes.order_by("pk")
    return [Turned(c.record_id, *((c.after, c.before) if back else (c.before, c.after))) for c in found]


def turned(project: models.Project, changes: list[Turned]) -> Sheet:
    """The records as they shall be, stored. Raises `Refused` 409 with both sides where that would take more with it."""
    sheet = Sheet(project)
    sheet.read([t.record_id for t in changes] + [t.wanted["owner"] for t in changes if t.wanted and t.wanted["owner"]])
    sheet.read_owned([t.record_id for t in changes if t.wanted is None and t.left is not None])
    _read_names(sheet, changes)
    _refuse_if_any([*_changed_since(sheet, changes), *_filled_since(sheet, changes), *_gone_since(sheet, changes)])
    given = [(r, _states(snapshot(r)["values"])) for t in changes if (r := sheet.get(t.record_id)) is not None]
    _restore(sheet, changes)
    _refuse_if_any([*_used_since(sheet, changes), *_states_used_since(sheet, given), *_naming_nothing(sheet)])
    sheet.write()
    return sheet


# --- what stands in the way


@dataclass(frozen=True)
class InTheWay:
    """Why an edit cannot be turned: the problem, the record, and both sides of it."""

    problem: Problem
    record_id: int
    yours: Data | None
    theirs: Data | None


def _refuse_if_any(found: Iterable[InTheWay]) -> None:
    every = list(found)
    if every:
        sides = [{"record": w.record_id, "yours": w.yours, "theirs": w.theirs} for w in every]
        raise Refused(409, "Changed since", [w.problem for w in every], sides=sides)


def _in_the_way(code: str, message: str, fix: str, record_id: int, yours: Data | None, theirs: Data | None) -> InTheWay:
    return InTheWay(Problem(code, message, fix, f"record/{record_id}"), record_id, yours, theirs)


def _named(data: Data | None) -> str:
    if data is None:
        return "it"
    return str(data["values"].get("name") or data["key"])


def _changed_since(sheet: Sheet, changes: list[Turned]) -> Iterator[InTheWay]:
    """Records that are no longer as the edit left them; only fields that the edit changed are compared."""
    for one in changes:
        record = sheet.get(one.record_id)
        now = None if record is None else snapshot(record)
        if (now is None) != (one.left is None) or (now and one.left and not _same_where_changed(now, one)):
            message = f"“{_named(now or one.left)}” was changed by somebody else since."
            fix = "Look at both in History and choose; nothing was changed now."
            yield _in_the_way("changed_since", message, fix, one.record_id, one.left, now)


def _same_where_changed(now: Data, one: Turned) -> bool:
    assert one.left is not None
    flat_now, flat_left = _flat(now), _flat(one.left)
    if one.wanted is None:
        return flat_now == flat_left
    flat_wanted = _flat(one.wanted)
    return all(flat_now.get(k) == v for k, v in flat_left.items() if flat_wanted.get(k) != v)


def _flat(data: Data) -> Data:
    return {**{k: v for k, v in data.items() if k != "values"}, **{f"values.{k}": v for k, v in data["values"].items()}}


def _filled_since(sheet: Sheet, changes: list[Turned]) -> Iterator[InTheWay]:
    """Records that somebody put into what would be taken away."""
    own = {t.record_id for t in changes}
    for one in changes:
        record = sheet.get(one.record_id)
        if one.wanted is not None or record is None:
            continue
        for below in sheet.below(record):
            if below.pk not in own:
                now = snapshot(below)
                message = f"{below.type.capitalize()} “{_named(now)}” was put into “{_named(one.left)}” since."
                fix = "Move or delete it first, then undo again; nothing was changed now."
                yield _in_the_way("filled_since", message, fix, below.pk, one.left, now)


def _gone_since(sheet: Sheet, changes: list[Turned]) -> Iterator[InTheWay]:
    """Owners that are gone by now, and names that somebody else has taken."""
    back = {t.record_id for t in changes if t.wanted is not None}
    moving = {t.record_id for t in changes}
    for one in changes:
        wanted = one.wanted
        if wanted is None:
            continue
        owner = wanted["owner"]
        if owner is not None and owner not in back and sheet.get(owner) is None:
            message = f"What “{_named(wanted)}” stood in was deleted since."
            yield _in_the_way("owner_gone", message, "Bring that back first, in History.", one.record_id, wanted, None)
        holder = sheet.holder(wanted["scope"], wanted["key"])
        if holder is not None and holder.pk not in moving:
            message = f"“{wanted['key']}” is the name of something else by now."
            fix = "Give that another name in cues first, then undo again; nothing was changed now."
            yield _in_the_way("name_taken", message, fix, holder.pk, wanted, snapshot(holder))


def _used_since(sheet: Sheet, changes: list[Turned]) -> Iterator[InTheWay]:
    """Records outside the edit that use a name which is no longer given."""
    own = {t.record_id for t in changes}
    of_owner: dict[int | None, set[str]] = {}
    for one in changes:
        if one.left is not None and (one.wanted is None or one.wanted["key"] != one.left["key"]):
            owner = one.left["owner"] if one.left["type"] in SCOPED else None
            of_owner.setdefault(owner, set()).add(one.left["key"])
    sheet.read_users({name for names in of_owner.values() for name in names})
    for owner_id, names in of_owner.items():
        lost = {n for n in names if owner_id is not None or sheet.named(n) is None}
        owner = sheet.get(owner_id)
        if owner_id is None or owner is not None:
            for user in sheet.needing(lost, of_scope(owner)):
                if user.pk not in own:
                    yield _uses_it(sheet, user, ", ".join(f"“{n}”" for n in sorted(lost)))


def _states_used_since(sheet: Sheet, given: list[tuple[models.Record, set[str]]]) -> Iterator[InTheWay]:
    """Records outside the edit that name a state which is no longer there."""
    asked = [
        (record, state)
        for record, before in given
        if sheet.get(record.pk) is record
        for state in sorted(before - _states(snapshot(record)["values"]))
    ]
    if asked:
        states.read_for(sheet, asked)
    changed = {r.pk for r in sheet.changed()}
    for record, state in asked:
        for user, _ in states.texts_naming(sheet, record, state, None):
            if user.pk not in changed:
                yield _uses_it(sheet, user, f"the state “{state}”")


def _states(values: Data) -> set[str]:
    """The states that a kind's design, or an object's own values, declare."""
    found = (values.get("design") or {}).get("states") or (values.get("own") or {}).get("states") or []
    return {s["key"] for s in found}


def _uses_it(sheet: Sheet, user: models.Record, what: str) -> InTheWay:
    owner = sheet.owner_of(user)
    place = _named(snapshot(owner)) if owner is not None and user.type in ("cue", "reply") else _named(snapshot(user))
    message = f"{place} uses {what} by now."
    fix = "Change that use first, then undo again; nothing was changed now."
    return _in_the_way("used_since", message, fix, user.pk, None, snapshot(user))


def _naming_nothing(sheet: Sheet) -> Iterator[InTheWay]:
    """Records that come back with a name of something that is gone by now; what only notes it comes back all the same."""
    changed = [r for r in sheet.changed() if r.type not in NOTING]
    fields = {r.pk: _new_fields(sheet, r) for r in changed}
    used = {r.pk: [u for u in sheet.references(r) if u.field.partition(":")[0] in fields[r.pk]] for r in changed}
    plain = {i: {u.name for u in some if not u.owner and ":values." not in u.field} for i, some in used.items()}
    sheet.read_named(set().union(*plain.values()))
    for record in changed:
        for name in sorted(n for n in plain[record.pk] if sheet.named(n) is None):
            message = f"“{_named(snapshot(record))}” names “{name}”, which is gone by now."
            fix = f"Bring “{name}” back first, in History; nothing was changed now."
            yield _in_the_way("names_nothing", message, fix, record.pk, snapshot(record), None)


def _new_fields(sheet: Sheet, record: models.Record) -> set[str]:
    was, now = sheet.before[record.pk], snapshot(record)["values"]
    return {f for f, v in now.items() if was is None or was["values"].get(f) != v}


# --- putting back


def _read_names(sheet: Sheet, changes: list[Turned]) -> None:
    """Read who has the names that shall be given."""
    wanted = [t.wanted for t in changes if t.wanted is not None]
    sheet.read_holders({(w["scope"], w["key"]) for w in wanted})


def _restore(sheet: Sheet, changes: list[Turned]) -> None:
    """Put records into a state they were in; removed ones come back with their ids, owners before what they own."""
    for one in changes:
        record = sheet.get(one.record_id)
        if one.wanted is None and record is not None:
            sheet.remove(record)
    back = [t for t in changes if t.wanted is not None and t.left is None]
    newest = _last_version(sheet.project) if back else 0
    for one in sorted(back, key=lambda t: _DEPTH[(t.wanted or {})["type"]]):
        assert one.wanted is not None
        sheet.add(_revived(sheet.project, one.record_id, one.wanted, newest + 1))
        sheet.put(_there(sheet, one), one.wanted["values"])
    for one in changes:
        if one.wanted is not None and one.left is not None:
            _put_back(sheet, _there(sheet, one), one.left, one.wanted)


def _there(sheet: Sheet, one: Turned) -> models.Record:
    record = sheet.get(one.record_id)
    assert record is not None, one.record_id
    return record


def _revived(project: models.Project, record_id: int, data: Data, version: int) -> models.Record:
    common = {k: data[k] for k in ("key", "scope", "order")}
    return made(data["type"], record_id, project, owner_id=data["owner"], version=version, **common)


def _put_back(sheet: Sheet, record: models.Record, left: Data, wanted: Data) -> None:
    """Only what the edit changed."""
    sheet.put(record, {k: v for k, v in wanted["values"].items() if left["values"].get(k) != v})
    if left["key"] != wanted["key"]:
        sheet.rekey(record, wanted["key"])
    if left["order"] != wanted["order"]:
        record.order = wanted["order"]
    if left["owner"] != wanted["owner"]:
        record.owner_id = wanted["owner"]


def _last_version(project: models.Project) -> int:
    return models.Record.objects.filter(project=project).aggregate(most=Max("version"))["most"] or 1


def _depths() -> dict[str, int]:
    """How deep each type of record lies under the project."""
    found = {"project": 0}
    for owner, kids in CHILDREN.items():
        for kid in kids.values():
            found[kid] = max(found.get(kid, 0), found.get(owner, 0) + 1)
    return found


_DEPTH = _depths()
