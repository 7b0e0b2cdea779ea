"""One run with its clock, as it talks to a screen: one JSON object a line in and out.

First line in: `{"project": file text, "start": {...}, "inputs": [[tick, input], ...], "tick": n, "mark": "..."}`, and for one
that is only watched `"watch": {"deeds": [...]}` or `{"inputs": [...], "until": n}`, with `"at": tick` to be shown at first. Then:

| in | what it asks for | out |
|---|---|---|
| `input` | what the player does | pictures |
| `do` | `pause`, `go`, `tick`, `slower`, `faster` | `paused`, `pace` |
| `why` | what stops something, by its name | `why` |
| `because` | what brought an entry about, by its number | `because` |
| `then` | the level as it was after a tick | `then` |
| `moment` | the values of a start card: true for now, or after a tick | `moment` |
| `walk` | the run so far as the values of a kept walk | `walk` |
| `try` | values of the project to be tried at once | `tried`, a whole picture |
| `export` | the chronicle as lines of JSON | `export` |
| `again_here` | to begin where the run is anew | `here` |

At least once a second while there is anything: `{"inputs": [...], "came": [...], "tick": n, "mark": "..."}` to be stored. A
run that comes to another mark when it is put together again says so (`otherwise`). Wrong input is answered by `problems` and
changes nothing. Before the first picture of a large project: `starting`.
"""

from __future__ import annotations

import json
import math
import time
from collections.abc import Callable, Iterator, Mapping
from dataclasses import asdict
from datetime import datetime
from typing import Any, TextIO

from pydantic import TypeAdapter

from ..core.engine.again import card_of, card_of_start, from_data, reached
from ..core.engine.chronicle import Entry
from ..core.engine.exporting import event_lines
from ..core.engine.inputs import STILL, Input, read_input
from ..core.engine.marking import Marker, stands
from ..core.engine.picture import Painter
from ..core.engine.run import Run
from ..core.engine.situation import TICKS_A_SECOND
from ..core.engine.snapshots import Snapshots
from ..core.engine.then import picture_of
from ..core.engine.tracing import Tracer
from ..core.engine.tuning import Tried, gone_on, read_tried
from ..core.engine.why import explained
from ..core.progress.compiling import compiled
from ..core.project import fileformat
from ..core.project.keeping import Card, Deed, Walk
from ..core.project.problems import Problem, ProjectError
from ..core.project.tree import plain
from ..core.walks.comparing import could_come_to, usually_held_to
from ..core.walks.following import Follower, Stuck
from ..core.walks.recording import Recorder

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
_WATCHED = Problem(
    "only_watched",
    "This run is only watched: it does what was done in it.",
    "F9 begins a walk of your own from here.",
    "input",
)
_DEEDS = TypeAdapter(tuple[Deed, ...])


class Session:
    """One run with its clock.

    | state | what may happen | next |
    |---|---|---|
    | going | a thirtieth of a second passes | going, one tick on |
    | going | pause | paused |
    | paused | go, or a single tick | going, or paused one tick on |
    | going, watched | what was done is all done | paused |
    """

    def __init__(self, begin: dict[str, Any], out: TextIO):
        project = fileformat.loads(begin["project"])
        self.out, self.controls = out, frozenset(c.key for c in project.controls)
        self._number = int(begin.get("run", 0))
        self._begun = datetime.fromisoformat(begin.get("begun") or "1970-01-01T00:00:00+00:00")
        self._noted = time.monotonic()
        self._start = from_data(begin.get("start") or {})
        self.run = Run(project, self._start, compiled(project, self._starting))
        self.painter, self.tracer = Painter(self.run), Tracer(self.run)
        self.snapshots, self.recorder, self.marker = Snapshots(self.run), Recorder(self.run), Marker()
        self.marker.note(self.run.chronicle)
        self.paused, self.pace = False, USUAL_PACE
        self._waiting: list[Input] = []
        self._untold: list[Entry] = []
        self._steady = STILL
        self._tried: dict[tuple[str, str], Tried] = {}
        self._unstored: list[tuple[int, dict[str, Any]]] = []
        self._stored_tick = self._stored_came = 0
        self._replay(begin.get("inputs", []), int(begin.get("tick", 0)))
        self._stored_tick, self._stored_came = self.run.situation.tick, len(self.recorder.came)
        otherwise = bool(begin.get("mark")) and begin["mark"] != self.marker.mark(stands(self.run.situation))
        watch = begin.get("watch")
        self._script = None if watch is None else self._watched(watch)
        if watch is not None and watch.get("at") is not None:
            self._watch_to(int(watch["at"]))
        self._answers = self._handlers()
        wrong = [p.as_dict() for p in self.run.situation.program.problems]
        told: dict[str, Any] = {"wrong": wrong, "paused": self.paused, "pace": PACES[self.pace]}
        tried = [asdict(one) for one in self._tried.values()]
        told |= {"watched": self._script is not None, "otherwise": otherwise, "tried": tried}
        self._send({"picture": self.painter.first(), **told})

    def _starting(self, what: str, done: int, of: int) -> None:
        """Say how far the start has come, a few times a second."""
        now = time.monotonic()
        if now - self._noted > NOTE_S:
            self._noted = now
            self._send({"starting": {"what": what, "done": done, "of": of}})

    # --- what was done before

    def _replay(self, inputs: list[Any], last_tick: int) -> None:
        last = max([last_tick, *(int(tick) for tick, _ in inputs)], default=0)
        for given in self._given(inputs, last):
            self._advance(given, store=False)

    def _given(self, inputs: list[Any], last: int) -> Iterator[Input | None]:
        """The inputs of each tick up to the last one; values that were tried then are tried before it."""
        by_tick: dict[int, list[dict[str, Any]]] = {}
        for tick, data in inputs:
            by_tick.setdefault(int(tick), []).append(data)
        for tick in range(1, last + 1):
            given = None
            for data in by_tick.get(tick, ()):
                if "try" in data:
                    self._try(read_tried(data["try"]), store=False)
                else:
                    given = read_input(data, self.controls)
            yield given

    def _watched(self, watch: dict[str, Any]) -> Iterator[Input | None]:
        """What is done in a run that is only watched, tick by tick."""
        if "deeds" in watch:
            return iter(Follower(self.run, _DEEDS.validate_python(watch["deeds"])).inputs())
        return self._given(watch["inputs"], int(watch["until"]))

    def _watch_to(self, tick: int) -> None:
        """Watch up to a tick at once, and stand still there."""
        self.paused = True
        while self.run.situation.tick < tick and self._watch_on():
            pass

    def _watch_on(self) -> bool:
        """One tick of what is watched; whether there was one."""
        assert self._script is not None
        try:
            given = next(self._script)
        except StopIteration:
            return False
        except Stuck as stuck:
            self._send(
                {
                    "problems": [
                        Problem("stuck", f"It goes no further: {stuck}.", "F9 walks on from here.", "").as_dict()
                    ]
                }
            )
            return False
        self._untold += self._advance(given, store=False)
        return True

    # --- a tick

    def _advance(self, given: Input | None, *, store: bool = True) -> list[Entry]:
        """One tick. An input holds until the next one; what happens once (presses, choices) does not."""
        if given is not None:
            self._steady = Input(move=given.move)
            if store:
                self._unstored.append((self.run.situation.tick + 1, given.as_data()))
        entries = self.run.tick(given if given is not None else self._steady)
        self.recorder.note(given, entries)
        self.marker.note(entries)
        self.snapshots.note(happened=bool(entries))
        return entries

    def step(self) -> None:
        """One tick with the inputs that came since the last, told to the screen."""
        given = None
        if self._script is None:
            now, self._waiting = for_one_tick(self._waiting)
            given = merged(now) if now else None
            self._untold += self._advance(given)
        elif not self._watch_on():
            self.paused = True
            self._send({"paused": True, "watched_all": True})
        if self.paused or self.run.situation.tick % max(1, int(PACES[self.pace])) == 0:
            self._show()
        if given is not None and given.walk_to is not None:
            self._tell_barred(given.walk_to)
        untold = self._unstored or len(self.recorder.came) > self._stored_came
        if untold and self.run.situation.tick % TICKS_A_SECOND == 0:
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
        """Hand over what is not stored yet: inputs, what came of them, and how long the run is by now."""
        tick = self.run.situation.tick
        if self._script is None and tick > self._stored_tick:
            came = plain(self.recorder.came[self._stored_came :])
            mark = self.marker.mark(stands(self.run.situation))
            self._send({"inputs": self._unstored, "came": came, "tick": tick, "mark": mark})
            self._unstored, self._stored_tick = [], tick
            self._stored_came = len(self.recorder.came)

    def seconds_a_tick(self) -> float:
        """How long a tick lasts at the present pace."""
        return 1.0 / (TICKS_A_SECOND * PACES[self.pace])

    # --- answers

    def take(self, message: Any) -> None:
        """One message from outside; nonsense is answered and changes nothing."""
        try:
            if not isinstance(message, dict) or len(message) != 1:
                raise self._senseless("The message")
            ((what, value),) = message.items()
            answer = self._answers.get(what)
            if answer is None or not answer(value):
                raise self._senseless(f"“{str(what)[:40]}”")
        except ProjectError as error:
            self._send({"problems": [p.as_dict() for p in error.problems]})

    def _senseless(self, what: str) -> ProjectError:
        fix = f"Send one of {', '.join(self._answers)}."
        return ProjectError([Problem("message_senseless", f"{what} is not understood.", fix, "message")])

    def _handlers(self) -> dict[str, Callable[[Any], bool]]:
        """What answers each message; each says whether it made sense."""
        return {
            "input": self._take_input,
            "do": self._do,
            "why": self._tell_why,
            "because": self._tell_because,
            "then": self._tell_then,
            "moment": self._tell_moment,
            "walk": self._tell_walk,
            "try": self._take_tried,
            "export": self._export,
            "again_here": self._tell_here,
        }

    def _take_input(self, value: Any) -> bool:
        given = read_input(value, self.controls)
        if self._script is not None:
            if given != Input(up=given.up):
                raise ProjectError([_WATCHED])
            return True
        if len(self._waiting) >= MOST_WAITING:
            raise ProjectError([_TOO_MANY])
        self._waiting.append(given)
        return True

    def _do(self, what: Any) -> bool:
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
            fix = "Do one of pause, go, tick, slower, faster."
            raise ProjectError([Problem("message_senseless", f"“{str(what)[:40]}” cannot be done.", fix, "do")])
        self._send({"paused": self.paused, "pace": PACES[self.pace]})
        return True

    def _tell_why(self, key: Any) -> bool:
        if isinstance(key, str):
            self._send({"why": explained(self.run, key)})
        return isinstance(key, str)

    def _tell_because(self, number: Any) -> bool:
        chronicle = self.run.chronicle
        if not _is_number(number) or not 0 <= number < len(chronicle):
            return False
        row = self.snapshots.at(chronicle[number].tick - 1).row
        self._send({"because": self.tracer.because(number, row)})
        return True

    def _tell_then(self, tick: Any) -> bool:
        if not _is_number(tick):
            return False
        then = self.snapshots.at(tick)
        told = [e for e in self.run.chronicle if e.tick <= then.tick]
        self._send({"then": {"tick": then.tick, "picture": picture_of(self.run.situation, then, told)}})
        return True

    def _here(self) -> Card:
        """What the run has come to now, as a start card."""
        return card_of(self.run.situation, reached(self.run))

    def _tell_here(self, value: Any) -> bool:
        if value is True:
            self._send({"here": plain(self._here())})
        return value is True

    def _tell_moment(self, tick: Any) -> bool:
        """The values of a start card for the present moment, or for the one after a tick."""
        if tick is not True and not _is_number(tick):
            return False
        card = self._here() if tick is True else self.snapshots.card_at(tick)
        self._send({"moment": {field: value for field, value in plain(card).items() if field != "key"}})
        return True

    def _tell_walk(self, value: Any) -> bool:
        """The run so far as the values of a kept walk, with all that it could be held to."""
        if value is not True:
            return False
        run, recorder = self.run, self.recorder
        could = could_come_to(run)
        usual = usually_held_to(could)
        begins = card_of_start(self._start, run.situation.program, run.situation.words)
        walk = Walk(
            "walk",
            "Walk",
            begins,
            self._start.seed,
            run.situation.tick,
            recorder.deeds(),
            tuple(recorder.came),
            tuple(usual),
            tuple(recorder.pressed),
        )
        values = {field: value for field, value in plain(walk).items() if field not in ("key", "name")}
        self._send({"walk": {"values": values, "could": plain(could)}})
        return True

    def _export(self, value: Any) -> bool:
        if value is True:
            lines = event_lines(self.run.chronicle, self.run.situation.project.key, self._number, self._begun)
            self._send({"export": "".join(lines)})
        return value is True

    # --- values tried

    def _take_tried(self, value: Any) -> bool:
        if self._script is not None:
            raise ProjectError([_WATCHED])
        tried = read_tried(value)
        self._try(tried, store=True)
        self._send({"tried": [asdict(one) for one in tried]})
        picture = self.painter.first()
        picture["told"] = self.painter.told(self._untold)
        self._untold = []
        self._send({"picture": picture})
        return True

    def _try(self, tried: tuple[Tried, ...], *, store: bool) -> None:
        """Go on with values tried. Raises `ProjectError` (`not_tried`)."""
        known = len(self.run.chronicle)
        self.run = gone_on(self.run, tried)
        self._tried |= {(one.of, one.path): one for one in tried}
        fresh = self.run.chronicle[known:]
        self.painter, self.tracer = Painter(self.run), Tracer(self.run)
        self.snapshots.goes_on_as(self.run)
        self.recorder.goes_on_as(self.run, fresh)
        self.marker.note(fresh)
        if store:
            self._untold += fresh
            self._unstored.append((self.run.situation.tick + 1, {"try": [asdict(one) for one in tried]}))

    def _send(self, message: Mapping[str, Any]) -> None:
        self.out.write(json.dumps(message, separators=(",", ":")) + "\n")
        self.out.flush()


def _is_number(value: Any) -> bool:
    return isinstance(value, int) and not isinstance(value, bool)


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
