"""How often what is written can take effect, and how much of an item can be had against how much is asked for."""

from __future__ import annotations

import dataclasses
import unittest

from tests.core.small import STATES, USE, post, project
from tests.core.test_progress_against_plain import Side
from tests.seeds import taken
from vocanta.core.progress.balance import balances
from vocanta.core.progress.compiling import compiled
from vocanta.core.progress.often import Often
from vocanta.core.project.records import Conversation, Line, Objective, Prompt, Quest, Reply, Stage
from vocanta.demo import night_bloom


def copied(kind, thing):
    """A kind that has the cues of a thing of it."""
    return dataclasses.replace(kind, cues=thing.cues)


def of(small, key):
    return next(b for b in balances(compiled(small)) if b.key == key)


class HowOften(unittest.TestCase):
    """The bound of a cue that gives a nut, in each way in which it can end itself or not."""

    def had(self, *cues, more=(), quests=(), talks=(), **design):
        return of(project(post("oak", *cues, **design), *more, quests=quests, talks=talks), "nut").most

    def test_what_ends_itself_can_be_had_once_or_as_often_as_it_has_uses(self):
        gives = "when used\nthen\n  give nut"
        self.assertIsNone(self.had(gives))
        self.assertEqual(self.had(gives, uses=3), 3)
        self.assertEqual(self.had(f"{gives}\n  remove this"), 1)
        only_shut = (Prompt("p1", "Use", states=("shut",)),)
        self.assertEqual(self.had(f"{gives}\n  set this to ajar", prompts=only_shut), 1)
        self.assertEqual(self.had("when used\nonly if not wet\nthen\n  give 2 nut\n  set wet to yes"), 2)

    def test_what_something_else_brings_back_can_be_had_as_often_as_that(self):
        once = "when used\nonly if not wet\nthen\n  give nut\n  set wet to yes"
        dries = "when used\nthen\n  set wet to no"
        self.assertIsNone(self.had(once, more=(post("elm", dries),)))
        self.assertEqual(self.had(once, more=(post("elm", dries, uses=2),)), 3)
        self.assertIsNone(self.had("when used\nthen\n  give nut\n  set this to next", states=STATES[:2], prompts=USE))

    def test_what_comes_after_a_wait_may_never_come_and_a_refusal_may_come_always(self):
        self.assertIsNone(self.had("when used\nonly if not wet\nthen\n  give nut\n  wait 1 s\n  set wet to yes"))
        refused = "when used\nonly if wet or else set tally to 0\nthen\n  give pin"
        counted = "when used\nonly if tally at most 0\nthen\n  give nut\n  set tally to 1"
        self.assertIsNone(self.had(counted, more=(post("elm", refused),)))

    def test_what_is_put_there_again_begins_as_it_was(self):
        once = "when used\nonly if this is shut\nthen\n  give nut\n  set this to ajar"
        kind = copied(*post("crate", once, "when held\nthen\n  remove this"))
        puts = post("elm", "when used\nthen\n  put crate_kind at elm at most 1")
        small = dataclasses.replace(project(puts), kinds=(*project(puts).kinds, kind))
        self.assertIsNone(of(small, "nut").most)

    def test_what_listens_comes_as_often_as_what_it_listens_to(self):
        press = post("elm", "when used\nthen\n  set tally to 3", uses=2)
        self.assertEqual(self.had("when changed tally\nthen\n  give nut", more=(press,)), 2)
        quest = Quest("errand", "Errand", rewards="give 2 nut", times=3, stages=(Stage("one", "One"),))
        self.assertEqual(self.had(more=(post("elm", "when used\nthen\n  finish errand"),), quests=(quest,)), 6)

    def test_what_is_made_of_something_is_made_as_often_as_there_is_enough(self):
        rack = post("elm", "when used\nthen\n  give 3 nut", uses=2)
        press = post("ash", "when used\nthen\n  change 2 nut into 1 pin")
        small = project(rack, press)
        self.assertEqual((of(small, "nut").most, of(small, "pin").most), (6, 3))

    def test_a_reply_that_is_there_once_gives_once(self):
        reply = Reply("r1", ("A nut?",), repeat="once", steps="give nut", then="stays_here")
        talk = Conversation("chat", "Chat", "oak", (Line("hello", ("Hello.",), True, replies=(reply,)),))
        opens = "when used\nthen\n  open conversation chat"
        self.assertEqual(self.had(opens, talks=(talk,)), 1)

    def test_nothing_is_taken_more_often_than_the_bound_says_in_random_walks(self):
        seen = bounded = 0
        for seed in taken(80):
            side = Side(seed)
            bound = {b.key: b for b in balances(side.program)}
            columns = {"nut": "item:nut", "pin": "item:pin"}
            had = {key: side.row[side.program.table.number(c)] for key, c in columns.items()}
            for _ in range(60):
                side.sense()
                if side.plain.v["ended"]:
                    break
                before = list(side.row)
                side.act(side.drawn([a.name for a in side.program.actions if side.plain.is_open(a.name)]), False)
                for key, c in columns.items():
                    number = side.program.table.number(c)
                    had[key] += max(0, side.row[number] - before[number])
                    seen += side.row[number] > before[number]
            for key, number in had.items():
                most = bound[key].most
                bounded += most is not None
                self.assertTrue(most is None or number <= most, (seed, key, number, most))
        self.assertTrue(seen > 5 and bounded > 20, (seen, bounded))


class Balances(unittest.TestCase):
    def test_the_demo_by_hand(self):
        found = {b.key: (b.most, b.all_asked, b.too_few) for b in balances(compiled(night_bloom().project))}
        self.assertEqual(
            found,
            {
                "copper_key": (1, 1, 0),
                "field_book": (1, 0, 0),
                "dried_pods": (6, 3, 0),
                "seed_oil": (2, 1, 0),
                "pruning_hook": (1, 1, 0),
                "sealed_letter": (None, 1, 0),
                "moon_orchid": (1, 1, 0),
                "money": (None, 0, 0),
            },
        )

    def test_stages_one_after_the_other_add_up_and_ways_beside_one_another_do_not(self):
        def takes(number, stage, then):
            return f"when used\nonly if errand at {stage}\nthen\n  take {number} nut\n  {then}"

        stages = (Stage("one", "One"), Stage("two", "Two"))
        small = project(
            post("oak", takes(2, "one", "move errand to two")),
            post("elm", takes(1, "one", "move errand to two")),
            post("ash", takes(1, "two", "finish errand")),
            post("yew", "when used\nthen\n  give nut", uses=2),
            quests=(Quest("errand", "Errand", stages=stages),),
        )
        found = of(small, "nut")
        self.assertEqual((found.most, found.asked, found.all_asked, found.too_few), (2, {"errand": 3}, 3, 1))

    def test_an_objective_asks_for_what_it_counts_and_what_that_is_made_of(self):
        stage = Stage("one", "One", objectives=(Objective("o", "O", "have", ("pin",), 1),))
        press = post("ash", "when used\nthen\n  change 2 nut into 1 pin")
        small = project(press, quests=(Quest("errand", "Errand", stages=(stage,)),))
        self.assertEqual((of(small, "pin").asked, of(small, "nut").asked), ({"errand": 1}, {"errand": 2}))
        self.assertEqual((of(small, "nut").most, of(small, "nut").too_few), (0, 2))

    def test_each_copy_that_a_step_puts_gives_once_and_they_are_told_as_one(self):
        found = of(night_bloom().project, "dried_pods")
        told = [(share.origin, share.amount, share.times) for share in found.gives]
        self.assertIn(("kind/loose_pod/cue/c1", 1, 2), told)

    def test_a_copy_that_stays_gives_as_often_as_it_is_worked(self):
        spare = post("spare", "when used\nthen\n  give nut")
        puts = post("oak", "when used\nthen\n  put spare_kind at this", uses=1)
        gone = post("spare", "when used\nthen\n  give nut\n  remove this")
        for copy, most in ((spare, None), (gone, 1)):
            small = project(puts)
            self.assertEqual(of(dataclasses.replace(small, kinds=(*small.kinds, copied(*copy))), "nut").most, most)

    def test_every_branch_has_a_bound_or_none_and_asking_twice_is_the_same(self):
        program = compiled(night_bloom().project)
        one, other = Often(program), Often(program)
        backwards = [other.branch(b) for b in reversed(other.taken)]
        forwards = [one.branch(b) for b in one.taken]
        self.assertEqual([one.branch(b) for b in one.taken], forwards)
        self.assertEqual(len(backwards), len(forwards))
