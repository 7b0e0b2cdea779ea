"""Which names a record uses, and where: the ground for where-used, renaming and deleting."""

from __future__ import annotations

import copy
from collections.abc import Callable, Collection, Iterable, Iterator, Mapping
from dataclasses import dataclass
from functools import cache
from typing import Any

from ..phrases.nodes import Span
from ..phrases.vocabulary import CONDITIONS, EFFECTS, GRADE, PURSES, SELVES, STATUSES
from ..project.names import KEY
from ..project.records import NOTING
from ..project.tree import plain
from .own_values import is_its
from .reading import CueTextError, read_cue, read_needs, read_steps
from .roles import name_uses

_TEXTS: dict[tuple[str, str], Callable[[str], Any]] = {
    ("cue", "text"): read_cue,
    ("quest", "needs"): read_needs,
    ("quest", "rewards"): read_steps,
    ("stage", "entering"): read_steps,
    ("line", "needs"): read_needs,
    ("line", "steps"): read_steps,
    ("reply", "needs"): read_needs,
    ("reply", "steps"): read_steps,
    ("namedneed", "text"): read_needs,
}
_FIELDS: dict[str, tuple[str, ...]] = {
    "project": ("first_level",),
    "object": ("kind",),
    "quest": ("offered_by",),
    "conversation": ("talker",),
    "line": ("speaker", "voice", "then"),
    "exit": ("to_level",),
    "ability": ("gear",),
    "objective": ("marker",),
    "aside": ("at",),
    "card": ("in_level",),
}
_LISTS: dict[str, tuple[str, ...]] = {"objective": ("targets",), "area": ("drops_to",)}
"""Fields that are lists of names."""
_FIXED = frozenset({*CONDITIONS, *EFFECTS})
DESIGN_LISTS = ("tags", "suspends", "reach.who")
"""Places of a design that are lists of names."""

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


@cache
def text_fields(record_type: str) -> tuple[str, ...]:
    """The fields of a record type that hold cue text."""
    return tuple(field for kind, field in _TEXTS if kind == record_type)


def references_of(record_type: str, data: Mapping[str, Any]) -> Iterator[Reference]:
    """Every use of a name in a record's own fields; unreadable text has none."""
    yield from _in_fields(record_type, data)
    for field in text_fields(record_type):
        yield from _in_text(record_type, field, str(data.get(field) or ""))


def field_references(record_type: str, record: Any) -> Iterator[Reference]:
    """The names that a record of the core needs in its fields, those of its texts left out."""
    if record_type in NOTING:
        return iter(())
    wanted = (*_FIELDS.get(record_type, ()), *_LISTS.get(record_type, ()), "endings", "then", "own", "design")
    data = {field: getattr(record, field) for field in wanted if hasattr(record, field)}
    return _in_fields(record_type, {k: plain(v) if k in ("endings", "design") else v for k, v in data.items()})


def _in_fields(record_type: str, data: Mapping[str, Any]) -> Iterator[Reference]:
    for field in _FIELDS.get(record_type, ()):
        if data.get(field) not in (None, "", "?", "stays_here", "done"):
            yield Reference(field, data[field])
    for holder in _LISTS.get(record_type, ()):
        yield from (Reference(holder, name) for name in data.get(holder, ()) if name and name != "?")
    if record_type in ("kind", "object"):
        yield from _in_design(record_type, data)
    if record_type == "card":
        yield from _in_card(data)
    if record_type == "walk":
        yield from _in_walk(data)
    if record_type == "level":
        yield from (Reference("endings", w) for e in data.get("endings", ()) for w in e.get("when", ()) if w != "?")
    if record_type == "stage" and data.get("then") not in (None, "", "?", "ready", "done"):
        yield Reference("then", data["then"], None, SIBLING)
    if record_type == "reply" and data.get("then") not in (None, "", "?", "stays_here"):
        yield Reference("then", data["then"])


def _in_card(data: Mapping[str, Any], field: str = "") -> Iterator[Reference]:
    """Names in what a start card holds, and in what lies elsewhere by it; `field` is that which holds the card itself."""
    yield from _in_held(field or "holds", data.get("holds") or ())
    for one in data.get("lies") or ():
        yield from (Reference(field or "lies", name) for name in (one["key"], one["level"]))


def _in_held(field: str, held: Iterable[Mapping[str, Any]]) -> Iterator[Reference]:
    """Names of columns and of their values."""
    for one in held:
        what, names = _column_names(one["column"])
        yield from (Reference(field, name) for name in names)
        if one.get("named"):
            yield Reference(field, one["named"], None, names[0] if what in _OWNING and names else "")


def _in_walk(data: Mapping[str, Any]) -> Iterator[Reference]:
    """Names in a kept walk: where it begins, what was done at what, what came of what, and what it must come to."""
    begins = data.get("begins") or {}
    yield from _in_card(begins, "begins")
    yield from _in_held("comes_to", data.get("comes_to") or ())
    for field, places in _WALKED.items():
        named = [one.get(place, "") for one in data.get(field) or () for place in places]
        yield from (Reference(field, name) for name in dict.fromkeys(named) if KEY.match(name))
    if begins.get("in_level"):
        yield Reference("begins", begins["in_level"])


_OWNING = ("state", "stage")
"""The columns whose values have names that are unique in their owner."""
_WALKED: dict[str, tuple[str, ...]] = {"deeds": ("at", "what", "level"), "came": ("subject", "level")}
"""Places in the lists of a kept walk that are names."""


def _column_names(column: str) -> tuple[str, list[str]]:
    what, _, key = column.partition(":")
    return what, [name for name in key.split("/") if KEY.match(name)]


def renamed_in_notes(
    record_type: str, field: str, noted: Any, names: Mapping[str, str], owners: Collection[str] | None
) -> Any:
    """A field of a start card or a kept walk with other names put in place of some.

    `owners`: whose states or stages they are; None for names of the whole project."""

    def now(name: str) -> str:
        return names.get(name, name)

    if record_type == "walk" and field == "begins":
        put = {part: renamed_in_notes("card", part, noted[part], names, owners) for part in ("holds", "lies")}
        return {**noted, **put, "in_level": noted["in_level"] if owners is not None else now(noted["in_level"])}
    if field in _WALKED:
        return [_renamed_in_walked(field, one, names, owners) for one in noted]
    if field == "lies":
        return [{**one, "key": now(one["key"]), "level": now(one["level"])} for one in noted]
    return [_renamed_in_held(one, names, owners) for one in noted]


def _renamed_in_held(
    one: Mapping[str, Any], names: Mapping[str, str], owners: Collection[str] | None
) -> dict[str, Any]:
    what, _, key = one["column"].partition(":")
    held = dict(one)
    if owners is None and key:
        held["column"] = f"{what}:{'/'.join(names.get(part, part) for part in key.split('/'))}"
    if (what in _OWNING and key in owners) if owners is not None else what not in _OWNING:
        held["named"] = names.get(one["named"], one["named"])
    return held


def _renamed_in_walked(
    field: str, one: Mapping[str, Any], names: Mapping[str, str], owners: Collection[str] | None
) -> dict[str, Any]:
    """An entry of a kept walk; what something came to is a name of its owner's."""
    if owners is None:
        return {**one, **{place: names.get(one[place], one[place]) for place in _WALKED[field] if place in one}}
    if field == "came" and one.get("subject") in owners and "detail" in one:
        return {**one, "detail": names.get(one["detail"], one["detail"])}
    return dict(one)


def _in_design(record_type: str, data: Mapping[str, Any]) -> Iterator[Reference]:
    """Names in a kind's design, or in an object's own values: tags, abilities, what a value stands for."""
    holder = "design" if record_type == "kind" else "own"
    for path, value in design_names(record_type, data.get(holder) or {}):
        yield Reference(f"{holder}:{path}", value)


def design_names(record_type: str, holder: Mapping[str, Any]) -> Iterator[tuple[str, str]]:
    """The (path, name) pairs in a design, or in own values by path; words that are no names are left out."""
    for path in DESIGN_LISTS:
        found = _at(holder, path) if record_type == "kind" else holder.get(path)
        yield from ((path, v) for v in found or () if isinstance(v, str) and v not in ("", "?", *_WHO))
    values = holder.get("values", {}) if record_type == "kind" else {}
    own = {k.removeprefix("values."): v for k, v in holder.items() if k.startswith("values.")}
    for name, value in {**values, **(own if record_type == "object" else {})}.items():
        if isinstance(value, str) and KEY.match(value):
            yield f"values.{name}", value


def renamed_in_design(record_type: str, holder: Mapping[str, Any], names: Mapping[str, str]) -> dict[str, Any]:
    """A design, or own values by path, with other names put in place of some; a name that becomes `?` leaves a list."""
    put: dict[str, Any] = copy.deepcopy(dict(holder))
    for path, value in list(design_names(record_type, holder)):
        if value not in names:
            continue
        new = names[value]
        inside, last = (put, path) if record_type == "object" else _holder_of(put, path)
        if path in DESIGN_LISTS:
            inside[last] = [names.get(v, v) for v in inside[last] if names.get(v, v) != "?"]
        else:
            inside[last] = new
    return put


def renamed_in_endings(endings: Iterable[Mapping[str, Any]], names: Mapping[str, str]) -> list[dict[str, Any]]:
    """What ends a level, with other names put in place of some."""
    return [{**one, "when": [names.get(w, w) for w in one["when"]]} for one in endings]


def _holder_of(data: dict[str, Any], path: str) -> tuple[dict[str, Any], str]:
    *way, last = path.split(".")
    for part in way:
        data = data[part]
    return data, last


_WHO = ("player", "characters")


def _at(data: Any, path: str) -> Any:
    for part in path.split("."):
        data = data.get(part) if isinstance(data, Mapping) else None
    return data


def _in_text(record_type: str, field: str, text: str) -> Iterator[Reference]:
    reader = _TEXTS[record_type, field]
    try:
        tree = reader(text) if text.strip() else ()
    except CueTextError:
        return
    for use in name_uses(tree):
        word = use.word
        fixed = word.is_hole or word.text in SELVES or word.text in PURSES or word.text == GRADE or is_its(word.text)
        if (
            fixed
            or "control" in use.types
            or "button" in use.types
            or word.text in _FIXED
            or word.text.lstrip("-").isdigit()
        ):
            continue
        if use.owner is None:
            yield Reference(field, word.text, word.span)
        elif not (use.types == ("value",) and word.text in STATUSES):
            yield Reference(field, word.text, word.span, use.owner.text)


def replaced(text: str, spans: Iterable[tuple[Span, str]]) -> str:
    """A text with every span replaced by the word given for it, from the end backwards."""
    for (start, end), new in sorted(spans, reverse=True):
        text = text[:start] + new + text[end:]
    return text
