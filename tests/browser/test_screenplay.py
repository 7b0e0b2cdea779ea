"""Talk written straight through by keyboard, put into another order, and moved to another conversation."""

from __future__ import annotations

from selenium.webdriver.common.keys import Keys

from tests.browser.driving import Driven, wait_for
from vocanta.server import models


class Screenplay(Driven):
    def lines(self, talk="odile_talk"):
        owner = models.Conversation.objects.get(project_id=self.project, key=talk)
        return list(models.Line.objects.filter(owner_id=owner.pk).order_by("order", "pk").values_list("key", flat=True))

    def line(self, key):
        return models.Line.objects.get(project_id=self.project, key=key)

    def draft(self, label):
        self.see(f'textarea[aria-label="{label}"]:focus')

    def write(self, words, key, then):
        self.keys(words, key)
        if then:
            self.draft(then)

    def test_the_page_of_a_talker_shows_its_lines_and_opens_them(self):
        self.open_place("plan/odile_marr?as_if=dry_feet.open_sluice")
        self.see("[data-says=is_it_running]", "said now")
        self.click("[data-says=the_key] .link", "The key? Look in the shed.")
        self.see_address("/dialogue/the_key")

    def test_whatever_is_written_is_shown_as_text_here_and_in_the_playtest(self):
        wild = "<script>document.title='gone'</script> <b>שלום</b> &amp; 🙂"
        models.Line.objects.filter(project_id=self.project, key="mind_the_wet").update(wordings=[wild], needs="")
        models.Line.objects.filter(project_id=self.project, key="you_are_the_new_one").update(opener=False)
        self.open_place("dialogue/mind_the_wet")
        self.see("article.chosen", wild)
        self.see("h1", "<script>")
        self.open_place("playtest/odile_marr")
        self.see('[data-prompt="odile_marr"]')
        self.keys("e")
        self.see(".talk-box", wild)
        self.assertNotEqual(self.browser.title, "gone")

    def test_a_reply_is_dragged_before_another(self):
        self.open_place("dialogue/you_are_the_new_one")
        self.see("article.chosen [data-reply=r3]")
        before = self.middle("article.chosen [data-reply=r1]")
        self.drag(self.see("article.chosen [data-reply=r3] .mark"), (before[0], before[1] - 8))
        self.see_saved()
        replies = models.Reply.objects.filter(owner_id=self.line("you_are_the_new_one").pk).order_by("order", "pk")
        wait_for(lambda: [r.key for r in replies.all()] == ["r3", "r1", "r2"], "the reply to come first")

    def test_whoever_fills_a_role_is_who_talks_and_the_line_another_says(self):
        self.open_place("dialogue/busy_feet")
        self.choose("talker", "whoever is Messenger", "header")
        self.see("header", "spoken by Messenger")
        self.choose("speaker", "Mr Quill")
        self.see("article.chosen .speaker", "MR")
        self.see(".small.quiet .link", "Messenger")
        self.see_kept()
        talk = models.Conversation.objects.get(project_id=self.project, key="pip_talk")
        self.assertEqual((talk.talker, self.line("busy_feet").speaker), ("messenger", "mr_quill"))

    def test_openers_lines_answers_and_what_follows_them_by_keyboard_alone(self):
        self.open_place("dialogue/is_it_running")
        self.see("article.chosen")
        self.keys("o")
        self.draft("A new line")
        self.write("Good evening.", Keys.ENTER, "A new line")
        self.see("article.chosen", "Good evening.")
        self.write("What is it?", Keys.TAB, "A new reply")
        self.write("A key.", Keys.ENTER, "A new reply")
        self.write("Nothing.", Keys.TAB, "A new line")
        self.write("Then be off.", Keys.ENTER, "A new line")
        self.keys(Keys.ESCAPE)
        self.see_none("textarea")
        self.see_kept()
        self.assertEqual(self.line("good_evening").then, "what_is_it")
        replies = models.Reply.objects.filter(owner_id=self.line("what_is_it").pk).order_by("order")
        self.assertEqual([(r.wordings, r.then) for r in replies], [(["A key."], ""), (["Nothing."], "then_be_off")])
        lines = self.lines()
        self.assertLess(lines.index("good_evening"), lines.index("mind_the_wet"))
        self.assertEqual(lines[lines.index("good_evening") + 1], "what_is_it")
        self.see('[data-line="mind_the_wet"]', "“Good evening.” above it always fits")

    def test_an_empty_draft_leaves_nothing_and_a_left_one_is_kept(self):
        self.open_place("dialogue/is_it_running")
        self.see("article.chosen")
        before = self.lines()
        for keys in ((Keys.ESCAPE,), (Keys.ENTER,), (Keys.TAB, Keys.ESCAPE)):
            self.keys("o")
            self.draft("A new line")
            self.keys(*keys)
            self.see_none("textarea")
        self.see_kept()
        self.assertEqual(self.lines(), before)
        self.keys("r")
        self.draft("A new reply")
        self.keys("I forget.")
        self.click("header h1")
        self.see('[data-line="is_it_running"]', "I forget.")

    def test_an_answer_is_led_on_by_the_first_words_of_a_line(self):
        self.open_place("dialogue/is_it_running")
        self.see('[data-line="is_it_running"] [data-reply="r2"] [data-word="reply leads to"]', "ends the talk").click()
        self.keys("mind", Keys.ENTER)
        self.see('[data-line="is_it_running"] [data-reply="r2"]', "then “Mind the wet.”")

    def test_lines_and_answers_are_put_earlier_and_later_by_keys_and_lines_by_dragging(self):
        self.open_place("dialogue/is_it_running")
        self.see("article.chosen")
        at = self.lines().index("is_it_running")
        self.alt(Keys.ARROW_UP)
        wait_for(lambda: self.lines().index("is_it_running") == at - 1, "the line to go up")
        self.alt(Keys.ARROW_DOWN)
        wait_for(lambda: self.lines().index("is_it_running") == at, "the line to come back")
        replies = models.Reply.objects.filter(owner_id=self.line("is_it_running").pk).order_by("order", "pk")
        first = [r.key for r in replies]
        self.browser.execute_script("document.querySelector('[data-line=is_it_running] [data-reply=r1] .word').focus()")
        self.alt(Keys.ARROW_DOWN)
        wait_for(lambda: [r.key for r in replies.all()] == first[::-1], "the answers to change places")
        box = self.see('[data-line="is_it_running"]').rect
        target = self.see('[data-line="the_key"]').rect
        self.drag(self.see('[data-line="is_it_running"] .margin'), (round(target["x"] + 90), round(target["y"] + 4)))
        self.assertGreater(box["y"], target["y"])
        wait_for(lambda: self.lines().index("is_it_running") == self.lines().index("the_key") - 1, "the drop")

    def alt(self, key):
        self.chord(Keys.ALT, key)

    def test_a_line_is_moved_to_another_conversation(self):
        self.open_place("dialogue/mind_the_wet")
        self.word("conversation").click()
        self.keys("work slate", Keys.ENTER)
        self.see("section.talk h1", "Work slate")
        self.see('article.chosen[data-line="mind_the_wet"]')
        self.assertEqual(self.lines("slate_notice")[-1], "mind_the_wet")
