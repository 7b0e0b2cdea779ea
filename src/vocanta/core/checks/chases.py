"""Listening cues that chase each other: circles of who flags whom, tried out on the program itself.

A circle alone proves nothing, since most come to rest; so each is started from some situations, with the values that its
own columns can come to. What is told was seen not to settle; what is not told may still chase from a situation that
was not tried.
"""

from __future__ import annotations

import itertools
from collections.abc import Iterator

from ..progress.chasing import circles
from ..progress.effects import Consequences
from ..progress.guards import columns_of
from ..progress.onerow import RowWalk
from ..progress.program import Program
from ..progress.values import Values

MOST_TRIED = 128
"""So many situations are tried for each circle."""


def chases(program: Program, values: Values) -> Iterator[tuple[str, ...]]:
    """The circles of groups that were seen not to settle, each once, in settling order."""
    found: dict[tuple[str, ...], None] = {}
    consequences = Consequences(program)
    for circle in _circles(program, consequences, values):
        for row in _situations(program, consequences, values, circle):
            chasing = _tried(program, row, circle)
            if chasing:
                found[chasing] = None
                break
    yield from found


def _circles(program: Program, consequences: Consequences, values: Values) -> list[list[str]]:
    """The groups that can flag each other round, of those that could ever be read."""
    names = [name for name in program.settling if name in values.read]
    written = circles(names, consequences)
    return [m for m in written if any("/cue/" in b.origin for name in m for b in program.groups[name].branches)]


def _situations(program: Program, consequences: Consequences, values: Values, circle: list[str]) -> Iterator[list[int]]:
    """Rows to start from: the start, with what the circle reads and writes at values that those can come to."""
    start = [c.start for c in program.columns]
    RowWalk(program, start).start()
    mine: dict[int, None] = {}
    for name in circle:
        effects = consequences.effects(name)
        guards = (program.groups[name].entry, *(b.guard for b in program.groups[name].branches))
        mine |= dict.fromkeys(sorted(effects.writes | frozenset().union(*(columns_of(g) for g in guards))))
    choices = [(c, _some(program, values, c)) for c in mine]
    choices.sort(key=lambda pair: len(pair[1]))
    for picked in itertools.islice(itertools.product(*(some for _, some in choices)), MOST_TRIED):
        row = list(start)
        for (column, _), value in zip(choices, picked, strict=True):
            row[column] = value
        yield row


def _some(program: Program, values: Values, column: int) -> list[int]:
    """A few values of a column: the start's and the lowest others that it can come to."""
    of = program.columns[column]
    near = (v for v in range(of.lowest, min(of.highest, of.lowest + 8) + 1) if v != of.start and values.has(column, v))
    return [of.start, *itertools.islice(near, 2)]


def _tried(program: Program, row: list[int], circle: list[str]) -> tuple[str, ...]:
    """The groups that did not settle from a row, with each of a circle flagged in turn; none where all came to rest."""
    for name in circle:
        walk = RowWalk(program, list(row))
        walk.flags.add(program.settling_number[name])
        outcome = walk.settle()
        if outcome.chasing:
            return outcome.chasing
    return ()
