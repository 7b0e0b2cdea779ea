"""Time limits, repeats, ends of a stage, ends of a level, entries of a menu, voices; and files of the version before."""

from __future__ import annotations

import dataclasses
import json
import unittest

from tests.core.small import DOWN, USE, Situation, post, project, thing, two_levels
from tests.core.walked import walked
from vocanta.core.engine.inputs import Input
from vocanta.core.engine.picture import Painter
from vocanta.core.phrases.vocabulary import STATUSES
from vocanta.core.project.fileformat import dumps, loads
from vocanta.core.project.problems import ProjectError
from vocanta.core.project.records import (
    Body,
    Conversation,
    Ending,
    Line,
    Objective,
    Quest,
    Reply,
    Role,
    Sound,
    Stage,
    Tag,
)

WET = Objective("dry", "Dry", "fact", ("wet",))
TALLY = Objective("tallied", "Tallied", "fact", ("tally",))


def levers(**texts):
    pairs = enumerate(texts.items())
    return [thing(f"do_{key}", f"when used then {text}", prompts=USE, x=2.0 + 3.0 * i) for i, (key, text) in pairs]


def press(w, key):
    """Stand before something and use it."""
    one = next(o for o in w.project.levels[0].objects if o.key == f"do_{key}")
    return w.stand(one.x_m, one.y_m - 1.0).wait(1).press()


def shown(w):
    """What a screen would show of a run now."""
    return Painter(w.run).first()


def quest(*stages, **how):
    return Quest("errand", "Errand", stages=stages, **how)


def status(s):
    return STATUSES[s["status:errand"]]


def for_a_file(small, **level):
    """A small project whose level has a name that a file may have."""
    first = dataclasses.replace(small.levels[0], key="hall_level", **level)
    return dataclasses.replace(small, levels=(first,), first_level="hall_level")


class TimeLimits(unittest.TestCase):
    def timed(self, *more, **how):
        objective = dataclasses.replace(WET, time_s=3.0, **how)
        stages = (Stage("one", "One", objectives=(objective, *more)), Stage("two", "Two"))
        steps = {"go": "start errand", "wet": "set wet to yes", "dry": "set wet to no", "on": "move errand to two"}
        return project(*levers(**steps, up="give up errand"), quests=(quest(*stages),))

    def test_it_runs_from_the_stages_beginning_and_fails_the_quest_when_it_is_out(self):
        s = Situation(self.timed())
        self.assertNotIn("limit:dry", s.open_names())
        s.use("do_go")
        self.assertEqual((s["limit:dry"], "limit:dry" in s.open_names()), (1, True))
        s.act("limit:dry")
        self.assertEqual((status(s), s["limit:dry"], s.kinds_told()), ("failed", 0, ["time_up", "quest"]))

    def test_an_optional_objective_is_only_closed_and_can_not_be_met_any_more(self):
        s = Situation(self.timed(TALLY, optional=True))
        s.use("do_go")
        s.act("limit:dry")
        s.use("do_wet")
        self.assertEqual((status(s), s["limit:dry"], s["met:dry"]), ("active", 2, 0))

    def test_what_is_met_in_time_runs_no_more_and_has_its_time_again_where_it_is_lost(self):
        s = Situation(self.timed())
        for lever in ("go", "wet"):
            s.use(f"do_{lever}")
        self.assertEqual((s["met:dry"], s["limit:dry"]), (1, 0))
        s.use("do_dry")
        self.assertEqual((s["met:dry"], s["limit:dry"], "limit:dry" in s.open_names()), (0, 1, True))

    def test_leaving_the_stage_and_giving_up_stop_it_and_beginning_again_starts_it_anew(self):
        for lever in ("on", "up"):
            s = Situation(self.timed())
            s.use("do_go")
            s.use(f"do_{lever}")
            self.assertEqual(s["limit:dry"], 0, lever)
        s.use("do_go")
        self.assertEqual(s["limit:dry"], 1)

    def test_a_run_counts_the_seconds_down_and_shows_them(self):
        w = press(walked(self.timed()), "go")
        left = [shown(w.wait(ticks))["hud"]["quests"][0]["objectives"][0]["left_s"] for ticks in (0, 30, 30)]
        self.assertEqual(left, [3, 2, 1])
        w.wait(30)
        self.assertEqual((w.value("status:errand"), shown(w)["hud"]["quests"]), (STATUSES.index("failed"), []))

    def test_none_and_more_than_a_day_are_refused_and_a_day_is_not(self):
        text = dumps(for_a_file(self.timed()))
        self.assertIn('"time_s": 3.0', text)
        loads(text.replace('"time_s": 3.0', '"time_s": 86400.0'))
        for seconds in ("0", "-1", "86401"):
            with self.assertRaises(ProjectError) as refused:
                loads(text.replace('"time_s": 3.0', f'"time_s": {seconds}'))
            (problem,) = refused.exception.problems
            self.assertIn("time_s", problem.path)


class Targets(unittest.TestCase):
    def test_a_kind_and_a_tag_stand_for_every_object_of_theirs_and_each_counts_once(self):
        lamp, first = thing("first", "when used then add 1 to tally", prompts=USE, tags=("lit",))
        second = dataclasses.replace(first, key="second", x_m=8.0)
        for target in (lamp.key, "lit"):
            light = Objective("light", "Light them", "use", (target,), 2)
            small = project(
                (lamp, first),
                *levers(go="start errand"),
                quests=(quest(Stage("one", "One", then="done", objectives=(light,))),),
            )
            level = dataclasses.replace(small.levels[0], objects=(*small.levels[0].objects, second))
            s = Situation(dataclasses.replace(small, levels=(level,), tags=(Tag("lit", "Lit"),)))
            s.use("do_go")
            for used, count, then in (("first", 1, "active"), ("first", 1, "active"), ("second", 2, "done")):
                s.use(used)
                self.assertEqual((s["count:light"], status(s)), (count, then), (target, used))


class Ends(unittest.TestCase):
    def around(self, *stages, **how):
        verbs = {"go": "start errand", "hand": "hand in errand", "end": "finish errand", "fail": "fail errand"}
        steps = {**verbs, "wet": "set wet to yes"}
        return Situation(project(*levers(**steps), quests=(quest(*stages, **how),)))

    def test_any_stage_can_be_the_one_where_it_is_handed_in(self):
        stages = [Stage(k, k, then="ready", objectives=(o,)) for k, o in (("one", WET), ("other", TALLY))]
        s = self.around(*stages)
        for lever, then in (("go", "active"), ("hand", "active"), ("wet", "ready"), ("hand", "done"), ("hand", "done")):
            s.use(f"do_{lever}")
            self.assertEqual(status(s), then, lever)
        self.assertEqual(s["completions:errand"], 1)

    def test_what_can_be_done_n_times_is_available_again_and_rewarded_each_time(self):
        s = self.around(Stage("one", "One", objectives=(WET,)), times=2, rewards="give 5 money")
        seen = []
        for lever in ("go", "end", "end", "go", "end", "go", "end"):
            s.use(f"do_{lever}")
            seen.append((status(s), s["completions:errand"], s["money"]))
        again = [("available", 1, 5)] * 2
        self.assertEqual(seen, [("active", 0, 0), *again, ("active", 1, 5), *[("done", 2, 10)] * 3])

    def test_any_number_of_times_counts_once_and_rewards_every_time(self):
        s = self.around(Stage("one", "One"), times=0, rewards="give 5 money")
        for _ in range(3):
            s.use("do_go")
            s.use("do_end")
        self.assertEqual((status(s), s["completions:errand"], s["money"]), ("available", 1, 15))

    def test_what_begins_again_has_met_nothing(self):
        s = self.around(Stage("one", "One", then="done", objectives=(Objective("by", "By hand"), WET)), times=2)
        s.put("met:by", 1)
        s.use("do_go")
        self.assertEqual(s["met:by"], 0)

    def test_a_failed_quest_is_there_again_where_it_says_so_and_its_failing_was_heard(self):
        for failing, then in (("for_good", "failed"), ("again", "available")):
            s = Situation(
                project(
                    *levers(go="start errand", fail="fail errand"),
                    thing("ear", "when failed errand then add 1 to tally", prompts=USE),
                    quests=(quest(Stage("one", "One"), failing=failing),),
                )
            )
            for lever in ("go", "fail", "fail"):
                s.use(f"do_{lever}")
            self.assertEqual((status(s), s["fact:tally"]), (then, 1), failing)


class EndsOfALevel(unittest.TestCase):
    def level(self, *endings):
        objectives = (WET, TALLY)
        made = project(
            *levers(
                go="start errand",
                wet="set wet to yes",
                tally="add 1 to tally",
                finish="finish errand",
                end="end level lost",
            ),
            quests=(quest(Stage("one", "One", objectives=objectives)), Quest("other", "Other")),
        )
        return for_a_file(made, endings=endings)

    def test_it_ends_once_all_of_it_is_so_and_the_first_end_counts(self):
        s = Situation(self.level(Ending("won", ("dry", "tallied"))))
        for lever, ended in (("go", 0), ("wet", 0), ("tally", 1)):
            s.use(f"do_{lever}")
            self.assertEqual(s["ended"], ended, lever)
        self.assertFalse(s.use("do_end"))
        self.assertEqual(s["ended"], 1)

    def test_after_a_time_it_ends_unless_it_has_ended_by_then(self):
        s = Situation(self.level(Ending("won", ("dry",), 5.0), Ending("lost", ("tallied",))))
        for lever in ("go", "wet"):
            s.use(f"do_{lever}")
        self.assertEqual((s["ended"], s["ending"], s.kinds_told().count("ending")), (0, 2, 1))
        s.act("end:2")
        self.assertEqual((s["ended"], s["ending"]), (1, 0))
        w = press(press(walked(self.level(Ending("won", ("dry",), 1.0))), "go"), "wet").wait(25)
        self.assertEqual(w.value("ended"), 0)
        w.wait(10)
        self.assertEqual(w.value("ended"), 1)

    def test_a_quest_counts_when_it_was_done_and_what_names_nothing_never_does(self):
        s = Situation(self.level(Ending("won", ("other",)), Ending("lost", ("?",))))
        self.assertEqual(s["ended"], 0)
        s = Situation(self.level(Ending("lost", ("errand",))))
        for lever, ended in (("go", 0), ("finish", 2)):
            s.use(f"do_{lever}")
            self.assertEqual(s["ended"], ended)


class Decisions(unittest.TestCase):
    """What the player decides by the offer card and the quest list, in every status."""

    def offered(self, **how):
        steps = {"offer": "offer errand", "fail": "fail errand", "end": "finish errand"}
        return Situation(project(*levers(**steps), quests=(quest(Stage("one", "One"), **how),)))

    def test_each_stands_open_only_in_the_statuses_that_allow_it(self):
        s = self.offered()
        allowed = {"offered": {"start", "decline"}, "active": {"give up"}, "ready": {"give up"}}
        for number, name in enumerate(STATUSES):
            s.put("status:errand", number)
            found = {verb for verb in ("start", "decline", "give up") if f"{verb}:errand" in s.open_names()}
            self.assertEqual(found, allowed.get(name, set()), name)

    def test_what_cannot_be_declined_or_given_up_is_no_decision_at_all(self):
        s = self.offered(decline="no", give_up="no")
        names = [a.name for a in s.program.actions if a.kind == "decide"]
        self.assertEqual(names, ["start:errand"])

    def test_taken_on_declined_and_given_up_for_good_or_not(self):
        for how, decisions, then in (
            ({}, ("start",), "active"),
            ({}, ("decline",), "available"),
            ({"decline": "for_good"}, ("decline",), "declined"),
            ({}, ("start", "give up"), "available"),
            ({"give_up": "for_good"}, ("start", "give up"), "failed"),
        ):
            s = self.offered(**how)
            s.use("do_offer")
            for verb in decisions:
                s.act(f"{verb}:errand")
            self.assertEqual(status(s), then, (how, decisions))

    def test_deciding_twice_in_one_tick_or_after_it_was_finished_does_nothing_more(self):
        w = press(walked(project(*levers(offer="offer errand"), quests=(quest(Stage("one", "One")),))), "offer")
        for _ in range(2):
            w.run.tick(Input(decide="start:errand"))
        w.run.tick(Input(decide="decline:errand"))
        w.run.tick(Input(decide="start:nothing"))
        w.run.tick(Input(decide="used:do_offer/use"))
        self.assertEqual((w.value("status:errand"), len(w.told("stage"))), (STATUSES.index("active"), 1))

    def test_a_quest_finished_while_its_card_lies_open_takes_the_card_away(self):
        w = press(
            walked(project(*levers(offer="offer errand", fail="fail errand"), quests=(quest(Stage("one", "One")),))),
            "offer",
        )
        self.assertEqual([o["key"] for o in shown(w)["hud"]["offers"]], ["errand"])
        press(w, "fail")
        self.assertEqual(shown(w)["hud"]["offers"], [])
        w.run.tick(Input(decide="start:errand"))
        self.assertEqual(w.value("status:errand"), STATUSES.index("failed"))


class Cards(unittest.TestCase):
    def test_a_card_says_what_is_asked_and_given_and_how_long_there_is(self):
        objectives = (
            dataclasses.replace(WET, time_s=90.0),
            dataclasses.replace(TALLY, optional=True, time_s=5.0),
            Objective("secret", "Secret", hidden=True),
        )
        errand = quest(
            Stage("one", "One", objectives=objectives),
            summary="Make it wet.", offered_by="do_go", decline="for_good",
            rewards="give 2 nut\ngive 1 money\ngrant leap for 3 uses\nset wet to no",
        )  # fmt: skip
        w = walked(project(*levers(go="offer errand"), quests=(errand,)))
        (card,) = shown(press(w, "go"))["hud"]["offers"]
        self.assertEqual(card, {
            "key": "errand", "name": "Errand", "by": "Do_Go", "summary": "Make it wet.",
            "asks": ["Dry", "Tallied, if you like"], "rewards": ["2 nuts", "1 coin", "Leap (3 uses)"],
            "time_s": 90.0, "declined": "for_good",
        })  # fmt: skip

    def test_the_log_keeps_the_journal_of_every_stage_and_why_a_quest_failed(self):
        stages = (
            Stage("one", "One", "First this.", then="two", objectives=(WET,)),
            Stage("two", "Two", "Then that.", objectives=(dataclasses.replace(TALLY, time_s=1.0),)),
        )
        w = walked(
            project(*levers(go="start errand", wet="set wet to yes"), quests=(quest(*stages), Quest("other", "Other")))
        )
        self.assertEqual(shown(w)["hud"]["log"], [])
        press(press(w, "go"), "wet").wait(40)
        (logged,) = shown(w)["hud"]["log"]
        self.assertEqual(
            (logged["status"], logged["journal"], logged["why"]),
            ("failed", ["First this.", "Then that."], "Time is up: Tallied"),
        )


class Markers(unittest.TestCase):
    def mark(self, small, *keys, marker, x=2.0):
        stage = Stage("one", "One", objectives=(Objective("by", "By hand", marker=marker),))
        w = walked(dataclasses.replace(small, quests=(quest(stage),)), x=x)
        for key in ("go", *keys):
            press(w, key)
        return shown(w)["hud"]["quests"][0]["objectives"][0]["mark"]

    def test_it_points_at_an_object_an_area_and_what_a_role_is_filled_with_or_says_not_there_yet(self):
        far = thing("far", "when used then set wet to yes", x=17.0, y=1.0, body=Body("none"))
        small = project(*levers(go="start errand", fill="fill hero with far", away="remove far"), far)
        small = dataclasses.replace(small, roles=(Role("hero", "Hero"),))
        not_yet = {"at": None, "words": "not there yet"}
        self.assertEqual(self.mark(small, marker="far"), {"at": (17.0, 1.0), "words": "15 m"})
        self.assertEqual(self.mark(small, "away", marker="far"), not_yet)
        self.assertEqual(self.mark(small, marker="hero"), not_yet)
        self.assertEqual(self.mark(small, "fill", marker="hero"), {"at": (17.0, 1.0), "words": "12 m"})
        self.assertEqual(self.mark(small, marker="hall")["at"], (10.0, 5.0))
        self.assertIsNone(self.mark(small, marker=""))

    def test_in_another_level_it_points_at_the_exit_on_the_way(self):
        there = thing("there", "when used then set wet to yes", x=3.0, y=3.0)
        small = two_levels(*levers(go="start errand"), lower=(there,), exits=(DOWN,))
        self.assertEqual(self.mark(small, marker="there")["at"], (DOWN.x_m, DOWN.y_m))
        self.assertRegex(self.mark(small, marker="there")["words"], r"^through Way down, \d m$")
        nowhere = two_levels(*levers(go="start errand"), lower=(there,))
        self.assertEqual(self.mark(nowhere, marker="there"), {"at": None, "words": "no way there: it is in Below"})


class Menus(unittest.TestCase):
    def console(self, *replies):
        line = Line("hello", ("What?",), True, replies=replies)
        cue = "when used\nthen\n  open conversation menu"
        return project(
            thing("oak", cue, prompts=USE),
            thing("elm", cue, prompts=USE, x=8.0),
            talks=(Conversation("menu", "Menu", "oak", (line,)),),
        )

    def test_an_entry_that_is_there_once_goes_by_itself_for_each_object(self):
        once = Reply("r1", ("Drain it",), repeat="once", steps="add 1 to tally", then="stays_here")
        s = Situation(self.console(once, Reply("r2", ("Leave",))))
        for key, count in (("oak", 1), ("elm", 2)):
            s.use(key)
            self.assertIn("reply:hello/r1", s.open_names())
            s.act("reply:hello/r1")
            self.assertNotIn("reply:hello/r1", s.open_names())
            self.assertEqual((s["fact:tally"], s[f"chosen:{key}/hello/r1"]), (count, 1))
            s.act("reply:hello/r2")

    def test_when_the_last_entry_is_gone_the_talk_ends_with_the_voice(self):
        s = Situation(self.console(Reply("r1", ("Drain it",), repeat="once", then="stays_here")))
        s.use("oak")
        self.assertNotIn("voice:hello", s.open_names())
        s.act("reply:hello/r1")
        self.assertIn("voice:hello", s.open_names())

    def test_a_refused_entry_was_not_chosen(self):
        s = Situation(self.console(Reply("r1", ("Pay",), repeat="once", steps="take nut", then="stays_here")))
        s.use("oak")
        self.assertFalse(s.act("reply:hello/r1"))
        self.assertEqual(s["chosen:oak/hello/r1"], 0)

    def test_wordings_of_an_entry_come_in_turn_or_the_last_stays(self):
        for stays, expected in ((False, ["a", "b", "a", "b"]), (True, ["a", "b", "b", "b"])):
            w = walked(self.console(Reply("r1", ("a", "b"), last_stays=stays, then="stays_here"))).press()
            said = []
            for _ in range(4):
                said.append(shown(w)["talk"]["replies"][0]["wording"])
                w.run.tick(Input(choose="r1"))
            self.assertEqual(said, expected)

    def test_a_greyed_entry_that_was_used_up_is_gone_and_not_greyed(self):
        replies = (
            Reply("r1", ("a",), unmet="greyed", repeat="once", then="stays_here"),
            Reply("r2", ("b",), needs="wet", unmet="greyed", then="stays_here"),
        )
        w = walked(self.console(*replies)).press()
        w.run.tick(Input(choose="r1"))
        self.assertEqual([(r["key"], r["usable"]) for r in shown(w)["talk"]["replies"]], [("r2", False)])


class Voices(unittest.TestCase):
    def ticks(self, sound, **how):
        line = Line("hello", ("x" * 45,), True, voice="spoken", **how)
        made = project(
            thing("oak", "when used\nthen\n  open conversation chat", prompts=USE),
            talks=(Conversation("chat", "Chat", "oak", (line,)),),
        )
        w = walked(dataclasses.replace(made, sounds=(sound,))).press()
        return w.run.talk.speech.total, shown(w)["talk"]["sound"]

    def test_a_sound_sets_the_length_a_missing_one_is_silent_for_the_reckoned_time(self):
        self.assertEqual(self.ticks(Sound("spoken", "Spoken", "a.wav", 1.5)), (45, "spoken"))
        self.assertEqual(self.ticks(Sound("spoken", "Spoken", "", 1.5)), (90, ""))
        self.assertEqual(self.ticks(Sound("spoken", "Spoken", "a.wav", 1.5), seconds=2.0), (60, "spoken"))


class TheVersionBefore(unittest.TestCase):
    def test_a_file_of_version_1_comes_in_as_it_was_meant(self):
        lines = (Line("hello", ("hi",), True, replies=(Reply("r1", ("yes",)),)),)
        quests = (quest(Stage("one", "One"), Stage("two", "Two", then="ready")),)
        now = for_a_file(project(quests=quests, talks=(Conversation("chat", "Chat", "", lines),)))
        old = json.loads(dumps(now))
        old["version"] = 1
        errand = old["project"]["quests"][0]
        errand["handed_in"], errand["stages"][1]["then"] = True, ""
        reply = old["project"]["conversations"][0]["lines"][0]["replies"][0]
        reply["wording"] = reply.pop("wordings")[0]
        for record, gone in ((errand, ("times", "failing")), (reply, ("repeat", "last_stays"))):
            for name in gone:
                del record[name]
        self.assertEqual(loads(json.dumps(old)), now)

    def test_a_broken_one_and_a_newer_one_are_refused_with_their_reasons(self):
        for project_data in ([], {"quests": 3}, {"quests": [{"handed_in": True, "stages": 7}], "conversations": [1]}):
            with self.assertRaises(ProjectError) as refused:
                loads(json.dumps({"format": "vocanta project", "version": 1, "project": project_data}))
            self.assertEqual({p.code for p in refused.exception.problems}, {"value_unreadable"})
        with self.assertRaises(ProjectError) as refused:
            loads(json.dumps({"format": "vocanta project", "version": 3, "project": {}}))
        self.assertIn("reads 1 to 2", refused.exception.problems[0].message)


class Roles(unittest.TestCase):
    """Somebody decided at run time is used, spoken to, gone to and in a state, whoever it is by then."""

    def around(self, objective, talker="hero"):
        steps = {"go": "start errand", "left": "fill hero with left", "right": "fill hero with right"}
        two = [
            post(key, "when used\nthen\n  set this to ajar\n  open conversation chat", x=x, y=7.0)
            for key, x in (("left", 4.0), ("right", 14.0))
        ]
        stages = (Stage("one", "One", then="done", objectives=(objective,)),)
        small = project(
            *levers(**steps), *two, quests=(quest(*stages),), talks=(dataclasses.replace(self.CHAT, talker=talker),)
        )
        return dataclasses.replace(small, roles=(Role("hero", "Hero"),))

    CHAT = Conversation("chat", "Chat", "hero", (Line("hello", ("Hello.",), True),))

    def used(self, s, *keys):
        """The quest's status after each press, the talk that it opened being over."""
        for key in keys:
            s.use(key)
            if "voice:hello" in s.open_names():
                s.act("voice:hello")
            yield status(s)

    def test_a_use_a_talk_and_a_state_count_at_whoever_fills_the_role(self):
        for asked in (
            Objective("o", "O", "use", ("hero",)),
            Objective("o", "O", "talk", ("hero",)),
            Objective("o", "O", "state", ("hero",), state="ajar"),
        ):
            seen = self.used(Situation(self.around(asked, talker="")), "do_go", "left", "do_right", "left", "right")
            self.assertEqual(list(seen), ["active"] * 4 + ["done"], asked.type)

    def test_a_use_and_a_talk_count_though_they_hand_the_role_on(self):
        for asked, cue in (
            (Objective("o", "O", "use", ("hero",)), "when used\nthen\n  fill hero with right"),
            (Objective("o", "O", "talk", ("hero",)), "when used\nthen\n  open conversation chat"),
        ):
            stages = (Stage("one", "One", then="done", objectives=(asked,)),)
            hands_on = Line("hello", ("Hello.",), True, steps="fill hero with right")
            begins = "when used\nthen\n  fill hero with left\n  start errand"
            small = project(
                post("go", begins),
                post("left", cue, x=4.0, y=7.0),
                post("right", x=14.0, y=7.0, prompts=()),
                quests=(quest(*stages),),
                talks=(Conversation("chat", "Chat", "", (hands_on,)),),
            )
            small = dataclasses.replace(small, roles=(Role("hero", "Hero"),))
            self.assertEqual(list(self.used(Situation(small), "go", "left")), ["active", "done"], asked.type)

    def test_a_state_counts_at_once_when_who_is_in_it_becomes_the_one(self):
        s = Situation(self.around(Objective("o", "O", "state", ("hero",), state="ajar")))
        self.assertEqual(list(self.used(s, "left", "do_go", "do_left")), ["available", "active", "done"])

    def test_going_there_counts_where_the_player_stands_when_the_role_is_filled(self):
        small = self.around(Objective("o", "O", "go", ("hero",)))
        one = thing("call", "when heard hello then fill hero with left", x=19.0)
        level = dataclasses.replace(small.levels[0], objects=(*small.levels[0].objects, one[1]))
        w = walked(dataclasses.replace(small, levels=(level,), kinds=(*small.kinds, one[0])))
        press(w, "go")
        w.stand(4.0, 6.0).wait(1)
        self.assertEqual(w.value("status:errand"), STATUSES.index("active"))
        w.press()
        self.assertEqual(w.value("status:errand"), STATUSES.index("done"))

    def test_the_talker_is_called_by_the_role_until_somebody_fills_it(self):
        w = walked(self.around(Objective("o", "O")))
        w.stand(4.0, 6.0).wait(1).press()
        self.assertEqual(shown(w)["talk"]["speaker"], "Hero")
        press(w, "right")
        w.stand(4.0, 6.0).wait(1).press()
        self.assertEqual(shown(w)["talk"]["speaker"], "Right")

    def test_a_talk_of_the_role_counts_as_one_with_whoever_fills_it_wherever_it_is_opened(self):
        s = Situation(self.around(Objective("o", "O", "talk", ("right",))))
        self.assertEqual(list(self.used(s, "do_go", "left", "do_right", "left")), ["active"] * 3 + ["done"])

    def test_several_talk_with_one_conversation_and_each_counts_where_it_is_opened(self):
        small = self.around(Objective("o", "O", "talk", ("right",)))
        seen = self.used(Situation(small), "do_go", "left", "right")
        self.assertEqual(list(seen), ["active", "active", "done"])
