"""For whom a change is made, cues that follow their prompt, and refusals that reach the player."""

from __future__ import annotations

from selenium.webdriver.common.keys import Keys

from tests.browser.driving import Driven, wait_for
from vocanta.server import models


class ForWhom(Driven):
    def cues_of(self, key):
        owner = models.Record.objects.get(project_id=self.project, key=key, type__in=("object", "kind"))
        return list(models.Cue.objects.filter(owner=owner).values_list("text", flat=True))

    def test_an_inherited_cue_is_changed_for_this_one_and_then_made_the_kinds(self):
        before = self.cues_of("lamp")
        self.open_place("plan/palm_lamp")
        self.see("article .cue .for-whom [aria-checked=true]", "for this one")
        self.add_step("say")
        self.see("article .cue", "its own, in place of the kind’s")
        wait_for(lambda: len(self.cues_of("palm_lamp")) == 1, "its own cue")
        self.assertEqual(self.cues_of("lamp"), before)
        self.rewrite_hole("Click.")
        self.click("article .cue .adds .link", "make it the kind’s")
        self.see("article .cue", "of its kind")
        wait_for(lambda: "Click." in self.cues_of("lamp")[0], "the kind to have it")
        self.assertEqual(self.cues_of("palm_lamp"), [])

    def add_step(self, words):
        self.click("article .cue .adds .link", "+ step")
        self.see(".edit-word.open input:focus").send_keys(words, Keys.ENTER)

    def rewrite_hole(self, words):
        self.see(".edit-word.open textarea:focus").send_keys(words, Keys.ENTER)
        self.see("article .cue", words)

    def test_an_inherited_cue_and_a_value_are_changed_for_all_by_choice(self):
        self.open_place("plan/palm_lamp")
        self.click("article .cue .for-whom button", "for all 4")
        self.add_step("remove")
        wait_for(lambda: "remove" in self.cues_of("lamp")[0], "the kind to have the step")
        self.assertEqual(self.cues_of("palm_lamp"), [])
        self.open_place("plan/palm_lamp")
        self.word("reach size").click()
        self.click(".own-line .for-whom button", "for all 4")
        self.rewrite_open("2")
        self.see_none(".own-mark")
        self.open_place("plan/yard_lamp_west")
        self.see('article [data-word="reach size"]', "2 m")
        self.see("article header", "all values")

    def test_what_has_a_value_of_its_own_follows_its_kind_in_all_others(self):
        self.open_place("plan/palm_lamp")
        self.rewrite_number("reach size", "2")
        self.see(".own-mark")
        self.word("height").click()
        self.click(".own-line .for-whom button", "for all 4")
        self.rewrite_open("2.4")
        self.see("article [data-word=height]", "2.4 m")
        self.see('article [data-word="reach size"]', "2 m")
        self.see_kept()
        self.assertEqual(models.Object.objects.get(project_id=self.project, key="palm_lamp").own, {"reach.radius_m": 2})
        kind = models.Kind.objects.get(project_id=self.project, key="lamp").design
        self.assertEqual((kind["body"]["height_m"], kind["reach"]["radius_m"] == 2), (2.4, False))

    def rewrite_number(self, word, number):
        self.word(word).click()
        self.rewrite_open(number)

    def rewrite_open(self, number):
        self.see(".edit-word input:focus").send_keys(Keys.CONTROL, "a")
        self.keys(number, Keys.ENTER)

    def test_a_prompt_that_becomes_a_hold_offers_to_change_the_cue_with_it(self):
        self.open_place("plan/yard_bell")
        self.word("press or hold").click()
        self.keys("hold", Keys.ENTER)
        self.see("[data-in-vain]", "it waits for a press, and what is offered is a hold")
        self.click("[data-in-vain] .link", "when held")
        self.see_none("[data-in-vain]")
        self.assertEqual([t.split("\n")[0] for t in self.cues_of("yard_bell")], ["when held", "when held"])
        self.see("article .cue", "When it is held")


class Refused(Driven):
    def test_what_a_press_was_refused_for_is_told_to_the_player_in_prose(self):
        self.open_place("plan/east_wing_door")
        self.write_cue("when used\nonly if not has copper_key\n  and money at least 3\nthen\n  remove this")
        self.see_saved()
        self.open_place("playtest/east_wing_door")
        self.see('[data-prompt="east_wing_door"]')
        self.keys("e")
        self.see("[data-notice=unmet]", "Needs at least 3 shillings, has 0")

    def test_the_control_works_the_marked_entry_of_a_panel_and_no_other(self):
        self.open_place("playtest/odile_desk")
        self.see("[data-button=work].marked")
        self.mouse_at(self.middle("[data-button=hook]")).perform()
        self.see("[data-button=hook].marked")
        self.keys("e")
        self.see("[data-notice=notice]", "You will want it a while yet.")

    def test_an_entry_can_be_hidden_while_it_cannot_be_used(self):
        self.open_place("plan/odile_desk")
        self.word("button 2 while it cannot be used").click()
        self.keys("hidden", Keys.ENTER)
        self.see_saved()
        self.open_place("playtest/odile_desk")
        self.see("[data-button=work]")
        self.see_none("[data-button=hook]")


class OnTheFloor(Driven):
    def test_no_name_lies_under_the_player(self):
        self.open_place("playtest/odile_desk")
        self.see('[data-prompt="odile_desk"]')
        script = (
            "const b = document.querySelector('.night-floor .player circle, .night-floor .player').getBoundingClientRect();"
            "const x = b.left + b.width / 2, y = b.top + b.height / 2, r = Math.min(b.width, b.height) / 2 - 1;"
            "return [...document.querySelectorAll('.night-floor .badge text')].filter((t) => {"
            "  const n = t.getBoundingClientRect();"
            "  const dx = x - Math.min(Math.max(x, n.left), n.right), dy = y - Math.min(Math.max(y, n.top + 3), n.bottom - 3);"
            "  return Math.hypot(dx, dy) < r; }).map((t) => t.textContent)"
        )
        wait_for(lambda: self.browser.execute_script(script) == [], "the names to keep off the player")
