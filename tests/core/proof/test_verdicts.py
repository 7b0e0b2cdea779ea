"""Verdicts and shortest ways agree with going through every way to play one by one, on random projects."""

from __future__ import annotations

import unittest

from tests.core.proof.plainly import Plain
from tests.core.random_projects import random_project
from vocanta.core.progress.compiling import compiled
from vocanta.core.proof.routes import Ways
from vocanta.core.proof.verdicts import verdicts, worked_out

MOST = 150
"""A project with more situations is left to the next one: there are enough."""


class AgreesWithGoingThroughAll(unittest.TestCase):
    def test_random_projects(self):
        held, yes = 0, 0
        for seed in range(80):
            project = random_project(seed)
            program = compiled(project)
            worked = worked_out(program, [q.key for q in project.quests])
            plain = Plain(program, worked.places, worked.spread.counts).explored(worked.first, MOST)
            if plain is None or worked.left_out:
                continue
            held += 1
            answers = {(v.quest, v.what): v.answer for v in verdicts(worked)}
            ways = Ways(worked.recoded)
            questions = {q.key: q for q in worked.recoded.system.questions}
            for quest in project.quests:
                expected = {
                    "can": plain.shortest(quest.key),
                    "stuck": plain.left_at(quest.key, "active", "ready"),
                    "lost": plain.left_at(quest.key, "failed", "declined"),
                }
                for what, shortest in expected.items():
                    with self.subTest(seed=seed, quest=quest.key, what=what):
                        self.assertEqual(answers[quest.key, what], "never" if shortest is None else "yes")
                        if shortest is not None:
                            yes += 1
                            found = ways.route(questions[quest.key], what)
                            self.assertEqual(found.counted, shortest)
                for end in ("failed", "declined"):
                    shortest = plain.shortest(quest.key, end)
                    self.assertEqual(answers.get((quest.key, end), "never"), "never" if shortest is None else "yes")
        self.assertGreater(held, 15)
        self.assertGreater(yes, 8)
