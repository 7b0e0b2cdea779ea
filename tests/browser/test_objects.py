"""Objects in full, driven in the interface: drawing, levels, handles, several at once, copies, panels, sounds, history."""

from __future__ import annotations

import tempfile
from pathlib import Path

from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tests.browser.driving import Driven, wait_for
from vocanta.server import models

BOXES = """
const of = (s) => [...document.querySelectorAll(s)].map((e) => [e.textContent.trim(), e.getBoundingClientRect()])
  .filter(([, b]) => b.width)
  .map(([says, b]) => ({ says, x0: b.left + 1, x1: b.right - 1, y0: b.top + 2, y1: b.bottom - 3 }))
return { names: of('.plan .name, .plan .area-name, .plan .exit text'), badges: of('.plan .disc') }
"""
"""Where every name that can be read on the plan stands, and every badge; pixels, paper edges off."""


def meeting(names, badges=()):
    """What stands on one another: two names, or a name and a badge."""
    pairs = [(a, b) for i, a in enumerate(names) for b in (*names[i + 1 :], *badges)]
    return [
        (a["says"], b["says"])
        for a, b in pairs
        if a["x0"] < b["x1"] and b["x0"] < a["x1"] and a["y0"] < b["y1"] and b["y0"] < a["y1"]
    ]


class OnThePlan(Driven):
    def rows(self, kind):
        return models.RECORD_MODELS[kind].objects.filter(project_id=self.project)

    def test_an_area_is_drawn_corner_by_corner_and_reshaped(self):
        self.open_place("plan")
        self.see("[data-order]")
        self.keys("w")
        for corner in ((14.0, 1.0), (18.0, 1.0), (18.0, 5.0), (14.0, 5.0), (14.0, 1.0)):
            self.mouse_at(self.on_plan(*corner)).click().perform()
        self.see("article h1", "Room")
        self.drag(self.see("[data-corner='2']"), self.on_plan(19.0, 6.0))
        self.see('article [data-word="corner 3 x"]', "19")
        self.see_saved()
        self.rewrite(self.word("corner 3 y"), "6.5")
        wait_for(lambda: [19.0, 6.5] in self.rows("area").order_by("-pk")[0].outline, "the corner to be kept")

    def test_a_wall_is_drawn_by_keyboard_with_its_length_in_numbers(self):
        self.open_place("plan")
        self.see("[data-order]")
        self.keys("w", " ", Keys.ARROW_RIGHT, "2", ".", "5", Keys.ENTER, Keys.ENTER)
        self.see("article h1", "Wall")
        wall = self.rows("wall").order_by("-pk")[0].points
        self.assertEqual(round(wall[1][0] - wall[0][0], 3), 2.5)

    def test_an_exit_is_led_to_another_level_by_dropping_its_end_on_its_name(self):
        self.open_place("plan/ladder_down")
        self.see("article", "The Cistern")
        self.rewrite_choice("leads to", "Glasshouse")
        self.see("article", "The Glasshouse")
        self.drag(self.see("[data-handle=exit-end]"), self.middle("[data-level=cistern]"))
        self.see("article", "The Cistern")
        self.see_address("ladder_down")

    def rewrite_choice(self, label, typed):
        self.word(label).click()
        self.see(".edit-word.open input").send_keys(typed, Keys.ENTER)
        self.see_none(".edit-word.open")

    def test_levels_have_an_address_and_a_new_one_can_be_walked_at_once(self):
        self.open_place("plan?level=cistern")
        self.see('[data-object="landing_lamp"]')
        self.click(".levels button", "+ level")
        self.see("[data-level=level_3].here")
        self.browser.refresh()
        self.see("[data-level=level_3].here")

    def test_no_name_on_the_plan_stands_on_another_or_on_a_badge(self):
        self.open_place("plan")
        self.see(".plan .name", "Vault door")
        boxes = self.at_rest(lambda: self.browser.execute_script(BOXES))
        self.assertGreater(len(boxes["names"]), 30)
        self.assertEqual(meeting(boxes["names"], boxes["badges"]), [])

    def test_in_a_crowd_no_name_stands_on_another_and_one_that_stands_back_comes_when_pointed_at(self):
        self.open_place("plan/sluice_wheel?as_if=dry_feet.open_sluice")
        self.see(".as-if", "has copper key")
        self.see_none("[data-unread]")
        names = self.at_rest(lambda: self.browser.execute_script(BOXES))["names"]
        self.assertGreater(len(names), 28)
        self.assertEqual(meeting(names), [])
        name = self.browser.find_element("css selector", "[data-object=palm_lamp] .name")
        self.browser.execute_script("arguments[0].classList.add('back')", name)
        self.assertFalse(name.is_displayed())
        self.mouse_at(self.middle("[data-object=palm_lamp] .disc")).perform()
        self.see("[data-object=palm_lamp] .name", "Palm House lamp")

    def test_a_swing_is_set_by_its_end_and_a_hinge_by_its_handle(self):
        self.open_place("plan/east_wing_door")
        self.see("article h1", "East wing door")
        end = self.see("[data-handle=end-open]")
        end.send_keys(Keys.ARROW_UP)
        self.see(".strip", "swings 85°")
        self.see("[data-handle=hinge]").send_keys(Keys.ARROW_RIGHT)
        self.see('article [data-word="hinge across"]', "-0.75")

    def test_several_objects_are_framed_moved_and_changed_by_one_edit_each(self):
        self.open_place("plan")
        self.see('[data-object="yard_lamp_west"]')
        self.frame((4.0, 6.5), (11.4, 1.0))
        self.see("article h1", "3 objects")
        self.see('article [data-word="kind"]', "various")
        before = {o.key: o.x_m for o in self.rows("object")}
        self.keys(Keys.ARROW_RIGHT)
        wait_for(lambda: self.x_of("yard_lamp_west") == before["yard_lamp_west"] + 0.25, "the lamp to move")
        self.assertEqual(self.x_of("yard_lamp_east"), before["yard_lamp_east"] + 0.25)
        self.rewrite(self.word("reach size"), "2.2")
        self.see('article [data-word="reach size"]', "2.2 m")
        self.chord(Keys.CONTROL, "z")
        self.see('article [data-word="reach size"]', "various")

    def x_of(self, key):
        return self.rows("object").get(key=key).x_m

    def frame(self, start, end):
        self.hold(Keys.SHIFT)
        chain = self.mouse_at(self.on_plan(*start))
        chain.w3c_actions.pointer_action.pointer_down()
        chain.w3c_actions.pointer_action.move_to_location(*self.on_plan(*end))
        chain.w3c_actions.pointer_action.pointer_up()
        chain.perform()
        self.let_go(Keys.SHIFT)

    def test_distances_are_measured_straight_and_on_foot(self):
        self.open_place("plan")
        self.see("[data-order]")
        self.keys("m")
        for at in ((2.0, 5.0), (2.0, 10.0)):
            self.mouse_at(self.on_plan(*at)).click().perform()
        self.see(".legend", "5.00 m straight")
        self.see(".legend", "on foot")


class OnThePage(Driven):
    def test_a_copy_is_flagged_until_everything_it_carried_over_was_answered(self):
        self.open_place("plan/rack_by_the_door")
        self.see(".text-prose .word")
        self.chord(Keys.CONTROL, "d")
        self.see("article h1", "Rickety rack 2")
        self.see("[data-object=rack_by_the_door_2] [data-pennant]")
        self.see(".carried", "scatter 2 dried pod")
        for _ in range(2):
            count = len(self.browser.find_elements(By.CSS_SELECTOR, ".carried li"))
            self.click(".carried .link", "right as it is")
            wait_for(lambda c=count: len(self.browser.find_elements(By.CSS_SELECTOR, ".carried li")) < c, "one less")
        self.click(".carried .link", "clear")
        self.see_none("[data-finding=copy_not_looked_at]")
        self.see_none(".carried")
        self.see(".text-prose", "…")

    def test_a_kind_is_made_of_an_object_and_a_state_renamed_through_its_cues(self):
        self.open_place("plan/sluice_wheel")
        self.see(".text-prose", "open")
        self.click("article .link", "make a kind of it")
        self.see('article [data-word="kind"]', "sluice wheel")
        self.click(".strip .state", "open")
        self.rewrite(self.word("state name"), "wide open")
        self.see(".text-prose", "set it to wide open")

    def test_who_counts_and_a_cue_switched_off_are_words_on_the_page(self):
        self.open_place("plan/palm_lamp")
        while self.browser.find_elements(By.CSS_SELECTOR, "article .usual"):
            self.click("article .usual", "also usual")
        self.see('article [data-word="who counts"]')
        self.assertNotIn("undefined", self.see("article").text)
        self.choose("who counts", "any character")
        self.see('article [data-word="who counts"]', "any character")
        self.click("article .adds .link", "switch off here")
        self.see("article .cue.off", "switched off here")

    def test_a_button_added_to_a_panel_works_at_once(self):
        self.open_place("plan/odile_desk")
        self.click("article .link", "+ button")
        self.see("article", "Button 3")
        self.see(".text-prose", "chosen “Button 3”")
        self.chord(Keys.CONTROL, Keys.ENTER)
        self.see("[data-button=button_3]")
        self.keys("3")
        self.see(".notices", "Button 3.")

    def test_a_file_that_is_no_sound_is_refused_where_it_was_chosen(self):
        self.open_place("items/door_creak")
        with tempfile.NamedTemporaryFile("w", suffix=".wav") as file:
            file.write("once upon a time")
            file.flush()
            self.see("input[type=file]").send_keys(file.name)
            self.see("article .problems", "no sound or picture that a browser shows")
        wave = next((Path("src/vocanta/demo/night_bloom/assets")).glob("*.wav")).resolve()
        self.see("input[type=file]").send_keys(str(wave))
        self.see_none("article .problems")
        self.see_saved()

    def test_a_control_is_bound_by_pressing_its_key(self):
        self.open_place("project")
        self.click("[data-bind=cast]")
        self.keys("r")
        self.see(".control .key", "R")
        self.see_saved()

    def test_one_edit_of_the_history_is_undone_by_itself(self):
        self.open_place("plan/yard_bell")
        self.see(".text-prose")
        self.keys(Keys.ARROW_RIGHT)
        self.see_saved()
        self.open_place("history")
        self.see(".history li", "Moved Yard bell")
        self.click(".history .link", "undo this one")
        self.see(".history li", "Undid: Moved Yard bell")


class InThePlaytest(Driven):
    def test_an_exit_leads_to_the_other_level_and_back(self):
        self.open_place("playtest/pump_board")
        self.see('[data-prompt="pump_board"]')
        self.walk_to(1.4, 15.2)
        self.see('[data-thing="landing_lamp"]')
        self.walk_to(1.6, 4.2)
        self.see('[data-thing="pump_board"]')

    def test_moths_burst_out_where_the_crate_stood_and_effects_are_drawn(self):
        self.open_place("playtest/odd_crate_1")
        self.see('[data-prompt="odd_crate_1"]')
        self.keys("e")
        self.see(".effect.burst")
        self.see('[data-thing^="moth_swarm@"]')
        self.see('[data-told="player_downed"]')

    def test_what_cannot_run_is_told_with_the_way_to_it(self):
        cue = models.Cue.objects.filter(project_id=self.project, text__contains="take pruning_hook").first()
        models.Cue.objects.filter(pk=cue.pk).update(text=cue.text.replace("take pruning_hook", "take pruning_hoo"))
        self.open_place("playtest")
        self.see(".wrong p", "Nothing is called “pruning_hoo”. Perhaps pruning_hook.")
        self.click(".wrong .link", models.Kind.objects.get(project_id=self.project, key="panel_desk").name)
        self.see_address("plan/")

    def test_gear_in_hand_shows_and_its_ability_strikes(self):
        self.open_place("plan/supply_crate_1")
        self.see(".text-prose")
        self.chord(Keys.CONTROL, Keys.ENTER)
        self.see('[data-prompt="supply_crate_1"]')
        self.keys("e")
        self.see('[data-item="pruning_hook"]')
        self.keys("q")
        self.see('[data-told="missed"]')
