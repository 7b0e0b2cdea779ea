"""Which names a record uses, and where: the ground for where-used, renaming and deleting."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from .nodes import Span
from .reading import CueTextError, read_cue, read_needs, read_steps
from .roles import PURSES, SELVES, STATUSES, name_uses

_TEXTS: dict[tuple[str, str], Callable[[str], Any]] = {
    ("cue", "text"): read_cue,
    ("quest", "needs"): read_needs,
    ("quest", "rewards"): read_steps,
    ("stage", "entering"): read_steps,
    ("line", "needs"): read_needs,
    ("line", "steps"): read_steps,
    ("reply", "needs"): read_needs,
    ("reply", "steps"): read_steps,
}
_FIELDS: dict[str, tuple[str, ...]] = {
    "project": ("first_level",),
    "object": ("kind",),
    "quest": ("offered_by",),
    "conversation": ("talker",),
    "line": ("speaker", "then"),
    "objective": ("marker",),
}


SIBLING = "@sibling"
"""The owner of a reference from one stage to another of the same quest."""


@dataclass(frozen=True, slots=True)
class Reference:
    """One use of a name. `span` is its place in a text field, None where the field is the name itself or a list of names.

    `owner` is the key a state or stage belongs to, `this` for the owner of the text, empty for project-wide names.
    """

    field: str
    name: str
    span: Span | None = None
    owner: str = ""


def reader_of(record_type: str, field: str) -> Callable[[str], Any] | None:
    """What reads a text field, None for a field that is no cue text."""
    return _TEXTS.get((record_type, field))


def text_fields(record_type: str) -> tuple[str, ...]:
    """The fields of a record type that hold cue text."""
    return tuple(field for kind, field in _TEXTS if kind == record_type)


def references_of(record_type: str, data: Mapping[str, Any]) -> Iterator[Reference]:
    """Every use of a name in a record's own fields; unreadable text has none."""
    for field in _FIELDS.get(record_type, ()):
        if data.get(field) not in (None, "", "?", "stays_here", "done"):
            yield Reference(field, data[field])
    if record_type == "objective":
        yield from (Reference("targets", t) for t in data.get("targets", ()) if t and t != "?")
    if record_type == "stage" and data.get("then") not in (None, "", "?", "done"):
        yield Reference("then", data["then"], None, SIBLING)
    if record_type == "reply" and data.get("then") not in (None, "", "?", "stays_here"):
        yield Reference("then", data["then"])
    for field in text_fields(record_type):
        yield from _in_text(record_type, field, str(data.get(field) or ""))


def _in_text(record_type: str, field: str, text: str) -> Iterator[Reference]:
    reader = _TEXTS[record_type, field]
    try:
        tree = reader(text) if text.strip() else ()
    except CueTextError:
        return
    for use in name_uses(tree):
        word = use.word
        fixed = word.is_hole or word.text in SELVES or word.text in PURSES or word.text.startswith("its ")
        if fixed or "control" in use.types or word.text in ("yes", "no", "gone") or word.text.lstrip("-").isdigit():
            continue
        if use.owner is None:
            yield Reference(field, word.text, word.span)
        elif not (use.types == ("value",) and word.text in STATUSES):
            yield Reference(field, word.text, word.span, use.owner.text)


def replaced(text: str, spans: list[Span], new: str) -> str:
    """A text with every span replaced, from the end backwards."""
    for start, end in sorted(spans, reverse=True):
        text = text[:start] + new + text[end:]
    return text
