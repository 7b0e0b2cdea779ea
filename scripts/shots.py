"""Retakes the pictures of the main views in docs/screenshots from the demo and its first draft."""

from __future__ import annotations

import os
import sys
import tempfile
from pathlib import Path
from typing import Any

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "vocanta.server.settings")
os.environ["VOCANTA_DATA"] = tempfile.mkdtemp(prefix="vocanta-shots-")
os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "true"
os.environ["VOCANTA_PROVES"] = "0"  # Findings of a proof would come to some pictures and not to others.
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
    "tried": ("/p/1/playtest/sluice_wheel?leaf=try", '[data-prompt="sluice_wheel"]'),
    "causes": ("/p/1/playtest/field_book_bench?leaf=why&as_if=dry_feet.find_key", '[data-prompt="field_book_bench"]'),
    "parting": ("/p/1/playtest?leaf=cards", "[data-walk]"),
    "proof": ("/p/2/proof/oil_for_the_hinge.stuck", ".verdicts"),
}


def _press(browser: Any, *keys: str) -> None:
    from selenium.webdriver.common.action_chains import ActionChains

    ActionChains(browser).send_keys(*keys).perform()


def _seen(browser: Any, selector: str, text: str = "") -> Any:
    """What is seen, waited for; what is drawn anew while it is looked at is looked for again."""
    from selenium.common.exceptions import StaleElementReferenceException

    from tests.browser.driving import wait_for

    def found() -> list[Any]:
        try:
            return [e for e in browser.find_elements("css selector", selector) if text in e.text]
        except StaleElementReferenceException:
            return []

    wait_for(found, f"{selector} with {text!r}")
    return found()[0]


def _tried(browser: Any) -> None:
    """A reach and the camera are tried."""
    from selenium.webdriver.common.keys import Keys

    for label, value in (("Sluice wheel: reach", "1.9"), ("Camera: looks ahead", "2.4")):
        _seen(browser, f'[data-word="{label}"]').click()
        _seen(browser, ".edit-word input:focus").send_keys(Keys.CONTROL, "a")
        _press(browser, value, Keys.ENTER)
        _seen(browser, ".one b", value)


def _unfolded(browser: Any) -> None:
    """The book is taken, and the new stage asked for what brought it about."""
    _press(browser, "e")
    _seen(browser, '[data-told="stage"] .what button', "Open the sluice").click()
    _seen(browser, '[data-told="stage"] .because .because .because', "because of Use")
    _seen(browser, ".then", "As it was")


def _broken(browser: Any) -> None:
    """The book gives no key any more; the kept walk is looked at where it parts ways."""
    from vocanta.server import edits, models
    from vocanta.server.shapes import ChangeAsked, EditAsked

    cue = models.Cue.objects.get(project_id=1, owner__key="book_on_bench")
    values = {"text": cue.text.replace("  give copper_key\n", "")}
    change = ChangeAsked("set", id=cue.pk, version=cue.version, values=values)
    edits.apply_edit(1, EditAsked("shots", [change]))
    _seen(browser, ".walks .link", "see both").click()
    _seen(browser, "[data-parts]")
    _seen(browser, ".pace", "paused")


def _proved(browser: Any) -> None:
    """The first draft is proved, and a way to a dead end looked at."""
    from vocanta.server import models
    from vocanta.server.proofs import known_proof

    project = models.Project.objects.get(pk=2)
    known = known_proof(project, None, anew=True)
    while known.process is not None:
        known = known_proof(project, known.stamp)
    browser.refresh()
    _seen(browser, ".out .link", "do it")


DOING = {"tried": _tried, "causes": _unfolded, "parting": _broken, "proof": _proved}
"""What is done in a view before its picture is taken."""


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
        if name in DOING:
            DOING[name](browser)
        browser.execute_async_script(
            "const done = arguments[0]; document.fonts.ready.then(() => requestAnimationFrame(() => requestAnimationFrame(() => done())))"
        )
        browser.save_screenshot(str(PLACE / f"{name}.png"))
    browser.quit()
    server.stop()
    return 0


if __name__ == "__main__":
    sys.exit(main())
