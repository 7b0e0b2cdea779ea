"""A project proved: what comes out for each quest, and for each *yes* the shortest way, gone by the engine; and what comes
out around the quests."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field, replace
from typing import Literal

from ..checks.finding import Mend
from ..engine.run import Run
from ..engine.wording import Words
from ..progress.compiling import compiled
from ..progress.program import Program
from ..project.noting import Note, unnoted
from ..project.problems import Problem
from ..project.records import Project
from ..proof.answering import MOST_NODES, Answers
from ..proof.any_way import Aim
from ..proof.routes import SOON
from ..proof.system import Question
from ..proof.verdicts import Verdict, What, Worked, told, verdicts, worked_out
from .around import Around, Remark
from .going import quest_done
from .orders import Orders
from .ways import NO_WAY, Sought, Spent, Way, WayFinder
from .ways_out import Search
from .wording import columns_in_words

Weight = Literal["stops it", "worth a look", ""]
BUDGET_S = 600.0
_ASKED: tuple[What, ...] = ("can", "stuck", "lost")


@dataclass(frozen=True, slots=True)
class Proved:
    """One verdict, with the way there where it is *yes*. `because`: why it is not decided."""

    verdict: Verdict
    way: Way = NO_WAY
    because: str = ""

    @property
    def weight(self) -> Weight:
        """How heavy it weighs that it is so."""
        return weight_of(self.verdict)


def weight_of(verdict: Verdict) -> Weight:
    """How heavy a verdict weighs."""
    what, answer = verdict.what, verdict.answer
    if (what, answer) in (("can", "never"), ("stuck", "yes")):
        return "stops it"
    return "worth a look" if (what, answer) == ("lost", "yes") else ""


@dataclass(frozen=True)
class Proof:
    """What came out of a project. `chasing`: cues that chase each other. `left_out`: texts that could not be used."""

    proved: tuple[Proved, ...]
    chasing: tuple[str, ...] = ()
    left_out: tuple[Problem, ...] = ()
    remarks: tuple[Remark, ...] = ()

    @property
    def clean(self) -> bool:
        """Whether every quest was decided, and nothing found that weighs anything."""
        quests = all(not p.weight and p.verdict.answer != "undecided" for p in self.proved)
        return quests and not self.chasing and all(not r.weight for r in self.remarks)


@dataclass
class Proving:
    """The work on one proof, part by part: first the quests, then what is around them, then ways out.

    `budget_s`: seconds after which the rest is *not decided*; `most`: so many nodes of diagrams. What notes how far it has
    come may raise to end it. Raises `ProjectError` where an own value does not fit its kind.
    """

    project: Project
    only: Sequence[str] = ()
    program: Program | None = None
    budget_s: float = BUDGET_S
    most: int = MOST_NODES
    note: Note = unnoted
    found: list[Verdict] = field(default_factory=list)
    """What came out of the quests, before any way was gone."""
    around: Around | None = None
    chasing: frozenset[str] = frozenset()

    def __post_init__(self) -> None:
        self.whole = self.program or compiled(self.project)
        self._until = time.monotonic() + self.budget_s
        self.asked = [q.key for q in self.project.quests if not self.only or q.key in self.only]
        self.words = Words(self.project, lambda: self.whole.layout)
        self._search: Search | None = None
        self._seen = Orders()

    def _watch(self, what: str, done: int, of: int) -> None:
        if time.monotonic() > self._until:
            raise Spent
        self.note(what, done, of)

    # --- the quests

    def quests(self) -> Iterator[Proved]:
        """What comes out for each quest: what is never so and what is not decided first, then each *yes* with its way. Where that
        was come upon and a shorter one is found when there is time left, the same once more.
        """
        if not self.asked:
            return
        worked, because = None, ""
        known: dict[str, Answers] = {}
        try:
            self._watch("Taking apart what can be done", 0, 1)
            worked = worked_out(self.whole, self.asked, note=self._watch)
            self.chasing = worked.spread.chasing
            self.found = verdicts(worked, self.most, self._watch, known=known)
        except (Spent, MemoryError) as over:
            because = "time" if isinstance(over, Spent) else "memory"
            if worked is None:
                self.found = [Verdict(q, w, "undecided") for q in self.asked for w in _ASKED]
                yield from (Proved(v, because=because) for v in self.found)
                return
            self.found = told(worked, known)
        # That it can be done first, and of that what hangs on little: where the time ends, the most is known then.
        system = worked.recoded.system
        hangs_on = {question.key: len(system.cone(question)) for question in system.questions}
        yes = (v for v in self.found if v.answer == "yes")
        ways = sorted(yes, key=lambda v: (v.what != "can", hangs_on[v.quest]))
        yield from (self._without_way(v, because) for v in self.found if v.answer != "yes")
        finder = WayFinder(self.project, self.whole, worked, self.most, self._watch)
        given_up = []
        for number, verdict in enumerate(ways):
            self.note(f"Walking the way: {self.words.name(verdict.quest)}", number, len(ways))
            sought = finder.sought(*self._asked_of(worked, verdict), SOON)
            assert sought.out != "none", (verdict, "yes, but no way there")
            given_up += [verdict] if sought.given_up else []
            self._seen.see(sought.way.reached)
            yield self._as_proved(verdict, sought)
        for number, verdict in enumerate(given_up):
            self.note(f"Looking for a shorter way: {self.words.name(verdict.quest)}", number, len(given_up))
            sought = finder.sought(*self._asked_of(worked, verdict), upon=False)
            if sought.out == "walked" or sought.fault:
                yield self._as_proved(verdict, sought)

    def _without_way(self, verdict: Verdict, because: str) -> Proved:
        if verdict.answer == "never" or because:
            return Proved(verdict, because="" if verdict.answer == "never" else because)
        too_much = columns_in_words(self.words, verdict.too_much)
        return Proved(verdict, because="too much: " + ", ".join(too_much))

    def _asked_of(self, worked: Worked, verdict: Verdict) -> tuple[Question, Aim, Callable[[Run], bool] | None]:
        """What is asked for a way to what a verdict says."""
        question = next(q for q in worked.recoded.system.questions if q.key == verdict.quest)
        what = verdict.what
        if what in ("stuck", "lost"):
            return question, what, None
        if what != "can":
            question = replace(question, event=worked.recoded.events[verdict.quest, what])
        return question, "can", quest_done(verdict.quest, "done" if what == "can" else what)

    @staticmethod
    def _as_proved(verdict: Verdict, sought: Sought) -> Proved:
        if sought.out == "walked":
            return Proved(verdict, sought.way)
        return Proved(replace(verdict, answer="undecided"), sought.way, sought.because)

    # --- around them

    def remarks(self) -> Iterator[Remark]:
        """What comes out around the quests."""
        self.around = Around(self.project, self.whole, self.most, self._watch, self._seen)
        yield from self.around.remarks()
        if self.around.worked is not None:
            self.chasing |= self.around.worked.spread.chasing

    def points(self) -> Iterator[tuple[str, Way]]:
        """The shortest way to each stage and to the end of each quest, where it was walked; after `remarks`."""
        if self.around is not None:
            yield from self.around.points()

    def orders(self) -> Iterator[Remark]:
        """In which orders the stages of different quests come, by all that was walked; after `points`."""
        if self.around is not None:
            yield from self.around.orders()

    # --- ways out

    def ways_out(self, proved: Proved, seconds: float = 60.0) -> list[Mend]:
        """What takes a verdict away that weighs something, each proved."""
        if self._search is None:
            self._search = Search(self.project, self.found, note=self._watch)
        try:
            return self._search.ways_out(proved.verdict, proved.way.actions, seconds)
        except (Spent, MemoryError):
            return []


def prove(
    project: Project,
    only: Sequence[str] = (),
    *,
    program: Program | None = None,
    budget_s: float = BUDGET_S,
    most: int = MOST_NODES,
    around: bool = False,
    note: Note = unnoted,
) -> Proof:
    """Prove the quests of a project, or only some; and what is `around` them. The verdicts stand in the order of the quests.

    Raises `ProjectError` where an own value does not fit its kind.
    """
    proving = Proving(project, only, program, budget_s, most, note)
    by = {(p.verdict.quest, p.verdict.what): p for p in proving.quests()}
    proved = tuple(by[v.quest, v.what] for v in proving.found)
    remarks = tuple(proving.remarks()) if around and proving.asked else ()
    return Proof(proved, tuple(sorted(proving.chasing)), proving.whole.problems, remarks)
