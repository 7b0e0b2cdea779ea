"""Findings over the API: of the helper process, the same as the command line's, mended and put aside by edits."""

from __future__ import annotations

import json
import signal
import unittest
from unittest import mock

from django.test import Client, TestCase

from tests.core.checks.test_demos import expected
from vocanta.core.checks.asking import found_in
from vocanta.demo import first_draft
from vocanta.server import checking, findings, listing, models, store
from vocanta.server.checking import HELPER
from vocanta.server.events import key_of


def process_of(project):
    """The process that checks a project."""
    return HELPER._of[key_of(project)]._process


def tearDownModule():
    HELPER.close()


class OfTheFirstDraft(TestCase):
    def setUp(self):
        self.client = Client()
        self.project = listing.taken_in(first_draft())
        self.base = f"/api/projects/{self.project.pk}"

    def get(self, path, **asked):
        answer = self.client.get(f"{self.base}/{path}", asked)
        self.assertEqual(answer.status_code, 200, answer.content)
        return answer.json()

    def rows(self):
        return self.client.get(self.base).json()

    def findings(self, **asked):
        return self.get("findings", whole=1, **asked)

    def one(self, check):
        return next(f for f in self.findings()["findings"] if f["check"] == check)

    def detail(self, check):
        return self.get(f"findings/one/{self.one(check)['key']}")["detail"]

    def edit(self, changes, name="Mended", status=200):
        body = json.dumps({"tab": "t", "changes": changes, "name": name})
        answer = self.client.post(f"{self.base}/edits", body, "application/json")
        self.assertEqual(answer.status_code, status, answer.content)
        return answer.json()

    def undo(self):
        answer = self.client.post(f"{self.base}/undo", json.dumps({"tab": "t"}), "application/json")
        self.assertEqual(answer.status_code, 200, answer.content)

    def test_are_those_that_stand_beside_it_and_the_same_as_the_core_finds(self):
        reading = self.findings()
        self.assertTrue(reading["whole"])
        told = [(f["weight"], f"{f['whose']} {f['says']}") for f in reading["findings"]]
        self.assertCountEqual(told, expected())
        core = found_in(store.core_project(self.project))
        self.assertEqual(
            [(f.key, f.sentence) for f in core.findings],
            [(f["key"], f"{f['whose']} {f['says']}") for f in reading["findings"]],
        )
        self.assertEqual(reading["weights"], {"stops it": 3, "likely wrong": 6, "worth a look": 4})

    def test_are_filtered_by_weight_check_quest_and_words_and_counted_whole(self):
        for asked, matching in (
            ({"weight": "stops it"}, 3),
            ({"check": "too_few"}, 2),
            ({"quest": "lamps_before_dusk"}, 1),
            ({"words": "hook fights"}, 1),
            ({"level": "nowhere"}, 0),
            ({"page": 1}, 13),
        ):
            reading = self.findings(**asked)
            self.assertEqual((reading["matching"], reading["total"]), (matching, 13), asked)
        self.assertEqual(self.findings(page=1)["findings"], [])

    def test_every_mend_is_an_edit_that_takes_its_finding_away_and_is_undone(self):
        tried = 0
        for finding in self.findings()["findings"]:
            for number, mend in enumerate(self.get(f"findings/one/{finding['key']}")["detail"]["mends"]):
                changes = self.get(f"findings/one/{finding['key']}")["detail"]["mends"][number]["changes"]
                self.edit(changes, mend["says"])
                left = {f["key"] for f in self.findings()["findings"]}
                self.assertNotIn(finding["key"], left, mend)
                self.assertEqual(len(left), 12, mend)
                self.undo()
                self.assertEqual(self.findings()["total"], 13)
                tried += 1
        self.assertGreater(tried, 10)

    def test_a_mend_says_beforehand_what_it_will_write(self):
        (line,) = self.detail("cue_without_prompt")["mends"][0]["lines"]
        self.assertEqual(line["where"], "a cue of oil press")
        self.assertTrue(
            line["before"].startswith("When it is used then") and line["after"].startswith("When it is held then"), line
        )

    def test_where_it_stands_is_told_as_it_stands_there_with_its_words_marked(self):
        standing = self.detail("never_read")["standing"]
        self.assertEqual([p["text"] for p in standing[0]], ["always: ", "“Evening.”"])
        self.assertEqual([p["text"] for p in standing[1] if p["marked"]], ["“You came back for that?”"])
        sounds = self.detail("silent_sound")["standing"][0]
        self.assertEqual([p["text"] for p in sounds if p["marked"]], ["…"])

    def test_a_mend_whose_place_has_changed_since_is_refused_with_both_sides(self):
        changes = self.detail("quest_lost_when_declined")["mends"][0]["changes"]
        self.edit(changes)
        refused = self.edit(changes, status=412)
        self.assertEqual(refused["theirs"]["values"]["decline"], "again")

    def test_right_as_it_is_hides_one_with_a_reason_and_comes_back_when_it_is_undone_or_changes(self):
        detail = self.detail("reward_given_twice")
        values = {**detail["aside"], "reason": "Odile pays double."}
        self.edit([{"do": "add", "type": "aside", "values": values}])
        self.assertEqual(
            (self.findings()["total"], self.findings(aside=1)["findings"][0]["reason"]), (12, "Odile pays double.")
        )
        self.undo()
        self.assertEqual(self.findings()["total"], 13)
        self.edit([{"do": "add", "type": "aside", "values": values}])
        row = next(r for r in self.rows() if r["key"] == "good_work")
        steps = 'hand in dry_feet\ngive 40 money\nsay "Well."'
        self.edit([{"do": "set", "id": row["id"], "version": row["version"], "values": {"steps": steps}}])
        self.assertEqual((self.findings()["total"], self.findings()["aside"]), (13, 0))

    def test_deleting_what_a_finding_was_put_aside_at_takes_the_putting_aside_with_it(self):
        detail = self.detail("put_off_the_floor")
        self.edit(
            [
                {
                    "do": "add",
                    "type": "aside",
                    "values": {**self.detail("slot_not_filled_in")["aside"], "reason": "Later."},
                }
            ]
        )
        self.assertTrue(detail["aside"]["at"])
        crate = next(r for r in self.rows() if r["key"] == "spare_crate")
        self.edit([{"do": "remove", "id": crate["id"], "version": crate["version"]}])
        self.assertNotIn("aside", {r["type"] for r in self.rows()})

    def test_one_edit_mends_all_that_are_alike(self):
        for number in range(2):
            bell = next(r for r in self.rows() if r["key"] == "yard_bell_kind")
            text = f"when {('near', 'away')[number]}\nthen\n  sound ? at this"
            self.edit([{"do": "add", "type": "cue", "owner": bell["id"], "values": {"text": text}}])
        first = self.detail("silent_sound")["mends"][0]
        self.assertEqual((first["alike"], first["together"]), (3, 3))
        done = self.get("findings/mends/silent_sound", label="make one")
        self.edit(done["changes"])
        self.assertEqual((done["count"], self.findings(check="silent_sound")["matching"]), (3, 0))

    def test_marks_say_how_many_each_record_has_and_the_heaviest(self):
        marks = {m["record"]: m for m in self.get("findings/marks", whole=1)["marks"]}
        lamp, hook = (next(r["id"] for r in self.rows() if r["key"] == k) for k in ("wall_lamp", "lamp_hook"))
        self.assertEqual((marks[lamp]["count"], marks[hook]["weight"]), (1, "likely wrong"))

    def test_a_record_lists_its_own_and_those_of_what_it_owns(self):
        rows = {r["key"]: r["id"] for r in self.rows()}
        told = [f["check"] for f in self.get(f"records/{rows['yard_bell']}/findings", whole=1)]
        self.assertEqual(told, ["silent_sound"])

    def test_a_record_that_was_deleted_meanwhile_has_none(self):
        bell = next(row["id"] for row in self.rows() if row["key"] == "yard_bell")
        self.assertTrue(self.get(f"records/{bell}/findings", whole=1))
        self.edit([{"do": "remove", "id": bell, "version": 1, "clean": True}])
        self.assertEqual(self.get(f"records/{bell}/findings"), [])

    def test_a_finding_that_is_there_no_longer_is_none_and_an_unknown_mend_is_answered_as_such(self):
        self.assertIsNone(self.get("findings/one/nothing")["detail"])
        answer = self.client.get(f"{self.base}/findings/mends/silent_sound?label=no")
        self.assertEqual((answer.status_code, answer.json()["problems"][0]["code"]), (404, "not_found"))

    def test_a_helper_that_ends_by_itself_is_begun_again(self):
        self.findings()
        process = process_of(self.project)
        process.kill()
        process.wait()
        self.assertEqual(self.findings()["total"], 13)

    def stopped(self):
        """The process of the first draft, which is not heard of any more while it has something to do."""
        self.findings()
        process = process_of(self.project)
        process.send_signal(signal.SIGSTOP)
        self.addCleanup(lambda: process.poll() is None and process.send_signal(signal.SIGCONT))
        bell = next(row for row in self.rows() if row["key"] == "yard_bell")
        self.edit([{"do": "set", "id": bell["id"], "version": 1, "values": {"x_m": 2.5}}])
        return process

    def test_a_project_that_takes_long_holds_nobody_else_up(self):
        self.stopped()
        project = models.Project.objects.get(pk=self.project.pk)
        with mock.patch.object(findings, "QUICK_S", 0.0):
            self.get("findings/marks")
        self.assertTrue(HELPER._of[key_of(project)].busy_but_for(("", "")))
        other = listing.new_project("Other")
        answer = self.client.get(f"/api/projects/{other.pk}/findings", {"whole": 1}).json()
        self.assertTrue(answer["whole"])
        self.assertIsNot(HELPER._of[key_of(project)], HELPER._of[key_of(other)])

    def test_checks_that_take_too_long_are_ended_and_begin_with_the_next_edit(self):
        with mock.patch.object(checking, "LONGEST_S", 0.4):
            process = self.stopped()
            reading = self.findings()
            self.assertEqual(["checks_too_heavy"], [p["code"] for p in reading["problems"]])
            process.wait(10)
            self.assertEqual(["checks_too_heavy"], [p["code"] for p in self.findings()["problems"]])
        bell = next(row for row in self.rows() if row["key"] == "yard_bell")
        self.edit([{"do": "set", "id": bell["id"], "version": 2, "values": {"x_m": 2.0}}])
        self.assertEqual(([], 13), (self.findings()["problems"], self.findings()["total"]))

    def test_the_checks_of_a_deleted_project_end(self):
        process = self.stopped()
        with mock.patch.object(findings, "QUICK_S", 0.0):
            self.get("findings/marks")
        self.assertEqual(204, self.client.delete(self.base).status_code)
        process.wait(10)

    def test_an_empty_project_has_none(self):
        self.base = f"/api/projects/{listing.new_project('New').pk}"
        reading = self.findings()
        self.assertEqual((reading["total"], reading["failed"], reading["whole"]), (0, [], True))


if __name__ == "__main__":
    unittest.main()
