"""What the engine does, the proof holds possible: the cases that were once told *never*, and random players on random floors."""

from __future__ import annotations

import dataclasses
import unittest

from tests.core.random_floors import played, random_floor
from tests.core.small import USE, area, post, project, thing
from tests.core.walked import walked
from tests.possible import Reachable, held
from tests.seeds import SOAKED, taken
from vocanta.core.engine.run import Run
from vocanta.core.progress.compiling import compiled
from vocanta.core.project.records import Body, Conversation, Cue, Line, Objective, Quest, Reach, Stage, State, Wall
from vocanta.core.proof.verdicts import begun
from vocanta.core.proof.wide import never, spread_whole
from vocanta.core.proving.proving import Proving

TICKS = 3_600 if SOAKED else 750
FIRST = Reach("circle", 1.5, priority=1)


def chat(talker):
    return Conversation("chat", "Chat", talker, (Line("hello", ("Hello there",), opener=True, steps="give nut"),))


def talking(**more):
    told = "when used\nthen\n  open conversation chat"
    one = thing("pip", told, x=12.0, y=5.0, prompts=USE, walks=True, reach=FIRST)
    return one[0], dataclasses.replace(one[1], **more)


def errand(*objectives):
    return Quest("errand", "Errand", stages=(Stage("go", "Go", then="done", objectives=objectives),))


def begun_at_once(small):
    first = small.levels[0]
    first = dataclasses.replace(first, cues=(Cue("c1", "when started\nthen\n  start errand"),))
    return dataclasses.replace(small, levels=(first, *small.levels[1:]))


def never_in(small):
    program = compiled(small)
    assert program.problems == (), program.problems
    return [(one.sort, one.name) for one in never(spread_whole(program, begun(program)))]


def can_be_done(small):
    return [p.verdict.answer for p in Proving(small).quests() if p.verdict.what == "can"]


class WhatWasOnceToldNever(unittest.TestCase):
    def test_somebody_who_is_put_where_another_stood_is_talked_to(self):
        bell = thing("bell", "when used\nthen\n  put pip where it stood", x=4.0, y=4.0, prompts=USE)
        small = project(bell, talking(there_at_start=False), talks=(chat("pip"),))
        w = walked(small, 4.0, 3.0).press().press().wait(10)
        self.assertEqual(w.value("item:nut"), 1)
        self.assertEqual(never_in(small), [])

    def test_a_carrier_from_another_level_is_talked_to_where_they_come_and_at_home(self):
        bell = post("bell", "when used\nthen\n  later by pip", "when later\nthen\n  give pin", x=4.0, y=4.0)
        quest = errand(Objective("tell", "Tell", "talk", ("pip",)), Objective("pin_got", "Pin", "have", ("pin",)))
        small = begun_at_once(project(bell, talking(), talks=(chat("pip"),), quests=(quest,)))
        self.assertEqual(never_in(small), [])
        self.assertEqual(can_be_done(small), ["yes"])

    def test_a_doorway_whose_first_state_does_not_block_is_walked_through_by_run_and_proof(self):
        states = (State("open", "open", blocks=False), State("shut", "shut"))
        arch = thing("arch", x=10.0, y=5.0, prompts=(), states=states, body=Body("box", 1.4, 1.4))
        lamp = post("lamp", "when used\nthen\n  give nut", x=16.0, y=5.0)
        quest = errand(Objective("there", "There", "go", ("east",)))
        small = begun_at_once(
            project(arch, lamp, quests=(quest,), areas=(area("west", 0, 0, 10, 10), area("east", 10, 0, 10, 10)))
        )
        walls = (Wall("low", ((10, 0), (10, 4.3))), Wall("high", ((10, 5.7), (10, 10))))
        small = dataclasses.replace(small, levels=(dataclasses.replace(small.levels[0], walls=walls, start_x_m=2.0),))
        w = walked(small, 8.0, 5.0).move(1.0, 0.0, 60)
        self.assertEqual(w.told("crossed"), ["Walked into East"])
        self.assertEqual(never_in(small), [])
        self.assertEqual(can_be_done(small), ["yes"])

    def test_a_flat_thing_that_never_blocks_leaves_a_small_zone_to_be_walked_into(self):
        rug = thing("rug", x=5.0, y=5.0, prompts=(), states=(State("flat", "flat", blocks=False), State("up", "up")))
        pad = post("pad", "when entered\nthen\n  give nut", x=5.0, y=5.0, prompts=())
        pad = pad[0], dataclasses.replace(pad[1], own={"reach.radius_m": 0.3})
        w = walked(project(rug, pad), 4.0, 5.0).move(1.0, 0.0, 12)
        self.assertEqual(w.value("item:nut"), 1)

    def test_what_hangs_on_how_chances_fall_at_the_beginning_is_not_told_never(self):
        quest = dataclasses.replace(errand(Objective("pin_got", "Pin", "have", ("pin",))), needs="chance one in 2")
        lamp = post("lamp", "when used\nthen\n  start errand\n  give pin", x=4.0, y=4.0)
        self.assertEqual(never_in(project(lamp, quests=(quest,))), [])
        self.assertNotIn("never", can_be_done(project(lamp, quests=(quest,))))


class EveryRun(unittest.TestCase):
    def test_of_a_random_player_on_a_random_floor_does_only_what_the_proof_holds_possible(self):
        for seed in taken(200):
            with self.subTest(seed):
                small = random_floor(seed)
                program = compiled(small)
                reachable = Reachable(program)
                run = Run(small, None, program)
                self.assertEqual(held(run, played(run, seed, TICKS), reachable if reachable.whole else None), [])
