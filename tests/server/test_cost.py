"""What an edit costs: as many questions for a hundred records as for one; writers take turns."""

from __future__ import annotations

import threading
from collections import deque
from unittest import TestCase as PlainTestCase

from django.db import connection
from django.test.utils import CaptureQueriesContext

from tests.server.test_api import OnTheDemo
from vocanta.server.writing import FairLock


class Cost(OnTheDemo):
    def setUp(self):
        super().setUp()
        level, bell = self.row("yard_bell")["owner"], self.row("yard_bell")
        self.things = []
        for number in range(100):
            values = {"name": f"Stone {number}", "kind": bell["values"]["kind"], "x_m": 1.0, "y_m": 1.0}
            self.things.append(
                {"do": "add", "type": "object", "owner": level, "key": f"stone_{number}", "values": values}
            )
        self.made = self.edit(*self.things)["rows"]
        text = "when used\nthen\n  remove stone_{}"
        self.edit(
            *(
                {"do": "add", "type": "cue", "owner": bell["id"], "key": f"x{n}", "values": {"text": text.format(n)}}
                for n in range(100)
            )
        )

    def questions(self, ask):
        """How many questions an edit costs; those that write many rows come in batches, which count as one each."""
        with CaptureQueriesContext(connection) as found:
            answer = ask()
        self.assertEqual(answer.status_code, 200, answer.content[:300])
        begins = [q["sql"][:60] for q in found if not q["sql"].startswith(("SAVEPOINT", "RELEASE"))]
        return len([b for i, b in enumerate(begins) if i == 0 or b != begins[i - 1] or not b.startswith("INSERT")])

    def held(self, ask_one, ask_hundred):
        self.assertEqual(self.questions(ask_one), self.questions(ask_hundred))

    def changes(self, some, **change):
        return {"tab": "a", "changes": [{"id": r["id"], "version": r["version"], **change} for r in some]}

    def test_new_items_and_sounds_with_files(self):
        file = self.row("door_creak")["values"]["file"]

        def adding(sort, first, count, **values):
            named = [{"name": f"{sort} {first + i}", **values} for i in range(count)]
            changes = [{"do": "add", "type": sort, "values": v} for v in named]
            return lambda: self.send("post", "/edits", {"tab": "a", "changes": changes})

        for sort, values in (("item", {}), ("sound", {"file": file})):
            self.held(adding(sort, 0, 1, **values), adding(sort, 1, 100, **values))

    def test_setting_renaming_undoing_and_removing(self):
        some = self.made

        def ask(*sent):
            return lambda: self.send("post", *sent)

        undo = ask("/undo", {"tab": "a"})
        for change in (
            {"do": "set", "values": {"x_m": 2.0}},
            {"do": "set", "values": {"own": {"body.height_m": 1.5}}},
            {"do": "remove", "clean": True},
        ):
            with self.subTest(change):
                one, hundred = (ask("/edits", self.changes(s, **change)) for s in (some[:1], some[1:]))
                self.held(one, hundred)
                self.held(undo, undo)
                some = [r for r in self.rows() if r["key"].startswith("stone_")]

    def test_adding(self):
        others = [{**t, "key": f"new_{t['key']}"} for t in self.things]
        one, hundred = ({"tab": "a", "changes": c} for c in (others[:1], others[1:]))
        self.held(lambda: self.send("post", "/edits", one), lambda: self.send("post", "/edits", hundred))

    def test_adding_and_rewriting_cues(self):
        text = "when used\nthen\n  remove stone_{}"
        cues = [
            {"do": "add", "type": "cue", "owner": r["id"], "values": {"text": text.format(i)}}
            for i, r in enumerate(self.made)
        ]
        one, hundred = ({"tab": "a", "changes": c} for c in (cues[:1], cues[1:]))
        self.held(lambda: self.send("post", "/edits", one), lambda: self.send("post", "/edits", hundred))

    def test_renaming_what_one_or_a_hundred_use(self):
        bell, text = self.row("yard_bell")["id"], "when used\nthen\n  give {}"
        self.edit(*({"do": "add", "type": "item", "values": {"name": n}} for n in ("Nut", "Pin")))
        names = ["nut", *["pin"] * 100]
        self.edit(*({"do": "add", "type": "cue", "owner": bell, "values": {"text": text.format(n)}} for n in names))
        asked = [self.changes([self.row(k)], do="set", key=f"{k}_2") for k in ("nut", "pin")]
        self.held(*(lambda a=a: self.send("post", "/edits", a) for a in asked))

    def test_duplicating(self):
        ids = [r["id"] for r in self.made]
        asked = [{"tab": "a", "records": some} for some in (ids[:1], ids[1:51])]
        self.held(*(lambda a=a: self.send("post", "/duplicate", a) for a in asked))


class Turns(PlainTestCase):
    def test_whoever_came_first_is_let_in_first(self):
        lock, order, came = FairLock(), [], []
        queued = threading.Semaphore(0)

        class Told(deque):
            """Says that somebody has queued up."""

            def append(self, turn):
                super().append(turn)
                queued.release()

        lock._waiting = Told()
        lock.acquire()

        def write(number):
            came.append(number)
            lock.acquire()
            order.append(number)
            lock.release()

        threads = [threading.Thread(target=write, args=(n,)) for n in range(8)]
        for thread in threads:
            thread.start()
            queued.acquire()
        lock.release()
        for thread in threads:
            thread.join()
        self.assertEqual(order, came)
