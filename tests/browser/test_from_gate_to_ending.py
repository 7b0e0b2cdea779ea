"""The demo walked in the browser from the gate to its ending, by clicks on the floor and keys."""

from __future__ import annotations

import math

from selenium.webdriver.common.keys import Keys

from tests.browser.driving import Driven
from vocanta.core.engine.standing import standing_before
from vocanta.demo import night_bloom

FIRST_CLEAR = """
const at = document.querySelector('.night-floor > g').getScreenCTM()
const points = arguments[0].map(([x, y]) => new DOMPoint(x, y).matrixTransform(at))
const number = points.findIndex((p) => document.elementFromPoint(p.x, p.y)?.closest('.night-floor'))
return [number, [points[number].x, points[number].y]]
"""
"""The first of some places of the floor that can be clicked: seen, and under no card."""
THINGS = "return [...document.querySelectorAll('[data-thing]')].map((thing) => thing.dataset.thing)"
BESIDE_THE_VAULT_DOOR = (26.95, 9.2)
"""Out of the way of its swing."""


class FromTheGateToTheEnding(Driven):
    def test_it_is_played_to_its_ending(self):
        demo = night_bloom().project
        keys = [o.key for level in demo.levels for o in level.objects]
        self.before = {key: tuple(float(v) for v in standing_before(demo, key)[:2]) for key in keys}
        self.open_place("playtest")
        self.see(".night-floor")
        self.keys(Keys.F4, Keys.F4)
        self.see(".purse", "4 × speed")
        self.get_the_sluice_going()
        self.light_the_lamps()
        self.fetch_the_flower()
        self.see(".ended", "The level is won")

    def near(self, key, at=None):
        """Walk up to something until its prompt is there."""
        self.go(*(at or self.before[key]))
        self.see(f'[data-prompt="{key}"]')

    def go(self, x, y):
        """Click where to go; where that is out of sight, first as near to it as can be seen."""
        spots = [self.before[thing] for thing in self.browser.execute_script(THINGS)]
        near = [(x, y), *sorted(spots, key=lambda s: math.dist(s, (x, y)))]
        for _ in range(6):
            self.seen_at_rest(x, y)
            to, point = self.browser.execute_script(FIRST_CLEAR, near)
            self.mouse_at([round(v) for v in point]).click().perform()
            if to == 0:
                return
        self.fail(f"no way to see {x}, {y}")

    def use(self, key, control="e", at=None):
        self.near(key, at)
        self.keys(control)

    def talk(self, key, words, reply):
        self.use(key)
        self.see(".talk-box", words)
        self.keys(reply)

    def get_the_sluice_going(self):
        self.talk("odile_marr", "You are the new one", "1")
        self.see(".quests", "Have the copper key")
        self.use("field_book_bench")
        self.see('[data-item="copper_key"]')
        self.near("sluice_wheel")
        self.hold("f")
        self.see(".quests", "Tell Odile Marr")
        self.let_go("f")
        self.talk("odile_marr", "Listen. No frogs", "1")
        self.see(".purse", "40 shillings")
        self.see_none(".talk-box")
        self.talk("odile_marr", "It opens tonight", "1")
        self.see(".quests", "Have the pruning hook")

    def light_the_lamps(self):
        self.use("supply_crate_1")
        self.see('[data-item="pruning_hook"]')
        self.use("work_slate")
        self.see("[data-offer=lamps_before_dusk]")
        self.keys(Keys.F3, Keys.F3)  # The lamps are against the clock, and a busy machine is slow to click.
        self.keys("1")
        self.see(".quests", "0 of 4")
        for number, lamp in enumerate(("yard_lamp_west", "yard_lamp_east", "palm_lamp"), start=1):
            self.use(lamp)
            self.see(".quests", f"{number} of 4")
        self.go(1.4, 15.2)
        self.see('[data-thing="landing_lamp"]')
        self.use("landing_lamp")
        self.see(".purse", "55 shillings")
        self.keys(Keys.F4, Keys.F4)
        self.go(1.6, 4.2)
        self.see('[data-thing="sluice_wheel"]')

    def fetch_the_flower(self):
        for rack, pods in (("rack_by_the_wall", "2"), ("rack_in_the_corner", "4")):
            self.use(rack)
            self.see('[data-item="dried_pods"]', pods)
        self.use("seed_press")
        self.see('[data-item="seed_oil"]')
        self.use("east_wing_door")
        self.go(27.7, 12.8)
        self.use("vines")
        self.see(".quests", "Hinge oiled")
        self.use("vault_gate", "f", BESIDE_THE_VAULT_DOOR)
        self.see(".quests", "Have the moon orchid")
        self.keys("e")
        self.use("orchid")
        self.see('[data-item="moon_orchid"]')
        self.talk("odile_marr", "You have it.", "1")
