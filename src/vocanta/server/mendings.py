"""What a mend writes, as the changes of an edit: each record by its id, with the version that was looked at."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import asdict
from typing import Any

from ..core.checks.mending import OF_DESIGN, Add, Before, Give, MakeSound, Remove, Reword, Write
from ..core.cuetext.references import replaced
from ..core.phrases.nodes import Span
from ..core.project.tree import plain
from .rowshelf import RowData

Changes = list[dict[str, Any]]


def changes_of(writes: Iterable[Write], ids: Mapping[str, int], rows: Mapping[int, RowData]) -> Changes:
    """The changes that carry out some writes, one for each record where that is enough.

    What is added comes first, so that everything else can name it; what is removed goes last.
    """
    several = list(writes)
    added = {f"{w.type}/{w.key}": i for i, w in enumerate(w for w in several if isinstance(w, Add))}
    adds: Changes = [_added(w, ids) for w in several if isinstance(w, Add)]
    sounds: Changes = [_sound(w, ids, rows, added) for w in several if isinstance(w, MakeSound)]
    removed: Changes = [
        _based("remove", w.record, ids, rows) | {"clean": True} for w in several if isinstance(w, Remove)
    ]
    return [*adds, *sounds, *_sets(several, ids, rows), *removed]


def _added(write: Add, ids: Mapping[str, int]) -> dict[str, Any]:
    owner = ids[write.owner] if write.owner else None
    return {"do": "add", "type": write.type, "owner": owner, "key": write.key, "values": dict(write.values)}


def _sound(
    write: MakeSound, ids: Mapping[str, int], rows: Mapping[int, RowData], added: Mapping[str, int]
) -> dict[str, Any]:
    made = write.made
    values = {"sort": made.sort, "seconds": made.seconds, "height": made.height, "rough": made.rough}
    if write.record in added:
        return {"do": "make_sound", "under": added[write.record], "values": values}
    return _based("make_sound", write.record, ids, rows) | {"values": values}


def _based(do: str, record: str, ids: Mapping[str, int], rows: Mapping[int, RowData]) -> dict[str, Any]:
    row = rows[ids[record]]
    return {"do": do, "id": row.id, "version": row.version}


def _sets(writes: list[Write], ids: Mapping[str, int], rows: Mapping[int, RowData]) -> Changes:
    """The values of each record, all of its writes together; a kind's design is written by path."""
    spans: dict[tuple[str, str], list[tuple[Span, str]]] = {}
    values: dict[str, dict[str, Any]] = {}
    designs: dict[str, dict[str, Any]] = {}
    orders: dict[str, float] = {}
    for write in writes:
        if isinstance(write, Reword):
            spans.setdefault((write.record, write.field), []).append((write.span, write.text))
        elif isinstance(write, Give):
            row = rows[ids[write.record]]
            path = write.path.removeprefix(OF_DESIGN)
            if path == write.path:
                values.setdefault(write.record, {})[path] = write.value
            elif row.type == "object":
                own = values.setdefault(write.record, {}).setdefault("own", dict(row.values["own"]))
                own[path] = write.value
            else:
                designs.setdefault(write.record, {})[path] = write.value
        elif isinstance(write, Before):
            orders[write.record] = _order_before(rows[ids[write.record]], rows[ids[write.other]], rows)
    for (record, field), some in spans.items():
        values.setdefault(record, {})[field] = replaced(str(rows[ids[record]].values[field]), some)
    changes: Changes = []
    for record in dict.fromkeys([*values, *orders]):
        change = _based("set", record, ids, rows) | {"values": values.get(record, {})}
        changes.append(change | ({"order": orders[record]} if record in orders else {}))
    return changes + [_based("set_in_design", record, ids, rows) | {"values": v} for record, v in designs.items()]


def _order_before(row: RowData, other: RowData, rows: Mapping[int, RowData]) -> float:
    """A place right before another record of the same owner."""
    beside = (r.order for r in rows.values() if r.owner == other.owner and r.type == other.type and r.id != row.id)
    before = max((order for order in beside if order < other.order), default=other.order - 2.0)
    return (before + other.order) / 2


# --- as they travel


def write_told(write: Write) -> dict[str, Any]:
    """One thing that a way out writes: other words, or a value."""
    assert isinstance(write, Reword | Give)
    if isinstance(write, Reword):
        return {"do": "reword", **asdict(write), "span": list(write.span)}
    return {"do": "give", "record": write.record, "path": write.path, "value": plain(write.value)}


def write_of(told: dict[str, Any]) -> Reword | Give:
    """The same back again."""
    if told["do"] == "reword":
        return Reword(told["record"], told["field"], (told["span"][0], told["span"][1]), told["text"])
    return Give(told["record"], told["path"], told["value"])
