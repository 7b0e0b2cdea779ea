"""Mends: what is written to take a finding away, put into a project of the core as the edit service would.

The same writes, by address, are carried out on records by the server. Several mends at once are one list of writes;
`joined` leaves out of it what others already do.
"""

from __future__ import annotations

import dataclasses
from collections.abc import Callable, Hashable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from functools import cache, partial
from typing import Any, assert_never, cast, get_type_hints

from pydantic import JsonValue, TypeAdapter

from ..cuetext.references import replaced
from ..phrases.nodes import Span
from ..project.assets import asset_name
from ..project.designs import DESIGN, with_values
from ..project.fileformat import adapter_of
from ..project.placeholder import Made
from ..project.records import CHILDREN, Project
from ..project.tree import plain
from .addresses import key_of, type_of

OF_DESIGN = "design."
"""A value of an object or a kind whose path begins so lies in its design."""


@dataclass(frozen=True, slots=True)
class Reword:
    """Put other words into a span of a text."""

    record: str
    field: str
    span: Span
    text: str


@dataclass(frozen=True, slots=True)
class Give:
    """Give a record a value in a field, or at a path of its design: for an object as a value of its own."""

    record: str
    path: str
    value: Any


@dataclass(frozen=True, slots=True)
class Remove:
    """Take a record away, with what it owns."""

    record: str


@dataclass(frozen=True, slots=True)
class Add:
    """A new record of an owner, empty for the project, under a name that is free."""

    owner: str
    type: str
    key: str
    values: tuple[tuple[str, Any], ...]


@dataclass(frozen=True, slots=True)
class Before:
    """Put a record before another one of the same owner."""

    record: str
    other: str


@dataclass(frozen=True, slots=True)
class MakeSound:
    """Give a sound a file that is made on the spot."""

    record: str
    made: Made


Write = Reword | Give | Remove | Add | Before | MakeSound


def joined(several: Iterable[tuple[Write, ...]]) -> tuple[Write, ...]:
    """The writes of several mends as one list: each once, of spans that overlap the first, none into what is removed."""
    found = {repr(w): w for writes in several for w in writes}
    gone = {w.record for w in found.values() if isinstance(w, Remove)}
    kept: list[Write] = []
    taken: dict[tuple[str, str], list[Span]] = {}
    given: set[tuple[str, str]] = set()
    for write in found.values():
        if not isinstance(write, Remove | Add) and _is_in(write.record, gone):
            continue
        if isinstance(write, Reword):
            spans = taken.setdefault((write.record, write.field), [])
            if any(a < write.span[1] and write.span[0] < b for a, b in spans):
                continue
            spans.append(write.span)
        if isinstance(write, Give):
            if (write.record, write.path) in given:
                continue
            given.add((write.record, write.path))
        kept.append(write)
    return tuple(kept)


def _is_in(record: str, gone: set[str]) -> bool:
    return any(record == one or record.startswith(f"{one}/") for one in gone)


def mended(project: Project, writes: Sequence[Write]) -> Project:
    """The project as the writes leave it. Raises `KeyError` for an address of nothing."""
    by_text: dict[tuple[str, str], list[tuple[Span, str]]] = {}
    for write in writes:
        if isinstance(write, Reword):
            by_text.setdefault((write.record, write.field), []).append((write.span, write.text))
    for (record, field), spans in by_text.items():
        project = _at(project, record, partial(_reworded, field, spans))
    for write in writes:
        if not isinstance(write, Reword):
            project = _written(project, write)
    return project


def _reworded(field: str, spans: list[tuple[Span, str]], record: Any) -> Any:
    return dataclasses.replace(record, **{field: replaced(getattr(record, field), spans)})


def _written(project: Project, write: Give | Remove | Add | Before | MakeSound) -> Project:
    match write:
        case Give(record, path, value):
            return _at(project, record, lambda r: given(r, path, value))
        case MakeSound(record, made):
            name = asset_name(made.data(), ".wav")
            return _at(project, record, lambda r: dataclasses.replace(r, file=name, seconds=made.seconds))
        case Remove(record):
            return _in_list(project, record, lambda kids: tuple(k for k in kids if k.key != key_of(record)))
        case Before(record, other):
            return _in_list(project, record, lambda kids: _moved(kids, key_of(record), key_of(other)))
        case Add(owner, kind, key, values):
            new = adapter_of(kind).validate_python({"key": key, **dict(values)})
            return _at(project, owner, lambda r: _with_child(r, type_of(owner) if owner else "project", kind, new))
        case _:
            assert_never(write)


def given(record: Any, path: str, value: JsonValue) -> Any:
    """A record with a value in a field, or at a path of its design."""
    if not path.startswith(OF_DESIGN):
        return dataclasses.replace(record, **{path: _typed(cast(Hashable, type(record)), path).validate_python(value)})
    inner = path.removeprefix(OF_DESIGN)
    if hasattr(record, "own"):
        return dataclasses.replace(record, own={**record.own, inner: value})
    return dataclasses.replace(record, design=DESIGN.validate_python(with_values(plain(record.design), {inner: value})))


@cache
def _typed(record_type: Any, field: str) -> TypeAdapter[Any]:
    """What makes the typed value of a field from plain data."""
    return TypeAdapter(get_type_hints(record_type, include_extras=True)[field])


def _with_child(record: Any, owner_type: str, kind: str, new: Any) -> Any:
    field = next(f for f, child in CHILDREN[owner_type].items() if child == kind)
    return dataclasses.replace(record, **{field: (*getattr(record, field), new)})


def _moved(kids: tuple[Any, ...], key: str, before: str) -> tuple[Any, ...]:
    one = next(k for k in kids if k.key == key)
    rest = [k for k in kids if k is not one]
    at = next(i for i, k in enumerate(rest) if k.key == before)
    return (*rest[:at], one, *rest[at:])


def _at(project: Project, address: str, change: Callable[[Any], Any]) -> Project:
    """The project with one record changed."""
    if address in ("", "project"):
        changed: Project = change(project)
        return changed
    return _in_list(project, address, lambda kids: tuple(change(k) if k.key == key_of(address) else k for k in kids))


def _in_list(project: Project, address: str, change: Callable[[tuple[Any, ...]], tuple[Any, ...]]) -> Project:
    """The project with the list changed in which a record stands."""
    pairs = address.split("/")
    wanted = [(pairs[i], pairs[i + 1]) for i in range(0, len(pairs), 2)]
    found, done = _below("project", project, wanted, change)
    if not done:
        raise KeyError(address)
    whole: Project = found
    return whole


def _below(
    owner_type: str,
    owner: Any,
    wanted: list[tuple[str, str]],
    change: Callable[[tuple[Any, ...]], tuple[Any, ...]],
) -> tuple[Any, bool]:
    """An owner with a list below it changed, and whether there was one: the first of the wanted may lie at any depth."""
    (kind, key), rest = wanted[0], wanted[1:]
    for field, child_type in CHILDREN.get(owner_type, {}).items():
        kids: tuple[Any, ...] = getattr(owner, field)
        if child_type == kind and any(k.key == key for k in kids):
            if not rest:
                return dataclasses.replace(owner, **{field: change(kids)}), True
            at = next(i for i, k in enumerate(kids) if k.key == key)
            new, done = _below(kind, kids[at], rest, change)
            return dataclasses.replace(owner, **{field: (*kids[:at], new, *kids[at + 1 :])}), done
        if child_type in CHILDREN:
            for at, kid in enumerate(kids):
                new, done = _below(child_type, kid, wanted, change)
                if done:
                    return dataclasses.replace(owner, **{field: (*kids[:at], new, *kids[at + 1 :])}), True
    return owner, False


def values_given(writes: Iterable[Write]) -> Mapping[str, dict[str, Any]]:
    """For each record the values that are given to it, by path."""
    found: dict[str, dict[str, Any]] = {}
    for write in writes:
        if isinstance(write, Give):
            found.setdefault(write.record, {})[write.path] = write.value
    return found
