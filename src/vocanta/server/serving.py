"""The server itself: uvicorn, which ends the streams of edits before it waits for what is still open."""

from __future__ import annotations

import socket
from collections.abc import Callable
from typing import Any

import uvicorn

from .events import BOARD

GOODBYE_S = 6
"""So long playtests have to store their last inputs when the server is stopped."""


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
        ws="websockets-sansio",
        lifespan="off",
        log_level=log_level,
        timeout_graceful_shutdown=GOODBYE_S,
    )
    return Server(config, begun)
