"""The chronicle for other programs: one CloudEvents 1.0 event a line, as newline-delimited JSON.

Source: CloudEvents specification 1.0.2, JSON event format.
"""

from __future__ import annotations

import json
from collections.abc import Iterable, Iterator
from datetime import datetime, timedelta

from .chronicle import Entry
from .situation import TICKS_A_SECOND


def event_lines(entries: Iterable[Entry], project: str, run: int, begun: datetime) -> Iterator[str]:
    """Each entry of a run's chronicle as a line. `begun`: when the run began, with its time zone; `time` is that of the
    clock of the walk, which stands still in a pause."""
    for number, entry in enumerate(entries, start=1):
        time = begun + timedelta(seconds=entry.tick / TICKS_A_SECOND)
        told = entry.as_data(number)
        event = {
            "specversion": "1.0",
            "id": f"{run}.{number}",
            "source": f"/projects/{project}/runs/{run}",
            "type": f"vocanta.walk.{entry.what.value}",
            "time": time.isoformat(timespec="milliseconds"),
            "datacontenttype": "application/json",
            "data": {name: value for name, value in told.items() if name not in ("what", "n")},
        }
        if entry.subject:
            event["subject"] = entry.subject
        yield json.dumps(event, ensure_ascii=False, separators=(",", ":")) + "\n"
