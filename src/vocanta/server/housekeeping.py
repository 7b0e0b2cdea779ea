"""What goes by itself: deleted projects after a time, all but the newest edits and runs of a project."""

from __future__ import annotations

import logging
import threading
from datetime import datetime, timedelta

from django.db import close_old_connections
from django.utils import timezone

from . import models
from .writing import writing

DELETED = timedelta(days=30)
"""So long a deleted project can be brought back; then it is erased."""
KEPT_EDITS = 5_000
"""So many edits of a project can be seen and undone in its history, the newest."""
KEPT_RUNS = 50
"""So many walks of a project are kept with their inputs, the newest."""
EVERY_S = 24 * 3600.0
LOG = logging.getLogger("vocanta.server")


def tidy(now: datetime | None = None) -> None:
    """Erase what has gone: every project by itself, so that nobody waits long."""
    now = now or timezone.now()
    for pk in list(models.Project.objects.filter(deleted_at__lt=now - DELETED).values_list("pk", flat=True)):
        with writing():
            models.Project.objects.filter(pk=pk, deleted_at__lt=now - DELETED).delete()
            models.Snapshot.objects.filter(playedrun=None).delete()
    for pk in list(models.Project.objects.values_list("pk", flat=True)):
        _forget_old_edits(pk)
        with writing():
            forget_old_runs(pk)


def _forget_old_edits(project: int) -> None:
    newest = models.Edit.objects.filter(project_id=project).order_by("-number").values_list("number", flat=True)
    last = newest[KEPT_EDITS : KEPT_EDITS + 1].first() if newest.count() > KEPT_EDITS else None
    if last is not None:
        with writing():
            models.Edit.objects.filter(project_id=project, number__lte=last).delete()


def forget_old_runs(project: int) -> None:
    """Only the newest runs of a project are kept, with their inputs and what they were started from."""
    runs = models.PlayedRun.objects.filter(project_id=project)
    kept = runs.order_by("-pk").values_list("pk", flat=True)[:KEPT_RUNS]
    runs.exclude(pk__in=list(kept)).delete()
    models.Snapshot.objects.filter(playedrun=None).delete()


class Housekeeper:
    """Tidies as the server begins and once a day, until it is stopped; it has a thread of its own."""

    def __init__(self) -> None:
        self._over = threading.Event()
        self._thread = threading.Thread(target=self._keep, name="housekeeping", daemon=True)

    def start(self) -> None:
        """Begin."""
        self._thread.start()

    def stop(self) -> None:
        """End, and wait until what is being done is done."""
        self._over.set()
        self._thread.join()

    def _keep(self) -> None:
        while True:
            try:
                tidy()
            except Exception:
                LOG.exception("housekeeping")
            finally:
                close_old_connections()
            if self._over.wait(EVERY_S):
                return
