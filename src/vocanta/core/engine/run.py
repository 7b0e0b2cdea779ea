"""A run: one walk through a project's levels. The order of a tick is the order of `tick`; the same for every replay."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..progress.compiling import cell_map, compiled
from ..progress.layout import Layout
from ..progress.onerow import RowOutcome, RowWalk
from ..progress.ops import Told
from ..progress.program import Action, Program
from ..project.problems import Problem, ProjectError
from ..project.records import Line, Project
from ..space.cells import cells_of
from ..space.ways import Way
from .chances import Chances
from .chronicle import TICKS_A_SECOND, Entry, sentence
from .errands import Errands
from .inputs import STILL, Input
from .moving import Mover
from .scene import Scene, movables, scene_of
from .sensing import LivePrompt, Senses
from .talking import voice_ticks, wording_number
from .wording import Words
from .world import World

TICK_S = 1.0 / TICKS_A_SECOND


@dataclass(frozen=True, slots=True)
class Start:
    """Where a run begins: a place, and columns that differ from the beginning (an *as if*). No place: the level's start.

    `seed` is what chances and scattering draw from.
    """

    x: float | None = None
    y: float | None = None
    facing_deg: float | None = None
    puts: tuple[tuple[str, int], ...] = ()
    level: str = ""
    seed: int = 0


@dataclass
class Hold:
    """A prompt being held: it advances while nothing breaks it; `done` waits for the control to be let go."""

    control: str
    number: int
    total: int
    ticks: int = 0
    done: bool = False


@dataclass
class Speech:
    """The line that is open: its wording, and how many ticks its voice still lasts."""

    line: Line
    conversation: str
    wording: str
    left: int
    total: int


class Run:
    """One run. Not shared: one owner calls `tick`, and reads in between.

    Raises `ProjectError` (`no_level`) from the constructor where the project has no level to start in.
    """

    def __init__(self, project: Project, start: Start | None = None):
        self.start = start = start or Start()
        wanted = start.level or project.first_level
        level = next((lv for lv in project.levels if lv.key == wanted), None)
        if level is None:
            raise ProjectError(
                [Problem("no_level", "There is no level to start in.", "Make a level first.", "project/first_level")]
            )
        self.project, self.cells = project, cells_of(project)
        self.program: Program = compiled(project, cell_map(self.cells, project))
        assert self.program.layout is not None
        self.layout: Layout = self.program.layout
        self.words = Words(project, self.layout)
        self.row: list[int] = [c.start for c in self.program.columns]
        self.tick_number = 0
        self.chronicle: list[Entry] = []
        self.off: frozenset[str] = frozenset()
        self.speech: Speech | None = None
        self.hold: Hold | None = None
        self.held: set[str] = set()
        self.clocks: dict[str, int] = {}
        self.way: Way = []
        self.where: dict[str, tuple[str, float, float, float]] = {}
        """Where things are that were put somewhere: level, x, y, turn."""
        self._movable = movables(self.layout)
        self._down = {k: self.layout.column("down", k) for k in self.layout.mentions.downed if self.has(f"down:{k}")}
        self._cause = "start"
        self._area = ""
        self._stages: dict[str, tuple[Scene, Mover, Senses]] = {}
        for name, value in start.puts:
            self.row[self.program.table.number(name)] = value
        self.chances, self.errands, self.world = Chances(self), Errands(self), World(self)
        x = level.start_x_m if start.x is None else start.x
        y = level.start_y_m if start.y is None else start.y
        self.enter(level.key, x, y, level.start_facing_deg if start.facing_deg is None else start.facing_deg)
        self._begin()

    def _begin(self) -> None:
        cell = self.cells.at(self.scene.level.key, self.mover.x, self.mover.y)
        self.row[self.program.table.number("cell")] = max(cell, 0)
        if self.scene.level.key != self.project.first_level:
            self.row[self.program.table.number("entry")] = self.layout.entries.index(f"start:{self.scene.level.key}")
        self.chances.draw()
        self._tell_outcome(self._walk().start(begins=not self.start.puts), None)
        self._look_at_waits()
        self.world.landed = self.row[self.program.table.number("cell")]
        self.senses.sense()
        self._sensed_changes()
        self.senses.focus()

    # --- where the player is

    def enter(self, level: str, x: float, y: float, facing_deg: float) -> None:
        """The player stands in a level. Another level's things stay as they are until it is entered again."""
        elsewhere = bool(self._stages) and self.scene.level.key != level
        if elsewhere:
            self.senses.leave()
        if level not in self._stages:
            scene = scene_of(self.layout, next(lv for lv in self.project.levels if lv.key == level))
            self._stages[level] = (scene, Mover(self, scene, x, y, facing_deg), Senses(self, scene))
            self.world.lay_out(self._stages[level][1])
        self.scene: Scene
        self.mover: Mover
        self.senses: Senses
        self.scene, self.mover, self.senses = self._stages[level]
        if elsewhere:
            self.mover.look_again()
            self.world.lay_out(self.mover)
        self.mover.stand(x, y, facing_deg)

    def is_here(self, key: str, level: str) -> bool:
        """Whether an object is in a level: where it was put, else where it was placed."""
        if key not in self._movable:
            return True
        return (self.where[key][0] if key in self.where else self.layout.placed[key].level) == level

    def is_down(self, key: str) -> bool:
        """Whether a character is downed."""
        column = self._down.get(key)
        return column is not None and bool(self.row[column])

    # --- reading

    def value(self, column: str) -> int:
        """The value of a column by name."""
        return self.row[self.program.table.number(column)]

    def has(self, column: str) -> bool:
        """Whether there is a column of that name."""
        return self.program.table.has(column)

    @property
    def ended(self) -> bool:
        """Whether the level is over."""
        return bool(self.value("ended"))

    # --- one tick

    def tick(self, given: Input) -> list[Entry]:
        """One thirtieth of a second; what happened in it, in order."""
        begun = len(self.chronicle)
        self.tick_number += 1
        if self.ended:
            given = STILL
        pressed = self._take_input(given)
        due = self._run_clocks()
        self.mover.move(given, TICK_S)
        due += self.errands.arrived()
        self.senses.sense()
        self.senses.focus()
        for action in due:
            self.act(action, cause=f"clock:{action.name}")
        self._sensed_changes()
        for control in pressed:
            self._press(control)
        self._advance_hold()
        self._choose(given)
        self.senses.focus()
        return self.chronicle[begun:]

    def _take_input(self, given: Input) -> list[str]:
        again = {c for c in given.down if c in self.held and c in given.up}
        pressed = [c for c in given.down if c not in self.held or c in again]
        self.held = (self.held | set(given.down)) - (set(given.up) - again)
        if self.hold is not None and self.hold.control in again:
            self._let_go_of(self.hold)
        if given.walk_to is not None:
            self.way = self.mover.way_to(given.walk_to)
        elif given.move != (0.0, 0.0):
            self.way = []
        return pressed

    def _run_clocks(self) -> list[Action]:
        """Every clock runs on by a tick; the actions of those that ran out, motions by object first, then waits, then the voice."""
        due = [self.program.by_name[f"arrive:{key}"] for key in self.mover.advance_swings()]
        for name in list(self.clocks):
            self.clocks[name] -= 1
            if self.clocks[name] <= 0:
                del self.clocks[name]
                due.append(self.program.by_name[name])
        due += [w.action for w in self.program.waits if w.wait.motion_of and self.row[w.column] == w.value]
        if self.speech is not None:
            self.speech.left = max(0, self.speech.left - 1)
            if self.speech.left == 0:
                due.append(self.program.by_name[f"voice:{self.speech.line.key}"])
        return due

    # --- acting

    def _walk(self) -> RowWalk:
        return RowWalk(self.program, self.row, self.hear, self.off)

    def act(self, action: Action, cause: str, *, attempt: bool = False) -> RowOutcome:
        """Carry out one action, settled, with chances drawn for it."""
        self._cause = cause
        self.chances.draw()
        outcome = self._walk().act(action, attempt=attempt)
        self._tell_outcome(outcome, action)
        self._look_at_waits()
        return outcome

    def _tell_outcome(self, outcome: RowOutcome, action: Action | None) -> None:
        if outcome.chasing:
            if action is not None:
                self.off |= {action.group}
            self.hear(
                Told("fault", "", (("groups", ", ".join(outcome.chasing)),)), action.origin if action else "start"
            )
            self.mover.look_again()

    def _look_at_waits(self) -> None:
        """Start a clock for every cue that now waits for seconds, and drop those of cues that wait no more."""
        for waiting in self.program.waits:
            name, waits = waiting.action.name, self.row[waiting.column] == waiting.value
            if waits and name not in self.clocks and not waiting.wait.motion_of:
                self.clocks[name] = max(1, math.ceil(waiting.wait.seconds * TICKS_A_SECOND))
            elif not waits:
                self.clocks.pop(name, None)

    def _sensed_changes(self) -> None:
        """What the player's place alone brings about: cells, exits, near and away, leaving a talk."""
        self._enter_cell()
        for name in self.senses.changes:
            self.act(self.program.by_name[name], cause=f"reach:{name.partition(':')[2]}")
        if self.speech is not None and f"leave:{self.speech.line.key}" in self.program.by_name:
            self.act(self.program.by_name[f"leave:{self.speech.line.key}"], cause="walked out of reach")
        exit = self.world.exit_here()
        if exit is not None:
            self.act(exit, cause="walking")
            self.senses.sense()
            self._sensed_changes()

    def _enter_cell(self) -> None:
        column = self.program.table.number("cell")
        cell = self.cells.at(self.scene.level.key, self.mover.x, self.mover.y, self.row[column])
        if cell < 0 or cell == self.row[column]:
            return
        outcome = self.act(self.program.by_name[f"cross:{cell}"], cause="walking")
        if not outcome.took_effect and self.cells.cells[cell].level == self.scene.level.key:
            walk = self._walk()
            walk.put(column, cell)
            self._tell_outcome(walk.settle(), None)

    def _press(self, control: str) -> None:
        prompt = self.senses.prompts.get(control)
        if self.speech is not None:
            return
        if prompt is None:
            self.world.strike(control)
            return
        key = self.scene.objects[prompt.number].thing.key
        self._cause = f"{control} at {key}"
        if prompt.hold_ticks and prompt.usable:
            self.hold = Hold(control, prompt.number, prompt.hold_ticks)
            self.hear(Told("hold_begun", key), f"object/{key}")
        elif prompt.action is not None:
            self.act(prompt.action, cause=f"{control} at {key}", attempt=True)
        else:
            self.hear(Told("unmet", key, (("need", "nothing happens here yet"),)), f"object/{key}")

    def _advance_hold(self) -> None:
        hold = self.hold
        if hold is None:
            return
        prompt = self.senses.prompts.get(hold.control)
        if hold.control not in self.held or (not hold.done and not self._still_held(hold, prompt)):
            self._let_go_of(hold)
        elif not hold.done and prompt is not None and prompt.action is not None:
            hold.ticks += 1
            if hold.ticks >= hold.total:
                hold.done = True
                self.act(prompt.action, cause=f"{hold.control} held at {self.scene.objects[hold.number].thing.key}")

    def _let_go_of(self, hold: Hold) -> None:
        if not hold.done:
            self.hear(Told("hold_broken", self.scene.objects[hold.number].thing.key), "input")
        self.hold = None

    @staticmethod
    def _still_held(hold: Hold, prompt: LivePrompt | None) -> bool:
        return prompt is not None and prompt.number == hold.number and prompt.usable

    def _choose(self, given: Input) -> None:
        """An answer, a button of the panel on screen, or skipping a voice."""
        speech = self.speech
        if speech is None:
            button = next(
                (b for p in self.senses.prompts.values() for b in p.buttons if given.choose and b.key == given.choose),
                None,
            )
            if button is not None and button.action is not None:
                self.act(button.action, cause=f"button {given.choose}", attempt=True)
        elif given.choose:
            action = self.program.by_name.get(f"reply:{speech.line.key}/{given.choose}")
            if action is not None:
                self.act(action, cause=f"answer {given.choose}")
        elif given.skip:
            speech.left = 0
            self.act(self.program.by_name[f"voice:{speech.line.key}"], cause="skipped")

    # --- hearing what progress tells

    def hear(self, told: Told, origin: str) -> None:
        """Take in what happened: the picture follows it, the chronicle keeps it."""
        match told.what:
            case "state" | "turned_back" | "removed" | "downed" | "risen" | "fresh":
                self.world.follow(told)
            case "arrived":
                self.mover.arrived(told.subject)
            case "line":
                self._speak(told)
            case "talk_ended":
                self.speech = None
            case "moved" | "player_downed" | "put" | "sent":
                self.world.take_in(told)
            case "crossed":
                if told.subject in ("", self._area):
                    return
                self._area = told.subject
        self._write(told, origin)

    def _write(self, told: Told, origin: str) -> None:
        if told.what == "notice":
            wording = self.words.filled(str(dict(told.details)["text"]), told.subject, "use", self.value)
            told = Told("notice", told.subject, (("text", wording),))
        details = dict(told.details)
        spot = self.world.spot(details) if told.what in ("sound", "effect") else None
        text, at = sentence(told, self.words), str(details.get("at", ""))
        entry = Entry(self.tick_number, told.what, told.subject, text, origin, self._cause, at, spot)
        self.chronicle.append(entry)

    def _speak(self, told: Told) -> None:
        details = dict(told.details)
        talk = next(c for c in self.project.conversations if c.key == details["conversation"])
        line = next(m for m in talk.lines if m.key == told.subject)
        raw = line.wordings[wording_number(line, int(details["heard"]))]
        wording = self.words.filled(raw, talk.talker, "use", self.value)
        ticks = voice_ticks(line, wording)
        self.speech = Speech(line, talk.key, wording, ticks, ticks)


def replayed(project: Project, start: Start, inputs: list[Input]) -> Run:
    """A run played again from its inputs, one a tick."""
    run = Run(project, start)
    for given in inputs:
        run.tick(given)
    return run
