"""Long work says how far it has come, and can be stopped; nothing of what was stopped is kept."""

from __future__ import annotations

import json

from django.test import TestCase

from tests.server.test_api import DEMO
from vocanta.core.progress.compiling import compiled
from vocanta.core.project import fileformat
from vocanta.core.project.tree import walk
from vocanta.server import jobs, listing, models
from vocanta.server.refusals import Refused

PROJECT = fileformat.loads(DEMO)
FILE = DEMO.encode()
SCATTERED = 5
"""So many copies the steps of the demo may put."""


class Stop(Exception):
    """Somebody has had enough."""


class LongWork(TestCase):
    """Filing in and out, copying, and the start of a playtest."""

    def test_filing_in_tells_every_part_of_it_with_its_number(self):
        told: list[tuple[str, int, int]] = []
        listing.filed_in(FILE, lambda *note: told.append(note))
        records = 1 + sum(1 for _ in walk(PROJECT))
        parts = list(dict.fromkeys(what for what, _, _ in told))
        wanted = ["Reading the texts", "Making the records", "Storing the records", "Noting who uses what"]
        self.assertEqual(parts, wanted)
        self.assertEqual({of for what, _, of in told if what == "Storing the records"}, {records})

    def test_whatever_is_stopped_leaves_nothing_at_whichever_note(self):
        made, _ = listing.filed_in(FILE)
        for work in (lambda note: listing.filed_in(FILE, note), lambda note: listing.copied(made.pk, note)):
            notes = 0
            for last in range(1, 4):

                def stopping(what: str, done: int, of: int, last: int = last) -> None:
                    nonlocal notes
                    notes += 1
                    if notes == last:
                        raise Stop

                notes = 0
                with self.assertRaises(Stop):
                    work(stopping)
                self.assertEqual(models.Project.objects.count(), 1)
                self.assertEqual(models.Record.objects.exclude(project=made).count(), 0)

    def test_a_work_can_be_asked_for_and_stopped_by_its_name_while_it_goes_on(self):
        with jobs.at_work("mine") as note:
            note("Making the records", 3, 9)
            told = self.client.get("/api/jobs/mine").json()
            self.assertEqual(told, {"what": "Making the records", "done": 3, "of": 9})
            self.assertEqual(self.client.delete("/api/jobs/mine").status_code, 204)
            with self.assertRaises(Refused) as stopped:
                note("Making the records", 4, 9)
        self.assertEqual(stopped.exception.status, 409)
        self.assertEqual(self.client.get("/api/jobs/mine").status_code, 204)
        self.assertEqual(self.client.delete("/api/jobs/mine").status_code, 404)

    def test_a_work_under_a_name_is_forgotten_when_it_is_done(self):
        answer = self.client.post("/api/projects/file?job=mine", FILE, content_type="application/json")
        self.assertEqual(answer.status_code, 201)
        path = f"/api/projects/{answer.json()['id']}"
        self.assertEqual(json.loads(self.client.get(f"{path}/file?job=mine").content), json.loads(FILE))
        self.assertEqual(self.client.post(f"{path}/copy?job=mine").status_code, 201)
        self.assertEqual(self.client.get("/api/jobs/mine").status_code, 204)

    def test_compiling_tells_how_many_objects_it_has_read(self):
        told: list[tuple[str, int, int]] = []
        compiled(PROJECT, lambda *note: told.append(note))
        objects = sum(len(level.objects) for level in PROJECT.levels)
        self.assertEqual(told[:2], [("Cutting the floor", 0, 1), ("Reading what happens", 0, objects + SCATTERED)])
