"""Quests in full, driven in the interface: offers in one go, the card, the quest list, time limits, forks, ends, sounds."""

from __future__ import annotations

import base64
import tempfile

from selenium.webdriver.common.keys import Keys

from tests.browser.driving import Driven, wait_for
from vocanta.server import models


class OnThePage(Driven):
    def test_a_quest_is_offered_by_a_board_in_one_go_taken_on_by_its_card_and_given_up_in_the_list(self):
        self.open_place("quests/what_sleeps_below")
        self.see("article", "Nobody offers it.")
        self.choose("who offers it", "Yard bell")
        self.see('article [data-word="offered by"]', "Yard bell")
        self.see(".offer .by", "Yard bell".upper())
        self.open_place("playtest/yard_bell")
        self.see("[data-button=take_what_sleeps_below]", "What Sleeps Below")
        self.keys("1")
        self.see("[data-offer=what_sleeps_below]", "For it: 50 experience")
        self.keys(Keys.ESCAPE)
        self.see_none("[data-offer]")
        self.click(".quests .link", "offered: What Sleeps Below")
        self.see("[data-offer=what_sleeps_below]")
        self.keys("1")
        self.see_none("[data-offer]")
        self.see(".quests", "Read the work slate")
        self.keys("l")
        self.see("[data-logged=what_sleeps_below]", "under way")
        self.click("[data-logged=what_sleeps_below] .link", "give up")
        self.click("[data-logged=what_sleeps_below] .link", "really give it up?")
        self.see("[data-logged=what_sleeps_below]", "can be had again")
        self.keys("l")
        self.see_none(".log")

    def test_what_is_offered_already_is_only_noted(self):
        self.open_place("quests/dry_feet")
        models.Quest.objects.filter(project_id=self.project, key="word_for_owner").update(offered_by="")
        self.open_place("quests/lamps_before_dusk")
        self.word("offered by").click()
        self.keys("nobody", Keys.ENTER)
        self.see("article", "Nobody offers it.")
        before = models.Cue.objects.filter(project_id=self.project).count()
        self.choose("who offers it", "Work slate")
        self.see('article [data-word="offered by"]', "Work slate")
        self.assertEqual(models.Cue.objects.filter(project_id=self.project).count(), before)

    def test_an_objective_has_targets_a_time_and_is_hidden_by_words(self):
        self.open_place("quests/lamps_before_dusk.light_them")
        self.see(".objective", "within 3 min")
        self.rewrite(self.word("time limit in seconds, empty for none"), "45")
        self.see(".objective", "within 45 s: then the quest fails")
        self.see(".objective", "see to it that 4 of Yard lamp, west, Yard lamp, east")
        self.click('.objective button[aria-label="Take away Yard lamp, east"]')
        self.choose("target", "every lamp")
        self.click(".objective .link", "hidden")
        self.see(".objective", "hidden from the player")
        self.see_kept()
        objective = models.Objective.objects.get(project_id=self.project, key="four_lamps")
        self.assertEqual((objective.time_s, objective.hidden, objective.targets[-1]), (45.0, True, "lamp"))
        self.choose("all met", "ready")
        self.see("article", "All met: ready to hand in.")

    def test_a_bead_is_dragged_before_another_and_what_asks_past_it_still_holds_by_name(self):
        self.open_place("quests/dry_feet")
        last = self.see("[data-bead=report_back]")
        first = self.middle("[data-bead=find_key]")
        self.drag(last, (first[0] - 20, first[1]))
        stages = models.Stage.objects.filter(project_id=self.project, owner_id__in=self.quest("dry_feet"))
        order = ["report_back", "find_key", "open_sluice"]
        wait_for(lambda: [s.key for s in stages.order_by("order", "pk")] == order, "the bead to hang first")
        self.see_saved()
        beads = [b.get_attribute("data-bead") for b in self.browser.find_elements("css selector", "[data-bead]")]
        self.assertEqual(beads[:3], order)
        asked = models.Line.objects.get(project_id=self.project, key="listen_no_frogs").needs
        self.assertEqual(asked, "dry_feet at report_back")

    def quest(self, key):
        return models.Quest.objects.filter(project_id=self.project, key=key).values_list("pk", flat=True)

    def test_a_thread_forks_where_a_stage_can_be_left_two_ways_and_shows_where_it_can_fail(self):
        self.open_place("quests")
        self.see("[data-fails=light_them]")
        self.assertEqual(self.browser.find_elements("css selector", "[data-fork]"), [])
        models.Stage.objects.filter(project_id=self.project, key="find_key").update(then="report_back")
        self.open_place("quests/dry_feet.find_key")
        self.choose("all met", "on to “Open")
        self.see_saved()
        self.choose("all met", "on to “Report")
        self.see('[data-fork="find_key-report_back"]')

    def test_two_names_taken_off_a_list_while_the_first_is_still_being_kept_are_both_gone(self):
        self.open_place("quests/lamps_before_dusk.light_them")
        with self.edits_held():
            for lamp in ("west", "east"):
                self.click(f'.objective button[aria-label="Take away Yard lamp, {lamp}"]')
        for lamp in ("west", "east"):
            self.see_none(f'.objective button[aria-label="Take away Yard lamp, {lamp}"]')
        targets = models.Objective.objects.get(project_id=self.project, key="four_lamps").targets
        self.assertEqual([t for t in targets if t.startswith("yard_lamp")], [])
        self.assertTrue(targets)

    def test_a_level_ends_by_words(self):
        self.open_place("plan/cistern")
        self.click("article .link", "+ end")
        self.see("[data-ending]", "It is won once …, 5 s later")
        self.choose("what ends it", "Dry Feet is done")
        self.choose("outcome", "lost")
        self.rewrite(self.word("seconds after"), "0")
        self.see("[data-ending]", "It is lost once Dry Feet is done")
        self.see("[data-ending]", "at once")
        self.see_kept()
        level = models.Level.objects.get(project_id=self.project, key="cistern")
        self.assertEqual(level.endings, [{"outcome": "lost", "when": ["dry_feet"], "after_s": 0.0}])

    def test_a_sound_is_made_from_a_few_words(self):
        self.open_place("items")
        made = models.Sound.objects.filter(project_id=self.project).order_by("pk").first()
        models.Sound.objects.filter(pk=made.pk).update(file="")
        self.open_place(f"items/{made.key}")
        self.choose("sort of sound", "chime")
        self.rewrite(self.word("sound seconds"), "0.8")
        self.click("article .link", "make and hear it")
        self.see("article", "hear it")
        wait_for(lambda: models.Sound.objects.get(pk=made.pk).seconds == 0.8, "the sound to be made")

    def test_a_step_that_plays_nothing_gets_a_sound_made_where_it_stands(self):
        self.open_place("plan/yard_lamp_east")
        self.write_cue("when used then set this to next sound ? at this")
        self.click(".silent .link", "make a new sound for it")
        self.see("[data-silent]", "is silent: it has no file yet")
        self.click("[data-silent] .link", "make and hear it")
        self.see_none(".silent")
        made = models.Sound.objects.filter(project_id=self.project).latest("pk")
        self.assertEqual((made.name, bool(made.file)), ("Yard lamp, east sound", True))
        self.see(".text-prose", "play the sound Yard lamp, east sound")

    def test_values_are_changed_in_the_table_and_the_balance_follows(self):
        self.open_place("items/dried_pods")
        self.see("[data-balance=dried_pods]", "6\ncan be had")
        self.see("[data-balance=dried_pods]", "The Night Bloom")
        rewrite = self.word("at start", "[data-row=dried_pods]")
        self.rewrite(rewrite, "2")
        self.see("[data-balance=dried_pods]", "8\ncan be had")
        self.see('[data-row=dried_pods] svg[aria-label="8 can be had, 3 asked for"]')
        self.see("[data-row=money]", "without end")

    def test_an_item_shows_a_picture_of_its_own_until_it_is_taken_away(self):
        png = base64.b64decode(
            "iVBORw0KGgoAAAANSUhEUgAAAAIAAAACCAIAAAD91JpzAAAAFklEQVR4nGP8z8DAwMDAxMDAwMDAAAANHQEDasKb6QAAAABJRU5ErkJggg=="
        )
        file = self.enterContext(tempfile.NamedTemporaryFile("wb", suffix=".png"))
        file.write(png)
        file.flush()
        self.open_place("items/seed_oil")
        self.see('input[aria-label="Choose a picture"]').send_keys(file.name)
        self.see("article .picture img")
        self.see("[data-row=seed_oil] .sign img")
        self.click("article .picture .link", "take it away")
        self.see_none("article .picture img")

    def test_things_are_searched_and_say_where_they_come_from_and_go(self):
        self.open_place("items/dried_pods")
        self.see("[data-flow=to]", "change 3 dried pods into 1 seed oil")
        self.see("[data-flow=from]", "give 2 dried pods")
        self.see(".things .filter").send_keys("hinge")
        self.see_none("[data-thing=copper_key]")
        self.see("[data-thing=hinge_oiled]", "The vault hinge is oiled")
        self.click("[data-flow=to] .link", "oil press")
        self.see_address("/plan/oil_press")


class InThePlaytest(Driven):
    def left(self, timer):
        """The seconds that a timer shows."""
        minutes, _, seconds = self.see(timer, ":").text.partition(":")
        return 60 * int(minutes) + int(seconds)

    def test_time_runs_down_on_the_screen_and_a_marker_leads_across_levels(self):
        self.open_place("playtest/work_slate")
        self.see(".night-floor")
        self.keys("e")
        self.see("[data-offer=lamps_before_dusk]", "For it: 15 shillings")
        self.keys("1")
        first = self.left(".quests [role=timer]")
        self.assertLessEqual(first, 180)
        wait_for(lambda: self.left(".quests [role=timer]") < first, "the time to run down")
        self.see(".quests", "through Ladder down")
        self.see("[data-mark=four_lamps]", "through Ladder down")
        self.keys("l")
        self.see("[data-logged=lamps_before_dusk]", "0 of 4")
        self.assertLess(self.left("[data-logged=lamps_before_dusk] [role=timer]"), first)
