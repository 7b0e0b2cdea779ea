"""Kept walks over the API: walked again after edits by a process of their own, told where they part ways; runs that are kept."""

from __future__ import annotations

import io
import json

from tests.server.test_api import OnTheDemo
from vocanta.core.project.fileformat import loads
from vocanta.server import listing, models, playing
from vocanta.server.refusals import Refused
from vocanta.server.session import Session
from vocanta.server.walking import REWALKING


class OnTheWalks(OnTheDemo):
    def tearDown(self):
        REWALKING.close()
        super().tearDown()

    def walks(self):
        """What the kept walks come to, once all are through."""
        found = self.client.post(f"{self.base}/walks", {"do": "go"}, "application/json").json()
        self.assertIn("going", found, str(found))
        while found["going"]:
            found = self.client.get(f"{self.base}/walks?stamp={found['stamp']}").json()
        return found

    def by_key(self):
        return {w["key"]: w for w in self.walks()["walks"]}

    def session(self, begun):
        self.out = io.StringIO()
        return Session(begun.first, self.out)

    def said(self, part):
        return [m for line in self.out.getvalue().splitlines() if part in (m := json.loads(line))]


class Rewalked(OnTheWalks):
    def only(self, *keys):
        models.Walk.objects.filter(project_id=self.demo_id).exclude(key__in=keys).delete()

    def test_each_is_walked_again_and_comes_to_the_same_end(self):
        self.only("walk_given_up", "walk_too_late")
        found = self.walks()
        self.assertEqual([(w["same"], w["stale"], w["says"]) for w in found["walks"]], [(True, False, "same end")] * 2)
        self.assertEqual((found["done"], found["of"], found["going"], found["at_work"]), (2, 2, False, ""))

    def test_after_an_edit_that_breaks_it_it_says_where_it_parts_ways_and_can_be_held_to_that(self):
        self.only("walk_to_the_warden")
        self.assertTrue(self.by_key()["walk_to_the_warden"]["same"])
        quill = models.Reply.objects.get(project_id=self.demo_id, owner__key="that_flower", key="r1")
        self.edit({"do": "set", "id": quill.pk, "version": quill.version, "values": {"steps": "take moon_orchid"}})
        parted = self.by_key()["walk_to_the_warden"]
        self.assertFalse(parted["same"])
        self.assertIn("The Night Bloom done", parted["missing"])
        self.assertEqual(parted["parting"]["says"], "this does not come any more: A Word for the Owner is failed")
        self.assertEqual(parted["parting"]["was"]["level"], "glasshouse")
        self.assertTrue(parted["way_was"] and parted["way_now"])
        now = self.client.get(f"{self.base}/walks/{parted['id']}/now").json()["values"]
        walk = models.Walk.objects.get(pk=parted["id"])
        self.edit({"do": "set", "id": walk.pk, "version": walk.version, "values": now})
        self.assertTrue(self.by_key()["walk_to_the_warden"]["same"])

    def test_what_it_does_not_rest_on_does_not_make_it_be_walked_again(self):
        self.only("walk_given_up")
        self.walks()
        card = models.Card.objects.filter(project_id=self.demo_id).first()
        self.edit({"do": "set", "id": card.pk, "version": card.version, "values": {"name": "Otherwise"}})
        found = self.client.post(f"{self.base}/walks", {"do": "go"}, "application/json").json()
        self.assertEqual((found["going"], found["walks"][0]["stale"]), (False, False))

    def test_they_can_be_stopped_and_begun_again_and_nonsense_is_refused(self):
        self.client.post(f"{self.base}/walks", {"do": "go"}, "application/json")
        stopped = self.client.post(f"{self.base}/walks", json.dumps({"do": "stop"}), "application/json").json()
        self.assertEqual((stopped["going"], stopped["at_work"]), (False, ""))
        again = self.client.post(f"{self.base}/walks", json.dumps({"do": "again"}), "application/json").json()
        self.assertTrue(again["going"])
        self.assertEqual(
            self.client.post(f"{self.base}/walks", json.dumps({"do": "fly"}), "application/json").status_code, 422
        )
        self.assertEqual(self.client.get(f"{self.base}/walks/999999/now").status_code, 404)

    def test_a_walk_follows_names_and_its_long_lists_are_told_to_nobody(self):
        walk = models.Walk.objects.get(project_id=self.demo_id, key="walk_to_the_warden")
        quill = models.Object.objects.get(project_id=self.demo_id, key="mr_quill")
        self.edit({"do": "set", "id": quill.pk, "version": quill.version, "values": {"name": "Warden Quill"}})
        walk.refresh_from_db()
        self.assertIn("warden_quill", [d.get("at") for d in walk.deeds])
        self.assertNotIn("mr_quill", json.dumps([walk.deeds, walk.came, walk.begins]))
        stage = models.Stage.objects.get(project_id=self.demo_id, key="report_back")
        self.edit({"do": "set", "id": stage.pk, "version": stage.version, "values": {"name": "Tell her"}})
        walk.refresh_from_db()
        self.assertIn("tell_her", [h["named"] for h in walk.begins["holds"]])
        (row,) = [r for r in self.rows() if r["id"] == walk.pk]
        self.assertEqual((row["values"]["deeds"], row["values"]["pressed"]), ([], []))
        self.assertTrue(row["values"]["comes_to"])
        whole = loads(listing.filed_out(listing.found_project(self.demo_id)))
        self.assertEqual(len(next(w for w in whole.walks if w.key == walk.key).deeds), len(walk.deeds))


class OfRuns(OnTheWalks):
    def walked(self, *inputs, ticks=31):
        """A run of the project with some inputs, stored as the server stores it."""
        begun = playing.begin_run(self.demo_id, {"at": "palm_lamp"})
        session = self.session(begun)
        for given in inputs:
            session.take({"input": given})
        for _ in range(ticks):
            session.step()
        session.store()
        for stored in self.said("inputs"):
            playing.keep_inputs(begun.run, stored)
        return begun.run, session

    def test_every_run_is_kept_with_where_it_began_how_long_it_lasts_and_what_came_of_it(self):
        run, _ = self.walked({"down": ["use"]})
        (told,) = self.client.get(f"{self.base}/runs").json()
        self.assertEqual((told["id"], told["begins_at"], told["seconds"]), (run, "Palm House lamp", 1.0))
        self.assertEqual((told["ended"], told["walkable"]), ("", True))
        self.assertEqual(told["last"], "Palm House lamp set to lit")
        self.assertEqual(self.client.delete(f"{self.base}/runs/{run}").json(), [])
        self.assertEqual(self.client.delete(f"{self.base}/runs/{run}").status_code, 404)

    def test_two_of_them_beside_each_other_say_where_they_part_ways(self):
        rung, _ = self.walked({"down": ["use"]})
        not_rung, _ = self.walked()
        beside = self.client.get(f"{self.base}/runs/{rung}/beside/{not_rung}").json()
        self.assertEqual(beside["other"], [])
        self.assertTrue(beside["parting"]["was"]["says"])
        self.assertIsNone(beside["parting"]["now"])
        self.assertIsNone(self.client.get(f"{self.base}/runs/{rung}/beside/{rung}").json()["parting"])

    def test_one_is_watched_as_it_went_and_nothing_is_done_in_it(self):
        run, walked = self.walked({"down": ["use"]}, {"move": [0.0, 1.0]})
        session = self.session(playing.watch(self.demo_id, {"run": run}))
        session.take({"input": {"down": ["use"]}})
        self.assertEqual(self.said("problems")[0]["problems"][0]["code"], "only_watched")
        while not session.paused:
            session.step()
        self.assertEqual(session.run.situation.row, walked.run.situation.row)
        self.assertEqual([e.text for e in session.run.chronicle], [e.text for e in walked.run.chronicle])
        session.store()
        self.assertEqual(self.said("inputs"), [])

    def test_a_kept_walk_is_watched_from_any_moment_of_it(self):
        session = self.session(playing.watch(self.demo_id, {"walk": "walk_to_the_ending", "at": 900}))
        self.assertEqual((session.run.situation.tick, session.paused), (900, True))
        self.assertTrue(self.said("picture")[0]["watched"])
        for wrong in ({}, {"walk": 4}, {"run": "x"}, {"run": 1, "at": "soon"}):
            with self.assertRaises(Refused) as refused:
                playing.watch(self.demo_id, wrong)
            self.assertEqual(refused.exception.status, 422)
        with self.assertRaises(Refused) as refused:
            playing.watch(self.demo_id, {"walk": "walk_to_nowhere"})
        self.assertEqual(refused.exception.status, 404)

    def test_a_walk_begins_at_a_point_and_beside_a_wall_that_stands_there(self):
        begun = playing.begin_run(self.demo_id, {"level": "glasshouse", "x": 10.0, "y": 8.0})
        self.assertEqual((begun.first["start"]["x"], begun.first["start"]["y"], begun.left_out), (10.0, 8.0, ()))
        inside = playing.begin_run(self.demo_id, {"level": "glasshouse", "x": 0.0, "y": 0.0})
        self.assertIn("the very spot, where nobody can stand now", inside.left_out[0])
        with self.assertRaises(Refused):
            playing.begin_run(self.demo_id, {"x": "far"})


class InTheSession(OnTheWalks):
    def test_a_run_is_told_as_the_values_of_a_kept_walk_with_all_it_could_be_held_to(self):
        session = self.session(playing.begin_run(self.demo_id, {"at": "palm_lamp"}))
        session.take({"input": {"down": ["use"]}})
        for _ in range(10):
            session.step()
        session.take({"walk": True})
        (told,) = self.said("walk")
        self.assertIn("state:palm_lamp", [h["column"] for h in told["walk"]["could"]])
        values = told["walk"]["values"]
        self.assertEqual((values["ticks"], [d["do"] for d in values["deeds"]]), (10, ["use", "wait"]))
        done = self.edit({"do": "add", "type": "walk", "values": {**values, "name": "Lamp lit"}})
        self.assertEqual(done["rows"][0]["values"]["name"], "Lamp lit")
        other = self.edit({"do": "add", "type": "walk", "values": {**values, "name": "Lamp lit"}})
        keys = [one["rows"][0]["key"] for one in (done, other)]
        self.assertEqual((len(set(keys)), {w["key"] for w in self.walks()["walks"]} >= set(keys)), (2, True))
        self.send("post", "/undo", {"tab": "a"})
        self.assertEqual(models.Walk.objects.filter(project_id=self.demo_id, name="Lamp lit").count(), 1)

    def test_values_tried_show_at_once_and_are_tried_again_when_the_run_is_picked_up(self):
        begun = playing.begin_run(self.demo_id, {"at": "palm_lamp"})
        session = self.session(begun)
        session.step()
        session.take({"try": [{"of": "palm_lamp", "path": "reach.radius_m", "value": 0.2}]})
        first, then = self.said("tried")
        tried = [{"of": "palm_lamp", "path": "reach.radius_m", "value": 0.2}]
        self.assertEqual((first["tried"], then["tried"]), ([], tried))
        self.assertEqual(self.said("picture")[-1]["picture"]["prompts"], [])
        session.step()
        session.store()
        for stored in self.said("inputs"):
            playing.keep_inputs(begun.run, stored)
        again = self.session(playing.resume_run(self.demo_id, begun.run))
        self.assertEqual(again.run.situation.row, session.run.situation.row)
        (picked_up,) = self.said("picture")
        self.assertEqual((picked_up["picture"]["prompts"], picked_up["tried"]), ([], tried))
        for nonsense in ("wide", [{"of": "palm_lamp", "path": "reach.radius_m", "value": -1}], [{"of": "nobody"}]):
            session.take({"try": nonsense})
        self.assertEqual(session.run.situation.row, again.run.situation.row)

    def test_the_level_as_it_was_and_what_brought_an_entry_about(self):
        session = self.session(playing.begin_run(self.demo_id, {"at": "palm_lamp"}))
        for _ in range(5):
            session.step()
        session.take({"input": {"down": ["use"]}})
        for _ in range(5):
            session.step()
        session.take({"then": 3})
        session.take({"then": 11})
        before, after = (m["then"]["picture"] for m in self.said("then"))
        self.assertEqual((before["objects"]["palm_lamp"]["lit"], after["objects"]["palm_lamp"]["lit"]), (False, True))
        self.assertEqual((before["told"], before["prompts"][0]["object"]), ([], "palm_lamp"))
        number = next(n for n, e in enumerate(session.run.chronicle) if e.what == "state")
        session.take({"because": number})
        self.assertEqual(self.said("because")[0]["because"]["cause"], "Use at Palm House lamp")
        for nonsense in ({"then": "now"}, {"because": 10_000}, {"because": "x"}, {"then": None}):
            session.take(nonsense)
        self.assertEqual(len(self.said("problems")), 4)
