"""Kept walks walked again in a process of their own, out of the way of whoever types.

In: `{"file": text of a project file, "only": [names] or null}`. Out, a line each: `{"walk": name, "done": n, "of": n}` before
each walk, `{"outcome": ...}` after it; then the process ends. A project that cannot be walked in: `{"problems": [...]}`.
"""

from __future__ import annotations

import gc
import os
from typing import Any

from ..core.progress.compiling import compiled
from ..core.project.fileformat import loads
from ..core.project.tree import plain
from ..core.walks.following import way_of
from ..core.walks.reports import as_data
from ..core.walks.rewalking import Outcome, all_again
from .helping import SOONER, Say, help_out


def as_told(outcome: Outcome) -> dict[str, Any]:
    """What a walk came to as it travels: what is said of it, both ways, and what it is now where it parts ways."""
    told = as_data(outcome) | {"way_was": way_of(outcome.walk.deeds), "way_now": outcome.way}
    if not outcome.same:
        fields = ("deeds", "came", "comes_to", "pressed", "ticks")
        told["now"] = {field: plain(getattr(outcome.now, field)) for field in fields}
    return told


def walk_again(asked: dict[str, Any], say: Say) -> None:
    """Walk what is asked for, and say what each came to."""
    gc.disable()  # It is over before a collection would pay.
    project = loads(asked["file"])
    walks = [w for w in project.walks if asked["only"] is None or w.key in asked["only"]]

    def note(name: str, done: int, of: int) -> None:
        say({"walk": name, "done": done, "of": of})

    for outcome in all_again(project, compiled(project), walks, note):
        say({"outcome": as_told(outcome)})


if __name__ == "__main__":
    os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
    help_out(walk_again, SOONER)
