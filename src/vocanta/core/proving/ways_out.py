"""Ways out of what a proof has found: small mends, each proved again before it is offered.

A mend is offered where the verdict that it is for comes out well and no other verdict comes out worse. Where one alone does
not do, it is tried with one more for the next way in which the same goes wrong.
"""

from __future__ import annotations

import time
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

from ..checks.finding import Mend, ended, shown
from ..checks.mending import Give, Reword, joined, mended
from ..checks.survey import Survey
from ..engine.wording import Words
from ..progress.compiling import compiled
from ..progress.program import Action
from ..project.noting import Note, unnoted
from ..project.problems import ProjectError
from ..project.records import Project
from ..proof.answering import MOST_NODES, Answer
from ..proof.any_way import Aim
from ..proof.diagrams import TooLarge
from ..proof.routes import NoWay, Ways
from ..proof.verdicts import Verdict, What, Worked, verdicts, worked_out
from .candidates import candidates

MOST_OFFERED, MOST_TOGETHER, MOST_FURTHER = 4, 3, 2
"""So many ways out are offered for one verdict, so many mends make up one at the most, and of so many that put the trouble
off the farthest it is tried what else is amiss."""
_GOOD: Mapping[str, Answer] = {"can": "yes", "stuck": "never", "lost": "never"}
_BAD: Mapping[str, Answer] = {"can": "never", "stuck": "yes", "lost": "yes"}


@dataclass
class Search:
    """The search of ways out for one project, of which so much was `found`."""

    project: Project
    found: Sequence[Verdict]
    most: int = MOST_NODES // 6
    note: Note = unnoted
    tried: int = 0

    def ways_out(self, verdict: Verdict, actions: Sequence[Action], seconds: float) -> list[Mend]:
        """What takes one verdict away; `actions`: what was done on the way that shows it, `seconds`: so long at the most."""
        until = time.monotonic() + seconds
        offered: list[Mend] = []
        for mend in self._tried(self.project, verdict, actions, (), until):
            offered.append(mend)
            if len(offered) == MOST_OFFERED:
                break
        return offered

    def _tried(
        self, project: Project, verdict: Verdict, actions: Sequence[Action], with_: tuple[Mend, ...], until: float
    ) -> Iterator[Mend]:
        survey, further, mends = Survey(project), [], 0
        for mend in _distinct(candidates(survey, verdict.quest, verdict.what, actions)):
            if time.monotonic() > until:
                return
            if _places(mend) & {place for one in with_ for place in _places(one)}:
                continue
            after = mended(project, mend.writes)
            outcome = self._outcome(after, verdict)
            if outcome is None:
                continue
            whole = (*with_, _named(mend, survey))
            if outcome.answer == _GOOD[verdict.what]:
                if self._harmless(after, verdict):
                    mends += 1
                    yield _as_one(whole)
            elif outcome.answer == _BAD[verdict.what]:
                further.append((after, outcome, whole))
        if not mends and len(with_) + 1 < MOST_TOGETHER:
            for after, outcome, whole in _farthest(further, tuple(a.name for a in actions)):
                for mend in self._tried(after, verdict, outcome.actions, whole, until):
                    mends += 1
                    yield mend
                if mends:
                    return

    def _outcome(self, project: Project, verdict: Verdict) -> _Outcome | None:
        """What the verdict comes to in a mended project; None for one that is not sound."""
        self.tried += 1
        self.note("Looking for ways out", self.tried, 0)
        try:
            program = compiled(project)
        except ProjectError:
            return None
        worked = worked_out(program, [verdict.quest])
        answer = next(v.answer for v in verdicts(worked, self.most) if v.what == verdict.what)
        return _Outcome(answer, verdict.what, worked, self.most)

    def _harmless(self, project: Project, verdict: Verdict) -> bool:
        """Whether no other verdict comes out worse in a mended project than it was."""
        quests = list(dict.fromkeys(v.quest for v in self.found))
        after = {(v.quest, v.what): v.answer for v in verdicts(worked_out(compiled(project), quests), self.most)}
        others = [v for v in self.found if v.what in _GOOD and v != verdict]
        return all(after[one.quest, one.what] in (_GOOD[one.what], one.answer) for one in others)


@dataclass
class _Outcome:
    answer: Answer
    what: What
    worked: Worked
    most: int

    @cached_property
    def actions(self) -> tuple[Action, ...]:
        """What is done on the way on which it still goes wrong; nothing where none is told."""
        if self.what not in ("stuck", "lost"):
            return ()
        aim: Aim = self.what
        try:
            route = Ways(self.worked.recoded, self.most).route(self.worked.recoded.system.questions[0], aim)
        except (TooLarge, NoWay):
            return ()
        flats = route.flats if route is not None else ()
        return tuple(self.worked.program.actions[f.action] for f in flats)


_Further = tuple[Project, _Outcome, tuple[Mend, ...]]


def _farthest(several: Iterable[_Further], before: tuple[str, ...]) -> list[_Further]:
    """Those that put the trouble off the farthest: on another way than before, and a longer one first."""
    others = [one for one in several if one[1].actions and tuple(a.name for a in one[1].actions) != before]
    return sorted(others, key=lambda one: -len(one[1].actions))[:MOST_FURTHER]


def _places(mend: Mend) -> set[tuple[str, str]]:
    """The texts and values that a mend writes."""
    texts = {(w.record, w.field) for w in mend.writes if isinstance(w, Reword)}
    return texts | {(w.record, w.path) for w in mend.writes if isinstance(w, Give)}


def _distinct(several: Iterable[Mend]) -> Iterator[Mend]:
    seen: set[str] = set()
    for mend in several:
        if (written := repr(mend.writes)) not in seen:
            seen.add(written)
            yield mend


def _named(mend: Mend, survey: Survey) -> Mend:
    """A mend with its names as they are called."""
    words: Words = survey.words
    return Mend(mend.label, shown(mend.says, words.name), mend.writes)


def _as_one(several: Sequence[Mend]) -> Mend:
    """Some mends as one: what they write, one after the other."""
    if len(several) == 1:
        return several[0]
    says = " ".join(ended(m.says) for m in several)
    return Mend(" and ".join(m.label for m in several), says, joined(m.writes for m in several))
