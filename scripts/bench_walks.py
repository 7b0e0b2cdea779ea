"""Measures of walks: how fast one is walked again, how large it grows, how soon any moment of it is there, many at once."""

from __future__ import annotations

import itertools
import json
import os
import subprocess
import sys
import time

from scripts.measuring import median_ms, say

HALF_AN_HOUR = 30 * 60 * 30
"""Ticks."""
WATCHED_S = 10


def _resident_mb() -> float:
    with open("/proc/self/statm", encoding="ascii") as told:
        return int(told.read().split()[1]) * os.sysconf("SC_PAGE_SIZE") / 2**20


def half_an_hour() -> None:
    """A walk of 30 minutes through the demo: speed against real time, growth, any moment of it, why for every object."""
    from tests.core.test_engine import random_inputs
    from vocanta.core.engine.run import Run
    from vocanta.core.engine.snapshots import Snapshots
    from vocanta.core.engine.then import picture_of
    from vocanta.core.engine.why import explained
    from vocanta.demo import night_bloom

    run = Run(night_bloom().project)
    snapshots = Snapshots(run)
    inputs = random_inputs(1, 3_000)
    before, begun = _resident_mb(), time.perf_counter()
    for number in range(HALF_AN_HOUR):
        snapshots.note(happened=bool(run.tick(inputs[number % len(inputs)])))
    taken = time.perf_counter() - begun
    say("walk_of_30_minutes_times_real_time", HALF_AN_HOUR / 30 / taken, "x")
    say("walk_of_30_minutes_grows_by", _resident_mb() - before, "MB")
    moments = iter(range(0, HALF_AN_HOUR, HALF_AN_HOUR // 100))
    say("any_moment_of_30_minutes", median_ms(lambda: snapshots.card_at(next(moments)), 40), "ms")
    told = run.chronicle

    def shown() -> None:
        then = snapshots.at(next(moments))
        picture_of(run.situation, then, [e for e in told if e.tick <= then.tick])

    say("any_moment_of_30_minutes_shown", median_ms(shown, 40), "ms")
    keys = list(run.situation.layout.placed)
    slowest = max(median_ms(lambda key=key: explained(run, key), 3) for key in keys)
    say("why_of_the_slowest_object", slowest, "ms")


def kept_walks() -> None:
    """All kept walks of the demo: as a whole, as a command, and how much faster than real time they go."""
    from vocanta.core.progress.compiling import compiled
    from vocanta.core.walks.rewalking import walked_again
    from vocanta.demo import PLACE, night_bloom

    project = night_bloom().project
    begun = time.perf_counter()
    program = compiled(project)
    outcomes = [walked_again(walk, project, program) for walk in project.walks]
    taken = time.perf_counter() - begun
    assert all(o.same for o in outcomes)
    say("kept_walks_of_the_demo", taken, "s")
    walked_s = sum(o.ticks for o in outcomes) / 30
    say("kept_walks_times_real_time", walked_s / (taken or 1), "x")
    longest = project.walks[0]
    begun = time.perf_counter()
    again = walked_again(longest, project, program)
    say("from_the_gate_to_the_ending_times_real_time", again.ticks / 30 / (time.perf_counter() - begun), "x")
    file = str(PLACE / "night_bloom" / "project.json")
    begun = time.perf_counter()
    subprocess.run([sys.executable, "-m", "vocanta", "walk", file], check=True, capture_output=True)
    say("vocanta_walk_of_the_demo", time.perf_counter() - begun, "s")


def ten_at_once() -> None:
    """Ten playtests of the demo at once, each in a process of its own: which share of the pictures came on time."""
    from vocanta.core.project.fileformat import dumps
    from vocanta.demo import night_bloom

    first = json.dumps({"project": dumps(night_bloom().project), "start": {}, "inputs": [], "tick": 0})
    command = [sys.executable, "-m", "vocanta.server.engine_process"]
    # Each says when its pictures came through a watcher that does nothing else.
    watcher = "import sys, time\nfor line in sys.stdin:\n    if '\"picture\"' in line[:20]: print(time.monotonic(), flush=True)"
    environment = {**os.environ, "OPENBLAS_NUM_THREADS": "1"}
    engines, watchers = [], []
    for _ in range(10):
        engine = subprocess.Popen(command, stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True, env=environment)
        assert engine.stdin is not None
        engine.stdin.write(first + "\n" + json.dumps({"input": {"move": [0.3, 1.0]}}) + "\n")
        engine.stdin.flush()
        engines.append(engine)
        watch = [sys.executable, "-c", watcher]
        watchers.append(subprocess.Popen(watch, stdin=engine.stdout, stdout=subprocess.PIPE, text=True))
    # The first pictures are of a time when others are still starting; the last so many of each are looked at.
    seen = [[float(next(one.stdout)) for _ in range(2 * WATCHED_S * 30)] for one in watchers if one.stdout is not None]
    for engine in engines:
        assert engine.stdin is not None
        engine.stdin.close()
    late, all_ticks = 0, 0
    for engine, one, first_times in zip(engines, watchers, seen, strict=True):
        times = [*first_times, *map(float, one.communicate()[0].split())][-WATCHED_S * 30 :]
        engine.wait()
        apart = [b - a for a, b in itertools.pairwise(times)]
        late += sum(gap > 1.5 / 30 for gap in apart)
        all_ticks += len(apart)
    say("ten_playtests_at_once_on_time", 100 * (1 - late / all_ticks), "%")
    say("ten_playtests_at_once_pictures_a_second", all_ticks / 10 / WATCHED_S, "a second")
