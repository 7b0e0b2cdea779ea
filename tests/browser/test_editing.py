"""Editing quests, talks, items and kinds on the real interface."""

from __future__ import annotations

import unittest

from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tests.browser.driving import Driven


class QuestsAndTalks(Driven):
    def test_a_quest_is_written_from_nothing_and_played(self):
        self.open_place("quests")
        self.keys("n")
        self.see("article h1", "New quest")
        self.rewrite(self.word("name"), "Ring twice")
        self.click("article ol .link", "First stage")
        self.rewrite(self.word("name"), "Ring the bell")
        self.see_address("ring_the_bell")
        self.click("article .link", "+ objective")
        self.choose("objective type", "use")
        self.choose("target", "Yard bell")
        self.choose("all met", "finish")
        self.see("article", "All met: finish the quest.")
        self.open_place("plan/yard_bell")
        self.click("article .link", "+ cue")
        self.see(".edit-word input:focus").send_keys(Keys.ESCAPE)
        self.chord(Keys.CONTROL, Keys.ENTER)
        self.see('[data-prompt="yard_bell"]')

    def choose(self, label, typed):
        """Open a choice, type some of it, take the first that fits."""
        self.word(label).click()
        field = self.see(".edit-word input:focus")
        field.send_keys(typed)
        self.see(".options button.active", "")
        field.send_keys(Keys.ENTER)
        self.see_none(".edit-word.open")

    def test_a_cue_is_built_word_by_word_without_its_language(self):
        self.open_place("plan/yard_bell")
        self.add("+ need", "has", "copper")
        self.see(".text-prose", "only if the player has copper key")
        self.add("+ step", "say", "Dong!")
        self.add("+ otherwise", "say", "It has no clapper.")
        self.see(".text-prose", "sound Yard bell at it and say “Dong!”. Otherwise say “It has no clapper.”.")
        self.chord(Keys.CONTROL, Keys.ENTER)
        self.see('[data-prompt="yard_bell"].dim', "needs copper key, has 0")
        self.keys("e")
        self.see(".notices", "It has no clapper.")

    def add(self, what, phrase, word):
        """Add a part to the first cue: its phrase, then the word in the hole that opens."""
        self.click(".adds .link", what)
        self.see(".options button.active")
        self.keys(phrase, Keys.ENTER)
        self.see_hole(phrase)
        self.keys(word, Keys.ENTER)
        self.see_none(".edit-word.open")

    def see_hole(self, phrase):
        """Wait until the hole of the new phrase is the one that is open."""
        if phrase == "say":
            self.see(".edit-word.open textarea:focus")
        else:
            self.see(".options button", "copper key")

    def test_a_bead_is_put_between_two_others_and_moved(self):
        self.open_place("quests/dry_feet.find_key")
        self.see(".objective")
        self.keys("b")
        self.see_address("stage_4")
        self.assertEqual(self.beads(), ["find_key", "stage_4", "open_sluice", "report_back"])
        self.chord(Keys.ALT, Keys.ARROW_RIGHT)
        self.see_saved()
        self.see("article", "stage 3 of 4")
        self.assertEqual(self.beads(), ["find_key", "open_sluice", "stage_4", "report_back"])

    def beads(self):
        thread = "[aria-label='Thread of Dry Feet'] [data-bead]"
        return [e.get_attribute("data-bead") for e in self.browser.find_elements(By.CSS_SELECTOR, thread)]

    def test_the_page_of_a_stage_leads_to_what_touches_it(self):
        self.open_place("quests/dry_feet.report_back")
        self.click("article .link", "Sluice wheel")
        self.see_address("/plan/sluice_wheel")

    def test_lines_and_replies_are_written_where_they_stand(self):
        self.open_place("dialogue/mind_the_wet")
        self.rewrite(self.see('[data-line="mind_the_wet"] [data-word="line"]'), "Mind the wet, do.")
        self.see('[data-line="mind_the_wet"]', "Mind the wet, do.")
        self.click('[data-line="mind_the_wet"] .margin')
        self.keys("r")
        self.see('[data-line="mind_the_wet"]', "New reply.")
        self.click("article .text-prose .link", "as text")
        area = self.see(".cue-text textarea")
        area.send_keys("dry_feet past find_", Keys.TAB)
        area.send_keys(Keys.CONTROL, "e")
        self.see("article .text-prose", "Dry Feet is past Find the key")

    def test_a_needs_text_that_cannot_be_read_is_told_and_not_lost(self):
        self.open_place("dialogue/mind_the_wet")
        self.click("article .text-prose .link", "as text")
        area = self.see(".cue-text textarea")
        area.send_keys("has coper_key")
        area.send_keys(Keys.CONTROL, "e")
        self.see("article .problems", "Nothing is called “coper_key”")
        self.see("article .problems", "copper_key")
        self.assertEqual(self.see(".cue-text textarea").get_property("value"), "has coper_key")


class KindsAndValues(Driven):
    def test_a_value_of_its_own_is_marked_put_back_and_made_the_kinds(self):
        self.open_place("plan/palm_lamp")
        self.rewrite(self.word("reach size"), "2")
        self.see(".own", "reach radius: 2 m")
        self.see("article header", "1 value")
        self.click(".own .link", "back to the kind’s")
        self.see('article [data-word="reach size"]', "1.3 m")
        self.see_none(".own-mark")
        self.rewrite(self.word("reach size"), "2")
        self.click(".own-mark[aria-label='reach size is of its own']")
        self.click(".own-line .link", "make it the kind’s")
        self.see_none(".own")
        self.open_place("plan/yard_lamp_west")
        self.see('article [data-word="reach size"]', "2 m")

    def test_a_state_is_added_named_and_shown_moving(self):
        self.open_place("plan/east_wing_door")
        self.click("article .link", "+ state")
        self.rewrite(self.word("state name"), "ajar")
        self.see(".strip .state", "ajar")
        self.rewrite(self.word("swing"), "30")
        self.see(".strip", "swings -50°")
        self.click(".strip .show")
        self.see(".object .showing")
        self.see_none(".object .showing")

    def test_a_duplicate_is_one_edit_with_its_cues(self):
        self.open_place("plan/sluice_wheel")
        self.see(".text-prose .word")
        self.browser.execute_script("document.activeElement.blur()")
        self.chord(Keys.CONTROL, "d")
        self.see("article h1", "Sluice wheel 2")
        self.see(".text-prose", "The wheel will not move without its key.")
        self.chord(Keys.CONTROL, "z")
        self.see_none('[data-object="sluice_wheel_2"]')

    def test_objects_are_dragged_and_turned(self):
        self.open_place("plan/yard_bell")
        self.see("article h1", "Yard bell")
        self.drag(self.see('[data-object="yard_bell"] .disc'), self.on_plan(4.0, 4.0))
        self.see('article [data-word="x"]', "4")
        self.keys("]")
        self.see('article [data-word="turn"]', "345°")

    def test_wrong_numbers_are_refused_beside_the_offer_to_mend_them(self):
        self.open_place("plan/yard_bell")
        self.rewrite(self.word("width"), "-3")
        self.see(".refusal", "greater than 0")
        self.browser.refresh()
        self.see('article [data-word="width"]', "0.4")


class Things(Driven):
    def test_an_item_is_made_renamed_in_cues_and_deleted_with_its_uses(self):
        self.open_place("items/copper_key")
        self.rewrite(self.word("name in cues"), "brass_key")
        self.see_address("/items/brass_key")
        self.open_place("plan/sluice_wheel")
        self.click("article .text-prose .link", "as text")
        self.assertIn("has brass_key", self.see(".cue-text textarea").get_property("value"))
        self.open_place("items/brass_key")
        self.click("article .last .link", "delete")
        self.click("article .clean .trouble", "leave holes")
        self.open_place("plan/sluice_wheel")
        self.see(".text-prose .problems", "Something is not filled in yet")

    def test_finding_leads_to_the_page_of_what_was_found(self):
        self.open_place("plan")
        self.see("[data-order]")
        self.keys("/")
        self.see(".find input").send_keys("report")
        self.see("#found li.active", "Report back")
        self.keys(Keys.ENTER)
        self.see_address("/quests/dry_feet.report_back")

    def test_the_gutter_moves_and_the_back_button_goes_back(self):
        self.open_place("plan")
        self.click('[data-order="palm_lamp"]')
        self.see("article h1", "Palm House lamp")
        before = self.see(".left").size["width"]
        gutter = self.see(".gutter")
        self.drag(gutter, (500, 300))
        self.assertLess(self.see(".left").size["width"], before - 150)
        self.browser.back()
        self.see("article h1", "The Glasshouse")
        self.browser.execute_script("localStorage.clear()")


if __name__ == "__main__":
    unittest.main()
