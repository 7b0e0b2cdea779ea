"""The Glasshouse and the Cistern of the demo: every object of them played."""

from __future__ import annotations

import unittest

from tests.core.walked import Walked
from vocanta.core.engine.inputs import Input
from vocanta.core.engine.why import explained
from vocanta.core.phrases.vocabulary import STATUSES


def facing(w: Walked, x: float, y: float) -> Walked:
    """Turn the player towards a place."""
    import math

    w.run.tick(Input(look=math.degrees(math.atan2(y - w.run.situation.player.y, x - w.run.situation.player.x))))
    return w


def choose(w: Walked, key: str) -> Walked:
    w.run.tick(Input(choose=key))
    return w


class TheShedAndThePumpRoom(unittest.TestCase):
    def test_the_supply_crate_gives_its_hook_once(self):
        w = Walked("supply_crate_1").press().wait(20).press().wait(5)
        self.assertEqual((w.value("item:pruning_hook"), w.value("uses:supply_crate_1")), (1, 0))
        self.assertEqual(w.run.here.prompts.live, {})

    def test_the_crate_that_is_no_crate_bursts_into_moths_that_down_who_stays(self):
        w = Walked("odd_crate_1").press().wait(2)
        swarm = "moth_swarm@odd_crate_1_1.1"
        self.assertEqual((w.value("exists:odd_crate_1"), w.value(f"exists:{swarm}")), (0, 1))
        self.assertEqual(w.place(swarm)[1:], (7.2, 20.6))
        w.wait(100)
        self.assertEqual(len(w.told("player_downed")), 1)
        self.assertEqual((w.run.situation.player.x, w.run.situation.player.y), (5.6, 1.2))

    def test_a_swing_of_the_hook_disperses_the_moths_and_leaves_a_bag(self):
        w = Walked("odd_crate_1", puts=[("item:pruning_hook", 1), ("gear:right_hand", 1)]).press().wait(2)
        facing(w, 7.2, 20.6).press("cast")
        bag = "moth_bag@kind_moth_swarm_1.1"
        self.assertEqual(w.value(f"exists:{bag}"), 1)
        w.go(*w.place(bag)[1:]).press("use", 35)
        self.assertEqual((w.value("money"), w.value(f"exists:{bag}")), (12, 0))
        self.assertEqual(w.wait(120).told("player_downed"), [])

    def test_pods_from_the_racks_become_oil_and_too_few_say_so(self):
        w = Walked("rack_by_the_wall").press().press()
        self.assertEqual(w.value("item:dried_pods"), 2)
        w.go(6.4, 14.9)
        w = Walked("seed_press", puts=[("item:dried_pods", 2)]).press()
        self.assertEqual(w.told("notice"), ["“Three dried pods make one oil. You have 2.”"])
        w = Walked("seed_press", puts=[("item:dried_pods", 4)]).press().wait(80)
        self.assertEqual((w.value("item:dried_pods"), w.value("item:seed_oil")), (1, 1))

    def test_the_rickety_rack_scatters_its_pods(self):
        w = Walked("rack_by_the_door").press().wait(3)
        pods = [k for k in w.run.situation.spots if k.startswith("loose_pod") and w.value(f"exists:{k}")]
        self.assertEqual(len(pods), 2)
        for _, x, y in (w.place(p) for p in pods):
            self.assertEqual(
                w.run.situation.scene.floor.areas[w.run.situation.scene.floor.area_at(x, y)].key, "potting_shed"
            )

    def test_an_entry_of_the_pump_console_goes_once_it_was_used(self):
        w = Walked("pump_board").press().wait(2)
        choose(w, "r1").wait(2)
        self.assertEqual(w.value("fact:valve_set"), 1)
        action = w.run.situation.program.by_name["reply:two_valves/r1"]
        from vocanta.core.progress.onerow import holds_on

        self.assertFalse(holds_on(action.guard, w.run.situation.row))


class TheVault(unittest.TestCase):
    DRY = (("fact:east_wing_dry", 1),)

    def test_the_vines_ask_for_the_hook_in_hand_and_for_facing(self):
        w = Walked("vines", puts=self.DRY)
        self.assertEqual(w.run.here.prompts.live["use"].reason, "You need something with an edge.")
        w.run.tick(Input(look=90.0))
        self.assertEqual(w.run.here.prompts.live, {})
        w = Walked("vines", puts=[*self.DRY, ("item:pruning_hook", 1), ("gear:right_hand", 1)]).press()
        self.assertEqual(w.value("exists:vines"), 0)

    def test_the_vines_can_be_cut_from_the_gallery_with_the_long_reach(self):
        w = Walked("ladder", puts=[("ability:long_reach", 1), ("ability_uses:long_reach", 3)]).press().wait(2)
        self.assertEqual(
            w.run.situation.scene.floor.areas[
                w.run.situation.scene.floor.area_at(w.run.situation.player.x, w.run.situation.player.y)
            ].key,
            "gallery",
        )
        facing(w.go(20.0, 18.2), 27.7, 10.2).press("cast")
        self.assertEqual((w.value("exists:vines"), w.value("ability_uses:long_reach")), (0, 2))

    def test_from_the_gallery_one_can_drop_down_but_not_up(self):
        w = Walked("ladder").press().wait(2).go(14.0, 17.6)
        for _ in range(30):
            w.run.tick(Input(move=(0.0, -1.0)))
        self.assertLess(w.run.situation.player.y, 16.7)
        for _ in range(60):
            w.run.tick(Input(move=(0.0, 1.0)))
        self.assertLess(w.run.situation.player.y, 16.7)

    def test_the_vault_door_asks_for_key_and_oil(self):
        gone = [*self.DRY, ("exists:vines", 0)]
        w = Walked("vault_gate", puts=[*gone, ("item:copper_key", 1)])
        self.assertEqual(w.run.here.prompts.live["use"].reason, "The hinge will not give.")
        w = Walked("vault_gate", puts=[*gone, ("item:copper_key", 1), ("item:seed_oil", 1)]).press("second").press()
        self.assertEqual((w.value("item:seed_oil"), w.value("state:vault_gate")), (0, 1))

    def test_the_orchid_is_offered_only_by_the_light_of_all_four_lamps(self):
        lit = [(f"state:{k}", 1) for k in ("yard_lamp_west", "yard_lamp_east", "palm_lamp")]
        self.assertEqual(Walked("orchid", puts=lit).run.here.prompts.live, {})
        w = Walked("orchid", puts=[*lit, ("state:landing_lamp", 1)]).press()
        self.assertEqual(w.value("item:moon_orchid"), 1)


class ThePalmHouse(unittest.TestCase):
    def test_the_reach_of_the_trolley_goes_along_with_it(self):
        w = Walked("trolley").press().wait(100)
        self.assertEqual((w.value("state:trolley"), w.run.here.prompts.live), (1, {}))
        w.go(16.4, 8.2).wait(1)
        self.assertEqual(w.run.here.prompts.live["use"].wording, "Push Sliding trolley")

    def test_the_desk_keeps_hands_off_and_gives_them_back(self):
        hook = [("item:pruning_hook", 1), ("gear:right_hand", 1)]
        w = Walked("odile_desk", puts=hook).wait(2).press("cast")
        self.assertIn("not here", w.told("missed")[0])
        w.go(16.0, 12.0).press("cast")
        self.assertIn("nothing within", w.told("missed")[1])

    def test_the_hook_is_returned_at_the_desk_past_the_vines_only(self):
        puts = [("item:pruning_hook", 1), ("status:night_bloom", 3)]
        choose(w := Walked("odile_desk", puts=puts), "hook")
        self.assertEqual(w.told("notice"), ["“You will want it a while yet.”"])
        choose(w := Walked("odile_desk", puts=[*puts, ("stage:night_bloom", 3)]), "hook")
        self.assertEqual(w.value("item:pruning_hook"), 0)

    def test_mr_quill_raises_nobody_elses_prompt(self):
        w = Walked("odile_marr")
        begun = len(w.told("near"))
        w.wait(600)
        self.assertEqual(len(w.told("near")), begun)

    def test_the_slate_stands_fixed_on_the_screen_and_gives_work(self):
        w = Walked("work_slate")
        self.assertEqual(w.run.here.prompts.live["use"].prompt.place, "screen")
        w.press().wait(2)
        self.assertEqual(STATUSES[w.value("status:lamps_before_dusk")], "offered")
        w.run.tick(Input(decide="start:lamps_before_dusk"))
        self.assertEqual(STATUSES[w.value("status:lamps_before_dusk")], "active")


class LettersAndTheCistern(unittest.TestCase):
    def test_pip_brings_a_letter_after_the_next_change_of_area(self):
        w = Walked("pip_tarrow").press().wait(2)
        choose(w, "r1").wait(100)
        self.assertEqual((w.value("later:pip_tarrow") > 0, w.value("item:sealed_letter")), (True, 0))
        w.go(10.6, 9.5).wait(400)
        self.assertEqual((w.value("item:sealed_letter"), w.value("role:messenger")), (1, 1))
        w.wait(400)
        self.assertEqual((w.value("exists:pip_tarrow"), w.value("carrier:pip_tarrow")), (1, 0))

    def test_the_ladder_leads_down_and_up_and_the_fourth_lamp_counts_below(self):
        w = Walked("seed_press", puts=[("status:lamps_before_dusk", 3)]).go(1.4, 15.2)
        self.assertEqual(w.run.situation.scene.level.key, "cistern")
        w.go(2.3, 1.6).press()
        self.assertEqual(w.value("state:landing_lamp"), 1)
        w.go(1.6, 4.2)
        self.assertEqual(w.run.situation.scene.level.key, "glasshouse")

    def test_the_hall_drains_with_the_sluice(self):
        w = Walked("seed_press").go(1.4, 15.2).go(7.5, 2.5)
        self.assertLess(w.run.situation.player.x, 6.0)
        w = Walked("seed_press", puts=[("state:hall_water", 1)]).go(1.4, 15.2).go(9.0, 2.5)
        self.assertGreater(w.run.situation.player.x, 8.5)
        self.assertEqual(w.told("notice"), ["“The walls are still dripping.”"])

    def test_why_explains_panels_strikes_and_what_is_not_there_yet(self):
        w = Walked("odile_desk")
        why = explained(w.run, "odile_desk")
        self.assertEqual(
            [c["when"] for c in why["cues"]], ["when chosen “Ask for work”", "when chosen “Return the hook”"]
        )
        self.assertEqual(explained(w.run, "moth_swarm@odd_crate_1_1.1")["stopped_by"], "it is not there yet")
        self.assertIn("when struck by Long Reach", [c["when"] for c in explained(w.run, "vines")["cues"]])


if __name__ == "__main__":
    unittest.main()
