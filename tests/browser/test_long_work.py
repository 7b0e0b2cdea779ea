"""Long work on a large project: it says how far it has come, can be stopped, and a playtest can be left while it starts."""

from __future__ import annotations

import asyncio
import json
import tempfile
import threading
from unittest import mock

from scripts.campaign import saga
from tests.browser.driving import EXPECTED_REFUSALS, PATIENCE_S, Driven, wait_for
from vocanta.core.project import fileformat
from vocanta.server import models
from vocanta.server.consumers import PlaytestConsumer
from vocanta.server.engines import Engine

LARGE = fileformat.dumps(saga(60, 6_000, 1_500))
SMALL = fileformat.dumps(saga(2, 20, 20))


class LongWork(Driven):
    expected = (*EXPECTED_REFUSALS, "status of 404")
    """Work that has just ended is asked for once more, and is there no longer."""

    def projects(self):
        return models.Project.objects.filter(deleted_at=None).count()

    def file_in(self, text):
        """Choose a file with a text; the file is there until the test is over."""
        file = self.enterContext(tempfile.NamedTemporaryFile("w", suffix=".json", encoding="utf-8"))
        file.write(text)
        file.flush()
        self.open("/")
        self.see("form")
        self.browser.find_element("css selector", "input[type=file]").send_keys(file.name)

    def test_filing_in_says_how_far_it_has_come_and_leaves_nothing_when_it_is_stopped(self):
        self.file_in(LARGE)
        self.see(".work", "of")
        self.click(".work .link", "stop")
        self.see_none(".work")
        self.see("li .open", "The Night Bloom")
        self.assertEqual(self.projects(), 1)

    def test_what_is_filed_in_opens_and_its_playtest_can_be_left_while_it_starts(self):
        self.file_in(SMALL)
        self.see(".band", "Field trip")
        made = models.Project.objects.latest("pk")
        left, said = threading.Event(), Engine.lines

        async def held(engine):
            """What an engine says, but not before the playtest was left."""
            async for line in said(engine):
                await asyncio.to_thread(left.wait, PATIENCE_S)
                yield line

        with mock.patch.object(Engine, "lines", held):
            self.open(f"/p/{made.pk}/playtest")
            self.click(".waiting .link", "not now, back to the plan")
            self.see_address(f"/p/{made.pk}/plan")
            left.set()
            wait_for(lambda: not PlaytestConsumer.under_way, "the run to be stored")

    def test_a_file_that_makes_no_sense_is_refused_where_it_was_chosen_and_can_be_chosen_again(self):
        self.file_in(json.dumps({"format": "vocanta project", "version": 1, "project": {"key": "x"}}))
        self.see(".problems .says")
        self.see_none(".work")
        self.assertEqual(self.projects(), 1)
        self.assertEqual(self.browser.find_element("css selector", "input[type=file]").get_property("value"), "")
