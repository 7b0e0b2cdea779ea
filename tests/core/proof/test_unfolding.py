"""What becomes possible after what: known rounds of puzzles, and never later than it is in truth."""

from __future__ import annotations

import unittest

from tests.core.proof import puzzles
from tests.core.proof.plainly import small
from tests.seeds import taken
from vocanta.core.progress.compiling import compiled
from vocanta.core.progress.layout import STATUS
from vocanta.core.proof.unfolding import unfolded
from vocanta.core.proof.verdicts import worked_out


def of(project):
    """The unfolding of a project, and how to look a value up by the name of its column: its round, and by what."""
    program = compiled(project)
    worked = worked_out(program, [q.key for q in project.quests])
    found = unfolded(worked.spread, worked.first)

    def when(name, value=1):
        came = found.find(program.table.number(name), value)
        return None if came is None else (came.round, came.by.name)

    return found, when, program


class Rounds(unittest.TestCase):
    def test_one_door_after_another(self):
        found, when, program = of(puzzles.one_after_another())
        self.assertEqual(when("item:nut"), (1, "used:first_key/use"))
        self.assertEqual(when("state:left_door"), (2, "used:left_door/use"))
        self.assertEqual(when("item:pin"), (3, "used:second_key/use"))
        self.assertEqual(when("state:right_door"), (4, "used:right_door/use"))
        self.assertEqual(when("status:errand", STATUS["done"]), (5, "used:lever/use"))
        lever = found.find(program.table.number("status:errand"), STATUS["done"])
        waited = {program.columns[found.came[fact].column].what for fact in lever.after}
        self.assertEqual(waited, {"cell"}, "it waits for the room behind the door alone")
        self.assertEqual(len(found.rounds()), 6)

    def test_it_is_optimistic_one_key_opens_both_doors(self):
        _, when, _ = of(puzzles.one_key_for_two())
        self.assertEqual((when("state:left_door")[0], when("state:right_door")[0]), (2, 2))

    def test_nothing_comes_later_than_in_truth_and_what_is_not_in_it_never_comes(self):
        held = 0
        for seed in taken(40):
            worked, plain = small(seed).worked, small(seed).explored
            if plain is None:
                continue
            held += 1
            found = unfolded(worked.spread, worked.first)
            start = set(found.facts.of_row(worked.first))
            for row, cost in plain.least.items():
                for column in plain.plain.kept:
                    fact = found.facts.fact(column, row[column])
                    if fact not in start:
                        self.assertIn(fact, found.came, (seed, small(seed).program.columns[column].name, row[column]))
                        self.assertLessEqual(found.came[fact].round, cost)
        self.assertGreater(held, 1)


if __name__ == "__main__":
    unittest.main()
