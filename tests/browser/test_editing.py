"""Editing quests, talks, items and kinds on the real interface."""

from __future__ import annotations

import unittest

from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tests.browser.driving import Driven, wait_for
from vocanta.server import models


class QuestsAndTalks(Driven):
    def test_a_quest_is_written_from_nothing_and_played(self):
        self.open_place("quests")
        self.keys("n")
        self.see("article h1 input:focus")
        self.keys("Ring twice", Keys.ENTER)
        self.see_saved()
        self.click("article ol .link", "First stage")
        self.see_address("first_stage")
        self.see("article", "stage 1 of 1")
        self.rewrite(self.word("name"), "Ring the bell")
        self.see_address("ring_the_bell")
        self.click("article .link", "+ objective")
        self.see(".objective .options button.active")
        self.keys("use", Keys.ENTER)
        self.see('.objective [data-word="target"] ~ * .options button, .objective .open [data-word="target"]')
        self.keys("Yard bell", Keys.ENTER)
        self.see(".objective", "Use Yard bell")
        self.see("article", "All met: the quest is done.")
        self.open_place("plan/yard_bell")
        self.click("article .link", "+ cue")
        self.see(".edit-word input:focus").send_keys(Keys.ESCAPE)
        self.chord(Keys.CONTROL, Keys.ENTER)
        self.see('[data-prompt="yard_bell"]')

    def test_a_cue_is_built_word_by_word_without_its_language(self):
        self.open_place("plan/yard_bell")
        self.add("+ need", "has", "copper")
        self.see(".text-prose", "only if the player has 1 copper key")
        self.add("+ step", "say", "Dong!")
        self.add("+ otherwise", "say", "It has no clapper.")
        self.see(".text-prose", "sound Yard bell at it and say “Dong!”. Otherwise say “It has no clapper.”.")
        self.chord(Keys.CONTROL, Keys.ENTER)
        self.see('[data-prompt="yard_bell"]:not(.dim)')
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

    def see_both(self, own):
        for words in own:
            self.see(".own", words)

    def test_values_of_an_objects_own_changed_in_a_row_are_all_kept(self):
        self.open_place("plan/palm_lamp")
        both = ("reach radius: 2 m", "prompt wording: Pull {object}")
        with self.edits_held():
            self.rewrite(self.word("reach size"), "2")
            self.rewrite(self.word("prompt wording"), "Pull {object}")
            self.see_both(both)
        self.browser.refresh()
        self.see_both(both)
        self.see(".prompt-picture", "Pull Palm House lamp")

    def test_words_changed_while_the_last_one_is_still_being_kept_lose_nothing(self):
        self.open_place("plan/yard_bell")
        self.write_cue('when used\nthen\n  say "One."\n  say "Two."')
        self.see(".text-prose", "say “One.” and say “Two.”")
        with self.edits_held():
            for number, words in enumerate(("Ding!", "Dong!")):
                spoken = f'.text-prose [data-piece="steps.{number}"] .edit-word:last-of-type .word'
                self.rewrite(self.see(spoken), words)
                self.see_none(".edit-word.open")
        self.see(".text-prose", "say “Ding!” and say “Dong!”")

    def test_a_stage_made_while_its_quest_is_being_named_stands_in_it(self):
        self.open_place("quests/dry_feet")
        with self.edits_held():
            self.rewrite(self.word("name"), "Wet feet")
            self.see("article h1", "Wet feet")
            self.see_none(".edit-word.open")
            self.keys("b")
        self.see_address("wet_feet.stage_4")
        self.see("article h1 input:focus")

    def test_a_bead_moved_twice_while_the_first_is_being_kept_goes_two_places(self):
        self.open_place("quests/dry_feet.find_key")
        self.see("article", "stage 1 of 3")
        with self.edits_held():
            for stage in ("stage 2 of 3", "stage 3 of 3"):
                self.chord(Keys.ALT, Keys.ARROW_RIGHT)
                self.see("article", stage)
        self.browser.refresh()
        self.see("article", "stage 3 of 3")
        self.assertEqual(self.beads(), ["open_sluice", "report_back", "find_key"])

    def test_a_bead_is_put_between_two_others_and_moved(self):
        self.open_place("quests/dry_feet.find_key")
        self.see(".objective")
        self.keys("b")
        self.see_address("stage_4")
        self.assertEqual(self.beads(), ["find_key", "stage_4", "open_sluice", "report_back"])
        self.see("article h1 input:focus")
        self.keys("Oil the wheel", Keys.ENTER)
        self.see_address("oil_the_wheel")
        self.see("article", "All met: on to “Open the sluice”")
        self.chord(Keys.ALT, Keys.ARROW_RIGHT)
        self.see("article", "stage 3 of 4")
        self.see_saved()
        self.assertEqual(self.beads(), ["find_key", "open_sluice", "oil_the_wheel", "report_back"])
        first = models.Stage.objects.get(project_id=self.project, key="find_key")
        self.assertEqual(first.then, "oil_the_wheel")

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
        self.see("textarea:focus")
        self.keys("I shall.", Keys.ENTER, Keys.ESCAPE)
        self.see('[data-line="mind_the_wet"]', "I shall.")
        self.click("article .text-prose .link", "as text")
        area = self.see(".cue-text textarea")
        area.send_keys("dry_feet past find_", Keys.TAB)
        area.send_keys(Keys.CONTROL, "e")
        self.see("article .text-prose", "Dry Feet is past “Find the key”")

    def test_a_needs_text_that_cannot_be_read_is_told_and_not_lost(self):
        self.open_place("dialogue/mind_the_wet")
        self.click("article .text-prose .link", "as text")
        area = self.see(".cue-text textarea")
        area.send_keys("has coper_key")
        area.send_keys(Keys.CONTROL, "e")
        self.see("article .problems", "Nothing is called “coper_key”")
        self.see("article .problems", "copper_key")
        self.assertEqual(self.see(".cue-text textarea").get_property("value"), "has coper_key")


class NeedsAndSteps(Driven):
    """The first cue of the vault door: take seed oil, set the hinge to oiled, play the oil, say that it drinks."""

    STEPS = ["take", "set", "play the sound", "say"]

    def setUp(self):
        super().setUp()
        self.open_place("plan/vault_gate")
        self.see_steps(self.STEPS)

    def see_steps(self, expected, cue=0):
        """Wait until the steps of a cue begin with these words."""
        script = """return [...document.querySelectorAll('.text-prose')[arguments[0]].querySelectorAll('[data-piece]')]
            .filter(p => p.dataset.piece.startsWith('steps')).map(p => p.querySelector('.word').textContent)"""
        wait_for(lambda: self.browser.execute_script(script, cue) == expected, f"the steps {expected}")

    def piece(self, place, cue=0):
        return self.browser.find_elements(By.CSS_SELECTOR, ".text-prose")[cue].find_element(
            By.CSS_SELECTOR, f'[data-piece="{place}"] .word'
        )

    def focus(self, place, cue=0):
        self.browser.execute_script("arguments[0].focus()", self.piece(place, cue))

    def test_a_step_is_dragged_before_another_and_the_edit_undone(self):
        read = "return performance.getEntriesByType('resource').some(r => r.name.endsWith('/running') && r.responseEnd)"
        wait_for(lambda: self.browser.execute_script(read), "what the program tells of the page")
        box = self.at_rest(lambda: self.piece("steps.0").rect)
        self.drag(self.piece("steps.2"), (round(box["x"]) + 2, round(box["y"]) + 2))
        self.see_steps(["play the sound", "take", "set", "say"])
        self.chord(Keys.CONTROL, "z")
        self.see_steps(self.STEPS)

    def test_a_step_is_put_later_and_taken_out_by_keys(self):
        self.focus("steps.0")
        self.chord(Keys.ALT, Keys.ARROW_DOWN)
        self.see_steps(["set", "take", "play the sound", "say"])
        wait_for(lambda: self.browser.switch_to.active_element.text == "take", "the moved step to have the focus")
        self.keys(Keys.DELETE)
        self.see_steps(["set", "play the sound", "say"])

    def test_a_need_is_copied_into_another_cue_and_a_step_put_after_another(self):
        self.focus("needs.0")
        self.chord(Keys.CONTROL, "c")
        self.see_copied("has seed_oil or else")
        self.focus("needs.1", cue=1)
        self.chord(Keys.CONTROL, "v")
        self.see(".text-prose", "is oiled (or else “The hinge will not give.”) and the player has 1 seed oil (or else")
        self.piece("steps.0").click()
        self.click(".more .link", "cut")
        self.see_steps(self.STEPS[1:])
        self.piece("steps.2").click()
        self.click(".more .link", "paste after it")
        self.see_steps(["set", "play the sound", "say", "take"])

    def see_copied(self, start):
        script = "return sessionStorage.getItem('copied-piece') || ''"
        wait_for(lambda: self.browser.execute_script(script).startswith(start), f"{start} to be copied")

    def test_a_need_pasted_among_steps_comes_to_stand_among_the_needs(self):
        self.focus("needs.0", cue=0)
        self.chord(Keys.CONTROL, "c")
        self.see_copied("has seed_oil")
        self.focus("steps.1", cue=1)
        self.chord(Keys.CONTROL, "v")
        self.see(".text-prose", "is oiled (or else “The hinge will not give.”) and the player has 1 seed oil (or else")

    def test_a_cue_is_read_earlier_by_keys(self):
        self.open_place("plan/moth_swarm")
        script = "return [...document.querySelectorAll('[data-cue]')].map(c => c.dataset.cue)"
        self.see("[data-cue]:nth-of-type(2) .word")
        before = self.browser.execute_script(script)
        self.browser.execute_script("document.querySelectorAll('[data-cue]')[1].querySelector('.word').focus()")
        self.chord(Keys.ALT, Keys.SHIFT, Keys.ARROW_UP)
        after = [before[1], before[0], *before[2:]]
        wait_for(lambda: self.browser.execute_script(script) == after, "the cues to change places")


class KindsAndValues(Driven):
    def test_a_kind_is_changed_on_its_own_page_and_its_copies_follow(self):
        self.open_place("project")
        self.click("li .mono", "moth_swarm")
        self.see("article", "No object is placed from it.")
        self.see("article", "crate that is no crate")
        self.click('[data-piece="steps.0"] [data-word="wording"]')
        self.see(".edit-word textarea:focus").send_keys(Keys.CONTROL, "a")
        self.keys("Wings everywhere.", Keys.ENTER)
        self.see(".text-prose", "Wings everywhere.")
        self.open_place("playtest/odd_crate_1")
        self.see('[data-prompt="odd_crate_1"]')
        self.keys("e")
        self.see('[data-told="notice"]', "Wings everywhere.")

    def test_an_object_placed_from_the_page_of_its_kind_stands_on_the_plan(self):
        self.open_place("plan/lamp")
        self.see("article", "changes all 4 objects")
        self.click("article .link", "place one")
        self.see_address("plan/lamp_")
        self.see("article", "all values")

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
        self.see(".pick-list input").send_keys("report")
        self.see(".pick-list li.active", "Report back")
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
