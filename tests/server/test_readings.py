"""What pages read off the project: values in words, alternatives, what touches a stage, what waits in vain."""

from __future__ import annotations

import importlib
from io import StringIO
from unittest import mock

from django.core.management import call_command
from django.test import SimpleTestCase, TestCase

from tests.server.test_api import OnTheDemo
from vocanta.core.progress.threads import Touch
from vocanta.server import models
from vocanta.server.naming import Places
from vocanta.server.programs import compiled_project
from vocanta.server.readings import column_words


class InWords(OnTheDemo):
    def here(self):
        return compiled_project(models.Project.objects.get(pk=self.demo_id))

    def test_every_value_of_an_assumed_point_reads_as_a_phrase(self):
        cases = {
            ("item:copper_key", 1): "has copper key",
            ("item:dried_pods", 3): "has 3 dried pods",
            ("fact:east_wing_dry", 1): "The East Wing is dry",
            ("fact:east_wing_dry", 0): "not: The East Wing is dry",
            ("state:vault_gate", 1): "Vault door open",
            ("ability:long_reach", 1): "can use Long Reach",
            ("ability:long_reach", 0): "",
            ("exists:vault_gate", 0): "Vault door gone",
            ("exists:vault_gate", 1): "",
            ("money", 1): "1 shilling",
            ("money", 12): "12 shillings",
            ("experience", 5): "5 experience",
            ("cell", 2): "",
        }
        here = self.here()
        self.assertEqual({case: column_words(here, *case) for case in cases}, cases)

    def test_a_number_fact_reads_with_its_number(self):
        self.edit({"do": "add", "type": "fact", "values": {"name": "Tide", "type": "number", "highest": 9}})
        self.assertEqual(column_words(self.here(), "fact:tide", 4), "Tide: 4")

    def test_a_place_of_the_program_is_named_by_what_it_is(self):
        here = self.here()
        places = Places(here.core, here.words)
        quest = next(q for q in here.core.quests if q.key == "dry_feet")
        stage = quest.stages[0]
        talk = next(t for t in here.core.conversations if any(line.replies for line in t.lines))
        line = next(line for line in talk.lines if line.replies)
        who = here.words.name(talk.talker)
        origin = f"conversation/{talk.key}/line/{line.key}"
        cases = {
            Touch("started", "", "", "level/glasshouse/cue/c1"): ("The Glasshouse", "level/glasshouse"),
            Touch("started", "", "", "project"): ("project", "project"),
            Touch("advance", "", "", f"quest/dry_feet/stage/{stage.key}"): (
                f"the objectives of “{stage.name}” are met",
                f"stage/dry_feet/{stage.key}",
            ),
            Touch("used", "", "", "kind/lamp/cue/c1"): ("lamp", "object/lamp"),
            Touch("used", "palm_lamp", "use", "kind/lamp/cue/c1"): ("Palm House lamp", "object/palm_lamp"),
            Touch("heard", "", "", origin): (who, f"line/{talk.key}/{line.key}"),
            Touch("reply", "", "", f"{origin}/reply/{line.replies[0].key}"): (
                f"{who}, answer",
                f"line/{talk.key}/{line.key}",
            ),
        }
        found = {touch: places.named(touch) for touch in cases}
        self.assertEqual({touch: (named.text, named.place) for touch, named in found.items()}, cases)
        pressed = found[Touch("used", "palm_lamp", "use", "kind/lamp/cue/c1")]
        self.assertEqual(pressed.quote, "Light the lamp")


class Alternatives(OnTheDemo):
    TEXT = 'when used\nonly if wet\n  and has copper_key\nthen\n  say "x"'

    def options(self, word):
        body = {"text": self.TEXT, "at": self.TEXT.index(word), "this": "palm_lamp"}
        answer = self.client.post(f"{self.base}/options", body, content_type="application/json")
        return [o["label"] for o in answer.json()]

    def test_the_first_word_of_a_moment_a_need_and_a_step_offers_all_others(self):
        self.assertLessEqual({"used", "near", "… comes"}, set(self.options("used")))
        self.assertLessEqual({"has …", "chance one in …"}, set(self.options("has")))
        self.assertLessEqual({"give …", "wait …"}, set(self.options("say")))

    def test_between_words_there_is_nothing_to_choose(self):
        self.assertEqual(self.options("\nthen"), [])


class Choices(OnTheDemo):
    """What a slot and a value take is what is offered for it, and nothing else."""

    def asked(self, path, **body):
        answer = self.client.post(f"{self.base}/{path}", body, content_type="application/json")
        return answer.json()

    def values(self, this, value):
        return self.asked("value-options", this=this, value=value)

    def declared(self, **values):
        """The kind of crates with more values, and a cue that reads them."""
        kind = self.row("supply_crate")
        design = {**kind["values"]["design"], "values": {**kind["values"]["design"]["values"], **values}}
        self.edit({"do": "set", "id": kind["id"], "values": {"design": design}})
        texts = (
            "when near\nthen\n  take its amount of copper_key\n  set east_wing_dry to its ok\n  put its thing at this"
        )
        self.edit({"do": "add", "type": "cue", "owner": kind["id"], "values": {"text": texts}})

    def test_a_value_is_offered_what_the_cues_take_for_it(self):
        found = self.values("supply_crate_1", "content")
        rows = self.client.get(self.base).json()
        items = {r["key"] for r in rows if r["type"] == "item"}
        named = {o["value"] for o in found["options"] if o["value"]}
        self.assertEqual(items | {"money", "experience"}, named)
        self.assertEqual(["item"], [o["makes"] for o in found["options"] if o["makes"]])
        self.assertFalse(found["number"] or found["words"])

    def test_a_number_yes_or_no_and_a_kind_each_where_it_is_read_so(self):
        self.declared(amount="?", ok="?", thing="?", unread="?")
        amount = self.values("supply_crate_1", "amount")
        self.assertEqual(([], True, False), (amount["options"], amount["number"], amount["words"]))
        self.assertEqual(["no", "yes"], sorted(o["value"] for o in self.values("supply_crate_1", "ok")["options"]))
        things = {o["value"] for o in self.values("supply_crate_1", "thing")["options"]}
        rows = self.client.get(self.base).json()
        self.assertEqual({r["key"] for r in rows if r["type"] in ("kind", "object")}, things)
        self.assertTrue(self.values("supply_crate_1", "unread")["words"])

    def test_what_is_not_there_is_said(self):
        answer = self.client.post(
            f"{self.base}/value-options", {"this": "nobody", "value": "x"}, content_type="application/json"
        )
        self.assertEqual(404, answer.status_code)

    def test_a_slot_offers_values_of_its_own_and_something_new(self):
        text = "when used\nthen\n  give copper_key"
        found = self.asked("options", text=text, at=text.index("copper_key"), this="supply_crate_1")
        self.assertIn("its content", [o["value"] for o in found])
        self.assertEqual(["new item"], [o["label"] for o in found if o["makes"]])
        self.declared(amount=2, ok=True, thing="supply_crate")
        number = self.asked("options", text=text, at=text.index("copper_key"), this="supply_crate_1", slot="number")
        self.assertEqual(["its amount"], [o["value"] for o in number])


class InVain(OnTheDemo):
    def vain(self, key):
        record = next(r for r in self.rows() if r["key"] == key and r["type"] in ("object", "kind"))
        return self.client.get(f"{self.base}/records/{record['id']}/page").json()["in_vain"]

    def test_a_kind_and_its_objects_tell_of_a_cue_that_no_prompt_raises_any_more(self):
        kind = next(r for r in self.rows() if r["key"] == "lamp" and r["type"] == "kind")
        self.assertEqual((self.vain("lamp"), self.vain("palm_lamp")), ([], []))
        design = kind["values"]["design"]
        held = [{**p, "hold_s": 1.0} for p in design["prompts"]]
        self.edit({"do": "set", "id": kind["id"], "values": {"design": {**design, "prompts": held}}})
        cue = next(r for r in self.rows() if r["type"] == "cue" and r["owner"] == kind["id"])
        wanted = {
            "cue": cue["id"],
            "says": "it waits for a press, and what is offered is a hold",
            "instead": cue["values"]["text"].replace("when used", "when held"),
        }
        self.assertEqual((self.vain("lamp"), self.vain("palm_lamp")), ([wanted], [wanted]))

    def test_a_cue_that_is_switched_off_waits_for_nothing(self):
        self.set("palm_lamp", own={"prompts.p1.hold_s": 1.0, "prompts.p2.hold_s": 1.0}, cues_off=["c1"])
        self.assertEqual(self.vain("palm_lamp"), [])


class StagesTouched(OnTheDemo):
    def test_an_object_says_which_stages_it_moves_and_makes_possible(self):
        wheel = self.row("sluice_wheel")
        touched = self.client.get(f"{self.base}/records/{wheel['id']}/running").json()["touches"]
        moves = [(t["quest"], t["stage"], t["text"]) for t in touched if t["how"] == "moves"]
        self.assertEqual(moves, [("dry_feet", "report_back", "from “Open the sluice”")])
        possible = {(t["quest"], t["stage"]) for t in touched if t["how"] == "possible"}
        self.assertIn(("dry_feet", "open_sluice"), possible)


class Commands(TestCase):
    def test_the_demo_is_loaded_into_an_empty_database_and_no_other(self):
        out = StringIO()
        call_command("load_demo", stdout=out)
        call_command("load_demo", stdout=out)
        self.assertEqual((models.Project.objects.count(), out.getvalue()), (2, "The demo is loaded.\n"))

    def test_serving_makes_ready_loads_the_demo_and_says_where(self):
        out = StringIO()
        with mock.patch("vocanta.server.management.commands.serve.server") as server:
            call_command("serve", "--port", "8123", stdout=out)
        self.assertEqual(out.getvalue(), "The demo is loaded.\n")
        server.assert_called_once_with("vocanta.server.asgi:application", "127.0.0.1", 8123, begun=mock.ANY)
        server.return_value.run.assert_called_once_with()
        server.call_args.kwargs["begun"]()
        self.assertIn("Vocanta is at http://127.0.0.1:8123/\n", out.getvalue())
        self.assertEqual(models.Project.objects.count(), 2)

    def test_a_port_that_is_taken_is_said_with_another_to_take(self):
        said = StringIO()
        with mock.patch("vocanta.server.management.commands.serve.server") as server:
            server.return_value.run.side_effect = SystemExit(3)
            with self.assertRaises(SystemExit):
                call_command("serve", "--port", "8123", stdout=StringIO(), stderr=said)
        self.assertIn("For another port: make start PORT=8124", said.getvalue())


class ButtonsByThemselves(SimpleTestCase):
    def test_older_designs_and_own_values_get_what_each_button_says(self):
        migration = importlib.import_module("vocanta.server.migrations.0006_buttons_by_themselves")
        old = {"prompts": [{"key": "p1", "buttons": [{"key": "ask", "wording": "Ask"}]}], "values": {"gift": "nut"}}
        new = migration.filled(old)
        button = {"key": "ask", "wording": "Ask", "when_unusable": "dimmed"}
        self.assertEqual(new, {"prompts": [{"key": "p1", "buttons": [button]}], "values": {"gift": "nut"}})
        self.assertEqual(migration.filled(new), new)
        own = migration.filled({"prompts.p1.buttons": [{"key": "ask", "wording": "Ask"}]})
        self.assertEqual(own, {"prompts.p1.buttons": [button]})
