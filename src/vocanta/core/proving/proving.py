"""A project proved: what comes out for each quest, and for each *yes* the shortest way, gone by the engine."""

from __future__ import annotations

import time
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import Literal, assert_never

from ..engine.run import Run
from ..engine.wording import Words
from ..progress.compiling import compiled
from ..progress.program import Action, Program
from ..project.keeping import Deed
from ..project.noting import Note, unnoted
from ..project.problems import Problem
from ..project.records import Project
from ..proof.answering import MOST_NODES, Answer
from ..proof.diagrams import TooLarge
from ..proof.routes import Aim, NoWay, Route, Ways
from ..proof.values import is_counted
from ..proof.verdicts import Verdict, Worked, verdicts, worked_out
from .going import Goer, Gone, quest_done

Weight = Literal["stops it", "worth a look", ""]
BUDGET_S = 600.0


class Spent(Exception):
    """The time for a proof is over. Raised through what notes how far it has come; never leaves this module."""


@dataclass(frozen=True, slots=True)
class Proved:
    """One verdict, with the way there where it is *yes*: what the player does, in words, and how many things that are.

    `because`: why it is not decided. `walked`: the engine has gone the way to its end. `deeds`: the same to walk again.
    """

    verdict: Verdict
    steps: tuple[str, ...] = ()
    counted: int = 0
    walked: bool = False
    deeds: tuple[Deed, ...] = ()
    because: str = ""

    @property
    def weight(self) -> Weight:
        """How heavy it weighs that it is so."""
        what, answer = self.verdict.what, self.verdict.answer
        if (what, answer) in (("can", "never"), ("stuck", "yes")):
            return "stops it"
        return "worth a look" if (what, answer) == ("lost", "yes") else ""


@dataclass(frozen=True)
class Proof:
    """What came out of a project. `chasing`: cues that chase each other. `left_out`: texts that could not be used."""

    proved: tuple[Proved, ...]
    chasing: tuple[str, ...] = ()
    left_out: tuple[Problem, ...] = ()

    @property
    def clean(self) -> bool:
        """Whether every quest was decided, and nothing found that weighs anything."""
        return not self.chasing and all(not p.weight and p.verdict.answer != "undecided" for p in self.proved)


def prove(
    project: Project,
    only: Sequence[str] = (),
    *,
    program: Program | None = None,
    budget_s: float = BUDGET_S,
    most: int = MOST_NODES,
    note: Note = unnoted,
) -> Proof:
    """Prove the quests of a project, or only some.

    `budget_s`: seconds after which the rest is *not decided*; `most`: so many nodes of diagrams. Raises `ProjectError` where
    an own value does not fit its kind.
    """
    until = time.monotonic() + budget_s

    def watch(what: str, done: int, of: int) -> None:
        if time.monotonic() > until:
            raise Spent
        note(what, done, of)

    whole = program or compiled(project)
    quests = [q.key for q in project.quests if not only or q.key in only]
    left_out = whole.problems
    try:
        watch("Taking apart what can be done", 0, 1)
        worked = worked_out(whole, quests, note=watch)
        found = verdicts(worked, most, watch)
    except Spent:
        rest = (Proved(Verdict(q, w, "undecided"), because="time") for q in quests for w in ("can", "stuck", "lost"))
        return Proof(tuple(rest), left_out=left_out)
    ways = _Ways(project, whole, worked, most, watch)
    return Proof(tuple(ways.proved(v) for v in found), tuple(sorted(worked.spread.chasing)), left_out)


class _Ways:
    """The ways to what is so, and how they went."""

    def __init__(self, project: Project, whole: Program, worked: Worked, most: int, note: Note):
        self.project, self.whole, self.worked = project, whole, worked
        self.words = Words(project, lambda: whole.layout)
        self.ways = Ways(worked.recoded, most, note)
        self.questions = {q.key: q for q in worked.recoded.system.questions}

    def proved(self, verdict: Verdict) -> Proved:
        """A verdict with its way, where it is *yes*; not decided where none was found that can be gone in time."""
        if verdict.answer == "undecided":
            return Proved(verdict, because="too much: " + ", ".join(self.words_of(verdict.too_much)))
        if verdict.answer == "never":
            return Proved(verdict)
        question, what = self.questions[verdict.quest], verdict.what
        asked: Aim = "can"
        if what in ("stuck", "lost"):
            asked = what
        elif what != "can":
            question = replace(question, event=self.worked.recoded.events[verdict.quest, what])
        status, gone = "done" if what == "can" else what, None
        try:
            for eager in (True, False):
                found = self.ways.route(question, asked, eager)
                assert found is not None, (verdict, "yes, but no way there")
                claim = self._left_there(found) if asked != "can" else quest_done(verdict.quest, status)
                gone = self._told(verdict, found, self._goer().gone(found, claim))
                if gone.walked:
                    break
        except TooLarge:
            return Proved(replace(verdict, answer="undecided"), because="no way was found within the memory")
        except Spent:
            return Proved(replace(verdict, answer="undecided"), because="time")
        except NoWay as fault:
            return Proved(
                replace(verdict, answer="undecided"), because=f"the proof failed, which is a fault of ours: {fault}"
            )
        assert gone is not None
        return gone

    def _goer(self) -> Goer:
        worked = self.worked
        return Goer(self.project, self.whole, worked.program, worked.places, worked.first)

    def _left_there(self, found: Route) -> Callable[[Run], bool]:
        return lambda run: found.is_there(run.situation.row)

    def _told(self, verdict: Verdict, found: Route, gone: Gone) -> Proved:
        steps = tuple(
            self.in_words(self.worked.program.actions[f.action]) for f in found.flats if self._told_of(f.action)
        )
        if not gone.failed:
            return Proved(verdict, steps, found.counted, True, gone.deeds)
        why = f"no way was found that can be gone in time: {gone.failed}" if gone.late else gone.failed
        answer: Answer = "undecided"
        return Proved(replace(verdict, answer=answer), steps, found.counted, False, gone.deeds, why)

    def _told_of(self, action: int) -> bool:
        one = self.worked.program.actions[action]
        return is_counted(one) or one.kind == "exit" or one.whose == "clock"

    # --- words

    def words_of(self, columns: Sequence[str]) -> list[str]:
        """Columns as a designer would say them: what they are of, and what of it."""
        found = []
        for name in columns:
            what, _, key = name.partition(":")
            found.append(f"{what} of {self.words.name(key.partition('/')[0])}" if key else what)
        return found

    def in_words(self, action: Action) -> str:
        """What is done, in words."""
        name, rest = self.words.name, action.name.partition(":")[2]
        match action.kind:
            case "use":
                return f"use {name(action.subject)}"
            case "hold":
                return f"hold {name(action.subject)}"
            case "choose":
                return f"choose {name(action.control)} at {name(action.subject)}"
            case "strike":
                return f"{name(action.control)} at {name(action.subject)}"
            case "reply":
                line, _, reply = rest.partition("/")
                return f"answer “{self._reply(line, reply)}”"
            case "decide":
                what, _, quest = action.name.partition(":")
                return f"{what} {name(quest)}"
            case "exit":
                return f"go through {name(action.subject)}"
            case "voice":
                return f"hear “{name(rest)}”"
            case "arrive":
                return f"wait for {name(action.subject)}"
            case "resume" | "clock" | "deliver":
                return f"wait: {name(action.subject)}"
            case "near" | "away" | "cross" | "sensed":
                return f"walk: {name(action.subject)}"
            case _:
                assert_never(action.kind)

    def _reply(self, line: str, reply: str) -> str:
        lines = (ln for talk in self.project.conversations for ln in talk.lines if ln.key == line)
        return next((r.wordings[0] for ln in lines for r in ln.replies if r.key == reply), reply)
