"""The demo is sound: each quest can be done, nobody gets stuck; one of its ways is gone in the engine."""

from __future__ import annotations

import unittest

from vocanta.core.progress.compiling import compiled
from vocanta.core.proof.routes import Ways
from vocanta.core.proof.verdicts import verdicts, worked_out
from vocanta.core.proving.going import Goer, quest_done
from vocanta.demo import night_bloom

LOST = {("word_for_owner", "lost"), ("word_for_owner", "failed"), ("lamps_before_dusk", "failed")}
"""Silence about the letter, and dusk."""


class TheNightBloom(unittest.TestCase):
    def test_every_quest_can_be_done_and_nobody_gets_stuck(self):
        project = night_bloom().project
        program = compiled(project)
        worked = worked_out(program, [q.key for q in project.quests])
        found = {(v.quest, v.what): v.answer for v in verdicts(worked)}
        yes = {(q.key, "can") for q in project.quests} | LOST
        self.assertEqual(found, {asked: "yes" if asked in yes else "never" for asked in found})
        question = next(q for q in worked.recoded.system.questions if q.key == "dry_feet")
        way = Ways(worked.recoded).route(question, "can")
        self.assertEqual(way.counted, 6)
        gone = Goer(project, program, worked).gone(way, quest_done("dry_feet"))
        self.assertEqual(gone.failed, "")


if __name__ == "__main__":
    unittest.main()
