"""A run in a process of its own: one JSON object a line in and out, 30 ticks a second.

First line in: `{"project": file text, "start": {...}, "inputs": [[tick, input], ...]}`. Then `{"input": {...}}`,
`{"do": "pause" | "go" | "tick" | "slower" | "faster"}`, `{"why": key}`, `{"moment": true}`, which asks for the present moment
(or, by a tick, for an earlier one) as the values of a start card (`core/engine/again.py`), `{"export": true}`, which asks for
the chronicle (`core/engine/exporting.py`), or `{"again_here": true}`, which asks to begin where the run is anew. Out:
`{"picture": ...}`, `{"why": ...}`, `{"moment": ...}`, `{"export": text}`, `{"here": ...}`,
`{"inputs": [...], "tick": n}` at least once a second while there are any, `{"problems": [...]}`, and before the first picture
of a large project `{"starting": {"what", "done", "of"}}`.
"""

from __future__ import annotations

import gc
import json
import math
import os
import queue
import sys
import threading
import time
from collections.abc import Mapping
from datetime import datetime
from typing import Any, TextIO

from ..core.engine.again import card_of, from_data, reached
from ..core.engine.chronicle import Entry
from ..core.engine.exporting import event_lines
from ..core.engine.inputs import Input, read_input
from ..core.engine.picture import Painter
from ..core.engine.run import Run
from ..core.engine.situation import TICKS_A_SECOND
from ..core.engine.snapshots import Snapshots
from ..core.engine.why import explained
from ..core.progress.compiling import compiled
from ..core.project import fileformat
from ..core.project.fileformat import read_json
from ..core.project.keeping import Card
from ..core.project.problems import Problem, ProjectError
from ..core.project.tree import plain

PACES = (0.25, 0.5, 1.0, 2.0, 4.0)
USUAL_PACE = 2
NEAR_M = 0.05
"""So near a place one is there."""
NOTE_S = 0.2
"""So often it is said how far a start has come."""
MOST_WAITING = 120
"""So many inputs wait for their ticks; more would be played long after they were given."""
_TOO_MANY = Problem(
    "too_many_inputs",
    f"{MOST_WAITING} inputs are waiting for their ticks already.",
    "Let the run go on, or send less.",
    "input",
)


class Session:
    """One run with its clock.

    | state | what may happen | next |
    |---|---|---|
    | going | a thirtieth of a second passes | going, one tick on |
    | going | pause | paused |
    | paused | go, or a single tick | going, or paused one tick on |
    """

    def __init__(self, begin: dict[str, Any], out: TextIO):
        project = fileformat.loads(begin["project"])
        self.out, self.controls = out, frozenset(c.key for c in project.controls)
        self._number = int(begin.get("run", 0))
        self._begun = datetime.fromisoformat(begin.get("begun") or "1970-01-01T00:00:00+00:00")
        self._noted = time.monotonic()
        self.run = Run(project, from_data(begin.get("start") or {}), compiled(project, self._starting))
        self.painter = Painter(self.run)
        self.snapshots = Snapshots(self.run)
        self.paused, self.pace = False, USUAL_PACE
        self._waiting: list[Input] = []
        self._untold: list[Entry] = []
        self._steady = Input()
        self._unstored: list[tuple[int, dict[str, Any]]] = []
        self._replay(begin.get("inputs", []), int(begin.get("tick", 0)))
        wrong = [p.as_dict() for p in self.run.situation.program.problems]
        self._send({"picture": self.painter.first(), "wrong": wrong, "paused": False, "pace": PACES[self.pace]})

    def _starting(self, what: str, done: int, of: int) -> None:
        """Say how far the start has come, a few times a second."""
        now = time.monotonic()
        if now - self._noted > NOTE_S:
            self._noted = now
            self._send({"starting": {"what": what, "done": done, "of": of}})

    def _replay(self, inputs: list[Any], last_tick: int) -> None:
        by_tick = {int(tick): read_input(data, self.controls) for tick, data in inputs}
        last = max([last_tick, *by_tick], default=0)
        for tick in range(1, last + 1):
            self._advance(by_tick.get(tick), store=False)

    def _advance(self, given: Input | None, *, store: bool = True) -> list[Any]:
        """One tick. An input holds until the next one; what happens once (presses, choices) does not."""
        if given is not None:
            self._steady = Input(move=given.move)
            if store:
                self._unstored.append((self.run.situation.tick + 1, given.as_data()))
        entries = self.run.tick(given if given is not None else self._steady)
        self.snapshots.note(happened=bool(entries))
        return entries

    def take(self, message: Any) -> None:
        """One message from outside; nonsense is answered and changes nothing."""
        try:
            if not isinstance(message, dict) or len(message) != 1:
                raise ProjectError(
                    [
                        Problem(
                            "message_senseless",
                            "The message is not understood.",
                            "Send one of input, do, why, moment, export, again_here.",
                            "message",
                        )
                    ]
                )
            ((what, value),) = message.items()
            if what == "input":
                given = read_input(value, self.controls)
                if len(self._waiting) >= MOST_WAITING:
                    raise ProjectError([_TOO_MANY])
                self._waiting.append(given)
            elif what == "do":
                self._do(value)
            elif what == "why" and isinstance(value, str):
                self._send({"why": explained(self.run, value)})
            elif what == "moment" and (value is True or isinstance(value, int)):
                self._tell_moment(None if value is True else value)
            elif what == "export":
                lines = event_lines(self.run.chronicle, self.run.situation.project.key, self._number, self._begun)
                self._send({"export": "".join(lines)})
            elif what == "again_here":
                self._send({"here": plain(self._here())})
            else:
                raise ProjectError(
                    [
                        Problem(
                            "message_senseless",
                            f"“{str(what)[:40]}” is not understood.",
                            "Send one of input, do, why, moment, export, again_here.",
                            "message",
                        )
                    ]
                )
        except ProjectError as error:
            self._send({"problems": [p.as_dict() for p in error.problems]})

    def _here(self) -> Card:
        """What the run has come to now, as a start card."""
        return card_of(self.run.situation, reached(self.run.situation, self.run.clocks))

    def _tell_moment(self, tick: int | None) -> None:
        """The values of a start card for the present moment, or for the one after a tick."""
        card = self._here() if tick is None else self.snapshots.card_at(tick)
        self._send({"moment": {field: value for field, value in plain(card).items() if field != "key"}})

    def _do(self, what: Any) -> None:
        if what in ("pause", "go"):
            self.paused = what == "pause"
            if self.paused:
                self._show()
        elif what == "tick":
            self.paused = True
            self.step()
        elif what in ("slower", "faster"):
            self.pace = min(max(self.pace + (1 if what == "faster" else -1), 0), len(PACES) - 1)
        else:
            raise ProjectError(
                [
                    Problem(
                        "message_senseless",
                        f"“{str(what)[:40]}” cannot be done.",
                        "Do one of pause, go, tick, slower, faster.",
                        "do",
                    )
                ]
            )
        self._send({"paused": self.paused, "pace": PACES[self.pace]})

    def step(self) -> None:
        """One tick with the inputs that came since the last, told to the screen."""
        now, self._waiting = for_one_tick(self._waiting)
        given = merged(now) if now else None
        self._untold += self._advance(given)
        if self.paused or self.run.situation.tick % max(1, int(PACES[self.pace])) == 0:
            self._show()
        if given is not None and given.walk_to is not None:
            self._tell_barred(given.walk_to)
        if self._unstored and self.run.situation.tick % TICKS_A_SECOND == 0:
            self.store()

    def _show(self) -> None:
        """A picture with all that has happened since the last; a faster run is shown no oftener than any."""
        self._send({"picture": self.painter.next(self._untold)})
        self._untold = []

    def _tell_barred(self, goal: tuple[float, float]) -> None:
        """Say so where somebody was sent whom no way, or only a part of it, leads there."""
        player = self.run.situation.player
        reached = player.way[-1] if player.way else (player.x, player.y)
        if math.dist(reached, goal) > NEAR_M:
            words = "Only as far as here." if player.way else "No way leads there."
            self._send({"barred": {"at": list(goal), "text": words}})

    def store(self) -> None:
        """Hand over the inputs that are not stored yet."""
        if self._unstored:
            self._send({"inputs": self._unstored, "tick": self.run.situation.tick})
            self._unstored = []

    def seconds_a_tick(self) -> float:
        """How long a tick lasts at the present pace."""
        return 1.0 / (TICKS_A_SECOND * PACES[self.pace])

    def _send(self, message: Mapping[str, Any]) -> None:
        self.out.write(json.dumps(message, separators=(",", ":")) + "\n")
        self.out.flush()


def for_one_tick(inputs: list[Input]) -> tuple[list[Input], list[Input]]:
    """The inputs that one tick can take, and the rest: a control is pressed once and let go once in a tick."""
    down: set[str] = set()
    up: set[str] = set()
    for number, one in enumerate(inputs):
        if down & set(one.down) or up & set(one.up):
            return inputs[:number], inputs[number:]
        down |= set(one.down)
        up |= set(one.up)
    return inputs, []


def merged(inputs: list[Input]) -> Input:
    """Several inputs of one tick as one: nothing pressed between two ticks is lost."""
    return Input(
        move=inputs[-1].move,
        down=tuple(dict.fromkeys(c for i in inputs for c in i.down)),
        up=tuple(dict.fromkeys(c for i in inputs for c in i.up)),
        choose=next((i.choose for i in inputs if i.choose), ""),
        skip=any(i.skip for i in inputs),
        walk_to=next((i.walk_to for i in reversed(inputs) if i.walk_to), None),
        look=next((i.look for i in reversed(inputs) if i.look is not None), None),
        mark=next((i.mark for i in reversed(inputs) if i.mark), ""),
        decide=next((i.decide for i in inputs if i.decide), ""),
    )


def _read_lines(source: TextIO, messages: queue.Queue[Any]) -> None:
    for line in source:
        try:
            messages.put(read_json(line))
        except ProjectError:
            messages.put("unreadable")
    messages.put(None)


def main() -> None:
    """Serve one run until the input ends."""
    messages: queue.Queue[Any] = queue.Queue(MOST_WAITING)
    threading.Thread(target=_read_lines, args=(sys.stdin, messages), daemon=True).start()
    gc.disable()
    try:
        session = Session(messages.get(), sys.stdout)
    except ProjectError as error:
        sys.stdout.write(json.dumps({"problems": [p.as_dict() for p in error.problems], "ended": True}) + "\n")
        return
    # What was built lives as long as the run: no collection looks at it, neither while it grows nor in a tick.
    gc.freeze()
    gc.enable()
    due = time.monotonic()
    while True:
        due = max(due + session.seconds_a_tick(), time.monotonic() - 0.25)
        while True:
            left = due - time.monotonic()
            try:
                message = messages.get(timeout=left) if left > 0 else messages.get_nowait()
            except queue.Empty:
                break
            if message is None:
                session.store()
                return
            session.take(message)
        if not session.paused:
            session.step()


if __name__ == "__main__":
    os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
    main()
