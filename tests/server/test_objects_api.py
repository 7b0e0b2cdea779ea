"""Objects in full over the API: duplicates, states, sounds, tags, single edits undone, overlaps, starters."""

from __future__ import annotations

import io
import struct
import wave
from pathlib import Path

from tests.server.test_api import OnTheDemo
from vocanta.core.engine.beginning import Start
from vocanta.core.engine.inputs import Input
from vocanta.core.engine.run import Run
from vocanta.core.engine.standing import standing_before
from vocanta.core.project.assets import unfolded
from vocanta.core.project.signs import SIGNS
from vocanta.server import models, store


class Duplicates(OnTheDemo):
    def duplicate(self, *keys, **more):
        ids = [self.row(k)["id"] for k in keys]
        return self.send("post", "/duplicate", {"tab": "a", "records": ids, **more})

    def test_a_copy_lists_what_it_carried_over_until_each_is_answered(self):
        self.set("supply_crate_1", own={"values.content": "copper_key"})
        done = self.duplicate("rack_by_the_door", dx_m=2.0).json()
        self.assertEqual(done["select"], "rack_by_the_door_2")
        copy = self.row("rack_by_the_door_2")
        self.assertEqual((copy["values"]["name"], copy["values"]["x_m"]), ("Rickety rack 2", 5.4))
        page = self.client.get(f"{self.base}/records/{copy['id']}/page").json()
        self.assertEqual(
            [c["text"] for c in page["carried"]],
            ["set it to bare", "scatter 2 dried pods around it within 1.4 m, at most 2 at a time",
             "say “It comes apart in your hands; the pods roll off.”"],
        )  # fmt: skip
        keys = [c["key"] for c in page["carried"]]
        self.set("rack_by_the_door_2", carried={**copy["values"]["carried"], keys[0]: "right"})
        page = self.client.get(f"{self.base}/records/{copy['id']}/page").json()
        self.assertEqual([c["key"] for c in page["carried"]], keys[1:])

    def test_own_values_are_carried_over_in_words_and_one_undo_takes_all_copies_back(self):
        self.set("supply_crate_1", own={"values.content": "copper_key"})
        before = len(self.rows())
        self.duplicate("supply_crate_1", "yard_bell")
        copy = self.row("supply_crate_2")
        page = self.client.get(f"{self.base}/records/{copy['id']}/page").json()
        self.assertEqual([c["text"] for c in page["carried"]], ["content: copper key"])
        self.send("post", "/undo", {"tab": "a"})
        self.assertEqual(len(self.rows()), before)

    def test_what_is_changed_by_hand_has_been_looked_at_and_the_rest_stays_open(self):
        self.set("supply_crate_1", own={"values.content": "copper_key"})
        self.duplicate("supply_crate_1", "rack_by_the_door")
        self.set("supply_crate_2", own={"values.content": "seed_oil"})
        self.assertEqual([], self.carried("supply_crate_2"))
        rack = self.row("rack_by_the_door_2")
        (cue,) = [r for r in self.rows() if r["type"] == "cue" and r["owner"] == rack["id"]]
        text = cue["values"]["text"].replace("  set this to bare", "  give copper_key\n  set this to bare")
        self.edit({"do": "set", "id": cue["id"], "values": {"text": text.replace("pods roll off", "pods are gone")}})
        self.assertEqual(
            ["set it to bare", "scatter 2 dried pods around it within 1.4 m, at most 2 at a time"],
            self.carried("rack_by_the_door_2"),
        )

    def test_a_refusal_of_its_own_is_carried_over_too(self):
        text = 'when used\nonly if has copper_key or else say "Not without the key."\nthen\n  give seed_oil'
        self.edit({"do": "add", "type": "cue", "owner": self.row("yard_bell")["id"], "values": {"text": text}})
        self.duplicate("yard_bell")
        self.assertIn("say “Not without the key.”", self.carried("yard_bell_2"))

    def carried(self, key):
        page = self.client.get(f"{self.base}/records/{self.row(key)['id']}/page").json()
        return [c["text"] for c in page["carried"]]

    def test_a_cleared_step_becomes_a_hole_and_the_others_stay_what_they_were(self):
        self.duplicate("rack_by_the_door")
        copy = self.row("rack_by_the_door_2")
        page = self.client.get(f"{self.base}/records/{copy['id']}/page").json()["carried"]
        clear = {"do": "clear_carried", "id": copy["id"], "values": {"place": page[1]["key"]}}
        self.edit(clear)
        (text,) = [r["values"]["text"] for r in self.rows() if r["type"] == "cue" and r["owner"] == copy["id"]]
        self.assertNotIn("scatter", text)
        self.assertRegex(text, r"set this to bare\s+\?\s+say")
        left = self.client.get(f"{self.base}/records/{copy['id']}/page").json()["carried"]
        self.assertEqual([c["text"] for c in left], [page[0]["text"], page[2]["text"]])
        self.edit({**clear, "values": {"place": "cue/c9/0"}}, expect=404)

    def test_a_cleared_value_is_the_kinds_again(self):
        self.set("supply_crate_1", own={"values.content": "copper_key"})
        self.duplicate("supply_crate_1")
        copy = self.row("supply_crate_2")
        self.edit({"do": "clear_carried", "id": copy["id"], "values": {"place": "own/values.content"}})
        now = self.row("supply_crate_2")["values"]
        self.assertEqual((now["own"], now["carried"]), ({}, {"own/values.content": "right"}))


class CuesOfAKindAndItsObjects(OnTheDemo):
    def cues(self, owner):
        return [r for r in self.rows() if r["type"] == "cue" and r["owner"] == owner]

    def add(self, owner, text='when used\nthen\n  say "so"', **more):
        self.edit({"do": "add", "type": "cue", "owner": owner, "values": {"text": text}, **more})

    def test_a_new_cue_takes_the_key_of_no_cue_that_it_would_replace(self):
        crate, kind = self.row("supply_crate_1"), self.row(self.row("supply_crate_1")["values"]["kind"])
        inherited = {c["key"] for c in self.cues(kind["id"])}
        before = {c["key"] for c in self.cues(crate["id"])}
        self.assertTrue(inherited)
        self.add(crate["id"])
        (new,) = {c["key"] for c in self.cues(crate["id"])} - before
        self.assertNotIn(new, inherited)
        self.add(kind["id"])
        (newer,) = {c["key"] for c in self.cues(kind["id"])} - inherited
        self.assertNotEqual(newer, new)

    def test_a_button_added_to_one_board_replaces_no_cue_of_its_kind(self):
        board = self.row("work_slate")
        kind = self.row(board["values"]["kind"])
        taken = len(self.cues(board["id"]))
        for _ in range(taken + 1):
            self.add(kind["id"])
        inherited = {c["key"] for c in self.cues(kind["id"])}
        before = {c["key"] for c in self.cues(board["id"])}
        buttons = [{"key": "b1", "wording": "Read on"}]
        self.edit(
            {"do": "set", "id": board["id"], "values": {"own": {"prompts.p1.buttons": buttons}}},
            {"do": "add", "type": "cue", "owner": board["id"], "values": {"text": 'when chosen b1\nthen\n  say "On."'}},
        )
        (new,) = {c["key"] for c in self.cues(board["id"])} - before
        self.assertNotIn(new, inherited)
        self.assertTrue(inherited)

    def test_a_page_lists_cues_in_the_order_in_which_they_are_read(self):
        crate, kind = self.row("supply_crate_1"), self.row(self.row("supply_crate_1")["values"]["kind"])
        first = self.cues(kind["id"])[0]
        self.add(crate["id"])
        own = self.cues(crate["id"])[-1]
        page = f"{self.base}/records/{crate['id']}/page"
        self.assertEqual(self.client.get(page).json()["cues"][:1], [first["id"]])
        self.assertEqual(self.client.get(page).json()["cues"][-1], own["id"])
        self.add(crate["id"], key=first["key"])
        replacing = next(c["id"] for c in self.cues(crate["id"]) if c["key"] == first["key"])
        self.assertEqual(self.client.get(page).json()["cues"][0], replacing)


class States(OnTheDemo):
    def change(self, do, key, expect=200, **values):
        return self.edit({"do": do, "id": self.row(key)["id"], "values": values}, expect=expect)

    def texts_by_id(self):
        return {r["id"]: r["values"]["text"] for r in self.rows() if r["type"] == "cue"}

    def texts(self):
        return [r["values"]["text"] for r in self.rows() if r["type"] == "cue"]

    def test_a_state_that_twenty_cues_use_is_renamed_by_one_edit(self):
        lamp, text = self.row("yard_lamp_west"), "when used only if yard_lamp_east is lit then set this to lit"
        for _ in range(20):
            self.edit(
                {
                    "do": "add",
                    "type": "cue",
                    "owner": lamp["id"],
                    "values": {"text": text},
                }
            )
        self.change("rename_state", "lamp", state="lit", to="burning", name="burning bright")
        texts = [t for t in self.texts() if "yard_lamp_east is" in t]
        self.assertEqual(len(texts), 20)
        self.assertTrue(all("is burning" in t and "set this to burning" in t for t in texts))
        self.assertIn("palm_lamp is burning", self.row("lamps_lit")["values"]["text"])
        self.assertEqual(self.row("four_lamps")["values"]["state"], "burning")
        prompts = {p["key"]: p["states"] for p in self.row("lamp")["values"]["design"]["prompts"]}
        self.assertIn(["burning"], prompts.values())
        self.assertEqual(
            store.core_project(models.Project.objects.get(pk=self.demo_id)).kinds[1].design.states[1].name,
            "burning bright",
        )
        self.send("post", "/undo", {"tab": "a"})
        self.assertTrue(all("burning" not in t for t in self.texts()))

    def test_only_cues_that_mean_this_kinds_state_are_touched(self):
        self.change("rename_state", "hand_wheel", state="open", to="wide")
        self.assertIn("set this to wide", self.cue_of("sluice_wheel")["values"]["text"])
        self.assertEqual(self.row("wing_door")["values"]["design"]["states"][1]["key"], "open")

    def test_a_state_removed_that_cues_name_becomes_a_hole_there(self):
        self.change("remove_state", "hand_wheel", state="open")
        self.assertIn("set this to ?", self.cue_of("sluice_wheel")["values"]["text"])

    def test_a_prompt_of_the_removed_state_alone_goes_with_it_and_others_stay_for_what_is_left(self):
        design = self.row("lamp")["values"]["design"]
        both = {**design["prompts"][0], "key": "p9", "states": ["dark", "lit"]}
        self.set("lamp", design={**design, "prompts": [*design["prompts"], both]})
        self.change("remove_state", "lamp", state="lit")
        prompts = {p["key"]: p["states"] for p in self.row("lamp")["values"]["design"]["prompts"]}
        self.assertEqual(prompts, {"p1": ["dark"], "p9": ["dark"]})

    def test_own_values_follow_a_state_of_their_kind_and_go_with_it(self):
        own = {"states.open.swing_deg": 60.0, "prompts.p2.states": ["open"], "reach.radius_m": 2.0}
        self.set("east_wing_door", own=own)
        self.change("rename_state", self.row("east_wing_door")["values"]["kind"], state="open", to="ajar")
        renamed = {"states.ajar.swing_deg": 60.0, "prompts.p2.states": ["ajar"], "reach.radius_m": 2.0}
        self.assertEqual(self.row("east_wing_door")["values"]["own"], renamed)
        self.change("remove_state", self.row("east_wing_door")["values"]["kind"], state="ajar")
        self.assertEqual(self.row("east_wing_door")["values"]["own"], {"reach.radius_m": 2.0})

    def test_a_state_of_its_own_is_renamed_in_this_object_alone(self):
        states = [{"key": "up", "name": "up"}, {"key": "down", "name": "down"}]
        prompts = [{"key": "p1", "wording": "Pull", "states": ["down"]}]
        self.set("yard_bell", own={"states": states, "prompts": prompts})
        bell = self.row("yard_bell")
        text = {"text": "when used then set this to down set yard_lamp_east to lit"}
        cue = self.edit({"do": "add", "type": "cue", "owner": bell["id"], "values": text})["rows"][0]
        self.change("rename_state", "yard_bell", state="down", to="low")
        own = self.row("yard_bell")["values"]["own"]
        self.assertEqual(([s["key"] for s in own["states"]], own["prompts"][0]["states"]), (["up", "low"], ["low"]))
        self.assertIn("set this to low\n  set yard_lamp_east to lit", self.texts_by_id()[cue["id"]])
        self.change("remove_state", "yard_bell", state="low")
        self.assertEqual(self.row("yard_bell")["values"]["own"]["prompts"], [])

    def test_the_last_state_an_unknown_one_and_a_taken_name_are_refused(self):
        cases = (("remove_state", "bell", {"state": "idle"}, "state_last"),
                 ("remove_state", "lamp", {"state": "blue"}, "state_unknown"),
                 ("rename_state", "lamp", {"state": "lit", "to": "dark"}, "name_taken"),
                 ("rename_state", "lamp", {"state": "lit", "to": "when"}, "name_reserved"))  # fmt: skip
        for do, key, values, code in cases:
            self.assertEqual(self.codes(self.change(do, key, 422, **values)), [code])


class Sounds(OnTheDemo):
    def wav(self, seconds=1):
        out = io.BytesIO()
        with wave.open(out, "wb") as file:
            file.setnchannels(1)
            file.setsampwidth(2)
            file.setframerate(8000)
            file.writeframes(struct.pack("<h", 100) * 8000 * seconds)
        return out.getvalue()

    def upload(self, data, **query):
        sound = self.row("door_creak")
        return self.given(sound, data)

    def given(self, record, data):
        address = f"{self.base}/records/{record['id']}/file?tab=a"
        match = {"If-Match": f'"{record["version"]}"'}
        return self.client.post(address, data=data, content_type="application/octet-stream", headers=match)

    def test_a_wave_file_is_kept_with_its_length_and_undone(self):
        was = self.row("door_creak")["values"]
        self.assertEqual(self.upload(self.wav(2)).status_code, 200)
        now = self.row("door_creak")["values"]
        self.assertEqual(now["seconds"], 2.0)
        self.assertEqual(self.client.get(f"{self.base}/assets/{now['file']}").content, self.wav(2))
        self.send("post", "/undo", {"tab": "a"})
        self.assertEqual(self.row("door_creak")["values"], was)

    def test_what_is_no_sound_or_too_large_changes_nothing_and_says_so(self):
        was = self.row("door_creak")["values"]
        for data, status, code in (
            (b"once upon a time", 422, "file_unreadable"),
            (b"RIFF1234WAVEnothing", 422, "file_unreadable"),
            (b"OggS" + bytes(50 * 1024 * 1024), 413, "file_too_large"),
        ):
            answer = self.upload(data)
            self.assertEqual((answer.status_code, self.codes(answer.json())), (status, [code]))
            self.assertTrue(answer.json()["problems"][0]["fix"])
        self.assertEqual(self.row("door_creak")["values"], was)

    def test_an_item_has_a_picture_of_its_own_which_goes_out_and_in_with_the_project(self):
        png = b"\x89PNG\r\n\x1a\n" + bytes(40)
        key = self.row("copper_key")
        self.assertEqual(self.given(key, png).status_code, 200)
        picture = self.row("copper_key")["values"]["picture"]
        served = self.client.get(f"{self.base}/assets/{picture}")
        self.assertEqual((served.content, served["Content-Type"]), (png, "image/png"))
        package = unfolded(self.client.get(self.base + "/package").content)
        self.assertEqual(package.assets[picture], png)
        self.send("post", "/undo", {"tab": "a"})
        self.assertEqual(self.row("copper_key")["values"]["picture"], "")

    def test_no_two_new_items_look_alike_and_every_sign_has_a_drawing(self):
        self.edit(*({"do": "add", "type": "item", "values": {"name": f"Find {i}"}} for i in range(3)))
        self.edit({"do": "add", "type": "item", "values": {"name": "Find 4"}})
        signs = [r["values"]["icon"] for r in self.rows() if r["type"] == "item"]
        self.assertEqual(len(set(signs)), len(signs))
        drawings = (Path(__file__).resolve().parents[2] / "web/src/theme/icons.ts").read_text(encoding="utf-8")
        self.assertEqual({sign for sign in SIGNS if f"\n  {sign}: mdi" not in drawings}, set())

    def test_a_picture_that_is_none_is_refused_and_so_is_a_file_that_is_not_there(self):
        key = self.row("copper_key")
        for data, says in ((self.wav(), "is a sound, not a picture"), (b"<svg/>", "no sound or picture")):
            answer = self.given(key, data)
            self.assertEqual((answer.status_code, self.codes(answer.json())), (422, ["file_unreadable"]))
            self.assertIn(says, answer.json()["problems"][0]["message"])
        for name, values in (("copper_key", {"picture": "no.png"}), ("door_creak", {"file": "no.wav"})):
            refused = self.edit({"do": "set", "id": self.row(name)["id"], "values": values}, expect=422)
            self.assertEqual(self.codes(refused), ["asset_missing"])
        self.assertEqual(self.row("copper_key")["values"], key["values"])


class NamesInDesigns(OnTheDemo):
    def test_a_tag_is_renamed_in_every_design_and_need_that_names_it(self):
        bell = self.row("yard_bell")
        self.edit(
            {
                "do": "add",
                "type": "cue",
                "owner": bell["id"],
                "values": {"text": "when used only if staff in reach of this then ?"},
            }
        )
        self.set("yard_bell", own={"reach.who": ["player", "staff"]})
        self.edit({"do": "set", "id": self.row("staff")["id"], "key": "house_staff"})
        self.assertEqual(self.row("gardener")["values"]["design"]["tags"], ["house_staff"])
        self.assertEqual(self.row("yard_bell")["values"]["own"]["reach.who"], ["player", "house_staff"])
        self.assertTrue(
            any("house_staff in reach of this" in r["values"]["text"] for r in self.rows() if r["type"] == "cue")
        )

    def test_an_item_that_a_value_holds_is_renamed_and_deleted_there(self):
        self.edit({"do": "set", "id": self.row("pruning_hook")["id"], "key": "garden_hook"})
        self.assertEqual(self.row("supply_crate")["values"]["design"]["values"]["content"], "garden_hook")
        self.edit({"do": "remove", "id": self.row("garden_hook")["id"], "clean": True})
        self.assertEqual(self.row("supply_crate")["values"]["design"]["values"]["content"], "?")

    def test_a_reach_for_a_tag_that_is_not_there_is_refused(self):
        self.set("yard_bell", expect=422, own={"reach.who": ["ghosts"]})

    def test_senseless_sizes_are_refused_with_place_and_limit(self):
        for path, value in (("reach.radius_m", 0), ("reach.radius_m", -1), ("body.width_m", 0), ("motion.seconds", -2)):
            answer = self.set("yard_bell", expect=422, own={path: value})
            self.assertEqual(self.codes(answer), ["value_unreadable"])


class NamedNeeds(OnTheDemo):
    def test_a_named_need_is_kept_in_canonical_form_and_read_as_prose(self):
        self.set("lamps_lit", text="palm_lamp is lit   and landing_lamp is lit")
        row = self.row("lamps_lit")
        self.assertEqual(row["values"]["text"], "palm_lamp is lit\n  and landing_lamp is lit")
        reading = self.client.get(f"{self.base}/records/{row['id']}/page").json()["texts"][f"{row['id']}.text"]
        prose = "".join(t["text"] for t in reading["tokens"])
        self.assertEqual(prose, "Palm House lamp is lit and Landing lamp is lit")

    def test_a_named_need_that_leads_back_to_itself_never_runs_and_says_so(self):
        self.edit(
            {"do": "add", "type": "namedneed", "key": "moonlight", "values": {"name": "Moonlight", "text": "lamps_lit"}}
        )
        self.set("lamps_lit", text="moonlight")
        orchid = self.row("orchid")
        page = self.client.get(f"{self.base}/records/{orchid['id']}/running").json()
        live = self.client.get(f"{self.base}/live").json()["objects"]["orchid"]
        self.assertFalse(any(p["usable"] for p in live["prompts"]))
        self.assertEqual(page["problems"], [])


class OneEditUndone(OnTheDemo):
    def test_an_older_edit_of_another_tab_is_taken_back_and_that_can_be_undone(self):
        self.set("yard_bell", tab="other", x_m=9.0)
        number = self.client.get(f"{self.base}/edits").json()[0]["number"]
        self.set("yard_lamp_west", x_m=1.0)
        self.send("post", f"/edits/{number}/undo", {"tab": "a"})
        self.assertEqual(
            (self.row("yard_bell")["values"]["x_m"], self.row("yard_lamp_west")["values"]["x_m"]), (2.0, 1.0)
        )
        self.send("post", "/undo", {"tab": "a"})
        self.assertEqual(self.row("yard_bell")["values"]["x_m"], 9.0)

    def test_both_sides_are_shown_where_the_record_was_changed_since(self):
        self.set("yard_bell", x_m=9.0)
        number = self.client.get(f"{self.base}/edits").json()[0]["number"]
        self.set("yard_bell", tab="other", x_m=5.0)
        answer = self.send("post", f"/edits/{number}/undo", {"tab": "a"})
        self.assertEqual(answer.status_code, 409)
        self.assertEqual(answer.json()["sides"][0]["theirs"]["values"]["x_m"], 5.0)


class OnThePlan(OnTheDemo):
    def test_overlaps_say_who_wins_for_the_control_both_want(self):
        found = self.client.get(f"{self.base}/levels/glasshouse").json()["overlaps"]
        pair = next(o for o in found if {o["a"], o["b"]} == {"ladder", "odile_desk"})
        self.assertEqual((pair["controls"], pair["says"]), (["use"], "looked at, then nearest"))
        self.set("odile_desk", own={"reach.priority": 2})
        found = self.client.get(f"{self.base}/levels/glasshouse").json()["overlaps"]
        self.assertIn("Odile’s desk wins", [o["says"] for o in found])
        self.assertEqual(self.client.get(f"{self.base}/levels/nowhere").status_code, 404)

    def test_the_plan_says_in_which_area_each_object_stands(self):
        areas = self.client.get(f"{self.base}/levels/glasshouse").json()["areas"]
        self.assertEqual((areas["palm_lamp"], areas["yard_bell"]), ("palm_house", "gate_yard"))
        self.set("yard_bell", x_m=-50.0)
        self.assertEqual(self.client.get(f"{self.base}/levels/glasshouse").json()["areas"]["yard_bell"], "")

    def test_a_level_without_anything_has_no_overlaps_and_measures_straight(self):
        made = self.client.post("/api/projects", {"name": "Empty"}, content_type="application/json").json()["id"]
        self.base = f"/api/projects/{made}"
        level = next(r for r in self.rows() if r["type"] == "level")["key"]
        self.assertEqual(self.client.get(f"{self.base}/levels/{level}").json()["overlaps"], [])
        found = self.client.get(f"{self.base}/levels/{level}/measure?x1=1&y1=1&x2=4&y2=5").json()
        self.assertEqual((found["straight_m"], found["on_foot_m"]), (5.0, 5.0))

    def test_a_way_on_foot_goes_round_walls_and_shut_doors(self):
        found = self.client.get(f"{self.base}/levels/glasshouse/measure?x1=2&y1=5&x2=2&y2=10").json()
        self.assertEqual(found["straight_m"], 5.0)
        self.assertGreater(found["on_foot_m"], 5.4)
        none = self.client.get(f"{self.base}/levels/glasshouse/measure?x1=2&y1=5&x2=25&y2=15").json()
        self.assertEqual((none["on_foot_m"], none["way"]), (None, []))

    def test_every_starter_does_something_the_moment_it_is_placed(self):
        made = self.client.post("/api/projects", {"name": "Empty"}, content_type="application/json").json()["id"]
        self.base, self.demo_id = f"/api/projects/{made}", made
        level = next(r for r in self.rows() if r["type"] == "level")
        for starter in self.client.get("/api/starters").json():
            answer = self.send(
                "post", "/place", {"tab": "a", "level": level["id"], "x_m": 3.0, "y_m": 3.0, "starter": starter["key"]}
            )
            self.assertEqual(answer.status_code, 200, answer.content)
            self.assertTrue(self.does_something(answer.json()["select"]), starter["key"])
            self.send("post", "/undo", {"tab": "a"})

    def does_something(self, key):
        """Whether coming near, pressing, or waiting beside a freshly placed object tells anything of it."""
        core = store.core_project(models.Project.objects.get(pk=self.demo_id))
        spot = standing_before(core, key)
        run = Run(core, Start(*(spot or ())))
        self.assertEqual(run.situation.program.problems, ())
        where = run.here.mover.place_of(key)
        for given in (Input(down=("use",)), *[Input()] * 30):
            run.tick(given)
        quiet = {"near", "away", "crossed"}
        return run.here.mover.place_of(key) != where or any(e.what not in quiet for e in run.chronicle)


class TextsOnAPage(OnTheDemo):
    """What a page asks while a text is changed: pieces moved, alternatives, completion, where a thing is used."""

    TEXT = 'when used\nonly if has copper_key\nthen\n  set this to open\n  say "Done."'

    def post(self, path, **body):
        return self.client.post(path, body, content_type="application/json")

    def test_a_piece_is_moved_and_nothing_is_stored(self):
        before = self.rows()
        done = self.post("/api/rearrange", text=self.TEXT, start="cue", take="steps.1", to="steps.0").json()
        self.assertEqual(done["text"], self.TEXT.replace("  set this to open\n  say", "  say").replace(
            'say "Done."', 'say "Done."\n  set this to open'))  # fmt: skip
        self.assertEqual((done["taken"], self.rows()), ('say "Done."', before))

    def test_a_piece_that_cannot_stand_there_and_a_text_that_cannot_be_read_are_told(self):
        for body, code in (
            ({"text": self.TEXT, "put": "has nut", "to": "steps.0"}, "misplaced_piece"),
            ({"text": self.TEXT, "take": "steps.7"}, "no_such_piece"),
            ({"text": "when usedd then"}, "cue_unreadable"),
        ):
            answer = self.post("/api/rearrange", **body)
            self.assertEqual((answer.status_code, self.codes(answer.json())), (422, [code]))

    def test_the_alternatives_for_a_name_are_names_of_its_sort_with_their_shown_words(self):
        at = self.TEXT.index("copper_key")
        found = self.post(f"{self.base}/options", text=self.TEXT, at=at, this="sluice_wheel").json()
        items = {r["key"]: r["values"]["name"] for r in self.rows() if r["type"] == "item"}
        self.assertLessEqual(set(items.items()), {(o["value"], o["label"]) for o in found})
        self.assertNotIn("dry_feet", [o["value"] for o in found])

    def test_the_alternatives_for_a_state_are_those_of_its_owner(self):
        at = self.TEXT.index("open")
        found = self.post(f"{self.base}/options", text=self.TEXT, at=at, this="sluice_wheel").json()
        self.assertLessEqual({"shut", "open"}, {o["value"] for o in found})
        self.assertNotIn("lit", [o["value"] for o in found])

    def test_what_is_typed_is_completed_where_the_cursor_stands(self):
        text = "when used then give copp"
        found = self.post(f"{self.base}/complete", text=text, at=len(text)).json()
        name = self.row("copper_key")["values"]["name"]
        self.assertEqual((found["start"], found["options"]), (len(text) - 4, [{"value": "copper_key", "label": name}]))

    def test_what_is_typed_of_a_shown_name_is_completed_by_its_name_in_cues(self):
        self.edit({"do": "set", "id": self.row("copper_key")["id"], "key": "odd_one"})
        self.set("odd_one", name="Key of the Pump House")
        for typed, at in (("Key of the P", 12), ("pump", 4), ("the pump ho", 11)):
            text = f"when used then give {typed}"
            found = self.post(f"{self.base}/complete", text=text, at=len(text)).json()
            self.assertEqual((found["start"], [o["value"] for o in found["options"]]), (len(text) - at, ["odd_one"]))

    def test_the_project_s_own_word_for_money_is_money_in_a_text(self):
        for word in ("shillings", "shilling"):
            text = f"when used\nonly if {word} at least 2\nthen\n  take 2 {word}"
            self.edit({"do": "add", "type": "cue", "owner": self.row("yard_bell")["id"], "values": {"text": text}})
            kept = [r["values"]["text"] for r in self.rows() if r["type"] == "cue"]
            self.assertIn("when used\nonly if money at least 2\nthen\n  take 2 money", kept)
        found = self.post(f"{self.base}/complete", text="when used then give shil", at=24).json()
        self.assertEqual(["money"], [o["value"] for o in found["options"]])

    def test_behind_a_name_stands_what_can_be_asked_of_it(self):
        def words(name):
            text = f"when used\nonly if {name} "
            return {o["value"] for o in self.post(f"{self.base}/complete", text=text, at=len(text)).json()["options"]}

        quest, lamp = words("dry_feet"), words("yard_bell")
        self.assertLessEqual({"at", "before", "past", "between", "is"}, quest)
        self.assertFalse({"used", "at least", "met"} & quest)
        self.assertLessEqual({"is", "used"}, lamp)
        self.assertFalse({"at", "past", "met", "visited"} & lamp)

    def test_what_a_starter_made_goes_when_it_is_named_no_more(self):
        level = next(r for r in self.rows() if r["type"] == "level")["id"]
        self.post(f"{self.base}/place", tab="a", level=level, x_m=2.5, y_m=3.0, starter="pick_up")
        made = self.row("pick_up")
        item = made["values"]["own"]["values.content"]
        self.set("pick_up", own={**made["values"]["own"], "values.content": "copper_key"})
        self.assertFalse([r for r in self.rows() if r["key"] == item])
        self.post(f"{self.base}/undo", tab="a")
        self.assertTrue([r for r in self.rows() if r["key"] == item])

    def test_what_a_starter_made_stays_where_somebody_touched_or_uses_it(self):
        level = next(r for r in self.rows() if r["type"] == "level")["id"]
        for number, touch in enumerate((lambda i: self.set(i, name="Fine thing"), self.needed)):
            self.post(f"{self.base}/place", tab="a", level=level, x_m=2.5 + number, y_m=3.0, starter="pick_up")
            key = "pick_up" if not number else f"pick_up_{number + 1}"
            made = self.row(key)
            item = made["values"]["own"]["values.content"]
            touch(item)
            item = self.row(key)["values"]["own"]["values.content"]
            self.set(key, own={**self.row(key)["values"]["own"], "values.content": "copper_key"})
            self.assertTrue([r for r in self.rows() if r["key"] == item])

    def needed(self, item):
        text = f"when used\nonly if has {item}\nthen"
        self.edit({"do": "add", "type": "cue", "owner": self.row("yard_bell")["id"], "values": {"text": text}})

    def test_things_of_one_name_say_what_they_are(self):
        self.set("yard_bell", name="Bell")
        self.edit({"do": "add", "type": "fact", "values": {"name": "Bell"}})
        text = "when used\nonly if yard_bell is ringing\nthen"
        found = self.post(f"{self.base}/options", text=text, at=text.index("yard_bell")).json()
        self.assertEqual(
            sorted(o["label"] for o in found if o["label"].startswith("Bell")), ["Bell, a fact", "Bell, an object"]
        )

    def test_a_line_is_shown_by_its_first_words(self):
        line = next(r for r in self.rows() if r["type"] == "line")
        text = f"when heard {line['key']}\nthen"
        found = self.post(f"{self.base}/options", text=text, at=11).json()
        label = next(o["label"] for o in found if o["value"] == line["key"])
        self.assertEqual(label[:12], f"“{line['values']['wordings'][0]}"[:12])

    def test_where_a_thing_is_used_names_every_place_once(self):
        found = self.client.get(f"{self.base}/records/{self.row('moth_swarm')['id']}/uses").json()
        crate = self.row("odd_crate")
        self.assertEqual([(u["place"], u["field"]) for u in found], [(crate["values"]["name"], "text")])
        level = self.client.get(f"{self.base}/records/{self.row('cistern')['id']}/page").json()["uses"]
        self.assertEqual([(u["place"], u["field"]) for u in level], [("Ladder down", "to_level")])

    def test_the_page_of_a_level_does_not_take_what_names_its_areas_for_its_own_uses(self):
        area = self.client.get(f"{self.base}/records/{self.row('palm_house')['id']}/page").json()["uses"]
        level = self.client.get(f"{self.base}/records/{self.row('glasshouse')['id']}/page").json()["uses"]
        self.assertTrue(area)
        self.assertFalse({u["record"] for u in area} & {u["record"] for u in level})
