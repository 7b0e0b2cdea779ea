"""Findings in the interface: a flaw made on purpose, read, mended, undone; right as it is; the whole list by keys."""

from __future__ import annotations

from selenium.webdriver.common.keys import Keys

from tests.browser.driving import Driven, wait_for
from vocanta.demo import first_draft
from vocanta.server import listing


class AFlawMadeOnPurpose(Driven):
    def test_shows_its_pennant_without_a_reload_is_read_on_the_page_mended_and_undone(self):
        self.open_place("plan/east_wing_door")
        self.choose("stay clear", "moves")
        self.see("[data-object=east_wing_door] [data-pennant]")
        self.see("nav .number", "1")
        self.see("article [data-finding=door_shuts_on_somebody]", "can shut on somebody who stands in it")
        self.see('article .amiss[data-word="stay clear"]')
        self.click("article [data-finding=door_shuts_on_somebody] .link", "keep clear")
        self.see_none("[data-object=east_wing_door] [data-pennant]")
        self.see_none("article [data-finding]")
        self.chord(Keys.CONTROL, "z")
        self.see("[data-object=east_wing_door] [data-pennant]")
        self.chord(Keys.CONTROL, "z")
        self.see_none("[data-object=east_wing_door] [data-pennant]")
        self.see_none("nav .number")

    def test_is_underlined_in_the_sentence_it_stands_in(self):
        self.open_place("plan/yard_bell")
        self.write_cue("when used\nthen\n  sound ? at this")
        self.see("article .text-prose .word.amiss", "…")
        self.click("article [data-finding=silent_sound] .link", "make one")
        self.see_none("article [data-finding]")
        self.see("article .text-prose", "Yard bell sound")


class OfTheFirstDraft(Driven):
    def setUp(self):
        self.project = listing.taken_in(first_draft()).pk

    def title(self, words):
        self.see(".findings h1", words)

    def test_one_is_right_as_it_is_for_a_reason_listed_and_brought_back(self):
        self.open_place("findings")
        self.title("13 findings")
        self.click("[data-finding=reward_given_twice] .whole")
        self.see("article h1", "A reward that is given twice")
        self.rewrite(self.word("reason"), "Odile pays double.")
        self.title("Twelve findings")
        self.click(".findings .link", "right as it is: 1 hidden")
        self.see("[data-finding=reward_given_twice]", "right, because Odile pays double.")
        self.click("[data-finding=reward_given_twice] .whole")
        self.click("article .link", "bring it back")
        self.see("nav .number", "13")

    def test_the_whole_list_goes_by_keys(self):
        self.open_place("findings")
        self.title("13 findings")
        seen = []
        for _ in range(13):
            before = self.browser.current_url
            self.keys("j")
            wait_for(lambda was=before: self.browser.current_url != was, "the next finding")
            seen.append(self.browser.current_url)
        self.assertEqual(len(set(seen)), 13)
        self.keys("k")
        self.see_address(seen[11].rpartition("/")[2])
        self.open_place("findings")
        self.title("13 findings")
        self.keys("j")
        self.see("article h1", "A slot that is not filled in")
        self.keys("j")
        self.see("article .mend", "available again when it was declined")
        self.keys(Keys.ENTER)
        self.title("Twelve findings")
        self.see("article h1", "A cue or line that is never read")
        self.keys("g")
        self.see_address("/dialogue/came_back")
        self.see("[data-flagged=came_back]", "never says")

    def test_from_anywhere_a_key_goes_to_the_next_where_it_stands(self):
        self.open_place("quests")
        self.see("nav .number", "13")
        self.chord(Keys.ALT, "j")
        self.see_address("/plan/spare_crate")
        self.see("article [data-finding=slot_not_filled_in]")
        self.chord(Keys.ALT, "j")
        self.see_address("/quests/lamps_before_dusk")
        self.chord(Keys.ALT, "k")
        self.see_address("/plan/spare_crate")

    def test_filters_are_words_and_stand_in_the_address(self):
        self.open_place("findings")
        self.title("13 findings")
        self.choose("check", "more is asked", ".findings")
        self.see_address("check=too_few")
        wait_for(lambda: len(self.browser.find_elements("css selector", ".findings [data-key]")) == 2, "two findings")
        self.see(".findings", "6 can be had, 9 are asked for")
        self.browser.refresh()
        self.see(".findings", "6 can be had, 9 are asked for")
        self.see('.findings input[aria-label="Filter by words"]').send_keys("brass")
        wait_for(lambda: len(self.browser.find_elements("css selector", ".findings [data-key]")) == 1, "one finding")

    def test_two_tabs_that_mend_the_same_are_told_both_sides(self):
        self.open_place("findings")
        self.click("[data-finding=quest_lost_when_declined] .whole")
        self.see("article .mend", "available again")
        first = self.browser.current_window_handle
        address = self.browser.current_url
        self.browser.switch_to.new_window("tab")
        self.browser.get(address)
        self.see("article .mend", "available again")
        self.click("article .do")
        self.title("Twelve findings")
        self.browser.close()
        self.browser.switch_to.window(first)
        self.see("article h1", "That is put right")
        self.title("Twelve findings")

    def test_a_pennant_says_what_it_stands_for(self):
        self.open_place("plan")
        badge = self.see("[data-object=sluice_wheel] [data-pennant]").find_element("xpath", "..")
        self.assertIn("likely wrong: Sluice wheel can be worked from", badge.get_attribute("aria-label"))


class Nothing(Driven):
    def test_an_empty_project_has_no_finding_and_one_sentence(self):
        self.project = listing.new_project("Nothing yet").pk
        self.open_place("findings")
        self.see(".findings .empty", "Nothing is amiss, as far as can be told before anybody plays.")
