"""The server itself: uvicorn, which ends the streams of edits before it waits for what is still open."""

from __future__ import annotations

import asyncio
import socket
from collections.abc import Callable
from typing import Any

import h11
import uvicorn
from uvicorn.protocols.http.h11_impl import H11Protocol

from .events import BOARD

HEADERS_S = 15.0
"""So long the head of a request may take to come."""
MOST_CONNECTIONS = 4_000
"""So many may be open at a time; whoever comes then is let go at once."""
GOODBYE_S = 6
"""So long playtests have to store their last inputs when the server is stopped."""


class Patient(H11Protocol):
    """A connection that is let go where no request comes of it in time, or too many others are open."""

    _late: asyncio.TimerHandle | None = None
    _upgraded = False

    def connection_made(self, transport: asyncio.Transport) -> None:  # type: ignore[override]
        """Open; from now on a request is waited for, but not for ever."""
        super().connection_made(transport)
        if len(self.connections) > MOST_CONNECTIONS:
            transport.close()
            return
        self._late = self.loop.call_later(HEADERS_S, self._too_late)

    def data_received(self, data: bytes) -> None:
        """A piece of a request. The head of the next one has its time again from its first piece on."""
        before = self.cycle
        super().data_received(data)
        if self.cycle is not before:
            self._in_time()
        elif self._late is None and not self._upgraded and (self.cycle is None or self.cycle.response_complete):
            self._late = self.loop.call_later(HEADERS_S, self._too_late)

    def handle_websocket_upgrade(self, event: h11.Request) -> None:
        """From here on it is no request any more, and may be silent as long as it likes."""
        self._upgraded = True
        self._in_time()
        super().handle_websocket_upgrade(event)

    def connection_lost(self, exc: Exception | None) -> None:
        """Closed by either side."""
        self._in_time()
        super().connection_lost(exc)

    def _in_time(self) -> None:
        if self._late is not None:
            self._late.cancel()
            self._late = None

    def _too_late(self) -> None:
        self._late = None
        self.transport.close()


class Server(uvicorn.Server):
    """One server; whoever listens to edits is let go first, or it would never stop."""

    def __init__(self, config: uvicorn.Config, begun: Callable[[], None]):
        super().__init__(config)
        self._begun = begun

    async def startup(self, sockets: list[socket.socket] | None = None) -> None:
        """Begin to listen, and say so."""
        await super().startup(sockets)
        if self.started:
            self._begun()

    async def shutdown(self, sockets: list[socket.socket] | None = None) -> None:
        """End the streams, then everything else."""
        BOARD.close()
        await super().shutdown(sockets)


def server(
    application: Any, host: str, port: int, log_level: str = "warning", begun: Callable[[], None] = lambda: None
) -> Server:
    """A server of an application that has not begun yet. `begun` is called once it listens."""
    config = uvicorn.Config(
        application,
        host=host,
        port=port,
        http=Patient,
        ws="websockets-sansio",
        lifespan="off",
        log_level=log_level,
        timeout_graceful_shutdown=GOODBYE_S,
    )
    return Server(config, begun)
