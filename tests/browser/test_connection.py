"""Without a connection nothing is lost and nothing said that is not so; what others do is seen as they do it."""

from __future__ import annotations

import json

from selenium.webdriver.common.keys import Keys

from tests.browser.driving import EXPECTED_REFUSALS, Driven, wait_for
from vocanta.server import models


class Connection(Driven):
    expected = (*EXPECTED_REFUSALS, "ERR_CONNECTION_REFUSED", "ERR_INCOMPLETE_CHUNKED_ENCODING", "ERR_EMPTY_RESPONSE")

    def setUp(self):
        super().setUp()
        self.bell_id = models.Object.objects.get(project_id=self.project, key="yard_bell").pk

    def bell(self):
        return models.Object.objects.get(pk=self.bell_id)

    def someone_else(self, record, **values):
        """Another tab sets values of a record."""
        change = {"do": "set", "id": record.pk, "version": record.version, "values": values}
        body = json.dumps({"tab": "other", "changes": [change]})
        address = f"/api/projects/{self.project}/edits"
        self.assertEqual(self.client.post(address, body, content_type="application/json").status_code, 200)

    def may_leave(self):
        asked = "return window.dispatchEvent(new Event('beforeunload', {cancelable: true}))"
        return self.browser.execute_script(asked)

    def test_what_cannot_be_sent_is_kept_and_sent_in_order_once_it_can(self):
        self.open_place("plan/yard_bell")
        self.rewrite(self.word("name"), "Great bell")
        self.see_saved()
        self.assertTrue(self.may_leave())
        self.server.stop()
        try:
            self.rewrite(self.word("name"), "Old bell")
            self.see(".offline b", "Not saved: no connection")
            self.see(".offline", "tried again in")
            self.see("article h1", "Old bell")
            self.rewrite(self.word("name"), "Cracked bell")
            self.see("article h1", "Cracked bell")
            self.assertFalse(self.may_leave())
            self.assertEqual(self.bell().name, "Great bell")
        finally:
            self.server.start()
        self.see_saved()
        changes = models.Change.objects.filter(record_id=self.bell_id).order_by("edit__number")
        self.assertEqual([c.after["values"]["name"] for c in changes], ["Great bell", "Old bell", "Cracked bell"])
        self.see("article h1", "Cracked bell")
        self.assertTrue(self.may_leave())

    def test_what_another_tab_does_is_seen_while_a_word_stays_open(self):
        self.open_place("plan/yard_bell")
        self.see("article h1", "Yard bell")
        self.word("name").click()
        field = self.see(".edit-word input:focus")
        field.send_keys(Keys.CONTROL, "a")
        field.send_keys("Half a na")
        lamp = models.Object.objects.get(project_id=self.project, key="yard_lamp_west")
        self.someone_else(lamp, name="Hanging lamp")
        self.see('.plan [aria-label*="Hanging lamp"]')
        self.assertEqual(field.get_attribute("value"), "Half a na")
        self.assertIn("yard_bell", self.browser.current_url)
        field.send_keys("me", Keys.ENTER)
        self.see("article h1", "Half a name")
        wait_for(lambda: self.bell().name == "Half a name", "the word to be kept")

    def typed(self, text):
        """The name of the bell opened and written anew, but not kept yet."""
        self.open_place("plan/yard_bell")
        self.see("article h1", "Yard bell")
        self.word("name").click()
        field = self.see(".edit-word input:focus")
        field.send_keys(Keys.CONTROL, "a")
        field.send_keys(text)
        return field

    def test_a_word_that_another_tab_changes_while_it_is_open_shows_both_sides(self):
        field = self.typed("Small bell")
        self.someone_else(self.bell(), name="Great bell")
        self.see('.plan [aria-label="Great bell"]')
        field.send_keys(Keys.ENTER)
        self.see(".refusal", "Great bell")
        self.see(".refusal", "Small bell")
        self.click(".refusal .link", "keep mine")
        self.see("article h1", "Small bell")
        self.see_none(".refusal")

    def test_what_another_tab_changes_beside_an_open_word_is_no_conflict(self):
        field = self.typed("Small bell")
        self.someone_else(self.bell(), x_m=3.0)
        self.someone_else(models.Object.objects.get(project_id=self.project, key="yard_lamp_west"), name="Hanging lamp")
        self.see('.plan [aria-label*="Hanging lamp"]')
        field.send_keys(Keys.ENTER)
        self.see("article h1", "Small bell")
        wait_for(lambda: (self.bell().name, self.bell().x_m) == ("Small bell", 3.0), "both to be kept")

    def test_what_was_missed_while_the_server_was_away_is_read_again(self):
        self.open_place("plan/yard_bell")
        self.see("article h1", "Yard bell")
        self.server.stop()
        self.someone_else(self.bell(), name="Silent bell")
        self.server.start()
        self.see("article h1", "Silent bell")
