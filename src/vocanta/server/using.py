"""Where names are used: each place once, in words, with few questions to the database however many there are."""

from __future__ import annotations

from django.db.models import QuerySet

from ..core.engine.wording import first_words
from ..core.project.records import NOTING
from . import bulk, models
from .rows import values_of
from .shapes import UseShape


def needs_of(project: models.Project) -> QuerySet[models.Reference]:
    """Every use of a name in a project by what needs it; what only notes it is left out."""
    return models.Reference.objects.filter(record__project=project).exclude(record__type__in=NOTING)


def uses_of(project: models.Project, keys: list[str], inside: set[int]) -> list[UseShape]:
    """Every record that uses one of some names, in order; records in `inside` are left out."""
    found = needs_of(project).filter(name__in=keys).exclude(record_id__in=inside)
    pairs = list(dict.fromkeys(found.order_by("record__order", "pk").values_list("record_id", "field")))
    known = with_owners(project, {record_id for record_id, _ in pairs})
    return [UseShape(i, place_words(known[i], known), field) for i, field in pairs]


def used_names(project: models.Project) -> set[str]:
    """Every name that anything of a project uses."""
    return set(needs_of(project).values_list("name", flat=True).distinct())


def with_owners(project: models.Project, ids: set[int]) -> dict[int, models.Record]:
    """Records in their own models with all their owners, by id; one question a type and a depth."""
    known: dict[int, models.Record] = {}
    wanted = ids
    while wanted:
        known |= bulk.read(project, wanted)
        owners = {r.owner_id for i, r in known.items() if i in wanted and r.owner_id is not None}
        wanted = {i for i in owners if i is not None and i not in known}
    return known


def place_words(record: models.Record, known: dict[int, models.Record]) -> str:
    """A record as a list of uses names it: a line by its first words, what has no name by its owner."""
    if record.type in ("cue", "reply") and record.owner_id in known:
        return place_words(known[record.owner_id], known)
    if record.type == "line":
        return f"“{first_words(values_of(record)['wordings'][0], 40)}”"
    return str(getattr(record, "name", "") or record.key)
