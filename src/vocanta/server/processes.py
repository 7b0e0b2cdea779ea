"""Helper processes: Python modules that read lines of JSON and write such lines."""

from __future__ import annotations

import functools
import os
import resource
import subprocess
import sys
import threading

MEMORY_BYTES = 2 * 1024**3
"""So much memory a helper may take."""
LIFE = "VOCANTA_LIFE"
"""Names the end of a pipe whose other end lives as long as the parent: when that is gone, so is the helper."""


@functools.cache
def life() -> int:
    """The end of the pipe that helpers are given. The other end stays open until this process is gone, however it ends."""
    reading, _ = os.pipe()
    return reading


def end_with_parent() -> None:
    """Let this process end as soon as its parent is gone; without a parent that gave it a pipe nothing happens."""
    given = os.environ.get(LIFE)
    if given is None:
        return

    def wait() -> None:
        os.read(int(given), 1)
        os._exit(1)

    threading.Thread(target=wait, daemon=True).start()


def hold_memory() -> None:
    """Let this process take no more memory than a helper may."""
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY_BYTES, resource.getrlimit(resource.RLIMIT_AS)[1]))


def environment() -> dict[str, str]:
    """What helper processes and engines are told: one thread each, and no looking for plugins, which costs a fifth of a start."""
    return {**os.environ, "OPENBLAS_NUM_THREADS": "1", "PYDANTIC_DISABLE_PLUGINS": "__all__", LIFE: str(life())}


def begun(module: str) -> subprocess.Popen[str]:
    """A process of a module, its input and output open as text."""
    return subprocess.Popen(
        [sys.executable, "-m", module],
        stdin=subprocess.PIPE,
        stdout=subprocess.PIPE,
        text=True,
        env=environment(),
        pass_fds=(life(),),
    )
