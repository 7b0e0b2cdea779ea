"""What was changed, told to everybody who has the project open: server-sent events with edit numbers."""

from __future__ import annotations

import asyncio
import json
from collections import deque
from collections.abc import AsyncGenerator
from dataclasses import asdict, dataclass, field
from datetime import datetime
from itertools import pairwise
from threading import Lock

from django.db import transaction

from . import models
from .shapes import EventShape

KEPT = 200
"""So many edits of a project are kept for whoever was away for a moment."""
MOST_IDS = 500
"""With more records than that an event says no ids: whoever hears it reads everything again."""
MOST_LISTENERS = 2_000
"""So many pages may listen to edits at a time."""
STILL_THERE_S = 15.0
"""After so long without an edit a line is sent that says nothing, so that a broken connection is noticed."""


Key = tuple[int, datetime]


def as_event(told: EventShape) -> str:
    """An edit as it goes over the line."""
    return f"id: {told.edit_number}\ndata: {json.dumps(asdict(told))}\n\n"


@dataclass
class _Listener:
    """Somebody who has a project open, in the loop that serves them."""

    loop: asyncio.AbstractEventLoop
    news: asyncio.Queue[EventShape | None] = field(default_factory=asyncio.Queue)


class Board:
    """Who listens to which project, and what was told last. One a process; no record."""

    def __init__(self) -> None:
        self._lock = Lock()
        self._listeners: dict[Key, list[_Listener]] = {}
        self._last: dict[Key, deque[EventShape]] = {}

    def post(self, project: Key, told: EventShape) -> None:
        """Tell an edit. Called from any thread."""
        with self._lock:
            self._last.setdefault(project, deque(maxlen=KEPT)).append(told)
            listeners = list(self._listeners.get(project, ()))
        for one in listeners:
            one.loop.call_soon_threadsafe(one.news.put_nowait, told)

    def since(self, project: Key, known: int, now: int) -> list[EventShape]:
        """What was told after an edit number, in order; where not all of it is kept, one that says: read all again."""
        with self._lock:
            return self._since(project, known, now)

    def _since(self, project: Key, known: int, now: int) -> list[EventShape]:
        later = [t for t in self._last.get(project, ()) if t.edit_number > known]
        numbers = [known, *(t.edit_number for t in later)]
        if any(b != a + 1 for a, b in pairwise(numbers)) or numbers[-1] < now:
            return [EventShape(max(numbers[-1], now), "", [], [], True)]
        return later

    async def listen(self, project: Key, known: int, now: int) -> AsyncGenerator[str, None]:
        """The edits of a project after the edit number that a tab knows, as they are made; `now` is the last one."""
        mine = _Listener(asyncio.get_running_loop())
        with self._lock:
            self._listeners.setdefault(project, []).append(mine)
            missed = self._since(project, known, now)
        try:
            yield ": open\n\n"
            for told in missed:
                yield as_event(told)
            while True:
                try:
                    told_now = await asyncio.wait_for(mine.news.get(), STILL_THERE_S)
                except TimeoutError:
                    yield ": still there\n\n"
                    continue
                if told_now is None:
                    return
                yield as_event(told_now)
        finally:
            with self._lock:
                self._listeners[project].remove(mine)

    def full(self) -> bool:
        """Whether nobody else can listen."""
        with self._lock:
            return sum(map(len, self._listeners.values())) >= MOST_LISTENERS

    def clear(self) -> None:
        """Forget what was told."""
        with self._lock:
            self._last.clear()

    def close(self) -> None:
        """Let everybody go who listens."""
        with self._lock:
            listeners = [one for some in self._listeners.values() for one in some]
        for one in listeners:
            one.loop.call_soon_threadsafe(one.news.put_nowait, None)


BOARD = Board()


def key_of(project: models.Project) -> Key:
    """What stands for a project and for no other that had its number once."""
    return project.pk, project.created_at


def tell(project: models.Project, tab: str, changed: list[int], removed: list[int]) -> None:
    """Tell an edit to whoever has the project open, once it is stored."""
    many = len(changed) + len(removed) > MOST_IDS
    told = EventShape(project.edit_number, tab, [] if many else changed, [] if many else removed, many)
    transaction.on_commit(lambda: BOARD.post(key_of(project), told))
