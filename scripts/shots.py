"""Retakes the pictures of the main views in docs/screenshots from the demo and its first draft."""

from __future__ import annotations

import os
import sys
import tempfile
from pathlib import Path

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "vocanta.server.settings")
os.environ["VOCANTA_DATA"] = tempfile.mkdtemp(prefix="vocanta-shots-")
os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "true"
PLACE = Path("docs/screenshots")

VIEWS = {
    "projects": ("/", ".open"),
    "plan": ("/p/1/plan/sluice_wheel?as_if=dry_feet.open_sluice", ".text-prose .word"),
    "running-order": ("/p/1/plan", "[data-order]"),
    "quests": ("/p/1/quests/dry_feet.open_sluice?as_if=dry_feet.open_sluice", ".objective"),
    "dialogue": ("/p/1/dialogue/is_it_running?as_if=dry_feet.open_sluice", ".text-prose .word"),
    "items": ("/p/1/items/copper_key", "article ul .link"),
    "object": ("/p/1/plan/vault_gate", ".handles"),
    "kind": ("/p/1/plan/drying_rack", ".text-prose .word"),
    "cistern": ("/p/1/plan?level=cistern", '[data-object="landing_lamp"]'),
    "project": ("/p/1/project", ".control"),
    "panel": ("/p/1/playtest/odile_desk?leaf=why", ".why h1"),
    "cards": ("/p/1/playtest?card=oil_in_hand&leaf=cards", '[data-prompt="vault_gate"]'),
    "findings": ("/p/2/findings/843db6d538f03132", ".mend"),
    "pennants": ("/p/2/plan/sluice_wheel", "article [data-finding]"),
    "playtest": ("/p/1/playtest/sluice_wheel?leaf=why", "[data-stopped]"),
}


def main() -> int:
    """Take every picture at 1280×800."""
    import django

    django.setup()
    from django.core.management import call_command

    from tests.browser.driving import ServerThread, new_browser, wait_for

    call_command("migrate", verbosity=0)
    call_command("load_demo", verbosity=0)
    server, browser = ServerThread(), new_browser()
    PLACE.mkdir(parents=True, exist_ok=True)
    for name, (path, sign) in VIEWS.items():
        browser.get(f"http://127.0.0.1:{server.port}{path}")
        wait_for(lambda sign=sign: browser.find_elements("css selector", sign), sign)
        wait_for(lambda: not browser.find_elements("css selector", "[data-unread]"), "every text to be read")
        browser.execute_async_script(
            "const done = arguments[0]; document.fonts.ready.then(() => requestAnimationFrame(() => requestAnimationFrame(() => done())))"
        )
        browser.save_screenshot(str(PLACE / f"{name}.png"))
    browser.quit()
    server.stop()
    return 0


if __name__ == "__main__":
    sys.exit(main())
