"""Where a thing comes from, where it goes and what asks for it, each with its sentence."""

from __future__ import annotations

from tests.server.test_api import OnTheDemo


class Flows(OnTheDemo):
    def flows(self, key):
        page = self.client.get(f"{self.base}/records/{self.row(key)['id']}/page").json()
        return [(f["how"], f["place"], f["says"]) for f in page["flows"]]

    def test_an_item_comes_from_goes_to_and_is_asked_for_in_the_sentence_where_it_stands(self):
        found = self.flows("seed_oil")
        self.assertIn(("from", "oil press", "change 3 dried pods into 1 seed oil"), found)
        self.assertIn(
            (
                "asked",
                "vault door",
                "the player has 1 seed oil (or else “The hinge is rusted solid. Oil would help.”)",
            ),
            found,
        )
        self.assertIn(("to", "vault door", "take 1 seed oil"), found)
        self.assertIn(("to", "oil press", "change 3 dried pods into 1 seed oil"), self.flows("dried_pods"))

    def test_what_nothing_names_is_unused_and_what_only_a_moment_names_is_not(self):
        self.edit({"do": "add", "type": "ability", "values": {"name": "Whistle"}})
        lines = {line["key"]: line for line in self.client.get(f"{self.base}/supply").json()}
        self.assertEqual((lines["hook_swing"]["used"], "whistle" in lines), (True, False))
        self.assertEqual((lines["copper_key"]["given"], lines["copper_key"]["used"]), (1, True))

    def test_what_is_counted_is_told_with_the_needs_that_ask(self):
        self.edit({"do": "add", "type": "cue", "owner": self.row("yard_bell")["id"], "values": {
            "text": "when used\nonly if this used at least 3 times\nthen\n  say \"Enough.\""
        }})  # fmt: skip
        told = {(t["verb"], t["key"]): t for t in self.client.get(f"{self.base}/tracked").json()}
        visited, used = told["visited", "sluice_hall"], told["used", "yard_bell"]
        self.assertEqual((visited["name"], visited["most"]), ("Sluice Hall", 2))
        self.assertIn("fewer than 2 times", visited["asked"][0]["says"])
        self.assertEqual([(a["place"], used["most"]) for a in used["asked"]], [("Yard bell", 3)])

    def test_the_balance_follows_an_edit_and_says_when_too_few_can_be_had(self):
        def of(key):
            lines = {b["key"]: b for b in self.client.get(f"{self.base}/balance").json()}
            return {k: lines[key][k] for k in ("most", "limit", "asked", "all_asked", "too_few")}

        night = {"asked": {"night_bloom": 3}, "all_asked": 3}
        self.assertEqual(of("dried_pods"), {"most": 6, "limit": 9, **night, "too_few": 0})
        for rack in ("rack_by_the_wall", "rack_in_the_corner"):
            self.edit({"do": "remove", "id": self.row(rack)["id"]})
        self.assertEqual(of("dried_pods"), {"most": 2, "limit": 9, **night, "too_few": 1})
        self.assertIsNone(of("money")["most"])

    def test_what_an_object_holds_comes_from_it_by_the_cue_of_its_kind(self):
        self.assertIn("from", {how for how, place, _ in self.flows("pruning_hook") if place == "supply crate"})

    def test_objectives_facts_roles_and_sounds_are_among_them_and_other_records_have_none(self):
        self.assertIn(("asked", "Have the copper key", "as its target"), self.flows("copper_key"))
        self.assertIn(("from", "vault door", "set The vault hinge is oiled to yes"), self.flows("hinge_oiled"))
        self.assertIn(("from", "Pip Tarrow", "fill the role Messenger with it"), self.flows("messenger"))
        self.assertIn(("from", "lamp", "play the sound Lamp, a click at it"), self.flows("lamp_click"))
        self.assertEqual(self.flows("yard_bell"), [])
