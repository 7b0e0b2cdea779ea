"""The program against the plain interpreter: random projects, random actions, every column after each."""

from __future__ import annotations

import random
import unittest

import numpy as np

from tests.core.plain import Plain
from tests.core.random_projects import random_project
from tests.core.walked import out_of_bounds
from tests.seeds import SOAKED, taken
from vocanta.core.progress.compiling import compiled
from vocanta.core.progress.guards import holds
from vocanta.core.progress.happenings import Happening
from vocanta.core.progress.onerow import RowWalk, holds_on
from vocanta.core.progress.walking import Walk

PROJECTS, ACTIONS = 130, 60
SAID = {
    Happening.NOTICE: lambda told: dict(told.details)["text"],
    Happening.REFUSED: lambda told: dict(told.details)["why"],
    Happening.UNMET: lambda told: dict(told.details)["need"],
    Happening.UNDER_WAY: lambda told: "",
    Happening.PASSED_OVER: lambda told: "",
}
"""What both sides must say the same, and which word of it."""


def said(outcome):
    return [(str(told.what), SAID[told.what](told)) for told, _ in outcome.told if told.what in SAID]


def names_of(cells):
    """The cells as the plain interpreter knows them."""
    return [(c.level, c.area, c.zones, c.exit, frozenset((b.key, b.spot) for b in c.blockers)) for c in cells.cells]


def begun(project):
    program = compiled(project)
    row = [c.start for c in program.columns]
    return program, row, RowWalk(program, row).start(begins="glade")


class Side:
    """One random project on both sides."""

    def __init__(self, seed):
        project = random_project(seed)
        self.program, self.row, _ = begun(project)
        self.r = random.Random(seed)
        self.plain = Plain.__new__(Plain)
        self.plain.talker_numbers(self.program)
        self.plain.__init__(project, names_of(self.program.layout.cells))
        self.off = frozenset()

    def columns(self):
        return {c.name: v for c, v in zip(self.program.columns, self.row, strict=True)}

    def sense(self):
        """The same values of what is sensed and nobody listens to."""
        for number in self.program.sensed:
            column = self.program.columns[number]
            if number not in self.program.sensed_actions:
                value = int(self.r.random() < (0.8 if "reach" in column.what else 0.2))
                self.row[number] = self.plain.v[column.name] = value

    def drawn(self, names):
        """One of some actions: each kind as likely as any other, however many of a kind stand open."""
        kind = self.r.choice(sorted({name.partition(":")[0] for name in names}))
        return self.r.choice([name for name in names if name.partition(":")[0] == kind])

    def act(self, name, attempt):
        action = self.program.by_name[name]
        if action.kind == "sensed":
            number = self.program.table.number(action.control)
            self.row[number] = 1 - self.row[number]
            self.plain.turn(action.control)
            return RowWalk(self.program, self.row).sensed(number, 1 - self.row[number])
        self.plain.act(name, attempt)
        return RowWalk(self.program, self.row).act(action, attempt=attempt)


class ProgressAgreesWithThePlainInterpreter(unittest.TestCase):
    def test_cells_lead_to_one_another_as_they_are_drawn(self):
        for seed in range(30):
            side = Side(seed)
            cells = side.program.layout.cells
            found = {(i, j) for i, near in enumerate(cells.neighbours) for j in near}
            every = range(len(cells.cells))
            self.assertEqual(found, {(i, j) for i in every for j in every if side.plain.leads(i, j)}, seed)

    def test_every_column_and_all_that_is_said_after_every_action(self):
        effects = faults = crossed = refused = 0
        for seed in taken(PROJECTS):
            side = Side(seed)
            self.assertLessEqual({p.code for p in side.program.problems}, {"never_comes"}, seed)
            for step in range(ACTIONS):
                side.sense()
                self.assertEqual(side.columns(), side.plain.v, (seed, step))
                if side.plain.v["ended"]:
                    self.assertEqual(side.program.open_actions(np.array([side.row], dtype=np.int32)), [])
                    break
                names = [a.name for a in side.program.actions if side.plain.is_open(a.name)]
                guards = [a.name for a in side.program.actions if holds_on(a.guard, side.row)]
                self.assertEqual(guards, names, (seed, step))
                opened = side.program.open_actions(np.array([side.row], dtype=np.int32))
                self.assertEqual([a.name for a in opened], names, (seed, step))
                tried = [a.name for a in side.program.actions if a.tried is not None and a.name not in names]
                attempt = bool(tried) and side.r.random() < 0.2
                name = side.drawn(tried if attempt else names)
                before = list(side.row)
                outcome = side.act(name, attempt)
                effects += side.row != before
                crossed += name.startswith(("cross", "exit"))
                refused += attempt and bool(outcome.told)
                faults += bool(outcome.chasing)
                self.assertEqual(side.columns(), side.plain.v, (seed, step, name))
                self.assertEqual(bool(outcome.chasing), side.plain.faulted, (seed, step, name))
                self.assertEqual(out_of_bounds(side.program, side.row), [], (seed, step, name))
                if not outcome.chasing:
                    self.assertEqual(said(outcome), side.plain.said, (seed, step, name))
        self.assertGreater(effects, len(taken(PROJECTS)) * ACTIONS * 0.3)
        self.assertTrue(crossed > 120 and refused > 25 and (faults > 5 or not SOAKED), (crossed, refused, faults))

    def test_many_rows_at_once_equal_each_row_alone(self):
        for seed in range(40):
            program, r = compiled(random_project(seed)), random.Random(seed)
            rows = self.situations(program, r, 24)
            for action in program.actions:
                together = rows.copy()
                outcome = Walk(program, together).act(action)
                for i, row in enumerate(rows):
                    alone = [int(v) for v in row]
                    took = RowWalk(program, alone).act(action)
                    self.assertEqual(together[i].tolist(), alone, (seed, action.name, i))
                    self.assertEqual(bool(outcome.took_effect[i]), took.took_effect, (seed, action.name, i))

    def test_refused_presses_are_equal_both_ways(self):
        for seed in range(20):
            program, r = compiled(random_project(seed)), random.Random(seed)
            rows = self.situations(program, r, 12)
            for action in (a for a in program.actions if a.tried is not None):
                together = rows.copy()
                Walk(program, together).act(action, attempt=True)
                for i, row in enumerate(rows):
                    alone = [int(v) for v in row]
                    RowWalk(program, alone).act(action, attempt=True)
                    self.assertEqual(together[i].tolist(), alone, (seed, action.name, i))

    def test_all_guards_at_once_equal_one_guard_over_rows(self):
        for seed in range(30):
            program, r = compiled(random_project(seed)), random.Random(seed)
            rows = self.situations(program, r, 10)
            by_guard = np.array([holds(a.guard, rows) for a in program.actions])
            by_row = np.array([program.action_guards.ask(row) for row in rows]).T
            self.assertTrue((by_guard == by_row).all(), seed)

    def situations(self, program, r, count):
        """Situations reached by random walks, sensed values drawn anew."""
        found = []
        row = [c.start for c in program.columns]
        RowWalk(program, row).start(begins="glade")
        for _ in range(count):
            for number in program.sensed:
                if program.columns[number].highest == 1:
                    row[number] = int(r.random() < 0.8)
            opened = [a for a in program.actions if holds_on(a.guard, row)]
            RowWalk(program, row).act(r.choice(opened))
            found.append(list(row))
        return np.array(found, dtype=np.int32)


if __name__ == "__main__":
    unittest.main()
