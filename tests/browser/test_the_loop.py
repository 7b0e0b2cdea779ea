"""The designer's whole loop on the real interface, and what must survive it."""

from __future__ import annotations

import unittest

from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tests.browser.driving import EXPECTED_REFUSALS, Driven, wait_for

CUE = 'when used only if has copper_key or else say "It wants the copper key." then set this to next start dry_feet'


class TheWholeLoop(Driven):
    expected = (*EXPECTED_REFUSALS, "ERR_CONNECTION_REFUSED")

    def test_place_size_word_wire_walk_and_find_it_again(self):
        self.open("/")
        self.click(".open", "The Night Bloom")
        self.place_a_switch()
        self.size_its_reach()
        self.word_its_prompt()
        self.wire_it()
        self.be_refused()
        self.fetch_the_key_and_succeed()
        self.hear_the_other_line()
        self.undo_and_redo()
        self.find_everything_after_reload_and_restart()

    def place_a_switch(self):
        self.see("[data-object=sluice_wheel]")
        self.mouse_at(self.on_plan(4.0, 3.5)).double_click().perform()
        self.see(".pick-list input").send_keys("sw")
        self.see(".pick-list li.active", "switch")
        self.keys(Keys.ENTER)
        self.see_address("/plan/switch")
        self.see("article h1", "Switch")

    def size_its_reach(self):
        self.drag(self.see('[data-handle="reach"]'), self.on_plan(5.8, 3.5))
        self.see('article [data-word="reach size"]', "1.8 m")
        self.see_saved()

    def word_its_prompt(self):
        self.rewrite(self.word("prompt wording"), "Pull {object}")
        self.see(".prompt-picture", "Pull Switch")

    def wire_it(self):
        self.write_cue(CUE)
        self.see(".text-prose", "only if the player has 1 copper key (or else “It wants the copper key.”)")
        self.see("article section", "Dry Feet")

    def be_refused(self):
        self.chord(Keys.CONTROL, Keys.ENTER)
        self.see('[data-prompt="switch"].dim', "It wants the copper key.")
        self.hold("s")
        self.see_none('[data-prompt="switch"]')
        self.let_go("s")
        self.hold("w")
        self.see('[data-prompt="switch"]', "Pull Switch")
        self.let_go("w")
        self.keys("e")
        self.see(".notices", "It wants the copper key.")
        self.see("[data-stopped]", "needs copper key, has 0")
        self.see(".why li.unmet", "has 0 of at most 1")
        self.see('[data-told="notice"]', "It wants the copper key.")

    def fetch_the_key_and_succeed(self):
        self.walk_to(5.4, 10.2)
        self.see('[data-prompt="field_book_bench"]')
        self.keys("e")
        self.see('[data-item="copper_key"]')
        self.walk_to(4.2, 4.6)
        self.see('[data-prompt="switch"]:not(.dim)')
        self.keys("e")
        self.see(".quests", "Open the sluice")
        self.see('[data-thing="switch"][data-state="raised"]')

    def hear_the_other_line(self):
        self.walk_to(11.4, 9.2)
        self.see('[data-told="crossed"]', "Palm House")
        self.walk_to(11.4, 13.9)
        self.see('[data-prompt="odile_marr"]')
        self.keys("e")
        self.see(".talk-box", "Well? Is it running?")
        self.keys("1")
        self.see(".talk-box", "Hold it till your arms ache")
        self.chord(Keys.CONTROL, Keys.ENTER)
        self.see_address("/plan/switch")

    def undo_and_redo(self):
        self.see(".text-prose", "copper key")
        self.chord(Keys.CONTROL, "z")
        self.see(".text-prose", "When it is used then set it to the next state.")
        self.chord(Keys.CONTROL, Keys.SHIFT, "z")
        self.see(".text-prose", "copper key")

    def find_everything_after_reload_and_restart(self):
        for again in (lambda: None, self.restart):
            again()
            self.see_kept()
            self.browser.refresh()
            self.see(".prompt-picture", "Pull Switch")
            self.see('article [data-word="reach size"]', "1.8 m")
            self.see(".text-prose", "only if the player has 1 copper key")
            self.assertTrue(self.see('button[aria-label="Undo"]').is_enabled())

    def restart(self):
        self.server.stop()
        self.server.start()


class SmallerThings(Driven):
    def test_a_cue_that_cannot_be_read_is_kept_as_a_draft_and_the_last_one_stays_in_force(self):
        self.open_place("plan/sluice_wheel")
        self.write_cue("when held then sett this to open")
        self.see(".draft", "sett this")
        self.see(".problems", "“sett” cannot stand here")
        self.see(".text-prose", "The wheel will not move without its key.")
        self.browser.refresh()
        self.see(".draft", "sett this")
        words = '.text-prose [data-word="seconds"], .text-prose [data-word="wording"]'
        self.at_rest(lambda: self.see(words).rect)
        self.rewrite(self.see(words), "Key first.")
        self.see(".text-prose", "“Key first.”")
        self.see(".draft", "sett this")

    def test_words_are_changed_where_they_stand(self):
        self.open_place("plan/sluice_wheel")
        self.see(".text-prose .word.need", "copper key").click()
        self.see(".edit-word input:focus").send_keys("field", Keys.ENTER)
        self.see(".text-prose", "only if the player has 1 Odile’s field book")

    def test_a_reference_can_be_pointed_at_on_the_plan(self):
        self.open_place("plan/sluice_wheel")
        self.see(".text-prose .word.step", "Report back")
        words = self.browser.find_elements(By.CSS_SELECTOR, ".text-prose .word.step")
        self.assertEqual(words[4].text, "play the sound")
        words[6].click()
        self.see(".edit-word input:focus")
        self.see('[data-object="palm_lamp"] .disc').click()
        self.see(".text-prose", "sound Water running at Palm House lamp")
        self.see_address("/plan/sluice_wheel")

    def test_a_reach_is_sized_by_keyboard(self):
        self.open_place("plan/sluice_wheel")
        self.browser.execute_script("arguments[0].focus()", self.see('[data-handle="reach"]'))
        self.keys(Keys.ARROW_UP)
        self.see('article [data-word="reach size"]', "1.7 m")

    def test_deleting_what_is_used_lists_the_uses_and_does_nothing_until_agreed(self):
        self.open_place("plan/sluice_wheel")
        self.click("article .last .link", "delete")
        self.see(".clean", "Open the sluice")
        self.see("[data-object=sluice_wheel]")
        self.click(".clean .trouble")
        self.see_none("[data-object=sluice_wheel]")
        self.chord(Keys.CONTROL, "z")
        self.see("[data-object=sluice_wheel]")

    def test_as_if_shows_what_would_be_live_and_walk_starts_there(self):
        self.open_place("dialogue/is_it_running")
        self.see('[data-line="you_are_the_new_one"]')
        self.open_place("plan")
        self.click('[data-bead="open_sluice"]')
        self.see(".as-if", "has copper key")
        self.see(".walk", "as if open the sluice")
        self.click(".band nav a", "Dialogue")
        self.see('[data-line="is_it_running"].lit', "said now")
        self.see('[data-line="the_key"]', "stopped: Dry Feet must be at “Find the key”")
        self.chord(Keys.CONTROL, Keys.ENTER)
        self.see(".quests", "Open the sluice")
        self.see('[data-item="copper_key"]')

    def test_states_of_objects_other_quests_and_counts_are_assumed_besides_and_changed(self):
        self.open_place("plan/palm_lamp?as_if=dry_feet.open_sluice")
        self.see(".as-if", "has copper key")
        for said, shown in (
            ("Palm House lamp is lit", "Palm House lamp"),
            ("Lamps Before Dusk is offered", "Lamps Before Dusk"),
            ("has 3 dried pods", "dried pods"),
        ):
            self.choose("also assume", said, ".as-if")
            self.see(".as-if", shown)
        self.click(".as-if .word", "Palm House lamp")
        self.see(".as-if .options button.active", "dark")
        self.keys(Keys.ENTER)
        self.see_none(".as-if .edit-word.open")
        self.chord(Keys.CONTROL, Keys.ENTER)
        self.see('[data-item="dried_pods"]', "3")
        self.see("[data-offer=lamps_before_dusk]")
        self.see('[data-thing="palm_lamp"][data-state="dark"]')

    def test_objects_are_moved_and_chosen_by_keyboard_alone(self):
        self.open_place("plan")
        badge = self.see('[data-object="yard_bell"]')
        self.browser.execute_script("arguments[0].focus()", badge)
        self.keys(Keys.ENTER)
        self.see_address("/plan/yard_bell")
        self.keys(Keys.ARROW_RIGHT)
        self.see('article [data-word="x"]', "2.25")
        self.keys(Keys.ESCAPE)
        self.see("article h1", "The Glasshouse")
        self.keys("l")
        self.see(".pick-list li.active", "lamp")
        self.keys(Keys.ENTER)
        self.see("article h1", "Lamp")

    def test_a_talk_is_tried_beside_its_words(self):
        self.open_place("dialogue/is_it_running?as_if=dry_feet.open_sluice")
        self.click("article .link", "begin it as if")
        self.see(".talk-box", "Well? Is it running?")
        self.click('[data-answer="r2"]')
        self.see("article section", "The talk has ended.")

    def test_a_connection_that_is_lost_is_taken_up_again(self):
        self.open_place("playtest/yard_bell")
        self.see('[data-prompt="yard_bell"]')
        self.keys("e")
        self.see('[data-told="sound"]', "Yard bell")
        self.server.stop()
        self.see(".lost")
        refused = []

        def a_try_is_refused():
            refused.extend(e["message"] for e in self.browser.get_log("browser"))
            return refused

        wait_for(a_try_is_refused, "a try to connect while the server is away")
        self.server.start()
        self.see_none(".lost")
        a_try_is_refused()
        self.assertEqual([m for m in refused if "ERR_CONNECTION_REFUSED" not in m], [])
        self.see('[data-told="sound"]', "Yard bell")
        self.see('[data-prompt="yard_bell"]')

    def test_projects_are_begun_copied_deleted_and_brought_back(self):
        self.open("/")
        self.see('input[aria-label="Name of a new project"]').send_keys("A long name " * 8, Keys.ENTER)
        self.see("article h1", "First level")
        self.open("/")
        self.click('[aria-label="Copy The Night Bloom"]')
        self.see(".open", "The Night Bloom (copy)")
        self.click('[aria-label="Delete The Night Bloom (copy)"]')
        self.see(".back", "is erased on")
        self.click(".back .link")
        self.see(".open", "The Night Bloom (copy)")

    def test_no_view_has_a_serious_fault_for_assistive_tools(self):
        with open("web/node_modules/axe-core/axe.min.js", encoding="utf-8") as source:
            axe = source.read()
        views = {
            "plan/sluice_wheel?as_if=dry_feet.open_sluice": ".text-prose .word",
            "plan/moth_swarm": ".text-prose .word",
            "plan/palm_house": ".corners",
            "quests/dry_feet.open_sluice": ".objective",
            "quests/dry_feet": "article ol",
            "dialogue/is_it_running": "[data-reply]",
            "items/copper_key": "td",
            "playtest/sluice_wheel": "[data-prompt]",
        }
        for path, sign in views.items():
            self.open_place(path)
            self.see(sign)
            self.browser.execute_script(axe)
            found = self.browser.execute_async_script(
                "axe.run(document, {resultTypes: ['violations']}).then(r => arguments[0](r.violations.filter(v => "
                "['serious', 'critical'].includes(v.impact)).map(v => v.id + ': ' + v.nodes.map(n => n.target).slice(0, 4).join(' '))))"
            )
            self.assertEqual(found, [], path)

    def test_every_place_says_what_to_do_when_it_is_empty(self):
        self.open("/")
        self.see('input[aria-label="Name of a new project"]').send_keys("Bare", Keys.ENTER)
        self.see("article .empty", "Double-click the floor")
        for place, words in {
            "quests": "No quest yet",
            "dialogue": "Nobody says anything yet",
            "items": "No item yet",
        }.items():
            self.click(f'.band nav a[href*="/{place}"]')
            self.see(".left", words)
        self.assertEqual(self.browser.find_elements(By.CSS_SELECTOR, ".problems li"), [])


if __name__ == "__main__":
    unittest.main()
