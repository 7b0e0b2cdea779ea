"""The API: edits whole or not at all, undo, versions, and an answer to every wrong input."""

from __future__ import annotations

import json
from unittest import mock

from django.test import Client, TestCase

from vocanta.core.project.fileformat import loads
from vocanta.core.project.starters import STARTERS
from vocanta.demo import PLACE, night_bloom
from vocanta.server import events, listing, models, programs, store

DEMO = (PLACE / "night_bloom" / "project.json").read_text(encoding="utf-8")


class OnTheDemo(TestCase):
    """The demo, loaded once a class; what a test does to it is taken back after it, in memory too."""

    @classmethod
    def setUpTestData(cls):
        cls.demo_id = listing.taken_in(night_bloom()).pk
        cls.base = f"/api/projects/{cls.demo_id}"

    def setUp(self):
        programs.forget()
        events.BOARD.clear()

    # --- speaking

    def send(self, method, path, body=None, **headers):
        data = body if isinstance(body, str) else json.dumps(body)
        return getattr(self.client, method)(self.base + path, data, content_type="application/json", headers=headers)

    def edit(self, *changes, tab="a", gesture="", expect=200):
        """An edit; what does not say which version it is based on is based on the present one."""
        unsaid = [c for c in changes if "id" in c and "version" not in c]
        versions = {r["id"]: r["version"] for r in self.rows()} if unsaid else {}
        based = [{"version": versions.get(c["id"]), **c} if c in unsaid else c for c in changes]
        answer = self.send("post", "/edits", {"tab": tab, "changes": based, "gesture": gesture})
        self.assertEqual(answer.status_code, expect, answer.content[:600])
        return answer.json()

    def set(self, key, tab="a", expect=200, **values):
        row = self.row(key)
        return self.edit(
            {"do": "set", "id": row["id"], "version": row["version"], "values": values}, tab=tab, expect=expect
        )

    def rows(self):
        return self.client.get(self.base).json()

    def row(self, key, kind=None):
        return next(r for r in self.rows() if r["key"] == key and (kind is None or r["type"] == kind))

    def cue_of(self, owner):
        return next(r for r in self.rows() if r["type"] == "cue" and r["owner"] == self.row(owner)["id"])

    def codes(self, answer):
        return [p["code"] for p in answer["problems"]]


class EditsAndUndo(OnTheDemo):
    def test_undo_and_redo_work_across_kinds_of_record_and_keep_ids(self):
        before = self.rows()
        self.set("yard_bell", x_m=3.5)
        done = self.edit({"do": "add", "type": "item", "values": {"name": "Seed cake"}})
        self.assertEqual(done["rows"][0]["key"], "seed_cake")
        wheel = self.row("sluice_wheel")
        self.edit({"do": "remove", "id": wheel["id"], "clean": True})
        self.assertNotIn("sluice_wheel", [r["key"] for r in self.rows()])
        after = self.rows()
        for _ in range(3):
            self.assertEqual(self.send("post", "/undo", {"tab": "a"}).status_code, 200)
        self.assertEqual(self.without_versions(self.rows()), self.without_versions(before))
        self.assertEqual(self.row("sluice_wheel")["id"], wheel["id"])
        for _ in range(3):
            self.assertEqual(self.send("post", "/redo", {"tab": "a"}).status_code, 200)
        self.assertEqual(self.without_versions(self.rows()), self.without_versions(after))
        self.assertEqual(self.codes(self.send("post", "/redo", {"tab": "a"}).json()), ["nothing_to_redo"])

    def without_versions(self, rows):
        return sorted(({k: v for k, v in r.items() if k != "version"} for r in rows), key=lambda r: r["id"])

    def test_undo_is_per_tab_and_refuses_with_both_sides_where_somebody_else_changed_it(self):
        self.set("yard_bell", tab="a", x_m=3.5)
        self.set("yard_bell", tab="b", x_m=4.5)
        refused = self.send("post", "/undo", {"tab": "a"})
        self.assertEqual(refused.status_code, 409)
        sides = refused.json()["sides"][0]
        self.assertEqual((sides["yours"]["values"]["x_m"], sides["theirs"]["values"]["x_m"]), (3.5, 4.5))
        self.set("yard_bell", tab="b", y_m=1.0)
        self.send("post", "/undo", {"tab": "b"})
        self.send("post", "/undo", {"tab": "b"})
        self.assertEqual(self.send("post", "/undo", {"tab": "a"}).status_code, 200)
        self.assertEqual(self.row("yard_bell")["values"]["x_m"], 2.0)

    def test_undo_leaves_alone_what_others_changed_beside_it(self):
        self.set("yard_bell", tab="a", x_m=3.5)
        self.set("yard_bell", tab="b", name="Great bell")
        self.send("post", "/undo", {"tab": "a"})
        values = self.row("great_bell")["values"]
        self.assertEqual((values["x_m"], values["name"]), (2.0, "Great bell"))

    def test_one_gesture_is_one_edit(self):
        for x in (2.1, 2.2, 2.3):
            row = self.row("yard_bell")
            self.edit({"do": "set", "id": row["id"], "version": row["version"], "values": {"x_m": x}}, gesture="g1")
        self.assertEqual(models.Edit.objects.filter(project_id=self.demo_id).count(), 1)
        self.send("post", "/undo", {"tab": "a"})
        self.assertEqual(self.row("yard_bell")["values"]["x_m"], 2.0)

    def test_an_edit_is_whole_or_not_at_all(self):
        before, bell = self.rows(), self.row("yard_bell")
        answer = self.edit(
            {"do": "set", "id": bell["id"], "version": bell["version"], "values": {"x_m": 9}},
            {"do": "add", "type": "item", "values": {"name": "Oil", "limit": 0}},
            expect=422,
        )
        self.assertEqual(self.codes(answer), ["value_unreadable"])
        self.assertEqual(self.rows(), before)
        self.assertEqual(models.Edit.objects.filter(project_id=self.demo_id).count(), 0)

    def test_history_reads_as_sentences(self):
        self.set("yard_bell", x_m=3.5)
        self.set("yard_bell", name="Great bell")
        lines = self.client.get(self.base + "/edits?tab=a").json()
        self.assertEqual(
            [(line["name"], line["mine"]) for line in lines], [("Renamed Yard bell", True), ("Moved Yard bell", True)]
        )


class NamesAndUses(OnTheDemo):
    def test_renaming_reaches_every_text_and_field_in_one_undoable_edit(self):
        before = DEMO.count('"dry_feet') + DEMO.count(" dry_feet") + DEMO.count("ndry_feet")
        self.edit({"do": "set", "id": self.row("dry_feet")["id"], "key": "wet_boots"})
        text = listing.filed_out(models.Project.objects.get(pk=self.demo_id))
        self.assertNotIn("dry_feet", text)
        self.assertGreaterEqual(text.count("wet_boots"), before)
        self.edit({"do": "set", "id": self.row("copper_key")["id"], "key": "brass_key"})
        self.assertEqual(self.row("have_the_key")["values"]["targets"], ["brass_key"])
        self.send("post", "/undo", {"tab": "a"})
        self.send("post", "/undo", {"tab": "a"})
        self.assertEqual(loads(listing.filed_out(models.Project.objects.get(pk=self.demo_id))), loads(DEMO))

    def test_names_in_cues_follow_shown_names_until_set_by_hand(self):
        bell = self.row("yard_bell")["id"]

        def named():
            return next(r["key"] for r in self.rows() if r["id"] == bell)

        for change, key in (
            ({"values": {"name": "Great bell"}}, "great_bell"),
            ({"values": {"name": "Copper key"}}, "copper_key_2"),
            ({"values": {"name": "Small bell"}}, "small_bell"),
            ({"key": "ding"}, "ding"),
            ({"values": {"name": "Old bell"}}, "ding"),
        ):
            self.edit({"do": "set", "id": bell, **change})
            self.assertEqual(named(), key)
        for key in ("ding", "small_bell", "copper_key_2", "great_bell", "yard_bell"):
            self.send("post", "/undo", {"tab": "a"})
            self.assertEqual(named(), key)
        self.assertEqual(self.client.get(self.base + "/file").content.decode(), DEMO)
        kind = self.row("bell", "kind")["id"]
        self.edit({"do": "set", "id": kind, "key": "bell_kind", "values": {"name": "chime"}})
        self.edit({"do": "set", "id": kind, "key": "chime_kind"})
        done = self.edit({"do": "set", "id": kind, "values": {"name": "gong"}})
        self.assertIn("gong_kind", [r["key"] for r in done["rows"]])

    def test_renaming_a_stage_changes_only_that_quests_texts(self):
        stage = self.row("open_sluice", "stage")
        self.edit({"do": "set", "id": stage["id"], "key": "turn_wheel"})
        self.assertIn("dry_feet at turn_wheel", self.cue_of("sluice_wheel")["values"]["text"])
        self.assertEqual(self.row("find_key", "stage")["values"]["then"], "turn_wheel")

    def test_names_taken_reserved_or_unreadable_are_refused_with_a_better_one(self):
        for key, code in {"copper_key": "name_taken", "when": "name_reserved", "Big Bell": "name_unreadable"}.items():
            answer = self.edit({"do": "set", "id": self.row("yard_bell")["id"], "key": key}, expect=422)
            self.assertEqual(self.codes(answer), [code])
            self.assertTrue(answer["problems"][0]["fix"])

    def test_deleting_what_is_used_lists_the_uses_and_cleans_up_only_when_agreed(self):
        key = self.row("copper_key")
        answer = self.edit({"do": "remove", "id": key["id"]}, expect=409)
        self.assertEqual(self.codes(answer), ["in_use"])
        self.assertEqual(len(answer["uses"]), 4)
        self.edit({"do": "remove", "id": key["id"], "clean": True})
        self.assertIn("only if has ? or else", self.cue_of("sluice_wheel")["values"]["text"])
        self.assertEqual(self.row("have_the_key")["values"]["targets"], ["?"])

    def test_a_reference_to_nothing_is_refused_by_name_and_place(self):
        cue = self.cue_of("sluice_wheel")
        answer = self.edit(
            {"do": "set", "id": cue["id"], "values": {"text": "when held then give coper_key"}}, expect=422
        )
        self.assertEqual(self.codes(answer), ["name_unknown"])
        self.assertIn("copper_key", answer["problems"][0]["fix"])
        answer = self.edit(
            {"do": "set", "id": self.row("sluice_wheel")["id"], "values": {"kind": "mill_wheel"}}, expect=422
        )
        self.assertEqual(answer["problems"][0]["path"], "object/sluice_wheel/kind")

    def test_cue_text_is_stored_in_canonical_form(self):
        cue = self.cue_of("sluice_wheel")
        self.edit({"do": "set", "id": cue["id"], "values": {"text": "when held   then set this to open"}})
        self.assertEqual(self.cue_of("sluice_wheel")["values"]["text"], "when held\nthen\n  set this to open")


class WrongInput(OnTheDemo):
    def test_stale_writes_get_both_sides(self):
        row = self.row("yard_bell")
        self.set("yard_bell", x_m=3.0)
        stale = self.send("patch", f"/records/{row['id']}", {"x_m": 5.0}, **{"If-Match": '"1"'})
        self.assertEqual(stale.status_code, 412)
        self.assertEqual((stale.json()["yours"]["x_m"], stale.json()["theirs"]["values"]["x_m"]), (5.0, 3.0))
        fresh = self.send("patch", f"/records/{row['id']}", {"x_m": 5.0}, **{"If-Match": '"2"'})
        self.assertEqual(fresh.status_code, 200)
        self.assertEqual(self.client.get(f"{self.base}/records/{row['id']}")["ETag"], '"3"')

    def test_every_wrong_body_is_told_what_where_and_how(self):
        bell = self.row("yard_bell")
        one = f"/records/{bell['id']}"
        match = {"If-Match": f'"{bell["version"]}"'}
        cases = [
            ("post", "/edits", "{broken", {}, 400, "parse_error"),
            ("post", "/edits", {"tab": "a"}, {}, 422, "value_unreadable"),
            ("post", "/edits", {"tab": "a", "changes": [], "nonsense": 1}, {}, 422, "value_unreadable"),
            (
                "post",
                "/edits",
                {"tab": "a", "changes": [{"do": "add", "type": "item", "owner": bell["id"]}]},
                {},
                422,
                "wrong_owner",
            ),
            ("post", "/edits", {"tab": "a", "changes": [{"do": "set", "id": 999999}]}, {}, 404, "not_found"),
            ("patch", one, {"x_m": "far"}, match, 422, "value_unreadable"),
            ("patch", one, {"x_m": 1e9}, match, 422, "value_unreadable"),
            ("patch", one, {"speed": 3}, match, 422, "field_unknown"),
            ("patch", one, {"own": {"reach.radius_m": -1}}, match, 422, "value_unreadable"),
            ("patch", one, {"x_m": 1}, {}, 428, "version_missing"),
            ("patch", one, {"x_m": 1}, {"If-Match": "*x"}, 400, "version_unreadable"),
            (
                "post",
                "/place",
                {"tab": "a", "level": self.row("glasshouse")["id"], "x_m": 1, "y_m": 1, "starter": "dragon"},
                {},
                422,
                "kind_unknown",
            ),
        ]
        before = self.rows()
        for method, path, body, headers, status, code in cases:
            answer = self.send(method, path, body, **headers)
            self.assertEqual((answer.status_code, self.codes(answer.json())[:1]), (status, [code]), (path, body))
            self.assertEqual(answer["Content-Type"], "application/problem+json")
            self.assertTrue(all(p["message"] and p["fix"] for p in answer.json()["problems"]))
        self.assertEqual(self.rows(), before)

    def test_an_unreadable_cue_is_refused_with_line_column_and_caret(self):
        cue = self.cue_of("sluice_wheel")
        answer = self.edit(
            {"do": "set", "id": cue["id"], "values": {"text": "when held\nthen\n  sett this to open"}}, expect=422
        )
        self.assertIn("Line 3, column 3", answer["problems"][0]["message"])
        self.assertIn("^", answer["problems"][0]["message"])
        self.edit({"do": "set", "id": cue["id"], "values": {"draft": "when held\nthen\n  sett this to open"}})
        page = self.client.get(f"{self.base}/records/{self.row('sluice_wheel')['id']}/page").json()
        reading = page["texts"][f"{cue['id']}.text"]
        self.assertTrue(reading["tokens"])
        self.assertEqual([p["code"] for p in reading["draft_problems"]], ["cue_unreadable"])

    def test_a_page_whose_record_is_deleted_while_it_is_read_is_not_there(self):
        wheel, compile_it = self.row("sluice_wheel")["id"], programs.compiled_project

        def deleted_before(project):
            """The program, once somebody else has deleted what is being read."""
            self.edit({"do": "remove", "id": wheel, "clean": True})
            return compile_it(project)

        with mock.patch("vocanta.server.views.compiled_project", deleted_before):
            self.assertEqual(self.client.get(f"{self.base}/records/{wheel}/page").status_code, 404)
        self.assertEqual(self.client.get(f"{self.base}/records/{wheel}/page").status_code, 404)

    def test_a_body_over_the_limit_and_files_of_other_kinds(self):
        much = " " * (9 * 1024 * 1024)
        huge = self.send("post", "/edits", '{"tab": "a", "changes": []}' + much)
        self.assertEqual((huge.status_code, self.codes(huge.json())), (413, ["too_large"]))
        with mock.patch("vocanta.server.views.MOST_BYTES", 1_000):
            huge = self.client.post("/api/projects/file", DEMO, content_type="application/json")
        self.assertEqual((huge.status_code, self.codes(huge.json())), (413, ["too_large"]))
        for text, code in {"{": "file_broken", '{"format": "x"}': "file_foreign"}.items():
            answer = self.client.post("/api/projects/file", text, content_type="application/json")
            self.assertEqual((answer.status_code, self.codes(answer.json())), (422, [code]))
        self.assertEqual(models.Project.objects.count(), 1)
        large = self.client.post("/api/projects/file", DEMO + much, content_type="application/json")
        self.assertEqual(large.status_code, 201, "a project's own file is filed in whatever else may be uploaded")

    def test_strange_hosts_and_foreign_pages_are_refused(self):
        self.assertEqual(Client(headers={"Host": "elsewhere.example"}).get("/api/projects").status_code, 400)
        foreign = self.client.post(
            "/api/projects",
            {"name": "x"},
            content_type="application/json",
            headers={"Origin": "http://elsewhere.example"},
        )
        self.assertEqual((foreign.status_code, self.codes(foreign.json())), (403, ["origin_foreign"]))

    def test_pages_carry_a_strict_policy(self):
        policy = self.client.get("/api/projects")["Content-Security-Policy"]
        self.assertIn("default-src 'none'", policy)
        self.assertNotIn("'unsafe-inline'", policy.split("script-src")[1].split(";")[0])


class PlacingAndReading(OnTheDemo):
    def test_every_starter_is_placed_by_one_edit_and_taken_back_by_one_undo(self):
        level = self.row("glasshouse")["id"]
        before = len(self.rows())
        for starter in self.client.get("/api/starters").json():
            answer = self.send(
                "post", "/place", {"tab": "a", "level": level, "x_m": 2, "y_m": 4, "starter": starter["key"]}
            )
            self.assertEqual(answer.status_code, 200, answer.content)
            placed = self.row(answer.json()["select"])
            page = self.client.get(f"{self.base}/records/{placed['id']}/running").json()
            live = self.client.get(self.base + "/live").json()["objects"][placed["key"]]
            silent = starter["key"] in ("zone", "hands_off_zone", "passer_by")
            self.assertEqual(len(live["prompts"]), 0 if silent else 1, starter["key"])
            works = silent or any(p["usable"] or p["reason"] for p in live["prompts"])
            self.assertTrue(works, (starter["key"], page["problems"]))
            self.assertEqual(self.send("post", "/undo", {"tab": "a"}).status_code, 200)
            self.assertEqual(len(self.rows()), before, starter["key"])

    def test_everyday_names_find_starters(self):
        found = {s["key"]: s["also"] for s in self.client.get("/api/starters").json()}
        self.assertEqual({s.kind.key: s.also for s in STARTERS}, found)
        wanted = ("chest", "locker", "lever", "sign", "person", "pick up")
        for name, key in zip(wanted, ("one_time_crate",) * 2 + ("switch", "board", "talker", "pick_up"), strict=True):
            self.assertIn(name, found[key])

    def test_what_a_starter_made_and_nobody_uses_goes_with_its_object_and_comes_back_with_it(self):
        level, before = self.row("glasshouse")["id"], self.without_versions()
        for starter in ("talker", "pick_up", "one_time_crate", "spawner"):
            with self.subTest(starter):
                asked = {"tab": "a", "level": level, "x_m": 2.0, "y_m": 2.0, "starter": starter}
                placed = self.send("post", "/place", asked).json()
                whole = self.without_versions()
                self.edit({"do": "remove", "id": self.row(placed["select"])["id"]})
                self.assertEqual(self.without_versions(), before)
                self.send("post", "/undo", {"tab": "a"})
                self.assertEqual(self.without_versions(), whole)
                self.send("post", "/undo", {"tab": "a"})

    def test_what_a_starter_made_and_others_use_stays(self):
        level = self.row("glasshouse")["id"]
        asked = {"tab": "a", "level": level, "x_m": 2.0, "y_m": 2.0, "starter": "pick_up"}
        first, second = (self.send("post", "/place", asked).json() for _ in range(2))
        kind = next(r for r in first["rows"] if r["type"] == "kind")
        self.edit({"do": "remove", "id": self.row(first["select"])["id"]})
        self.assertIn(kind["id"], [r["id"] for r in self.rows()])
        self.assertEqual(self.row(second["select"])["values"]["kind"], kind["key"])

    def without_versions(self):
        return sorted(({k: v for k, v in r.items() if k != "version"} for r in self.rows()), key=lambda r: r["id"])

    def test_the_page_of_a_stage_lists_what_touches_it(self):
        stage = self.client.get(self.base + "/stages/dry_feet/report_back").json()
        self.assertEqual(
            [(t["text"], t["from_stages"]) for t in stage["brings"]], [("Sluice wheel", ["“Open the sluice”"])]
        )
        self.assertEqual([t["quote"] for t in stage["becomes"]], ["Listen. No frogs. That is the best sound this…"])
        self.assertEqual(self.client.get(self.base + "/stages/dry_feet/nowhere").status_code, 404)

    def test_live_says_which_opener_is_said_and_what_stops_the_others(self):
        lines = self.client.get(self.base + "/live?quest=dry_feet&stage=open_sluice").json()["lines"]
        of_odile = [
            line["key"] for line in self.rows() if line["type"] == "line" and line["values"]["speaker"] == "odile_marr"
        ]
        self.assertEqual([k for k, v in lines.items() if v["said"] and k in of_odile], ["is_it_running"])
        self.assertEqual(lines["mind_the_wet"]["shadowed_by"], "is_it_running")
        self.assertEqual(lines["the_key"]["stopped"], "Dry Feet must be at “Find the key”")
        self.assertEqual(self.client.get(self.base + "/live?quest=nothing&stage=x").status_code, 404)
        self.assertEqual(
            self.client.get(self.base + "/live?quest=dry_feet&stage=find_key&changes=fact:x=a").status_code, 422
        )

    def test_questions_to_the_database_are_bounded(self):
        with self.assertNumQueries(27):
            self.client.get(self.base)
        bell = self.row("yard_bell")
        with self.assertNumQueries(12):
            self.set_directly(bell, 7.0)

    def set_directly(self, row, x):
        self.edit({"do": "set", "id": row["id"], "version": row["version"], "values": {"x_m": x}})

    def test_filing_out_gives_back_what_was_filed_in(self):
        self.assertEqual(self.client.get(self.base + "/file").content.decode(), DEMO)

    def test_sounds_are_served_and_packed_with_the_project(self):
        file = self.row("yard_bell_ring")["values"]["file"]
        sound = self.client.get(f"{self.base}/assets/{file}")
        self.assertEqual((sound.status_code, sound["Content-Type"], sound.content[:4]), (200, "audio/wav", b"RIFF"))
        self.assertEqual(self.client.get(f"{self.base}/assets/none.wav").status_code, 404)
        package = self.client.get(self.base + "/package").content
        made = self.client.post("/api/projects/file", package, content_type="application/zip").json()["id"]
        self.assertEqual(self.client.get(f"/api/projects/{made}/package").content, package)

    def test_a_deleted_project_is_gone_and_comes_back_whole(self):
        self.assertEqual(self.client.delete(self.base).status_code, 204)
        self.assertEqual(self.client.get(self.base).status_code, 404)
        self.assertEqual(self.edit({"do": "add", "type": "item", "values": {"name": "x"}}, expect=404)["status"], 404)
        self.assertEqual(self.send("post", "/back").status_code, 204)
        self.assertEqual(store.core_project(models.Project.objects.get(pk=self.demo_id)), loads(DEMO))
