"""A run: one walk through a project's levels. The order of a tick is the order of `tick`; the same for every replay.

A run is composed of parts that share a situation and know nothing of each other. Progress decides, settled or not at
all; only then the parts take in what was told and which columns were written.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass

from ..progress.compiling import compiled
from ..progress.happenings import Happening
from ..progress.onerow import RowOutcome, RowWalk, holds_on
from ..progress.ops import Told
from ..progress.program import Action, Program
from ..project.keeping import Afoot, Done
from ..project.records import Project
from ..space.reaches import LEAVE_M
from . import chances
from .beginning import Start, level_of, stand_at
from .causes import SKIPPED, START, WALKING, Cause, Causes
from .chronicle import Entry
from .clocks import Clocks
from .errands import Errands
from .holds import Hold, Holds
from .inputs import STILL, Input
from .ledger import Ledger
from .looking import Eyes
from .moving import Mover
from .places import Places
from .prompts import LiveButton, LivePrompt, Prompts
from .sensing import Heard, Sensed, Senses
from .sentences import refusal, sentence
from .situation import TICK_S, Situation
from .talking import Talk

MOST_LOOKS = 16
"""So often one action may bring about what the senses then find; more waits for the next tick."""


@dataclass(frozen=True, slots=True)
class Stage:
    """One level of a run that the player has been in: its mover, its senses, its prompts."""

    mover: Mover
    senses: Senses
    prompts: Prompts


@dataclass(frozen=True, slots=True)
class Doing:
    """What an input of the player came to be: `do` as in a kept walk, at what, by which control, button, reply or decision."""

    do: Done
    at: str
    what: str
    words: str = ""


_ASKED = frozenset({"use", "hold", "choose", "strike", "reply", "decide"})
"""The actions that the player asks for; of walking nobody expects an answer."""


class Run:
    """One run. Not shared: one owner calls `tick`, and reads in between.

    `going`: it begins at once; one that does not takes over from another (`carrying.py`, `then.py`).
    Raises `ProjectError` (`no_level`) from the constructor where the project has no level to start in.
    """

    def __init__(
        self, project: Project, start: Start | None = None, program: Program | None = None, *, going: bool = True
    ):
        start = start or Start()
        level = level_of(start, project)
        self.situation = situation = Situation(project, program or compiled(project), start.seed)
        self.chronicle: list[Entry] = []
        self.ledger = Ledger()
        self.off: frozenset[str] = frozenset()
        self.held: set[str] = set()
        self.doing: list[Doing] = []
        """What the player did in this tick."""
        self._stages: dict[str, Stage] = {}
        self._causes = Causes(situation.words)
        self._cause, self._stale = START, False
        stand_at(situation, start, level)
        self.clocks, self.talk = Clocks(situation), Talk(situation)
        self.places = Places(situation, self._mover_of)
        self.errands = Errands(situation, self.places)
        self.holds = Holds(self._hold_broken, self._hold_done)
        if going:
            self._begin(level.key, start)

    def _begin(self, level: str, start: Start) -> None:
        """Begin anew, or go on as a start says; only what begins anew runs what is read once at the start."""
        situation = self.situation
        self.places.landed = situation.cell
        chances.draw(situation)
        if not start.goes_on:
            self._commit(self._walk().start(begins="" if start.puts else level), None)
        self.take_up(((situation.program.table.number(name), seconds) for name, seconds in start.left), start.afoot)
        if start.goes_on:
            self.here.prompts.focus()
        else:
            self.look()

    # --- what is under way beside the row

    def time_left(self) -> Iterator[tuple[int, float]]:
        """The seconds that are left of whatever runs out, by its column: clocks, motions, a voice."""
        layout, speech = self.situation.layout, self.talk.speech
        for column in self.situation.program.waits_of:
            if (seconds := self.clocks.left_of(column)) is not None:
                yield column, seconds
        for number, swing in self.here.mover.swings.items():
            column = layout.column("moving", self.here.mover.scene.objects[number].thing.key)
            yield column, (swing.total - swing.passed) * TICK_S
        if speech is not None:
            yield layout.column("talk"), speech.left * TICK_S

    def afoot(self) -> Iterator[Afoot]:
        """Whoever walks about in a level that the player has been in."""
        for level, stage in self._stages.items():
            for number, w in stage.mover.walkers.items():
                key = stage.mover.scene.objects[number].thing.key
                if self.situation.is_here(key, level) and (stage.mover.exists[number] or self.errands.came_from(key)):
                    yield Afoot(
                        key,
                        level,
                        w.x,
                        w.y,
                        w.facing_deg,
                        w.next_stop,
                        tuple(w.way),
                        w.goal,
                        self.errands.came_from(key),
                        w.waited,
                        w.aside,
                    )

    def take_up(self, left: Iterable[tuple[int, float]], afoot: Iterable[Afoot]) -> None:
        """Let go on what the row says is under way, with so many seconds left of it by column, and whoever walks about."""
        situation, seconds = self.situation, dict(left)
        self.clocks.follow(range(len(situation.row)))
        for number, column in enumerate(situation.program.columns):
            if column.what == "moving" and situation.row[number]:
                motion_s = situation.layout.placed[column.key].design.motion.seconds
                self.here.mover.take_up(column.key, seconds.get(number, motion_s))
            elif column.what == "talk":
                self.talk.take_up(seconds.get(number))
            elif number in seconds:
                self.clocks.set_left(number, seconds[number])
        for one in afoot:
            self._stage_of(one.level).mover.take_up_walk(one)
            if one.came_from is not None:
                self.errands.take_up(one.key, one.came_from)

    # --- the level where the player is

    @property
    def here(self) -> Stage:
        """The level where the player is; one that is come into for the first time is laid out."""
        return self._stage_of(self.situation.level)

    def _stage_of(self, level: str) -> Stage:
        if level not in self._stages:
            mover = Mover(self.situation, self.situation.scene_at(level))
            senses = Senses(self.situation, mover, Eyes(self.situation, mover))
            self._stages[level] = Stage(mover, senses, Prompts(self.situation, senses))
        return self._stages[level]

    def take_levels_of(self, other: Run) -> None:
        """Take over what moves and what is sensed in every level of another run of the same things."""
        for level, stage in other._stages.items():
            mine = self._stage_of(level)
            mine.mover.goes_on_as(stage.mover)
            mine.senses.goes_on_as(stage.senses)

    def _mover_of(self, level: str) -> Mover | None:
        return self._stages[level].mover if level in self._stages else None

    # --- one tick

    def tick(self, given: Input) -> list[Entry]:
        """One thirtieth of a second; what happened in it, in order."""
        begun, situation = len(self.chronicle), self.situation
        situation.tick += 1
        self._stale, self.doing = False, []
        if situation.ended:
            given, situation.player.way = STILL, []
        pressed = self._take_input(given)
        for action in sorted(self._clocks(), key=lambda a: situation.program.rank[a.name]):
            self._run_out(action)
        self.here.mover.move(given, TICK_S, held=self.talk.holds_player)
        self._walked()
        self._notice(self._sense())
        self._refocus()
        for control in pressed:
            self._press(control, given.mark)
        self.holds.advance(self.held, self._live)
        self._choose(given)
        self._decide(given)
        if self._stale:
            self.look()
        return self.chronicle[begun:]

    def _take_input(self, given: Input) -> list[str]:
        """What is pressed anew; a control both let go and pressed in one tick is let go first."""
        again = {c for c in given.down if c in self.held and c in given.up}
        pressed = [c for c in given.down if c not in self.held or c in again]
        self.held = (self.held | set(given.down)) - (set(given.up) - again)
        for control in again:
            self.holds.let_go(control)
        if given.walk_to is not None:
            self.situation.player.way = self.here.mover.way_to(given.walk_to)
        elif given.move != (0.0, 0.0):
            self.situation.player.way = []
        return pressed

    def _clocks(self) -> list[Action]:
        """Every clock runs on by a tick; the actions of those that ran out. None runs once the level is over."""
        if self.situation.ended:
            return []
        by_name = self.situation.program.by_name
        due = [by_name[f"arrive:{key}"] for key in self.here.mover.advance_swings()]
        due += self.clocks.advance() + self.talk.advance()
        return list(dict.fromkeys(due + self.errands.due(self.here.mover)))

    def _run_out(self, action: Action) -> None:
        """A clock has run out. One that somebody in the way stops is tried again as soon as nobody is, told once; one whose
        action did not settle is tried again without those that chase each other."""
        again, moves, off = action.name in self.clocks.again, self.places.moves, self.off
        outcome = self.act(
            action, cause=self._causes.clock(action.subject), attempt=action.kind == "resume", quiet=again
        )
        if outcome.again:
            self.clocks.again.add(action.name)
        else:
            self.clocks.again.discard(action.name)
        if not off.issuperset(outcome.chasing):
            self.clocks.try_again(action)
        if self.places.moves != moves:
            self.look()

    # --- acting

    def _walk(self) -> RowWalk:
        return RowWalk(self.situation.program, self.situation.row, self.off)

    def act(self, action: Action, cause: Cause, *, attempt: bool = False, quiet: bool = False) -> RowOutcome:
        """Carry out one action, settled, with chances drawn for it. `quiet`: tell nothing unless it takes effect."""
        self._cause = cause
        chances.draw(self.situation)
        outcome = self._walk().act(action, attempt=attempt)
        if not quiet or outcome.took_effect or not outcome.again:
            self._commit(outcome, action, asked=action.kind in _ASKED)
        return outcome

    def _commit(self, outcome: RowOutcome, action: Action | None, *, asked: bool = False) -> None:
        """Take in what has settled: the parts follow what was told and what was written. A fault is told, and what chases
        itself is off for this run. `asked`: the player asked for it, and hears what it was refused for."""
        begun, moves = len(self.chronicle), self.places.moves
        mine = {b.origin for b in self.situation.program.groups[action.group].branches} if action else set()
        for told, origin in outcome.told:
            self._take_in(told)
            self.tell(told, origin, action.subject if action and origin in mine else "", asked=asked and origin in mine)
        self.ledger.note(outcome.changed, begun, len(self.chronicle))
        if outcome.changed:
            self._follow(outcome.changed)
        if outcome.chasing:
            self.off |= frozenset(outcome.chasing)
            groups = (("groups", ", ".join(outcome.chasing)),)
            self.tell(Told(Happening.FAULT, "", groups), action.origin if action else "start")
        self._stale = self._stale or bool(outcome.changed) or self.places.moves != moves

    def _follow(self, changed: frozenset[int]) -> None:
        """The parts take in which columns were written."""
        columns = self.situation.program.columns
        for key in sorted(
            {columns[c].key for c in changed if columns[c].what in ("exists", "state", "moving", "down")}
        ):
            for stage in self._stages.values():
                stage.mover.follow(key)
        self.clocks.follow(changed)
        self.talk.follow()

    def _take_in(self, told: Told) -> None:
        """What was told moves what lies beside the row."""
        hand: dict[Happening, Callable[[Told], None]] = {
            Happening.PUT: self.places.put,
            Happening.SWAPPED: self.places.swap,
            Happening.STOOD: self.places.remember,
            Happening.FRESH: self.places.start_over,
            Happening.SENT: self._send,
            Happening.LINE: self.talk.begin,
            Happening.MOVED: self._moved,
            Happening.PLAYER_DOWNED: self._downed,
        }
        if told.what in hand:
            hand[told.what](told)

    def _send(self, told: Told) -> None:
        self.errands.send(told.subject, self.here.mover)

    def _moved(self, told: Told) -> None:
        self._land(told.subject)

    def _downed(self, told: Told) -> None:
        self._land(self.situation.layout.entries[int(dict(told.details)["entry"])])

    def _land(self, entry: str) -> None:
        """The player stands elsewhere at once; whatever was held is let go."""
        self.holds.drop()
        known = set(self._stages)
        self.places.land(entry)
        if self.situation.level in known:
            self.here.mover.look_again()

    # --- what the player's place brings about

    def _sense(self) -> Sensed:
        """Write what is sensed where the player is, and that nothing is where the player was."""
        found = Sensed()
        for level, stage in self._stages.items():
            if level != self.situation.level:
                left = stage.senses.silence()
                found.actions += left.actions
                found.heard += left.heard
                found.told += left.told
        now = self.here.senses.sense()
        return Sensed(found.actions + now.actions, found.heard + now.heard, found.told + now.told)

    def see(self) -> None:
        """Sense and focus where the player stands, with nothing brought about by it."""
        for one in self.here.senses.sense().heard:
            self.situation.row[one.column] = one.value
        self.here.prompts.focus()

    def _notice(self, sensed: Sensed) -> None:
        """What is sensed anew is an action each: what is left before what is come to, each in order of creation. Whoever
        comes to stand elsewhere by one senses anew."""
        for told in sensed.told:
            self._cause = WALKING
            self.tell(told, f"object/{told.subject}")
        rank, row, landings = self.situation.program.rank, self.situation.row, self.places.landings
        new: list[tuple[tuple[int, int, int], Heard | Action]] = []
        new += [((one.value, 0, rank[one.action.name]), one) for one in sensed.heard]
        new += [((int(one.kind != "away"), 1, rank[one.name]), one) for one in sensed.actions]
        for _, found in sorted(new, key=lambda one: one[0]):
            if self.situation.ended or self.places.landings != landings:
                return
            if isinstance(found, Action):
                self.act(found, cause=self._causes.reach(found.subject))
            elif row[found.column] != found.value:
                self._cause = self._causes.reach(found.action.subject)
                chances.draw(self.situation)
                row[found.column] = found.value
                self._commit(self._walk().sensed(found.column, 1 - found.value), found.action)

    def look(self) -> None:
        """Sense and focus anew after anything has changed, until nothing new is found."""
        for _ in range(MOST_LOOKS):
            self._stale = False
            sensed = self._sense()
            self._notice(sensed)
            self._leave()
            if not self._stale and not sensed:
                break
        self.here.prompts.focus()

    def _refocus(self) -> None:
        """Focus anew; where anything has changed since the senses were asked, they are asked again first."""
        if self._stale:
            self.look()
        else:
            self.here.prompts.focus()

    def _live(self) -> dict[str, LivePrompt]:
        """The prompts as they are now."""
        if self._stale:
            self.look()
        return self.here.prompts.live

    def _walked(self) -> None:
        """Every cell on the way since the last tick is walked into, in order; what leads nowhere stops the player. What is
        sensed by the way is noticed there, and an exit on it leads on."""
        situation, player, landings = self.situation, self.situation.player, self.places.landings
        start, goal, left = player.was, (player.x, player.y), len(situation.cells.cells)
        at = start
        while not situation.ended and situation.cells.gap_m(situation.cell, *goal) > LEAVE_M:
            at = situation.cells.left_at(situation.cell, at, goal, LEAVE_M)
            cells = situation.cells.next_on(situation.cell, start, goal)
            left -= len(cells)
            if not cells or left < 0 or not self._cross(cells, at):
                if self.places.landings == landings and not situation.ended:
                    player.x, player.y = goal
                    self._stop(start)
                return
            player.inside = at
        player.x, player.y = goal
        if start != goal and situation.cells.gap_m(situation.cell, *goal) == 0.0:
            if not self._cross(situation.cells.through(situation.cell, player.inside, goal), goal):
                return
            player.inside = player.x, player.y
        self._leave()

    def _cross(self, cells: list[int], at: tuple[float, float]) -> bool:
        """Walk into one cell after another on the way to a place; whether all let the player in and nothing has taken the
        player elsewhere. What is sensed on a border is heard before it is crossed."""
        situation, player, landings = self.situation, self.situation.player, self.places.landings
        for cell in cells:
            player.x, player.y = at
            self._notice(self._sense())
            if self.places.landings != landings or situation.ended:
                return False
            outcome = self.act(situation.program.by_name[f"cross:{cell}"], cause=WALKING)
            if outcome.took_effect and self.places.landings == landings:
                self._leave()
            if not outcome.took_effect or self.places.landings != landings or situation.ended:
                return False
        return True

    def _stop(self, start: tuple[float, float]) -> None:
        """The way is barred: the player stays in the cell that the row says."""
        situation, player = self.situation, self.situation.player
        if situation.cells.gap_m(situation.cell, *start) > LEAVE_M:
            start = situation.cells.inside(situation.cell, player.x, player.y)
        player.x, player.y, player.way = round(start[0], 3), round(start[1], 3), []

    def _leave(self) -> None:
        """Where the player has walked into the patch of an open exit, it leads on."""
        situation = self.situation
        self.places.walked()
        action = situation.program.by_name.get(f"exit:{situation.cells.cells[situation.cell].exit}")
        if action is not None and self.places.landed != situation.cell and holds_on(action.guard, situation.row):
            self.act(action, cause=WALKING)

    # --- what the player does

    def _press(self, control: str, mark: str) -> None:
        """A control goes to what has its focus; on a panel it works the marked entry and no other."""
        if self.situation.known("talk") or self.situation.ended:
            return
        prompt = self._live().get(control)
        if prompt is None:
            self._strike(control)
            return
        key = self.here.mover.scene.objects[prompt.number].thing.key
        self._cause = self._causes.pressed(control, key)
        if prompt.buttons:
            marked = next((b for b in prompt.buttons if b.key == mark), prompt.buttons[0])
            self._push(marked, key)
            return
        self.doing.append(Doing("hold" if prompt.hold_ticks else "use", key, control))
        if prompt.hold_ticks and prompt.usable:
            self.holds.begin(prompt)
            self.tell(Told(Happening.HOLD_BEGUN, key), f"object/{key}")
        elif prompt.action is None:
            self._nothing_here(key)
        elif prompt.usable:
            self.act(prompt.action, cause=self._cause, attempt=True)
        else:
            self._refuse(prompt.action, key)

    def _refuse(self, action: Action, key: str) -> None:
        """What cannot be used runs its refusal and nothing else; one that cools down says how long."""
        if self.situation.known("cooling", key):
            left = round(self.clocks.seconds_left(f"cooled:{key}"), 1)
            self.tell(Told(Happening.COOLING, key, (("seconds", left),)), f"object/{key}", asked=True)
            return
        chances.draw(self.situation)
        self._commit(self._walk().refuse(action), action, asked=True)

    def _hold_broken(self, hold: Hold) -> None:
        key = self.here.mover.scene.objects[hold.number].thing.key
        self._cause = self._causes.pressed(hold.control, key, held=True)
        self.tell(Told(Happening.HOLD_BROKEN, key), "input")

    def _hold_done(self, hold: Hold, action: Action) -> None:
        self.act(action, cause=self._causes.pressed(hold.control, action.subject, held=True), attempt=True)

    def _strike(self, control: str) -> None:
        """Use an ability on a control: the first that has a target, else say why the first that could be used has none."""
        situation, bodily = self.situation, self.here.senses.bodily
        found = [a.key for a in situation.project.abilities if a.control == control]
        aimed = next((a for a in found if a in bodily.aims), None)
        if found and aimed is None:
            self.doing.append(Doing("strike", "", control))
        if aimed is not None:
            key = self.here.mover.scene.objects[bodily.aims[aimed]].thing.key
            self.doing.append(Doing("strike", key, control))
            self._cause = self._causes.ability(aimed, key)
            self.tell(Told(Happening.STRUCK, key, (("by", aimed),)), f"ability/{aimed}")
            self.act(situation.program.by_name[f"struck:{key}/{aimed}"], cause=self._cause, attempt=True)
            return
        ready = [a for a in found if bodily.usable(a)]
        for ability in (ready or found)[:1]:
            self._cause = self._causes.ability(ability)
            why = (("why", bodily.why_not(ability)),)
            self.tell(Told(Happening.MISSED, ability, why), f"ability/{ability}", asked=True)

    def _choose(self, given: Input) -> None:
        """An answer, a button of the panel on screen, or skipping a voice."""
        speech, by_name = self.talk.speech, self.situation.program.by_name
        if speech is None:
            prompts = self._live().values() if given.choose else ()
            found = [(b, p.number) for p in prompts for b in p.buttons if b.key == given.choose]
            for button, number in found[:1]:
                self._push(button, self.here.mover.scene.objects[number].thing.key)
        elif given.choose:
            action = by_name.get(f"reply:{speech.line.key}/{given.choose}")
            if action is not None:
                words = next(r.wordings[0] for r in speech.line.replies if r.key == given.choose)
                self.doing.append(Doing("answer", speech.line.key, given.choose, words))
                self.act(action, cause=self._causes.answered(speech.line.key, given.choose))
        elif given.skip:
            self.doing.append(Doing("skip", speech.line.key, ""))
            speech.left = 0
            self.act(self.talk.voice(), cause=SKIPPED)

    def _decide(self, given: Input) -> None:
        """The player takes on, declines or gives up a quest; where that is no longer possible, nothing happens."""
        action = self.situation.program.by_name.get(given.decide)
        if action is not None and action.kind == "decide":
            self.doing.append(Doing("decide", action.subject, given.decide.partition(":")[0]))
            self.act(action, cause=self._causes.decided(given.decide))

    def _push(self, button: LiveButton, key: str) -> None:
        """A button is pressed: what it does, or its refusal."""
        self._cause = self._causes.button(key, button.key)
        self.doing.append(Doing("choose", key, button.key, button.wording))
        if button.action is None:
            self._nothing_here(key)
        elif button.usable:
            self.act(button.action, cause=self._cause, attempt=True)
        else:
            self._refuse(button.action, key)

    def _nothing_here(self, key: str) -> None:
        """No cue waits for what was pressed."""
        told = Told(Happening.UNMET, key, (("words", "nothing happens here yet"),))
        self.tell(told, f"object/{key}", asked=True)

    # --- telling

    def tell(self, told: Told, origin: str, this: str = "", *, asked: bool = False) -> None:
        """Write into the chronicle what happened, with its cause. `asked`: the player hears what was refused."""
        if told.what is Happening.STOOD:
            return
        situation, words, details = self.situation, self.situation.words, dict(told.details)
        notice = ""
        if told.what is Happening.NOTICE:
            notice = words.filled(str(details["text"]), told.subject, "use", situation.known)
            told = Told(told.what, told.subject, (("text", notice),))
        if told.what is Happening.UNMET and "need" in details:
            need = words.need(str(details["need"]), situation.known, this)
            told = Told(told.what, told.subject or this, (("words", need),))
        if asked:
            notice = notice or refusal(told, words)
        spot = self.places.spot(details) if told.what in (Happening.SOUND, Happening.EFFECT) else None
        text, at, rule = sentence(told, words), str(details.get("at", "")), words.rule(origin)
        came_to = next((self._detail(told.subject, d, details[d]) for d in _CAME_TO if d in details), "")
        self.chronicle.append(
            Entry(situation.tick, told.what, told.subject, text, origin, self._cause, rule, at, spot, notice, came_to)
        )

    def _detail(self, subject: str, detail: str, value: object) -> str:
        """What something came to, as it is called outside: a state by its name."""
        if detail == "state" and isinstance(value, int) and subject in self.situation.layout.placed:
            return self.situation.layout.placed[subject].design.states[value].key
        return str(value)


_CAME_TO = ("stage", "status", "state", "met", "by", "value", "count")
"""The details of what is told that say what something came to."""


def replayed(project: Project, start: Start, inputs: list[Input]) -> Run:
    """A run played again from its inputs, one a tick."""
    run = Run(project, start)
    for given in inputs:
        run.tick(given)
    return run
