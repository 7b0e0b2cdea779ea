"""The playtest over one WebSocket: inputs are passed on to the run's engine process, pictures back."""

from __future__ import annotations

import asyncio
import json
from typing import Any, ClassVar

from channels.db import database_sync_to_async
from channels.generic.websocket import AsyncWebsocketConsumer
from django.conf import settings
from django.db import OperationalError
from django.http.request import validate_host

from ..core.project.fileformat import read_json
from ..core.project.problems import Problem, ProblemData, ProjectError
from . import models, playing
from .engines import Engine
from .gone import ends_with_its_project
from .manners import is_full, origin_allowed, site_allowed
from .playing import Begun
from .refusals import Refused

MOST_BYTES = 8_192
MOST_ENGINES = 12
"""So many runs may be under way at once; each takes a process."""


_FULL = Problem(
    "engines_full",
    f"{MOST_ENGINES} playtests are under way already.",
    "Close one of them, then begin again with F2.",
    "run",
)


_NOT_KEPT = Problem(
    "run_not_kept",
    "The disk of the server is full: this walk goes on, and is kept no longer.",
    "Make room on the disk, then begin again with F2; it is kept from then on.",
    "run",
)
_GONE = Problem(
    "project_deleted",
    "The project was deleted, and its walks ended with it.",
    "Bring it back from the list of projects, then walk again.",
    "run",
)


class PlaytestConsumer(AsyncWebsocketConsumer):
    """One playtest.

    | state | what may happen | next |
    |---|---|---|
    | open | `begin`, `resume` or `watch` | running |
    | running | inputs, and what the engine answers | running |
    | running | `again_here`: the engine is asked for the moment, and ends | running, a new run from there |
    | running | another socket resumes the same run | ended, told |
    | any | the socket closes | ended; the run can be resumed |
    """

    under_way: ClassVar[dict[int, PlaytestConsumer]] = {}
    """Who drives each run that is open in this process; a run leaves when its last inputs are stored. One that is only
    watched has no number of its own, and none below 0 is another's."""

    async def connect(self) -> None:
        """Take the connection of a page of this server; it is held to what HTTP is held to."""
        self.engine: Engine | None = None
        self.pump: asyncio.Task[None] | None = None
        self.run_id = 0
        self.seen, self.over, self.kept = True, False, True
        self.loop = asyncio.get_running_loop()
        headers = {name: value.decode("latin-1") for name, value in self.scope["headers"]}
        host = headers.get(b"host", "")
        known = validate_host(host.rsplit(":", 1)[0], settings.ALLOWED_HOSTS)
        if known and origin_allowed(headers.get(b"origin"), host) and site_allowed(headers.get(b"sec-fetch-site")):
            await self.accept()
        else:
            await self.close()

    async def disconnect(self, code: int) -> None:
        """End the engine; what it has not stored yet is stored first."""
        self.seen = False
        await self.end()

    async def end(self) -> None:
        """End the engine and store what is left of its inputs; one that does not end in time is killed."""
        self.over = True
        if self.engine is not None:
            await self.engine.end(self.pump)
        self._give_up_place()

    async def receive(self, text_data: str | None = None, bytes_data: bytes | None = None) -> None:
        """One message from the screen."""
        message = self._read(text_data)
        if message is None:
            await self._refuse("The message is no JSON object, or longer than 8 kB.", "Send one JSON object a message.")
        elif self.engine is not None:
            if not self.engine.tell(message):
                await self._refuse("The run cannot keep up with what is sent.", "Send less, or wait until it has.")
        else:
            await self._begin(message)

    @staticmethod
    def _read(text: str | None) -> dict[str, Any] | None:
        if text is None or len(text) > MOST_BYTES:
            return None
        try:
            message = read_json(text)
        except ProjectError:
            return None
        return message if isinstance(message, dict) else None

    async def _begin(self, message: dict[str, Any]) -> None:
        """Take a place among the runs under way, at once, so that no two take the same; then find the run and drive it."""
        resume = message.get("resume")
        number = resume if playing.is_number(resume) else -id(self)
        other = self.under_way.get(number)
        if self.run_id:
            await self._refuse("A run is being begun already.", "Wait until it is, then go on.")
            return
        if len(self.under_way) >= MOST_ENGINES and other is None:
            await self._end_with([_FULL.as_dict()])
            return
        self._take_place(number)
        try:
            if other is not None:
                await other._taken_over()
            found = await self._asked_for(message)
        except (Refused, ProjectError) as refused:
            self._give_up_place()
            await self._end_with([p.as_dict() for p in refused.problems])
            return
        if found is None:
            self._give_up_place()
            await self._refuse("No run is under way yet.", "Send begin, resume or watch first.")
        elif self.over:
            self._give_up_place()
        else:
            await self._drive(found)

    def _take_place(self, number: int) -> None:
        """Drive a run from now on, and no other."""
        self._give_up_place()
        self.run_id = number
        self.under_way[number] = self

    def _give_up_place(self) -> None:
        if self.under_way.get(self.run_id) is self:
            del self.under_way[self.run_id]
        self.run_id = 0

    async def _drive(self, begun: Begun) -> None:
        """Drive a run from now on, unless nobody is there any more."""
        if begun.run and begun.run != self.run_id:
            self._take_place(begun.run)
        await self._show(json.dumps({"run": begun.run, "edit": begun.edit, "left_out": begun.left_out}))
        engine = await Engine.started(begun.first)
        if self.over:
            await engine.end(None)
            self._give_up_place()
            return
        self.engine = engine
        self.pump = asyncio.create_task(self._pass_on(engine))

    async def _again(self, here: dict[str, Any]) -> None:
        """A new run of the project as it is now, from a moment of the one that has just ended."""
        project = int(self.scope["url_route"]["kwargs"]["project"])
        self._take_place(-id(self))
        try:
            begun = await database_sync_to_async(playing.begin_here)(project, here)
        except (Refused, ProjectError) as refused:
            self._give_up_place()
            await self._end_with([p.as_dict() for p in refused.problems])
            return
        await self._drive(begun)

    async def _asked_for(self, message: dict[str, Any]) -> Begun | None:
        """The run that a message begins, picks up again or watches, None where it does none of that."""
        project = int(self.scope["url_route"]["kwargs"]["project"])
        resume, begin, watch = message.get("resume"), message.get("begin"), message.get("watch")
        if playing.is_number(resume):
            return await database_sync_to_async(playing.resume_run)(project, resume)
        if isinstance(watch, dict):
            return await database_sync_to_async(playing.watch)(project, watch)
        if isinstance(begin, dict):
            return await database_sync_to_async(playing.begin_run)(project, begin)
        return None

    async def _taken_over(self) -> None:
        """One socket drives a run: who did it until now is told, and its inputs are stored before the other goes on."""
        problem = Problem(
            "taken_over",
            "This playtest goes on in another window.",
            "Take it back with F2, or close this one.",
            "run",
        )
        self.over = True
        await self._end_with([problem.as_dict()])
        await self.end()

    async def _pass_on(self, engine: Engine) -> None:
        """Pictures to the screen, inputs to the database, until the engine ends; then perhaps again from where it was."""
        here: dict[str, Any] | None = None
        async for line in engine.lines():
            if line.startswith(b'{"inputs"'):
                await self._keep(json.loads(line))
            elif line.startswith(b'{"here"'):
                here = json.loads(line)["here"]
                engine.hear_out()
            elif self.seen:
                await self._show(line.decode().rstrip("\n"))
        if await engine.process.wait() != 0 and self.seen:
            problem = Problem(
                "engine_ended",
                "The run was ended by a fault of the program.",
                "Begin again with F2; its messages are in the server's log.",
                "run",
            )
            await self._end_with([problem.as_dict()])
        elif here is not None and not self.over:
            await self._again(here)

    async def _keep(self, stored: dict[str, Any]) -> None:
        """Store inputs. Where the disk is full the run goes on and says that it is kept no longer."""
        if not self.kept:
            return
        try:
            await database_sync_to_async(playing.keep_inputs)(self.run_id, stored)
        except OperationalError as error:
            if not is_full(error):
                raise
            self.kept = False
            await self._show(json.dumps({"problems": [_NOT_KEPT.as_dict()]}))

    @classmethod
    def end_runs_of(cls, project: models.Project) -> None:
        """End every run of a project that is gone. Called from any thread."""
        for one in list(cls.under_way.values()):
            if int(one.scope["url_route"]["kwargs"]["project"]) == project.pk:
                asyncio.run_coroutine_threadsafe(one._project_gone(), one.loop)

    async def _project_gone(self) -> None:
        self.over = True
        await self._end_with([_GONE.as_dict()])
        await self.end()

    async def _end_with(self, problems: list[ProblemData]) -> None:
        await self._show(json.dumps({"problems": problems, "ended": True}))

    async def _show(self, message: str) -> None:
        """Send to the screen; one that has just gone is told to nobody, and `disconnect` follows."""
        try:
            await self.send(message)
        except OSError:
            self.seen = False

    async def _refuse(self, message: str, fix: str) -> None:
        await self._show(json.dumps({"problems": [Problem("message_senseless", message, fix, "message").as_dict()]}))


ends_with_its_project(PlaytestConsumer.end_runs_of)


class NoSuchSocket(AsyncWebsocketConsumer):
    """Any other address: the connection is not taken."""

    async def connect(self) -> None:
        """Close it."""
        await self.close()
