"""The playtest socket: nonsense is refused with a fix, runs begin, end and are picked up again."""

from __future__ import annotations

import contextlib
import json
import os
import signal
from unittest import mock

from django.db import OperationalError
from django.test import TransactionTestCase
from websockets.exceptions import InvalidStatus
from websockets.sync.client import connect

from tests.browser.driving import ServerThread, wait_for
from tests.recorded import note_stored_runs
from vocanta.demo import night_bloom
from vocanta.server import listing, models, playing, serving
from vocanta.server.consumers import MOST_ENGINES, PlaytestConsumer


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
        note_stored_runs()

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
        wait_for(lambda: not PlaytestConsumer.under_way, "the last inputs to be stored")
        with self.socket() as again:
            again.send(json.dumps({"resume": run}))
            self.assertGreaterEqual(self.until(again, "picture")["picture"]["player"][0], 6.5)
        self.assertEqual((models.Snapshot.objects.count(), models.PlayedRun.objects.count()), (1, 1))

    def test_a_run_that_another_engine_has_walked_is_not_picked_up_and_says_so(self):
        run = playing.begin_run(self.project, {}).run
        models.PlayedRun.objects.filter(pk=run).update(engine="1")
        with self.socket() as socket:
            socket.send(json.dumps({"resume": run}))
            told = self.until(socket, "problems")
        self.assertEqual((told["problems"][0]["code"], told["ended"]), ("engine_other", True))
        self.assertIn("F2", told["problems"][0]["fix"])

    def test_what_a_run_has_come_to_is_told_as_the_values_of_a_start_card(self):
        with self.socket() as socket:
            socket.send(json.dumps({"begin": {"card": "key_in_hand"}}))
            self.until(socket, "picture")
            socket.send(json.dumps({"moment": True}))
            moment = self.until(socket, "moment")["moment"]
        card = models.Card.objects.get(project_id=self.project, key="key_in_hand")
        self.assertEqual((moment["in_level"], moment["x_m"], moment["y_m"]), (card.in_level, card.x_m, card.y_m))
        held = {h["column"]: h["value"] for h in card.holds}
        self.assertEqual(held.items() - {h["column"]: h["value"] for h in moment["holds"]}.items(), set())

    def test_a_kept_walk_is_watched_and_walked_on_from_where_it_is(self):
        with self.socket() as socket:
            socket.send(json.dumps({"watch": {"walk": "walk_given_up"}}))
            first = self.until(socket, "run")
            self.assertEqual((first["run"], models.PlayedRun.objects.count()), (0, 0))
            while not self.until(socket, "paused").get("watched_all"):
                pass
            socket.send(json.dumps({"input": {"down": ["use"]}}))
            self.assertEqual(self.until(socket, "problems")["problems"][0]["code"], "only_watched")
            socket.send(json.dumps({"again_here": True}))
            self.assertEqual(self.until(socket, "run")["run"], models.PlayedRun.objects.get().pk)
            self.until(socket, "picture")
            socket.send(json.dumps({"watch": {"run": 999_999}}))
            self.assertIn("message_senseless", [p["code"] for p in self.until(socket, "problems")["problems"]])

    def edit(self, **change):
        body = json.dumps({"tab": "t", "changes": [change]})
        answer = self.client.post(f"/api/projects/{self.project}/edits", body, "application/json")
        self.assertEqual(answer.status_code, 200, answer.content)
        return answer.json()["edit_number"]

    def test_it_begins_again_where_one_stands_with_what_was_changed_meanwhile(self):
        bell = models.Object.objects.get(project_id=self.project, key="yard_bell")
        with self.socket() as socket:
            socket.send(json.dumps({"begin": {"quest": "dry_feet", "stage": "open_sluice"}}))
            first = self.until(socket, "run")
            self.assertEqual((first["edit"], first["left_out"]), (1, []))
            socket.send(json.dumps({"input": {"move": [1, 0]}}))
            while self.until(socket, "picture")["picture"]["player"][0] < 6.5:
                pass
            edit = self.edit(do="set", id=bell.pk, version=bell.version, values={"name": "Great bell"})
            socket.send(json.dumps({"again_here": True}))
            second = self.until(socket, "run")
            self.assertEqual((second["edit"], second["left_out"]), (edit, []))
            picture = self.until(socket, "picture")["picture"]
            self.assertEqual(picture["objects"]["great_bell"]["name"], "Great bell")
            self.assertGreaterEqual(picture["player"][0], 6.5)
            self.assertIn("dry_feet", [q["key"] for q in picture["hud"]["quests"]])
            self.assertLess(picture["tick"], 3)
        wait_for(lambda: not PlaytestConsumer.under_way, "the last inputs to be stored")
        runs = models.PlayedRun.objects.order_by("pk")
        self.assertEqual([r.pk for r in runs], [first["run"], second["run"]])
        self.assertTrue(runs[0].inputs.exists())
        with self.socket() as again:
            again.send(json.dumps({"resume": second["run"]}))
            self.assertGreaterEqual(self.until(again, "picture")["picture"]["player"][0], 6.5)

    def test_what_no_longer_fits_is_named_when_it_begins_again(self):
        lamp = models.Object.objects.get(project_id=self.project, key="palm_lamp")
        with self.socket() as socket:
            socket.send(json.dumps({"begin": {"at": "palm_lamp"}}))
            self.until(socket, "picture")
            for press in ("down", "up"):
                socket.send(json.dumps({"input": {press: ["use"]}}))
            while "lit" not in json.dumps(self.until(socket, "picture")["picture"]["told"]):
                pass
            self.edit(do="remove", id=lamp.pk, version=lamp.version, clean=True)
            socket.send(json.dumps({"again_here": True}))
            self.assertEqual(self.until(socket, "run")["left_out"], ["Palm House lamp lit"])

    def test_unknown_runs_points_and_foreign_pages_are_refused(self):
        for message in ({"resume": 99}, {"begin": {"quest": "dry_feet", "stage": "nowhere"}}):
            with self.socket() as socket:
                socket.send(json.dumps(message))
                self.assertTrue(self.until(socket, "problems")["ended"], message)
        other_port = f"http://127.0.0.1:{self.server.port + 1}"
        for origin in ("http://elsewhere.example", other_port, "http://[bad", f"http://localhost:{self.server.port}"):
            with self.assertRaises(InvalidStatus, msg=origin), self.socket(origin):
                pass

    def test_an_address_that_is_no_playtest_is_not_taken(self):
        for path in ("/ws/nothing", "/ws/projects/x/play", "/"):
            with self.assertRaises(InvalidStatus) as refused:
                connect(f"ws://127.0.0.1:{self.server.port}{path}").close()
            self.assertEqual(refused.exception.response.status_code, 403)

    def test_no_message_however_broken_ends_the_run_or_the_socket(self):
        huge = "9" * 5_000
        before = (f'{{"resume": {huge}}}', '{"resume": true}', '{"resume": -1}', '{"resume": 1e300}', '{"begin": []}')
        while_running = (
            "[" * 4_000,
            '{"input": ' + "[" * 4_000,
            '{"input": {"move": [%s, 0]}}' % ("9" * 400),
            '{"input": {"move": [1e400, 0]}}',
            '{"input": {"look": NaN}}',
            f'{{"input": {{"walk_to": [{huge}, 1]}}}}',
            '{"do": {"a": [[]]}}',
            '{"why": ["x"]}',
            '{"why": "%s"}' % ("x" * 8_000),
            '"text"',
            "\ud800",
        )
        with self.socket() as socket:
            for message in before:
                socket.send(message)
                self.assertTrue(self.until(socket, "problems")["problems"], message[:40])
            socket.send(json.dumps({"begin": {"level": "x" * 5_000, "at": "?", "changes": "fact:x=²"}}))
            self.until(socket, "picture")
            for message in while_running:
                if message.isprintable():
                    socket.send(message)
            while '"tick"' not in json.dumps(self.until(socket, "picture")):
                pass
            socket.send(json.dumps({"why": "yard_bell"}))
            self.assertTrue(self.until(socket, "why")["why"])

    def test_inputs_beyond_what_can_wait_are_refused_and_the_run_goes_on(self):
        with self.socket() as socket:
            socket.send(json.dumps({"begin": {}}))
            self.until(socket, "picture")
            socket.send(json.dumps({"do": "pause"}))
            for _ in range(200):
                socket.send(json.dumps({"input": {"down": ["use"], "up": ["use"]}}))
            self.assertEqual(self.until(socket, "problems")["problems"][0]["code"], "too_many_inputs")
            socket.send(json.dumps({"do": "go"}))
            self.assertGreater(self.until(socket, "picture")["picture"]["tick"], 0)

    def test_a_second_socket_takes_a_run_over_and_the_first_is_told(self):
        with self.socket() as first, self.socket() as second:
            first.send(json.dumps({"begin": {}}))
            run = self.until(first, "run")["run"]
            self.until(first, "picture")
            second.send(json.dumps({"resume": run}))
            self.assertEqual(self.until(first, "problems")["problems"][0]["code"], "taken_over")
            self.until(second, "picture")
            self.assertEqual(list(PlaytestConsumer.under_way), [run])

    def test_on_a_full_disk_the_run_goes_on_and_says_that_it_is_kept_no_longer(self):
        full = mock.patch.object(playing, "keep_inputs", side_effect=OperationalError("database or disk is full"))
        with full as asked, self.socket() as socket:
            socket.send(json.dumps({"begin": {"at": "yard_bell"}}))
            self.until(socket, "picture")
            socket.send(json.dumps({"input": {"move": [0, 1]}}))
            problem = self.until(socket, "problems")["problems"][0]
            self.assertEqual(("run_not_kept", 1), (problem["code"], asked.call_count))
            tick = self.until(socket, "picture")["picture"]["tick"]
            self.assertGreater(self.until(socket, "picture")["picture"]["tick"], tick)

    def test_a_socket_outlasts_the_time_that_the_head_of_a_request_has(self):
        with mock.patch.object(serving, "HEADERS_S", 0.3), self.socket() as socket:
            socket.send(json.dumps({"begin": {}}))
            tick = self.until(socket, "picture")["picture"]["tick"]
            while self.until(socket, "picture")["picture"]["tick"] < tick + 30:
                pass

    def test_the_runs_of_a_project_that_is_deleted_end(self):
        with self.socket() as socket:
            socket.send(json.dumps({"begin": {}}))
            self.until(socket, "picture")
            self.client.delete(f"/api/projects/{self.project}")
            self.assertEqual("project_deleted", self.until(socket, "problems")["problems"][0]["code"])
        wait_for(lambda: not PlaytestConsumer.under_way, "the run to end")

    def test_no_more_engines_than_there_may_be(self):
        with mock.patch("vocanta.server.consumers.MOST_ENGINES", 1), self.socket() as one, self.socket() as other:
            one.send(json.dumps({"begin": {}}))
            self.until(one, "picture")
            other.send(json.dumps({"begin": {}}))
            self.assertEqual(self.until(other, "problems")["problems"][0]["code"], "engines_full")

    def test_an_engine_that_does_not_end_is_killed(self):
        with mock.patch("vocanta.server.engines.END_S", 0.2), self.socket() as socket:
            socket.send(json.dumps({"begin": {}}))
            self.until(socket, "picture")
            (driver,) = PlaytestConsumer.under_way.values()
            process = driver.engine.process
            os.kill(process.pid, signal.SIGSTOP)
            socket.close()
            wait_for(lambda: process.returncode is not None, "the engine to be gone")
        self.assertEqual(process.returncode, -signal.SIGKILL)

    def test_only_the_newest_runs_are_kept(self):
        with mock.patch("vocanta.server.housekeeping.KEPT_RUNS", 2):
            runs = [playing.begin_run(self.project, {})[0] for _ in range(4)]
        self.assertEqual(sorted(models.PlayedRun.objects.values_list("pk", flat=True)), runs[2:])

    def test_of_thirty_at_once_no_more_run_than_there_are_places(self):
        with contextlib.ExitStack() as stack:
            sockets = [stack.enter_context(self.socket()) for _ in range(30)]
            for socket in sockets:
                socket.send(json.dumps({"begin": {}}))
            first = [json.loads(socket.recv(60)) for socket in sockets]
            refused = [m["problems"][0]["code"] for m in first if "problems" in m]
            self.assertEqual((len(refused), set(refused)), (30 - MOST_ENGINES, {"engines_full"}))
            self.assertEqual(len(PlaytestConsumer.under_way), MOST_ENGINES)
            self.assertEqual(models.PlayedRun.objects.count(), MOST_ENGINES)

    def test_of_five_who_pick_up_a_run_at_once_one_drives_it(self):
        with self.socket() as socket:
            socket.send(json.dumps({"begin": {}}))
            run = self.until(socket, "run")["run"]
            self.until(socket, "picture")
        wait_for(lambda: not PlaytestConsumer.under_way, "the run to be stored")
        with contextlib.ExitStack() as stack:
            sockets = [stack.enter_context(self.socket()) for _ in range(5)]
            for socket in sockets:
                socket.send(json.dumps({"resume": run}))
            over = 0
            for socket in sockets:
                while True:
                    message = json.loads(socket.recv(60))
                    if "problems" in message:
                        self.assertEqual(message["problems"][0]["code"], "taken_over")
                        over += 1
                        break
                    if "picture" in message and message["picture"]["tick"] > 60:
                        break
            self.assertEqual((over, list(PlaytestConsumer.under_way)), (4, [run]))
        wait_for(lambda: not PlaytestConsumer.under_way, "the run to be stored")
        ticks = list(models.RunInputs.objects.filter(run=run).values_list("last_tick", flat=True))
        self.assertEqual(len(ticks), len(set(ticks)))
