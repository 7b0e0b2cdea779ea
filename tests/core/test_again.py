"""Starting again from a moment of a run: what it had come to holds, also in a later state of the project."""

from __future__ import annotations

import dataclasses
import json
import math
import unittest

from tests.core.random_floors import played, random_floor
from tests.core.small import DOWN, project, thing, two_levels
from tests.core.test_engine import random_inputs
from tests.core.walked import STILL, Walked, walked
from tests.seeds import taken
from vocanta.core.engine.again import as_data, card_of, fitted, from_data, reached
from vocanta.core.progress.as_if import PASSING
from vocanta.core.progress.compiling import compiled
from vocanta.core.progress.layout import STATUS
from vocanta.core.project.fileformat import adapter_of
from vocanta.core.project.records import Body
from vocanta.core.project.tree import plain


def come_to(walk):
    """What a walk has come to, as a start card."""
    here = walk.run.situation
    return card_of(here, reached(walk.run), "spot", "Spot")


def again(walk, later=None):
    """The run that starts where a walk has come to, and what was left out; by way of files."""
    later = later or walk.project
    card = adapter_of("card").validate_python(json.loads(json.dumps(plain(come_to(walk)))))
    program = walk.run.situation.program if later is walk.project else compiled(later)
    fits = fitted(card, later, program, 7)
    start = from_data(json.loads(json.dumps(as_data(fits.start))))
    return Walked(project=later, start=start, program=program), list(fits.left_out)


def lasting(run):
    """The columns of a run whose values differ from the beginning, those of progress alone."""
    here = run.situation
    pairs = zip(here.program.columns, here.row, strict=True)
    return {c.name: v for c, v in pairs if v != c.start and c.belongs == "progress" and c.what not in PASSING}


def with_level(whole, **changes):
    """A project with its first level changed."""
    return dataclasses.replace(whole, levels=(dataclasses.replace(whole.levels[0], **changes), *whole.levels[1:]))


def without(whole, key):
    """A project without one object of its first level."""
    return with_level(whole, objects=tuple(o for o in whole.levels[0].objects if o.key != key))


class Again(unittest.TestCase):
    def setUp(self):
        self.walk = Walked(at="palm_lamp").press()
        self.walk.wait(40)

    def test_what_was_done_holds_where_one_stood(self):
        self.assertEqual(self.walk.value("state:palm_lamp"), 1)
        there, left_out = again(self.walk)
        self.assertEqual(left_out, [])
        self.assertEqual(lasting(there.run), lasting(self.walk.run))
        old, new = self.walk.run.situation, there.run.situation
        self.assertEqual((new.level, new.player.x, new.player.y), (old.level, old.player.x, old.player.y))

    def test_whatever_was_come_to_on_random_walks_holds(self):
        for seed, at in enumerate(("palm_lamp", "sluice_wheel", "odile_marr", "supply_crate_1")):
            walk = Walked(at=at)
            for given in random_inputs(seed, 400):
                walk.run.tick(given)
            there, left_out = again(walk)
            self.assertEqual((lasting(there.run), left_out), (lasting(walk.run), []), at)
            there.wait(3)

    def test_a_quest_stands_where_it_stood(self):
        walk = Walked(puts=(("status:dry_feet", STATUS["active"]), ("stage:dry_feet", 1), ("item:copper_key", 1)))
        there, _ = again(walk.wait(3))
        told = there.value("status:dry_feet"), there.value("stage:dry_feet"), there.value("item:copper_key")
        self.assertEqual(told, (STATUS["active"], 1, 1))

    def test_a_stage_is_found_by_its_name_when_another_was_put_before_it(self):
        walk = Walked(puts=(("status:dry_feet", STATUS["active"]), ("stage:dry_feet", 1))).wait(3)
        quest = next(q for q in walk.project.quests if q.key == "dry_feet")
        wanted = quest.stages[1].key
        more = dataclasses.replace(quest.stages[0], key="brand_new", name="Brand new", objectives=(), entering="")
        quests = tuple(
            dataclasses.replace(q, stages=(more, *q.stages)) if q is quest else q for q in walk.project.quests
        )
        there, _ = again(walk, dataclasses.replace(walk.project, quests=quests))
        stages = there.run.situation.layout.quests["dry_feet"].stages
        self.assertEqual(stages[there.value("stage:dry_feet")].key, wanted)

    def test_what_is_no_longer_there_is_left_out_and_said(self):
        there, left_out = again(self.walk, without(self.walk.project, "palm_lamp"))
        self.assertEqual(left_out, ["Palm House lamp lit"])
        self.assertIsNone(there.run.situation.layout.find("state", "palm_lamp"))

    def test_who_would_stand_in_what_was_put_there_stands_beside_it_and_is_told(self):
        player = self.walk.run.situation.player
        level = self.walk.project.levels[0]
        crate = next(o for o in level.objects if o.key == "odd_crate_1")
        crate = dataclasses.replace(crate, key="new_crate", x_m=player.x, y_m=player.y)
        there, left_out = again(self.walk, with_level(self.walk.project, objects=(*level.objects, crate)))
        now = there.run.situation.player
        beside = math.dist((now.x, now.y), (player.x, player.y))
        self.assertEqual(left_out, [f"the very spot, where nobody can stand now: it begins {beside:.1f} m beside it"])
        self.assertTrue(0.3 < beside < 3.0, beside)

    def test_a_level_that_is_gone_begins_at_the_start_of_another(self):
        second = self.walk.project.levels[1]
        later = dataclasses.replace(self.walk.project, levels=(second,), first_level=second.key)
        there, left_out = again(self.walk, later)
        self.assertIn(f"the level, which is gone: it begins at the start of {second.name}", left_out)
        self.assertEqual(there.run.situation.level, second.key)

    def test_a_value_that_goes_less_far_now_goes_as_far_as_it_can(self):
        walk = Walked(puts=(("item:dried_pods", 5),)).wait(2)
        items = tuple(dataclasses.replace(i, limit=2) if i.key == "dried_pods" else i for i in walk.project.items)
        there, left_out = again(walk, dataclasses.replace(walk.project, items=items))
        self.assertEqual(there.value("item:dried_pods"), 2)
        self.assertEqual(left_out, ["has 5 dried pods, which goes no further than 2 now"])

    def test_what_was_left_of_a_time_limit_is_left(self):
        begun = (("status:lamps_before_dusk", STATUS["active"]), ("limit:four_lamps", 1))
        walk = Walked(puts=begun).wait(300)
        there, _ = again(walk)
        column = walk.run.situation.program.table.number("limit:four_lamps")
        self.assertEqual(walk.run.clocks.left_of(column), 170.0)
        self.assertEqual(there.run.clocks.left_of(column), 170.0)

    def test_what_was_moved_lies_where_it_lay(self):
        a, b = thing("a", "when used then swap this and b"), thing("b", x=12.0, y=5.0)
        walk = walked(project(a, b)).press()
        self.assertEqual(walk.place("a")[1:], (12.0, 5.0))
        there, left_out = again(walk)
        self.assertEqual((there.place("a"), there.place("b"), left_out), (walk.place("a"), walk.place("b"), []))
        there.wait(5)


def parted(walk, other, ticks):
    """At which tick, if at any, two runs part that are given the same: the columns that differ, and what either is told."""
    for given in range(ticks):
        told = [[(e.what, e.subject, e.text) for e in w.run.tick(STILL)] for w in (walk, other)]
        here, there = walk.run.situation, other.run.situation
        pairs = zip(here.program.columns, here.row, there.row, strict=True)
        differ = [(c.name, a, b) for c, a, b in pairs if a != b]
        if differ or told[0] != told[1]:
            return given, differ, told
    return None


class GoneOn(unittest.TestCase):
    """A run from a card taken in the middle of another goes on as that other does, whatever was under way."""

    def goes_on(self, walk, ticks=200):
        """Hold a walk to the one begun from its card; what the player walks to and holds is input, not kept."""
        there, left_out = again(walk)
        here, other = walk.run.situation, there.run.situation
        here.player.way = []
        other.tick, other.seed, other.actions = here.tick, here.seed, here.actions
        other.row[:] = [
            a if c.what == "chance" else b for c, a, b in zip(here.program.columns, here.row, other.row, strict=True)
        ]
        if any("the very spot" in said for said in left_out):
            return False  # Something was put where the player stands.
        self.assertIn(left_out, ([], ["that the level was over"]))
        self.assertEqual(there.run.chronicle, [])
        differ = [(c.name, a, b) for c, a, b in zip(here.program.columns, here.row, other.row, strict=True) if a != b]
        self.assertEqual([d for d in differ if d[0] != "ended"], [])
        self.assertIsNone(parted(walk, there, 0 if differ else ticks))
        return True

    def test_wherever_a_random_run_stands(self):
        held = 0
        for seed in taken(48):
            walk = Walked(project=random_floor(seed))
            for tick, given in enumerate(played(walk.run, seed, 600)):
                walk.run.tick(given)
                if tick % 200 == 199 and not walk.run.holds.by_control:
                    with self.subTest(seed=seed, tick=tick):
                        held += self.goes_on(walk)
        self.assertGreater(held, 10)

    def test_what_is_read_once_at_the_start_is_read_once(self):
        walk = walked(project(thing("a", "when started\nthen\n  give nut")))
        taken_away = dataclasses.replace(come_to(walk), holds=())
        there = Walked(project=walk.project, start=fitted(taken_away, walk.project, walk.run.situation.program).start)
        self.assertEqual((walk.value("item:nut"), there.wait(5).value("item:nut")), (1, 0))

    def test_what_is_under_way_goes_on(self):
        texts = ("when near\nthen\n  later after 3 s\n  wait 2 s\n  give nut", "when later\nthen\n  give pin")
        walk = walked(project(thing("a", *texts))).wait(20)
        self.assertTrue(self.goes_on(walk, 120))
        self.assertEqual((walk.value("item:nut"), walk.value("item:pin")), (1, 1))

    def test_whoever_brings_something_is_met_on_the_way(self):
        pip = thing("pip", x=18.0, y=5.0, walks=True, speed_mps=2.0, body=Body("circle", 0.5, 0.5))
        desk = thing("desk", "when near\nthen\n  later by pip", "when later\nthen\n  give nut")
        walk = walked(project(desk, pip)).wait(20)
        there, _ = again(walk)
        self.assertLess(there.run.places.place_of("pip").x, 17.5)
        self.assertTrue(self.goes_on(walk, 400))
        self.assertEqual(walk.value("item:nut"), 1)

    def test_the_player_comes_back_where_one_would_have_come_back(self):
        hurts = thing("hurts", "when used\nthen\n  down player", x=5.0, y=5.0)
        whole = two_levels(thing("a"), lower=(hurts,), exits=(DOWN,))
        walk = Walked(project=whole).go(5.0, 1.0)
        self.assertEqual(walk.run.situation.level, "below")
        there, _ = again(walk.wait(5))
        for one in (walk, there):
            one.go(4.4, 5.0).press()
        player = there.run.situation.player
        self.assertEqual((player.x, player.y), (4.0, 4.0))
        self.assertEqual(walk.run.situation.player.x, 4.0)


if __name__ == "__main__":
    unittest.main()
