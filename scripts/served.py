"""A server in a process and with a database of its own, for what is measured or tried from outside."""

from __future__ import annotations

import contextlib
import os
import socket
import subprocess
import sys
import tempfile
from collections.abc import Iterator


@contextlib.contextmanager
def served() -> Iterator[int]:
    """A server in a process and with a database of its own; its port."""
    with tempfile.TemporaryDirectory() as data, socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
        probe.close()
        command = [sys.executable, "-W", "ignore", "-m", "vocanta.server.manage", "serve", "--port", str(port)]
        environment = {**os.environ, "VOCANTA_DATA": data}
        with subprocess.Popen(command, env=environment, stdout=subprocess.PIPE, text=True) as server:
            assert server.stdout is not None
            while "is at" not in (said := server.stdout.readline()):
                assert said, "the server has not begun"
            try:
                yield port
            finally:
                server.terminate()
