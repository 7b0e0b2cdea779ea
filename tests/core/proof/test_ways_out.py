"""Ways out, and what comes out around the quests: on the first draft, whose flaws are known, and on small puzzles."""

from __future__ import annotations

import unittest

from tests.core.proof import puzzles
from tests.seeds import taken
from vocanta.core.checks.mending import mended
from vocanta.core.proving.map import map_of
from vocanta.core.proving.proving import Proving, weight_of
from vocanta.demo import first_draft

LONG_S = 600.0
"""On any machine all mends are tried in so long."""


class TheFirstDraft(unittest.TestCase):
    """What a designer is told of the draft beside its verdicts."""

    @classmethod
    def setUpClass(cls):
        cls.project = first_draft().project
        cls.proving = Proving(cls.project)
        cls.proved = list(cls.proving.quests())
        cls.remarks = list(cls.proving.remarks())

    def test_every_way_out_mends_what_it_is_for_and_makes_nothing_else_worse(self):
        before = {(p.verdict.quest, p.verdict.what) for p in self.proved if p.weight}
        offered = 0
        for one in self.proved:
            if one.weight:
                outs = self.proving.ways_out(one, LONG_S)
                self.assertTrue(outs, one.verdict)
                offered += len(outs)
                for out in (outs[number] for number in taken(len(outs))):
                    with self.subTest(verdict=one.verdict, says=out.says):
                        again = Proving(mended(self.project, out.writes))
                        its = (p for p in again.quests() if p.verdict.quest == one.verdict.quest)
                        can = next(p for p in its if p.verdict.what == "can")
                        self.assertTrue(can.way.walked)
                        left = {(v.quest, v.what) for v in again.found if weight_of(v)}
                        self.assertNotIn((one.verdict.quest, one.verdict.what), left)
                        self.assertLessEqual(left, before)
        self.assertGreaterEqual(offered, 8)

    def test_what_never_happens_is_missed_or_comes_before_its_time(self):
        told = {(r.sort, r.subject, r.answer) for r in self.remarks}
        self.assertEqual(
            told,
            {
                ("never", "came_back", "yes"),
                ("order", "oil_for_the_hinge", "yes"),
                ("missed", "oil_for_the_hinge", "yes"),
                ("missed", "pruning_hook", "yes"),
                ("wall", "sluice_wheel", "yes"),
                ("early", "sluice_wheel", "yes"),
                ("early", "wall_lamp", "yes"),
            },
        )
        wall = next(r for r in self.remarks if r.sort == "wall")
        self.assertEqual(
            (wall.says, wall.weight), ("can be worked from the Potting Shed, through the wall", "worth a look")
        )
        self.assertEqual((wall.way.counted, wall.way.walked, wall.way.steps[-1].says), (1, True, "hold Sluice wheel"))
        hook = next(r for r in self.remarks if r.subject == "pruning_hook")
        self.assertEqual(hook.says, "can never be had any more after: use Store door")

    def test_the_map_says_what_opens_what(self):
        gates = {g.says: g for g in map_of(self.proving.around.worked, self.proving.words)}
        by = {says: (gate.round, gate.by) for says, gate in gates.items()}
        self.assertEqual(by["brass key can be had"], (1, "use Key hook"))
        self.assertEqual(by["Store door open"], (2, "use Store door"))
        self.assertEqual(by["into the Store"][0], 2)
        self.assertEqual(by["Dry Feet done"], (3, "use Odile Marr"))
        names = {g.number: g.says for g in gates.values()}
        self.assertIn("brass key can be had", {names[n] for n in gates["Store door open"].after})
        self.assertTrue(all(names[n] != g.says for g in gates.values() for n in g.after))
        self.assertNotIn("“You came back for that?” can be said", gates)


class SmallOnes(unittest.TestCase):
    """Puzzles of which the answer is known."""

    def test_one_key_for_two_doors_is_mended_by_keys_without_end_and_not_by_one_more(self):
        """Who presses twice while a door opens turns it back, and the key is gone: no number of keys is enough."""
        proving = Proving(puzzles.one_key_for_two())
        stuck = next(p for p in proving.quests() if p.verdict.what == "stuck")
        self.assertEqual([out.says for out in proving.ways_out(stuck)], ["Let Only_Key stay as it is."])

    def test_with_no_time_nothing_is_claimed(self):
        proving = Proving(puzzles.one_key_for_two(), budget_s=0.0)
        self.assertEqual({p.verdict.answer for p in proving.quests()}, {"undecided"})
        around = list(proving.remarks())
        self.assertEqual({(r.answer, r.because) for r in around}, {("undecided", "time")})
        self.assertEqual({r.sort for r in around}, {"never", "missed", "order", "any_order", "wall", "early"})


if __name__ == "__main__":
    unittest.main()
