"""Flats do exactly what the walk of a playtest does, whatever is asked of the senses."""

from __future__ import annotations

import random
import unittest

from tests.core.proof.plainly import Plain
from tests.core.random_projects import random_project
from vocanta.core.progress.compiling import compiled
from vocanta.core.proof.verdicts import begun, worked_out
from vocanta.core.proof.walks import Walker
from vocanta.demo import first_draft, night_bloom


def apart(project, rows: int, seed: int) -> list[str]:
    """The actions that lead elsewhere by their flats than by the walk, on some rows of random walks; how many were held."""
    program = compiled(project)
    worked = worked_out(program, [q.key for q in project.quests])
    plain = Plain(program, worked.places, worked.spread.counts)
    flats: dict[str, list] = {}
    for flat in worked.spread.flats:
        flats.setdefault(worked.program.actions[flat.action].name, []).append(flat)
    walked = [row for walk in Walker(program, worked.places, seed).walks(begun(program), 12, 60) for _, row in walk]
    walked = [row for row in walked if not row[program.ended]]
    found = []
    for row in random.Random(seed).sample(walked, min(rows, len(walked))):
        for action in worked.program.actions:
            led = plain.led(row, program.by_name[action.name])
            by_walk = {(tuple(after[n] for n in plain.kept), ends) for after, ends in led}
            mine = [f for f in flats.get(action.name, ()) if f.holds(row)]
            by_flats = {(tuple(f.after(row)[n] for n in plain.kept), f.ends) for f in mine}
            same = tuple(row[n] for n in plain.kept), frozenset()
            if by_walk - {same} != by_flats - {same}:
                found.append(f"{action.name}: {len(by_walk)} by the walk, {len(by_flats)} by flats")
    return found


class FlatsDoWhatTheWalkDoes(unittest.TestCase):
    def test_of_the_first_draft(self):
        self.assertEqual(apart(first_draft().project, 100, 1), [])

    def test_of_the_demo(self):
        self.assertEqual(apart(night_bloom().project, 30, 2), [])

    def test_of_random_projects(self):
        for seed in range(24):
            with self.subTest(seed):
                self.assertEqual(apart(random_project(seed), 12, seed), [])
