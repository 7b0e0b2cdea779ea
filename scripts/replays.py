"""Replays the runs of the tests in a process of its own, under another hash seed: each must come to the same bytes, and do
nothing that a proof would hold impossible."""

from __future__ import annotations

import io
import json
import os
import pickle
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from pathlib import Path

OTHER_SEED = "20261"
MOST_TOLD = 3
"""Of one run no more is told: the rest mostly follows."""


def not_the_same() -> tuple[int, list[str]]:
    """How many runs the tests of this process have made, and those that come to other bytes elsewhere."""
    from tests.recorded import MADE, STORED

    made = {m.mark: (m.test, m.project, m.start, m.inputs, m.mark) for m in MADE if m.inputs}
    if not made and not STORED:
        return 0, []
    with tempfile.TemporaryDirectory() as place:
        file = Path(place, "runs")
        file.write_bytes(pickle.dumps((list(made.values()), STORED)))
        environment = {**os.environ, "PYTHONHASHSEED": OTHER_SEED, "PYTHONPATH": "src:."}
        command = [sys.executable, "-W", "error", "-m", "scripts.replays", str(file)]
        said = subprocess.run(command, capture_output=True, text=True, check=False, env=environment)
    return len(made) + len(STORED), said.stdout.splitlines() if not said.returncode else [said.stderr]


def made_otherwise(runs: list[tuple]) -> Iterator[str]:
    """Which of some runs, each with its test, project, start, inputs and mark, come to another mark."""
    from vocanta.core.engine.marking import Marker, stands
    from vocanta.core.engine.run import Run
    from vocanta.core.progress.compiling import compiled

    programs: list[tuple] = []
    for test, project, start, inputs, wanted in runs:
        if (program := next((its for one, its in programs if one == project), None)) is None:
            programs.append((project, program := compiled(project)))
        run, marker = Run(project, start, program), Marker()
        marker.note(run.chronicle)
        for given in inputs:
            marker.note(run.tick(given))
        if marker.mark(stands(run.situation)) != wanted:
            yield f"a run of {test} came to something else when it was replayed: {len(inputs)} ticks"
        if (watched := getattr(run, "watched", None)) is not None:
            watched.of = test


def _stored_otherwise(stored: dict[str, dict]) -> Iterator[str]:
    from vocanta.server.session import Session

    for first in stored.values():
        told = io.StringIO()
        Session(first, told)
        begun = next(m for m in map(json.loads, told.getvalue().splitlines()) if "picture" in m)
        if begun["otherwise"]:
            yield f"a stored run came to something else when it was replayed: {first['tick']} ticks"


def main() -> None:
    """Replay what a file holds, and name what comes to something else."""
    from tests.possible import watch_every_run

    made, stored = pickle.loads(Path(sys.argv[1]).read_bytes())
    watched = watch_every_run()
    for says in (*made_otherwise(made), *_stored_otherwise(stored)):
        print(says)
    for one in watched:
        for says in one.contradictions[:MOST_TOLD]:
            print(f"what a run of {one.of} did the proof holds impossible: {says}")


if __name__ == "__main__":
    main()
