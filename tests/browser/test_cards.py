"""Start cards in the interface: kept in a walk or from a point, changed in words, begun from the plan and by a digit."""

from __future__ import annotations

from selenium.webdriver.common.keys import Keys

from tests.browser.driving import Driven, wait_for
from vocanta.server import models


class StartCards(Driven):
    def card(self, name):
        return models.Card.objects.get(project_id=self.project, name=name)

    def lit(self):
        self.see('[data-prompt="palm_lamp"]', "Put out")

    def keep_the_lamp_lit(self):
        self.open_place("playtest/palm_lamp")
        self.see('[data-prompt="palm_lamp"]', "Light")
        self.keys("e")
        self.lit()
        self.keys(Keys.F10)
        self.see(".cards h1 input:focus").send_keys(Keys.CONTROL, "a")
        self.keys("Lit and waiting", Keys.ENTER)
        self.see("[data-card=lit_and_waiting]", "Lit and waiting")
        self.see_kept()
        holds = [h["column"] for h in self.card("Lit and waiting").holds]
        self.assertEqual([c for c in holds if c not in ("cell", "entry", "in_reach:palm_lamp")], ["state:palm_lamp"])

    def test_a_spot_kept_in_a_walk_is_begun_from_by_its_digit_and_changed_in_words(self):
        self.keep_the_lamp_lit()
        self.assertEqual(self.browser.find_elements("css selector", ".news"), [])
        self.open_place("plan/yard_bell")
        self.see("article h1", "Yard bell")
        self.chord(Keys.ALT, self.card("Lit and waiting").digit)
        self.see_address("card=lit_and_waiting")
        self.see(".start", "from Lit and waiting")
        self.lit()
        self.click('button[aria-label="Change Lit and waiting"]')
        self.click('.cards button[aria-label="Take out: Palm House lamp lit"]')
        self.see(".cards li", "as the level begins")
        self.keys(Keys.F2)
        self.see('[data-prompt="palm_lamp"]', "Light")
        self.chord(Keys.CONTROL, Keys.ENTER)
        self.see("article h1", "Yard bell")

    def test_a_spot_kept_while_walking_leaves_the_keys_to_the_walk(self):
        self.open_place("playtest/palm_lamp")
        self.see('[data-prompt="palm_lamp"]', "Light")
        self.hold("s")
        self.keys(Keys.F10)
        self.see(".cards h1")
        self.assertEqual([], self.browser.find_elements("css selector", ".cards h1 input"))
        self.let_go("s")
        self.click('.cards h1 [role="button"]')
        self.see(".cards h1 input:focus").send_keys(Keys.ESCAPE)

    def test_what_it_holds_that_is_deleted_is_said_to_be_left_out(self):
        self.keep_the_lamp_lit()
        self.open_place("plan/palm_lamp")
        self.keys(Keys.DELETE)
        self.click(".clean .link", "delete it and leave holes there")
        self.see_none("[data-object=palm_lamp]")
        self.see_kept()
        self.open_place("playtest?card=lit_and_waiting")
        self.see(".news", "Begun again here. Left out: Palm House lamp lit.")
        self.see(".cards", "1 thing left out")

    def test_a_point_is_kept_from_the_plan_and_walked_from_there_and_back(self):
        self.open_place("plan/sluice_wheel?as_if=dry_feet.open_sluice")
        self.click(".as-if button", "keep as a start card")
        self.see(".as-if", "kept as “Dry Feet: open the sluice”")
        self.click(".as-if button", "end it")
        self.open_place("plan/yard_bell")
        card = self.card("Dry Feet: open the sluice")
        self.click(f".shelf a[href*='card={card.key}']")
        self.see(".quests", "Dry Feet")
        self.see('[data-prompt="sluice_wheel"]')
        self.chord(Keys.CONTROL, Keys.ENTER)
        self.see("article h1", "Yard bell")
        self.assertNotIn("card=", self.browser.current_url)
        self.mouse_at(self.middle(f".plan [data-card={card.key}] text")).click().perform()
        self.see_address(f"card={card.key}")
        self.see(".start", "from Dry Feet: open the sluice")
        self.see('[data-prompt="sluice_wheel"]')

    def test_a_card_is_laid_elsewhere_on_the_plan(self):
        self.open_place("plan/yard_bell")
        before = self.card("At the vault, oil in hand")
        x, y = self.middle(".plan [data-card=oil_in_hand] text")
        self.drag(self.see(".plan [data-card=oil_in_hand] text"), (x - 60, y - 60))

        def moved():
            after = self.card("At the vault, oil in hand")
            return after.x_m < before.x_m - 1 and after.y_m > before.y_m + 1

        wait_for(moved, "the card to lie up and to the left")
        self.chord(Keys.CONTROL, "z")
        wait_for(lambda: self.card("At the vault, oil in hand").x_m == before.x_m, "the undo")

    def test_an_entry_of_the_chronicle_is_a_start_as_it_was_then(self):
        self.open_place("playtest/palm_lamp")
        self.see('[data-prompt="palm_lamp"]', "Light")
        self.keys("e")
        self.lit()
        self.see('[data-told="state"]', "lit")
        self.keys("e")
        self.see('[data-prompt="palm_lamp"]', "Light")
        self.click('[data-told="state"] .what button', "lit")
        self.click(".chronicle .link", "start here")
        self.see(".cards h1 input:focus").send_keys(Keys.ENTER)
        self.see(".cards li", "Palm House lamp lit")
        self.click(".cards [data-card^=after]")
        self.see(".start", "from After: Palm House lamp set to lit")
        self.lit()
