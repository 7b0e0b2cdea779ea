"""A run in a process of its own: one JSON object a line in and out, 30 ticks a second.

What comes first and what is said stands in `session.py`.
"""

from __future__ import annotations

import gc
import json
import os
import queue
import sys
import threading
import time
from typing import Any, TextIO

from ..core.project.fileformat import read_json
from ..core.project.problems import ProjectError
from .processes import end_with_parent
from .session import MOST_WAITING, Session


def _read_lines(source: TextIO, messages: queue.Queue[Any]) -> None:
    for line in source:
        try:
            messages.put(read_json(line))
        except ProjectError:
            messages.put("unreadable")
    messages.put(None)


def main() -> None:
    """Serve one run until the input ends."""
    end_with_parent()
    messages: queue.Queue[Any] = queue.Queue(MOST_WAITING)
    threading.Thread(target=_read_lines, args=(sys.stdin, messages), daemon=True).start()
    gc.disable()
    try:
        session = Session(messages.get(), sys.stdout)
    except ProjectError as error:
        sys.stdout.write(json.dumps({"problems": [p.as_dict() for p in error.problems], "ended": True}) + "\n")
        return
    # What was built lives as long as the run: no collection looks at it, neither while it grows nor in a tick.
    gc.freeze()
    gc.enable()
    due = time.monotonic()
    while True:
        due = max(due + session.seconds_a_tick(), time.monotonic() - 0.25)
        while True:
            left = due - time.monotonic()
            try:
                message = messages.get(timeout=left) if left > 0 else messages.get_nowait()
            except queue.Empty:
                break
            if message is None:
                session.store()
                return
            session.take(message)
        if not session.paused:
            session.step()


if __name__ == "__main__":
    os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
    main()
