"""What was changed, told to everybody who has the project open: server-sent events with edit numbers."""

from __future__ import annotations

import asyncio
import json
from collections import deque
from collections.abc import AsyncIterator
from dataclasses import asdict, dataclass, field
from threading import Lock

from django.db import transaction

from .shapes import EventShape

KEPT = 200
"""So many edits of a project are kept for whoever was away for a moment."""
MOST_IDS = 500
"""With more records than that an event says no ids: whoever hears it reads everything again."""
STILL_THERE_S = 15.0
"""After so long without an edit a line is sent that says nothing, so that a broken connection is noticed."""


def as_event(told: EventShape) -> str:
    """An edit as it goes over the line."""
    return f"id: {told.edit_number}\ndata: {json.dumps(asdict(told))}\n\n"


@dataclass
class _Listener:
    """Somebody who has a project open, in the loop that serves them."""

    loop: asyncio.AbstractEventLoop
    news: asyncio.Queue[EventShape] = field(default_factory=asyncio.Queue)


class Board:
    """Who listens to which project, and what was told last. One a process; no record."""

    def __init__(self) -> None:
        self._lock = Lock()
        self._listeners: dict[int, list[_Listener]] = {}
        self._last: dict[int, deque[EventShape]] = {}

    def post(self, project: int, told: EventShape) -> None:
        """Tell an edit. Called from any thread."""
        with self._lock:
            self._last.setdefault(project, deque(maxlen=KEPT)).append(told)
            listeners = list(self._listeners.get(project, ()))
        for one in listeners:
            one.loop.call_soon_threadsafe(one.news.put_nowait, told)

    def _since(self, project: int, number: int) -> list[EventShape]:
        """What was told after an edit number, in order; more than is kept comes as one that says: read all again."""
        kept = list(self._last.get(project, ()))
        later = [t for t in kept if t.edit_number > number]
        if later and later[0].edit_number > number + 1:
            return [EventShape(later[-1].edit_number, "", [], [], True)]
        return later

    async def listen(self, project: int, number: int) -> AsyncIterator[str]:
        """The edits of a project after an edit number, as they are made."""
        mine = _Listener(asyncio.get_running_loop())
        with self._lock:
            self._listeners.setdefault(project, []).append(mine)
            missed = self._since(project, number)
        try:
            yield ": open\n\n"
            for told in missed:
                yield as_event(told)
            while True:
                try:
                    yield as_event(await asyncio.wait_for(mine.news.get(), STILL_THERE_S))
                except TimeoutError:
                    yield ": still there\n\n"
        finally:
            with self._lock:
                self._listeners[project].remove(mine)


BOARD = Board()


def tell(project: int, edit_number: int, tab: str, changed: list[int], removed: list[int]) -> None:
    """Tell an edit to whoever has the project open, once it is stored."""
    many = len(changed) + len(removed) > MOST_IDS
    told = EventShape(edit_number, tab, [] if many else changed, [] if many else removed, many)
    transaction.on_commit(lambda: BOARD.post(project, told))
