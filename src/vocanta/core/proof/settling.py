"""What is settled before everything is gone through: *yes* by walks, *never* by a few columns, whatever is cheap first."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import chain

from ..project.noting import Note, unnoted
from .answering import Answer, Answers
from .confining import Confining
from .resting import Seen, Walks
from .system import Question, System

FEW_COLUMNS = 10
"""A question that hangs on so few columns is sooner asked of all of them."""
TOGETHER, FIRST, MORE, CLOSELY = 40, 8, 300, 60
"""So many walks for all questions; for one before a few of its columns are asked, after that, and then looked at closely."""
SEEN = 1_000
"""So many situations are looked at for a way to an event."""


def settled(
    system: System, small: System, note: Note = unnoted, few: int = FEW_COLUMNS
) -> Iterator[tuple[str, Answers]]:
    """The answers so far to the questions that hang on many columns, and to those that walks settle altogether.

    `small` is the system brought down, in which one walks faster; `system` has the smaller columns. `few`: of so many columns
    at most a question is left to be asked of all of them.
    """
    walks = Walks(small)
    for n, _ in enumerate(walks.walk(TOGETHER)):
        note("Walking about", n + 1, TOGETHER)
    confining = Confining(system)
    for n, question in enumerate(small.questions):
        note("Settling what is easy", n, len(small.questions))
        answers = _seen(walks.seen, question)
        if not answers.whole and len(small.cone(question)) > few:
            for answers in _one_after_another(walks, confining, question, system.questions[n]):
                if answers.whole:
                    break
        elif not answers.whole:
            continue
        yield question.key, answers


def _one_after_another(walks: Walks, confining: Confining, question: Question, asked: Question) -> Iterator[Answers]:
    """The answers to a question so far, again and again. `asked` is the same question of the system before."""
    if question.key not in walks.seen.can:
        walks.toward(question, SEEN)
        yield _seen(walks.seen, question)
    for _ in walks.without(FIRST, question):
        yield _seen(walks.seen, question)
    never = confining.answers(asked)
    yield _seen(walks.seen, question).or_else(never)
    for _ in chain(walks.without(MORE, question), walks.without(CLOSELY, question, closely=True)):
        answers = _seen(walks.seen, question).or_else(never)
        yield answers
        if "undecided" not in (answers.stuck, answers.lost):
            break


def _seen(seen: Seen, question: Question) -> Answers:
    """What walks have seen of a question; what it does not ask for is never so."""

    def told(found: set[str], asked: int) -> Answer:
        return "yes" if question.key in found else "undecided" if asked else "never"

    return Answers(told(seen.can, 1), told(seen.stuck, question.active), told(seen.lost, question.out))
