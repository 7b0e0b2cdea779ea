"""Offers in one go: one edit of ordinary cues, lines and buttons, that then plays as it was meant."""

from __future__ import annotations

from tests.core.walked import Walked
from tests.server.test_api import OnTheDemo
from vocanta.core.engine.inputs import Input
from vocanta.core.engine.picture import Painter
from vocanta.core.phrases.vocabulary import STATUSES
from vocanta.server import models, store


class Offers(OnTheDemo):
    def setUp(self):
        super().setUp()
        made = self.edit(
            {"do": "add", "type": "quest", "values": {"name": "Sweep up", "summary": "The yard is a sight."}}
        )
        self.quest = made["rows"][0]["id"]
        self.edit({"do": "add", "type": "stage", "owner": self.quest, "values": {"name": "Sweep", "then": "done"}})
        stage = self.row("sweep")["id"]
        self.edit({"do": "add", "type": "objective", "owner": stage, "values": {"name": "Swept", "type": "by_hand"}})

    def offer(self, by, expect=200, **more):
        answer = self.send("post", "/offers", {"tab": "a", "quest": self.quest, "by": by, **more})
        self.assertEqual(answer.status_code, expect, answer.content[:600])
        return answer.json()

    def walk(self, at):
        project = store.core_project(models.Project.objects.get(pk=self.demo_id))
        return Walked(at, project)

    def status(self, w):
        return STATUSES[w.value("status:sweep_up")]

    def said(self, w):
        talk = Painter(w.run).first()["talk"]
        return (talk["wording"], [r["wording"] for r in talk["replies"]]) if talk else None

    def answer(self, w, number):
        key = Painter(w.run).first()["talk"]["replies"][number]["key"]
        w.run.tick(Input(choose=key))
        return w.wait(2)

    def test_a_talker_offers_asks_again_waits_and_takes_it_back_each_only_when_it_is_so(self):
        level = next(r for r in self.rows() if r["type"] == "level" and r["key"] == "glasshouse")["id"]
        self.send("post", "/place", {"tab": "a", "level": level, "x_m": 2.5, "y_m": 3.0, "starter": "talker"})
        before = [{**r, "version": 0} for r in self.rows()]
        done = self.offer("talker")
        self.assertEqual((done["undo"], done["select"]), ("Let Talker offer Sweep up", "sweep_up"))
        self.assertEqual(
            (self.row("sweep")["values"]["then"], self.row("sweep_up")["values"]["offered_by"]), ("ready", "talker")
        )
        w = self.walk("talker").press().wait(2)
        self.assertEqual(self.said(w), ("The yard is a sight.", ["I will do it.", "Not now."]))
        self.answer(w, 1)
        self.assertEqual(self.status(w), "available")
        w.press().wait(2)
        self.answer(w, 0)
        self.assertEqual(self.status(w), "active")
        w.press().wait(2)
        self.assertEqual(self.said(w), ("How is it going?", ["I am still at it.", "I give it up."]))
        self.answer(w, 0)
        done = self.walk("talker")
        situation = done.run.situation
        situation.row[situation.layout.column("status", "sweep_up")] = STATUSES.index("ready")
        done.press().wait(2)
        self.assertEqual((self.said(done), self.status(done)), (("Sweep up: it is done. Thank you.", []), "done"))
        self.send("post", "/undo", {"tab": "a"})
        self.assertEqual([{**r, "version": 0} for r in self.rows()], before)

    def test_its_openers_stand_above_the_first_that_always_fits_in_the_order_in_which_they_are_read(self):
        self.offer("odile_marr")
        talk = self.row("odile_talk")["id"]
        lines = sorted(
            (r["order"], r) for r in self.rows() if r["type"] == "line" and r["owner"] == talk and r["values"]["opener"]
        )
        keys = [r["key"] for _, r in lines]
        always = next(
            i for i, (_, r) in enumerate(lines) if not r["values"]["needs"] and r["values"]["repeat"] != "once"
        )
        new = [f"sweep_up_{n}" for n in ("handed_in", "offer", "offered", "under_way")]
        self.assertEqual(keys[always - 4 : always], new)

    def test_its_openers_stand_above_those_that_ask_for_nothing_of_quests_and_can_be_said(self):
        level = next(r for r in self.rows() if r["type"] == "level" and r["key"] == "glasshouse")["id"]
        self.send("post", "/place", {"tab": "a", "level": level, "x_m": 2.5, "y_m": 3.0, "starter": "talker"})
        talk = next(r for r in self.rows() if r["type"] == "conversation" and r["key"] == "talker_talk")
        for key, needs in (("keyless", "not has copper_key"), ("feet_dry", "dry_feet is ready")):
            values = {"opener": True, "needs": needs, "wordings": [f"{key}."]}
            self.edit({"do": "add", "type": "line", "owner": talk["id"], "key": key, "values": values})
        self.offer("talker")
        lines = sorted((r["order"], r["key"]) for r in self.rows() if r["type"] == "line" and r["owner"] == talk["id"])
        ours = ["sweep_up_handed_in", "sweep_up_offer", "sweep_up_offered", "sweep_up_under_way"]
        self.assertEqual(["feet_dry", *ours, "keyless", "talker_good_day"], [key for _, key in lines])
        w = self.walk("talker").press().wait(2)
        self.assertEqual("The yard is a sight.", self.said(w)[0])

    def test_an_opener_stands_above_one_that_fits_wherever_it_would(self):
        level = next(r for r in self.rows() if r["type"] == "level" and r["key"] == "glasshouse")["id"]
        self.send("post", "/place", {"tab": "a", "level": level, "x_m": 2.5, "y_m": 3.0, "starter": "talker"})
        talk = next(r for r in self.rows() if r["type"] == "conversation" and r["key"] == "talker_talk")
        for key, needs in (
            ("key", "has copper_key"),
            ("both", "has copper_key and has pruning_hook"),
            ("oil", "has seed_oil"),
        ):
            values = {"opener": True, "needs": needs, "wordings": [f"{key}."]}
            self.edit({"do": "add", "type": "line", "owner": talk["id"], "key": f"{key}_line", "values": values})
        lines = sorted((r["order"], r["key"]) for r in self.rows() if r["type"] == "line" and r["owner"] == talk["id"])
        self.assertEqual(["both_line", "key_line", "oil_line", "talker_good_day"], [key for _, key in lines])

    def test_a_board_shows_it_on_its_panel_while_it_can_be_had_and_handed_in(self):
        self.edit({"do": "add", "type": "quest", "values": {"name": "Other work"}})
        other = self.row("other_work", "quest")["id"]
        self.offer("yard_bell")
        self.send("post", "/offers", {"tab": "a", "quest": other, "by": "yard_bell"})
        w = self.walk("yard_bell").wait(2)

        def buttons():
            shown = [b["wording"] for p in Painter(w.run).first()["prompts"] for b in p["buttons"]]
            return shown

        self.assertEqual(buttons(), ["Sweep up", "Other work"])
        w.run.tick(Input(choose="take_sweep_up"))
        self.assertEqual([o["key"] for o in Painter(w.run).first()["hud"]["offers"]], ["sweep_up"])
        w.run.tick(Input(decide="start:sweep_up"))
        self.assertEqual((self.status(w), buttons()), ("active", ["Other work"]))

    def test_what_the_starter_of_a_board_said_gives_way_to_its_offer(self):
        level = next(r for r in self.rows() if r["type"] == "level" and r["key"] == "glasshouse")["id"]
        self.send("post", "/place", {"tab": "a", "level": level, "x_m": 2.5, "y_m": 3.0, "starter": "board"})
        self.offer("board")
        w = self.walk("board").wait(2)
        (prompt,) = Painter(w.run).first()["prompts"]
        self.assertEqual(("use", ["Sweep up"]), (prompt["control"], [b["wording"] for b in prompt["buttons"]]))
        w.run.tick(Input(choose="take_sweep_up"))
        picture = Painter(w.run).first()
        self.assertEqual((["sweep_up"], []), ([o["key"] for o in picture["hud"]["offers"]], w.told("notice")))

    def test_what_was_written_on_a_board_stays_beside_its_offer(self):
        level = next(r for r in self.rows() if r["type"] == "level" and r["key"] == "glasshouse")["id"]
        self.send("post", "/place", {"tab": "a", "level": level, "x_m": 2.5, "y_m": 3.0, "starter": "board"})
        cue = next(r for r in self.rows() if r["type"] == "cue" and "posted here" in r["values"]["text"])
        self.edit({"do": "set", "id": cue["id"], "values": {"text": 'when used\nthen\n  say "Wet paint."'}})
        self.offer("board")
        prompts = Painter(self.walk("board").wait(2).run).first()["prompts"]
        self.assertEqual((2, True), (len(prompts), any(not p["buttons"] and p["control"] == "use" for p in prompts)))

    def test_an_item_and_a_place_offer_it_and_somebody_else_takes_it_back(self):
        self.offer("copper_key", to="odile_marr")
        cue = next(r for r in self.rows() if r["type"] == "cue" and r["owner"] == self.quest)
        self.assertEqual(
            cue["values"]["text"],
            "when gained copper_key\nonly if sweep_up is available\nthen\n  offer sweep_up",
        )
        lines = {r["key"]: r["values"] for r in self.rows() if r["type"] == "line" and r["key"].startswith("sweep_up")}
        self.assertEqual(list(lines), ["sweep_up_handed_in"])
        self.assertEqual(lines["sweep_up_handed_in"]["steps"].strip(), "hand in sweep_up")
        self.send("post", "/undo", {"tab": "a"})
        self.offer("palm_house")
        cue = next(r for r in self.rows() if r["type"] == "cue" and r["owner"] == self.quest)
        self.assertIn("when entered palm_house", cue["values"]["text"])
        self.assertEqual(self.row("sweep")["values"]["then"], "done")

    def test_a_quest_that_can_be_neither_declined_nor_given_up_is_offered_without_those(self):
        self.set("sweep_up", decline="no", give_up="no")
        self.offer("pip_tarrow")
        steps = [
            r["values"]["steps"].strip()
            for r in self.rows()
            if r["type"] == "reply" and "sweep_up" in r["values"]["steps"]
        ]
        self.assertEqual(steps, ["start sweep_up", "start sweep_up"])

    def test_who_is_nobody_a_quest_that_is_none_and_a_second_offer_are_refused_and_change_nothing(self):
        before = self.rows()
        self.assertEqual(self.codes(self.offer("nobody", expect=422)), ["name_unknown"])
        self.assertEqual(self.codes(self.offer("dry_feet", expect=422)), ["name_unknown"])
        self.assertEqual(self.codes(self.offer("copper_key", expect=422, to="seed_oil")), ["name_unknown"])
        self.send("post", "/offers", {"tab": "a", "quest": 999_999, "by": "pip_tarrow"})
        self.assertEqual(self.rows(), before)
        self.offer("pip_tarrow")
        self.assertEqual(self.codes(self.offer("odile_marr", expect=409)), ["offered_already"])


class TheQuestsPage(OnTheDemo):
    def page(self, key, expect=200):
        answer = self.client.get(f"{self.base}/quests/{key}")
        self.assertEqual(answer.status_code, expect)
        return answer.json()

    def test_it_shows_the_card_as_the_player_sees_it_and_what_touches_each_status(self):
        page = self.page("lamps_before_dusk")
        self.assertEqual(
            (page["card"]["by"], page["card"]["rewards"]),
            ("Work slate", ["15 shillings", "30 experience"]),
        )
        statuses = {s["status"]: s for s in page["statuses"]}
        brings = {name: [t["text"] for t in one["brings"]] for name, one in statuses.items()}
        self.assertIn("the player declines Lamps Before Dusk", brings["available"])
        self.assertIn("the objectives of “Light the lamps” are met", brings["done"])
        self.page("nothing", 404)
        self.assertIn("the player takes on Lamps Before Dusk", [t["text"] for t in statuses["offered"]["becomes"]])

    def test_an_edit_is_seen_at_once(self):
        before = self.page("lamps_before_dusk")["edit_number"]
        self.set("lamps_before_dusk", summary="Four lamps, before it is dark.")
        page = self.page("lamps_before_dusk")
        self.assertEqual((page["edit_number"], page["card"]["summary"]), (before + 1, "Four lamps, before it is dark."))
