"""The playtest over one WebSocket: inputs are passed on to the run's engine process, pictures back."""

from __future__ import annotations

import asyncio
import json
import os
import sys
from typing import Any, ClassVar

from channels.db import database_sync_to_async
from channels.generic.websocket import AsyncWebsocketConsumer
from django.conf import settings
from django.http.request import validate_host

from ..core.project.problems import Problem, ProjectError
from . import playing
from .refusals import Refused

MOST_BYTES = 8_192


class PlaytestConsumer(AsyncWebsocketConsumer):
    """One playtest.

    | state | what may happen | next |
    |---|---|---|
    | open | `begin` or `resume` | running |
    | running | inputs, and what the engine answers | running |
    | any | the socket closes | ended; the run can be resumed |
    """

    under_way: ClassVar[set[int]] = set()
    """The runs that are open in this process; a run leaves when its last inputs are stored."""

    async def connect(self) -> None:
        """Take the connection."""
        self.engine: asyncio.subprocess.Process | None = None
        self.pump: asyncio.Task[None] | None = None
        self.run_id = 0
        self.seen = True
        host = dict(self.scope["headers"]).get(b"host", b"").decode("latin-1")
        if validate_host(host.rsplit(":", 1)[0], settings.ALLOWED_HOSTS):
            await self.accept()
        else:
            await self.close()

    async def disconnect(self, code: int) -> None:
        """End the engine; what it has not stored yet is stored first."""
        self.seen = False
        if self.engine is not None and self.engine.stdin is not None:
            self.engine.stdin.close()
        try:
            if self.pump is not None:
                await self.pump
        finally:
            self.under_way.discard(self.run_id)

    async def receive(self, text_data: str | None = None, bytes_data: bytes | None = None) -> None:
        """One message from the screen."""
        message = self._read(text_data)
        if message is None:
            await self._refuse("The message is no JSON object, or longer than 8 kB.", "Send one JSON object a message.")
        elif self.engine is None:
            await self._begin(message)
        elif self.engine.stdin is not None:
            self.engine.stdin.write((json.dumps(message) + "\n").encode())

    @staticmethod
    def _read(text: str | None) -> dict[str, Any] | None:
        if text is None or len(text) > MOST_BYTES:
            return None
        try:
            message = json.loads(text)
        except json.JSONDecodeError:
            return None
        return message if isinstance(message, dict) else None

    async def _begin(self, message: dict[str, Any]) -> None:
        project = int(self.scope["url_route"]["kwargs"]["project"])
        try:
            if isinstance(message.get("resume"), int):
                self.run_id, first = await database_sync_to_async(playing.resume_run)(project, message["resume"])
            elif isinstance(message.get("begin"), dict):
                self.run_id, first = await database_sync_to_async(playing.begin_run)(project, message["begin"])
            else:
                await self._refuse("No run is under way yet.", "Send begin or resume first.")
                return
        except (Refused, ProjectError) as refused:
            await self.send(json.dumps({"problems": [p.as_dict() for p in refused.problems], "ended": True}))
            return
        self.under_way.add(self.run_id)
        await self.send(json.dumps({"run": self.run_id}))
        environment = {**os.environ, "OPENBLAS_NUM_THREADS": "1"}
        self.engine = await asyncio.create_subprocess_exec(
            sys.executable,
            "-m",
            "vocanta.server.engine_process",
            stdin=asyncio.subprocess.PIPE,
            stdout=asyncio.subprocess.PIPE,
            env=environment,
            limit=16 * 1024 * 1024,
        )
        assert self.engine.stdin is not None
        self.engine.stdin.write((json.dumps(first) + "\n").encode())
        self.pump = asyncio.create_task(self._pass_on(self.engine))

    async def _pass_on(self, engine: asyncio.subprocess.Process) -> None:
        """Pictures to the screen, inputs to the database, until the engine ends."""
        assert engine.stdout is not None
        while line := await engine.stdout.readline():
            if line.startswith(b'{"inputs"'):
                stored = json.loads(line)
                await database_sync_to_async(playing.keep_inputs)(self.run_id, stored["tick"], stored["inputs"])
            elif self.seen:
                await self._show(line.decode().rstrip("\n"))
        if await engine.wait() != 0 and self.seen:
            problem = Problem(
                "engine_ended",
                "The run was ended by a fault of the program.",
                "Begin again with F2; its messages are in the server's log.",
                "run",
            )
            await self._show(json.dumps({"problems": [problem.as_dict()], "ended": True}))

    async def _show(self, message: str) -> None:
        """Send to the screen; one that has just gone is told to nobody, and `disconnect` follows."""
        try:
            await self.send(message)
        except OSError:
            self.seen = False

    async def _refuse(self, message: str, fix: str) -> None:
        await self.send(json.dumps({"problems": [Problem("message_senseless", message, fix, "message").as_dict()]}))
