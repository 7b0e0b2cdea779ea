"""Keys work wherever the focus is, and what is typed into a word is no command."""

from __future__ import annotations

from selenium.webdriver.common.keys import Keys

from tests.browser.driving import Driven, wait_for
from vocanta.server import models


class KeysEverywhere(Driven):
    def count(self, model):
        return model.objects.filter(project_id=self.project).count()

    def test_after_a_word_was_changed_on_the_page_the_keys_of_the_plan_work_on(self):
        self.open_place("plan/yard_bell")
        self.rewrite(self.word("name"), "Great bell")
        self.see("article h1", "Great bell")
        before = self.count(models.Object)
        self.chord(Keys.CONTROL, "d")
        wait_for(lambda: self.count(models.Object) == before + 1, "the copy")
        self.see("article h1", "Great bell 2")
        self.keys(Keys.ESCAPE)
        self.see(".intro", "running order")

    def test_the_help_opens_and_closes_by_keys(self):
        self.open_place("plan")
        self.see(".plan")
        self.keys("?")
        self.see(".keys", "draw walls and areas")
        self.keys("stay-cl")
        self.see(".keys .words", "A motion that is refused while somebody is in its way.")
        self.keys(Keys.ESCAPE)
        self.see(".keys", "draw walls and areas")
        self.keys(Keys.ESCAPE)
        self.see_none(".keys")
        self.keys("w")
        self.see(".plan.drawing")

    def test_a_text_that_is_being_typed_is_kept_before_its_page_is_left_or_holds_one_there(self):
        self.open_place("quests/dry_feet")
        needs = models.Quest.objects.filter(project=self.project, key="dry_feet")
        self.click('[data-field="needs"] .link', "as text")
        self.see(".cue-text textarea:focus").send_keys("has copper_key")
        self.click(".band a", "Proof")
        self.see_address("/proof")
        self.see_kept()
        self.assertEqual(needs.get().needs, "has copper_key")
        self.open_place("quests/dry_feet")
        self.click('[data-field="needs"] .link', "as text")
        self.see(".cue-text textarea:focus").send_keys(" what")
        self.chord(Keys.CONTROL, Keys.ENTER)
        self.see('[data-field="needs"]', "cannot stand here")
        self.see_address("/quests/dry_feet")
        self.assertEqual(self.see(".cue-text textarea").get_attribute("value"), "has copper_key what")
        self.assertEqual(needs.get().needs, "has copper_key")

    def test_after_a_click_on_a_tool_the_playtest_walks_on(self):
        self.open_place("playtest/yard_bell")
        self.see('[data-prompt="yard_bell"]')
        self.click(".page .tools button", "reaches")
        self.hold("d")
        self.see(".chronicle, section", "Away from Yard bell")
        self.let_go("d")

    def test_what_is_typed_after_a_new_opener_is_its_words(self):
        self.open_place("dialogue/odile_marr_talk")
        self.see("article[data-line]")
        before = self.count(models.Line)
        self.keys("o")
        self.keys("orooro")
        self.see("textarea:focus").send_keys(Keys.CONTROL, "a")
        self.keys("Ooo, more rope!", Keys.ENTER, "o", Keys.BACKSPACE, Keys.ENTER)
        self.see("article.chosen", "Ooo, more rope!")
        self.see_none("textarea")
        self.see_saved()
        self.assertEqual((self.count(models.Line), self.count(models.Reply)), (before + 1, self.replies))

    def setUp(self):
        super().setUp()
        self.replies = self.count(models.Reply)

    def test_all_of_a_level_is_selected_a_name_selects_and_the_plan_stays_as_it_was_over_a_walk(self):
        self.open_place("plan")
        self.see("[data-object=yard_bell]")
        self.chord(Keys.CONTROL, "a")
        self.see("article", "objects")
        self.see("[data-object=yard_bell] .name").click()
        self.see_address("yard_bell")
        self.keys("+", "+")
        looked = self.at_rest(lambda: self.see(".plan .world").get_attribute("transform"))
        self.chord(Keys.CONTROL, Keys.ENTER)
        self.see("[data-prompt]")
        self.chord(Keys.CONTROL, Keys.ENTER)
        self.see_address("plan/yard_bell")
        self.assertEqual(looked, self.at_rest(lambda: self.see(".plan .world").get_attribute("transform")))
