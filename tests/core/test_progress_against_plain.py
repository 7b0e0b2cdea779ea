"""The program against the plain interpreter: random projects, random actions, every column after each."""

from __future__ import annotations

import random
import unittest

import numpy as np

from tests.core.plain import Plain
from tests.core.random_projects import random_project
from vocanta.core.progress.compiling import compiled
from vocanta.core.progress.guards import holds
from vocanta.core.progress.onerow import RowWalk, holds_on
from vocanta.core.progress.walking import Walk

PROJECTS, ACTIONS = 400, 40


class ProgressAgreesWithThePlainInterpreter(unittest.TestCase):
    def test_every_column_after_every_action_one_row_at_a_time(self):
        effects = 0
        for seed in range(PROJECTS):
            project = random_project(seed)
            program, plain, r = compiled(project), Plain(project), random.Random(seed)
            self.assertEqual(program.problems, (), seed)
            row = [c.start for c in program.columns]
            RowWalk(program, row).start()
            for step in range(ACTIONS):
                self.sense(program, plain, row, r)
                self.assertEqual({c.name: v for c, v in zip(program.columns, row, strict=True)}, plain.v, (seed, step))
                names = [a.name for a in program.actions if plain.is_open(a.name)]
                guards = [a.name for a in program.actions if holds_on(a.guard, row)]
                self.assertEqual(guards, names, (seed, step))
                opened = program.open_actions(np.array([row], dtype=np.int32))
                self.assertEqual([a.name for a in opened], names, (seed, step))
                name = r.choice(names)
                before = list(row)
                RowWalk(program, row).act(program.by_name[name])
                plain.act(name)
                effects += row != before
                self.assertEqual(
                    {c.name: v for c, v in zip(program.columns, row, strict=True)}, plain.v, (seed, step, name)
                )
        self.assertGreater(effects, PROJECTS * ACTIONS * 0.3)

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
            for action in (a for a in program.actions if a.kind in ("use", "hold")):
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

    def sense(self, program, plain, row, r):
        """The same sensed values on both sides."""
        for number in program.sensed:
            value = int(r.random() < 0.8) if "reach" in program.columns[number].name else int(r.random() < 0.2)
            row[number] = plain.v[program.columns[number].name] = value

    def situations(self, program, r, count):
        """Situations reached by random walks, sensed values drawn anew."""
        found = []
        row = [c.start for c in program.columns]
        RowWalk(program, row).start()
        for _ in range(count):
            for number in program.sensed:
                row[number] = int(r.random() < 0.8)
            opened = [a for a in program.actions if holds_on(a.guard, row)]
            RowWalk(program, row).act(r.choice(opened))
            found.append(list(row))
        return np.array(found, dtype=np.int32)


if __name__ == "__main__":
    unittest.main()
