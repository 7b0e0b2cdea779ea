"""Gets the database ready, loads the demo into an empty one, and serves: one process, so that starting is quick."""

from __future__ import annotations

from argparse import ArgumentParser
from typing import Any

from django.core.management import call_command
from django.core.management.base import BaseCommand

from vocanta.server.housekeeping import Housekeeper
from vocanta.server.serving import server


class Command(BaseCommand):
    """`manage.py serve`."""

    help = "Migrate, load the demo into an empty database, and serve."

    def add_arguments(self, parser: ArgumentParser) -> None:
        """Where to serve."""
        parser.add_argument("--host", default="127.0.0.1")
        parser.add_argument("--port", type=int, default=8000)

    def handle(self, *args: Any, **options: Any) -> None:
        """Serve until stopped."""
        call_command("migrate", verbosity=0)
        call_command("load_demo", stdout=self.stdout)
        host, port = options["host"], options["port"]

        def begun() -> None:
            self.stdout.write(f"Vocanta is at http://{host}:{port}/")
            self.stdout.flush()

        keeper = Housekeeper()
        keeper.start()
        try:
            server("vocanta.server.asgi:application", host, port, begun=begun).run()
        except SystemExit:
            self.stderr.write(f"Nothing is served at {host}:{port}. For another port: make start PORT={port + 1}")
            raise
        finally:
            keeper.stop()
