"""How often things are given and asked for, over every text, for kinds and the objects placed from them."""

from __future__ import annotations

import dataclasses
import unittest

from tests.core.small import post, project
from vocanta.core.cuetext.supply import Supply, supply_of
from vocanta.core.project.records import Cue, Design, Kind, Object, Objective, Quest, Stage

GIFT = "when used\nonly if has pin\nthen\n  give its gift"


def crates(*gifts, usual="?"):
    """A kind whose cue gives *its gift*, and objects of it, each with a gift of its own; None for the kind's."""
    kind = Kind("crate", "Crate", design=Design(values={"gift": usual}), cues=(Cue("c1", GIFT),))
    things = [
        Object(f"crate_{i}", "Crate", "crate", 1.0, 1.0, own={} if gift is None else {"values.gift": gift})
        for i, gift in enumerate(gifts)
    ]
    return [(kind, thing) for thing in things] or [(kind, None)]


class HowOften(unittest.TestCase):
    def test_a_text_counts_once_for_each_name_in_it(self):
        oak = post("oak", "when used\nonly if has 2 nut\n  and wet\nthen\n  take 2 nut\n  give pin\n  set wet to no")
        self.assertEqual(
            {k: v for k, v in supply_of(project(oak)).items() if k in ("nut", "pin", "wet")},
            {"nut": Supply(0, 2), "pin": Supply(1, 0), "wet": Supply(1, 1)},
        )

    def test_what_a_kind_leaves_to_its_objects_is_counted_for_each_of_them(self):
        pairs = crates("nut", "nut", None, usual="pin")
        small = dataclasses.replace(
            project(),
            kinds=(pairs[0][0],),
            levels=(dataclasses.replace(project().levels[0], objects=tuple(o for _, o in pairs)),),
        )
        found = supply_of(small)
        self.assertEqual((found["nut"], found["pin"]), (Supply(2, 0), Supply(1, 3)))

    def test_a_kind_without_objects_counts_by_its_own_values(self):
        small = dataclasses.replace(project(), kinds=(crates(usual="nut")[0][0],))
        self.assertEqual(supply_of(small)["nut"], Supply(1, 0))

    def test_objectives_ask_for_what_they_want_to_have(self):
        stage = Stage(
            "s", "S", objectives=(Objective("o", "O", "have", ("nut", "pin")), Objective("p", "P", "go", ("hall",)))
        )
        found = supply_of(project(quests=(Quest("errand", "Errand", stages=(stage,)),)))
        self.assertEqual((found["nut"], found["pin"], "hall" in found), (Supply(0, 1), Supply(0, 1), False))

    def test_a_text_that_cannot_be_read_counts_as_none(self):
        self.assertEqual(supply_of(project(post("oak", "when usd\nthen\n  give nut"))), {})
