"""Undo takes back its own edit and nothing of anybody else's; writes say what they are based on."""

from __future__ import annotations

from datetime import timedelta
from unittest import mock

from django.utils import timezone

from tests.server.test_api import OnTheDemo
from vocanta.server import edits, models

OUTLINE = [[0, 0], [4, 0], [4, 4], [0, 4]]


class Undoing(OnTheDemo):
    def undo(self, tab="a", expect=200, address="/undo"):
        answer = self.send("post", address, {"tab": tab})
        self.assertEqual(answer.status_code, expect, answer.content[:600])
        return answer.json()

    def refused(self, code, tab="a", address="/undo"):
        """An undo that is refused with a code and both sides, and changes nothing."""
        before = self.rows()
        answer = self.undo(tab, 409, address)
        self.assertEqual(self.codes(answer), [code])
        self.assertEqual(self.rows(), before)
        return answer["sides"][0]

    def add(self, record_type, tab="a", owner=None, **values):
        change = {"do": "add", "type": record_type, "owner": owner, "values": values}
        return self.edit(change, tab=tab)["rows"][0]

    def remove(self, key, tab="a"):
        return self.edit({"do": "remove", "id": self.row(key)["id"], "clean": True}, tab=tab)

    def test_what_somebody_put_into_a_new_level_keeps_it(self):
        level = self.add("level", name="Loft")
        area = self.add("area", "b", level["id"], name="Straw", outline=OUTLINE)
        side = self.refused("filled_since")
        self.assertEqual((side["yours"]["key"], side["theirs"]["key"]), ("loft", "straw"))
        self.undo("b")
        self.undo("a")
        self.assertNotIn(level["id"], [r["id"] for r in self.rows()])
        self.assertNotIn(area["id"], [r["id"] for r in self.rows()])

    def test_a_gesture_takes_nothing_back_of_what_another_tab_wrote_meanwhile(self):
        key = self.row("copper_key")
        self.edit({"do": "set", "id": key["id"], "values": {"text": "Wor"}}, gesture="g")
        self.edit({"do": "set", "id": key["id"], "values": {"description": "It is green."}}, tab="b")
        self.edit({"do": "set", "id": key["id"], "values": {"text": "Worn"}}, gesture="g")
        self.undo()
        values = self.row("copper_key")["values"]
        self.assertEqual((values["text"], values["description"]), ("Wor", "It is green."))
        self.undo()
        values = self.row("copper_key")["values"]
        self.assertEqual((values["text"], values["description"]), ("", "It is green."))

    def test_what_was_asked_is_done_once_after_an_undo_and_within_a_gesture_too(self):
        asked = {"tab": "a", "gesture": "g"}

        def change(text, ask):
            key = self.row("copper_key")
            changes = [{"do": "set", "id": key["id"], "version": key["version"], "values": {"text": text}}]
            return self.send("post", "/edits", {**asked, "ask": ask, "changes": changes}).json()["edit_number"]

        numbers = [change(text, ask) for text, ask in (("Wor", "one"), ("Worn", "two"), ("Wor", "one"))]
        self.assertEqual(numbers[2], numbers[1])
        self.assertEqual(self.row("copper_key")["values"]["text"], "Worn")
        for _ in range(2):
            undone = self.send("post", "/undo", {"tab": "a", "ask": "back"}).json()["edit_number"]
            self.assertEqual((self.row("copper_key")["values"]["text"], undone), ("", numbers[1] + 1))
        self.assertEqual((change("Worn", "two"), self.row("copper_key")["values"]["text"]), (undone, ""))

    def test_a_gesture_ends_with_a_pause_of_a_second(self):
        bell, begun = self.row("yard_bell")["id"], timezone.now()
        for x, seconds in ((3.0, 0.0), (3.1, 0.9), (3.2, 2.0)):
            with mock.patch.object(edits.timezone, "now", return_value=begun + timedelta(seconds=seconds)):
                self.edit({"do": "set", "id": bell, "values": {"x_m": x}}, gesture="g")
        self.assertEqual(models.Edit.objects.filter(project_id=self.demo_id).count(), 2)

    def test_a_new_item_that_somebody_uses_by_now_stays(self):
        self.add("item", name="Seed cake")
        bell = self.row("yard_bell")["id"]
        self.add("cue", "b", bell, text="when used\nthen\n  give seed_cake")
        side = self.refused("used_since")
        self.assertIn("seed_cake", side["theirs"]["values"]["text"])
        self.undo("b")
        self.undo()
        self.assertNotIn("seed_cake", [r["key"] for r in self.rows()])

    def test_a_new_name_that_somebody_uses_by_now_stays(self):
        item = self.row("copper_key")
        self.edit({"do": "set", "id": item["id"], "key": "brass_key"})
        self.add("cue", "b", self.row("yard_bell")["id"], text="when used\nthen\n  give brass_key")
        self.refused("used_since")

    def test_a_new_state_and_a_new_stage_that_somebody_uses_by_now_stay(self):
        wheel = self.row(self.row("sluice_wheel")["values"]["kind"])
        states = [*wheel["values"]["design"]["states"], {"key": "stuck", "name": "stuck"}]
        self.edit(
            {"do": "set", "id": wheel["id"], "values": {"design": {**wheel["values"]["design"], "states": states}}}
        )
        bell = self.row("yard_bell")["id"]
        text = "when used\nthen\n  set sluice_wheel to stuck"
        self.edit({"do": "add", "type": "cue", "owner": bell, "values": {"text": text}}, tab="b")
        self.refused("used_since")
        self.add("stage", "c", self.row("dry_feet")["id"], name="Dry out")
        text = "when used\nthen\n  move dry_feet to dry_out"
        self.edit({"do": "add", "type": "cue", "owner": bell, "values": {"text": text}}, tab="b")
        self.refused("used_since", "c")

    def test_what_stood_in_something_that_is_gone_by_now_is_answered(self):
        level = self.add("level", name="Loft")
        area = self.add("area", owner=level["id"], name="Straw", outline=OUTLINE)
        self.edit({"do": "remove", "id": area["id"]})
        self.edit({"do": "remove", "id": level["id"]}, tab="b")
        self.refused("owner_gone")
        self.undo("b")
        self.undo("a")
        self.assertEqual(self.row("straw")["owner"], level["id"])

    def test_a_name_that_is_taken_by_now_is_answered(self):
        self.add("item", name="Seed cake")
        self.remove("seed_cake")
        self.add("fact", "b", name="Seed cake")
        side = self.refused("name_taken")
        self.assertEqual((side["yours"]["type"], side["theirs"]["type"]), ("item", "fact"))

    def test_what_names_something_that_is_gone_by_now_is_answered(self):
        self.add("item", name="Seed cake")
        cue = self.add("cue", owner=self.row("yard_bell")["id"], text="when used\nthen\n  give seed_cake")
        self.edit({"do": "remove", "id": cue["id"]})
        self.remove("seed_cake", "b")
        self.refused("names_nothing")

    def test_one_edit_of_the_history_is_held_against_the_same(self):
        level = self.add("level", name="Loft")
        number = self.client.get(self.base + "/edits").json()[0]["number"]
        self.add("area", "b", level["id"], name="Straw", outline=OUTLINE)
        self.refused("filled_since", "c", f"/edits/{number}/undo")

    def test_two_names_exchanged_come_back(self):
        nut, pin = self.add("item", name="Nut"), self.add("item", name="Pin")
        self.edit(
            *({"do": "set", "id": i, "key": k} for i, k in ((nut["id"], "x"), (pin["id"], "nut"), (nut["id"], "pin")))
        )
        self.assertEqual([self.row("pin")["id"], self.row("nut")["id"]], [nut["id"], pin["id"]])
        self.undo()
        self.assertEqual([self.row("nut")["id"], self.row("pin")["id"]], [nut["id"], pin["id"]])


class BasedOn(OnTheDemo):
    def test_two_settings_of_one_record_in_one_edit_are_based_on_the_same_version(self):
        bell = self.row("yard_bell")
        one = {"do": "set", "id": bell["id"], "version": bell["version"]}
        self.edit({**one, "values": {"x_m": 3.0}}, {**one, "values": {"y_m": 1.0}})
        now = self.row("yard_bell")
        self.assertEqual((now["values"]["x_m"], now["values"]["y_m"], now["version"]), (3.0, 1.0, bell["version"] + 1))

    def test_every_change_of_what_is_there_says_what_it_is_based_on(self):
        kind = self.row(self.row("sluice_wheel")["values"]["kind"])
        state = kind["values"]["design"]["states"][0]["key"]
        restate = {"state": state, "to": "askew", "name": "askew"}
        for change in (
            {"do": "set", "values": {"name": "x"}},
            {"do": "remove"},
            {"do": "rename_state", "values": restate},
            {"do": "remove_state", "values": {"state": state}},
            {"do": "clear_carried", "values": {"place": "own/x"}},
        ):
            for version, status, code in ((None, 428, "version_missing"), (99, 412, "changed_since")):
                with self.subTest(do=change["do"], version=version):
                    answer = self.edit({**change, "id": kind["id"], "version": version}, expect=status)
                    self.assertEqual(self.codes(answer), [code])

    def test_the_settings_stay(self):
        settings = next(r for r in self.rows() if r["type"] == "project")
        answer = self.edit({"do": "remove", "id": settings["id"], "clean": True}, expect=422)
        self.assertEqual(self.codes(answer), ["settings_stay"])
        self.assertEqual(len(self.client.get("/api/projects").json()), 1)

    def test_what_is_asked_twice_under_one_name_is_done_once(self):
        asked = {"tab": "a", "ask": "q1", "changes": [{"do": "add", "type": "item", "values": {"name": "Seed cake"}}]}
        first, again = (self.send("post", "/edits", asked).json() for _ in range(2))
        self.assertEqual(first["rows"], again["rows"])
        self.assertEqual([r["key"] for r in self.rows() if "seed_cake" in r["key"]], ["seed_cake"])
        for _ in range(2):
            self.assertEqual(self.send("post", "/undo", {"tab": "a", "ask": "q2"}).status_code, 200)
        self.assertEqual(models.Edit.objects.filter(project_id=self.demo_id, state="undone").count(), 1)
        bell = self.row("yard_bell")
        here = {"tab": "a", "records": [bell["id"]], "ask": "q3"}
        first, again = (self.send("post", "/duplicate", here).json() for _ in range(2))
        self.assertEqual([r["id"] for r in first["rows"]], [r["id"] for r in again["rows"]])
