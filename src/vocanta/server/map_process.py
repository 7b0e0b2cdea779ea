"""The map of the gates from some other situation than the start, worked out in a process of its own.

In: `{"file": text of a project file, "puts": [[column, value]]}`, what is otherwise than at the start. Out, a line each:
`{"note": [what, done, of]}` as it comes on, `{"gates": [...]}` at last.
"""

from __future__ import annotations

import os
from dataclasses import asdict
from typing import Any

from ..core.engine.wording import Words
from ..core.progress.compiling import compiled
from ..core.project.fileformat import loads
from ..core.proof.wide import spread_whole
from ..core.proving.map import map_of
from .helping import Say, help_out, noting


def map_out(asked: dict[str, Any], say: Say) -> None:
    """Work out what becomes possible from there."""
    project = loads(asked["file"])
    program = compiled(project)
    row = [column.start for column in program.columns]
    for column, value in asked["puts"]:
        row[program.table.number(column)] = value
    worked = spread_whole(program, row, noting(say))
    words = Words(project, lambda: program.layout)
    say({"gates": [asdict(gate) for gate in map_of(worked, words)]})


if __name__ == "__main__":
    os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
    help_out(map_out)
