"""What a proof says of each quest: whether it can be done, whether one can be left without it for good, how it can end.

The stages in their order: the program without what nothing hangs on, its actions as flats, their values brought down, what
hangs together joined, everything reached once, each question asked backwards within that.
"""

from __future__ import annotations

from collections.abc import Collection, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cache
from typing import Any, Literal

from ..progress.happenings import Happening
from ..progress.onerow import RowWalk, Telling
from ..progress.program import Program
from ..project.noting import Note, unnoted
from .answering import MOST_NODES, UNDECIDED, Answer, Answers, How, each_answered
from .flats import ENDS
from .minimising import minimised
from .places import Places
from .settling import Settling
from .spreading import Spread, spread, whole
from .system import Question, System
from .trimming import trimmed
from .values import Recoded, recoded
from .walks import Walker

What = Literal["can", "stuck", "lost", "failed", "declined"]
WALKS, LONGEST = 4, 40
FEW_COLUMNS = 16
"""A question that hangs on so few is sooner asked of all of them than settled otherwise."""
SOON = 100_000
"""With so many nodes everything is gone through before one walks for long: some seconds."""


@dataclass(frozen=True, slots=True)
class Verdict:
    """What came out of one question of one quest. `too_much` names the columns that were, where it is not decided."""

    quest: str
    what: What
    answer: Answer
    too_much: tuple[str, ...] = ()


@dataclass(frozen=True)
class Worked:
    """A program as far as a proof has worked it out, before anything is asked: its actions as flats, and the system."""

    program: Program
    places: Places
    first: tuple[int, ...]
    spread: Spread
    recoded: Recoded
    chances: frozenset[int] = frozenset()
    """The chances by which a run may begin otherwise than it is gone through from."""

    @property
    def left_out(self) -> frozenset[int]:
        """The columns that were too much, so that what asks them was left out."""
        culprits = frozenset(c for one in self.spread.too_many for c in one.columns)
        return culprits | self.recoded.too_wide | self.chances


MOST_BEGINNINGS = 64


def begun(program: Program) -> tuple[int, ...]:
    """The situation in which a run begins, where chances do not fall."""
    return beginnings(program)[0].row


@dataclass(frozen=True, slots=True)
class Beginning:
    """A situation in which a run can begin, what is told by then, and the chances that it hangs on."""

    row: tuple[int, ...]
    told: tuple[Telling, ...]
    chances: frozenset[int]


class _Drawn(list[int]):
    """A row in which chances fall as they are asked for: as was decided before, and else not."""

    def __init__(self, values: Iterable[int], chances: frozenset[int], falls: Mapping[int, int]):
        super().__init__(values)
        self._chances, self.falls = chances, dict(falls)

    def __getitem__(self, number: Any) -> Any:
        if number in self._chances:
            return self.falls.setdefault(number, 0)
        return super().__getitem__(number)


def beginnings(program: Program) -> list[Beginning]:
    """Every situation in which a run can begin, by how chances fall, that in which none does first; at most
    `MOST_BEGINNINGS` of them."""
    first = program.layout.project.first_level
    found: list[Beginning] = []
    seen: set[frozenset[tuple[int, int]]] = set()
    waiting: list[dict[int, int]] = [{}]
    while waiting and len(found) < MOST_BEGINNINGS:
        row = _Drawn((column.start for column in program.columns), program.chances, waiting.pop(0))
        outcome = RowWalk(program, row).start(begins=first if first in program.begins else "")
        if frozenset(row.falls.items()) not in seen:
            seen.add(frozenset(row.falls.items()))
            found.append(Beginning(tuple(list.__iter__(row)), outcome.told, frozenset(row.falls)))
            waiting += [{**row.falls, asked: 1} for asked, fell in row.falls.items() if not fell]
    return found


@dataclass(frozen=True, slots=True)
class Stages:
    """Which stages a proof goes through. Each only makes the next one's work less: without any the verdicts are the same.

    `trimming`: leave out what no question hangs on. `walking`: begin with situations that random walks came to.
    `joining`: put together what hangs together. `settling`: first settle what walks and a few columns show by themselves.
    `reaching`: by what everything that can be come to is gone through.
    """

    trimming: bool = True
    walking: bool = True
    joining: bool = True
    settling: bool = True
    reaching: How = "diagrams"


ALL = Stages()


def worked_out(
    program: Program,
    quests: Iterable[str],
    first: Sequence[int] | None = None,
    note: Note = unnoted,
    stages: Stages = ALL,
) -> Worked:
    """Work a program out for some quests, from a situation on; without one from where a run begins."""
    asked = list(quests)
    begins = beginnings(program) if first is None else []
    row = tuple(begins[0].row if first is None else first)
    columns = [program.table.at("status", quest) for quest in asked] if stages.trimming else range(len(program.columns))
    left, counts = trimmed(program, columns, lambda told: told.what is Happening.QUEST and told.subject in asked)
    places = Places(program.layout)
    seen = [row, *(one.row for one in begins[1:])]
    for walk in Walker(left, places).walks(row, WALKS if stages.walking else 0, LONGEST):
        seen += [tuple(after) for _, after in walk]
    flats = spread(left, counts, places, seen, whole(left), note)
    chances = begins[0].chances if len({one.row for one in begins}) > 1 else frozenset()
    return Worked(left, places, row, flats, recoded(flats, row, asked), chances)


def verdicts(
    worked: Worked,
    most: int = MOST_NODES,
    note: Note = unnoted,
    stages: Stages = ALL,
    known: dict[str, Answers] | None = None,
) -> list[Verdict]:
    """All verdicts of all quests that it was worked out for, in their order.

    `known`: what is found out is put there as it comes, for whoever ends the work before it is done (`told`).
    """
    found = {} if known is None else known
    for key, answers in _each_answered(_with_ends(worked.recoded.system, worked.recoded), most, note, stages):
        found[key] = found.get(key, UNDECIDED).or_else(answers)
    return told(worked, found)


def told(worked: Worked, answers: Mapping[str, Answers]) -> list[Verdict]:
    """What is told of each quest by the answers to its questions, as far as there are any."""
    system = worked.recoded.system
    found: list[Verdict] = []
    for question in system.questions:
        cone = _cone_of(system, question, worked)
        too_much = tuple(worked.program.columns[n].name for n in sorted(worked.left_out))
        its = answers.get(question.key, UNDECIDED)
        found += [
            Verdict(question.key, "can", *_told(its.can, "can", too_much, cone)),
            Verdict(question.key, "stuck", *_told(its.stuck, "stuck", too_much, cone)),
            Verdict(question.key, "lost", *_told(its.lost, "lost", too_much, cone)),
        ]
        for end in ("failed", "declined"):
            if (question.key, end) in worked.recoded.events:
                one: Answers = answers.get(f"{question.key}/{end}", UNDECIDED)
                found.append(Verdict(question.key, end, *_told(one.can, "can", too_much, cone)))
    return found


def _each_answered(system: System, most: int, note: Note, stages: Stages) -> Iterator[tuple[str, Answers]]:
    """The answers to the questions of a system, the cheap ones first; what is not decided at first may be later on."""

    def brought_down(system: System) -> System:
        note("Putting together what hangs together", 0, 1)
        return minimised(system, note=note).system if stages.joining else system

    small = brought_down(system)
    near = tuple(q for q in small.questions if not stages.settling or len(small.cone(q)) <= FEW_COLUMNS)
    note("Going through every way to play", 0, 1)
    yield from each_answered(replace(small, questions=near), most, note, stages.reaching)
    far = {q.key for q in small.questions} - {q.key for q in near}

    def asked(system: System, keys: Collection[str]) -> System:
        return replace(system, questions=tuple(q for q in system.questions if q.key in keys))

    @cache
    def apart(keys: frozenset[str]) -> System:
        # What the others ask need not be kept apart any more.
        return brought_down(asked(system, keys))

    def gone_through(most: int, alone: bool) -> Iterator[tuple[str, Answers]]:
        return each_answered(apart(frozenset(far)), most, note, stages.reaching, alone)

    settling = Settling(asked(system, far), asked(small, far), note)
    # Whatever takes longer waits until all else has been tried for a while.
    for answers_of in (
        settling.easily,
        lambda: settling.walked(far, "longer"),
        lambda: gone_through(min(most, SOON), False),
        lambda: settling.walked(far, "longest"),
        lambda: gone_through(most, True),
    ):
        for key, answers in answers_of() if far else ():
            yield key, answers
            if answers.whole:
                far.remove(key)


def _with_ends(system: System, of: Recoded) -> System:
    """The same asked for every end that a quest can come to."""
    more = [
        replace(question, key=f"{question.key}/{end}", event=event, active=0, out=0)
        for question in system.questions
        for end in ENDS[1:]
        if (event := of.events.get((question.key, end))) is not None
    ]
    return replace(system, questions=(*system.questions, *more))


def _cone_of(system: System, question: Question, worked: Worked) -> tuple[str, ...]:
    """The columns that a question hangs on, those of most values first."""
    cone = sorted(system.cone(question), key=lambda n: -system.sizes[n])
    return tuple(worked.program.columns[worked.recoded.columns[n]].name for n in cone[:3])


def _told(
    answer: Answer, what: What, too_much: tuple[str, ...], cone: tuple[str, ...]
) -> tuple[Answer, tuple[str, ...]]:
    """An answer as far as it stands where something was left out: only what can be done surely can."""
    if answer == "undecided":
        return answer, too_much or cone
    if too_much and (what != "can" or answer == "never"):
        return "undecided", too_much
    return answer, ()
