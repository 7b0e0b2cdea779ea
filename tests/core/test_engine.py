"""A run: what the player meets, tick by tick, and that it is the same every time."""

from __future__ import annotations

import dataclasses
import json
import random
import subprocess
import sys
import unittest

from scripts.replays import made_otherwise
from tests.core.test_project import demo
from tests.core.walked import Walked
from vocanta.core.engine.beginning import Start
from vocanta.core.engine.inputs import Input, read_input
from vocanta.core.engine.marking import Marker, stands
from vocanta.core.engine.picture import Painter
from vocanta.core.engine.run import Run, replayed
from vocanta.core.engine.why import explained
from vocanta.core.progress.as_if import as_if
from vocanta.core.progress.compiling import compiled
from vocanta.core.progress.threads import Touching
from vocanta.core.project.problems import ProjectError
from vocanta.core.project.records import Cue, Fact


class PromptsAndRefusals(unittest.TestCase):
    def test_a_prompt_comes_with_reach_and_goes_with_it(self):
        w = Walked("yard_bell")
        self.assertEqual([p.wording for p in w.run.here.prompts.live.values()], ["Ring the bell"])
        w.go(8.0, 2.0)
        self.assertEqual(w.run.here.prompts.live, {})
        self.assertEqual((len(w.told("near")), len(w.told("away"))), (1, 1))

    def test_an_unusable_prompt_is_dimmed_with_the_reason_and_says_it_when_pressed(self):
        w = Walked("sluice_wheel")
        prompt = w.run.here.prompts.live["second"]
        self.assertEqual((prompt.usable, prompt.reason), (False, "The wheel will not move without its key."))
        w.press("second", 40)
        self.assertEqual(w.told("notice"), ["“The wheel will not move without its key.”"])
        self.assertEqual(w.value("state:sluice_wheel"), 0)

    def test_why_names_the_need_that_stops_it_and_what_provides_it(self):
        why = explained(Walked("sluice_wheel").run, "sluice_wheel")
        self.assertEqual(why["stopped_by"], "needs copper key, has 0")
        needs = why["cues"][0]["needs"]
        self.assertEqual((needs[0]["met"], needs[0]["detail"]), (False, "has 0 of at most 1"))
        self.assertIn("Odile’s field book", [f["text"] for f in needs[0]["from"]])

    def test_why_speaks_of_place_facing_and_unknown_things(self):
        run = Run(demo())
        self.assertEqual(explained(run, "sluice_wheel")["stopped_by"][:13], "out of reach,")
        self.assertEqual(explained(run, "nobody")["stopped_by"], "nothing has that name")

    def test_the_warden_raises_no_prompt_and_no_near(self):
        w = Walked().wait(1500)
        self.assertGreater(abs(w.run.here.mover.walkers[w.run.situation.scene.number["mr_quill"]].y - 13.0), 0.5)
        self.assertEqual(w.told("near"), [])


class HoldsAndMotion(unittest.TestCase):
    def held(self, ticks: int) -> Walked:
        chosen = as_if(compiled(demo()), demo(), "dry_feet", "open_sluice")
        w = Walked("sluice_wheel", puts=[(a.column, a.value) for a in chosen.assumed])
        return w.press("second", ticks)

    def test_a_hold_takes_its_second_and_letting_go_breaks_it(self):
        self.assertEqual(self.held(27).value("state:sluice_wheel"), 0)
        self.assertEqual(self.held(27).told("hold_broken"), ["Let go of Sluice wheel"])
        self.assertEqual(self.held(30).value("state:sluice_wheel"), 1)

    def test_wait_for_it_goes_on_at_arrival_not_before(self):
        w = self.held(30).wait(50)
        self.assertEqual((w.value("moving:sluice_wheel") > 0, w.value("fact:east_wing_dry")), (True, 0))
        w.wait(20)
        self.assertEqual((w.value("moving:sluice_wheel"), w.value("fact:east_wing_dry")), (0, 1))
        self.assertEqual(w.run.situation.words.stage("dry_feet", "report_back"), "Report back")
        self.assertEqual(w.value("stage:dry_feet"), 2)

    def test_a_door_used_while_it_moves_turns_back_from_where_it_is(self):
        w = Walked("east_wing_door", puts=[("fact:east_wing_dry", 1)])
        number = w.run.situation.scene.number["east_wing_door"]
        w.press("use", 12)
        before = w.run.here.mover.pose(number).swing_deg
        w.run.tick(Input(down=("use",)))
        turned = w.run.here.mover.pose(number).swing_deg
        self.assertTrue(0 < before < 80 and abs(turned - before) < 8, (before, turned))
        self.assertEqual(w.value("state:east_wing_door"), 0)
        w.wait(20)
        self.assertEqual(w.run.here.mover.pose(number).swing_deg, 0.0)

    def test_the_way_is_blocked_until_the_door_has_opened(self):
        w = Walked("east_wing_door", puts=[("fact:east_wing_dry", 1)])
        shut = w.run.here.mover.ways(0.35).way((w.run.situation.player.x, w.run.situation.player.y), (24.0, 13.4))
        self.assertIsNone(shut)
        w.press("use").wait(60)
        opened = w.run.here.mover.ways(0.35).way((w.run.situation.player.x, w.run.situation.player.y), (24.0, 13.4))
        self.assertEqual(opened[-1], (24.0, 13.4))

    def test_a_door_does_not_shut_on_whoever_stands_in_it(self):
        w = Walked("east_wing_door", puts=[("fact:east_wing_dry", 1), ("state:east_wing_door", 1)])
        w.go(20.6, 13.3)
        w.press("use")
        self.assertEqual(w.told("refused"), ["Refused at East wing door: somebody is in the way"])
        self.assertEqual(w.value("state:east_wing_door"), 1)


class Talking(unittest.TestCase):
    def test_the_talk_moves_the_quest_and_walking_off_ends_it(self):
        w = Walked("odile_marr").press("use")
        self.assertEqual(
            w.run.talk.speech.wording, "You are the new one. Can you swim? No? Then be quick about the sluice."
        )
        self.assertEqual(w.run.here.prompts.live, {})
        w.run.tick(Input(choose="r1"))
        self.assertEqual(w.run.situation.words.project.quests[0].stages[w.value("stage:dry_feet")].key, "find_key")
        w.go(12.0, 9.0)
        self.assertIsNone(w.run.talk.speech)

    def test_wordings_in_turn_and_the_last_stays(self):
        w = Walked("odile_marr", puts=[("status:dry_feet", 3)])
        said = []
        for _ in range(4):
            w.press("use")
            said.append(w.run.talk.speech.wording)
            w.run.tick(Input(skip=True))
        self.assertEqual(
            said,
            [
                "The key? Look in the shed.",
                "Under something heavy.",
                "Under something with my name on it.",
                "Under something with my name on it.",
            ],
        )

    def test_the_reward_is_given_once_at_hand_in(self):
        chosen = as_if(compiled(demo()), demo(), "dry_feet", "report_back")
        w = Walked("odile_marr", puts=[(a.column, a.value) for a in chosen.assumed]).press("use")
        w.run.tick(Input(choose="r1"))
        self.assertEqual((w.value("money"), w.value("experience"), w.value("ability_uses:long_reach")), (40, 120, 3))
        w.run.tick(Input(skip=True))
        w.press("use")
        self.assertTrue(w.run.talk.speech.wording.startswith("It opens tonight."))
        self.assertEqual(w.value("money"), 40)


class SafeAgainstMistakes(unittest.TestCase):
    def test_cues_that_chase_each_other_are_named_and_the_run_goes_on(self):
        project = demo()
        level = project.levels[0]
        chase = tuple(
            Cue(f"x{i}", f"when {m} gate_yard\nthen\n  move dry_feet to {s}")
            for i, (m, s) in enumerate([("left", "find_key")])
        )
        stages = tuple(
            dataclasses.replace(
                s,
                then="report_back" if s.key == "find_key" else "find_key",
                objectives=(dataclasses.replace(s.objectives[0], type="fact", targets=("always",), count=1),),
            )
            for s in project.quests[0].stages[:1] + project.quests[0].stages[2:]
        )
        quest = dataclasses.replace(project.quests[0], stages=stages)
        areas = tuple(dataclasses.replace(a, cues=chase if a.key == "gate_yard" else ()) for a in level.areas)
        kinds = tuple(
            dataclasses.replace(k, cues=(Cue("q", "when used\nthen\n  start dry_feet"),) if k.key == "bell" else k.cues)
            for k in project.kinds
        )
        project = dataclasses.replace(
            project,
            quests=(quest,),
            conversations=(),
            facts=(*project.facts, Fact("always", "Always", at_start=1)),
            kinds=kinds,
            levels=(dataclasses.replace(level, areas=areas, objects=level.objects[:5]),),
        )
        w = Walked("yard_bell", project)
        w.press("use")
        self.assertEqual(len(w.told("fault")), 1)
        self.assertIn("advance:dry_feet", w.told("fault")[0])
        self.assertEqual(w.value("status:dry_feet"), 1)
        w.press("use")
        self.assertEqual(len(w.told("fault")), 1)
        self.assertEqual(w.run.situation.tick, 6)

    def test_input_that_makes_no_sense_is_refused_with_every_part(self):
        with self.assertRaises(ProjectError) as caught:
            read_input({"move": [1], "down": ["fly"], "look": "up", "jump": 1}, frozenset({"use"}))
        self.assertEqual(sorted(p.path for p in caught.exception.problems), ["down", "jump", "look", "move"])
        for nonsense in (None, [], 4, "x"):
            with self.assertRaises(ProjectError):
                read_input(nonsense, frozenset())
        self.assertEqual(read_input({"move": [0, 1]}, frozenset()), Input(move=(0.0, 1.0)))
        self.assertEqual(read_input({}, frozenset()), Input())

    def test_twenty_controls_go_down_at_once_and_no_more(self):
        keys = [f"c{i}" for i in range(21)]
        self.assertEqual(read_input({"down": keys[:20]}, frozenset(keys)).down, tuple(keys[:20]))
        with self.assertRaises(ProjectError):
            read_input({"down": keys}, frozenset(keys))


class AsIfAndThreads(unittest.TestCase):
    def test_a_bead_gives_a_plausible_row_and_says_what_it_assumes(self):
        program, project = compiled(demo()), demo()
        assumed = {a.column: a.value for a in as_if(program, project, "dry_feet", "report_back").assumed}
        self.assertEqual(assumed["stage:dry_feet"], 2)
        self.assertEqual(
            (assumed["item:copper_key"], assumed["state:sluice_wheel"], assumed["fact:east_wing_dry"]), (1, 1, 1)
        )
        earlier = [o.key for stage in project.quests[0].stages[:2] for o in stage.objectives if not o.optional]
        self.assertEqual({assumed[f"met:{key}"] for key in earlier}, {1})
        changed = as_if(program, project, "dry_feet", "open_sluice", (("item:copper_key", 0),))
        self.assertNotIn("item:copper_key", [a.column for a in changed.assumed])
        with self.assertRaises(KeyError):
            as_if(program, project, "dry_feet", "nowhere")

    def test_the_three_lists_of_a_stage(self):
        touching, quest = Touching(compiled(demo())), demo().quests[0]
        brings = touching.brings_here(quest, 2)
        self.assertEqual(
            [(t.origin, t.from_stages) for t in brings], [("object/sluice_wheel/cue/c1", ("open_sluice",))]
        )
        self.assertEqual(
            [t.origin.rsplit("/", 1)[1] for t in touching.becomes_possible(quest, 1)], ["c1", "is_it_running"]
        )
        self.assertEqual([t.origin.rsplit("/", 1)[1] for t in touching.stops_being_possible(quest, 1)], ["the_key"])


def random_inputs(seed: int, count: int) -> list[Input]:
    r = random.Random(seed)
    found = []
    move = (0.0, 0.0)
    for number in range(count):
        if number % 20 == 0:
            move = (r.uniform(-1, 1), r.uniform(-1, 1)) if r.random() < 0.4 else (0.0, 0.0)
        down = (r.choice(["use", "second"]),) if r.random() < 0.2 else ()
        found.append(
            Input(
                move=move,
                down=down,
                up=("use", "second") if r.random() < 0.3 else (),
                choose=r.choice(["", "r1", "r2"]),
                skip=r.random() < 0.1,
                walk_to=r.choice([(11.3, 12.8), (5.4, 10.2), (3.4, 16.9), (19.5, 13.0)])
                if number % 100 == 20
                else None,
            )
        )
    return found


def trace(seed: int) -> str:
    """Everything a screen would be shown in a run of random inputs, as text."""
    run = Run(demo())
    painter = Painter(run)
    pictures = [painter.first()]
    for given in random_inputs(seed, 500):
        pictures.append(painter.next(run.tick(given)))
    return json.dumps([pictures, run.situation.row])


class TheSameEveryTime(unittest.TestCase):
    def test_a_run_is_the_same_byte_for_byte_in_another_process(self):
        code = "from tests.core.test_engine import trace; import sys; sys.stdout.write(trace(1))"
        other = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True).stdout
        self.assertTrue(other == trace(1), "the two traces differ")
        self.assertTrue('"what": "line"' in other, "nobody was talked to")

    def test_a_run_that_comes_to_other_bytes_when_it_is_replayed_is_named(self):
        run = replayed(demo(), Start(), random_inputs(4, 40))
        marker = Marker()
        marker.note(run.chronicle)
        marks = marker.mark(stands(run.situation)), "0" * 64
        told = [("this one", demo(), Start(), random_inputs(4, 40), mark) for mark in marks]
        says = "a run of this one came to something else when it was replayed: 40 ticks"
        self.assertEqual(list(made_otherwise(told)), [says])

    def test_a_replay_ends_in_the_same_row_and_chronicle(self):
        inputs = random_inputs(3, 600)
        a, b = replayed(demo(), Start(), inputs), replayed(demo(), Start(), inputs)
        self.assertEqual(
            (a.situation.row, a.chronicle, a.situation.player), (b.situation.row, b.chronicle, b.situation.player)
        )

    def test_near_and_away_alternate_whatever_the_player_does(self):
        for seed in range(6):
            run = replayed(demo(), Start(), random_inputs(seed, 700))
            last = {}
            for e in run.chronicle:
                if e.what in ("near", "away"):
                    self.assertNotEqual(last.get(e.subject, "away"), e.what, (seed, e))
                    last[e.subject] = e.what


if __name__ == "__main__":
    unittest.main()
