"""Loads the demo and its first draft, into an empty database only."""

from __future__ import annotations

from typing import Any

from django.core.management.base import BaseCommand

from vocanta.demo import first_draft, night_bloom
from vocanta.server import listing, models


class Command(BaseCommand):
    """`manage.py load_demo`."""

    help = "Load the demo projects into an empty database."

    def handle(self, *args: Any, **options: Any) -> None:
        """Load both unless any project is there; the demo stands first in the list."""
        if models.Project.objects.exists():
            return
        demo = listing.taken_in(night_bloom())
        listing.taken_in(first_draft())
        demo.save()
        self.stdout.write("The demo is loaded.")
