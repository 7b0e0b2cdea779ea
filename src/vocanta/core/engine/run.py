"""A run: one walk through a level. The order of a tick is the order of `tick`; it is the same for every replay."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..progress.compiling import cell_map, compiled
from ..progress.onerow import RowOutcome, RowWalk
from ..progress.ops import Told
from ..progress.program import Action, Program
from ..project.problems import Problem, ProjectError
from ..project.records import Line, Project
from ..space.cells import Cells, cells_of
from ..space.ways import Way
from .chronicle import TICKS_A_SECOND, Entry, sentence
from .inputs import Input
from .moving import Mover
from .scene import Scene, scene_of
from .sensing import Senses
from .talking import voice_ticks, wording_number
from .wording import Words

TICK_S = 1.0 / TICKS_A_SECOND


@dataclass(frozen=True, slots=True)
class Start:
    """Where a run begins: a place, and columns that differ from the beginning (an *as if*). No place: the level's start."""

    x: float | None = None
    y: float | None = None
    facing_deg: float | None = None
    puts: tuple[tuple[str, int], ...] = ()


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
        start = start or Start()
        level = next((lv for lv in project.levels if lv.key == project.first_level), None)
        if level is None:
            raise ProjectError(
                [Problem("no_level", "There is no level to start in.", "Make a level first.", "project/first_level")]
            )
        self.project, self.cells = project, cells_of(project)
        self.program: Program = compiled(project, cell_map(self.cells, project))
        self.scene: Scene = scene_of(project, level)
        self.words = Words(project)
        self.row: list[int] = [c.start for c in self.program.columns]
        self.tick_number = 0
        self.chronicle: list[Entry] = []
        self.off: frozenset[str] = frozenset()
        self.speech: Speech | None = None
        self.hold: Hold | None = None
        self.held: set[str] = set()
        self.clocks: dict[str, int] = {}
        self.way: Way = []
        self._cause = "start"
        self._area = ""
        for name, value in start.puts:
            self.row[self.program.table.number(name)] = value
        self.mover = Mover(self, start)
        self.senses = Senses(self)
        self._begin()

    def _begin(self) -> None:
        self._tell_outcome(self._walk().start(), None)
        self._enter_cell()
        self.senses.sense()
        self._sensed_changes()
        self.senses.focus()

    # --- reading

    def value(self, column: str) -> int:
        """The value of a column by name."""
        return self.row[self.program.table.number(column)]

    def cells_here(self) -> Cells:
        """The cells of the project."""
        return self.cells

    # --- one tick

    def tick(self, given: Input) -> list[Entry]:
        """One thirtieth of a second; what happened in it, in order."""
        begun = len(self.chronicle)
        self.tick_number += 1
        pressed = self._take_input(given)
        due = self._run_clocks()
        self.mover.move(given, TICK_S)
        self.senses.sense()
        self.senses.focus()
        for action in due:
            self._act(action, cause=f"clock:{action.name}")
        self._sensed_changes()
        for control in pressed:
            self._press(control)
        self._advance_hold()
        self._talk_input(given)
        self.senses.focus()
        return self.chronicle[begun:]

    def _take_input(self, given: Input) -> list[str]:
        pressed = [c for c in given.down if c not in self.held]
        self.held = (self.held | set(given.down)) - set(given.up)
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
        return RowWalk(self.program, self.row, self._hear, self.off)

    def _act(self, action: Action, cause: str, *, attempt: bool = False) -> RowOutcome:
        self._cause = cause
        outcome = self._walk().act(action, attempt=attempt)
        self._tell_outcome(outcome, action)
        self._look_at_waits()
        return outcome

    def _tell_outcome(self, outcome: RowOutcome, action: Action | None) -> None:
        if outcome.chasing:
            if action is not None:
                self.off |= {action.group}
            self._hear(
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
        self._enter_cell()
        for number in self.senses.changed:
            key = self.scene.objects[number].thing.key
            near = bool(self.senses.inside[number])
            self._act(self.program.by_name[f"{'come_near' if near else 'go_away'}:{key}"], cause=f"reach:{key}")
        if self.speech is not None and f"leave:{self.speech.line.key}" in self.program.by_name:
            self._act(self.program.by_name[f"leave:{self.speech.line.key}"], cause="walked out of reach")

    def _enter_cell(self) -> None:
        column = self.program.table.number("cell")
        cell = self.cells.at(self.scene.level.key, self.mover.x, self.mover.y, self.row[column])
        if cell < 0 or cell == self.row[column]:
            return
        outcome = self._act(self.program.by_name[f"cross:{cell}"], cause="walking")
        if not outcome.took_effect:
            walk = self._walk()
            walk.put(column, cell)
            self._tell_outcome(walk.settle(), None)

    def _press(self, control: str) -> None:
        prompt = self.senses.prompts.get(control)
        if prompt is None or self.speech is not None:
            return
        key = self.scene.objects[prompt.number].thing.key
        self._cause = f"{control} at {key}"
        if prompt.hold_ticks and prompt.usable:
            self.hold = Hold(control, prompt.number, prompt.hold_ticks)
            self._hear(Told("hold_begun", key), f"object/{key}")
        elif prompt.action is not None:
            self._act(prompt.action, cause=f"{control} at {key}", attempt=True)
        else:
            self._hear(Told("unmet", key, (("need", "nothing happens here yet"),)), f"object/{key}")

    def _advance_hold(self) -> None:
        hold = self.hold
        if hold is None:
            return
        prompt = self.senses.prompts.get(hold.control)
        if hold.control not in self.held or (
            not hold.done and (prompt is None or prompt.number != hold.number or not prompt.usable)
        ):
            if not hold.done:
                self._hear(Told("hold_broken", self.scene.objects[hold.number].thing.key), "input")
            self.hold = None
        elif not hold.done and prompt is not None and prompt.action is not None:
            hold.ticks += 1
            if hold.ticks >= hold.total:
                hold.done = True
                self._act(prompt.action, cause=f"{hold.control} held at {self.scene.objects[hold.number].thing.key}")

    def _talk_input(self, given: Input) -> None:
        speech = self.speech
        if speech is None:
            return
        if given.choose:
            action = self.program.by_name.get(f"reply:{speech.line.key}/{given.choose}")
            if action is not None:
                self._act(action, cause=f"answer {given.choose}")
        elif given.skip:
            speech.left = 0
            self._act(self.program.by_name[f"voice:{speech.line.key}"], cause="skipped")

    # --- hearing what progress tells

    def _hear(self, told: Told, origin: str) -> None:
        """Take in what happened: the picture follows it, the chronicle keeps it."""
        if told.what in ("state", "turned_back", "removed"):
            self.mover.follow(told.subject)
        elif told.what == "arrived":
            self.mover.arrived(told.subject)
        elif told.what == "line":
            self._speak(told)
        elif told.what == "talk_ended":
            self.speech = None
        elif told.what == "crossed":
            if told.subject in ("", self._area):
                return
            self._area = told.subject
        text = sentence(told, self.words)
        at = str(dict(told.details).get("at", ""))
        self.chronicle.append(Entry(self.tick_number, told.what, told.subject, text, origin, self._cause, at))

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
