"""The rules by example: each expected value is worked out by hand from the rule it names."""

from __future__ import annotations

import unittest

import numpy as np

from tests.core.small import Situation, project, thing
from vocanta.core.phrases.vocabulary import STATUSES
from vocanta.core.progress.walking import Walk
from vocanta.core.project.records import Conversation, Line, Motion, Objective, Prompt, Quest, Reply, Stage, State


class CuesOfOneMoment(unittest.TestCase):
    def test_the_first_whose_needs_hold_runs_and_no_other(self):
        s = Situation(
            project(
                thing(
                    "oak",
                    'when used only if wet then say "one"',
                    'when used then say "two"',
                    'when used then say "three"',
                )
            )
        )
        s.use("oak")
        self.assertEqual(s.notices(), ["two"])

    def test_and_go_on_lets_the_next_be_read_on_the_row_as_it_is_by_then(self):
        s = Situation(
            project(thing("oak", "when used then set wet to yes and go on", 'when used only if wet then say "wet now"'))
        )
        s.use("oak")
        self.assertEqual(s.notices(), ["wet now"])

    def test_without_a_fitting_cue_the_or_else_of_the_first_unmet_need_of_the_first_cue_is_done(self):
        first = 'when used only if has nut or else say "no nut" and wet or else say "dry" then say "done" otherwise say "otherwise"'
        s = Situation(project(thing("oak", first, 'when used only if has pin or else say "never" then say "x"')))
        s.use("oak")
        self.assertEqual(s.notices(), ["no nut"])
        s.put("item:nut", 1)
        s.use("oak")
        self.assertEqual(s.notices(), ["dry"])

    def test_an_unmet_need_without_words_of_its_own_leaves_it_to_otherwise(self):
        s = Situation(
            project(thing("oak", 'when used only if has nut and wet or else say "dry" then otherwise say "otherwise"'))
        )
        s.use("oak")
        self.assertEqual(s.notices(), ["otherwise"])

    def test_a_refused_first_segment_is_no_use_and_nothing_further_is_read(self):
        s = Situation(
            project(
                thing(
                    "oak", 'when used then say "begun" take nut set wet to yes', 'when used then say "second"', uses=2
                )
            )
        )
        self.assertFalse(s.use("oak"))
        self.assertEqual((s.notices(), s.kinds_told(), s["fact:wet"], s["uses:oak"]), ([], ["refused"], 0, 2))

    def test_uses_are_counted_down_and_the_last_closes_it(self):
        s = Situation(project(thing("oak", "when used then add 1 to tally", uses=2)))
        self.assertEqual([s.use("oak") for _ in range(3)], [True, True, False])
        self.assertEqual((s["fact:tally"], s["uses:oak"]), (2, 0))

    def test_kind_cues_stand_before_the_objects_own(self):
        import dataclasses

        from vocanta.core.project.records import Cue

        kind, oak = thing("oak", 'when used then say "own"')
        kind = dataclasses.replace(kind, cues=(Cue("k", 'when used only if wet then say "kind"'),))
        s = Situation(project((kind, oak)))
        s.use("oak")
        self.assertEqual(s.notices(), ["own"])
        s.put("fact:wet", 1)
        s.use("oak")
        self.assertEqual(s.notices(), ["kind"])


class SegmentsAndWaits(unittest.TestCase):
    def test_a_cue_waits_in_a_column_and_goes_on_by_an_action(self):
        s = Situation(
            project(thing("oak", "when used then set wet to yes wait 2 s add 1 to tally wait 1 s add 1 to tally"))
        )
        s.use("oak")
        waits = "waits:oak/object/oak/cue/c1"
        self.assertEqual((s[waits], s["fact:wet"], s["fact:tally"]), (1, 1, 0))
        resume = "resume:oak/object/oak/cue/c1/"
        self.assertEqual([n for n in s.open_names() if n.startswith("resume")], [resume + "1"])
        s.act(resume + "1")
        self.assertEqual((s[waits], s["fact:tally"]), (2, 1))
        s.act(resume + "2")
        self.assertEqual((s[waits], s["fact:tally"]), (0, 2))

    def test_a_cue_under_way_lets_its_moment_pass_told(self):
        s = Situation(project(thing("oak", 'when used then say "once" wait 2 s', 'when used then say "instead"')))
        s.use("oak")
        self.assertFalse(s.use("oak"))
        self.assertEqual((s.kinds_told(), s.notices()), (["under_way"], []))

    def test_a_later_segment_that_is_refused_ends_the_cue(self):
        s = Situation(project(thing("oak", "when used then wait 1 s set wet to yes take nut wait 1 s add 1 to tally")))
        s.use("oak")
        s.act("resume:oak/object/oak/cue/c1/1")
        self.assertEqual((s["waits:oak/object/oak/cue/c1"], s["fact:wet"], s.kinds_told()), (0, 0, ["refused"]))

    def test_wait_for_it_ends_told_when_the_motion_is_turned_back(self):
        s = Situation(
            project(thing("oak", "when used then set this to ajar wait for it set wet to yes", motion=Motion(2.0)))
        )
        s.use("oak")
        self.assertEqual((s["state:oak"], s["moving:oak"]), (1, 1))
        s.use("oak")
        self.assertEqual((s["state:oak"], s["moving:oak"], s["waits:oak/object/oak/cue/c1"]), (0, 2, 0))
        self.assertIn("wait_ended", s.kinds_told())
        s.act("arrive:oak")
        self.assertEqual([n for n in s.open_names() if n.startswith("resume")], [])
        self.assertEqual(s["fact:wet"], 0)

    def test_ignored_while_moving_and_free_again_at_arrival(self):
        s = Situation(
            project(thing("oak", "when used then set this to next", motion=Motion(1.0, while_moving="ignored")))
        )
        self.assertEqual([s.use("oak"), s.use("oak")], [True, False])
        s.act("arrive:oak")
        self.assertTrue(s.use("oak"))
        self.assertEqual(s["state:oak"], 2)

    def test_stay_clear_refuses_the_whole_segment(self):
        s = Situation(
            project(thing("oak", "when used then give nut set this to ajar", motion=Motion(1.0, stay_clear=True)))
        )
        s.put("in_way:oak", 1)
        self.assertFalse(s.use("oak"))
        self.assertEqual((s["item:nut"], s["state:oak"]), (0, 0))


class HavingAndCounting(unittest.TestCase):
    def test_facts_and_money_clamp_a_give_that_does_not_fit_is_refused(self):
        s = Situation(
            project(
                thing(
                    "oak",
                    "when used then add 9 to tally give 5 money take 7 money and go on",
                    "when used then give 4 nut",
                )
            )
        )
        s.use("oak")
        self.assertEqual((s["fact:tally"], s["money"], s["item:nut"]), (0, 0, 0))
        s = Situation(
            project(thing("oak", "when used then add 9 to tally add -2 to tally add -50 to money give 3 nut"))
        )
        self.assertTrue(s.use("oak"))
        self.assertEqual((s["fact:tally"], s["money"], s["item:nut"]), (2, 0, 3))
        self.assertFalse(s.use("oak"))
        self.assertEqual(s["item:nut"], 3)

    def test_next_of_several_goes_round_and_from_outside_to_the_first(self):
        s = Situation(
            project(
                thing(
                    "oak",
                    "when used then set this to next of wide, shut",
                    states=(State("shut", "s"), State("ajar", "a"), State("wide", "w")),
                )
            )
        )
        seen = []
        for _ in range(3):
            s.use("oak")
            seen.append(s["state:oak"])
        self.assertEqual(seen, [2, 0, 2])
        s.put("state:oak", 1)
        s.use("oak")
        self.assertEqual(s["state:oak"], 2)

    def test_removal_counts_at_once_and_gives_exactly_one_away(self):
        s = Situation(
            project(
                thing("oak", "when used then remove this remove this", 'when away then say "gone"'),
                thing("elm", 'when used only if oak is gone then say "alone"'),
            )
        )
        s.walk_to("oak")
        s.use("oak")
        self.assertEqual((s["exists:oak"], s["near:oak"], s.notices()), (0, 0, ["gone"]))
        self.assertNotIn("go_away:oak", s.open_names())
        self.assertFalse(s.use("oak"))
        s.use("elm")
        self.assertEqual(s.notices(), ["alone"])

    def test_a_state_without_reach_sends_away_in_the_same_change(self):
        states = (State("shut", "shut"), State("ajar", "ajar", reach_on=False))
        s = Situation(
            project(thing("oak", "when used then set this to ajar", 'when away then say "off"', states=states))
        )
        s.walk_to("oak")
        s.use("oak")
        self.assertEqual((s["near:oak"], s.notices()), (0, ["off"]))

    def test_a_prompt_for_some_states_offers_nothing_in_others(self):
        prompts = (Prompt("p1", "Open", states=("shut",)),)
        s = Situation(project(thing("oak", "when used then set this to ajar", prompts=prompts)))
        self.assertTrue(s.use("oak"))
        self.assertFalse(s.use("oak"))
        self.assertNotIn("used:oak/use", s.open_names())


def errand(*stages: Stage, **how) -> Quest:
    return Quest("errand", "Errand", stages=stages, **how)


HAVE = Objective("get", "get", "have", ("nut",), 2)


class Quests(unittest.TestCase):
    def levers(self, **texts: str):
        return tuple(thing(key, f"when used then {text}") for key, text in texts.items())

    def test_statuses_allow_what_the_table_says_and_nothing_else(self):
        verbs = ["offer", "start", "decline", "hand_in", "give_up", "finish", "fail"]
        expected = {
            1: {"offer": 2, "start": 3},
            2: {"start": 3, "decline": 1, "fail": 7},
            3: {"give_up": 1, "finish": 5, "fail": 7},
            4: {"hand_in": 5, "give_up": 1, "finish": 5, "fail": 7},
            5: {},
            6: {},
            7: {},
            0: {},
        }
        levers = self.levers(**{f"do_{v}": f"{v.replace('_', ' ')} errand" for v in verbs})
        for status, allowed in expected.items():
            for verb in verbs:
                s = Situation(project(*levers, quests=(errand(Stage("one", "One", objectives=(HAVE,))),)))
                s.put("status:errand", status)
                s.use(f"do_{verb}")
                self.assertEqual(s["status:errand"], allowed.get(verb, status), (status, verb))
                self.assertEqual("not_allowed" in s.kinds_told(), verb not in allowed, (status, verb))

    def test_for_good_by_the_step_or_by_the_quest(self):
        one = Stage("one", "One")
        s = Situation(
            project(
                *self.levers(no="decline errand for good", stop="give up errand"),
                quests=(errand(one, give_up="for_good"),),
            )
        )
        s.put("status:errand", 2)
        s.use("no")
        self.assertEqual(s["status:errand"], 6)
        s.put("status:errand", 3)
        s.use("stop")
        self.assertEqual(s["status:errand"], 7)

    def test_before_at_past_and_between_by_status_and_stage(self):
        stages = tuple(Stage(k, k) for k in ("seek", "find", "tell"))
        needs = {
            "a": "errand before find",
            "b": "errand at find",
            "c": "errand past find",
            "d": "errand between find and tell",
        }
        things = tuple(thing(k, f'when used only if {text} then say "{k}"') for k, text in needs.items())
        s = Situation(project(*things, quests=(errand(*stages),)))
        rows = {
            (1, 0): "a",
            (2, 0): "a",
            (3, 0): "a",
            (3, 1): "bd",
            (4, 1): "bd",
            (3, 2): "cd",
            (5, 2): "c",
            (6, 0): "",
            (7, 1): "",
            (0, 0): "a",
        }
        for (status, stage), expected in rows.items():
            s.put("status:errand", status)
            s.put("stage:errand", stage)
            held = "".join(k for k in needs if s.use(k))
            self.assertEqual(held, expected, (status, stage))

    def test_a_live_objective_follows_what_it_reads_both_ways_and_readiness_with_it(self):
        s = Situation(
            project(
                *self.levers(give="give nut", take="take nut", go="start errand"),
                quests=(errand(Stage("one", "One", then="ready", objectives=(HAVE,))),),
            )
        )
        s.use("give")
        s.use("go")
        self.assertEqual((s["met:get"], s["status:errand"]), (0, 3))
        s.use("give")
        self.assertEqual((s["met:get"], s["status:errand"]), (1, 4))
        s.use("take")
        self.assertEqual((s["met:get"], s["status:errand"]), (0, 3))

    def test_early_work_counts_for_live_objectives_not_for_counted_ones(self):
        stages = (
            Stage("one", "One", then="two", objectives=(HAVE,)),
            Stage("two", "Two", then="done", objectives=(Objective("work", "work", "use", ("give",), 1),)),
        )
        s = Situation(project(*self.levers(give="give nut", go="start errand"), quests=(errand(*stages),)))
        s.use("give")
        s.use("give")
        s.use("go")
        self.assertEqual((s["stage:errand"], s["met:work"], s["status:errand"]), (1, 0, 3))
        s.use("give")
        self.assertEqual(s["status:errand"], 5)

    def test_several_targets_count_once_each(self):
        work = Objective("work", "work", "use", ("a", "b"), 2)
        s = Situation(
            project(
                *self.levers(a="add 1 to tally", b="add 1 to tally", go="start errand"),
                quests=(errand(Stage("one", "One", then="done", objectives=(work,))),),
            )
        )
        s.use("go")
        s.use("a")
        s.use("a")
        self.assertEqual((s["count:work"], s["met:work"]), (1, 0))
        s.use("b")
        self.assertEqual((s["count:work"], s["status:errand"]), (2, 5))

    def test_n_of_the_named_objects_in_a_state(self):
        ajar = Objective("two_ajar", "two", "state", ("a", "b", "c"), 2, "ajar")
        levers = self.levers(a="set this to ajar", b="set this to ajar", c="set this to ajar", go="start errand")
        s = Situation(project(*levers, quests=(errand(Stage("one", "One", then="done", objectives=(ajar,))),)))
        s.use("a")
        s.use("go")
        self.assertEqual(s["status:errand"], 3)
        s.use("c")
        self.assertEqual(s["status:errand"], 5)

    def test_entry_steps_run_at_each_entry_and_objectives_start_over(self):
        stages = (
            Stage("one", "One", entering="add 1 to tally", objectives=(Objective("hand", "hand"),)),
            Stage("two", "Two"),
        )
        s = Situation(
            project(
                *self.levers(go="start errand", on="move errand to two", back="move errand to one", met="meet hand"),
                quests=(errand(*stages),),
            )
        )
        for lever in ("go", "met", "on", "back"):
            s.use(lever)
        self.assertEqual((s["fact:tally"], s["met:hand"], s["stage:errand"]), (2, 0, 0))

    def test_optional_objectives_do_not_hold_a_stage_up(self):
        stage = Stage(
            "one", "One", then="done", objectives=(HAVE, Objective("extra", "extra", "fact", ("wet",), optional=True))
        )
        s = Situation(project(*self.levers(give="give 2 nut", go="start errand"), quests=(errand(stage),)))
        s.use("go")
        s.use("give")
        self.assertEqual((s["status:errand"], s["met:extra"]), (5, 0))

    def test_rewards_are_given_once_and_give_what_fits(self):
        s = Situation(
            project(
                *self.levers(go="start errand", end="finish errand"),
                quests=(errand(Stage("one", "One"), rewards="give 9 nut\ngrant leap for 2 uses\ngive 40 money"),),
            )
        )
        s.use("go")
        s.use("end")
        self.assertEqual((s["item:nut"], s["ability:leap"], s["ability_uses:leap"], s["money"]), (3, 1, 2, 40))
        s.put("status:errand", 3)
        s.use("end")
        self.assertEqual(s["money"], 40)

    def test_a_quest_becomes_available_when_its_needs_hold(self):
        s = Situation(
            project(
                *self.levers(rain="set wet to yes", go="start errand"),
                quests=(errand(Stage("one", "One"), needs="wet"),),
            )
        )
        s.use("go")
        self.assertEqual(s["status:errand"], 0)
        s.use("rain")
        self.assertEqual(s["status:errand"], 1)
        s.use("go")
        self.assertEqual(s["status:errand"], 3)


class Conversations(unittest.TestCase):
    def situation(self, *lines: Line, other: tuple[Line, ...] = (), more: str = "open conversation chat"):
        talks = (Conversation("chat", "Chat", "oak", lines), Conversation("gossip", "Gossip", "elm", other))
        things = (
            thing("oak", f"when used then {more}"),
            thing("elm", "when near then open conversation gossip", x=8.0),
            thing("ash", "when near then open conversation gossip", x=14.0),
        )
        return Situation(project(*things, talks=talks))

    def test_the_first_opener_whose_needs_hold_is_said(self):
        s = self.situation(
            Line("wet_line", ("wet",), True, needs="wet"),
            Line("dry_line", ("dry",), True),
            Line("late", ("late",), True),
        )
        s.use("oak")
        self.assertEqual(s["talk"], 2)
        self.assertNotIn("used:oak/use", s.open_names())

    def test_once_only_and_nothing_left_to_say(self):
        s = self.situation(Line("first", ("a",), True, repeat="once"))
        s.use("oak")
        s.act("voice:first")
        s.use("oak")
        self.assertEqual((s["talk"], s.kinds_told()), (0, ["nothing_to_say"]))

    def test_replies_lead_on_stay_or_end(self):
        lines = (
            Line(
                "ask",
                ("?",),
                True,
                replies=(
                    Reply("go", ("go",), then="next"),
                    Reply("hm", ("hm",), steps="add 1 to tally", then="stays_here"),
                    Reply("no", ("no",)),
                ),
            ),
            Line("next", ("!",)),
        )
        s = self.situation(*lines)
        s.use("oak")
        s.act("reply:ask/hm")
        self.assertEqual((s["talk"], s["fact:tally"]), (1, 1))
        self.assertNotIn("voice:ask", s.open_names())
        s.act("reply:ask/go")
        self.assertEqual(s["talk"], 2)
        s.act("voice:next")
        self.assertEqual(s["talk"], 0)

    def test_a_reply_whose_steps_are_refused_stays_on_its_line(self):
        s = self.situation(
            Line(
                "ask", ("?",), True, replies=(Reply("pay", ("pay",), steps="set wet to yes\ntake nut", then="thanks"),)
            ),
            Line("thanks", ("!",)),
        )
        s.use("oak")
        self.assertFalse(s.act("reply:ask/pay"))
        self.assertEqual((s["talk"], s["fact:wet"]), (1, 0))

    def test_without_a_choosable_reply_the_talk_ends_with_the_voice(self):
        s = self.situation(Line("ask", ("?",), True, replies=(Reply("pay", ("pay",), needs="has nut"),), then="ask"))
        s.use("oak")
        s.act("voice:ask")
        self.assertEqual(s["talk"], 0)

    def test_a_second_conversation_waits_and_reads_its_openers_when_it_begins(self):
        other = (Line("wet_news", ("w",), True, needs="wet"), Line("old_news", ("o",), True))
        s = self.situation(Line("long", ("…",), True, steps="set wet to yes"), other=other)
        s.use("oak")
        s.walk_to("elm")
        self.assertEqual((s["talk"], s["talk_waiting"]), (1, 2))
        s.act("voice:long")
        self.assertEqual((s["talk"], s["talk_waiting"]), (2, 0))

    def test_a_third_conversation_is_refused(self):
        s = self.situation(Line("long", ("…",), True), other=(Line("news", ("n",), True),))
        s.use("oak")
        s.walk_to("elm")
        s.walk_off("elm")
        s.walk_to("ash")
        self.assertEqual((s["talk"], s["talk_waiting"]), (1, 2))
        self.assertIn("refused", s.kinds_told())


class Waiting(unittest.TestCase):
    def test_being_sent_where_it_goes_already_ends_no_wait(self):
        opens = "when used\nthen\n  set this to wide\n  wait for it\n  give nut"
        oak = thing("oak", opens, motion=Motion(1.0))
        s = Situation(project(oak, thing("elm", "when used\nthen\n  set oak to wide")))
        s.use("oak")
        s.use("elm")
        self.assertNotIn("wait_ended", s.kinds_told())
        s.act("arrive:oak")
        s.act("resume:oak/object/oak/cue/c1/1")
        self.assertEqual(s["item:nut"], 1)


class Limits(unittest.TestCase):
    def test_nobody_has_more_than_999_999_of_money(self):
        s = Situation(project(thing("oak", "when used\nthen\n  give 5 money")))
        s.row[s.program.table.number("money")] = 999_996
        s.use("oak")
        self.assertEqual(s["money"], 999_999)

    def test_a_level_of_experience_is_held_at_its_very_border(self):
        small = project(thing("oak", "when used\nonly if experience_level at most 2\nthen\n  give nut"))
        third = small.experience_levels[1]
        for experience, nuts in ((third - 1, 1), (third, 0)):
            s = Situation(small)
            s.row[s.program.table.number("experience")] = experience
            s.use("oak")
            self.assertEqual(s["item:nut"], nuts, experience)


class ManyRows(unittest.TestCase):
    def test_what_a_refused_segment_would_have_set_off_is_set_off_on_no_row_of_many(self):
        """Beside a row that can pay, one that cannot: nothing of its segment stands, and nobody heard of it."""
        oak = thing("oak", "when used\nthen\n  set wet to yes\n  take nut", "when changed wet\nthen\n  give pin")
        s = Situation(project(oak))
        rows = np.repeat(np.array([s.row], dtype=np.int32), 2, axis=0)
        nut, wet, pin = (s.program.table.number(c) for c in ("item:nut", "fact:wet", "item:pin"))
        rows[1, nut] = 1
        done = Walk(s.program, rows).act(s.program.by_name["used:oak/use"])
        self.assertEqual(rows[:, [nut, wet, pin]].tolist(), [[0, 0, 0], [0, 1, 1]])
        self.assertEqual(done.took_effect.tolist(), [False, True])

    def test_a_refused_segment_takes_no_count_back_that_an_earlier_cue_has_brought(self):
        cues = ("when used\nthen\n  give pin\nand go on", "when used\nthen\n  move dig to one\n  take nut")
        stage = Stage("one", "One", objectives=(Objective("ring", "Ring", "use", ("oak",)),))
        s = Situation(project(thing("oak", *cues), quests=(Quest("dig", "Dig", stages=(stage,)),)))
        number = s.program.table.number
        s.row[number("status:dig")] = STATUSES.index("active")
        rows = np.repeat(np.array([s.row], dtype=np.int32), 2, axis=0)
        rows[1, number("item:nut")] = 1
        Walk(s.program, rows).act(s.program.by_name["used:oak/use"])
        self.assertEqual(rows[:, [number("met:ring"), number("item:pin")]].tolist(), [[1, 1], [0, 1]])
        s.use("oak")
        self.assertEqual((s["met:ring"], s["item:pin"]), (1, 1))

    def test_a_new_game_stands_before_the_first_stage_of_every_quest(self):
        quest = Quest("dig", "Dig", stages=(Stage("one", "One"), Stage("two", "Two")))
        s = Situation(project(quests=(quest,)))
        self.assertEqual((s["status:dig"], s["stage:dig"]), (1, 0))
        self.assertEqual([c.highest for c in s.program.columns if c.what == "stage"], [1])


if __name__ == "__main__":
    unittest.main()
