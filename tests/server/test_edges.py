"""What a hand does by mistake: answered with what, where and how to mend it, and nothing else is lost."""

from __future__ import annotations

import io
import threading
from unittest import mock

from django.db import connection
from django.test import TransactionTestCase

from tests.server.test_api import OnTheDemo
from vocanta.demo import night_bloom
from vocanta.server import listing, models, playing, using
from vocanta.server.session import Session


class Slips(OnTheDemo):
    def stages(self, quest="dry_feet"):
        owner = self.row(quest, "quest")["id"]
        return [(r["key"], r["values"]["name"]) for r in self.rows() if r["type"] == "stage" and r["owner"] == owner]

    def test_two_stages_of_one_name_are_two_in_cues(self):
        owner = self.row("dry_feet", "quest")["id"]
        before = self.stages()
        self.edit({"do": "add", "type": "stage", "owner": owner, "values": {"name": "Report back"}})
        self.assertEqual(self.stages(), [*before, ("report_back_2", "Report back")])

    def test_a_line_that_replies_lead_to_goes_only_with_leave_and_they_end_the_talk_then(self):
        line = self.row("good_then", "line")["id"]
        replies = models.Reply.objects.filter(project_id=self.demo_id, then="good_then")
        self.assertEqual(replies.count(), 2)
        keys = set(replies.values_list("pk", flat=True))
        refused = self.edit({"do": "remove", "id": line}, expect=409)
        self.assertLessEqual(keys, {use["record"] for use in refused["uses"]})
        self.edit({"do": "remove", "id": line, "clean": True})
        self.assertEqual({r.then for r in models.Reply.objects.filter(pk__in=keys)}, {""})
        self.send("post", "/undo", {"tab": "a"})
        self.assertEqual((replies.count(), self.row("good_then", "line")["id"]), (2, line))

    def test_a_walk_goes_on_by_the_stages_it_was_begun_with_when_their_beads_are_moved(self):
        number, _, first, _ = playing.begin_run(self.demo_id, {"quest": "dry_feet", "stage": "open_sluice"})
        last = self.row("report_back", "stage")
        self.edit({"do": "set", "id": last["id"], "order": -5.0})
        self.assertEqual([key for key, _ in self.stages()], ["report_back", "find_key", "open_sluice"])
        for message in (first, playing.resume_run(self.demo_id, number).first):
            situation = Session(message, io.StringIO()).run.situation
            stages = [s.key for s in situation.layout.quests["dry_feet"].stages]
            self.assertEqual(stages[situation.value("stage", "dry_feet")], "open_sluice")

    def test_limits_counts_and_rewards_that_make_no_sense_are_refused_and_nothing_is_changed(self):
        stage = self.row("light_them", "stage")["id"]
        lamps = self.row("four_lamps", "objective")
        for values in ({"time_s": 0}, {"time_s": 86_401}, {"count": 0}, {"count": 1_000}):
            refused = self.edit({"do": "set", "id": lamps["id"], "values": values}, expect=422)
            self.assertIn(next(iter(values)), refused["problems"][0]["path"])
            self.assertTrue(refused["problems"][0]["fix"])
        quest = self.row("lamps_before_dusk", "quest")["id"]
        refused = self.edit({"do": "set", "id": quest, "values": {"rewards": "give -5 money"}}, expect=422)
        self.assertEqual(self.codes(refused), ["number_outside"])
        self.assertEqual(self.row("four_lamps", "objective"), lamps)
        self.edit({"do": "set", "id": lamps["id"], "values": {"time_s": 86_400}})
        self.edit({"do": "add", "type": "objective", "owner": stage, "values": {"name": "For what", "type": "use"}})
        told = self.client.get(f"{self.base}/records/{stage}/running").json()
        self.assertEqual([p["code"] for p in told["problems"]], ["objective_aimless"])


class AtOneLook(TransactionTestCase):
    """What is read for one answer is of one moment, also while somebody deletes it."""

    def test_a_page_whose_uses_are_deleted_while_it_is_read_is_as_it_was(self):
        project = listing.taken_in(night_bloom()).pk
        key = models.Item.objects.get(project_id=project, key="copper_key")
        page = f"/api/projects/{project}/records/{key.pk}/page"
        before = self.client.get(page).json()["uses"]
        read = using.with_owners

        def deleted_before(*asked):
            other = threading.Thread(target=delete_all)
            other.start()
            other.join()
            return read(*asked)

        def delete_all():
            models.Record.objects.filter(pk__in=[use["record"] for use in before]).delete()
            connection.close()

        with mock.patch.object(using, "with_owners", deleted_before):
            answer = self.client.get(page)
        self.assertEqual((answer.status_code, answer.json()["uses"]), (200, before))
