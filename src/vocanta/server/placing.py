"""Placing an object: one edit, whatever it takes for it to work at once: its kind, an item, a conversation."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

from ..core.project.fileformat import adapter_of
from ..core.project.names import free_key, key_from
from ..core.project.problems import Problem
from ..core.project.records import Kind as CoreKind
from ..core.project.starters import PUTTABLE, Starter, starter
from ..core.project.tree import own_data
from . import listing, models
from .edits import apply_edit
from .refusals import Refused
from .rows import values_of
from .shapes import ChangeAsked, EditAsked, EditDone, PlaceAsked

OPEN = "?"
OPEN_KIND = "?kind"


@dataclass
class Placing:
    """The changes of one placing as they are put together; `taken` are the project's names so far."""

    taken: set[str]
    changes: list[ChangeAsked] = field(default_factory=list)

    def add(
        self, record_type: str, wanted: str, values: dict[str, Any], owner: int | None = None, under: str = ""
    ) -> str:
        """Add a record under a free name, below an owner or one added before; the name."""
        key = wanted if record_type == "cue" else free_key(wanted, self.taken)
        self.taken.add(key)
        at = next((i for i, c in enumerate(self.changes) if c.key == under), None) if under else None
        self.changes.append(ChangeAsked("add", type=record_type, owner=owner, under=at, key=key, values=values))
        return key


def place(project_id: int, asked: PlaceAsked) -> EditDone:
    """Place an object. Raises `Refused` 404 for an unknown project or level, 422 for an unknown kind or starter."""
    project = listing.found_project(project_id)
    placing = Placing(set(models.Record.objects.filter(project=project, scope="").values_list("key", flat=True)))
    found = starter(asked.starter)
    kind, kind_key = _kind(project, asked, found, placing)
    name, key = _free_name(kind.name, placing.taken)
    begun = starter(kind.starter)
    own = _filled(kind, name, placing)
    if begun is not None and begun.hands_off:
        abilities = models.Ability.objects.filter(project=project).order_by("order").values_list("key", flat=True)
        own["suspends"] = list(abilities)
    values = {"name": name, "kind": kind_key, "x_m": asked.x_m, "y_m": asked.y_m, "own": own}
    if begun is not None and begun.round_m:
        values["round"] = [[asked.x_m + dx, asked.y_m + dy] for dx, dy in begun.round_m]
    placing.add("object", key, values, owner=asked.level)
    if begun is not None and begun.talks:
        _conversation(placing, key, name)
    return apply_edit(project.pk, EditAsked(asked.tab, placing.changes, f"Placed {name}", ask=asked.ask), key)


def _kind(project: models.Project, asked: PlaceAsked, found: Starter | None, placing: Placing) -> tuple[CoreKind, str]:
    """The kind to place from, and its key; made from the starter where the project has none of it yet."""
    wanted = {"key": asked.kind} if asked.kind else {"starter": asked.starter, "name": found.kind.name if found else ""}
    kind = models.Kind.objects.filter(project=project, **wanted).order_by("pk").first()
    if kind is not None:
        return adapter_of("kind").validate_python({"key": kind.key, **values_of(kind)}), kind.key
    if asked.kind or found is None:
        message = f"There is no kind “{asked.kind or asked.starter}”."
        fix = "Choose one from the list that opens on typing."
        raise Refused(422, "Nothing to place", [Problem("kind_unknown", message, fix, "kind")])
    values = own_data("kind", found.kind)
    values.pop("key")
    key = placing.add("kind", f"{found.kind.key}_kind", values)
    for cue in found.kind.cues:
        placing.add("cue", cue.key, {"text": cue.text}, under=key)
    return found.kind, key


def _filled(kind: CoreKind, name: str, placing: Placing) -> dict[str, Any]:
    """Own values for what the kind leaves open: items of the object's own, and a kind to put."""
    own: dict[str, Any] = {}
    for value, content in kind.design.values.items():
        if content == OPEN:
            shown = name.lower() if value == "content" else f"{name.lower()} {value}"
            own[f"values.{value}"] = placing.add("item", key_from(f"{shown} item"), {"name": shown})
        elif content == OPEN_KIND:
            own[f"values.{value}"] = _kind_to_put(placing)
    return own


def _kind_to_put(placing: Placing) -> str:
    values = own_data("kind", PUTTABLE)
    values.pop("key")
    key = placing.add("kind", f"{PUTTABLE.key}_kind", values)
    for cue in PUTTABLE.cues:
        placing.add("cue", cue.key, {"text": cue.text}, under=key)
    return key


def _free_name(kind_name: str, taken: set[str]) -> tuple[str, str]:
    """A name and key not used yet: `Lamp`, `Lamp 2` …"""
    number, base = 1, kind_name[:1].upper() + kind_name[1:]
    while True:
        name = base if number == 1 else f"{base} {number}"
        key = key_from(name)
        if key not in taken:
            return name, key
        number += 1


def _conversation(placing: Placing, key: str, name: str) -> None:
    """A talker's conversation with a first line, and the cue that opens it."""
    talk = placing.add("conversation", f"{key}_talk", {"name": name, "talker": key})
    line = {"wordings": ["Good day."], "opener": True, "speaker": key}
    placing.add("line", f"{key}_good_day", line, under=talk)
    placing.add("cue", "c1", {"text": f"when used\nthen\n  open conversation {talk}"}, under=key)
