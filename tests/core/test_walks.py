"""Kept walks: what a player does is written down by what was meant, followed wherever things stand by now, and compared."""

from __future__ import annotations

import dataclasses
import io
import json
import unittest
from pathlib import Path
from tempfile import TemporaryDirectory

from junitparser import JUnitXml

from tests.core.small import project, thing
from tests.core.test_project import demo
from vocanta.cli import main
from vocanta.core.engine.beginning import Start
from vocanta.core.engine.inputs import Input
from vocanta.core.engine.run import Run
from vocanta.core.progress.compiling import compiled
from vocanta.core.project.fileformat import dumps, loads
from vocanta.core.project.keeping import Came, Card, Deed, Held, Walk
from vocanta.core.project.records import Conversation, Line, Reply
from vocanta.core.walks.comparing import could_come_to, not_come_to, parting
from vocanta.core.walks.following import Follower, Stuck
from vocanta.core.walks.recording import Recorder
from vocanta.core.walks.rewalking import walked_again

AT_THE_START = Card("here", "Here", "level", 10.0, 5.0, 0.0)


def lever(x: float = 4.0, y: float = 2.0, text: str = "when used then set this to wide"):
    return thing("lever", text, x=x, y=y)


def recorded(of, *inputs: Input, start: Start | None = None) -> Recorder:
    """A run of these inputs, one a tick, written down."""
    run = Run(of, start or Start(10.0, 5.0, 0.0, level="level"))
    recorder = Recorder(run)
    for given in inputs:
        recorder.note(given, run.tick(given))
    return recorder


def kept(recorder: Recorder, *comes_to: str, begins: Card = AT_THE_START) -> Walk:
    """A walk kept of a run, held to the values that columns of these names have come to."""
    wanted = tuple(h for h in could_come_to(recorder.run) if h.column in comes_to)
    assert len(wanted) == len(comes_to), [h.column for h in could_come_to(recorder.run)]
    ticks = recorder.run.situation.tick
    parts = recorder.deeds(), tuple(recorder.came), wanted, tuple(recorder.pressed)
    return Walk("walk", "To the lever", begins, 0, ticks, *parts)


def to_the_lever() -> list[Input]:
    """Walk up to it, use it, wait a second."""
    return [Input(walk_to=(4.0, 3.0)), *[Input()] * 80, Input(down=("use",)), Input(up=("use",)), *[Input()] * 30]


def in_the_yard(*things):
    """A small project whose level has a name that a file may have."""
    of = project(*things)
    return dataclasses.replace(of, first_level="yard", levels=(dataclasses.replace(of.levels[0], key="yard"),))


def again(walk: Walk, of):
    return walked_again(walk, of, compiled(of))


class WrittenDown(unittest.TestCase):
    def test_what_was_done_is_a_way_a_use_at_the_object_and_a_wait(self):
        deeds = recorded(project(lever()), *to_the_lever()).deeds()
        self.assertEqual([d.do for d in deeds], ["go", "wait", "use", "wait"])
        way, _, use, wait = deeds
        self.assertEqual((way.level, round(way.x_m, 1), round(way.y_m, 1)), ("level", 4.0, 3.0))
        self.assertEqual((use.at, use.what, round(use.off_x_m, 1), round(use.off_y_m, 1)), ("lever", "use", 0.0, 1.0))
        self.assertEqual(wait.seconds, 1.03, "the tick of letting go and thirty more")

    def test_a_hold_let_go_too_soon_is_written_down_as_long_as_it_was(self):
        of = project(thing("lever", "when held then set this to wide", x=4.0))
        start = Start(4.0, 3.0, -90.0, level="level")
        held = recorded(of, Input(down=("second",)), *[Input()] * 5, Input(up=("second",)), Input(), start=start)
        (hold,) = held.deeds()
        self.assertEqual((hold.do, hold.came, hold.seconds), ("hold", False, 0.2))

    def test_what_something_came_to_is_told_by_name_and_what_only_passes_is_not(self):
        came = recorded(project(lever()), *to_the_lever()).came
        self.assertEqual([(c.what, c.subject, c.detail) for c in came], [("state", "lever", "wide")])
        self.assertEqual((round(came[0].x_m, 1), round(came[0].y_m, 1)), (4.0, 3.0))


class WalkedAgain(unittest.TestCase):
    def setUp(self):
        self.walk = kept(recorded(project(lever()), *to_the_lever()), "state:lever")

    def test_in_the_same_project_it_is_pressed_the_same_and_comes_to_the_same(self):
        outcome = again(self.walk, project(lever()))
        self.assertEqual((outcome.same, outcome.how, outcome.ticks), (True, "as pressed", 113))

    def test_an_object_moved_by_metres_is_walked_to_where_it_is_now(self):
        outcome = again(self.walk, project(lever(x=15.0, y=7.0)))
        self.assertEqual((outcome.same, outcome.how, outcome.parting), (True, "as meant", None))
        self.assertEqual([(round(c.x_m, 1), round(c.y_m, 1)) for c in outcome.now.came], [(15.0, 8.0)])

    def test_one_that_is_refused_now_parts_ways_there_and_says_why(self):
        outcome = again(self.walk, project(lever(text="when used only if has nut then set this to wide")))
        self.assertEqual((outcome.same, outcome.stuck), (False, ""))
        self.assertEqual(outcome.parting.now.says, "Not met: needs nut, has 0")
        self.assertEqual(outcome.parting.was.says, "Lever set to wide")
        self.assertEqual([h.says for h in outcome.missing], ["Lever wide"])

    def test_one_whose_object_is_gone_says_so_and_is_walked_as_far_as_it_goes(self):
        outcome = again(self.walk, project(thing("other", x=4.0)))
        self.assertEqual((outcome.same, outcome.stuck), (False, "lever is not there any more"))
        self.assertEqual(len(outcome.now.deeds), 2)

    def test_held_to_what_it_comes_to_now_it_is_the_same_again(self):
        changed = project(lever(text="when used then set this to ajar"))
        outcome = again(self.walk, changed)
        self.assertFalse(outcome.same)
        self.assertTrue(again(outcome.now, changed).same)

    def test_a_reply_is_chosen_by_its_words_wherever_it_stands(self):
        def talk(*replies):
            line = Line("hello", ("Hello.",), True, replies=replies)
            return project(
                lever(text="when used then open conversation chat"),
                talks=(Conversation("chat", "Chat", lines=(line,)),),
            )

        yes, no = (Reply(k, (w,), steps=f"set wet to {w.lower()}") for k, w in (("r1", "Yes"), ("r2", "No")))
        of = talk(yes, no)
        said = kept(recorded(of, *to_the_lever(), Input(choose="r1"), Input()), "fact:wet")
        turned = talk(Reply("r1", ("No",), steps="set wet to no"), Reply("r2", ("Yes",), steps="set wet to yes"))
        outcome = again(said, turned)
        self.assertEqual((outcome.same, outcome.how), (True, "as meant"))


class BegunOtherwise(unittest.TestCase):
    def test_one_whose_beginning_does_not_fit_any_more_is_not_as_it_was_pressed_and_says_what(self):
        begins = dataclasses.replace(AT_THE_START, holds=(Held("item:nut", 1, says="has nut"),))
        of = project(lever())
        walk = kept(recorded(of, *to_the_lever()), "state:lever", begins=begins)
        self.assertEqual("as pressed", walked_again(walk, of, compiled(of)).how)
        poorer = dataclasses.replace(of, items=())
        again = walked_again(walk, poorer, compiled(poorer))
        self.assertEqual(("as meant", 1), (again.how, len(again.left_out)))


class Compared(unittest.TestCase):
    def test_the_first_difference_is_found_whatever_the_time_and_the_words(self):
        was = [Came(10, "item", "nut", "1", "+1 nut"), Came(20, "state", "lever", "wide", "Lever set to wide")]
        now = [Came(12, "item", "nut", "1", "a nut"), Came(25, "state", "lever", "ajar", "Lever set to ajar")]
        self.assertIsNone(parting(was, [dataclasses.replace(c, tick=99, says="?") for c in was]))
        self.assertEqual((parting(was, now).was.tick, parting(was, now).now.tick), (20, 25))
        self.assertEqual((parting(was, was[:1]).was.tick, parting(was, was[:1]).now), (20, None))

    def test_more_of_what_is_counted_is_as_good_and_another_state_is_not(self):
        run = Run(project(lever()), Start(puts=(("item:nut", 2), ("state:lever", 1))))
        wanted = [Held("item:nut", 1), Held("item:nut", 3), Held("state:lever", 2, "wide"), Held("said:hello", 1)]
        self.assertEqual(not_come_to(run, wanted), wanted[1:])


class Followed(unittest.TestCase):
    def test_who_cannot_get_there_is_stuck_and_told_why(self):
        run = Run(project(lever(x=30.0)), Start(10.0, 5.0, 0.0, level="level"))
        with self.assertRaises(Stuck) as stuck:
            for given in Follower(run, [Deed("use", "lever", "use", level="level")]).inputs():
                run.tick(given)
        self.assertEqual(stuck.exception.deed, 0)
        self.assertIn("out of reach", str(stuck.exception))


class TheDemo(unittest.TestCase):
    def test_its_kept_walks_lead_to_each_of_its_ends_and_come_to_them_again(self):
        of = demo()
        program = compiled(of)
        ends = {}
        for walk in of.walks:
            outcome = walked_again(walk, of, program)
            self.assertEqual((outcome.same, outcome.how, outcome.left_out), (True, "as pressed", ()), walk.name)
            ends[walk.key] = {h.says for h in walk.comes_to}
        self.assertIn("the level won", ends["walk_to_the_ending"])
        self.assertIn("A Word for the Owner failed", ends["walk_to_the_warden"])
        self.assertIn("The Night Bloom done", ends["walk_to_the_warden"])
        self.assertEqual(len(ends), 4)

    def test_a_crate_moved_by_a_metre_breaks_none_of_them(self):
        of = demo()
        level = of.levels[0]
        moved = tuple(
            dataclasses.replace(o, x_m=o.x_m + 1.0) if o.key == "supply_crate_1" else o for o in level.objects
        )
        of = dataclasses.replace(of, levels=(dataclasses.replace(level, objects=moved), *of.levels[1:]))
        outcome = again(of.walks[0], of)
        self.assertEqual((outcome.same, outcome.how), (True, "as meant"))


class AtTheCommandLine(unittest.TestCase):
    def walk(self, of, *more: str):
        with TemporaryDirectory() as place:
            file = Path(place, "project.json")
            file.write_text(dumps(of), encoding="utf-8")
            out, err = io.StringIO(), io.StringIO()
            code = main(["walk", str(file), *more], out, err)
            return code, out.getvalue().replace(str(file), "FILE"), err.getvalue().replace(str(file), "FILE")

    def setUp(self):
        run = recorded(in_the_yard(lever()), *to_the_lever(), start=Start(10.0, 5.0, 0.0, level="yard"))
        walk = kept(run, "state:lever", begins=dataclasses.replace(AT_THE_START, in_level="yard"))
        self.whole = dataclasses.replace(in_the_yard(lever()), walks=(walk,))
        changed = in_the_yard(lever(text="when used then set this to ajar"))
        self.broken = dataclasses.replace(changed, walks=(walk,))

    def test_walks_that_come_to_their_ends_end_with_0(self):
        said = "same   To the lever: same end\n1 of 1 kept walk of FILE comes to the same end.\n"
        self.assertEqual(self.walk(self.whole), (0, said, ""))
        self.assertEqual(loads(dumps(self.whole)), self.whole)

    def test_one_that_parts_ways_ends_with_1_and_says_where(self):
        code, said, _ = self.walk(self.broken)
        self.assertEqual(code, 1)
        self.assertIn("PARTS  To the lever: parts ways at 00:0", said)
        self.assertIn("Lever set to ajar, where it was: Lever set to wide", said)
        self.assertIn("was to come to: Lever wide", said)

    def test_for_other_programs_it_says_the_same(self):
        whole = json.loads(self.walk(self.broken, "--format", "json")[1])
        self.assertEqual(whole["counts"], {"same": 0, "parted": 1})
        self.assertEqual(whole["walks"][0]["parting"]["was"]["says"], "Lever set to wide")
        (suite,) = JUnitXml.fromstring(self.walk(self.broken, "--format", "junit")[1].encode())
        (case,) = suite
        self.assertEqual((suite.tests, suite.failures, case.name, len(case.result)), (1, 1, "To the lever", 1))

    def test_asked_wrongly_it_ends_with_2_and_says_what_there_is(self):
        code, said, wrong = self.walk(self.whole, "--only", "wlk")
        self.assertEqual((code, said), (2, ""))
        self.assertEqual(wrong, "vocanta walk: FILE: There is no kept walk “wlk”. There are: walk.\n")
        err = io.StringIO()
        self.assertEqual(main(["walk", "nowhere.json"], io.StringIO(), err), 2)
        self.assertIn("nowhere.json cannot be read: no such file or directory", err.getvalue())
