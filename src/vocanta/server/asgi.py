"""The server as one ASGI application: pages and API over HTTP, playtests over WebSocket."""

from __future__ import annotations

import os
from typing import Any

from django.core.asgi import get_asgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "vocanta.server.settings")
_django: Any = get_asgi_application()

from channels.routing import ProtocolTypeRouter, URLRouter  # noqa: E402 - Django must be set up first
from django.urls import path, re_path  # noqa: E402

from .consumers import NoSuchSocket, PlaytestConsumer  # noqa: E402
from .streams import Streams  # noqa: E402

_play: Any = PlaytestConsumer.as_asgi()
_none: Any = NoSuchSocket.as_asgi()
_http = Streams(_django)
_routes: Any = [path("ws/projects/<int:project>/play", _play), re_path(r"", _none)]
_sockets: Any = URLRouter(_routes)
application = ProtocolTypeRouter({"http": _http, "websocket": _sockets})
