"""Everything a run tells its screen has the form that the API document gives it, with nothing left out."""

from __future__ import annotations

import json
import unittest

from pydantic import TypeAdapter

from tests.server.test_api import DEMO
from vocanta.core.engine.shown import PlayMessage
from vocanta.server.session import MOST_WAITING, Session

FORM = TypeAdapter(PlayMessage)


class Lines:
    """What an engine writes, message by message."""

    def __init__(self):
        self.messages = []

    def write(self, line):
        self.messages.append(json.loads(line))

    def flush(self):
        """Nothing waits."""


def session(**start):
    out = Lines()
    return Session({"project": DEMO, "start": start}, out), out


class WhatARunTells(unittest.TestCase):
    def setUp(self):
        self.run, self.out = session(x=2.0, y=2.0)

    def held(self):
        """Every message so far fits its form, and the form leaves nothing of it out."""
        told = [m for m in self.out.messages if "inputs" not in m]
        for message in told:
            read = FORM.validate_python(message)
            self.assertEqual(json.loads(FORM.dump_json(read)), message)
        return {key for message in told for key in message}

    def test_pictures_of_presses_and_walking_and_why_fit(self):
        for given in (
            {"move": [1, 0]},
            {"down": ["use"]},
            {"up": ["use"]},
            {"walk_to": [2.2, 2.0]},
            {"walk_to": [900, 0]},
        ):
            self.run.take({"input": given})
            for _ in range(12):
                self.run.step()
        for key in ("yard_bell", "odile_desk", "nothing_of_the_kind"):
            self.run.take({"why": key})
        self.run.take({"do": "pause"})
        self.assertLessEqual({"picture", "wrong", "paused", "pace", "why", "barred"}, self.held())

    def test_nonsense_is_answered_in_its_form_and_changes_nothing(self):
        tick, before = self.run.run.situation.tick, self.held()
        for message in (
            4,
            {},
            {"do": "fly"},
            {"why": 4},
            {"input": {"down": ["nothing"], "choose": 4}},
            {"do": "go", "x": 1},
        ):
            self.run.take(message)
            self.assertTrue(self.out.messages[-1]["problems"][0]["fix"], message)
        self.assertEqual((self.run.run.situation.tick, self.held() - before), (tick, {"problems"}))

    def test_no_more_inputs_wait_than_can_be_played_soon(self):
        for _ in range(MOST_WAITING + 1):
            self.run.take({"input": {"skip": True}})
        self.assertEqual(self.out.messages[-1]["problems"][0]["code"], "too_many_inputs")

    def test_paces_halve_and_double_within_their_limits(self):
        paces = []
        for word in ("slower", "slower", "slower", "faster", "faster", "faster", "faster", "faster"):
            self.run.take({"do": word})
            paces.append(self.out.messages[-1]["pace"])
        self.assertEqual(paces, [0.5, 0.25, 0.25, 0.5, 1.0, 2.0, 4.0, 4.0])
        self.run.take({"do": "tick"})
        self.assertEqual(self.out.messages[-1], {"paused": True, "pace": 4.0})

    def test_inputs_are_handed_over_once_a_second_and_at_the_end(self):
        self.run.take({"input": {"move": [1, 0]}})
        for _ in range(30):
            self.run.step()
        stored = [m for m in self.out.messages if "inputs" in m]
        self.assertEqual([(m["tick"], m["inputs"]) for m in stored], [(30, [[1, {"move": [1.0, 0.0]}]])])
        self.run.store()
        self.assertEqual(len([m for m in self.out.messages if "inputs" in m]), 1)

    def test_a_run_is_played_again_to_where_it_was_by_its_inputs(self):
        self.run.take({"input": {"move": [1, 0]}})
        for _ in range(20):
            self.run.step()
        again = Session(
            {"project": DEMO, "start": {"x": 2.0, "y": 2.0}, "inputs": [[1, {"move": [1, 0]}]], "tick": 20}, Lines()
        )
        mine, theirs = self.run.run.situation, again.run.situation
        self.assertEqual((mine.tick, mine.player.x, mine.row), (theirs.tick, theirs.player.x, theirs.row))
