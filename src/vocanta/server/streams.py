"""Around the application: who listens to edits holds no thread, and a request that is never finished is let go."""

from __future__ import annotations

import asyncio
import contextlib
import uuid
from collections.abc import AsyncGenerator, Awaitable, Callable
from typing import Any

from django.http import HttpResponse

Message = dict[str, Any]
Receive = Callable[[], Awaitable[Message]]
Send = Callable[[Message], Awaitable[None]]
App = Callable[[Message, Receive, Send], Awaitable[None]]

BODY_S = 30.0
"""So long the next piece of a request is waited for."""
FOLLOWS = "X-Follows"
"""The header by which a view says within the server that its answer goes on: by the name of what was left for it."""

MOST_LEFT = 1_000
"""So many answers may be about to go on."""
_left: dict[str, Callable[[], AsyncGenerator[str, None]]] = {}


def following(response: HttpResponse, listen: Callable[[], AsyncGenerator[str, None]]) -> HttpResponse:
    """An answer that goes on with lines as they come, once its view is over and its thread is free."""
    name = uuid.uuid4().hex
    _left[name] = listen
    while len(_left) > MOST_LEFT:  # Whoever asked was gone before it could go on.
        _left.pop(next(iter(_left)))
    response[FOLLOWS] = name
    return response


class Streams:
    """An application whose answers may go on after its view is over."""

    def __init__(self, app: App):
        self._app = app

    async def __call__(self, scope: Message, receive: Receive, send: Send) -> None:
        """One request."""
        if scope["type"] != "http":
            await self._app(scope, receive, send)
            return
        held: list[Message] = []
        whole = False

        async def patient() -> Message:
            nonlocal whole
            if whole:
                return await receive()
            try:
                message = await asyncio.wait_for(receive(), BODY_S)
            except TimeoutError:
                return {"type": "http.disconnect"}
            whole = not message.get("more_body", False)
            return message

        async def sending(message: Message) -> None:
            if message["type"] == "http.response.start" and _follows(message):
                held.append(message)
            elif not held:
                await send(message)

        await self._app(scope, patient, sending)
        if held:
            await self._follow(held[0], receive, send)

    async def _follow(self, start: Message, receive: Receive, send: Send) -> None:
        left = _left.pop(_follows(start), None)
        headers = [
            (k, v) for k, v in start["headers"] if k.lower() not in (FOLLOWS.lower().encode(), b"content-length")
        ]
        await send({**start, "headers": headers})
        lines = left() if left is not None else _none()
        gone = asyncio.ensure_future(_gone(receive))
        try:
            while not gone.done():
                line = asyncio.ensure_future(anext(lines))
                await asyncio.wait({line, gone}, return_when=asyncio.FIRST_COMPLETED)
                if not line.done():
                    line.cancel()
                    break
                await send({"type": "http.response.body", "body": line.result().encode(), "more_body": True})
        except StopAsyncIteration:
            pass  # All was said.
        finally:
            gone.cancel()
            with contextlib.suppress(asyncio.CancelledError, RuntimeError):
                await lines.aclose()
        await send({"type": "http.response.body", "body": b"", "more_body": False})


async def _none() -> AsyncGenerator[str, None]:
    return
    yield ""


def _follows(start: Message) -> str:
    return next((v.decode() for k, v in start["headers"] if k.lower() == FOLLOWS.lower().encode()), "")


async def _gone(receive: Receive) -> None:
    while (await receive())["type"] != "http.disconnect":
        pass
