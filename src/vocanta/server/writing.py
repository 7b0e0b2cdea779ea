"""Reading the database as of one moment, and writing to it one after another, in the order in which they came."""

from __future__ import annotations

import threading
from collections import deque
from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

from django.db import connection, transaction


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


@contextmanager
def one_look() -> Iterator[None]:
    """Everything that is asked of the database meanwhile is as of the first question, whatever others write."""
    if connection.in_atomic_block:
        yield
        return
    connection.ensure_connection()  # The mode is known once there is one.
    database: Any = connection
    usual = database.transaction_mode
    database.transaction_mode = "DEFERRED"  # It waits for no writer; the usual one would be a writer itself.
    try:
        with transaction.atomic():
            yield
    finally:
        database.transaction_mode = usual
