"""The demo played from the gate to its ending, and to each of its other ends, by the engine on foot."""

from __future__ import annotations

import unittest

from tests.core.test_demo_played import choose, facing
from tests.core.walked import Walked
from vocanta.core.engine.inputs import Input
from vocanta.core.engine.picture import Painter
from vocanta.core.engine.standing import standing_before
from vocanta.core.phrases.vocabulary import STATUSES

BESIDE_THE_VAULT_DOOR = (26.95, 9.2)
"""Out of the way of its swing."""


class Played(unittest.TestCase):
    def begin(self, *puts):
        self.w = Walked(puts=[(column, value) for column, value in puts])

    def use(self, key, control="use", held=1, at=None):
        """Walk up to something, look at it and use it."""
        place, w = self.w.run.places.place_of(key), self.w
        x, y, *_ = at or standing_before(w.project, key)
        facing(w.go(x, y), place.x, place.y).wait(2).press(control, held).wait(2)

    def say(self, line, reply):
        """The line that is said by now, and what is answered; then the voice ends."""
        self.assertEqual(Painter(self.w.run).first()["talk"]["line"], line)
        choose(self.w, reply).wait(200)

    def decide(self, what):
        self.w.run.tick(Input(decide=what))

    def at(self, quest):
        """The status and the stage of a quest."""
        stages = self.w.run.situation.layout.quests[quest].stages
        return STATUSES[self.w.value(f"status:{quest}")], stages[self.w.value(f"stage:{quest}")].key

    def climb(self, level):
        one = self.w.project.levels[level].exits[0]
        self.w.go(one.x_m, one.y_m).wait(5)


class FromTheGateToTheEnding(Played):
    def test_all_of_it_is_walked_and_the_level_is_won(self):
        self.begin()
        self.use("odile_marr")
        self.say("you_are_the_new_one", "r1")
        self.use("field_book_bench")
        self.assertEqual(self.at("dry_feet"), ("active", "open_sluice"))
        self.use("sluice_wheel", "second", 40)
        self.w.wait(80)
        self.use("odile_marr")
        self.say("listen_no_frogs", "r1")
        self.assertEqual(
            (self.at("dry_feet")[0], self.w.value("money"), self.at("night_bloom")[0]), ("done", 40, "available")
        )
        self.use("odile_marr")
        self.say("it_opens_tonight", "r1")
        self.use("supply_crate_1")
        self.assertEqual((self.w.value("gear:right_hand"), self.at("night_bloom")[1]), (1, "cut_vines"))
        self.use("east_wing_door")
        self.w.wait(60)
        self.use("vines")
        self.assertEqual(self.at("night_bloom"), ("active", "oil_hinge"))
        for rack in ("rack_by_the_wall", "rack_in_the_corner"):
            self.use(rack)
        self.use("seed_press")
        self.w.wait(60)
        self.assertEqual((self.w.value("item:dried_pods"), self.w.value("item:seed_oil")), (1, 1))
        self.light_the_lamps()
        self.use("vault_gate", "second", at=BESIDE_THE_VAULT_DOOR)
        self.use("vault_gate", at=BESIDE_THE_VAULT_DOOR)
        self.w.wait(60)
        self.use("orchid")
        self.assertEqual(self.at("night_bloom"), ("active", "give_it"))
        self.assertEqual(self.at("what_sleeps_below")[0], "active")
        self.assertEqual(self.at("what_sleeps_below")[1], "find_out")
        self.use("work_slate")
        self.assertEqual(Painter(self.w.run).first()["talk"]["line"], "slate_bare")
        self.w.wait(120)
        self.assertEqual(self.at("what_sleeps_below")[1], "ring_the_bell")
        self.use("yard_bell")
        self.assertEqual(self.at("what_sleeps_below")[0], "done")
        self.use("odile_marr")
        self.say("bring_it_here", "r1")
        self.assertEqual((self.at("night_bloom")[0], self.w.value("ended")), ("done", 1))
        self.assertEqual(self.w.told("ended"), ["The level is won"])
        self.assertEqual(self.w.told("fault"), [])

    def light_the_lamps(self):
        self.use("work_slate")
        self.decide("start:lamps_before_dusk")
        (objective,) = next(q for q in Painter(self.w.run).first()["hud"]["quests"] if q["key"] == "lamps_before_dusk")[
            "objectives"
        ]
        self.assertLessEqual(objective["left_s"], 180)
        for lamp in ("yard_lamp_west", "yard_lamp_east", "palm_lamp"):
            self.use(lamp)
        self.climb(0)
        self.assertEqual(self.w.run.situation.level, "cistern")
        self.use("landing_lamp")
        self.climb(1)
        self.assertEqual((self.at("lamps_before_dusk")[0], self.w.value("money")), ("done", 55))


class OtherEnds(Played):
    def test_too_late_for_the_lamps_fails_and_they_can_be_had_again(self):
        self.begin()
        self.use("work_slate")
        self.decide("start:lamps_before_dusk")
        self.w.wait(180 * 30)
        self.assertEqual(self.at("lamps_before_dusk")[0], "available")
        self.assertEqual(self.w.told("time_up"), ["Time is up: Lamps lit"])
        (logged,) = Painter(self.w.run).first()["hud"]["log"]
        self.assertEqual((logged["key"], logged["status"]), ("lamps_before_dusk", "available"))
        self.use("work_slate")
        self.decide("start:lamps_before_dusk")
        self.assertEqual(self.at("lamps_before_dusk")[0], "active")

    def test_what_is_declined_is_offered_again_by_the_card_or_in_words(self):
        self.begin()
        seen = []
        for answer in ("decline", "decline", "start"):
            self.use("work_slate")
            (card,) = Painter(self.w.run).first()["hud"]["offers"]
            self.assertEqual((card["by"], card["rewards"]), ("Work slate", ["15 shillings", "30 experience"]))
            self.decide(f"{answer}:lamps_before_dusk")
            seen.append(self.at("lamps_before_dusk")[0])
        self.assertEqual(seen, ["available", "available", "active"])
        self.begin()
        self.use("work_slate")
        self.use("work_slate")
        self.say("lamps_wanted", "r2")
        self.assertEqual(self.at("lamps_before_dusk")[0], "available")

    def test_what_is_given_up_can_be_had_again(self):
        self.begin(("status:word_for_owner", STATUSES.index("active")))
        self.decide("give up:word_for_owner")
        self.assertEqual(self.at("word_for_owner")[0], "available")

    def warden(self, *puts):
        last = ("stage:night_bloom", 4)
        self.begin(("status:night_bloom", STATUSES.index("active")), last, ("item:moon_orchid", 1), *puts)
        self.w.stand(*self.beside_the_warden())
        place = self.w.run.places.place_of("mr_quill")
        facing(self.w, place.x, place.y).press().wait(2)

    def beside_the_warden(self):
        place = self.w.run.places.place_of("mr_quill")
        return place.x, place.y - 1.0

    def test_the_warden_takes_the_flower_and_the_letter_is_lost(self):
        self.warden(("status:word_for_owner", STATUSES.index("active")))
        self.say("that_flower", "r1")
        self.assertEqual((self.at("night_bloom")[0], self.at("word_for_owner")[0]), ("done", "failed"))
        self.assertEqual((self.w.value("item:moon_orchid"), self.w.value("ended")), (0, 0))

    def test_the_warden_takes_it_without_a_letter_or_it_stays(self):
        self.warden()
        self.say("that_flower", "r2")
        self.assertEqual((self.at("night_bloom")[0], self.at("word_for_owner")[0]), ("done", "available"))
        self.warden()
        self.say("that_flower", "r3")
        self.assertEqual((self.at("night_bloom")[0], self.w.value("item:moon_orchid")), ("active", 1))
