"""Words that can be changed where they stand: amounts nobody wrote, names of what is to come, choices, completion."""

from __future__ import annotations

from selenium.webdriver.common.keys import Keys

from tests.browser.driving import Driven, wait_for
from vocanta.server import models


class InPlace(Driven):
    def texts_of(self, key):
        return list(
            models.Cue.objects.filter(owner__key=key, owner__project_id=self.project).values_list("text", flat=True)
        )

    def see_text(self, key, part):
        wait_for(lambda: any(part in text for text in self.texts_of(key)), f"{part!r} in the cues of {key}")

    def type_first_cue(self, key, text):
        self.open_place(f"plan/{key}")
        self.write_cue(text)
        self.see_text(key, text.split("\n")[-1].strip())

    def test_an_amount_that_nobody_wrote_is_written_once_it_is_changed(self):
        self.type_first_cue("vault_gate", "when used\nthen\n  give copper_key\n  grant long_reach\n  end level won")
        self.see("article .prose", "give 1 copper key")
        self.rewrite(self.see('article .prose [data-word="number"]', "1"), "3")
        self.see_text("vault_gate", "give 3 copper_key")
        self.see("article .prose", "give 3 copper keys")
        self.rewrite(self.see('article .prose [data-word="number"]', "any number of"), "2")
        self.see_text("vault_gate", "grant long_reach for 2 uses")
        self.see("article .prose", "grant Long Reach for 2 uses")
        self.rewrite(self.see('article .prose [data-word="seconds"]', "at once"), "4")
        self.see_text("vault_gate", "end level won after 4 s")

    def test_what_is_to_come_is_called_anew_in_its_sentence(self):
        self.type_first_cue("vault_gate", "when used\nthen\n  later letter after 3 s")
        self.see("article .prose", "have letter come after 3 s")
        self.rewrite(self.see('article .prose [data-word="label"]', "letter"), "Second post")
        self.see_text("vault_gate", "later second_post after 3 s")
        self.see("article .prose", "have second post come after 3 s")

    def test_completion_finds_a_shown_name_and_puts_the_name_in_cues(self):
        self.open_place("plan/vault_gate")
        self.click("article .text-prose .link", "as text")
        area = self.see(".cue-text textarea")
        area.send_keys(Keys.CONTROL, "a")
        area.send_keys("when used then give Odile’s f")
        self.see(".could button.active", "field_book")
        self.see(".could .shown", "Odile’s field book")
        self.keys(Keys.TAB)
        wait_for(lambda: area.get_property("value") == "when used then give field_book ", "the name to be taken")

    def test_choices_that_look_alike_can_be_told_apart_and_none_is_cut(self):
        project = models.Project.objects.get(pk=self.project)
        names = list(models.Object.objects.filter(project=project).values_list("pk", flat=True))
        models.Object.objects.filter(pk__in=names[:2]).update(name="Twin")
        self.open_place("quests/dry_feet")
        self.word("offered by").click()
        twins = [
            f"Twin ({key})" for key in models.Object.objects.filter(pk__in=names[:2]).values_list("key", flat=True)
        ]
        for twin in twins:
            self.see(".options button", twin)
        self.keys(Keys.ESCAPE)
        self.see_none(".edit-word.open")

    def test_more_choices_than_can_be_looked_over_follow_on_asking(self):
        bell = models.Object.objects.get(project_id=self.project, key="yard_bell")
        for number in range(70):
            values = {f.attname: getattr(bell, f.attname) for f in models.Object._meta.fields}
            values |= {"id": None, "record_ptr_id": None, "key": f"stone_{number}", "name": f"Stone {number:02}"}
            models.Object(**values).save()
        self.open_place("quests/dry_feet")
        self.word("offered by").click()
        self.click(".options .link", "more")
        self.see(".options button", "Stone 69")
        self.keys("stone 42", Keys.ENTER)
        self.see("article", "Stone 42 offers it.")

    def test_an_own_cue_in_place_of_the_kinds_is_put_back(self):
        self.open_place("plan/palm_lamp")
        self.click("article .cue .adds .link", "+ step")
        self.see(".edit-word.open input:focus").send_keys("remove", Keys.ENTER)
        self.see("article .cue .adds", "its own, in place of the kind’s")
        self.see("article .cue .word.open, article .cue .edit-word.open .options button")
        self.click("article .cue .adds .link", "back to the kind’s")
        self.see("article .cue", "of its kind, lamp")
        wait_for(lambda: self.texts_of("palm_lamp") == [], "its own cue to be gone")

    def test_where_a_thing_is_used_says_how(self):
        self.open_place("items/long_reach")
        self.see("article", "suspends it")
        self.open_place("items/staff")
        self.see("article li", "wears it")


class SentencesOfAPage(Driven):
    """Sentences with slots: what stands there follows from what is set, and nonsense changes nothing."""

    def settings(self):
        return models.SettingsRecord.objects.get(project_id=self.project)

    def test_the_project_says_what_money_is_called_and_where_levels_of_experience_begin(self):
        self.open_place("project")
        self.rewrite(self.word("money", ".project"), "marks")
        wait_for(lambda: self.settings().money_name == "marks", "the money to be called so")
        self.rewrite(self.word("experience levels", ".project"), "90, 30; 30 x")
        self.see('.project [data-word="experience levels"]', "30, 90")
        self.rewrite(self.word("radius", ".project"), "wide")
        self.see('.project [data-word="radius"]', "0.35 m")
        self.see_kept()
        self.assertEqual(self.settings().player["radius_m"], 0.35)
        self.choose("inside", "follows", section="")
        wait_for(lambda: self.settings().camera["inside_area"] is False, "the camera to follow anywhere")

    def test_an_exit_that_leads_nowhere_asks_for_no_place_there(self):
        self.open_place("plan/ladder_down")
        self.see('[data-word="to x"]')
        self.choose("leads to", "nowhere", section="")
        self.see("article [data-finding]", "leads nowhere: its level is not chosen")
        self.see_none('[data-word="to x"]')

    def test_what_may_be_left_empty_goes_back_to_the_usual_by_being_emptied(self):
        self.open_place("plan/palm_lamp")
        self.choose("facing", "facing it", section="")
        self.see('article [data-word="facing, empty for any"]', "70°")
        self.word("facing, empty for any").click()
        self.see(".edit-word input:focus").send_keys(Keys.CONTROL, "a")
        self.keys(Keys.DELETE, Keys.ENTER)
        self.see('article [data-word="facing"]', "facing anywhere")

    def test_a_number_stays_within_what_the_types_allow_when_it_is_nudged(self):
        self.open_place("plan/palm_lamp")
        self.rewrite(self.word("reach size"), "0.2")
        self.see('article [data-word="reach size"]', "0.2 m")
        self.word("reach size").click()
        self.keys(*[Keys.ARROW_DOWN] * 5, Keys.ENTER)
        self.see('article [data-word="reach size"]', "0.1 m")

    def test_the_height_of_a_wall_is_a_word_of_its_own_once_it_is_lower(self):
        wall = models.Wall.objects.filter(project_id=self.project).first()
        self.open_place(f"plan/{wall.key}")
        self.choose("height", "lower", section="")
        self.see('article [data-word="height, empty for the ceiling"]', "1 m")
        self.rewrite(self.word("height, empty for the ceiling"), "1.4")
        wait_for(lambda: models.Wall.objects.get(pk=wall.pk).height_m == 1.4, "the wall to be lower")
        self.choose("glass", "glass", section="")
        wait_for(lambda: models.Wall.objects.get(pk=wall.pk).glass, "the wall to be of glass")

    def test_a_line_says_how_long_its_voice_lasts_by_its_length_until_it_is_given(self):
        self.open_place("dialogue/mind_the_wet")
        self.see('article [data-word="voice seconds"]', "1.2 s by its length")
        self.rewrite(self.word("voice seconds"), "3")
        self.see('article [data-word="voice seconds"]', "3 s")
        self.choose("repeat", "once", section="")
        self.see("article", "Once only. Holds the player: no.")
