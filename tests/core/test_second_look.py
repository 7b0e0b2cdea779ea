"""Rules of a run that once fell: clocks after a fault, presses after things moved, copies, carriers, thin exits, pairs."""

from __future__ import annotations

import dataclasses
import math
import unittest

from tests.core.small import DOWN, UP, Situation, post, project, thing, two_levels
from tests.core.walked import walked
from vocanta.core.engine.inputs import Input
from vocanta.core.progress.layout import STATUS
from vocanta.core.project.records import Body, Cue, Exit, Objective, Prompt, Quest, Reach, Role, Stage, State

CHASE = ("when gained money\nthen\n  add 1 to money", "when lost money\nthen\n  add 1 to money")


SECOND = Prompt("p1", "Carry off", "second")


class AfterAFault(unittest.TestCase):
    """What runs out in an action that does not settle runs out again, without those that chase each other."""

    def chased(self, *cues, ticks):
        w = walked(project(post("box", *cues, *CHASE))).press().wait(ticks)
        self.assertEqual(len(w.told("fault")), 1)
        return w

    def test_a_cue_that_waits_goes_on(self):
        w = self.chased("when used\nthen\n  wait 1 s\n  give nut\n  add 1 to money", ticks=40)
        self.assertEqual((w.value("item:nut"), w.value("money")), (1, 1))

    def test_what_comes_later_comes(self):
        w = self.chased(
            "when used\nthen\n  later after 1 s", "when later\nthen\n  give nut\n  add 1 to money", ticks=40
        )
        self.assertEqual((w.value("item:nut"), w.value("money")), (1, 1))

    def test_a_time_limit_fails_its_quest(self):
        waits = Objective("late", "Late", "have", ("pin",), time_s=1.0)
        quest = Quest("errand", "Errand", stages=(Stage("go", "Go", objectives=(waits,)),), cues=())
        failing = "when failed errand\nthen\n  give nut\n  add 1 to money"
        box = post("box", "when used\nthen\n  start errand", failing, *CHASE)
        w = walked(project(box, quests=(quest,))).press().wait(40)
        self.assertEqual((len(w.told("fault")), w.value("item:nut"), w.value("money")), (1, 1, 1))


class Presses(unittest.TestCase):
    def test_what_was_put_elsewhere_in_the_same_tick_is_not_pressed(self):
        """Another control carries the lamp off to where nobody reaches it; no column changes by that."""
        lever = post("lever", "when used with second\nthen\n  put lamp at far", x=2.0, y=2.0, prompts=(SECOND,))
        small = project(post("lamp", "when used\nthen\n  give nut"), lever, post("far", x=16.0, y=8.0, prompts=()))
        w = walked(small, 2.0, 1.0).wait(2)
        w.run.tick(Input(down=("second", "use")))
        self.assertEqual((w.place("lamp")[1], w.value("item:nut")), (16.0, 0))

    def test_a_prompt_whose_otherwise_does_something_is_usable(self):
        cue = "when used\nonly if this used fewer than 1 times\nthen\n  give nut\notherwise\n  give pin"
        w = walked(project(post("box", cue))).press().wait(1)
        (prompt,) = w.run.here.prompts.live.values()
        self.assertEqual((prompt.usable, prompt.reason), (True, ""))
        self.assertEqual((w.press().value("item:nut"), w.value("item:pin")), (1, 1))

    def test_a_refusal_of_its_own_before_the_otherwise_is_still_one(self):
        cue = 'when used\nonly if has pin or else say "No pin."\nthen\n  give nut\notherwise\n  give pin'
        w = walked(project(post("box", cue))).wait(1)
        (prompt,) = w.run.here.prompts.live.values()
        self.assertEqual((prompt.usable, prompt.reason), (False, "No pin."))


class Copies(unittest.TestCase):
    MOTH = "when used\nonly if this used fewer than 1 times\nthen\n  give nut\notherwise\n  remove this"

    def test_a_new_copy_was_never_used(self):
        moth = post("moth", x=18.0, y=8.0)
        kind = dataclasses.replace(moth[0], cues=(Cue("k1", self.MOTH),))
        box = post("box", "when used\nthen\n  put moth_kind at this by 0 m, 3 m", x=2.0, y=2.0)
        w = walked(project(box, (kind, moth[1])), 2.0, 1.0)
        for nuts in (1, 2):
            w.go(2.0, 1.0).press().go(2.0, 4.2).press()
            self.assertEqual(w.value("item:nut"), nuts)
            w.press()

    def test_a_new_copy_does_not_hear_what_the_one_before_it_asked_for(self):
        moth = post("moth", x=18.0, y=8.0)
        cues = "when used\nthen\n  later after 5 s\n  remove this", "when later\nthen\n  give pin"
        kind = dataclasses.replace(moth[0], cues=tuple(Cue(f"k{i}", text) for i, text in enumerate(cues)))
        box = post("box", "when used\nthen\n  put moth_kind at this by 0 m, 3 m", x=2.0, y=2.0)
        w = walked(project(box, (kind, moth[1])), 2.0, 1.0)
        w.press().go(2.0, 4.2).press().go(2.0, 1.0).press().wait(200)
        self.assertEqual(w.value("item:pin"), 0)

    def test_who_is_gone_hears_what_they_asked_for(self):
        box = post("box", "when used\nthen\n  later after 1 s\n  remove this", "when later\nthen\n  give pin")
        self.assertEqual(walked(project(box)).press().wait(40).value("item:pin"), 1)


class Carriers(unittest.TestCase):
    def pip(self, *cues, **more):
        return thing("pip", *cues, x=6.0, y=6.0, prompts=(), walks=True, body=Body("circle", 0.6, 0.6), **more)

    def test_whoever_is_down_is_not_sent_and_can_be_asked_again(self):
        bell = post("bell", "when used\nthen\n  later by pip", "when later\nthen\n  give pin", x=2.0, y=2.0)
        lever = post("lever", "when used\nthen\n  down pip", x=8.0, y=2.0)
        w = walked(project(bell, lever, self.pip(comes_back_s=5.0)), 8.0, 1.0).press().go(2.0, 1.0).press()
        self.assertEqual((len(w.told("refused")), w.value("carrier:pip")), (1, 0))
        w.wait(150).press().wait(300)
        self.assertEqual(w.value("item:pin"), 1)

    def test_after_a_delivery_in_another_level_nobody_walks_off_to_an_old_goal(self):
        bell = post("bell", "when used\nthen\n  later by pip", "when later\nthen\n  give pin", x=4.0, y=6.0)
        small = two_levels(self.pip(), lower=(bell,), exits=(DOWN,), back=(UP,))
        w = walked(small, 5.0, 3.0).go(5.0, 1.0).go(4.0, 5.0).press()
        while not w.value("item:pin"):
            w.wait(1)
        self.assertEqual(w.run.situation.level, "below")
        w.go(7.0, 4.0).wait(90)
        self.assertEqual(
            (w.run.situation.level, w.value("carrier:pip"), w.place("pip")), ("level", 0, ("level", 6.0, 6.0))
        )
        walker = next(iter(w.run.here.mover.walkers.values()))
        self.assertEqual((walker.goal, walker.x, walker.y), (None, 6.0, 6.0))


class Thin(unittest.TestCase):
    def left(self, depth, speed):
        out = Exit("way_down", "Way down", 10.0, 5.0, 0.0, depth, 4.0, "below", 4.0, 4.0)
        small = two_levels(exits=(out,))
        small = dataclasses.replace(small, player=dataclasses.replace(small.player, speed_mps=speed))
        return walked(small, 8.0, 5.0, 0.0).move(1.0, 0.0, 30).run.situation.level

    def test_an_exit_is_taken_however_thin_it_is_and_however_fast_one_walks(self):
        for depth, speed in ((0.1, 3.5), (0.6, 20.0), (0.02, 20.0)):
            with self.subTest(depth=depth, speed=speed):
                self.assertEqual(self.left(depth, speed), "below")


class Pairs(unittest.TestCase):
    """Off and on within one action: the cue of what came last is read last."""

    def lit(self, *cues):
        """Whether the lamp is lit once its reach went off and on again under whoever stands in it."""
        states = State("bright", "bright"), State("dim", "dim", reach_on=False)
        lamp = post("lamp", *cues, x=2.0, y=2.0, prompts=(), states=states)
        blink = post("blink", "when used\nthen\n  set lamp to dim\n  set lamp to bright", x=2.0, y=2.0)
        w = walked(project(lamp, blink), 2.0, 1.0).wait(2)
        self.assertEqual(w.value("fact:wet"), 1)
        w.press().wait(3)
        return w.value("fact:wet")

    def test_whatever_the_order_on_the_page(self):
        on, off = "when near\nthen\n  set wet to yes", "when away\nthen\n  set wet to no"
        self.assertEqual((self.lit(on, off), self.lit(off, on)), (1, 1))


class Segments(unittest.TestCase):
    def test_a_quest_step_sees_what_the_steps_before_it_have_changed(self):
        quest = Quest("errand", "Errand", needs="wet", stages=(Stage("go", "Go"),))
        box = post("box", "when used\nthen\n  set wet to yes\n  start errand")
        w = walked(project(box, quests=(quest,))).press()
        self.assertEqual((w.told("not_allowed"), w.value("stage:errand"), w.value("status:errand")), ([], 0, 3))


class HandedIn(unittest.TestCase):
    """What the steps before have brought about counts for *hand in*; what they take away was there before."""

    def errand(self, *cues, **objective):
        asked = Objective("o", "O", **{"type": "have", "targets": ("nut",), **objective})
        quest = Quest("q", "Q", stages=(Stage("one", "One", objectives=(asked,)),))
        return Situation(
            project(
                post("go", "when used\nthen\n  start q"),
                *(post(f"p{i}", c) for i, c in enumerate(cues)),
                quests=(quest,),
            )
        )

    def test_what_was_just_given_or_set_is_there(self):
        for step, objective in (
            ("give nut", {}),
            ("set wet to yes", {"type": "fact", "targets": ("wet",)}),
            ("set this to ajar", {"type": "state", "targets": ("p0",), "state": "ajar"}),
        ):
            here = self.errand(f"when used\nthen\n  {step}\n  hand in q", **objective)
            here.use("go")
            here.use("p0")
            self.assertEqual(STATUS["done"], here["status:q"], step)
            self.assertNotIn("not_allowed", here.kinds_told())

    def test_what_was_met_and_is_taken_by_the_same_steps_was_there(self):
        here = self.errand("when used\nthen\n  give nut", "when used\nthen\n  take nut\n  hand in q")
        for key in ("go", "p0", "p1"):
            here.use(key)
        self.assertEqual(STATUS["done"], here["status:q"])

    def test_what_is_not_there_is_not_handed_in(self):
        here = self.errand("when used\nthen\n  hand in q")
        here.use("go")
        here.use("p0")
        self.assertEqual(STATUS["active"], here["status:q"])
        self.assertIn("not_allowed", here.kinds_told())


class ObjectsEntered(unittest.TestCase):
    def test_a_bare_entered_needs_no_near_beside_it(self):
        pad = post("pad", "when entered\nthen\n  give nut", x=5.0, y=5.0, prompts=(), reach=Reach("circle", 1.0))
        self.assertEqual(walked(project(pad), 2.0, 5.0).move(1.0, 0.0, 40).value("item:nut"), 1)


class Numbers(unittest.TestCase):
    def told(self, step):
        w = walked(project(post("box", f"when used\nthen\n  {step}\n  {step}")))
        w.press()
        return w.told("counted") + w.told("gained")

    def test_what_stops_at_its_limit_is_told_by_as_much_as_fitted(self):
        self.assertEqual(self.told("add 3 to tally"), ["+3 Tally (3)", "+1 Tally (4)"])
        self.assertEqual(self.told("add 4 to tally"), ["+4 Tally (4)", "Tally stays at 4"])


class LostAgain(unittest.TestCase):
    def test_an_objective_met_and_lost_again_has_its_time_again(self):
        has = Objective("has_it", "Has it", "have", ("nut",), time_s=2.0)
        other = Objective("other", "Other", "have", ("pin",))
        quest = Quest("errand", "Errand", stages=(Stage("go", "Go", objectives=(has, other)),))
        box = thing("box", "when used\nthen\n  start errand\n  give nut", "when held\nthen\n  take nut")
        w = walked(project(box, quests=(quest,))).press().wait(90)
        self.assertEqual((w.value("met:has_it"), w.value("limit:has_it")), (1, 0))
        w.press("second", 20)
        self.assertEqual((w.value("met:has_it"), w.value("limit:has_it")), (0, 1))
        w.wait(61)
        self.assertEqual(len(w.told("time_up")), 1)


class Named(unittest.TestCase):
    def test_whoever_a_role_must_be_is_named_as_shown(self):
        box = post("box", "when used\nonly if guide is old_elm\nthen\n  give nut")
        other = post("old_elm", "when held\nthen\n  fill guide with this", x=9.0)
        small = project(box, other)
        small = dataclasses.replace(small, roles=(Role("guide", "Guide"),))
        self.assertEqual(walked(small).press().told("unmet"), ["Not met: Guide must be Old_Elm"])


class WhereItStood(unittest.TestCase):
    def test_somebody_on_a_round_is_put_where_they_stood_as_the_cue_began(self):
        texts = "when used\nthen\n  wait 2 s\n  put lamp where it stood"
        pip = thing("pip", texts, x=2.0, y=2.0, walks=True, speed_mps=1.0, body=Body("circle", 0.5, 0.5))
        kind, one = pip
        pip = kind, dataclasses.replace(one, round=((2.0, 2.0), (12.0, 2.0)))
        w = walked(project(pip, thing("lamp", x=18.0, y=9.0, prompts=())))
        began = w.run.places.place_of("pip")
        w.press().wait(90)
        there = w.place("lamp")
        self.assertLess(abs(there[1] - began.x), 0.2)
        self.assertGreater(w.run.places.place_of("pip").x, 3.5)


class InBodies(unittest.TestCase):
    def test_whoever_is_moved_stands_beside_what_blocks_there(self):
        post_ = thing("post", "when used\nthen\n  move player to shrine", x=2.0, y=2.0, body=Body("none"))
        shrine = thing("shrine", x=10.0, y=5.0, prompts=(), body=Body("box", 1.0, 1.0))
        pillar = thing("pillar", x=10.0, y=4.2, prompts=(), body=Body("box", 1.0, 1.0))
        w = walked(project(post_, shrine, pillar)).press().wait(2)
        player = w.run.situation.player
        for x, y in ((10.0, 5.0), (10.0, 4.2)):
            gap = math.hypot(max(abs(player.x - x) - 0.5, 0.0), max(abs(player.y - y) - 0.5, 0.0))
            self.assertGreaterEqual(gap, w.project.player.radius_m - 1e-6)
        self.assertLess(math.hypot(player.x - 10.0, player.y - 4.2), 3.0)

    def test_what_is_scattered_lies_in_nothing_that_blocks(self):
        moth = thing("moth", x=1.0, y=9.0, prompts=(), body=Body("none"), reach=Reach("none"))
        texts = "when used\nthen\n  scatter 12 moth_kind around this within 1.5 m at most 12"
        box = thing("box", texts, body=Body("none"))
        block = thing("block", x=2.0, y=3.0, prompts=(), body=Body("box", 2.0, 1.0))
        w = walked(project(box, block, moth)).press()
        spots = [w.place(f"moth_kind@box_1.{n}") for n in range(1, 13)]
        inside = [s for s in spots if abs(s[1] - 2.0) < 1.0 and abs(s[2] - 3.0) < 0.5]
        self.assertEqual((len(spots), inside), (12, []))
