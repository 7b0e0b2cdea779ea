"""Placing an object: its kind is made from a starter where the project has none of it yet; one edit, already working."""

from __future__ import annotations

from typing import Any

from django.db import transaction

from ..core.project.names import free_key, key_from
from ..core.project.problems import Problem
from ..core.project.starters import Starter, starter
from ..core.project.tree import own_data
from . import models
from .edits import apply_edit
from .refusals import Refused, not_found
from .shapes import ChangeAsked, EditAsked, EditDone, PlaceAsked


@transaction.atomic
def place(project_id: int, asked: PlaceAsked) -> EditDone:
    """Place an object. Raises `Refused` 404 for an unknown level, 422 for an unknown kind or starter."""
    project = models.Project.objects.filter(pk=project_id, deleted_at=None).first()
    if project is None:
        raise not_found("project")
    changes: list[ChangeAsked] = []
    found = starter(asked.starter)
    wanted = {"key": asked.kind} if asked.kind else {"starter": asked.starter, "name": found.kind.name if found else ""}
    kind = models.Kind.objects.filter(project=project, **wanted).order_by("pk").first()
    taken = set(models.Record.objects.filter(project=project, scope="").values_list("key", flat=True))
    if kind is None and (asked.kind or found is None):
        raise Refused(
            422,
            "Nothing to place",
            [
                Problem(
                    "kind_unknown",
                    f"There is no kind “{asked.kind or asked.starter}”.",
                    "Choose one from the list that opens on typing.",
                    "kind",
                )
            ],
        )
    if kind is None:
        assert found is not None
        changes.append(_new_kind(found, taken))
        kind_key, kind_name, talks = str(changes[0].key), found.kind.name, found.talks
    else:
        from_starter = starter(kind.starter)
        kind_key, kind_name, talks = kind.key, kind.name, bool(from_starter and from_starter.talks)
    name, key = _free_name(project, kind_name, taken | {kind_key})
    values: dict[str, Any] = {"name": name, "kind": kind_key, "x_m": asked.x_m, "y_m": asked.y_m}
    changes.append(ChangeAsked("add", type="object", owner=asked.level, key=key, values=values))
    if changes[0].type == "kind" and found is not None:
        return _with_cues(project, asked, changes, found, key, name, talks)
    return _finish(project, asked, changes, key, name, talks)


def _new_kind(found: Starter, taken: set[str]) -> ChangeAsked:
    values = own_data("kind", found.kind)
    values.pop("key")
    return ChangeAsked("add", type="kind", key=free_key(f"{found.kind.key}_kind", taken), values=values)


def _free_name(project: models.Project, kind_name: str, taken: set[str]) -> tuple[str, str]:
    """A name and key not used yet: `Lamp`, `Lamp 2` …"""
    number, base = 1, kind_name[:1].upper() + kind_name[1:]
    while True:
        name = base if number == 1 else f"{base} {number}"
        key = key_from(name)
        if key not in taken:
            return name, key
        number += 1


def _with_cues(
    project: models.Project,
    asked: PlaceAsked,
    changes: list[ChangeAsked],
    found: Starter,
    key: str,
    name: str,
    talks: bool,
) -> EditDone:
    """The kind first, so that its cues can name it; all one gesture, so that one undo takes it back."""
    gesture = f"place:{key}:{project.edit_number}"
    done = apply_edit(project.pk, EditAsked(asked.tab, changes, f"Placed {name}", gesture), key)
    kind_row = next(r for r in done.rows if r["type"] == "kind")
    cues = [
        ChangeAsked("add", type="cue", owner=kind_row["id"], key=c.key, values={"text": c.text})
        for c in found.kind.cues
    ]
    return _joined(project, asked, done, cues, key, name, talks)


def _finish(
    project: models.Project, asked: PlaceAsked, changes: list[ChangeAsked], key: str, name: str, talks: bool
) -> EditDone:
    done = apply_edit(project.pk, EditAsked(asked.tab, changes, f"Placed {name}"), key)
    return _joined(project, asked, done, [], key, name, talks)


def _joined(
    project: models.Project,
    asked: PlaceAsked,
    done: EditDone,
    more: list[ChangeAsked],
    key: str,
    name: str,
    talks: bool,
) -> EditDone:
    """What depends on the object's id, added to the same edit."""
    thing = next(r for r in done.rows if r["type"] == "object")
    if talks:
        more = [*more, *_conversation(project, thing, key, name)]
    if not more:
        return done
    again = apply_edit(project.pk, EditAsked(asked.tab, more, f"Placed {name}"), key)
    talk = next((r for r in again.rows if r["type"] == "conversation"), None)
    rows = [*done.rows, *again.rows]
    last = again
    if talk is not None:
        line = ChangeAsked(
            "add", type="line", owner=talk["id"], values={"wordings": ["Good day."], "opener": True, "speaker": key}
        )
        last = apply_edit(project.pk, EditAsked(asked.tab, [line], f"Placed {name}"), key)
        rows += last.rows
    _merge_last(project, asked.tab, f"Placed {name}", done.edit_number)
    return EditDone(last.edit_number, rows, [], f"Placed {name}", "", key)


def _conversation(project: models.Project, thing: dict[str, Any], key: str, name: str) -> list[ChangeAsked]:
    talk = f"{key}_talk"
    return [
        ChangeAsked("add", type="conversation", key=talk, values={"name": name, "talker": key}),
        ChangeAsked(
            "add",
            type="cue",
            owner=thing["id"],
            key="c1",
            values={"text": f"when used\nthen\n  open conversation {talk}"},
        ),
    ]


def _merge_last(project: models.Project, tab: str, name: str, since: int) -> None:
    """Make the edits of a tab since a number into one."""
    edits = list(
        models.Edit.objects.filter(project=project, tab=tab, state="done", number__gte=since).order_by("number")
    )
    first, *rest = edits
    for edit in rest:
        edit.changes.update(edit=first)
        edit.delete()
    first.number, first.name = rest[-1].number if rest else first.number, name
    first.save()
