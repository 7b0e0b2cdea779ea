"""Start cards: made from a point or a run, kept in the file and in undo, following names, said where they fit no more."""

from __future__ import annotations

import io
import json

from tests.server.test_api import OnTheDemo
from vocanta.server import models, playing
from vocanta.server.refusals import Refused
from vocanta.server.session import Session

LIT = {"column": "state:palm_lamp", "value": 1, "named": "lit", "says": "Palm House lamp lit"}
KEYED = {"column": "item:copper_key", "value": 1, "named": "", "says": "has copper key"}
AT_TWO = {"column": "stage:dry_feet", "value": 1, "named": "open_sluice", "says": "Dry Feet at “Open the sluice”"}


class Cards(OnTheDemo):
    def add(self, name="By the wheel", **values):
        full = {"name": name, "in_level": "glasshouse", "x_m": 8.0, "y_m": 4.0, **values}
        return self.edit({"do": "add", "type": "card", "values": full})["rows"][0]

    def cards(self):
        """The cards as they are read, without those of the demo."""
        return self.client.get(f"{self.base}/cards").json()[3:]

    def held(self, key):
        return models.Card.objects.get(project_id=self.demo_id, key=key).holds

    def begun(self, card):
        """The situation of a run that begins from a card, in an engine of its own."""
        begun = playing.begin_run(self.demo_id, {"card": card})
        return Session(begun.first, io.StringIO()).run.situation, begun.left_out

    def test_a_run_begins_from_it(self):
        card = self.add(holds=[LIT, KEYED], facing_deg=180.0)
        here, left_out = self.begun(card["key"])
        self.assertEqual((here.value("state", "palm_lamp"), here.value("item", "copper_key"), left_out), (1, 1, ()))
        player = here.player
        self.assertEqual((here.level, player.x, player.y, player.facing_deg), ("glasshouse", 8.0, 4.0, 180.0))
        with self.assertRaises(Refused):
            playing.begin_run(self.demo_id, {"card": "nowhere"})

    def test_it_follows_the_names_of_things_states_and_stages(self):
        card = self.add(holds=[LIT, KEYED, AT_TWO])
        for key, kind, now in (("palm_lamp", "object", "great_lamp"), ("open_sluice", "stage", "turn_it")):
            self.edit({"do": "set", "id": self.row(key, kind)["id"], "key": now})
        lamp = self.row("lamp", "kind")
        self.edit({"do": "rename_state", "id": lamp["id"], "values": {"state": "lit", "to": "bright"}})
        self.set("dry_feet", name="Wet feet")
        found = [(h["column"], h["named"]) for h in self.held(card["key"])]
        self.assertEqual(
            found, [("state:great_lamp", "bright"), ("item:copper_key", ""), ("stage:wet_feet", "turn_it")]
        )
        (read,) = self.cards()
        self.assertEqual((read["left_out"], next(h["text"] for h in read["holds"])), ([], "Palm House lamp lit"))

    def test_what_it_notes_can_be_deleted_and_is_said_to_be_left_out(self):
        card = self.add(holds=[LIT, KEYED])
        lamp = self.row("palm_lamp")
        page = self.client.get(f"{self.base}/records/{lamp['id']}/page").json()
        self.assertNotIn(card["id"], [use["record"] for use in page["uses"]])
        self.edit({"do": "remove", "id": lamp["id"], "clean": True})
        (read,) = self.cards()
        self.assertEqual(read["left_out"], ["Palm House lamp lit"])
        self.assertEqual(
            [(h["text"], h["fits"]) for h in read["holds"]], [("Palm House lamp lit", False), ("has copper key", True)]
        )
        self.assertEqual(self.begun(card["key"])[1], ("Palm House lamp lit",))

    def test_it_is_in_the_file_and_in_undo(self):
        card = self.add(holds=[KEYED])
        file = self.client.get(f"{self.base}/file").content.decode()
        self.assertEqual([c["key"] for c in json.loads(file)["project"]["cards"]][3:], [card["key"]])
        self.send("post", "/undo", {"tab": "a"})
        self.assertEqual(self.cards(), [])

    def test_one_for_a_point_holds_what_is_assumed_there_before_an_object(self):
        point = self.client.get(f"{self.base}/cards/point?quest=dry_feet&stage=open_sluice&at=sluice_wheel").json()
        held = {h["column"]: (h["value"], h["named"]) for h in point["holds"]}
        self.assertEqual((held["stage:dry_feet"], held["item:copper_key"]), ((1, "open_sluice"), (1, "")))
        card = self.add(**{**point, "name": "At the wheel"})
        here, left_out = self.begun(card["key"])
        self.assertEqual((here.value("stage", "dry_feet"), left_out), (1, ()))
        self.assertEqual(self.client.get(f"{self.base}/cards/point?quest=nowhere").status_code, 404)

    def test_values_that_make_no_sense_are_refused(self):
        for wrong in ({"x_m": "far"}, {"digit": "12"}, {"holds": [{"value": 1}]}, {"holds": "all"}):
            full = {"name": "Wrong", "in_level": "glasshouse", **wrong}
            refused = self.edit({"do": "add", "type": "card", "values": full}, expect=422)
            self.assertTrue(refused["problems"][0]["fix"])
