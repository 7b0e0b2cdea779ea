"""Puzzles whose answers are known, proved and gone to their end by the engine."""

from __future__ import annotations

import unittest
from unittest import mock

from tests.core.proof import puzzles
from tests.core.small import post, project
from vocanta.core.engine.wording import Words
from vocanta.core.project.records import Objective, Quest, Stage
from vocanta.core.proof.routes import NoWay, Ways
from vocanta.core.proving import proving
from vocanta.core.proving.proving import prove
from vocanta.core.proving.reports import sentence


def with_errand(*things):
    """A quest that nothing brings on."""
    never = Objective("never", "Never", "have", ("pin",))
    return project(*things, quests=(Quest("errand", "Errand", stages=(Stage("go", "Go", objectives=(never,)),)),))


class KnownAnswers(unittest.TestCase):
    def held(self, project, **expected: int | None) -> None:
        """Each *yes* in so few things that the player does, gone by the engine; None for *never*."""
        proof = prove(project)
        self.assertEqual(proof.left_out, ())
        found = {p.verdict.what: p for p in proof.proved}
        for what, counted in expected.items():
            one = found[what]
            with self.subTest(what):
                self.assertEqual((one.verdict.answer, one.because), ("never" if counted is None else "yes", ""))
                self.assertEqual((one.way.counted, one.way.walked), (counted or 0, counted is not None))

    def test_a_wolf_a_goat_and_a_cabbage_are_over_in_seven(self):
        self.held(puzzles.crossing(), can=7, stuck=None, lost=None)

    def test_four_are_measured_with_three_and_five_in_six(self):
        self.held(puzzles.jugs(), can=6, stuck=None, lost=None)

    def test_two_doors_one_after_another_take_five_and_nobody_gets_stuck(self):
        self.held(puzzles.one_after_another(), can=5, stuck=None, lost=None)

    def test_one_key_for_two_doors_takes_three_and_gets_stuck_after_two(self):
        self.held(puzzles.one_key_for_two(), can=3, stuck=2, lost=None)

    def test_a_drop_before_the_lever_gets_stuck_at_once(self):
        self.held(puzzles.a_drop_without_return(), can=1, stuck=0, lost=None)

    def test_of_six_ways_to_ring_three_bells_the_one_along_the_hall_is_told(self):
        """From 2 to within 1 m of the bell at 14; each of the other five goes some of it twice."""
        (way,) = (p.way for p in prove(puzzles.three_bells()).proved if p.verdict.what == "can")
        rung = [action.subject for action in way.actions if action.kind == "use"]
        self.assertEqual(rung, ["bell_at_6", "bell_at_10", "bell_at_14"])
        self.assertAlmostEqual(way.metres, 11.5, delta=0.6)

    def test_where_the_shortest_way_takes_too_much_one_that_was_come_upon_is_walked_and_said_to_be_that(self):
        project = puzzles.jugs()
        (one,) = (p for p in prove(project, most=30).proved if p.verdict.what == "can")
        self.assertEqual((one.verdict.answer, one.way.walked, one.way.shortest), ("yes", True, False))
        self.assertEqual(sentence(one, Words(project)), f"Errand can be done: at most {one.way.counted} things to do")
        self.assertGreaterEqual(one.way.counted, 6)

    def test_what_is_so_before_anything_is_done_is_so_from_the_beginning(self):
        begun = post("box", "when started\nthen\n  start errand")
        (one,) = (p for p in prove(with_errand(begun)).proved if p.verdict.what == "stuck")
        self.assertEqual((one.verdict.answer, one.way.counted), ("yes", 0))
        self.assertEqual(sentence(one, Words(with_errand(begun))), "One can get stuck in Errand: from the beginning")

    def test_a_way_is_told_soon_and_the_shortest_when_there_is_time_left(self):
        with mock.patch.object(proving, "SOON", 30):
            told = [p for p in proving.Proving(puzzles.jugs()).quests() if p.verdict.what == "can"]
        self.assertEqual([(p.way.walked, p.way.shortest) for p in told], [(True, False), (True, True)])
        self.assertEqual(told[-1].way.counted, 6)

    def test_a_fault_in_looking_for_a_shorter_way_is_told(self):
        def route(ways, question, what, eager, most):
            if most > 30:
                raise NoWay("layer 1")
            return honest(ways, question, what, eager, most)

        honest = Ways.route
        with mock.patch.object(proving, "SOON", 30), mock.patch.object(Ways, "route", route):
            told = [p for p in proving.Proving(puzzles.jugs()).quests() if p.verdict.what == "can"]
        self.assertEqual([p.verdict.answer for p in told], ["yes", "undecided"])
        self.assertIn("a fault of ours: layer 1", told[-1].because)

    def test_a_fault_of_the_proof_costs_only_the_verdicts_that_it_is_in(self):
        def route(ways, question, what, *more):
            if what == "can":
                raise NoWay("layer 1")
            return honest(ways, question, what, *more)

        honest = Ways.route
        with mock.patch.object(Ways, "route", route):
            found = {p.verdict.what: p for p in prove(puzzles.one_key_for_two()).proved}
        self.assertEqual(found["can"].verdict.answer, "undecided")
        self.assertIn("a fault of ours: layer 1", found["can"].because)
        self.assertEqual((found["stuck"].verdict.answer, found["stuck"].way.counted), ("yes", 2))


if __name__ == "__main__":
    unittest.main()
