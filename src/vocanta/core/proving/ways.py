"""The way to something that is so: the shortest one, gone by the engine on foot, and told step by step."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any, Literal

from ..engine.again import card_of, card_of_start, reached
from ..engine.beginning import Start
from ..engine.run import Run
from ..engine.wording import Words
from ..progress.happenings import Happening
from ..progress.program import Action, Program
from ..project.keeping import Deed, Walk
from ..project.noting import Note
from ..project.records import Project
from ..project.tree import plain
from ..proof.any_way import Aim
from ..proof.diagrams import TooLarge
from ..proof.routes import MOST_FOR_A_WAY, NoWay, Route, Ways
from ..proof.system import Question
from ..proof.values import is_counted
from ..proof.verdicts import Worked
from ..walks.comparing import could_come_to, usually_held_to
from .afoot import Afoot, Spot
from .going import Goer, Gone
from .wording import in_words, subject_of

CHANCES = 12
"""So many seeds are tried for a way on which something is left to chance."""
_TOLD = (Happening.GAINED, Happening.LOST, Happening.QUEST, Happening.STAGE)


@dataclass(frozen=True, slots=True)
class Step:
    """One thing that is done on a way: in words, whose it is, how many metres are walked to it, and what comes of it.

    `counts`: whether it counts for the length of the way.
    """

    says: str
    subject: str = ""
    metres: float = 0.0
    then: tuple[str, ...] = ()
    counts: bool = True


@dataclass(frozen=True, slots=True)
class Way:
    """A way: its steps, how many things there are to do, whether the engine has gone it to its end, by which deeds.

    `card` begins where it ends, as the values of a start card; `walk` goes it, as the values of a kept walk. `shortest`:
    whether none has fewer things to do; else it is one that was come upon.
    """

    steps: tuple[Step, ...] = ()
    counted: int = 0
    walked: bool = False
    deeds: tuple[Deed, ...] = ()
    card: dict[str, Any] | None = None
    walk: dict[str, Any] | None = None
    actions: tuple[Action, ...] = ()
    shortest: bool = True
    reached: tuple[tuple[str, str], ...] = ()
    """The quests and stages that were come to, in order."""

    @property
    def metres(self) -> float:
        """How long it is on foot."""
        return sum(step.metres for step in self.steps)


NO_WAY = Way()
Out = Literal["walked", "none", "undecided"]


@dataclass(frozen=True, slots=True)
class Sought:
    """What came of a search: a way that was walked, none at all, or not decided, and then why."""

    out: Out
    way: Way = NO_WAY
    because: str = ""
    given_up: bool = False
    """Whether the shortest way was too much to find, and a larger `most` may find it."""
    fault: bool = False
    """Whether the proof itself failed; that is never kept quiet."""


class Spent(Exception):
    """The time for a proof is over. Raised through what notes how far it has come; never leaves this package."""


class WayFinder:
    """Finds and goes the ways of one worked program."""

    def __init__(self, project: Project, whole: Program, worked: Worked, most: int, note: Note):
        self.project, self.whole, self.worked = project, whole, worked
        self.words = Words(project, lambda: whole.layout)
        begins = Run(project, Start(), whole).situation
        spot = Spot(begins.level, begins.player.x, begins.player.y)
        self._ways = Ways(worked.recoded, most, note, Afoot(worked.program, worked.places, spot))

    def sought(
        self,
        question: Question,
        aim: Aim,
        claim: Callable[[Run], bool] | None = None,
        most: int = MOST_FOR_A_WAY,
        upon: bool = True,
    ) -> Sought:
        """The shortest way to where a question's event has happened or is left behind for good, that can be gone; where none
        of the shortest can, or they are too much to find, one that was come upon.

        `claim` says of a run whether what is promised has come about; without it the situation decides. `most`: so many
        nodes the search for the shortest takes; `upon`: whether one may be come upon instead.
        """
        told, given_up = Sought("undecided", because="no way was found within the memory"), False
        try:
            for seek in (self._early, self._late, *([self._other] if upon else [])):
                try:
                    found = seek(question, aim, most)
                except (TooLarge, MemoryError):
                    given_up = True
                    continue
                if found is not None:
                    told = self._walked(found, claim or self._left_there(found))
                elif seek != self._other:
                    return Sought("none")
                if told.out == "walked":
                    break
        except Spent:
            return Sought("undecided", because="time")
        except NoWay as fault:
            because = f"the proof failed, which is a fault of ours: {fault}"
            return Sought("undecided", because=because, fault=True)
        return replace(told, given_up=given_up)

    def _early(self, question: Question, aim: Aim, most: int) -> Route | None:
        """A shortest way on which clocks run out as soon as they may."""
        return self._ways.route(question, aim, True, most)

    def _late(self, question: Question, aim: Aim, most: int) -> Route | None:
        """The same as late as they may."""
        return self._ways.route(question, aim, False, most)

    def _other(self, question: Question, aim: Aim, most: int) -> Route | None:
        """Some way that was come upon."""
        return self._ways.other(question, aim)

    def _walked(self, found: Route, claim: Callable[[Run], bool]) -> Sought:
        """A way gone; where chance plays a part, with one chance after the other until it falls so."""
        told = Sought("undecided")
        for seed in range(CHANCES if self._by_chance else 1):
            told = self._told(found, Goer(self.project, self.whole, self.worked, seed).gone(found, claim), seed)
            if told.out == "walked":
                break
        return told

    @cached_property
    def _by_chance(self) -> bool:
        return any(column.what == "chance" for column in self.whole.columns)

    def _left_there(self, found: Route) -> Callable[[Run], bool]:
        """That a run stands where a route leads. A row of the whole program is one of what was left of it as well."""
        return lambda run: found.is_there(run.situation.row)

    def _told(self, found: Route, gone: Gone, seed: int) -> Sought:
        steps = tuple(self._steps(found, gone))
        actions = tuple(self.worked.program.actions[f.action] for f in found.flats)
        come_to = tuple((e.subject, e.detail) for e in gone.run.chronicle if e.what is Happening.STAGE)
        if not gone.failed:
            card = plain(card_of(gone.run.situation, reached(gone.run)))
            card.pop("key")
            return Sought(
                "walked",
                Way(
                    steps,
                    found.counted,
                    True,
                    gone.deeds,
                    card,
                    self._walk(gone, seed),
                    actions,
                    found.shortest,
                    come_to,
                ),
            )
        why = gone.failed
        if gone.late:
            why = f"no way was found that can be gone in time: {why}"
        elif self._by_chance:
            why = f"chance does not fall so in {CHANCES} walks: {why}"
        return Sought(
            "undecided", Way(steps, found.counted, False, gone.deeds, None, None, actions, found.shortest), why
        )

    def _walk(self, gone: Gone, seed: int) -> dict[str, Any]:
        """The values of a kept walk: what was done, what came of it, and what it is held to."""
        begins = card_of_start(Start(), self.whole, self.words)
        held = tuple(usually_held_to(could_come_to(gone.run)))
        walk = Walk("walk", "Walk", begins, seed, deeds=gone.deeds, came=gone.came, comes_to=held)
        return {field: value for field, value in plain(walk).items() if field not in ("key", "name")}

    def _steps(self, found: Route, gone: Gone) -> Iterator[Step]:
        """What is worth telling of a way: what is done, exits and waits; metres walked before it are its own."""
        metres = 0.0
        told: list[Step] = []
        for number, flat in enumerate(found.flats):
            action = self.worked.program.actions[flat.action]
            walked, since, until = gone.stretches[number] if number < len(gone.stretches) else (0.0, 0, 0)
            metres += walked
            then = tuple(e.text for e in gone.run.chronicle[since:until] if e.what in _TOLD and e.text)
            if self._is_told_of(action):
                told.append(
                    Step(in_words(self.words, action), subject_of(action), round(metres, 1), then, is_counted(action))
                )
                metres = 0.0
            elif told and then:
                last = told.pop()
                told.append(Step(last.says, last.subject, last.metres, (*last.then, *then), last.counts))
        yield from told

    @staticmethod
    def _is_told_of(action: Action) -> bool:
        return is_counted(action) or action.kind == "exit" or action.whose == "clock"
