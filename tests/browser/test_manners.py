"""Manners of the screen: what takes a click and what does not, drags that are given up, names that are free, contrast."""

from __future__ import annotations

from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tests.browser.driving import Driven, wait_for
from vocanta.server import models

LUMINANCE = """
const parts = (c) => c.match(/[\\d.]+/g).slice(0, 3).map(Number);
const light = (c) => parts(c).map((v) => v / 255).map((v) => (v <= 0.03928 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4))
  .reduce((sum, v, i) => sum + v * [0.2126, 0.7152, 0.0722][i], 0);
const ground = (e) => { const c = getComputedStyle(e).backgroundColor;
  return /, 0\\)$/.test(c) && e.parentElement ? ground(e.parentElement) : c; };
const e = document.activeElement, [a, b] = [light(getComputedStyle(e).outlineColor), light(ground(e.parentElement))];
return [(Math.max(a, b) + 0.05) / (Math.min(a, b) + 0.05), getComputedStyle(e).outlineStyle];
"""


class Manners(Driven):
    def object(self, key):
        return models.Object.objects.get(project_id=self.project, key=key)

    def test_the_name_of_an_area_takes_no_click_and_its_page_opens_from_the_running_order(self):
        self.open_place("plan")
        name = self.see(".plan .area-name", "Orchid Vault")
        self.mouse_at(self.middle(name)).click().perform()
        self.see("article h1", "The Glasshouse")
        self.click("[data-area=orchid_vault]")
        self.see_address("/plan/orchid_vault")
        self.see("article h1", "Orchid Vault")

    def test_a_drag_that_is_given_up_or_taken_away_leaves_everything_where_it_was(self):
        self.open_place("plan/yard_bell")
        bell = self.object("yard_bell")
        badge = self.at_rest(lambda: self.middle(self.see('[data-object="yard_bell"] .disc')))
        for give_up in ("escape", "cancel"):
            chain = self.mouse_at(badge)
            chain.w3c_actions.pointer_action.pointer_down()
            chain.w3c_actions.pointer_action.move_to_location(badge[0] + 40, badge[1] - 40)
            chain.perform()
            wait_for(lambda: self.middle(self.see('[data-object="yard_bell"] .disc')) != badge, "the badge to follow")
            if give_up == "escape":
                self.keys(Keys.ESCAPE)
            else:
                self.browser.execute_script("window.dispatchEvent(new PointerEvent('pointercancel'))")
            wait_for(lambda: self.middle(self.see('[data-object="yard_bell"] .disc')) == badge, "the badge to go back")
            chain = self.mouse_at(badge)
            chain.w3c_actions.pointer_action.pointer_up()
            chain.perform()
        self.see("article h1", "Yard bell")
        now = self.object("yard_bell")
        self.assertEqual((now.x_m, now.y_m, now.version), (bell.x_m, bell.y_m, bell.version))

    def test_new_things_never_share_a_name(self):
        self.open_place("items")
        for _ in range(3):
            self.keys("n")
            self.see_saved()
            count = models.Item.objects.filter(project_id=self.project, name__startswith="New item").count
            before = count()
            wait_for(lambda before=before, count=count: count() >= before, "the item")
        names = ["New item", "New item 2", "New item 3"]
        found = models.Item.objects.filter(project_id=self.project, name__startswith="New item").order_by("pk")
        wait_for(lambda: list(found.values_list("name", flat=True)) == names, "three names")

    def test_what_has_the_focus_is_ringed_in_a_contrast_that_can_be_seen(self):
        for path in ("plan/yard_bell", "quests/dry_feet", "items/copper_key", "project"):
            self.open_place(path)
            self.see("article h1, .project h1")
            for _ in range(12):
                self.keys(Keys.TAB)
                ratio, style = self.browser.execute_script(LUMINANCE)
                if style != "none":
                    self.assertGreaterEqual(ratio, 3.0, (path, self.browser.switch_to.active_element.text))

    def test_help_finds_what_a_word_means_with_an_example(self):
        self.open_place("plan")
        self.see("[data-order]")
        self.keys("?")
        self.see(".keys input").send_keys("later letter")
        self.see(".keys dt", "later")
        self.see(".keys .example", "later letter by pip")
        self.keys(Keys.ESCAPE, Keys.ESCAPE)
        self.see_none(".keys")

    def test_the_list_of_projects_shows_each_ones_plan_and_where_it_was_left(self):
        self.open_place("plan/yard_bell")
        self.see("article h1", "Yard bell")
        self.open("/")
        line = self.see("li", "The Night Bloom")
        self.assertIn("open last at Plan".lower(), line.text.lower())
        drawn = line.find_elements(By.CSS_SELECTOR, ".small-plan path, .small-plan circle")
        level = models.Level.objects.get(project_id=self.project, key="glasshouse")
        areas = models.Area.objects.filter(owner_id=level.pk).count()
        things = models.Object.objects.filter(owner_id=level.pk).count()
        self.assertEqual(len(drawn), areas + things)
        self.click("li .open", "The Night Bloom")
        self.see_address("/plan/yard_bell")
