"""Loads the demo, into an empty database only."""

from __future__ import annotations

from typing import Any

from django.core.management.base import BaseCommand

from vocanta.demo import night_bloom
from vocanta.server import listing, models


class Command(BaseCommand):
    """`manage.py load_demo`."""

    help = "Load the demo project into an empty database."

    def handle(self, *args: Any, **options: Any) -> None:
        """Load the demo unless any project is there."""
        if models.Project.objects.exists():
            return
        listing.taken_in(night_bloom())
        self.stdout.write("The demo is loaded.")
