"""Manners of the server: who may speak to it, what a page may load, and how refusals look."""

from __future__ import annotations

import errno
import logging
import secrets
from collections.abc import Callable
from typing import Any
from urllib.parse import urlsplit

from django.conf import settings
from django.core.exceptions import DisallowedHost, RequestDataTooBig, SuspiciousOperation
from django.db import OperationalError
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from rest_framework import exceptions
from rest_framework.parsers import JSONParser
from rest_framework.response import Response

from ..core.project.fileformat import read_json
from ..core.project.problems import Problem, ProjectError
from .refusals import Refused

POLICY = (
    "default-src 'none'; script-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; font-src 'self'; "
    "connect-src 'self' ws: wss:; media-src 'self' blob:; base-uri 'none'; form-action 'none'; frame-ancestors 'none'"
)
"""A sound is listened to for its length before it is sent, hence blob: among the media.
Inline style attributes are how Vue places things on the plan; there is no inline script."""

LOG = logging.getLogger("vocanta.server")
Next = Callable[[HttpRequest], HttpResponse]


def origin_allowed(origin: str | None, host: str) -> bool:
    """Whether a request's Origin is this server itself; requests without one are not from a page of elsewhere."""
    try:
        return origin is None or urlsplit(origin).netloc == host
    except ValueError:
        return False


def site_allowed(site: str | None, *, opens: bool = False) -> bool:
    """Whether a request comes from a page of this server itself, as a browser says of it (Sec-Fetch-Site). `opens`: it opens
    a page, as a link from anywhere may."""
    return site in (None, "same-origin", "none") or opens


class OriginMiddleware:
    """Refuses requests for unknown hosts, and what a page of another origin or site asks for."""

    def __init__(self, get_response: Next):
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        try:
            host = request.get_host()
        except DisallowedHost:
            return problem_json(
                400,
                "Unknown host",
                [
                    Problem(
                        "host_unknown",
                        "This server does not answer to that host name.",
                        "Open it by the address it printed at its start, or name the host in VOCANTA_HOSTS.",
                        "Host",
                    )
                ],
            )
        opens = request.headers.get("Sec-Fetch-Mode") == "navigate" and request.method == "GET"
        opens = opens and not request.path.startswith("/api/")
        known = site_allowed(request.headers.get("Sec-Fetch-Site"), opens=opens)
        if not known or not origin_allowed(request.headers.get("Origin"), host):
            return problem_json(
                403,
                "Foreign origin",
                [
                    Problem(
                        "origin_foreign",
                        "That request came from a page of another address.",
                        "Open the application by its own address.",
                        "Origin",
                    )
                ],
            )
        return self.get_response(request)


class StrictJSON(JSONParser):
    """JSON whose numbers are finite and which nests no deeper than can be read."""

    def parse(self, stream: Any, media_type: str | None = None, parser_context: Any = None) -> Any:
        """The data of a body. Raises DRF's `ParseError`."""
        most = settings.DATA_UPLOAD_MAX_MEMORY_SIZE
        body = stream.read(most + 1)
        if len(body) > most:
            raise RequestDataTooBig("The body is larger than is read.")
        try:
            return read_json(body.decode("utf-8"))
        except UnicodeDecodeError as error:
            raise exceptions.ParseError("The body is not UTF-8.") from error
        except ProjectError as error:
            raise exceptions.ParseError(error.problems[0].message.replace("The file", "The body")) from error


class FaultMiddleware:
    """Answers a fault of ours with a number, and leaves its traceback in the log under that number."""

    def __init__(self, get_response: Next):
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        return self.get_response(request)

    def process_exception(self, request: HttpRequest, error: Exception) -> HttpResponse | None:
        """Every exception of a view but those that Django itself answers."""
        if isinstance(error, Http404 | DisallowedHost | SuspiciousOperation):
            return None
        if is_full(error):
            return problem_json(507, DISK_FULL_TITLE, [DISK_FULL])
        return fault(request, error)


DISK_FULL_TITLE = "Disk full"
DISK_FULL = Problem(
    "disk_full",
    "The disk is full, so that nothing can be saved. Nothing was changed.",
    "Make room on the disk where the database lies, and do it again.",
    "disk",
)


def is_full(error: Exception) -> bool:
    """Whether something could not be written since the disk is full."""
    if isinstance(error, OSError):
        return error.errno == errno.ENOSPC
    return isinstance(error, OperationalError) and "full" in str(error)


def fault(request: HttpRequest, error: BaseException | None = None) -> HttpResponse:
    """A fault of ours as an answer."""
    number = secrets.token_hex(4)
    LOG.error("fault %s at %s %s", number, request.method, request.path, exc_info=error or True)
    message = f"The program made a mistake (number {number}). Nothing was changed."
    fix = f"Try again; if it stays, look for {number} in server.log beside the database."
    return problem_json(500, "Our fault", [Problem("fault", message, fix, request.path[:200])], number=number)


def no_such_place(request: HttpRequest, exception: Exception | None = None) -> HttpResponse:
    """An address that is none."""
    fix = "Look at /api/schema for the addresses there are."
    problem = Problem("not_found", "There is nothing at that address.", fix, request.path[:200])
    return problem_json(404, "No such address", [problem])


def senseless(request: HttpRequest, exception: Exception | None = None) -> HttpResponse:
    """A request that makes no sense to the server at all."""
    problem = Problem("request_senseless", "The request cannot be read.", "Send it again as it should be.", "request")
    return problem_json(400, "Senseless request", [problem])


class PolicyMiddleware:
    """Puts the content policy on every answer."""

    def __init__(self, get_response: Next):
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        response = self.get_response(request)
        response.headers.setdefault("Content-Security-Policy", POLICY)
        response.headers.setdefault("X-Content-Type-Options", "nosniff")
        response.headers.setdefault("Referrer-Policy", "same-origin")
        return response


def problem_body(status: int, title: str, problems: list[Problem], **more: Any) -> dict[str, Any]:
    """A refusal as RFC 9457 problem details."""
    detail = " ".join(p.message for p in problems)
    return {
        "type": "about:blank",
        "title": title,
        "status": status,
        "detail": detail,
        "problems": [p.as_dict() for p in problems],
        **more,
    }


def problem_json(status: int, title: str, problems: list[Problem], **more: Any) -> JsonResponse:
    """A refusal outside the REST views."""
    return JsonResponse(
        problem_body(status, title, problems, **more), status=status, content_type="application/problem+json"
    )


def problem_response(error: Exception, context: dict[str, Any]) -> Response | None:
    """Any refusal of a REST view as problem details; other errors are faults and go on to the log."""
    if isinstance(error, Refused):
        return _response(error.status, error.title, list(error.problems), error.more)
    if isinstance(error, ProjectError):
        return _response(422, "Cannot be used like that", list(error.problems), {})
    if is_full(error):
        return _response(507, DISK_FULL_TITLE, [DISK_FULL], {})
    if isinstance(error, RequestDataTooBig):
        most = settings.DATA_UPLOAD_MAX_MEMORY_SIZE // (1024 * 1024)
        return _response(
            413, "Too large", [Problem("too_large", f"That is more than {most} MB.", "Send less at once.", "body")], {}
        )
    if isinstance(error, exceptions.APIException):
        return _response(
            error.status_code,
            error.default_code,
            [
                Problem(
                    str(error.default_code),
                    str(error.detail),
                    "Send JSON in the shape that /api/schema describes.",
                    "body",
                )
            ],
            {},
        )
    return None


def _response(status: int, title: str, problems: list[Problem], more: dict[str, Any]) -> Response:
    return Response(
        problem_body(status, title, problems, **more), status=status, content_type="application/problem+json"
    )
