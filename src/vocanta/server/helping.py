"""What every helper process that does one thing for a project is: out of the way of whoever types, with bounded memory."""

from __future__ import annotations

import gc
import json
import os
import sys
import time
from collections.abc import Callable
from typing import Any

from ..core.project.noting import Note
from ..core.project.problems import ProjectError
from .processes import end_with_parent, hold_memory

NOTE_S = 0.25
LATER, SOONER = 15, 10
"""How far a helper stands back: both behind whatever answers somebody who types, the second before the first."""
Say = Callable[[dict[str, Any]], None]


def noting(say: Say) -> Note:
    """Says how far something has come, a few times a second."""
    last = 0.0

    def note(what: str, done: int, of: int) -> None:
        nonlocal last
        if time.monotonic() - last > NOTE_S:
            last = time.monotonic()
            say({"note": [what, done, of]})

    return note


def help_out(work: Callable[[dict[str, Any], Say], None], niceness: int = LATER) -> None:
    """Do a work on the line of JSON that comes in, and end. A project that is none: `{"problems": [...]}`."""
    end_with_parent()
    os.nice(niceness)
    hold_memory()
    gc.freeze()
    asked = json.loads(sys.stdin.readline())

    def say(message: dict[str, Any]) -> None:
        sys.stdout.write(json.dumps(message, separators=(",", ":"), ensure_ascii=False) + "\n")
        sys.stdout.flush()

    try:
        work(asked, say)
    except ProjectError as error:
        say({"problems": [p.as_dict() for p in error.problems]})
