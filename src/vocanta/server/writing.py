"""Writing to the database: one after another, in the order in which they came."""

from __future__ import annotations

import threading
from collections import deque
from collections.abc import Iterator
from contextlib import contextmanager

from django.db import transaction


class FairLock:
    """A lock that lets in whoever has waited longest. SQLite alone lets writers try again until one is lucky."""

    def __init__(self) -> None:
        self._inner = threading.Lock()
        self._held = False
        self._waiting: deque[threading.Event] = deque()

    def acquire(self) -> None:
        """Wait for one's turn."""
        with self._inner:
            if not self._held:
                self._held = True
                return
            turn = threading.Event()
            self._waiting.append(turn)
        turn.wait()

    def release(self) -> None:
        """Let the next one in."""
        with self._inner:
            if self._waiting:
                self._waiting.popleft().set()
            else:
                self._held = False


_WRITERS = FairLock()
_MINE = threading.local()


@contextmanager
def writing() -> Iterator[None]:
    """One transaction that writes, alone in this process. Inside another one it is part of that."""
    if getattr(_MINE, "writes", False):
        yield
        return
    _WRITERS.acquire()
    _MINE.writes = True
    try:
        with transaction.atomic():
            yield
    finally:
        _MINE.writes = False
        _WRITERS.release()
