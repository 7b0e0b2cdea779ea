"""What nobody means to write, and what becomes of it: stated, and nothing else is touched."""

from __future__ import annotations

import unittest

from tests.core.small import Situation, post, project
from tests.core.walked import walked
from vocanta.core.engine.inputs import Input
from vocanta.core.engine.picture import Painter
from vocanta.core.phrases.vocabulary import STATUSES
from vocanta.core.progress.compiling import compiled
from vocanta.core.project.records import Conversation, Line, Objective, Quest, Reply, Stage

OPENS = "when used\nthen\n  open conversation chat"


def spoken(w):
    talk = Painter(w.run).first()["talk"]
    return talk["line"] if talk else None


class Talks(unittest.TestCase):
    def test_one_that_goes_round_waits_for_each_voice_and_is_left_by_walking_off(self):
        lines = (Line("to", ("To.",), True, then="fro"), Line("fro", ("Fro.",), then="to"))
        w = walked(project(post("oak", OPENS, x=5.0, y=5.0), talks=(Conversation("chat", "Chat", "oak", lines),)))
        w.stand(5.0, 4.0).wait(1).press().wait(1)
        seen = []
        for _ in range(120):
            w.wait(1)
            seen += [spoken(w)] if spoken(w) not in seen[-1:] else []
        self.assertEqual(seen, ["to", "fro", "to", "fro"])
        self.assertEqual(w.told("fault"), [])
        w.run.tick(Input(walk_to=(15.0, 4.0)))
        w.wait(90)
        self.assertIsNone(spoken(w))

    def test_a_reply_that_leads_to_a_line_that_is_gone_ends_the_talk(self):
        line = Line("hello", ("Hello.",), True, replies=(Reply("r1", ("Well?",), then="gone_by_now"),))
        w = walked(project(post("oak", OPENS, x=5.0, y=5.0), talks=(Conversation("chat", "Chat", "oak", (line,)),)))
        w.stand(5.0, 4.0).wait(1).press().wait(1)
        w.run.tick(Input(choose="r1"))
        self.assertIsNone(spoken(w))

    def test_a_placeholder_that_is_none_is_shown_as_it_is_written(self):
        line = Line("hello", ("{object}: {whoever}, {count:none}, {count:nut}.",), True)
        w = walked(project(post("oak", OPENS, x=5.0, y=5.0), talks=(Conversation("chat", "Chat", "oak", (line,)),)))
        w.stand(5.0, 4.0).wait(1).press().wait(1)
        self.assertEqual(Painter(w.run).first()["talk"]["wording"], "Oak: {whoever}, {count:none}, 0.")

    def test_ten_thousand_lines_are_compiled_and_the_last_of_them_is_said(self):
        lines = tuple(Line(f"l{i}", (f"Line {i}.",), True, needs="wet is yes") for i in range(9_999))
        last = Line("last", ("<b>Ende</b> שלום 🙂",), True)
        w = walked(
            project(post("oak", OPENS, x=5.0, y=5.0), talks=(Conversation("chat", "Chat", "oak", (*lines, last)),))
        )
        w.stand(5.0, 4.0).wait(1).press().wait(1)
        self.assertEqual(Painter(w.run).first()["talk"]["wording"], "<b>Ende</b> שלום 🙂")


class Quests(unittest.TestCase):
    def test_one_that_asks_for_itself_is_never_there_and_starting_it_is_told(self):
        errand = Quest("errand", "Errand", needs="errand is done", stages=(Stage("one", "One"),))
        s = Situation(project(post("oak", "when used\nthen\n  start errand"), quests=(errand,)))
        s.use("oak")
        self.assertEqual((STATUSES[s["status:errand"]], s.kinds_told()), ("unavailable", ["not_allowed"]))

    def test_an_objective_that_names_nothing_is_told_and_never_met(self):
        for sort in ("have", "use", "go", "talk", "fact", "state"):
            stage = Stage("one", "One", objectives=(Objective("o", "Find it", sort),))
            program = compiled(
                project(post("oak", "when used\nthen\n  give nut"), quests=(Quest("q", "Q", stages=(stage,)),))
            )
            told = [(p.code, p.message, p.path) for p in program.problems]
            says = "Find it asks for something, but for what is not said."
            self.assertEqual(told, [("objective_aimless", says, "quest/q/stage/one/objective/o")], sort)

    def test_a_reward_that_takes_is_no_reward(self):
        errand = Quest("errand", "Errand", rewards="give -5 money", stages=(Stage("one", "One"),))
        for wrong in (project(quests=(errand,)), project(post("oak", "when used\nthen\n  change 0 nut into 1 pin"))):
            (problem,) = compiled(wrong).problems
            self.assertEqual((problem.code, problem.fix), ("number_outside", "Give a number from 1 to 999,999."))

    def test_handed_in_by_two_at_once_it_is_rewarded_once(self):
        stage = Stage("one", "One", then="ready")
        errand = Quest("errand", "Errand", rewards="give 5 money", stages=(stage,))
        both = "when used\nthen\n  start errand\n  hand in errand\n  hand in errand"
        echo = post("elm", "when changed wet\nthen\n  hand in errand", x=9.0)
        s = Situation(project(post("oak", f"{both}\n  set wet to yes"), echo, quests=(errand,)))
        s.use("oak")
        self.assertEqual((STATUSES[s["status:errand"]], s["money"], s["completions:errand"]), ("done", 5, 1))
