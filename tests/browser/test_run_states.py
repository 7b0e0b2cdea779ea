"""What state a run is in is said where one looks, and a click that leads nowhere is answered where it was made."""

from __future__ import annotations

import json
import os
import signal

from selenium.webdriver.common.keys import Keys

from tests.browser.driving import Driven, wait_for
from vocanta.server import models
from vocanta.server.consumers import PlaytestConsumer


class RunStates(Driven):
    def engine(self):
        """The engine process of the run that is open."""
        wait_for(lambda: any(c.engine for c in PlaytestConsumer.under_way.values()), "an engine")
        return next(c.engine.process.pid for c in PlaytestConsumer.under_way.values())

    def walking(self, at="yard_bell"):
        self.open_place(f"playtest/{at}")
        self.see(f'[data-prompt="{at}"]')

    def test_a_click_where_no_way_leads_says_so_where_it_was_made(self):
        self.walking()
        self.walk_to(12.0, 4.0)
        text = self.see(".barred text")
        self.assertIn(text.text, ("Only as far as here.", "No way leads there."))
        self.see_none(".barred")

    def test_a_run_that_a_fault_ends_says_so_and_begins_again_by_key(self):
        self.walking()
        os.kill(self.engine(), signal.SIGKILL)
        self.see(".lost", "The run has ended")
        self.keys(Keys.F2)
        self.see_none(".lost")
        self.see('[data-prompt="yard_bell"]')

    def test_a_run_that_falls_behind_says_so_and_stops_saying_it(self):
        self.walking()
        pid = self.engine()
        os.kill(pid, signal.SIGSTOP)
        try:
            self.see(".lost", "The run is behind")
        finally:
            os.kill(pid, signal.SIGCONT)
        self.see_none(".lost")

    def test_paused_it_is_not_behind_and_a_second_of_ticks_moves_the_clock(self):
        self.walking()
        self.keys(Keys.F6)
        self.see(".pace", "paused")
        before = self.see(".purse").text
        self.keys(*[Keys.F7] * 31)
        wait_for(lambda: self.see(".purse").text != before, "the clock to move")
        self.keys(Keys.F6)
        self.see_none(".pace")

    def test_a_run_goes_on_in_the_window_that_took_it_and_the_other_is_told(self):
        self.walking()
        consumer = next(iter(PlaytestConsumer.under_way.values()))
        script = (
            "const done = arguments[1]; const s = new WebSocket(location.origin.replace('http', 'ws')"
            f" + '/ws/projects/{self.project}/play');"
            "s.onopen = () => s.send(JSON.stringify({resume: arguments[0]}));"
            "s.onmessage = (e) => JSON.parse(e.data).picture && (s.close(), done(true));"
        )
        self.assertTrue(self.browser.execute_async_script(script, consumer.run_id))
        self.see(".lost", "This playtest goes on in another window.")

    def test_marks_on_a_panel_move_by_tab_and_its_control_works_the_marked_one(self):
        self.walking("odile_desk")
        self.see("[data-button=work].marked")
        button = self.see("[data-button=hook]")
        self.browser.execute_script("arguments[0].focus()", button)
        self.see("[data-button=hook].marked")
        self.keys("e")
        self.see("[data-notice=notice]", "You will want it a while yet.")
        self.keys("1")
        self.see(".talk")

    def test_a_run_that_was_overtaken_by_edits_says_so_and_begins_again_here_with_them(self):
        self.open_place("playtest/palm_lamp")
        self.see('[data-prompt="palm_lamp"]')
        self.keys("e")
        self.see('[data-prompt="palm_lamp"]', "Put out")
        lamp = models.Object.objects.get(project_id=self.project, key="palm_lamp")
        self.someone_does(do="set", id=lamp.pk, version=lamp.version, values={"x_m": lamp.x_m + 0.5})
        self.see(".news", "One edit since this run began; it goes on as it was.")
        self.keys(Keys.F9)
        self.see(".start", "from where you stood")
        self.see_none(".news")
        self.see('[data-prompt="palm_lamp"]', "Put out")
        lamp.refresh_from_db()
        self.someone_does(do="remove", id=lamp.pk, version=lamp.version, clean=True)
        self.see(".news", "One edit since")
        self.click(".news .link", "begin again here")
        self.see(".news", "Left out: Palm House lamp lit.")

    def someone_does(self, **change):
        """Another tab edits the project."""
        body = json.dumps({"tab": "other", "changes": [change]})
        answer = self.client.post(f"/api/projects/{self.project}/edits", body, content_type="application/json")
        self.assertEqual(answer.status_code, 200)

    def test_a_page_that_is_left_lets_its_run_go_and_walks_again_when_one_goes_back(self):
        self.walking()
        self.open_place("plan/yard_bell")
        self.see("article h1", "Yard bell")
        wait_for(lambda: not PlaytestConsumer.under_way, "the run to be let go")
        self.browser.back()
        self.see('[data-prompt="yard_bell"]')
        wait_for(lambda: PlaytestConsumer.under_way, "a run to be under way again")
        self.see_none(".lost")
        before = self.see(".purse").text
        wait_for(lambda: self.see(".purse").text != before, "the clock to go on")
        self.keys("e")
        self.see('[data-told="sound"]')

    def test_the_chronicle_is_handed_over_as_a_file_of_events(self):
        self.walking("palm_lamp")
        self.keys("e")
        self.see('[data-told="state"]', "lit")
        script = (
            "URL.createObjectURL = (file) => { file.text().then((text) => (window.handed = text)); return '#' };"
            "HTMLAnchorElement.prototype.click = function () { window.calledIt = this.download }"
        )
        self.browser.execute_script(script)
        self.click(".chronicle header button", "export")
        wait_for(lambda: self.browser.execute_script("return window.handed"), "the file")
        events = [json.loads(line) for line in self.browser.execute_script("return window.handed").splitlines()]
        self.assertIn("vocanta.walk.state", [event["type"] for event in events])
        self.assertTrue(self.browser.execute_script("return window.calledIt").endswith(".ndjson"))

    def test_the_chronicle_shows_what_i_did_finds_words_and_unfolds_why(self):
        self.walking("palm_lamp")
        self.keys("e")
        self.see('[data-told="state"]', "lit")
        self.click('[data-told="state"] .what button')
        self.see(".because", "because of Use at Palm House lamp")
        self.see('[data-told="near"]')
        self.click(".chronicle header button", "mine")
        self.see_none('[data-told="near"]')
        self.see('[data-told="state"]')
        self.see(".wanted").send_keys("nothing like it")
        self.see(".chronicle", "Nothing of that kind has happened.")
        self.see(".wanted").send_keys(Keys.CONTROL, "a")
        self.see(".wanted").send_keys("lamp, a click")
        self.see('[data-told="sound"]')
        self.see_none('[data-told="state"]')
        self.click(".chronicle header button", "all")
