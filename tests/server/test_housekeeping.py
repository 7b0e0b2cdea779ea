"""What goes by itself: deleted projects after thirty days, all but the newest edits and walks."""

from __future__ import annotations

from datetime import timedelta
from unittest import mock

from django.utils import timezone

from tests.server.test_api import OnTheDemo
from vocanta.server import housekeeping, models, playing


class Tidying(OnTheDemo):
    def deleted(self):
        return [(one["id"], one["erased_at"][:10]) for one in self.client.get("/api/projects/deleted").json()]

    def test_a_deleted_project_can_be_put_back_for_thirty_days_and_is_erased_then(self):
        project = models.Project.objects.get()
        playing.begin_run(project.pk, {})
        self.client.delete(self.base)
        today = timezone.now()
        erased_on = (today + timedelta(days=30)).isoformat()[:10]
        self.assertEqual(self.deleted(), [(project.pk, erased_on)])
        housekeeping.tidy(today + timedelta(days=29))
        self.assertEqual(self.client.post(f"{self.base}/back").status_code, 204)
        self.assertEqual((self.deleted(), self.client.get(self.base).status_code), ([], 200))
        housekeeping.tidy(today + timedelta(days=400))
        self.client.delete(self.base)
        housekeeping.tidy(today + timedelta(days=31))
        left = models.Project, models.Record, models.PlayedRun, models.Snapshot, models.Edit
        self.assertEqual([kind.objects.count() for kind in left], [0] * 5)
        self.assertEqual(self.client.post(f"{self.base}/back").status_code, 404)

    def test_the_newest_edits_and_walks_stay(self):
        for text in "abcde":
            self.edit({"do": "set", "id": self.row("copper_key")["id"], "values": {"text": text}})
        runs = [playing.begin_run(models.Project.objects.get().pk, {}).run for _ in range(3)]
        with mock.patch.object(housekeeping, "KEPT_EDITS", 2), mock.patch.object(housekeeping, "KEPT_RUNS", 1):
            housekeeping.tidy()
            self.assertEqual(self.client.get("/api/kept").json(), {"edits": 2, "walks": 1, "deleted_days": 30})
        self.assertEqual(models.Edit.objects.count(), 2)
        self.assertEqual(list(models.PlayedRun.objects.values_list("pk", flat=True)), runs[-1:])
        self.send("post", "/undo", {"tab": "a"})
        self.assertEqual(self.row("copper_key")["values"]["text"], "d")
