"""Driving the real interface: one server and one browser for a process of tests, and the gestures of a person."""

from __future__ import annotations

import asyncio
import contextlib
import os
import socket
import tempfile
import threading
import time
from unittest import mock

from django.test import TransactionTestCase
from selenium import webdriver
from selenium.common.exceptions import (
    ElementClickInterceptedException,
    StaleElementReferenceException,
    TimeoutException,
)
from selenium.webdriver.chrome.service import Service
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import WebDriverWait

from tests.recorded import note_stored_runs
from vocanta.demo import night_bloom
from vocanta.server import edits, listing, models
from vocanta.server.asgi import application
from vocanta.server.consumers import PlaytestConsumer
from vocanta.server.serving import server

PATIENCE_S = 60
"""So long something that has to come may take on a machine that is busy otherwise; nothing is waited for longer than it takes."""
FLAGS = (
    "--headless=new",
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
)
FRAME = """
const [x, y, done] = arguments
requestAnimationFrame(() => setTimeout(() => {
  const p = new DOMPoint(x, y).matrixTransform(document.querySelector('.night-floor > g').getScreenCTM())
  const [m, s] = document.querySelector('.strip [role=slider]').getAttribute('aria-valuetext').split(':').map(Number)
  done([[p.x, p.y], m * 60 + s])
}))
"""
"""Where a place of the floor is on the screen in the next frame, and the time of the run, seconds."""
RESTS_S = 0.25
"""By so much the run goes on while the camera stands, before it is said to rest."""
EXPECTED_REFUSALS = ("status of 409", "status of 412", "status of 422")


class ServerThread:
    """The application on a port of its own; it can be stopped and started again on the same port."""

    def __init__(self):
        probe = socket.socket()
        probe.bind(("127.0.0.1", 0))
        self.port = probe.getsockname()[1]
        probe.close()
        self.start()

    def start(self):
        self.server = server(application, "127.0.0.1", self.port, "error")
        self.thread = threading.Thread(target=lambda: asyncio.run(self.server.serve()), daemon=True)
        self.thread.start()
        wait_for(lambda: self.server.started, "the server to start")

    def stop(self):
        self.server.should_exit = True
        self.thread.join(PATIENCE_S)


def wait_for(claim, what):
    """Wait until a claim holds, looking often; no fixed sleeping."""
    ready = threading.Event()
    for _ in range(PATIENCE_S * 20):
        if claim():
            return
        ready.wait(0.05)
    raise AssertionError(f"waited in vain for {what}")


def new_browser(width=1280, height=800):
    os.environ["SE_OFFLINE"] = "true"
    options = webdriver.ChromeOptions()
    options.binary_location = "/usr/bin/chromium"
    for flag in (*FLAGS, f"--user-data-dir={tempfile.mkdtemp()}"):
        options.add_argument(flag)
    options.set_capability("goog:loggingPrefs", {"browser": "ALL"})
    browser = webdriver.Chrome(options=options, service=Service("/usr/bin/chromedriver"))
    sized(browser, width, height)
    return browser


def sized(browser, width, height):
    """Give the browser a window of so many pixels."""
    size = {"width": width, "height": height, "deviceScaleFactor": 1, "mobile": False}
    browser.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", size)


class Driven(TransactionTestCase):
    """A test of the interface on the demo; `self.project` is its number."""

    reset_sequences = True
    patience_s = PATIENCE_S
    expected = EXPECTED_REFUSALS
    """What the browser's console may say."""
    kept_walks: tuple[str, ...] = ()
    """The kept walks of the demo that are there; each page that is open walks them again."""

    server: ServerThread
    browser: webdriver.Chrome

    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        if "browser" not in Driven.__dict__:
            Driven.server, Driven.browser = ServerThread(), new_browser()

    @classmethod
    def over(cls):
        """No test is driven any more in this process."""
        if "browser" in Driven.__dict__:
            Driven.browser.quit()
            Driven.server.stop()
            del Driven.browser, Driven.server

    def fresh(self):
        """Nothing is left of the test before: one window of the usual size, and nothing that the browser remembers."""
        first, *others = self.browser.window_handles
        for other in others:
            self.browser.switch_to.window(other)
            self.browser.close()
        self.browser.switch_to.window(first)
        self.browser.get("about:blank")
        origin = f"http://127.0.0.1:{self.server.port}"
        self.browser.execute_cdp_cmd("Storage.clearDataForOrigin", {"origin": origin, "storageTypes": "all"})
        self.browser.execute_cdp_cmd("Network.clearBrowserCookies", {})
        self.browser.execute_cdp_cmd("Emulation.clearDeviceMetricsOverride", {})
        sized(self.browser, 1280, 800)

    def setUp(self):
        self.fresh()
        self.project = listing.taken_in(night_bloom()).pk
        models.Walk.objects.filter(project_id=self.project).exclude(key__in=self.kept_walks).delete()

    def tearDown(self):
        logs = self.browser.get_log("browser")
        self.browser.get("about:blank")
        wait_for(lambda: not PlaytestConsumer.under_way, "the last run to be stored")
        note_stored_runs()
        wrong = [
            e["message"] for e in logs if e["level"] == "SEVERE" and not any(x in e["message"] for x in self.expected)
        ]
        self.assertEqual(wrong, [])

    # --- looking

    def open(self, path):
        self.browser.get(f"http://127.0.0.1:{self.server.port}{path}")

    def open_place(self, path):
        self.see_kept()
        self.open(f"/p/{self.project}/{path}")
        self.see(".band")

    def see(self, selector, text=None):
        """Wait until something is seen, with a text in it if one is given; the element."""

        def look(browser):
            for element in browser.find_elements(By.CSS_SELECTOR, selector):
                if text is None or text in element.text:
                    return element
            return None

        try:
            return WebDriverWait(self.browser, self.patience_s, 0.05, ignored_exceptions=[Exception]).until(
                look, f"{selector} with {text!r}"
            )
        except TimeoutException:
            if os.environ.get("VOCANTA_PICTURES"):
                self.browser.save_screenshot(f"{os.environ['VOCANTA_PICTURES']}/{self._testMethodName}.png")
            raise

    def see_none(self, selector):
        WebDriverWait(self.browser, self.patience_s, 0.05).until_not(
            lambda b: b.find_elements(By.CSS_SELECTOR, selector), f"no {selector}"
        )

    def see_kept(self):
        """Wait until nothing that is shown is still on its way to be kept."""

        def kept(browser):
            return not any("Saving" in said.text for said in browser.find_elements(By.CSS_SELECTOR, ".saved"))

        moved = [StaleElementReferenceException]
        WebDriverWait(self.browser, self.patience_s, 0.05, ignored_exceptions=moved).until(kept, "all to be kept")

    def see_saved(self):
        self.see(".saved", "Saved")

    @contextlib.contextmanager
    def edits_held(self):
        """Edits are carried out once the block has ended."""
        may, apply = threading.Event(), edits.apply_edit

        def held(*asked):
            self.assertTrue(may.wait(self.patience_s))
            return apply(*asked)

        with mock.patch.object(edits, "apply_edit", held):
            try:
                yield
            finally:
                may.set()
            self.see_saved()

    def see_address(self, part):
        WebDriverWait(self.browser, self.patience_s, 0.05).until(lambda b: part in b.current_url, part)

    # --- doing

    def click(self, selector, text=None):
        """Click what is seen; what is just being drawn anew is looked for again."""

        def clicked(_):
            self.see(selector, text).click()
            return True

        moved = (StaleElementReferenceException, ElementClickInterceptedException)
        WebDriverWait(self.browser, self.patience_s, 0.05, ignored_exceptions=moved).until(
            clicked, f"to click {selector}"
        )

    def keys(self, *keys):
        ActionChains(self.browser).send_keys(*keys).perform()

    def chord(self, *keys):
        chain = ActionChains(self.browser)
        for key in keys[:-1]:
            chain.key_down(key)
        chain.send_keys(keys[-1])
        for key in reversed(keys[:-1]):
            chain.key_up(key)
        chain.perform()

    def hold(self, key):
        ActionChains(self.browser).key_down(key).perform()

    def let_go(self, key):
        ActionChains(self.browser).key_up(key).perform()

    def word(self, label, section="article"):
        return self.see(f'{section} [data-word="{label}"]')

    def rewrite(self, element, text):
        """Open a word in place, write another, keep it."""
        element.click()
        field = self.see(".edit-word input:focus, .edit-word textarea:focus")
        field.send_keys(Keys.CONTROL, "a")
        field.send_keys(text, Keys.ENTER)

    def choose(self, label, typed, section="article"):
        """Open a choice, type some of it, take the first that fits."""
        self.word(label, section).click()
        field = self.see(".edit-word input:focus")
        field.send_keys(typed)
        self.see(".options button.active")
        field.send_keys(Keys.ENTER)
        self.see_none(".edit-word.open")

    def middle(self, what):
        """The screen point in the middle of an element, or of the first that a selector names."""
        box = (self.see(what) if isinstance(what, str) else what).rect
        return round(box["x"] + box["width"] / 2), round(box["y"] + box["height"] / 2)

    def on_plan(self, x, y, world=".plan .world"):
        """The screen point of a place in the level."""
        script = (
            "const p = new DOMPoint(arguments[0], arguments[1])"
            ".matrixTransform(document.querySelector(arguments[2]).getScreenCTM()); return [p.x, p.y]"
        )
        px, py = self.browser.execute_script(script, x, y, world)
        return round(px), round(py)

    def mouse_at(self, point):
        chain = ActionChains(self.browser)
        chain.w3c_actions.pointer_action.move_to_location(*point)
        return chain

    def at_rest(self, look):
        """What is looked at, once it has stayed the same for a moment: nothing that is still to come pushes it aside."""
        seen = [None] * 8

        def resting():
            seen.append(look())
            return all(one == seen[-1] for one in seen[-8:])

        wait_for(resting, "the page to come to rest")
        return seen[-1]

    def drag(self, element, to):
        chain = self.mouse_at(self.middle(element))
        chain.w3c_actions.pointer_action.pointer_down()
        chain.w3c_actions.pointer_action.move_to_location(*to)
        chain.w3c_actions.pointer_action.pointer_up()
        chain.perform()

    def walk_to(self, x, y):
        """Click the floor of a playtest, once the camera has come to rest."""
        self.mouse_at(self.seen_at_rest(x, y)).click().perform()

    def seen_at_rest(self, x, y):
        """Where a place of the floor is on the screen, once the camera has not moved for a while, of the run's time too."""
        rest: list = []

        def resting():
            point, now_s = self.browser.execute_async_script(FRAME, x, y)
            clock_s = time.monotonic()
            if not rest or rest[0] != point:
                rest[:] = [point, now_s, clock_s]
            return min(now_s - rest[1], clock_s - rest[2]) > RESTS_S

        wait_for(resting, "the camera to rest")
        return [round(v) for v in rest[0]]

    def write_cue(self, text):
        """The first cue of the page as text, written anew."""
        self.click("article .text-prose .link", "as text")
        area = self.see(".cue-text textarea")
        area.send_keys(Keys.CONTROL, "a")
        area.send_keys(text)
        area.send_keys(Keys.CONTROL, "e")
        self.see_none(".cue-text")
