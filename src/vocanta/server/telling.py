"""Records as they are told: their rows, and for an object with values of its own what it is with them."""

from __future__ import annotations

from collections.abc import Collection, Iterable
from typing import Any

from pydantic import ValidationError

from ..core.project.designs import laid
from ..core.project.records import Design
from ..core.project.tree import plain
from . import models
from .rows import row_of

Rows = list[dict[str, Any]]


def rows_of(project: models.Project, records: Collection[models.Record]) -> Rows:
    """Records of a project as they travel. One question for the kinds that are not among them."""
    own = [r for r in records if isinstance(r, models.Object) and r.own]
    designs = {r.key: r.design for r in records if isinstance(r, models.Kind)}
    missing = {o.kind for o in own} - designs.keys()
    if missing:
        found = models.Kind.objects.filter(project=project, key__in=missing)
        designs |= dict(found.values_list("key", "design"))
    shown = {o.pk: _design(designs.get(o.kind) or plain(Design()), o.own) for o in own}
    return [row_of(r, shown.get(r.pk)) for r in records]


def _design(design: dict[str, Any], own: dict[str, Any]) -> dict[str, Any] | None:
    """None where an own value does not fit its kind any more, which the checks of the project say with its place."""
    try:
        return plain(laid(design, own))
    except ValidationError:
        return None


def rows_after(project: models.Project, changed: Iterable[models.Record]) -> Rows:
    """What is to be told after a change: what was changed, and the objects that are otherwise since their kind is."""
    changed = list(changed)
    kinds = {r.key for r in changed if isinstance(r, models.Kind)}
    if not kinds:
        return rows_of(project, changed)
    told = {r.pk for r in changed}
    following = models.Object.objects.filter(project=project, kind__in=kinds).exclude(own={})
    return rows_of(project, [*changed, *(o for o in following.order_by("order", "pk") if o.pk not in told)])
