"""Cues that wait for a press which nothing raises are found, with the change that mends them, and *why* says so."""

from __future__ import annotations

import unittest

from tests.core.small import post, project
from tests.core.walked import walked
from vocanta.core.cuetext.presses import in_vain
from vocanta.core.engine.why import explained
from vocanta.core.project.records import Button, Design, Prompt

PRESSED = Prompt("p1", "Use")
HELD = Prompt("p1", "Hold", hold_s=0.5)
SECOND = Prompt("p2", "Look", "second")
PANEL = Prompt("p1", "Desk", buttons=(Button("ask", "Ask"), Button("back", "Return")))


def found(prompts, *moments):
    """What each cue in vain says, with the first line of what would mend it."""
    cues = [(f"when {m}\nthen\n  remove this", m) for m in moments]
    return [(v.place, v.says, v.instead.split("\n")[0]) for v in in_vain(Design(prompts=prompts), cues)]


class Presses(unittest.TestCase):
    def test_a_cue_follows_its_prompt_from_press_to_hold_and_back(self):
        says = "it waits for a press, and what is offered is a hold"
        self.assertEqual(found((HELD,), "used"), [("used", says, "when held")])
        says = "it waits for a hold, and what is offered is a press"
        self.assertEqual(found((PRESSED,), "held with use"), [("held with use", says, "when used with use")])

    def test_another_control_is_named(self):
        says = "it waits for a press of another control than is offered"
        self.assertEqual(found((SECOND,), "used with use"), [("used with use", says, "when used with second")])

    def test_a_button_that_is_gone_and_one_that_nobody_waits_for(self):
        says = "it waits for another button than is offered"
        self.assertEqual(found((PANEL,), "chosen ask", "chosen gone"), [("chosen gone", says, "when chosen back")])
        says = "it waits for a press, and what is offered is a button"
        self.assertEqual(found((PANEL,), "used", "chosen ask"), [("used", says, "when chosen back")])

    def test_the_control_is_named_where_two_would_raise_the_same(self):
        self.assertEqual(found((PRESSED, SECOND), "used with use", "held")[0][2], "when used with second")

    def test_of_two_cues_of_one_moment_both_follow(self):
        says = "it waits for a press, and what is offered is a hold"
        both = [("used", says, "when held"), ("used with use", says, "when held with use")]
        self.assertEqual(found((HELD,), "used", "used with use"), both)
        self.assertEqual(found((HELD,), "held", "used"), [("used", says, "when held")])

    def test_where_several_are_waited_for_already_nothing_is_guessed(self):
        says = "it waits for a hold that nothing here offers"
        self.assertEqual(found((PRESSED, SECOND), "used", "held"), [("held", says, "")])

    def test_nothing_is_said_where_it_fits_or_nothing_is_offered_or_it_cannot_be_read(self):
        self.assertEqual(found((PRESSED, HELD), "used", "held with use", "near", "used with ?"), [])
        self.assertEqual(found((), "used"), [])
        self.assertEqual(in_vain(Design(prompts=(HELD,)), [("when usd", "c")]), [])

    def test_why_says_just_that(self):
        oak = post("oak", "when used\nthen\n  give nut", prompts=(HELD,))
        w = walked(project(oak)).wait(1)
        stopped = explained(w.run, "oak")["stopped_by"]
        self.assertEqual(stopped, "cue 1 of Oak: it waits for a press, and what is offered is a hold")
