"""Engine processes as the web process sees them: begun, told, listened to, ended; killed where they do not end."""

from __future__ import annotations

import asyncio
import contextlib
import json
import sys
from collections.abc import AsyncIterator
from typing import Any

from .processes import environment, life

MOST_WAITING_BYTES = 64 * 1024
"""So much may wait for an engine to read it; what comes on top is refused."""
LONGEST_LINE = 64 * 1024 * 1024
END_S = 4.0
"""So long an engine has to store its last inputs; then it is killed."""


class Engine:
    """One engine process.

    | state | what may happen | next |
    |---|---|---|
    | running | it is told something | running |
    | running | `end`: its input is closed | ended, or killed after 4 s |
    """

    def __init__(self, process: asyncio.subprocess.Process):
        self.process = process
        self._heard = False

    @classmethod
    async def started(cls, first: dict[str, Any]) -> Engine:
        """An engine that was given its first message."""
        process = await asyncio.create_subprocess_exec(
            sys.executable,
            "-m",
            "vocanta.server.engine_process",
            stdin=asyncio.subprocess.PIPE,
            stdout=asyncio.subprocess.PIPE,
            env=environment(),
            limit=LONGEST_LINE,
            pass_fds=(life(),),
        )
        assert process.stdin is not None
        process.stdin.write((json.dumps(first) + "\n").encode())
        return cls(process)

    def tell(self, message: dict[str, Any]) -> bool:
        """Pass a message on; whether it could be taken. What was given at the start does not count as waiting."""
        stdin = self.process.stdin
        if stdin is None or stdin.is_closing():
            return True
        if self._heard and stdin.transport.get_write_buffer_size() > MOST_WAITING_BYTES:
            return False
        stdin.write((json.dumps(message) + "\n").encode())
        return True

    async def lines(self) -> AsyncIterator[bytes]:
        """What it says, line by line, until it ends."""
        assert self.process.stdout is not None
        while line := await self.process.stdout.readline():
            self._heard = True
            yield line

    def hear_out(self) -> None:
        """Close its input: it says what it still has to say, and ends."""
        if self.process.stdin is not None:
            self.process.stdin.close()

    async def end(self, listening: asyncio.Task[None] | None) -> None:
        """Close its input, and wait until what it still says was listened to; then it is gone, one way or the other."""
        self.hear_out()
        try:
            if listening is not None:
                await asyncio.wait_for(asyncio.shield(listening), END_S)
            await asyncio.wait_for(self.process.wait(), END_S)
        except TimeoutError:
            with contextlib.suppress(ProcessLookupError):
                self.process.kill()
            await self.process.wait()
