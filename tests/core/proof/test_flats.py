"""Flats do exactly what the walk of a playtest does, whatever is asked of the senses."""

from __future__ import annotations

import random
import unittest

from tests.core.proof.plainly import Plain
from tests.core.random_projects import random_project
from vocanta.core.progress.compiling import compiled
from vocanta.core.proof.flats import Parting
from vocanta.core.proof.places import Places
from vocanta.core.proof.spreading import whole
from vocanta.core.proof.together import Together
from vocanta.core.proof.unknown import Course, Tree, at_first
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


class TakenApartAgain(unittest.TestCase):
    """What was gone once is not gone again. It comes to what it comes to for somebody who takes it apart for the first time."""

    def test_with_more_values_together_it_is_as_if_it_had_never_been_taken_apart_before(self):
        for project in (first_draft().project, *map(random_project, range(8))):
            program = compiled(project)
            worked = worked_out(program, [q.key for q in project.quests])
            walker = Walker(worked.program, worked.places, 3)
            walked = [row for walk in walker.walks(worked.first, 6, 40) for _, row in walk]
            together = Together(worked.program, worked.places, whole(worked.program))
            again = Parting(worked.program, together, worked.places, worked.spread.counts)
            for some in (walked[:3], walked[3:20], walked[20:]):
                together.see(some)
                fresh = Parting(worked.program, together, worked.places, worked.spread.counts)
                for number, action in enumerate(worked.program.actions):
                    with self.subTest(project=project.name, rows=len(some), action=action.name):
                        one, other = again.flattened(number), fresh.flattened(number)
                        self.assertEqual(set(map(told, one.flats)), set(map(told, other.flats)))
                        self.assertEqual((one.asked, one.happens), (other.asked, other.happens))
                        self.assertEqual((one.chasing, one.courses), (other.chasing, other.courses))

    def test_only_what_is_new_is_done(self):
        """Of what can have three values one is seen, then two, then all: each asks for one course more."""
        asked, program = [], compiled(first_draft().project)
        together = Together(program, Places(program.layout), ())
        several = (n for n, c in enumerate(program.columns) if not c.lowest and 2 <= c.highest < 9)
        column = next(n for n in several if n not in together.free)
        course, tree = Course(together), Tree()

        def does():
            asked.append(course.number(at_first(course, column)))
            return asked[-1]

        for seen, expected, anew in (((0,), [0], [0]), ((0, 2), [0, 2], [2]), ((0, 1, 2), [0, 1, 2], [1])):
            for value in seen:
                together.join(together.facts.fact(column, value), 0)
            asked.clear()
            self.assertEqual(sorted(n for n in course.gone(tree, {}, does) if n is not None), expected)
            self.assertEqual(asked, anew)


def told(flat):
    """What a flat asks and does, whatever the order in which it is said."""
    return flat.action, tuple(sorted(flat.when.items())), tuple(sorted(flat.then.items())), flat.ends
