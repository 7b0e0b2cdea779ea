"""Proofs over the API: in a process of their own, with progress; stopped, stale after edits, ways out done and undone."""

from __future__ import annotations

import io
import json
import subprocess
import sys
from dataclasses import replace
from unittest import mock

from tests.core.proof import puzzles
from tests.core.small import post, project
from tests.server.test_api import OnTheDemo
from vocanta.core.project.fileformat import dumps
from vocanta.core.project.noting import unnoted
from vocanta.core.project.records import Quest, Stage
from vocanta.demo import first_draft
from vocanta.server import listing, maps, models, playing, processes, store
from vocanta.server.checking import HELPER
from vocanta.server.processes import environment
from vocanta.server.proofs import PROVING
from vocanta.server.refusals import Refused
from vocanta.server.session import Session


class OnAProof(OnTheDemo):
    """One key for two doors: it can be done in three, and one can get stuck after two."""

    @classmethod
    def setUpTestData(cls):
        cls.project_id = store.save_project(puzzles.one_key_for_two()).pk
        cls.base = f"/api/projects/{cls.project_id}"

    def tearDown(self):
        PROVING.close()
        super().tearDown()

    def do(self, what, **more):
        return self.client.post(f"{self.base}/proof", json.dumps({"do": what} | more), "application/json")

    def read(self, stamp=None):
        return (self.do("go") if stamp is None else self.client.get(f"{self.base}/proof?stamp={stamp}")).json()

    def until(self, there):
        """The proof as soon as something is so, or at its end."""
        found = self.read()
        while found["going"] and not there(found):
            found = self.read(found["stamp"])
        return found

    def proved(self, **more):
        self.assertEqual(self.do("again", **more).status_code, 200)
        return self.until(lambda found: False)

    @staticmethod
    def verdicts(found):
        return {v["key"].partition("/")[2]: v for quest in found["quests"] for v in quest["verdicts"]}

    def answers(self, found):
        return {key: v["answer"] for key, v in self.verdicts(found).items()}


class Proved(OnAProof):
    def test_verdicts_come_with_ways_and_ways_out_which_mend_when_done_and_can_be_undone(self):
        self.assertEqual(set(self.answers(self.read()).values()), {"coming"})
        found = self.proved()
        before = {"can": "yes", "stuck": "yes", "lost": "never"}
        self.assertEqual(self.answers(found), before)
        self.assertEqual((found["edits_since"], found["stopped"], found["proved_at"]), (0, False, found["edit_number"]))
        stuck = self.verdicts(found)["stuck"]
        self.assertEqual((stuck["weight"], stuck["way"]["counted"], stuck["way"]["walked"]), ("stops it", 2, True))
        records = {r["id"]: r["key"] for r in self.rows()}
        self.assertTrue(all(records[step["record"]] for step in stuck["way"]["steps"]))
        self.assertGreater(sum(step["metres"] for step in stuck["way"]["steps"]), 1)
        self.assertTrue(stuck["ways_out"])
        for out in stuck["ways_out"]:
            self.assertTrue(all(line["before"] != line["after"] for line in out["lines"]), out)
            self.edit(*out["changes"])
            stale = self.read()
            self.assertEqual(stale["edits_since"], 1)
            self.assertEqual([v["stale"] for v in self.verdicts(stale).values()], [True] * 3)
            self.assertEqual(
                [o["changes"] for o in self.verdicts(stale)["stuck"]["ways_out"]], [[]] * len(stuck["ways_out"])
            )
            self.assertEqual(self.answers(self.proved()), {"can": "yes", "stuck": "never", "lost": "never"})
            self.assertEqual(self.send("post", "/undo", {"tab": "a"}).status_code, 200)
        self.assertEqual(self.answers(self.proved()), before)

    def test_it_is_kept_and_what_is_not_played_does_not_make_it_stale(self):
        self.proved()
        PROVING.close()
        found = self.read()
        self.assertEqual((self.answers(found)["stuck"], found["going"], found["edits_since"]), ("yes", False, 0))
        self.edit({"do": "add", "type": "card", "owner": None, "key": "here", "values": {"name": "Here"}})
        self.assertEqual((self.read()["edits_since"], self.verdicts(self.read())["stuck"]["stale"]), (0, False))

    def test_a_way_is_watched_kept_and_begun_from_at_its_end(self):
        found = self.proved()
        quest = found["quests"][0]["key"]
        key = f"{quest}/stuck"
        begun = playing.watch(self.project_id, {"way": key, "at": 100_000})
        out = io.StringIO()
        session = Session(begun.first, out)
        self.assertTrue(any("watched" in json.loads(line) for line in out.getvalue().splitlines()))
        self.assertEqual(session.run.chronicle[-1].what, "state")
        values = self.client.get(f"{self.base}/proof/{key}").json()
        done = self.edit(
            {
                "do": "add",
                "type": "card",
                "owner": None,
                "key": "at_the_end",
                "values": {**values["card"], "name": "End"},
            },
            {
                "do": "add",
                "type": "walk",
                "owner": None,
                "key": "stuck_way",
                "values": {**values["walk"], "name": "Way"},
            },
        )
        self.assertEqual(len(done["rows"]), 2)
        card = models.Card.objects.get(project_id=self.project_id, key="at_the_end")
        self.assertTrue(card.holds)
        for wrong in ("nobody/can", "around/9", f"{quest}/lost"):
            self.assertEqual(self.client.get(f"{self.base}/proof/{wrong}").status_code, 404)
            self.assertRaises(Refused, playing.watch, self.project_id, {"way": wrong})

    def test_with_no_budget_all_is_undecided_and_says_why(self):
        found = self.proved(budget_s=0)
        self.assertEqual(set(self.answers(found).values()), {"undecided"})
        self.assertEqual(self.verdicts(found)["can"]["because"], "time")

    def test_stopped_it_keeps_nothing_of_what_was_under_way_and_nonsense_is_refused(self):
        whole = self.proved()
        self.do("again")
        stopped = self.do("stop").json()
        self.assertEqual(
            (stopped["going"], stopped["stopped"], stopped["proved_at"]), (False, True, whole["proved_at"])
        )
        self.assertEqual(self.answers(stopped), self.answers(whole))
        self.assertEqual(self.do("fly").status_code, 422)

    def test_an_edit_under_way_begins_it_anew_and_what_stood_is_told_first(self):
        self.proved()
        thing = next(r for r in self.rows() if r["type"] == "item")
        self.edit({"do": "set", "id": thing["id"], "values": {"name": "Otherwise"}})
        self.do("again")
        found = self.until(lambda found: not self.verdicts(found)["can"]["stale"])
        self.assertEqual(self.verdicts(found)["can"]["answer"], "yes")
        self.edit({"do": "set", "id": thing["id"], "values": {"name": "Once more"}})
        self.do("again")
        found = self.until(lambda found: False)
        self.assertEqual((found["proved_at"], found["edits_since"]), (found["edit_number"], 0))


class Begun(list):
    """Begins processes as the server does, and keeps them."""

    def __call__(self, module):
        self.append(processes.begun(module))
        return self[-1]


class AsIf(OnAProof):
    @classmethod
    def setUpTestData(cls):
        """A post begins an errand once a lever was pulled; the second stage is come to at a third post."""
        lever = post("lever", "when used\nthen\n  give nut", x=3.0)
        giver = post("giver", "when used\nonly if has nut\nthen\n  start errand", x=6.0)
        mover = post("mover", "when used\nthen\n  move errand to tell", x=9.0)
        quest = Quest("errand", "Errand", stages=(Stage("seek", "Seek"), Stage("tell", "Tell")))
        whole = project(lever, giver, mover, quests=(quest,))
        level = replace(whole.levels[0], key="hall_level")
        cls.project_id = store.save_project(replace(whole, first_level="hall_level", levels=(level,))).pk
        cls.base = f"/api/projects/{cls.project_id}"

    def test_a_bead_is_what_the_shortest_way_there_leaves_behind_and_assumed_where_none_is_known(self):
        asked = f"{self.base}/live?quest=errand&stage=tell"
        assumed = self.client.get(asked).json()
        self.assertEqual((assumed["by_way"], [a["column"] for a in assumed["assumed"]]), (None, []))
        self.proved()
        live = self.client.get(asked).json()
        self.assertEqual((live["by_way"], live["stages"]["errand"]), (3, "tell"))
        self.assertIn("item:nut", [a["column"] for a in live["assumed"]])
        card = self.client.get(f"{self.base}/cards/point?quest=errand&stage=tell").json()
        self.assertIn("item:nut", [h["column"] for h in card["holds"]])
        quest = next(r for r in self.rows() if r["type"] == "quest")
        self.edit({"do": "set", "id": quest["id"], "values": {"summary": "Otherwise"}})
        self.assertIsNone(self.client.get(asked).json()["by_way"])

    def gates(self, point=""):
        found = self.client.post(f"{self.base}/proof/map{point}").json()
        return {g["says"]: (g["round"], g["by"]) for g in found["gates"]}

    def test_the_map_begins_at_the_point(self):
        """From the start: the lever, the giver, the mover. As if at the second stage only the lever is left to bring anything."""
        self.assertEqual(self.gates()["Errand at “Tell”"], (3, "use Mover"))
        there = self.gates("?quest=errand&stage=tell")
        self.assertNotIn("Errand at “Tell”", there)
        self.assertEqual(there["nut can be had"], (1, "use Lever"))
        with_it = self.gates("?quest=errand&stage=tell&changes=item:nut%3D1")
        self.assertEqual(with_it, {"more of nut can be had": (1, "use Lever")})
        self.assertEqual(self.client.post(f"{self.base}/proof/map?quest=errand&stage=never").status_code, 404)

    def test_a_map_that_is_stopped_ends_its_process_and_is_not_kept(self):
        def stopped(what, done, of):
            raise Refused(409, "Stopped", [])

        begun = Begun()
        project = models.Project.objects.get(pk=self.project_id)
        puts = (("item:nut", 1),)
        with mock.patch.object(maps, "begun", begun):
            with self.assertRaises(Refused):
                maps.map_from(project, puts, stopped)
            self.assertIsNotNone(begun[0].returncode)
            self.assertTrue(maps.map_from(project, puts, unnoted))
            self.assertTrue(maps.map_from(project, puts, stopped), "what was worked out once is kept")
        self.assertEqual(len(begun), 2)

    def test_a_map_whose_process_is_killed_is_refused_with_what_to_do_and_not_kept(self):
        def killed(what, done, of):
            begun[-1].kill()

        def ended(module):
            begun(module).kill()
            begun[-1].wait()
            return begun[-1]

        begun, project, puts = Begun(), models.Project.objects.get(pk=self.project_id), (("item:nut", 2),)
        for begins in (begun, ended):
            with mock.patch.object(maps, "begun", begins), self.assertRaises(Refused) as refused:
                maps.map_from(project, puts, killed)
            self.assertEqual(refused.exception.status, 503)
            self.assertIn("Ask for it again", refused.exception.problems[0].fix)
        self.assertTrue(maps.map_from(project, puts, unnoted))


class AsFindings(OnAProof):
    def findings(self):
        edit = models.Project.objects.get(pk=self.project_id).edit_number
        found = self.client.get(f"{self.base}/findings?edit={edit}&whole=1").json()["findings"]
        return [f for f in found if f["check"].startswith("quest_")]

    def test_a_verdict_that_weighs_is_a_finding_with_its_ways_out_as_mends_until_it_is_mended(self):
        self.addCleanup(HELPER.close)
        self.assertEqual(self.findings(), [])
        self.proved()
        (found,) = self.findings()
        says = "can get stuck: 2 things to do, the last of them: use Left_Door"
        self.assertEqual((found["check"], found["weight"], found["says"]), ("quest_gets_stuck", "stops it", says))
        self.assertEqual(found["mend"], "again and again")
        detail = self.client.get(f"{self.base}/findings/one/{found['key']}").json()["detail"]
        self.assertTrue(detail["mends"][0]["lines"])
        self.edit(*detail["mends"][0]["changes"])
        (stale,) = self.findings()
        self.assertEqual((stale["key"], stale["mend"]), (found["key"], ""))
        self.assertEqual(stale["says"], f"{says}, as it was before the last edits")
        self.proved()
        self.assertEqual(self.findings(), [])


class EndedByAnEdit(OnAProof):
    @classmethod
    def setUpTestData(cls):
        cls.project_id = listing.taken_in(first_draft()).pk
        cls.base = f"/api/projects/{cls.project_id}"

    def test_what_had_come_of_it_stands_as_of_before_and_of_a_stopped_one_nothing_does(self):
        for ended in ("by an edit", "by hand"):
            with self.subTest(ended):
                PROVING.close()
                models.KeptProof.objects.all().delete()
                self.do("again")
                found = self.until(lambda found: found["quests"][0]["verdicts"][2]["answer"] == "never")
                self.assertTrue(found["going"])
                if ended == "by hand":
                    self.do("stop")
                quest = next(r for r in self.rows() if r["key"] == "dry_feet")
                self.edit({"do": "set", "id": quest["id"], "values": {"summary": ended}})
                self.do("again")
                lost = self.read()["quests"][0]["verdicts"][2]
                self.assertEqual(
                    (lost["answer"], lost["stale"]), ("never", True) if ended == "by an edit" else ("coming", False)
                )


class TheProcess(OnAProof):
    def run_process(self, asked):
        command = [sys.executable, "-m", "vocanta.server.proof_process"]
        done = subprocess.run(
            command, input=json.dumps(asked), text=True, capture_output=True, env=environment(), check=True
        )
        return [json.loads(line) for line in done.stdout.splitlines()]

    def test_tells_progress_and_everything_one_after_the_other(self):
        said = self.run_process({"file": dumps(puzzles.crossing()), "budget_s": 60, "stood": []})
        kinds = [next(iter(one)) for one in said]
        self.assertEqual(kinds[-1], "whole")
        self.assertLessEqual({"note", "proved", "gates", "chasing"}, set(kinds))

    def test_a_project_that_cannot_be_taken_in_says_so(self):
        said = self.run_process({"file": "{}", "budget_s": 60, "stood": []})
        self.assertIn("problems", said[-1])
