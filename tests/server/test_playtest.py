"""The playtest socket: nonsense is refused with a fix, runs begin, end and are picked up again."""

from __future__ import annotations

import json

from django.test import TransactionTestCase
from websockets.exceptions import InvalidStatus
from websockets.sync.client import connect

from tests.browser.driving import ServerThread, wait_for
from vocanta.demo import night_bloom
from vocanta.server import listing, models
from vocanta.server.consumers import PlaytestConsumer


class PlaytestSocket(TransactionTestCase):
    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        cls.server = ServerThread()

    @classmethod
    def tearDownClass(cls):
        cls.server.stop()
        super().tearDownClass()

    def setUp(self):
        self.project = listing.taken_in(night_bloom()).pk

    def tearDown(self):
        wait_for(lambda: not PlaytestConsumer.under_way, "the last run to be stored")

    def socket(self, origin=None):
        home = f"127.0.0.1:{self.server.port}"
        return connect(f"ws://{home}/ws/projects/{self.project}/play", origin=origin or f"http://{home}", max_size=None)

    def until(self, socket, part):
        while part not in (message := json.loads(socket.recv(10))):
            pass
        return message

    def test_messages_that_make_no_sense_are_refused_and_the_run_goes_on(self):
        with self.socket() as socket:
            for nonsense in (
                "{broken",
                "[]",
                "x" * 9_000,
                json.dumps({"input": {}}),
                json.dumps({"begin": {"quest": 4}}),
            ):
                socket.send(nonsense)
                self.assertTrue(self.until(socket, "problems")["problems"][0]["fix"], nonsense[:40])
            socket.send(json.dumps({"begin": {"at": "yard_bell"}}))
            self.until(socket, "run")
            first = self.until(socket, "picture")
            self.assertEqual(first["picture"]["prompts"][0]["object"], "yard_bell")
            socket.send(json.dumps({"input": {"down": ["fly"]}}))
            self.assertEqual(self.until(socket, "problems")["problems"][0]["code"], "input_senseless")
            self.assertGreater(self.until(socket, "picture")["picture"]["tick"], 0)

    def test_a_run_is_picked_up_again_from_its_stored_inputs(self):
        with self.socket() as socket:
            socket.send(json.dumps({"begin": {}}))
            run = self.until(socket, "run")["run"]
            socket.send(json.dumps({"input": {"move": [1, 0]}}))
            while self.until(socket, "picture")["picture"]["player"][0] < 6.5:
                pass
        wait_for(lambda: models.RunInputs.objects.filter(run=run).exists(), "the inputs to be stored")
        with self.socket() as again:
            again.send(json.dumps({"resume": run}))
            self.assertGreaterEqual(self.until(again, "picture")["picture"]["player"][0], 6.5)
        self.assertEqual((models.Snapshot.objects.count(), models.PlayedRun.objects.count()), (1, 1))

    def test_unknown_runs_points_and_foreign_pages_are_refused(self):
        for message in ({"resume": 99}, {"begin": {"quest": "dry_feet", "stage": "nowhere"}}):
            with self.socket() as socket:
                socket.send(json.dumps(message))
                self.assertTrue(self.until(socket, "problems")["ended"], message)
        with self.assertRaises(InvalidStatus), self.socket("http://elsewhere.example"):
            pass
