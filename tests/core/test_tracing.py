"""What brought an entry about, how a state came to be, and why for what is no object."""

from __future__ import annotations

import unittest

from tests.core.small import project, thing
from tests.core.test_demo_played import choose
from tests.core.walked import Walked, walked
from vocanta.core.engine.inputs import Input
from vocanta.core.engine.snapshots import Snapshots
from vocanta.core.engine.tracing import Tracer
from vocanta.core.engine.why import explained


def entry(run, what: str, subject: str = "") -> int:
    """The number of the last entry of a kind."""
    return max(n for n, e in enumerate(run.chronicle) if e.what == what and subject in ("", e.subject))


class Chains(unittest.TestCase):
    def test_each_link_leads_to_the_one_before_up_to_what_the_player_did(self):
        run = choose_and_take_the_book()
        tracer, row = Tracer(run), run.situation.row
        stage = tracer.because(entry(run, "stage"), row)
        self.assertEqual(stage["said"], "Met: Have the copper key")
        objective = tracer.because(stage["after"], row)
        self.assertEqual(objective["said"], "+1 copper key (1)")
        gained = tracer.because(objective["after"], row)
        self.assertEqual((gained["after"], gained["cause"]), (-1, "Use at Odile’s field book"))
        self.assertIsNone(tracer.because(len(run.chronicle), row))

    def test_a_refusal_shows_the_need_that_stopped_it_as_it_was_then(self):
        gate = thing("gate", "when used only if has nut and wet then set this to wide", x=4.0)
        giver = thing("giver", "when used then give nut", x=4.0, y=4.2)
        w = walked(project(gate, giver), 4.0, 3.1, -90.0)
        snapshots = Snapshots(w.run)
        w.press().wait(1)
        refused = entry(w.run, "unmet")
        w.go(4.0, 5.2)
        w.run.tick(Input(look=-90.0))
        w.press().wait(1)
        self.assertEqual(w.value("item:nut"), 1)
        row = snapshots.at(w.run.chronicle[refused].tick - 1).row
        because = Tracer(w.run).because(refused, row)
        self.assertEqual(
            [(n["text"], n["met"], n["detail"]) for n in because["needs"]], [("Has 1 nut", False, "has 0 of at most 3")]
        )

    def test_a_stretch_is_what_one_action_told(self):
        run = choose_and_take_the_book()
        book = entry(run, "gained", "copper_key")
        begun, end = run.ledger.stretch(book)
        self.assertEqual({e.cause.says for e in run.chronicle[begun:end]}, {"Use at Odile’s field book"})
        self.assertNotEqual(run.chronicle[begun - 1].cause.says, "Use at Odile’s field book")


def choose_and_take_the_book():
    w = Walked("odile_marr").press().wait(10)
    choose(w, "r1").wait(200)
    return w.go(5.4, 8.6).press().wait(2).run


class HowItCameToBe(unittest.TestCase):
    def test_a_state_says_since_when_and_by_what_it_is_so(self):
        gate = thing("gate", "when used then set this to wide", x=4.0)
        w = walked(project(gate), 4.0, 3.1, -90.0)
        self.assertNotIn("since", line_of(w.run, "gate", "State shut offers a prompt"))
        w.wait(29).press()
        since = line_of(w.run, "gate", "State wide offers a prompt")["since"]
        self.assertEqual((since["at"], since["text"], since["cause"]), ("00:01.0", "Gate set to wide", "Use at Gate"))
        self.assertEqual(w.run.chronicle[since["entry"]].text, "Gate set to wide")

    def test_a_need_of_several_parts_is_a_tree_of_them(self):
        gate = thing("gate", "when used only if has nut or (wet and not has pin) then set this to wide", x=4.0)
        (cue,) = [c for c in explained(walked(project(gate), 4.0, 3.1).run, "gate")["cues"] if c["when"] == "when used"]
        (need,) = cue["needs"]
        self.assertTrue(need["any"])
        self.assertEqual(need["parts"][0]["text"], "Has 1 nut")
        self.assertEqual([p["met"] for p in need["parts"]], [False, False])
        inner = need["parts"][1]
        self.assertEqual((inner["any"], [p["met"] for p in inner["parts"]]), (False, [False, True]))


def line_of(run, key: str, text: str):
    return next(one for one in explained(run, key)["place"] if one["text"] == text)


class WhyForTheRest(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.run_ = choose_and_take_the_book()

    def why(self, key: str):
        found = explained(self.run_, key)
        return found["stopped_by"], {one["text"]: one["met"] for one in found["place"]}

    def test_a_quest_says_where_it_is_what_is_not_met_and_where_to_meet_it(self):
        stopped, place = self.why("dry_feet")
        self.assertEqual(stopped, "not met: Hold the sluice wheel")
        self.assertEqual(place, {"Under way": True, "At “Open the sluice”": True, "Hold the sluice wheel": False})
        wheel = line_of(self.run_, "dry_feet", "Hold the sluice wheel")
        self.assertEqual(wheel["from"], [{"origin": "object/sluice_wheel", "text": "Sluice wheel"}])
        self.assertEqual(self.why("night_bloom")[0], "it is unavailable")

    def test_an_objective_of_another_stage_says_so_and_a_marker_where_it_points(self):
        self.assertEqual(self.why("have_the_key")[0], "Dry Feet is not at “Find the key”")
        marker = line_of(self.run_, "work_the_wheel", "Its marker points at Sluice wheel")
        self.assertEqual((marker["met"], marker["detail"].split()[-1]), (True, "m"))

    def test_a_line_says_the_need_that_keeps_it_and_each_of_its_replies_what_it_waits_for(self):
        self.assertEqual(self.why("listen_no_frogs")[0], "Dry Feet must be at “Report back”")
        cues = explained(self.run_, "listen_no_frogs")["cues"]
        self.assertEqual(cues[1]["when"], "can be answered “You are welcome.” when")
        self.assertEqual(self.why("good_then"), ("", {"It is led to": True}))

    def test_an_ability_an_item_and_what_is_elsewhere(self):
        self.assertEqual(self.why("long_reach")[0], "it was not granted")
        self.assertEqual(self.why("copper_key"), ("", {"The player has it": True}))
        self.assertEqual(self.why("seed_oil")[0], "the player has none")
        self.assertEqual(self.why("landing_lamp")[0], "it is in The Cistern")
        self.assertEqual(self.why("nobody_at_all")[0], "nothing has that name")


if __name__ == "__main__":
    unittest.main()
