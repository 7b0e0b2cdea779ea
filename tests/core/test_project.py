"""The project: its file, its names, own values laid over kinds."""

from __future__ import annotations

import dataclasses
import json
import unittest

import jsonschema

from tests.core.random_projects import random_project
from vocanta.core.cuetext.index import index_of, text_problems
from vocanta.core.cuetext.reading import read_cue
from vocanta.core.phrases.language import reserved
from vocanta.core.progress.compiling import compiled
from vocanta.core.project.assets import Package, folded, unfolded
from vocanta.core.project.designs import cues_in_order, cues_of, resolved
from vocanta.core.project.fileformat import dumps, json_schema, loads
from vocanta.core.project.names import free_key, key_from, key_problem
from vocanta.core.project.older import brought_up, brought_up_project
from vocanta.core.project.problems import ProjectError
from vocanta.core.project.records import Cue, Kind, Object, Project
from vocanta.core.project.starters import STARTERS
from vocanta.demo import PLACE, night_bloom


def demo() -> Project:
    return night_bloom().project


class TheFile(unittest.TestCase):
    def test_in_and_out_without_loss(self):
        for project in (demo(), *(random_project(seed) for seed in range(30))):
            self.assertEqual(loads(dumps(project)), project)
            self.assertEqual(dumps(loads(dumps(project))), dumps(project))

    def test_the_demo_holds_the_published_schema(self):
        jsonschema.validate(json.loads(dumps(demo())), json_schema())

    def test_the_published_schema_is_current(self):
        with open("docs/project-file.schema.json", encoding="utf-8") as published:
            self.assertEqual(json.load(published), json_schema())

    def test_what_cannot_be_read_says_what_where_and_how(self):
        good = json.loads(dumps(demo()))
        cases = {
            "{broken": "file_broken",
            json.dumps({"format": "another"}): "file_foreign",
            json.dumps({**good, "version": 99}): "file_version",
            json.dumps(
                {**good, "project": {**good["project"], "items": [{"key": "a", "name": "a", "limit": 0}]}}
            ): "value_unreadable",
            json.dumps(
                {**good, "project": {**good["project"], "items": [{"key": "when", "name": "a"}]}}
            ): "name_reserved",
            json.dumps(
                {**good, "project": {**good["project"], "facts": [{"key": "copper_key", "name": "a"}]}}
            ): "name_taken",
        }
        for text, code in cases.items():
            with self.assertRaises(ProjectError) as caught:
                loads(text)
            problem = caught.exception.problems[0]
            self.assertEqual(problem.code, code, text[:80])
            self.assertTrue(problem.message and problem.fix)

    def test_all_problems_are_told_not_the_first_alone(self):
        data = json.loads(dumps(demo()))
        data["project"]["items"][0]["limit"] = 0
        data["project"]["levels"][0]["objects"][0]["x_m"] = "far"
        with self.assertRaises(ProjectError) as caught:
            loads(json.dumps(data))
        self.assertEqual(len(caught.exception.problems), 2)


class Packages(unittest.TestCase):
    def test_a_package_folds_and_unfolds_without_loss_to_the_same_bytes(self):
        package = night_bloom()
        self.assertEqual(len(package.assets), 12)
        self.assertEqual(unfolded(folded(package)), package)
        self.assertEqual(folded(unfolded(folded(package))), folded(package))

    def test_assets_that_are_missing_or_not_what_they_say_are_told(self):
        package = night_bloom()
        first, *others = sorted(package.assets)
        missing = Package(package.project, {n: package.assets[n] for n in others})
        changed = Package(package.project, {**package.assets, first: b"other"})
        cases = {folded(missing): "asset_missing", folded(changed): "asset_wrong", b"PK nonsense": "file_broken"}
        for data, code in cases.items():
            with self.assertRaises(ProjectError) as caught:
                unfolded(data)
            self.assertEqual([p.code for p in caught.exception.problems], [code])

    def test_the_demo_on_disk_is_in_canonical_form(self):
        text = (PLACE / "night_bloom" / "project.json").read_text(encoding="utf-8")
        self.assertEqual(dumps(loads(text)), text)


class Names(unittest.TestCase):
    def test_keys_made_from_names_are_keys(self):
        for name in ("Mr Quill’s lámp (old)", "4 lamps", "when", "", "—", "Straße", "日本"):
            self.assertIsNone(key_problem(key_from(name)), name)

    def test_words_of_the_language_are_reserved(self):
        for word in reserved():
            self.assertEqual(getattr(key_problem(word), "code", None), "name_reserved")

    def test_a_free_key_is_not_taken(self):
        self.assertEqual(free_key("lamp", {"lamp", "lamp_2"}), "lamp_3")
        self.assertEqual(free_key("lamp_2", {"lamp_2"}), "lamp_3")


class OwnValues(unittest.TestCase):
    def test_a_value_of_its_own_lies_over_the_kinds(self):
        kind = STARTERS[1].kind
        thing = Object("d", "D", kind.key, 0.0, 0.0, own={"states.open.swing_deg": -95.0, "reach.radius_m": 2.5})
        design = resolved(kind, thing)
        self.assertEqual([s.swing_deg for s in design.states], [0.0, -95.0])
        self.assertEqual(design.reach.radius_m, 2.5)
        self.assertEqual(design.body, kind.design.body)

    def test_a_path_that_is_gone_is_left_out_and_a_wrong_value_told(self):
        kind = STARTERS[1].kind
        gone = Object("d", "D", kind.key, 0.0, 0.0, own={"states.ajar.swing_deg": 4.0})
        self.assertEqual(resolved(kind, gone), kind.design)
        with self.assertRaises(ProjectError):
            resolved(kind, Object("d", "D", kind.key, 0.0, 0.0, own={"reach.radius_m": -1}))


class Starters(unittest.TestCase):
    def test_every_starter_compiles_and_offers_what_it_says(self):
        base = random_project(1)
        for starter in STARTERS:
            given = {name: "k" if v == "?kind" else "nut" for name, v in starter.kind.design.values.items()}
            design = dataclasses.replace(starter.kind.design, values=given)
            kind = Kind("k", starter.kind.name, starter.kind.key, design, starter.kind.cues)
            thing = Object("it", "It", "k", 0.0, 0.0)
            level = dataclasses.replace(base.levels[0], objects=(thing,))
            project = dataclasses.replace(base, kinds=(kind,), levels=(level,), quests=(), conversations=())
            program = compiled(project)
            self.assertEqual(program.problems, (), starter.kind.key)
            uses = [a for a in program.actions if a.kind in ("use", "choose") and a.subject == "it"]
            buttons = sum(len(p.buttons) for p in starter.kind.design.prompts)
            silent = starter.talks or not starter.kind.design.prompts
            self.assertEqual(len(uses), 0 if silent else buttons or 1, starter.kind.key)

    def test_copies_have_the_values_and_states_of_their_kind(self):
        spawner = next(s.kind for s in STARTERS if s.kind.key == "spawner")
        kind = dataclasses.replace(spawner, key="k")
        level = dataclasses.replace(
            random_project(1).levels[0], objects=(Object("it", "It", "k", 0.0, 0.0, own={"values.makes": "k"}),)
        )
        project = dataclasses.replace(
            random_project(1), kinds=(kind,), levels=(level,), quests=(), conversations=(), named_needs=()
        )
        problems = compiled(project).problems
        self.assertEqual([p.code for p in problems], ["cue_hole"], "what eight copies would put, told once")
        self.assertEqual(problems[0].fix, "Choose its makes.")

    def test_an_empty_content_is_a_hole_not_a_fault(self):
        index = index_of(random_project(1))
        self.assertEqual(
            [p.code for p in text_problems(read_cue("when used then give its content"), index, "oak")],
            ["value_unknown"],
        )


class OlderFiles(unittest.TestCase):
    """What earlier versions wrote is read as it is called now."""

    def test_where_a_quest_was_handed_in_is_said_by_its_last_stage(self):
        stages = [{"key": "one", "then": ""}, {"key": "two", "then": ""}]
        for handed_in, then in (("odile", "ready"), ("", "")):
            brought = brought_up_project({"quests": [{"key": "q", "handed_in": handed_in, "stages": stages}]})
            (quest,) = brought["quests"]
            self.assertEqual(({"key", "stages"}, ["", then]), (quest.keys(), [s["then"] for s in quest["stages"]]))
        self.assertEqual({"key": "q"}, brought_up("quest", {"key": "q", "handed_in": "odile"}))

    def test_a_reply_was_worded_in_one_way(self):
        self.assertEqual({"key": "r", "wordings": ["Yes."]}, brought_up("reply", {"key": "r", "wording": "Yes."}))


class CuesInOrder(unittest.TestCase):
    def test_a_cue_that_replaces_one_of_its_kind_stands_in_its_place_and_nowhere_else(self):
        kind = Kind("box", "box", cues=(Cue("a"), Cue("b")))
        thing = Object("crate", "Crate", "box", 1.0, 1.0, cues=(Cue("own"), Cue("a")), cues_off=("b",))
        places = ["object/crate/cue/a", "kind/box/cue/b", "object/crate/cue/own"]
        self.assertEqual(places, [place for _, place in cues_in_order(kind, thing)])
        self.assertEqual([places[0], places[2]], [place for _, place in cues_of(kind, thing)])


if __name__ == "__main__":
    unittest.main()
