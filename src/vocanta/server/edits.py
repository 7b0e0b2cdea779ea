"""The one edit service: every change of a project goes through here, named, whole, undoable."""

from __future__ import annotations

from datetime import timedelta

from django.utils import timezone

from ..core.project.problems import Problem
from . import bulk, events, models
from .changing import Changing
from .refusals import Refused
from .shapes import EditAsked, EditDone
from .sheet import Sheet
from .telling import rows_after
from .writing import writing

GESTURE = timedelta(seconds=1)
"""The longest pause within one gesture."""


def apply_edit(project_id: int, asked: EditAsked, select: str = "") -> EditDone:
    """Carry out an edit, all of it or nothing. One that was carried out already is only answered again.

    Raises `Refused` (404, 409, 412, 422, 428) with every problem.
    """
    with writing():
        known = answered_before(project_id, asked.tab, asked.ask)
        if known is not None:
            return known
        project = locked(project_id)
        changing = Changing(project)
        changing.read_for(asked.changes)
        for change in asked.changes:
            changing.carry_out(change)
        changing.finish()
        models.Edit.objects.filter(project=project, tab=asked.tab, state="undone").update(state="dropped")
        name = _keep(project, asked, changing, select)
        return done(project, asked.tab, changing.sheet, name, "", select)


def answered_before(project_id: int, tab: str, ask: str) -> EditDone | None:
    """The answer to what was done already, asked again since its answer was lost on the way; None for what is new."""
    if not ask:
        return None
    asked = models.Asked.objects.filter(project_id=project_id, tab=tab, ask=ask).select_related("edit").first()
    if asked is None:
        return None
    found = asked.edit
    changed = list(found.changes.order_by("pk").values_list("record_id", flat=True))
    rows = bulk.read(found.project, changed)
    undo, redo = can_undo(found.project, tab)
    removed = [i for i in changed if i not in rows]
    back = rows_after(found.project, [rows[i] for i in changed if i in rows])
    return EditDone(found.project.edit_number, back, removed, undo, redo, found.select)


def note_asked(edit: models.Edit, tab: str, ask: str) -> None:
    """Remember that an edit is the answer to what a tab asked."""
    if ask:
        models.Asked.objects.create(edit=edit, project=edit.project, tab=tab, ask=ask)


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


def _keep(project: models.Project, asked: EditAsked, changing: Changing, select: str) -> str:
    """Write the edit down, as part of the last one where both belong to one gesture; its name."""
    sheet, name = changing.sheet, (asked.name or changing.sentence())[:300]
    last = models.Edit.objects.filter(project=project, tab=asked.tab, state="done").order_by("-number").first()
    if last is not None and _one_gesture(project, last, asked, sheet):
        changes = list(last.changes.all())
        for change in changes:
            change.after = sheet.after(change.record_id)
        models.Change.objects.bulk_update(changes, ["after"])
        last.number, last.name = project.edit_number, name
        last.save()
        note_asked(last, asked.tab, asked.ask)
        return name
    edit = models.Edit.objects.create(
        project=project,
        number=project.edit_number,
        tab=asked.tab,
        name=name,
        gesture=asked.gesture,
        select=select,
    )
    note_asked(edit, asked.tab, asked.ask)
    write_changes(edit, sheet)
    return name


def write_changes(edit: models.Edit, sheet: Sheet) -> None:
    """Keep what an edit did to each record."""
    pairs = [(i, before, sheet.after(i)) for i, before in sheet.before.items()]
    models.Change.objects.bulk_create(
        models.Change(edit=edit, record_id=i, before=before, after=after)
        for i, before, after in pairs
        if before is not None or after is not None
    )


def _one_gesture(project: models.Project, last: models.Edit, asked: EditAsked, sheet: Sheet) -> bool:
    """Whether an edit goes on with the one before: the same gesture, hardly later, and nobody did anything between."""
    if not asked.gesture or last.gesture != asked.gesture or last.number != project.edit_number - 1:
        return False
    if timezone.now() - last.at > GESTURE:
        return False
    same = set(last.changes.values_list("record_id", flat=True)) == set(sheet.before)
    return same and all(b is not None and sheet.after(i) is not None for i, b in sheet.before.items())


# --- what comes next


def next_edit(project: models.Project, tab: str, state: str) -> models.Edit | None:
    """The edit of a tab that would be undone (`done`) or done again (`undone`) next."""
    order = "-number" if state == "done" else "number"
    return models.Edit.objects.filter(project=project, tab=tab, state=state).order_by(order).first()


def can_undo(project: models.Project, tab: str) -> tuple[str, str]:
    """What would be undone and redone next in a tab."""
    before, after = next_edit(project, tab, "done"), next_edit(project, tab, "undone")
    return before.name if before else "", after.name if after else ""


def done(project: models.Project, tab: str, sheet: Sheet, undo: str, redo: str, select: str = "") -> EditDone:
    """The answer to an edit; everybody who has the project open hears of it once it is stored."""
    rows = rows_after(project, sheet.changed())
    removed = sheet.removed()
    events.tell(project, tab, [r["id"] for r in rows], removed)
    return EditDone(project.edit_number, rows, removed, undo, redo, select)
