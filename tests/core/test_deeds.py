"""Every sort of deed of a kept walk: written down, done again where things stand elsewhere, and random walks done again."""

from __future__ import annotations

import dataclasses
import random
import unittest

from tests.core.small import DOOR, DOWN, TOGGLE, UP, USE, post, project, thing, two_levels
from tests.core.test_walks import AT_THE_START, again, recorded
from vocanta.core.engine.beginning import Start
from vocanta.core.engine.inputs import Input
from vocanta.core.project.keeping import Walk
from vocanta.core.project.records import Ability, Body, Button, Prompt, Quest, Reach, Stage
from vocanta.core.walks.comparing import could_come_to

STILL = [Input()]


def press(control: str = "use", held: int = 1) -> list[Input]:
    return [Input(down=(control,)), *STILL * held, Input(up=(control,))]


def go(x: float, y: float, ticks: int = 100) -> list[Input]:
    return [Input(walk_to=(x, y)), *STILL * ticks]


def kept_of(of, *inputs: Input, start: Start | None = None) -> Walk:
    """A walk held to all that it came to."""
    recorder = recorded(of, *inputs, start=start)
    began = start or Start(10.0, 5.0, 0.0, level="level")
    begins = dataclasses.replace(AT_THE_START, x_m=began.x, y_m=began.y, facing_deg=began.facing_deg)
    came = tuple(recorder.came)
    wanted, ticks = tuple(could_come_to(recorder.run)), recorder.run.situation.tick
    return Walk("walk", "Walk", begins, 0, ticks, recorder.deeds(), came, wanted, tuple(recorder.pressed))


def moved(of, dx: float = 4.0, dy: float = 1.5):
    """The same project with every object elsewhere."""
    levels = (
        dataclasses.replace(
            lv, objects=tuple(dataclasses.replace(o, x_m=o.x_m + dx, y_m=o.y_m + dy) for o in lv.objects)
        )
        for lv in of.levels
    )
    return dataclasses.replace(of, levels=tuple(levels))


class EachSort(unittest.TestCase):
    def done_again(self, of, *inputs: Input, changed=None, start: Start | None = None) -> list[str]:
        """The sorts of deeds that were written down; the walk comes to the same in the same project and in a changed one."""
        walk = kept_of(of, *inputs, start=start)
        self.assertTrue(walk.comes_to)
        same, other = again(walk, of), again(walk, changed or moved(of))
        self.assertEqual((same.same, same.how), (True, "as pressed"), same)
        self.assertEqual((other.same, other.how, other.stuck), (True, "as meant", ""), other.parting)
        return [deed.do for deed in walk.deeds if deed.do not in ("go", "wait")]

    def test_a_hold_is_held_until_it_is_done_however_long_that_takes_now(self):
        of = project(thing("lever", "when held then set this to wide", x=4.0))
        longer = (Prompt("p1", "Use {object}"), Prompt("p2", "Hold {object}", "second", hold_s=2.0))
        slow = project(thing("lever", "when held then set this to wide", x=4.0, prompts=longer))
        inputs = (*go(4.0, 3.0), *press("second", 20))
        self.assertEqual(self.done_again(of, *inputs, changed=slow), ["hold"])

    def test_a_button_is_pressed_by_its_name_or_by_its_words(self):
        def desk(*buttons: Button):
            cues = [f"when chosen {b.key} then set wet to yes" for b in buttons if b.wording == "Ask"]
            return project(thing("desk", *cues, x=4.0, prompts=(Prompt("p1", "Desk", buttons=buttons),)))

        of = desk(Button("ask", "Ask"), Button("back", "Return"))
        named_otherwise = desk(Button("other", "Return"), Button("question", "Ask"))
        self.assertEqual(self.done_again(of, *go(4.0, 3.0), Input(choose="ask")), ["choose"])
        self.assertEqual(self.done_again(of, *go(4.0, 3.0), Input(choose="ask"), changed=named_otherwise), ["choose"])

    def test_an_ability_is_used_on_what_it_was_aimed_at(self):
        gong = thing("gong", "when struck by leap then set wet to yes", x=4.0, y=6.0, prompts=(), body=Body("none"))
        giver = thing("giver", "when used then grant leap", x=4.0, y=2.0, prompts=USE)
        leap = Ability("leap", "Leap", control="second", range_m=5.0, aim_deg=20.0)
        of = dataclasses.replace(project(giver, gong), abilities=(leap,))
        inputs = (*go(4.0, 3.2), *press(), Input(look=90.0), *STILL, *press("second"))
        self.assertEqual(self.done_again(of, *inputs), ["use", "strike"])

    def test_a_quest_is_taken_on_and_given_up(self):
        board = thing("board", "when used then offer errand", x=4.0)
        errand = Quest("errand", "Errand", stages=(Stage("go", "Go"),))
        of = project(board, quests=(errand,))
        inputs = (*go(4.0, 3.0), *press(), Input(decide="start:errand"), *STILL * 9, Input(decide="give up:errand"))
        self.assertEqual(self.done_again(of, *inputs), ["use", "decide", "decide"])

    def test_an_exit_leads_to_another_level_wherever_it_is_now(self):
        lever = thing("lever", TOGGLE, x=6.0, y=6.0)
        of = two_levels(lower=(lever,), exits=(DOWN,), back=(UP,))
        elsewhere = two_levels(lower=(lever,), exits=(dataclasses.replace(DOWN, x_m=15.0, y_m=8.0),), back=(UP,))
        inputs = (*go(5.0, 1.0), *go(6.0, 4.8), *press())
        walk = kept_of(of, *inputs)
        self.assertIn(("go", "way_down"), [(d.do, d.at) for d in walk.deeds])
        outcome = again(walk, elsewhere)
        self.assertEqual((outcome.same, outcome.how), (True, "as meant"))
        shut = two_levels(lower=(lever,), exits=(dataclasses.replace(DOWN, open_at_start=False),), back=(UP,))
        self.assertEqual(again(walk, shut).stuck, "Way down leads on to nowhere now")

    def test_a_door_is_waited_for_until_it_can_be_used_again(self):
        door = thing("door", TOGGLE, x=4.0, y=4.0, **DOOR)
        slow = thing("door", TOGGLE, x=4.0, y=4.0, **{**DOOR, "cool_down_s": 2.0})
        inputs = (*go(4.0, 3.0), *press(), *STILL * 40, *press(), *STILL * 40)
        walk = kept_of(project(door), *inputs)
        outcome = again(walk, project(slow))
        self.assertEqual((outcome.same, outcome.parting), (True, None))

    def test_who_is_refused_at_first_is_refused_again_and_then_not(self):
        gate = thing("gate", "when used only if has nut then set this to wide", x=4.0, y=2.0)
        of = project(gate, thing("giver", "when used then give nut", x=9.0, y=2.0))
        inputs = (*go(4.0, 3.0), *press(), *go(9.0, 3.0), *press(), *go(4.0, 3.0), *press())
        walk = kept_of(of, *inputs)
        self.assertEqual([d.came for d in walk.deeds if d.do == "use"], [False, True, True])
        self.assertTrue(again(walk, moved(of)).same)


class RandomWalks(unittest.TestCase):
    """Walks up to random things of a small project, uses and holds of them, waits: done again they come to the very same."""

    THINGS = (
        post("mint", "when used then give nut", x=3.0, y=2.0),
        post("mill", "when used only if has 2 nut then take 2 nut give pin", x=9.0, y=2.0),
        thing("lamp", TOGGLE, x=15.0, y=2.0, reach=Reach("circle", 1.2)),
        thing("vat", "when held only if has pin then set this to next set wet to yes", x=3.0, y=7.5),
        thing("door", "when used only if wet then set this to next", x=15.0, y=7.5, **DOOR),
    )

    def random_inputs(self, seed: int) -> list[Input]:
        r, found = random.Random(seed), []
        things = project(*self.THINGS).levels[0].objects
        for _ in range(14):
            one = r.choice(things)
            found += go(one.x_m + r.uniform(-0.3, 0.3), one.y_m - r.uniform(0.7, 1.0), 160)
            found += press(r.choice(("use", "use", "second")), r.choice((1, 20)))
            found += STILL * r.choice((0, 10, 40))
        return found

    def test_in_the_same_project_and_with_everything_moved(self):
        of = project(*self.THINGS)
        shifted = moved(of, 0.7, 0.4)
        refused = took = 0
        for seed in range(5):
            walk = kept_of(of, *self.random_inputs(seed))
            uses = [d for d in walk.deeds if d.do in ("use", "hold")]
            refused += sum(not d.came for d in uses)
            took += sum(d.came for d in uses)
            pressed, meant = again(walk, of), again(walk, shifted)
            self.assertEqual((pressed.same, pressed.how), (True, "as pressed"), seed)
            self.assertEqual((meant.same, meant.parting, meant.stuck), (True, None, ""), (seed, meant.parting))
        self.assertGreater(min(refused, took), 10)


if __name__ == "__main__":
    unittest.main()
