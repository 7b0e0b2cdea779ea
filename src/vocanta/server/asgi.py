"""The server as one ASGI application: pages and API over HTTP, playtests over WebSocket."""

from __future__ import annotations

import os
from typing import Any

from django.core.asgi import get_asgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "vocanta.server.settings")
_http = get_asgi_application()

from channels.routing import ProtocolTypeRouter, URLRouter  # noqa: E402 - Django must be set up first
from channels.security.websocket import OriginValidator  # noqa: E402
from django.conf import settings  # noqa: E402
from django.urls import path  # noqa: E402

from .consumers import PlaytestConsumer  # noqa: E402

_play: Any = PlaytestConsumer.as_asgi()
_routes: Any = [path("ws/projects/<int:project>/play", _play)]
_sockets: Any = URLRouter(_routes)
application = ProtocolTypeRouter({"http": _http, "websocket": OriginValidator(_sockets, settings.ALLOWED_HOSTS)})
