"""The one edit service: every change of a project goes through here, named, whole, undoable."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import timedelta
from typing import Any

from django.db import transaction
from django.db.models import Max
from django.utils import timezone

from ..core.project.problems import Problem
from ..core.project.records import CHILDREN
from . import models, store
from .changing import Changing
from .refusals import Refused
from .shapes import EditAsked, EditDone

GESTURE_S = 1.0


@dataclass
class Touched:
    """The records an edit has touched: their data before and after, by id; None where there was no record."""

    before: dict[int, dict[str, Any] | None] = field(default_factory=dict)
    after: dict[int, dict[str, Any] | None] = field(default_factory=dict)

    def note(self, record_id: int, before: dict[str, Any] | None, after: dict[str, Any] | None) -> None:
        """Note a change; several changes of one record keep the first *before* and the last *after*."""
        self.before.setdefault(record_id, before)
        self.after[record_id] = after


@transaction.atomic
def apply_edit(project_id: int, asked: EditAsked, select: str = "") -> EditDone:
    """Carry out an edit, all of it or nothing. Raises `Refused` (404, 409, 412, 422) with every problem."""
    project = locked(project_id)
    changing = Changing(project)
    for change in asked.changes:
        changing.carry_out(change)
    changing.finish()
    models.Edit.objects.filter(project=project, tab=asked.tab, state="undone").update(state="dropped")
    _keep(project, asked, changing)
    return _done(project, asked.tab, changing.touched_rows(), changing.removed_ids(), select)


def locked(project_id: int) -> models.Project:
    """The project inside the transaction, its edit number raised by one."""
    project = models.Project.objects.filter(pk=project_id, deleted_at=None).first()
    if project is None:
        raise Refused(
            404,
            "No such project",
            [Problem("not_found", "There is no such project.", "Choose one from the list.", "project")],
        )
    project.edit_number += 1
    project.save()
    return project


def _keep(project: models.Project, asked: EditAsked, changing: Changing) -> None:
    """Write the edit down, as part of the last one where both belong to one gesture."""
    last = models.Edit.objects.filter(project=project, tab=asked.tab, state="done").order_by("-number").first()
    if last is not None and _one_gesture(last, asked, changing):
        for change in last.changes.all():
            change.after = changing.after.get(change.record_id, change.after)
            change.save()
        last.number, last.name = project.edit_number, asked.name or changing.sentence()
        last.save()
        return
    edit = models.Edit.objects.create(
        project=project,
        number=project.edit_number,
        tab=asked.tab,
        name=(asked.name or changing.sentence())[:300],
        gesture=asked.gesture,
    )
    models.Change.objects.bulk_create(
        models.Change(edit=edit, record_id=i, before=changing.before[i], after=changing.after[i])
        for i in changing.before
    )


def _one_gesture(last: models.Edit, asked: EditAsked, changing: Changing) -> bool:
    if not asked.gesture or last.gesture != asked.gesture:
        return False
    if timezone.now() - last.at > timedelta(seconds=GESTURE_S * 30):
        return False
    same = {c.record_id for c in last.changes.all()} == set(changing.before)
    return same and all(b is not None and changing.after[i] is not None for i, b in changing.before.items())


# --- undo and redo


def undo(project_id: int, tab: str) -> EditDone:
    """Take back the last edit of a tab. Raises `Refused` 409 where there is none or somebody changed it since."""
    return _turn(project_id, tab, "done", "undone")


def redo(project_id: int, tab: str) -> EditDone:
    """Do again the edit of a tab that was undone last."""
    return _turn(project_id, tab, "undone", "done")


@transaction.atomic
def undo_one(project_id: int, number: int, tab: str) -> EditDone:
    """Take back one edit of any tab, as an edit of this tab. Raises `Refused` 404, 409 where it was changed since."""
    project = locked(project_id)
    edit = models.Edit.objects.filter(project=project, number=number, state="done").first()
    if edit is None:
        problem = Problem("not_found", "There is no such edit to undo.", "Choose one from the history.", "edit")
        raise Refused(404, "No such edit", [problem])
    touched = Touched()
    for change in edit.changes.all():
        touched.note(change.record_id, change.after, change.before)
    _hold_against_now(project, touched)
    before = {i: _now(project, i) for i in touched.after}
    rows, removed = _restore(project, touched)
    undone = models.Edit.objects.create(
        project=project, number=project.edit_number, tab=tab, name=f"Undid: {edit.name}"[:300]
    )
    models.Change.objects.bulk_create(
        models.Change(edit=undone, record_id=i, before=before[i], after=_now(project, i)) for i in before
    )
    return _done(project, tab, rows, removed)


def _now(project: models.Project, record_id: int) -> dict[str, Any] | None:
    record = store.get_record(project, record_id)
    return None if record is None else store.snapshot(record)


def _next(project: models.Project, tab: str, state: str) -> models.Edit | None:
    order = "-number" if state == "done" else "number"
    return models.Edit.objects.filter(project=project, tab=tab, state=state).order_by(order).first()


@transaction.atomic
def _turn(project_id: int, tab: str, found_as: str, becomes: str) -> EditDone:
    project = locked(project_id)
    edit = _next(project, tab, found_as)
    if edit is None:
        word = "undo" if found_as == "done" else "redo"
        raise Refused(
            409,
            f"Nothing to {word}",
            [
                Problem(
                    f"nothing_to_{word}",
                    f"There is nothing to {word} in this tab.",
                    "Edits of other tabs are undone in History.",
                    "edit",
                )
            ],
        )
    back = found_as == "done"
    touched = Touched()
    for change in edit.changes.all():
        touched.note(change.record_id, change.after if back else change.before, change.before if back else change.after)
    _hold_against_now(project, touched)
    rows, removed = _restore(project, touched)
    edit.state = becomes
    edit.save()
    return _done(project, tab, rows, removed)


def _hold_against_now(project: models.Project, touched: Touched) -> None:
    """Refuse where a record is no longer as this edit left it; only fields that the edit changed are compared."""
    problems, sides = [], []
    for record_id, left in touched.before.items():
        record = store.get_record(project, record_id)
        now = None if record is None else store.snapshot(record)
        target = touched.after[record_id]
        if (now is None) != (left is None) or (now and left and not _same_where_changed(now, left, target)):
            name = (now or left or {}).get("key", "")
            problems.append(
                Problem(
                    "changed_since",
                    f"“{name}” was changed by somebody else since.",
                    "Look at both in History and choose; nothing was changed now.",
                    f"record/{record_id}",
                )
            )
            sides.append({"record": record_id, "yours": left, "theirs": now})
    if problems:
        raise Refused(409, "Changed since", problems, sides=sides)


def _same_where_changed(now: dict[str, Any], left: dict[str, Any], target: dict[str, Any] | None) -> bool:
    if target is None:
        return _flat(now) == _flat(left)
    flat_now, flat_left, flat_target = _flat(now), _flat(left), _flat(target)
    return all(flat_now.get(k) == v for k, v in flat_left.items() if flat_target.get(k) != v)


def _flat(data: dict[str, Any]) -> dict[str, Any]:
    return {**{k: v for k, v in data.items() if k != "values"}, **{f"values.{k}": v for k, v in data["values"].items()}}


def _restore(project: models.Project, touched: Touched) -> tuple[list[dict[str, Any]], list[int]]:
    """Put records into a state they were in; removed ones come back with their ids, owners before what they own."""
    removed = [i for i, data in touched.after.items() if data is None]
    rows = []
    models.Record.objects.filter(project=project, pk__in=removed).delete()
    wanted = sorted(
        ((i, d) for i, d in touched.after.items() if d is not None), key=lambda pair: _depth(pair[1]["type"])
    )
    for record_id, data in wanted:
        record = store.get_record(project, record_id)
        if record is None:
            record = models.RECORD_MODELS[data["type"]](
                pk=record_id, project=project, type=data["type"], version=_last_version(project)
            )
        left = touched.before[record_id]
        for name in ("key", "scope", "order"):
            if left is None or left[name] != data[name]:
                setattr(record, name, data[name])
        record.owner_id = data["owner"]
        store.put_values(
            record, {k: v for k, v in data["values"].items() if left is None or left["values"].get(k) != v}
        )
        record.version += 1
        record.save()
        store.note_references(record)
        rows.append(store.row_of(record))
    return rows, removed


def _last_version(project: models.Project) -> int:
    return models.Record.objects.filter(project=project).aggregate(most=Max("version"))["most"] or 1


_DEPTH = {"project": 0}
for _owner, _kids in CHILDREN.items():
    for _kid in _kids.values():
        _DEPTH[_kid] = max(_DEPTH.get(_kid, 0), _DEPTH.get(_owner, 0) + 1)


def _depth(record_type: str) -> int:
    return _DEPTH[record_type]


def _done(
    project: models.Project, tab: str, rows: list[dict[str, Any]], removed: list[int], select: str = ""
) -> EditDone:
    before, after = _next(project, tab, "done"), _next(project, tab, "undone")
    return EditDone(
        project.edit_number, rows, removed, before.name if before else "", after.name if after else "", select
    )


def can_undo(project: models.Project, tab: str) -> tuple[str, str]:
    """What would be undone and redone next in a tab."""
    before, after = _next(project, tab, "done"), _next(project, tab, "undone")
    return before.name if before else "", after.name if after else ""
