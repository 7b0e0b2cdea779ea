"""What a few columns show by themselves: that an event never happens, or that one is never left without it.

What the other columns hold is not known. While one is *lucky* they count as whatever is asked; luck can end at any time, and
from then on only moves go that ask nothing of them. So everything that can be come to is come to while lucky, and more; and
whatever leads to the event without luck leads there in truth as well. *Never* here is never. Where it is not enough, the
columns are added that a way to the event asks for (after Clarke, Grumberg, Jha, Lu and Veith, 2000).
"""

from __future__ import annotations

from dataclasses import replace

from .answering import UNDECIDED, Answer, Answers, Reached
from .diagrams import TooLarge
from .relaxed import Relaxed
from .system import Move, Question, Situation, System

TURNS = 12
MOST_NODES = 20_000
"""With more nodes the few columns are not few any more."""


class Confining:
    """Questions of one system, each asked of a few of its columns."""

    def __init__(self, system: System):
        self._system, self._relaxed = system, Relaxed(system)

    def answers(self, question: Question) -> Answers:
        """What a few columns show of a question: *never* or *undecided*."""
        system, found = self._system, UNDECIDED
        brings = (m for m in system.moves if m.events >> question.event & 1)
        columns = {question.column, *(c for m in brings for c, _ in m.when)}
        for _ in range(TURNS):
            columns |= self._thrown_in(columns)
            try:
                shown, left = self._shown(columns, question)
            except TooLarge:
                break
            found = found.or_else(Answers(*("never" if a == "never" else "undecided" for a in _three(shown))))
            if left is None:
                break
            wider = columns | {c for move in self._relaxed.way(left, question.event) for c, _ in move.when}
            if wider == columns:
                break
            columns = wider
        return found

    def _shown(self, columns: set[int], question: Question) -> tuple[Answers, Situation | None]:
        """What some columns show, and one of the situations in which one is left behind, the rest as in the beginning."""
        few = self._confined(columns, question)
        asked = few.questions[0]
        reached = Reached(few, MOST_NODES)
        shown = reached.answers(asked)
        left = reached.d.union(reached.stuck(asked), reached.lost(asked))
        at = reached.d.any(left)
        if at is None:
            return shown, None
        known = dict(zip(sorted(columns), at, strict=False))
        return shown, tuple(known.get(c, v) for c, v in enumerate(self._system.first))

    def _confined(self, columns: set[int], question: Question) -> System:
        """Some columns of the system, and luck, which comes last."""
        system, luck = self._system, len(self._system.sizes)
        moves = [Move(((luck, 0b10),), ((luck, (0, 0)),))]
        for move in system.moves:
            inside = tuple(w for w in move.when if w[0] in columns)
            moves.append(move if len(inside) == len(move.when) else replace(move, when=(*inside, (luck, 0b10))))
        wider = System((*system.names, "luck"), (*system.sizes, 2), (*system.first, 1), tuple(moves))
        return wider.slice({*columns, luck}, [question])

    def _thrown_in(self, columns: set[int]) -> set[int]:
        """The columns that bring no new moves: they are asked by moves of these columns, and changed by these alone."""
        system, found = self._system, set[int]()
        while True:
            have = columns | found
            moves = {n for column in have for n in system.writers[column]}
            asked = {c for n in moves for c, _ in system.moves[n].when} - have
            more = {c for c in asked if moves.issuperset(system.writers[c])}
            if not more:
                return found
            found |= more


def _three(answers: Answers) -> tuple[Answer, Answer, Answer]:
    return answers.can, answers.stuck, answers.lost
