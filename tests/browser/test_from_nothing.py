"""A designer's evening: from an empty project to a quest that is offered, timed, handed in and rewarded, and played."""

from __future__ import annotations

from selenium.webdriver.common.keys import Keys

from tests.browser.driving import Driven
from vocanta.server import models

MOST = 100
"""Clicks, and groups of keys that are typed at one go."""


class FromNothing(Driven):
    """Counts what a hand does."""

    def setUp(self):
        super().setUp()
        self.done = 0

    def click(self, selector, text=None):
        self.done += 1
        super().click(selector, text)

    def keys(self, *keys):
        self.done += 1
        super().keys(*keys)

    def chord(self, *keys):
        self.done += 1
        super().chord(*keys)

    def walk_to(self, x, y):
        self.done += 1
        super().walk_to(x, y)

    def choose(self, label, typed, section="article"):
        self.done += 2
        super().choose(label, typed, section)

    def place(self, what, x, y):
        """A thing on the floor, by a double click and a few letters."""
        self.mouse_at(self.on_plan(x, y)).double_click().perform()
        self.done += 1
        self.see(".pick-list input:focus")
        self.keys(what, Keys.ENTER)

    def fill(self, *words):
        """The words of what was just added, each of which opens by itself."""
        for word in words:
            self.see(".edit-word.open input:focus, .edit-word.open textarea:focus")
            self.see_options(word)
            self.keys(word, Keys.ENTER)

    def see_options(self, word):
        if self.browser.find_elements("css selector", ".edit-word.open .seek"):
            self.see(".options button.active")

    def test_a_quest_with_its_talk_is_written_from_nothing_and_played(self):
        self.begin()
        self.set_the_scene()
        self.write_the_quest()
        self.write_the_talk()
        self.write_the_menu()
        self.play()
        self.assertLess(self.done, MOST)

    def begin(self):
        self.open("/")
        self.click('input[aria-label="Name of a new project"]')
        self.keys("Bell evening", Keys.ENTER)
        self.see(".band", "Bell evening")
        self.project = models.Project.objects.latest("pk").pk

    def set_the_scene(self):
        self.see(".plan .world")
        for what, x, y in (("talker", 3, 3), ("board", 6, 4), ("console", 9, 3), ("switch", 4, 6)):
            self.place(what, x, y)
            self.see_address(f"/plan/{what}")
            self.see_saved()

    def write_the_quest(self):
        self.click(".band a", "Quests")
        self.see(".quests h1", "No quests")
        self.keys("n")
        self.fill("Ring it in")
        self.see("article h1", "Ring it in")
        self.keys("b")
        self.fill("Listen")
        self.see_address("listen")
        self.keys("b")
        self.fill("Tell")
        self.see_address("tell")
        self.click("[data-bead=first_stage]")
        self.see("article", "stage 1 of 3")
        self.objective("use", "Switch")
        self.limit("120")
        self.click("[data-bead=listen]")
        self.see("article", "stage 2 of 3")
        self.objective("use", "Console")
        self.click(".objective .link", "optional")
        self.see(".objective", "optional:")
        self.objective("talk", "Talker")
        self.click("article p.small .link", "Ring it in")
        self.see("article", "Nobody offers it")
        self.choose("handed in to", "Talker")
        self.choose("who offers it", "Board")
        self.see(".offer", "Ring it in")
        self.reward("give", "money")
        self.see(".offer", "1 ")

    def reward(self, *words):
        self.click('[data-field="rewards"] .adds .link')
        self.fill(*words)
        self.see_none(".edit-word.open")

    def write_the_talk(self):
        self.click(".band a", "Dialogue")
        self.see("section.talk h1")
        self.opener("Quiet tonight, is it not?", "… is …", "Ring it in", "available")
        self.opener("Pull it, and be quick.", "… at …", "Ring it in", "First stage")
        self.opener("Now listen.", "… at …", "Ring it in", "Listen")
        self.opener("Well rung.", "… is …", "Ring it in", "done")

    def write_the_menu(self):
        self.click(".band a", "Plan")
        self.see(".plan .world")
        self.click("[data-object=console] .disc")
        self.see("article h1", "Console")
        self.choose("button 1 while it cannot be used", "hidden")
        self.click("article .text-prose .link", "as text")
        self.see(".cue-text textarea:focus")
        self.chord(Keys.CONTROL, "a")
        self.keys('when chosen first only if console used fewer than 1 times then say "It hums."')
        self.chord(Keys.CONTROL, "e")
        self.see(".text-prose", "only if Console was used fewer than 1 time")
        self.see_saved()

    def play(self):
        self.click("[data-object=board] .disc")
        self.chord(Keys.CONTROL, Keys.ENTER)
        self.see("[data-prompt=board]")
        self.see("[data-button=take_ring_it_in]", "Ring it in")
        self.keys("1")
        self.see("[data-offer=ring_it_in]", "For it: 1")
        self.keys("1")
        self.see(".quests [role=timer]", "1:5")
        self.walk_to(4, 5)
        self.see("[data-prompt=switch]")
        self.keys("e")
        self.see(".quests", "Talk to Talker")
        self.walk_to(9, 2)
        self.see("[data-button=first]", "First")
        self.keys("1")
        self.see(".notices", "It hums.")
        self.see_none("[data-button=first]")
        self.see("[data-button=second]")
        self.walk_to(3, 2)
        self.see("[data-prompt=talker]")
        self.keys("e")
        self.see(".talk-box", "Now listen.")
        self.see(".quests", "ready")
        self.talk_again("Thank you.")
        self.see(".purse", "1 ")
        self.talk_again("Well rung.")

    def talk_again(self, words):
        self.see_none(".talk-box")
        self.see("[data-prompt=talker]")
        self.keys("e")
        self.see(".talk-box", words)

    def opener(self, words, *need):
        self.keys("o")
        self.see(".draft-line textarea:focus, textarea:focus")
        self.keys(words, Keys.ENTER)
        self.see("article.chosen", words)
        self.keys(Keys.ESCAPE)
        self.see_none("textarea")
        self.click('[data-field="needs"] .adds .link')
        self.see(".options button.active")
        self.fill(*need)
        self.see_none(".edit-word.open")
        self.see_saved()

    def objective(self, *words):
        self.click("article .link", "+ objective")
        self.fill(*words)
        self.see_none(".edit-word.open")
        self.see_saved()

    def limit(self, seconds):
        self.click('[data-word="time limit in seconds, empty for none"]')
        self.fill(seconds)
        self.see(".objective", "within 2 min")
