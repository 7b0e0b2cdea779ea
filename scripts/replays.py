"""Replays the runs of the tests in a process of its own, under another hash seed: each must come to the same bytes."""

from __future__ import annotations

import os
import pickle
import subprocess
import sys
import tempfile
from pathlib import Path

OTHER_SEED = "20261"


def not_the_same() -> tuple[int, list[str]]:
    """How many runs the tests of this process have made by inputs alone, and those that come to other bytes elsewhere."""
    from tests.core.walked import MADE

    runs = [(made.test, made.project, made.start, made.inputs, made.digest) for made in MADE if made.inputs]
    if not runs:
        return 0, []
    with tempfile.TemporaryDirectory() as place:
        file = Path(place, "runs")
        file.write_bytes(pickle.dumps(runs))
        environment = {**os.environ, "PYTHONHASHSEED": OTHER_SEED, "PYTHONPATH": "src:."}
        command = [sys.executable, "-W", "error", "-m", "scripts.replays", str(file)]
        said = subprocess.run(command, capture_output=True, text=True, check=False, env=environment)
    return len(runs), said.stdout.splitlines() if not said.returncode else [said.stderr]


def main() -> None:
    """Replay what a file holds, and name what comes to something else."""
    from tests.core.walked import digest, stands
    from vocanta.core.engine.run import Run

    for test, project, start, inputs, wanted in pickle.loads(Path(sys.argv[1]).read_bytes()):
        run = Run(project, start)
        for given in inputs:
            run.tick(given)
        if digest(run.chronicle, stands(run)) != wanted:
            print(f"a run of {test} came to something else when it was replayed: {len(inputs)} ticks")


if __name__ == "__main__":
    main()
