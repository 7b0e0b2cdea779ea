"""What is settled before everything is gone through: *yes* by walks, *never* by a few columns, whatever is cheap first."""

from __future__ import annotations

from collections.abc import Collection, Container, Iterator, Mapping
from typing import Literal

from ..project.noting import Note, unnoted
from .answering import UNDECIDED, Answer, Answers
from .confining import Confining
from .resting import Seen, Walks
from .system import Question, System

TOGETHER, FIRST = 40, 8
"""So many walks for all questions, and for one before a few of its columns are asked."""
Longer = Literal["longer", "longest"]
MORE: Mapping[Longer, tuple[int, int, int]] = {"longer": (600, 80_000, 0), "longest": (1500, 200_000, 60)}
"""So many walks after that, of no more moves together than so many, and so many walks that are looked at closely."""
SEEN = 1_000
"""So many situations are looked at for a way to an event."""


class Settling:
    """The questions of a system, settled as far as that is easy.

    `small` is the system brought down, in which one walks faster; `system` has the smaller columns.
    """

    def __init__(self, system: System, small: System, note: Note = unnoted):
        self._small, self._walks, self._confining, self._note = small, Walks(small), Confining(system), note
        self._asked = list(zip(small.questions, system.questions, strict=True))
        self._never: dict[str, Answers] = {}
        self._through: dict[str, tuple[Walks, Question]] = {}
        """For each question the walks through what it hangs on, and the question there."""

    def easily(self) -> Iterator[tuple[str, Answers]]:
        """The answers to all questions so far, by a few walks and a few columns."""
        for n, _ in enumerate(self._walks.walk(TOGETHER)):
            self._note("Walking about", n + 1, TOGETHER)
        for n, (question, whole) in enumerate(self._asked):
            self._note("Settling what is easy", n, len(self._asked))
            if question.key not in self._walks.seen.can:
                self._walks.toward(question, SEEN)
            if not self._so_far(question).whole:
                self._without(question, self._walks.without(FIRST, question))
            if not self._so_far(question).whole:
                self._never[question.key] = self._confining.answers(whole)
            yield question.key, self._so_far(question)

    def walked(self, keys: Collection[str], how: Longer) -> Iterator[tuple[str, Answers]]:
        """The answers to some questions, by many walks through what each hangs on."""
        many, moves, closely = MORE[how]
        for question in (q for q, _ in self._asked if q.key in keys):
            self._note("Walking about longer", 0, 1)
            if question.key not in self._through:
                part = self._small.slice(self._small.cone(question), [question])
                self._through[question.key] = Walks(part, self._walks.seen), part.questions[0]
            walks, asked = self._through[question.key]
            self._without(question, walks.without(many, asked, moves=moves))
            if closely:
                self._without(question, walks.without(closely, asked, closely=True))
            yield question.key, self._so_far(question)

    def _without(self, question: Question, walks: Iterator[None]) -> None:
        """Walk on as long as it is not known whether one is left without the event of a question."""
        for _ in walks:
            answers = self._so_far(question)
            if "undecided" not in (answers.stuck, answers.lost):
                break

    def _so_far(self, question: Question) -> Answers:
        return _seen(self._walks.seen, question).or_else(self._never.get(question.key, UNDECIDED))


def _seen(seen: Seen, question: Question) -> Answers:
    """What walks have seen of a question; what it does not ask for is never so."""

    def told(found: Container[str], asked: int) -> Answer:
        return "yes" if question.key in found else "undecided" if asked else "never"

    return Answers(told(seen.can, 1), told(seen.stuck, question.active), told(seen.lost, question.out))
