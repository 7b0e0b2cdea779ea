"""Connections: heads and bodies that never come are let go, listeners hold no thread, and others are served meanwhile."""

from __future__ import annotations

import asyncio
import contextlib
import json
import socket
import threading
import urllib.request
from unittest import mock

from django.test import TransactionTestCase

from tests.browser.driving import ServerThread, wait_for
from vocanta.server import edits, events, listing, serving, streams
from vocanta.server.shapes import ChangeAsked, EditAsked


class OnAPort(TransactionTestCase):
    def setUp(self):
        self.project = listing.new_project("Listened to")
        self.server = ServerThread()
        self.addCleanup(self.server.stop)
        self.at = f"http://127.0.0.1:{self.server.port}"

    def connected(self, begun: bytes) -> socket.socket:
        """A connection that has sent the beginning of something."""
        one = socket.create_connection(("127.0.0.1", self.server.port), timeout=20)
        self.addCleanup(one.close)
        one.sendall(begun)
        return one

    def is_served(self):
        with urllib.request.urlopen(f"{self.at}/api/projects", timeout=20) as answer:
            return answer.status == 200

    def head(self, path: str) -> bytes:
        return f"GET {path} HTTP/1.1\r\nHost: 127.0.0.1:{self.server.port}\r\nAccept: text/event-stream\r\n".encode()


class Unfinished(OnAPort):
    def test_a_head_that_never_comes_is_let_go(self):
        with mock.patch.object(serving, "HEADERS_S", 0.3):
            for begun in (b"", b"GET /api/projects HTTP/1.1\r\nHos"):
                self.assertEqual(b"", self.connected(begun).recv(100))

    def test_a_second_head_on_the_same_connection_has_its_time_too(self):
        with mock.patch.object(serving, "HEADERS_S", 0.3):
            one = self.connected(self.head("/api/projects") + b"\r\n")
            self.assertTrue(one.recv(100_000).startswith(b"HTTP/1.1"))
            one.sendall(b"GET /api/pro")
            while one.recv(100_000):
                pass

    def test_a_body_that_never_comes_is_let_go(self):
        with mock.patch.object(streams, "BODY_S", 0.3):
            head = f"POST /api/projects HTTP/1.1\r\nHost: 127.0.0.1:{self.server.port}\r\nContent-Length: 500\r\n"
            one = self.connected(head.encode() + b'Content-Type: application/json\r\n\r\n{"na')
            while one.recv(100_000):
                pass
        self.assertTrue(self.is_served())

    def test_many_half_sent_requests_hold_nobody_up(self):
        for _ in range(300):
            self.connected(b"GET /api/projects HTTP/1.1\r\n")
        self.assertTrue(self.is_served())

    def test_more_connections_than_may_be_are_let_go_at_once(self):
        with mock.patch.object(serving, "MOST_CONNECTIONS", 3):
            kept = [self.connected(b"GET ") for _ in range(3)]
            with contextlib.suppress(ConnectionResetError):
                self.assertEqual(b"", self.connected(b"GET ").recv(100))
            kept[0].close()


class Listening(OnAPort):
    def listeners(self, count):
        begun = self.head(f"/api/projects/{self.project.pk}/events") + b"\r\n"
        found = [self.connected(begun) for _ in range(count)]
        for one in found:
            said = b""
            while b": open" not in said:
                said += one.recv(10_000)
        return found

    def rename(self):
        asked = EditAsked("a", [ChangeAsked("add", type="fact", values={"name": "Wet"})], "")
        return edits.apply_edit(self.project.pk, asked, "")

    def test_none_holds_a_thread_and_each_hears_an_edit(self):
        before = threading.active_count()
        found = self.listeners(60)
        wait_for(lambda: threading.active_count() <= before + 8, "the threads of the views to end")
        self.rename()
        for one in found:
            said = b""
            while b"data:" not in said:
                said += one.recv(10_000)
            told = json.loads(said.decode().split("data: ", 1)[1].split("\n")[0])
            self.assertEqual("a", told["tab"])
        for one in found:
            one.close()
        wait_for(lambda: not any(events.BOARD._listeners.values()), "who is gone to be forgotten")

    def test_more_than_may_listen_are_told_so(self):
        with mock.patch.object(events, "MOST_LISTENERS", 2):
            self.listeners(2)
            one = self.connected(self.head(f"/api/projects/{self.project.pk}/events") + b"\r\n")
            self.assertTrue(one.recv(10_000).startswith(b"HTTP/1.1 503"))


class Following(OnAPort):
    def test_what_was_never_left_is_nothing(self):
        sent: list = []

        async def app(scope, receive, send):
            headers = [(streams.FOLLOWS.lower().encode(), b"nothing")]
            await send({"type": "http.response.start", "status": 200, "headers": headers})
            await send({"type": "http.response.body", "body": b""})

        async def asked():
            async def receive():
                return await asyncio.Future()

            async def send(message):
                sent.append(message)

            await streams.Streams(app)({"type": "http"}, receive, send)

        with contextlib.suppress(asyncio.CancelledError):
            asyncio.run(asked())
        self.assertEqual([[], b""], [sent[0]["headers"], sent[-1]["body"]])
