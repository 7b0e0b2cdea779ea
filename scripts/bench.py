"""Measures what the design asks to be measured; one `name value unit` a line."""

from __future__ import annotations

import gzip
import http.client
import json
import os
import re
import statistics
import sys
import tempfile
import threading
import time
from collections.abc import Callable
from dataclasses import replace
from functools import cache
from pathlib import Path
from typing import Any

from django.test import Client
from websockets.sync.client import ClientConnection

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "vocanta.server.settings")
os.environ["VOCANTA_DATA"] = tempfile.mkdtemp(prefix="vocanta-bench-")
os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "true"

from scripts import bench_proof, bench_walks
from scripts.measuring import MS, median_ms, say

DIST = Path("web/dist")


def ticks() -> None:
    """One tick with 100, 1,000 and 10,000 objects, the player walking among them."""
    from scripts.campaign import campaign
    from vocanta.core.engine.inputs import Input
    from vocanta.core.engine.run import Run

    found = {}
    for count in (100, 1_000, 10_000):
        run = Run(campaign(count, 0))
        way = [Input(move=(1.0, 0.2))] * 40 + [Input(move=(-1.0, -0.2))] * 40
        turn = iter(way * 10)
        found[count] = median_ms(lambda run=run, turn=turn: run.tick(next(turn)), 400)
        say(f"tick_{count}_objects", found[count], "ms")
    say("tick_10000_against_100", found[10_000] / found[100], "times")


def busy_ticks() -> None:
    """One tick with 1,000 objects of which 100 are moving, and 20 characters who walk."""
    from scripts.campaign import campaign, swinging
    from vocanta.core.engine.inputs import Input
    from vocanta.core.engine.run import Run

    run = Run(swinging(campaign(1_000, 0, walkers=20), 100))
    for number in range(100):
        run.situation.row[run.situation.program.table.number(f"in_reach:thing_{number}")] = 1
        run.act(run.situation.program.by_name[f"used:thing_{number}/use"], cause="bench", attempt=True)
    assert len(run.here.mover.swings) == 100, len(run.here.mover.swings)
    way = [Input(move=(1.0, 0.2))] * 40 + [Input(move=(-1.0, -0.2))] * 40
    turn = iter(way * 10)
    say("tick_100_moving_20_walking", median_ms(lambda: run.tick(next(turn)), 400), "ms")


def naming() -> None:
    """Where-used and rename in a project of 2,000 objects and 5,000 cues, as server time."""
    import django

    django.setup()
    from django.core.management import call_command
    from django.test import Client

    from scripts.campaign import campaign
    from vocanta.server import models, store

    call_command("migrate", verbosity=0)
    core = campaign(2_000, 40, cues=5_000)
    project = store.save_project(core).pk
    assert models.Cue.objects.filter(project_id=project).count() == 5_000
    client = Client(SERVER_NAME="127.0.0.1")
    item = models.Item.objects.get(project_id=project, key="token_0")
    address = f"/api/projects/{project}/records/{item.pk}/uses"
    assert len(client.get(address).json()) >= 100
    say("where_used_5000_cues", median_ms(lambda: client.get(address), 15), "ms")
    names = iter([f"token_zero_{i}" for i in range(100)])

    def rename() -> None:
        version = client.get(f"/api/projects/{project}/records/{item.pk}").json()["version"]
        change = {"do": "set", "id": item.pk, "version": version, "key": next(names)}
        body = json.dumps({"tab": "bench", "changes": [change]})
        answer = client.post(f"/api/projects/{project}/edits", body, content_type="application/json")
        assert answer.status_code == 200, answer.content[:300]
        assert len(answer.json()["rows"]) > 100

    say("rename_5000_cues", median_ms(rename, 15), "ms")


def actions() -> None:
    """One action with settling, the list of open actions, and rows a second, at 300 objects and 40 quests."""
    import numpy as np

    from scripts.campaign import campaign
    from vocanta.core.progress.compiling import compiled
    from vocanta.core.progress.onerow import RowWalk
    from vocanta.core.progress.walking import Walk

    program = compiled(campaign(300, 40))
    row = [c.start for c in program.columns]
    for name, value in (
        ("status:quest_0", 3),
        ("stage:quest_0", 1),
        ("in_reach:thing_0", 1),
        ("looked_at:thing_0", 1),
        ("item:token_0", 1),
    ):
        row[program.table.number(name)] = value
    action = program.by_name["used:thing_0/use"]
    took = RowWalk(program, list(row)).act(action)
    assert took.took_effect
    copies = iter([list(row) for _ in range(2_002)])
    say("action_with_settling", median_ms(lambda: RowWalk(program, next(copies)).act(action), 2_000), "ms")
    matrix = np.array([row], dtype=np.int32)
    say("open_actions", median_ms(lambda: program.open_actions(matrix), 1_000), "ms")
    tables = iter([np.asfortranarray(np.repeat(matrix, 100_000, axis=0)) for _ in range(5)])
    say(
        "rows_through_one_action",
        100_000 / (median_ms(lambda: Walk(program, next(tables)).act(action), 3) / MS) / 1e6,
        "million/s",
    )


def touches() -> None:
    """Brings, becomes and stops for every stage of 40 quests, and *as if* to a bead, at 300 objects and 2,000 lines."""
    from scripts.campaign import campaign
    from vocanta.core.progress.as_if import as_if
    from vocanta.core.progress.compiling import compiled
    from vocanta.core.progress.threads import Touching
    from vocanta.core.project.records import Conversation, Line, Reply

    core = campaign(300, 40)
    quest = core.quests[0]
    needs = [f"{q.key} at {q.stages[-1].key}" for q in core.quests]
    lines = tuple(
        Line(f"said_{i}", (f"Line {i}.",), True, needs=needs[i % 40], replies=(Reply("r1", ("Yes.",)),))
        for i in range(2_000)
    )
    core = replace(core, conversations=(*core.conversations, Conversation("much", "Much", "", lines)))
    program = compiled(core)

    def every_stage() -> None:
        touching = Touching(program)
        for one in core.quests:
            for number in range(len(one.stages)):
                touching.brings_here(one, number)
                touching.becomes_possible(one, number)
                touching.stops_being_possible(one, number)

    say("touches_of_every_stage", median_ms(every_stage, 5), "ms")
    say("as_if_to_a_bead", median_ms(lambda: as_if(program, core, quest.key, quest.stages[-1].key), 15), "ms")


def compiling() -> None:
    """The program of 1,000 objects anew, and after one object was moved."""
    import dataclasses
    import itertools

    from scripts.campaign import campaign
    from vocanta.core.cuetext.analysing import analysed
    from vocanta.core.progress.compiling import compiled
    from vocanta.core.progress.recompiling import recompiled

    project = campaign(1_000, 0)

    def from_nothing() -> None:
        analysed.cache_clear()
        compiled(project)

    say("compiling_1000_objects_unread", median_ms(from_nothing, 5), "ms")
    say("compiling_1000_objects", median_ms(lambda: compiled(project), 7), "ms")
    program, level = compiled(project), project.levels[0]
    places = itertools.cycle((0.25, 0.5, 0.75))

    def after_a_move() -> None:
        moved = dataclasses.replace(level.objects[500], x_m=level.objects[500].x_m + next(places))
        objects = (*level.objects[:500], moved, *level.objects[501:])
        levels = (dataclasses.replace(level, objects=objects), *project.levels[1:])
        recompiled(program, dataclasses.replace(project, levels=levels))

    say("compiling_after_a_move", median_ms(after_a_move, 15), "ms")


@cache
def _served() -> int:
    """The server with the demo as project 1 and a project of 1,000 objects, whose number is given back."""
    import django

    django.setup()
    from django.core.management import call_command

    from scripts.campaign import campaign
    from vocanta.server import store

    call_command("migrate", verbosity=0)
    call_command("load_demo", verbosity=0)
    return store.save_project(campaign(1_000, 40)).pk


def serving() -> None:
    """Opening the demo, and an edit with 1,000 objects, as server time."""
    project = _served()
    from django.test import Client

    client = Client(SERVER_NAME="127.0.0.1")

    def opened() -> None:
        assert client.get("/api/projects/1").status_code == 200
        client.get("/api/projects/1/live?quest=&stage=&changes=")
        client.get("/api/starters")

    say("open_demo", median_ms(opened, 15), "ms")
    rows = client.get(f"/api/projects/{project}").json()
    thing, cue = (next(r for r in rows if r["type"] == t) for t in ("object", "cue"))
    say(
        "edit_object_1000_objects",
        median_ms(lambda: _edit(client, project, thing, {"x_m": time.time() % 50}), 25),
        "ms",
    )
    texts = iter([cue["values"]["text"] + f'\n  say "{i}"' for i in range(100)])
    say("edit_cue_1000_objects", median_ms(lambda: _edit(client, project, cue, {"text": next(texts)}), 25), "ms")


def words_again() -> None:
    """A cue changed and its page read again, which is what a changed word waits for, as server time."""
    large = _served()
    from django.test import Client

    client = Client(SERVER_NAME="127.0.0.1")
    say("words_again_demo", _words_again(client, 1), "ms")
    say("words_again_1000_objects", _words_again(client, large), "ms")


def _words_again(client: Client, project: int) -> float:
    rows = client.get(f"/api/projects/{project}").json()
    cue = next(r for r in rows if r["type"] == "cue" and "then" in r["values"]["text"])
    texts = iter([cue["values"]["text"] + f'\n  say "{i}"' for i in range(100)])

    def changed_and_read() -> None:
        _edit(client, project, cue, {"text": next(texts)})
        assert client.get(f"/api/projects/{project}/records/{cue['owner']}/page").status_code == 200

    return median_ms(changed_and_read, 15)


def _edit(client: Client, project: int, row: dict[str, Any], values: dict[str, Any]) -> None:
    change = {"do": "set", "id": row["id"], "version": row["version"], "values": values}
    body = json.dumps({"tab": "bench", "changes": [change]})
    answer = client.post(f"/api/projects/{project}/edits", body, content_type="application/json")
    assert answer.status_code == 200, answer.content
    row["version"] = answer.json()["rows"][0]["version"]


def writers() -> None:
    """Edits over HTTP against a server of its own: one writer alone, then ten at once, none lost."""
    from scripts.campaign import campaign
    from scripts.served import served
    from vocanta.core.project.fileformat import dumps

    with served() as port:

        def ask(line: http.client.HTTPConnection, method: str, path: str, body: Any = None) -> Any:
            text = body if isinstance(body, str) else json.dumps(body) if body is not None else None
            line.request(method, path, text, {"Content-Type": "application/json"})
            answer = line.getresponse()
            data = answer.read()
            assert answer.status in (200, 201), data[:300]
            return json.loads(data)

        first = http.client.HTTPConnection("127.0.0.1", port)
        project = ask(first, "POST", "/api/projects/file", dumps(campaign(300, 10)))["id"]
        things = [r for r in ask(first, "GET", f"/api/projects/{project}") if r["type"] == "object"]

        def write(thing: dict[str, Any], count: int, took: list[float]) -> None:
            line, version = http.client.HTTPConnection("127.0.0.1", port), thing["version"]
            for number in range(count):
                change = {"do": "set", "id": thing["id"], "version": version, "values": {"x_m": 1.0 + number / 100}}
                begun = time.perf_counter()
                done = ask(line, "POST", f"/api/projects/{project}/edits", {"tab": thing["key"], "changes": [change]})
                took.append(time.perf_counter() - begun)
                version = done["rows"][0]["version"]

        alone: list[float] = []
        write(things[10], 100, alone)
        say("edits_a_second_over_http", len(alone) / sum(alone), "edits/s")
        together: list[list[float]] = [[] for _ in range(10)]
        threads = [threading.Thread(target=write, args=(things[i], 40, together[i])) for i in range(10)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        every = sorted(t for one in together for t in one)
        assert len(every) == 400
        edits = ask(http.client.HTTPConnection("127.0.0.1", port), "GET", f"/api/projects/{project}/edits")
        assert len(edits) == 200, "the history shows its last 200"
        say("ten_writers_99_percent", every[int(len(every) * 0.99)] * MS, "ms")


def first_screen() -> None:
    """The scripts of the first screen (the plan of a project), gzipped."""
    manifest = {p.name: p.read_text(encoding="utf-8") for p in (DIST / "assets").glob("*.js")}
    begin = re.findall(r"assets/([\w.-]+\.js)", (DIST / "index.html").read_text(encoding="utf-8"))
    wanted = [n for n in manifest if n.startswith(("PlanPlace", "ProjectFrame"))]
    needed: set[str] = set()
    open_ = [*begin, *wanted]
    while open_:
        name = open_.pop()
        if name not in needed and name in manifest:
            needed.add(name)
            open_ += re.findall(r'from"\./([\w.-]+\.js)"|import"\./([\w.-]+\.js)"', manifest[name]) and [
                a or b for a, b in re.findall(r'from"\./([\w.-]+\.js)"|import"\./([\w.-]+\.js)"', manifest[name])
            ]
    say("first_screen_script", sum(len(gzip.compress(manifest[n].encode())) for n in needed) / 1_000, "kB")


def playing() -> None:
    """Input to picture over a WebSocket on loopback: the time until the picture that shows a press."""
    _served()
    from websockets.sync.client import connect

    from tests.browser.driving import ServerThread

    server = ServerThread()
    taken = []
    with connect(
        f"ws://127.0.0.1:{server.port}/ws/projects/1/play", origin=f"http://127.0.0.1:{server.port}", max_size=None
    ) as socket:
        socket.send(json.dumps({"begin": {"at": "yard_bell"}}))
        _until(socket, lambda m: "picture" in m)
        for i in range(60):
            threading.Event().wait(0.05 + (i % 7) * 0.006)
            begun = time.perf_counter()
            socket.send(json.dumps({"input": {"down": ["use"]}}))
            _until(socket, lambda m: any(t["what"] == "sound" for t in m.get("picture", {}).get("told", [])))
            taken.append((time.perf_counter() - begun) * MS)
            socket.send(json.dumps({"input": {"up": ["use"]}}))
    server.stop()
    taken.sort()
    say("input_to_picture_median", statistics.median(taken), "ms")
    say("input_to_picture_95_percent", taken[int(len(taken) * 0.95)], "ms")


def _until(socket: ClientConnection, claim: Callable[[dict[str, Any]], bool]) -> None:
    """Takes messages until one is as claimed. Raises `TimeoutError` where ten seconds bring none."""
    deadline = time.perf_counter() + 10
    while not claim(json.loads(socket.recv(timeout=10))):
        if time.perf_counter() > deadline:
            raise TimeoutError("waited in vain for a message")


def plan_frames() -> None:
    """Frames a second while the plan of 1,000 objects is panned in headless Chromium without a GPU."""
    project = _served()
    from tests.browser.driving import ServerThread, new_browser, wait_for

    server, browser = ServerThread(), new_browser()
    browser.get(f"http://127.0.0.1:{server.port}/p/{project}/plan")
    wait_for(lambda: len(browser.find_elements("css selector", "[data-object]")) >= 900, "the plan of 1,000 objects")
    script = """
      const done = arguments[0], svg = document.querySelector('.plan-view'), box = svg.getBoundingClientRect();
      const at = (x, y) => ({bubbles: true, clientX: x, clientY: y, view: window});
      const fire = (t, x, y) => (t === 'mousedown' ? svg : window).dispatchEvent(new MouseEvent(t, at(x, y)));
      fire('mousedown', box.x + 300, box.y + 300);
      let n = 0; const begun = performance.now();
      const step = () => { n++; fire('mousemove', box.x + 300 + 80 * Math.sin(n / 9), box.y + 300 + 60 * Math.cos(n / 9));
        if (performance.now() - begun < 2500) return requestAnimationFrame(step);
        fire('mouseup', 0, 0); done(n / (performance.now() - begun) * 1000); };
      requestAnimationFrame(step);"""
    say("plan_pan_1000_objects", browser.execute_async_script(script), "frames/s")
    zooming = """
      const done = arguments[0], svg = document.querySelector('.plan-view'), box = svg.getBoundingClientRect();
      let n = 0; const begun = performance.now();
      const step = () => { n++; svg.dispatchEvent(new WheelEvent('wheel', {bubbles: true, cancelable: true, clientX: box.x + 300,
          clientY: box.y + 250, deltaY: Math.sin(n / 20) * 30}));
        if (performance.now() - begun < 2500) return requestAnimationFrame(step);
        done(n / (performance.now() - begun) * 1000); };
      requestAnimationFrame(step);"""
    say("plan_zoom_1000_objects", browser.execute_async_script(zooming), "frames/s")
    browser.quit()
    server.stop()


def _with_much_talk(lines: int, names: int) -> int:
    """A project with a conversation of so many lines and so many items; its number."""
    _served()
    from scripts.campaign import campaign
    from vocanta.core.project.assets import Package
    from vocanta.core.project.records import Conversation, Item, Line
    from vocanta.server import listing

    said = tuple(
        Line(f"spoken_{i}", (f"Line {i}, which is about the weather and the tide.",), True) for i in range(lines)
    )
    items = tuple(Item(f"tide_{i}", f"Thing {i} of the tide") for i in range(names))
    core = campaign(10, 1)
    core = replace(core, conversations=(Conversation("much", "Much", "", said),), items=(*core.items, *items))
    return listing.taken_in(Package(core, {})).pk


SETTLED = "await new Promise((f) => requestAnimationFrame(() => setTimeout(f, 0)));"


def finding() -> None:
    """From a key to the list of hits while something is sought among 5,000 names and lines, and in the longest case."""
    project = _with_much_talk(2_000, 3_000)
    from selenium.webdriver.common.action_chains import ActionChains

    from tests.browser.driving import ServerThread, new_browser, wait_for

    server, browser = ServerThread(), new_browser()
    browser.get(f"http://127.0.0.1:{server.port}/p/{project}/items")
    wait_for(lambda: browser.find_elements("css selector", "[data-thing=tide_2999]"), "the items")
    ActionChains(browser).send_keys("/").perform()
    wait_for(lambda: browser.find_elements("css selector", ".pick-list input"), "the search")
    typing = f"""
      const done = arguments[0], field = document.querySelector('.pick-list input'), taken = [];
      (async () => {{
        for (const word of ['t', 'ti', 'tid', 'tide', 'thing 29', 'weather']) {{
          const begun = performance.now();
          field.value = word; field.dispatchEvent(new Event('input', {{bubbles: true}}));
          await Promise.resolve(); {SETTLED}
          taken.push(performance.now() - begun);
        }}
        done(taken);
      }})();"""
    taken = browser.execute_async_script(typing)
    say("finding_among_5000", statistics.median(taken), "ms")
    say("finding_among_5000_longest", max(taken), "ms")
    browser.quit()
    server.stop()


def long_talk() -> None:
    """A conversation of 1,000 lines scrolled, and typed into: from a key to the letter on the screen."""
    project = _with_much_talk(1_000, 0)
    from tests.browser.driving import ServerThread, new_browser, wait_for

    server, browser = ServerThread(), new_browser()
    browser.get(f"http://127.0.0.1:{server.port}/p/{project}/dialogue/spoken_500")
    wait_for(lambda: len(browser.find_elements("css selector", "[data-line]")) >= 40, "the lines")
    scrolling = """
      const done = arguments[0], talk = document.querySelector('section.talk');
      let n = 0; const begun = performance.now();
      const step = () => { n++; talk.scrollTop += 40;
        if (performance.now() - begun < 2500) return requestAnimationFrame(step);
        done(n / (performance.now() - begun) * 1000); };
      requestAnimationFrame(step);"""
    say("talk_of_1000_lines_scrolled", browser.execute_async_script(scrolling), "frames/s")
    typing = f"""
      const done = arguments[0], taken = [];
      (async () => {{
        document.querySelector('[data-line] [data-word="line"]').click();
        {SETTLED} {SETTLED}
        const field = document.querySelector('[data-line] textarea');
        for (let i = 0; i < 30; i++) {{
          const begun = performance.now();
          field.value += 'x'; field.dispatchEvent(new Event('input', {{bubbles: true}}));
          await Promise.resolve(); {SETTLED}
          taken.push(performance.now() - begun);
        }}
        done(taken.sort((a, b) => a - b)[28]);
      }})();"""
    say("talk_of_1000_lines_typed_95", browser.execute_async_script(typing), "ms")
    browser.quit()
    server.stop()


def _with_lines(objects: int, quests: int, lines: int) -> Any:
    """A campaign with so many lines in talks of 25."""
    from scripts.campaign import campaign, talk

    whole = campaign(objects, quests)
    things = whole.levels[0].objects
    talks = tuple(talk(number, things[number % objects].key, 25) for number in range(lines // 25))
    return replace(whole, conversations=(*whole.conversations, *talks))


def checking() -> None:
    """All checks of a project from nothing, in a process of their own as the helper is."""
    import gc

    from vocanta.core.checks.asking import Asking

    # As in the helper: what is built lives as long as the project, and no collection looks at it meanwhile.
    gc.disable()
    for name, project in (
        ("300_objects_40_quests_2000_lines", _with_lines(300, 40, 2_000)),
        ("1000_objects", _with_lines(1_000, 0, 0)),
    ):
        say(f"checks_from_nothing_{name}", median_ms(lambda project=project: Asking().ask(project), 3), "ms")
        gc.collect()
    gc.enable()


def checking_again() -> None:
    """From sending an edit to its findings: those found at once, and all of them, over the API and the helper process."""
    _served()
    from vocanta.server import store
    from vocanta.server.checking import HELPER

    project = store.save_project(_with_lines(300, 40, 2_000)).pk
    client = Client(SERVER_NAME="127.0.0.1")
    rows = client.get(f"/api/projects/{project}").json()
    marks = f"/api/projects/{project}/findings/marks"
    client.get(f"{marks}?whole=1")
    by_type = {t: next(r for r in rows if r["type"] == t) for t in ("object", "cue", "line")}
    count = iter(range(10_000))
    new: dict[str, Callable[[], dict[str, Any]]] = {
        "object": lambda: {"x_m": 2.0 + next(count) % 40 / 8},
        "cue": lambda: {"text": f"{by_type['cue']['values']['text']}\n  give {next(count) % 9 + 1} token_1"},
        "line": lambda: {"wordings": [f"Said {next(count)} times."]},
    }
    for name, row in by_type.items():
        taken: dict[str, list[float]] = {"shown": [], "whole": []}
        for _ in range(9):
            begun = time.perf_counter()
            _edit(client, project, row, new[name]())
            edit = client.get(marks).json()["edit_number"]
            taken["shown"].append((time.perf_counter() - begun) * MS)
            assert client.get(f"{marks}?whole=1&edit={edit}").json()["whole"]
            taken["whole"].append((time.perf_counter() - begun) * MS)
        for which, times in taken.items():
            say(f"findings_{which}_after_an_edit_of_a_{name}", statistics.median(times[2:]), "ms")
    HELPER.close()


def check_command() -> None:
    """`vocanta check` of the demo, as a command."""
    import subprocess

    demo = "src/vocanta/demo/night_bloom/project.json"
    say(
        "vocanta_check_demo",
        median_ms(lambda: subprocess.run(["bin/vocanta", "check", demo], check=True, stdout=subprocess.DEVNULL), 5),
        "ms",
    )


def main() -> int:
    """Every figure, or the named ones."""
    parts = {
        "ticks": ticks,
        "busy_ticks": busy_ticks,
        "actions": actions,
        "compiling": compiling,
        "touches": touches,
        "first_screen": first_screen,
        "serving": serving,
        "words_again": words_again,
        "writers": writers,
        "naming": naming,
        "playing": playing,
        "plan_frames": plan_frames,
        "finding": finding,
        "long_talk": long_talk,
        "checking": checking,
        "checking_again": checking_again,
        "check_command": check_command,
        "half_an_hour": bench_walks.half_an_hour,
        "kept_walks": bench_walks.kept_walks,
        "ten_at_once": bench_walks.ten_at_once,
        "prove_campaigns": bench_proof.campaigns,
        "prove_demo": bench_proof.demo,
        "prove_packed": bench_proof.packed,
    }
    for name in sys.argv[1:] or parts:
        parts[name]()
    return 0


if __name__ == "__main__":
    sys.exit(main())
