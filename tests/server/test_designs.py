"""What an object is once its own values lie over its kind's design: told by the server, wherever rows are told."""

from __future__ import annotations

from tests.server.test_api import OnTheDemo
from vocanta.core.project.designs import resolved
from vocanta.core.project.records import Design
from vocanta.core.project.tree import plain
from vocanta.server import models, store


class Designs(OnTheDemo):
    def alike(self):
        """Two objects of one kind."""
        return [r for r in self.rows() if r["type"] == "object" and r["values"]["kind"] == "drying_rack"][:2]

    def kind_of(self, row):
        return self.row(row["values"]["kind"])

    def test_every_object_with_values_of_its_own_is_told_as_the_core_has_it_and_no_other(self):
        own = {
            "supply_crate_1": {"values.content": "copper_key", "reach.radius_m": 2.5},
            "rack_by_the_door": {
                "body": {"width_m": 1.0, "depth_m": 0.75},
                "body.depth_m": 0.25,
                "prompts.nothing.hold_s": 2.0,
            },
            "yard_bell": {"prompts.use.wording": "Strike it", "states": [{"key": "hung", "name": "hung"}]},
        }
        for key, values in own.items():
            self.set(key, own=values)
        project = store.core_project(models.Project.objects.get(pk=self.demo_id))
        kinds = {k.key: k for k in project.kinds}
        told = {r["key"]: r["design"] for r in self.rows() if r["type"] == "object"}
        for thing in (o for level in project.levels for o in level.objects):
            expected = plain(resolved(kinds[thing.kind], thing)) if thing.key in own else None
            self.assertEqual(told[thing.key], expected, thing.key)
        self.assertEqual(
            (told["rack_by_the_door"]["body"]["depth_m"], told["yard_bell"]["states"][0]["key"]), (0.25, "hung")
        )
        number = self.row("yard_bell")["id"]
        one = self.client.get(f"{self.base}/records/{number}").json()
        some = self.client.get(f"{self.base}/records?ids={number}").json()
        self.assertEqual([one["design"], some[0]["design"]], [told["yard_bell"]] * 2)

    def test_the_answer_to_an_edit_tells_it_and_going_back_tells_that_there_is_none(self):
        row, _ = self.alike()
        done = self.set(row["key"], own={"reach.radius_m": 2.75})
        (told,) = [r for r in done["rows"] if r["id"] == row["id"]]
        self.assertEqual(told["design"]["reach"]["radius_m"], 2.75)
        self.assertEqual(told["design"]["body"], self.kind_of(row)["values"]["design"]["body"])
        back = self.send("post", "/undo", {"tab": "a"}).json()
        self.assertEqual([r["design"] for r in back["rows"]], [row["design"]])

    def test_a_changed_kind_tells_what_became_of_its_objects_and_leaves_their_versions(self):
        row, other = self.alike()
        self.set(row["key"], own={"reach.radius_m": 2.75})
        before = self.row(row["key"])["version"]
        kind = self.kind_of(row)
        done = self.edit(
            {"do": "set_in_design", "id": kind["id"], "values": {"body.width_m": 1.25, "reach.radius_m": 3.5}}
        )
        told = {r["key"]: r for r in done["rows"]}
        self.assertNotIn(other["key"], told)
        self.assertEqual(told[row["key"]]["version"], before)
        shown = told[row["key"]]["design"]
        self.assertEqual((shown["body"]["width_m"], shown["reach"]["radius_m"]), (1.25, 2.75))
        changed = told[kind["key"]]["values"]["design"]
        self.assertEqual((changed["body"]["width_m"], changed["reach"]["radius_m"]), (1.25, 3.5))
        self.assertEqual(changed["prompts"], kind["values"]["design"]["prompts"])
        back = self.send("post", "/undo", {"tab": "a"}).json()
        (again,) = [r for r in back["rows"] if r["key"] == row["key"]]
        self.assertEqual(again["design"]["body"], kind["values"]["design"]["body"])

    def test_an_edit_asked_twice_tells_the_same_again(self):
        row, _ = self.alike()
        self.set(row["key"], own={"uses": 2})
        kind = self.kind_of(row)
        values = {"body.width_m": 1.25}
        change = {"do": "set_in_design", "id": kind["id"], "version": kind["version"], "values": values}
        asked = {"tab": "a", "ask": "x1", "changes": [change]}
        first, second = (self.send("post", "/edits", asked).json() for _ in range(2))
        self.assertEqual(first, second)
        self.assertIn(row["key"], [r["key"] for r in second["rows"]])

    def test_an_object_of_no_kind_lies_over_a_plain_design(self):
        row, _ = self.alike()
        self.set(row["key"], own={"body.width_m": 3.0})
        self.edit({"do": "remove", "id": self.kind_of(row)["id"], "clean": True})
        expected = plain(Design())
        expected["body"]["width_m"] = 3.0
        self.assertEqual(self.row(row["key"])["design"], expected)

    def test_a_path_to_nothing_and_a_wrong_value_are_refused_with_their_place_and_change_nothing(self):
        kind = self.kind_of(self.row("supply_crate_1"))
        for values, code, at in (
            ({"reach.radius": 2}, "path_to_nothing", "reach.radius"),
            ({"states.gone.lit": True}, "path_to_nothing", "states.gone.lit"),
            ({"reach.radius_m": "wide"}, "value", "reach/radius_m"),
        ):
            (problem,) = self.edit({"do": "set_in_design", "id": kind["id"], "values": values}, expect=422)["problems"]
            self.assertIn(code, problem["code"])
            self.assertIn(at, problem["path"])
        self.edit({"do": "set_in_design", "id": self.row("supply_crate_1")["id"], "values": {"uses": 1}}, expect=404)
        self.assertEqual(self.row(kind["key"]), kind)
