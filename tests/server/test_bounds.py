"""Bounds: what is asked with numbers that are none, files and bodies that are too large, names that cannot be seen, helpers."""

from __future__ import annotations

import dataclasses
import errno
import json
import os
import signal
import subprocess
import sys
import threading
import time
from unittest import mock

from django.db import OperationalError
from django.test import TestCase

from tests.core.proof import puzzles
from tests.server.test_api import DEMO, OnTheDemo
from tests.server.test_guarded import zipped
from vocanta.core.project import fileformat
from vocanta.core.project.problems import ProjectError
from vocanta.server import jobs, models, store
from vocanta.server.manners import is_full
from vocanta.server.processes import LIFE, environment
from vocanta.server.proofs import PROVING
from vocanta.server.refusals import Refused

NO_NUMBERS = ("²", "9" * 5000, "-1", "1e3", "")


def problems_of(text: str) -> list[str]:
    try:
        fileformat.loads(text)
    except ProjectError as error:
        return [p.code for p in error.problems]
    return []


class Numbers(OnTheDemo):
    def test_what_is_no_number_is_answered_wherever_one_is_asked(self):
        for what in ("findings?edit=", "findings?page=", "proof?stamp=", "walks?stamp="):
            for nonsense in NO_NUMBERS:
                with self.subTest(what, nonsense=nonsense[:9]):
                    self.assertEqual(self.client.get(f"{self.base}/{what}{nonsense}").status_code, 200)
        for nonsense in NO_NUMBERS[:2]:
            self.assertEqual(self.client.get(f"{self.base}/proof/around/{nonsense[:400]}").status_code, 404)

    def test_a_budget_without_end_is_held_to_a_day(self):
        asked = json.dumps({"do": "stop", "budget_s": 1e308})
        self.assertEqual(self.client.post(f"{self.base}/proof", asked, "application/json").status_code, 200)
        self.addCleanup(PROVING.close)
        self.client.post(f"{self.base}/proof", json.dumps({"do": "again", "budget_s": 1e308}), "application/json")
        self.assertLessEqual(
            PROVING.budget_of(models.Project.objects.get(pk=int(self.base.rpartition("/")[2]))), 86_400.0
        )


class Outlines(OnTheDemo):
    """An outline that crosses itself is refused with the place, by an edit and in a file."""

    BOW = [[0.0, 0.0], [4.0, 4.0], [4.0, 0.0], [0.0, 4.0]]

    def refused(self, outline):
        changes = [{"do": "set", "id": self.row("palm_house")["id"], "version": 1, "values": {"outline": outline}}]
        body = {"tab": "a", "changes": changes}
        answer = self.client.post(f"{self.base}/edits", body, content_type="application/json")
        self.assertEqual(422, answer.status_code)
        (problem,) = answer.json()["problems"]
        return problem["code"], problem["message"]

    def test_by_an_edit(self):
        crossed = "outline_crosses", "The outline of the area crosses itself at 2, 2 m."
        self.assertEqual(crossed, self.refused(self.BOW))
        self.assertEqual("outline_empty", self.refused([[0, 0], [1, 0], [2, 0], [1, 0]])[0])

    def test_in_a_file(self):
        data = json.loads(DEMO)
        area = next(a for a in data["project"]["levels"][0]["areas"])
        area["outline"] = self.BOW
        self.assertEqual(["outline_crosses"], problems_of(json.dumps(data)))


class Files(TestCase):
    def document(self, **more):
        return json.loads(DEMO) | more

    def test_a_version_is_a_whole_number(self):
        for version in (True, 2.0, "2", None, [2]):
            with self.subTest(version):
                self.assertEqual(problems_of(json.dumps(self.document(version=version))), ["file_version"])

    def test_a_name_needs_something_that_can_be_seen(self):
        for name in (" ", "\u200b", "a\nb", "a\u0000b", "\u2028", "  \u3000 "):
            document = self.document()
            document["project"]["items"][0]["name"] = name
            with self.subTest(name):
                self.assertEqual(problems_of(json.dumps(document)), ["value_unreadable"])

    def test_of_thousands_of_wrong_values_a_hundred_are_told_and_the_rest_counted(self):
        document = self.document()
        document["project"]["facts"] = [{}] * 3_000
        codes = problems_of(json.dumps(document))
        self.assertEqual((len(codes), codes[-1]), (101, "more_unreadable"))

    def test_a_small_zip_of_millions_of_records_is_refused_before_it_is_read(self):
        document = self.document()
        document["project"]["facts"] = [{}] * 500_000
        with mock.patch.object(fileformat, "read_json") as read:
            answer = self.client.post("/api/projects/file", zipped(document), content_type="application/octet-stream")
        self.assertEqual((answer.status_code, answer.json()["problems"][0]["code"]), (422, "file_too_large"))
        read.assert_not_called()

    def test_a_body_of_megabytes_is_not_read_as_json(self):
        body = json.dumps({"text": "x" * 9_000_000})
        answer = self.client.post("/api/rearrange", body, content_type="application/json")
        self.assertEqual(answer.status_code, 413)


class Jobs(TestCase):
    def test_two_under_one_name_are_told_apart_by_refusing_the_second(self):
        with jobs.at_work("one"):
            with self.assertRaises(Refused) as caught, jobs.at_work("one"):
                pass
            self.assertEqual(caught.exception.status, 409)
            self.assertIsNotNone(jobs.job_at_work("one"))
        self.assertIsNone(jobs.job_at_work("one"))


class FullDisk(OnTheDemo):
    def test_it_is_said_in_words_that_nothing_could_be_saved(self):
        full = OperationalError("database or disk is full")
        with mock.patch("vocanta.server.edits.apply_edit", side_effect=full):
            answer = self.send("post", "/edits", {"tab": "a", "changes": [{"do": "remove", "id": 1, "version": 1}]})
        self.assertEqual(answer.status_code, 507, answer.content[:300])
        self.assertIn("disk is full", answer.json()["detail"])

    def test_only_a_full_disk_is_one(self):
        self.assertTrue(is_full(OSError(errno.ENOSPC, "No space left")))
        self.assertFalse(is_full(OSError(errno.EACCES, "No")) or is_full(OperationalError("database is locked")))


class Helpers(OnTheDemo):
    CHILD = "from vocanta.server.processes import end_with_parent as e; e(); import signal; print('up', flush=True); signal.pause()"

    def test_a_helper_is_gone_as_soon_as_its_parent_is_killed(self):
        """The parent begins a helper and tells its number; killed so that it can tidy nothing up, it takes it along."""
        parent = (
            "import signal, subprocess, sys\n"
            "from vocanta.server.processes import environment, life\n"
            f"child = subprocess.Popen([sys.executable, '-c', {self.CHILD!r}], stdout=subprocess.PIPE,"
            " env=environment(), pass_fds=(life(),))\n"
            "child.stdout.readline(); print(child.pid, flush=True); signal.pause()\n"
        )
        clean = {key: value for key, value in environment().items() if key != LIFE}
        begun = subprocess.Popen([sys.executable, "-c", parent], stdout=subprocess.PIPE, text=True, env=clean)
        with begun, begun.stdout as lines:
            helper = int(lines.readline())
            self.addCleanup(self.killed, helper)
            begun.send_signal(signal.SIGKILL)
        until = time.monotonic() + 10
        while self.lives(helper) and time.monotonic() < until:
            os.sched_yield()
        self.assertFalse(self.lives(helper))

    def killed(self, number: int) -> None:
        if self.lives(number):
            os.kill(number, signal.SIGKILL)

    @staticmethod
    def lives(number: int) -> bool:
        try:
            with open(f"/proc/{number}/stat", encoding="ascii") as file:
                return file.read().rpartition(")")[2].split()[0] != "Z"
        except FileNotFoundError:
            return False

    def test_as_many_proofs_go_on_at_a_time_as_there_is_room_for_and_the_others_wait_their_turn(self):
        self.addCleanup(PROVING.close)
        made = [store.save_project(dataclasses.replace(puzzles.one_key_for_two(), key=f"p{n}")) for n in range(2)]
        with mock.patch.object(PROVING, "most", 1):
            for project in made:
                PROVING.known(project, None, anew=True)
            states = [PROVING.known(project, None) for project in made]
            self.assertEqual(sum(one.process is not None for one in states), 1)
            self.assertTrue(all(one.going or one.whole for one in states))
            for project in made:
                known = PROVING.known(project, None)
                while known.going:
                    known = PROVING.known(project, known.stamp)
                self.assertIsNotNone(known.whole)

    def test_a_proof_ends_with_its_project(self):
        self.addCleanup(PROVING.close)
        project = store.save_project(puzzles.one_key_for_two())
        known = PROVING.known(project, None, anew=True)
        process = known.process
        self.assertEqual(self.client.delete(f"/api/projects/{project.pk}").status_code, 204)
        self.assertFalse(known.going)
        self.assertNotEqual(process.wait(10), 0)

    def test_no_lock_is_held_while_a_project_is_prepared(self):
        self.addCleanup(PROVING.close)
        project, prepared, free = store.save_project(puzzles.one_key_for_two()), PROVING._prepared, []

        def ask():
            free.append(PROVING._lock.acquire(timeout=5))
            if free[-1]:
                PROVING._lock.release()

        def preparing(one):
            asking = threading.Thread(target=ask)
            asking.start()
            asking.join()
            return prepared(one)

        with mock.patch.object(PROVING, "_prepared", preparing):
            PROVING.known(project, None, anew=True)
        self.assertEqual(free, [True])
