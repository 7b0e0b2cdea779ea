"""Django settings. What differs between machines comes from the environment: `VOCANTA_DATA`, `VOCANTA_HOSTS`,
`VOCANTA_PROVES` (0: projects are proved on demand only, not by themselves after edits)."""

from __future__ import annotations

import os
import secrets
from pathlib import Path

ROOT = Path(__file__).resolve().parents[3]
DATA = Path(os.environ.get("VOCANTA_DATA", ROOT / "var"))
DATA.mkdir(parents=True, exist_ok=True)


def _secret() -> str:
    """The key of this installation, made at its first start."""
    place = DATA / "secret.txt"
    if not place.exists():
        place.write_text(secrets.token_urlsafe(48), encoding="utf-8")
        place.chmod(0o600)
    return place.read_text(encoding="utf-8")


SECRET_KEY = _secret()
DEBUG = False
ALLOWED_HOSTS = os.environ.get("VOCANTA_HOSTS", "127.0.0.1,localhost").split(",")
ROOT_URLCONF = "vocanta.server.urls"
ASGI_APPLICATION = "vocanta.server.asgi.application"
INSTALLED_APPS = ["django.contrib.staticfiles", "rest_framework", "drf_spectacular", "channels", "vocanta.server"]
MIDDLEWARE = [
    "vocanta.server.manners.PolicyMiddleware",
    "vocanta.server.manners.FaultMiddleware",
    "vocanta.server.manners.OriginMiddleware",
    "servestatic.middleware.ServeStaticMiddleware",
    "django.middleware.common.CommonMiddleware",
]
DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.sqlite3",
        "NAME": DATA / "vocanta.sqlite3",
        "OPTIONS": {
            "timeout": 20,
            "transaction_mode": "IMMEDIATE",
            "init_command": "PRAGMA journal_mode=WAL; PRAGMA synchronous=FULL; PRAGMA foreign_keys=ON;",
        },
        "TEST": {"NAME": DATA / "test.sqlite3"},
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"
TIME_ZONE = "UTC"
USE_TZ = True
LANGUAGE_CODE = "en-gb"
STATIC_URL = "/static/"
STATIC_ROOT = DATA / "static"
STATICFILES_DIRS = [ROOT / "web" / "dist"] if (ROOT / "web" / "dist").is_dir() else []
FRONT_PAGE = ROOT / "web" / "dist" / "index.html"
PROVES_BY_ITSELF = os.environ.get("VOCANTA_PROVES", "1") != "0"
DATA_UPLOAD_MAX_MEMORY_SIZE = 8 * 1024 * 1024
APPEND_SLASH = False
SERVESTATIC_USE_FINDERS = True
SERVESTATIC_ALLOW_ALL_ORIGINS = False
SERVESTATIC_AUTOREFRESH = False
LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "formatters": {"plain": {"format": "%(asctime)s %(levelname)s %(name)s: %(message)s"}},
    "handlers": {
        "file": {
            "class": "logging.handlers.RotatingFileHandler",
            "filename": DATA / "server.log",
            "maxBytes": 2 * 1024 * 1024,
            "backupCount": 3,
            "formatter": "plain",
            "delay": True,
        },
        "screen": {"class": "logging.StreamHandler", "formatter": "plain"},
    },
    "loggers": {"vocanta": {"handlers": ["file", "screen"], "level": "INFO"}},
}
REST_FRAMEWORK = {
    "DEFAULT_AUTHENTICATION_CLASSES": [],
    "DEFAULT_PERMISSION_CLASSES": [],
    "UNAUTHENTICATED_USER": None,
    "DEFAULT_RENDERER_CLASSES": ["rest_framework.renderers.JSONRenderer"],
    "DEFAULT_PARSER_CLASSES": ["vocanta.server.manners.StrictJSON"],
    "DEFAULT_SCHEMA_CLASS": "drf_spectacular.openapi.AutoSchema",
    "EXCEPTION_HANDLER": "vocanta.server.manners.problem_response",
}
SPECTACULAR_SETTINGS = {
    "TITLE": "Vocanta",
    "VERSION": "1",
    "SERVE_INCLUDE_SCHEMA": False,
    "DESCRIPTION": "Projects, their records, edits, readings and playtests.",
    "COMPONENT_SPLIT_REQUEST": False,
    "POSTPROCESSING_HOOKS": ["vocanta.server.schema.put_in_shapes"],
}
