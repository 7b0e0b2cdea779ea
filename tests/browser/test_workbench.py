"""The playtest as a workbench: kept walks that part ways, values tried, causes that unfold, a run that goes on after a reload."""

from __future__ import annotations

import re

from selenium.webdriver.common.keys import Keys

from tests.browser.driving import Driven, wait_for
from vocanta.server import models


class Workbench(Driven):
    def row(self, key, model=models.Object):
        return model.objects.get(project_id=self.project, key=key)

    def at_the_lamp(self, query=""):
        self.open_place(f"playtest/palm_lamp{query}")
        self.see('[data-prompt="palm_lamp"]', "Light")

    def light_it(self):
        self.keys("e")
        self.see('[data-prompt="palm_lamp"]', "Put out")


class KeptWalks(Workbench):
    def test_a_walk_that_is_kept_says_where_it_parts_ways_once_the_project_is_broken(self):
        self.at_the_lamp()
        self.light_it()
        self.keys("k")
        self.see(".keep label", "Palm House lamp lit")
        name = self.see(".keep input:focus")
        name.send_keys(Keys.CONTROL, "a")
        name.send_keys("The lamp burns", Keys.ENTER)
        self.see(".walks .one", "same end")
        walk = models.Walk.objects.get(project_id=self.project)
        self.assertEqual((walk.name, [h["column"] for h in walk.comes_to]), ("The lamp burns", ["state:palm_lamp"]))
        self.assertEqual([d["do"] for d in walk.deeds][:2], ["wait", "use"])
        self.open_place("plan/palm_lamp")
        self.see("article h1", "Palm House lamp")
        self.write_cue("when used only if has copper_key then set this to next")
        self.see(".band .number[aria-label='1 kept walks part ways']")
        self.open_place("playtest?leaf=cards")
        self.see(".walks .glow", "parts ways at 00:0")
        self.see("[data-parting]", "needs copper key, has 0, where it was: Palm House lamp set to lit")
        self.click(".walks .link", "see both")
        self.see(".then", "Watched: the kept walk The lamp burns")
        self.see("[data-parts] .head", "They part ways at 00:0")
        self.see(".pace", "paused")
        self.click(".walks .link", "this is right now")
        self.see(".walks .one", "same end")
        self.see_none(".band .number[aria-label='1 kept walks part ways']")
        self.chord(Keys.CONTROL, "z")
        self.see(".walks .one", "parts ways")

    def test_one_whose_end_is_far_is_watched_as_it_is_meant_and_walked_on_from(self):
        self.at_the_lamp()
        self.light_it()
        self.keys("k")
        self.click(".keep button", "keep it")
        self.see(".walks .one", "same end")
        self.click(".walks .name")
        self.click(".walks .link", "watch")
        self.see(".then", "Watched")
        self.see(".then", "Watched to its end")
        self.see('[data-prompt="palm_lamp"]', "Put out")
        self.keys("e")
        self.see(".problems", "only watched")
        self.keys(Keys.F9)
        self.see(".start", "where you stood")
        self.see('[data-prompt="palm_lamp"]', "Put out")
        self.keys("e")
        self.see('[data-prompt="palm_lamp"]', "Light")


class Mended(Workbench):
    def test_refused_one_reads_why_mends_the_cue_and_succeeds_from_the_same_spot(self):
        self.open_place("playtest/sluice_wheel")
        self.see('[data-prompt="sluice_wheel"]', "without its key")
        self.see("[data-stopped]", "needs copper key, has 0")
        self.see(".need.unmet .from", "from")
        self.click(".chronicle .what button", "Near Sluice wheel")
        self.see(".then", "As it was at 00:00.0")
        self.keys(Keys.ESCAPE)
        self.see_none(".then")
        self.chord(Keys.CONTROL, Keys.ENTER)
        self.see("article h1", "Sluice wheel")
        self.write_cue("when held with second then set this to open")
        self.see_kept()
        self.browser.back()
        self.see(".news", "since this run began") if self.browser.find_elements("css selector", ".news") else None
        self.see('[data-prompt="sluice_wheel"]', "Hold")
        self.hold("f")
        self.see('[data-told="state"]', "Sluice wheel set to open")
        self.let_go("f")

    def test_an_entry_unfolds_down_to_what_the_player_did(self):
        self.open_place("playtest/field_book_bench?as_if=dry_feet.find_key")
        self.see('[data-prompt="field_book_bench"]')
        self.keys("e")
        self.see('[data-told="stage"]', "Open the sluice")
        self.click('[data-told="stage"] .what button')
        self.see('[data-told="stage"] .because', "Met: Have the copper key")
        self.see('[data-told="stage"] .because .because', "+1 copper key (1)")
        self.see('[data-told="stage"] .because .because .because', "because of Use at Odile’s field book")
        self.click('[data-told="stage"] .because .because .link', "+1 copper key (1)")
        self.see('[data-told="gained"].open', "copper key")
        self.keys(Keys.ESCAPE)
        self.see_none(".because")
        about = self.see(".about")
        about.send_keys("Sluice wheel")
        self.see(".chronicle li", "Marker on Sluice wheel")
        self.see_none('[data-told="gained"]')


class Asked(Workbench):
    def test_why_follows_the_pointer_and_tells_of_quests_lines_and_what_is_elsewhere(self):
        self.open_place("playtest/palm_lamp?as_if=dry_feet.open_sluice&leaf=why")
        self.see(".why h1", "Palm House lamp")
        self.mouse_at(self.middle("[data-thing=odile_marr] circle")).perform()
        self.see(".why h1", "Odile Marr")
        self.mouse_at((600, 600)).perform()
        self.see(".why h1", "Palm House lamp")
        self.click(".quests h2 button", "Dry Feet")
        self.see("[data-stopped]", "not met: Hold the sluice wheel")
        self.choose("Ask why about", "No frogs", ".why")
        self.see("[data-stopped]", "Dry Feet must be at “Report back”")
        self.choose("Ask why about", "Landing lamp", ".why")
        self.see("[data-stopped]", "it is in The Cistern")
        self.click(".why .link", "Follow the focus again")
        self.see(".why h1", "Palm House lamp")


class GoesOn(Workbench):
    def test_a_reload_in_the_middle_goes_on_with_the_same_run(self):
        self.at_the_lamp()
        self.light_it()
        run = models.PlayedRun.objects.get(project_id=self.project).pk
        self.see('[data-told="state"]', "lit")
        self.browser.refresh()
        self.see('[data-prompt="palm_lamp"]', "Put out")
        self.see('[data-told="state"]', "lit")
        self.assertEqual([r.pk for r in models.PlayedRun.objects.filter(project_id=self.project)], [run])
        self.keys(Keys.F2)
        self.see('[data-prompt="palm_lamp"]', "Light")
        self.assertEqual(models.PlayedRun.objects.filter(project_id=self.project).count(), 2)

    def test_a_tab_that_is_hidden_stands_still_until_it_is_looked_at_again(self):
        self.at_the_lamp()
        hide = (
            "Object.defineProperty(document, 'visibilityState', {value: arguments[0], configurable: true});"
            "document.dispatchEvent(new Event('visibilitychange'))"
        )
        self.browser.execute_script(hide, "hidden")
        self.see(".pace", "paused")
        self.browser.execute_script(hide, "visible")
        self.see_none(".pace")

    def test_earlier_walks_are_gone_on_with_laid_beside_each_other_and_deleted(self):
        self.at_the_lamp()
        self.light_it()
        self.open_place("playtest/yard_bell?leaf=cards")
        self.see('[data-prompt="yard_bell"]', "Ring")
        self.keys("e")
        self.see('[data-told="sound"]', "Yard bell")
        self.see(".runs .one", "from Palm House lamp")
        self.click(".runs .name", "from Palm House lamp")
        self.see(".runs .more", "last: Palm House lamp set to lit")
        self.click(".runs .link", "compare with this one")
        self.see("[data-beside]", "this does not come any more: Palm House lamp set to lit")
        self.click(".runs .link", "go on with it")
        self.see('[data-prompt="palm_lamp"]', "Put out")
        self.click(".leaves button", "Walks and cards")
        self.see(".runs .one", "from Yard bell")
        self.click(".runs .name", "from Yard bell")
        self.click(".runs .link", "delete")
        self.see_none(".runs .more")


class Tried(Workbench):
    def test_a_reach_tuned_while_walking_shows_at_once_and_is_kept_on_purpose(self):
        self.at_the_lamp("?leaf=try")
        before = self.row("palm_lamp").own
        self.rewrite(self.word("Palm House lamp: reach", ".try"), "0.3")
        self.see_none('[data-prompt="palm_lamp"]')
        self.see("[data-tried='palm_lamp reach.radius_m']", "1.3 → 0.3 m")
        self.assertEqual(self.row("palm_lamp").own, before)
        self.rewrite(self.word("Palm House lamp: reach", ".try"), "2.2")
        self.see('[data-prompt="palm_lamp"]', "Light")
        self.chord(Keys.CONTROL, Keys.ENTER)
        self.see(".tried", "1 value tried in a walk, not in the project: Palm House lamp reach 1.3 → 2.2 m")
        self.click(".tried .link", "see in a walk")
        self.see("[data-tried='palm_lamp reach.radius_m'] .link", "try")
        self.click("[data-tried='palm_lamp reach.radius_m'] .link", "keep")
        self.see_none("[data-tried]")
        wait_for(lambda: self.row("palm_lamp").own.get("reach.radius_m") == 2.2, "the reach to be in the project")
        self.chord(Keys.CONTROL, "z")
        wait_for(lambda: self.row("palm_lamp").own == before, "the undo")

    def test_the_camera_is_tried_at_once_and_looks_again_from_nearer(self):
        self.at_the_lamp("?leaf=try")
        size = self.see("[data-thing=palm_lamp] circle").rect["width"]
        near = self.on_plan(1, 0, ".night-floor > g")[0] - self.on_plan(0, 0, ".night-floor > g")[0]
        self.rewrite(self.word("Camera: shows", ".try"), "13")
        wait_for(
            lambda: self.on_plan(1, 0, ".night-floor > g")[0] - self.on_plan(0, 0, ".night-floor > g")[0] > near * 1.7,
            "the level to be seen from nearer",
        )
        self.assertAlmostEqual(self.see("[data-thing=palm_lamp] circle").rect["width"], size, delta=2)
        self.click("[data-tried='camera view_m'] .link", "let go")
        self.see_none("[data-tried]")


class FromAnywhere(Workbench):
    def test_a_walk_begins_at_a_spot_of_the_floor_and_the_button_says_so(self):
        self.open_place("plan")
        self.see("[data-object=yard_bell]")
        self.mouse_at(self.on_plan(2.0, 5.5)).click().perform()
        self.see("[data-spot]")
        label = self.see(".walk", " m").text
        x, y = map(float, re.findall(r"\d+\.\d+", label))
        self.chord(Keys.CONTROL, Keys.ENTER)
        self.see(".start", "from a spot")
        floor = self.see(".night-floor")
        self.assertAlmostEqual(float(floor.get_attribute("data-x")), x, 1)
        self.assertAlmostEqual(float(floor.get_attribute("data-y")), y, 1)
        self.chord(Keys.CONTROL, Keys.ENTER)
        self.see("[data-object=yard_bell]")

    def test_a_walk_from_a_bead_is_as_if_at_its_stage(self):
        self.open_place("quests/dry_feet.report_back")
        self.see(".walk", "as if report back")
        self.chord(Keys.CONTROL, Keys.ENTER)
        self.see(".quests", "Report back")
        self.chord(Keys.CONTROL, Keys.ENTER)
        self.see_address("/quests/dry_feet.report_back")

    def test_an_earlier_moment_is_looked_at_by_the_keys_of_the_strip(self):
        self.at_the_lamp()
        self.light_it()
        self.see('[data-told="state"]', "lit")
        self.see(".strip .line").send_keys(Keys.HOME)
        self.see(".then", "As it was at 00:00.0")
        self.see('[data-prompt="palm_lamp"]', "Light")
        self.see(".strip .line").send_keys(Keys.END)
        self.see('[data-prompt="palm_lamp"]', "Put out")
        self.keys("w")
        self.see_none(".then")
