"""A sound made on the spot: stored like any other file, replaced like any other, undone in one."""

from __future__ import annotations

from tests.server.test_api import OnTheDemo
from vocanta.core.project.placeholder import placeholder
from vocanta.server import models


class MadeOnTheSpot(OnTheDemo):
    def setUp(self):
        super().setUp()
        self.sound = self.edit({"do": "add", "type": "sound", "values": {"name": "Gate"}})["rows"][0]

    def make(self, **asked):
        body = {"tab": "a", "version": self.row("gate")["version"], **asked}
        return self.send("post", f"/sounds/{self.sound['id']}/placeholder", body)

    def test_it_is_heard_at_once_and_set_by_one_edit(self):
        done = self.make(sort="creak", seconds=0.8, height=0.3, rough=0.5).json()
        values = self.row("gate")["values"]
        self.assertEqual((done["undo"], values["seconds"]), ("Made Gate a file", 0.8))
        heard = self.client.get(f"{self.base}/assets/{values['file']}")
        self.assertEqual((heard["Content-Type"], heard.content), ("audio/wav", placeholder("creak", 0.8, 0.3, 0.5)))
        self.make(sort="knock")
        self.assertNotEqual(self.row("gate")["values"]["file"], values["file"])
        self.send("post", "/undo", {"tab": "a"})
        self.assertEqual(self.row("gate")["values"], values)

    def test_the_same_words_make_no_second_file(self):
        for _ in range(2):
            self.make(sort="hum", seconds=1.0)
        name = self.row("gate")["values"]["file"]
        self.assertEqual(models.Asset.objects.filter(project_id=self.demo_id, name=name).count(), 1)

    def test_senseless_words_and_a_stale_version_change_nothing(self):
        for asked in ({"sort": "bang"}, {"sort": "hum", "seconds": 0}, {"sort": "hum", "rough": 2}):
            self.assertEqual(self.make(**asked).status_code, 422, asked)
        self.assertEqual(self.make(sort="hum", version=99).status_code, 412)
        self.assertEqual(self.make(sort="hum", version=None).status_code, 428)
        self.assertEqual(self.row("gate")["values"]["file"], "")
