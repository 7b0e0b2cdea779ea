"""The steps that put copies: how many they may have at a time, and how many they can put in all."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from ..phrases import nodes as n
from ..progress.often import Times, plus, times
from ..progress.ops import PutCopies
from .survey import Survey
from .texts import Text

Putting = n.PutAt | n.Scatter | n.Drop


@dataclass(frozen=True, slots=True)
class PoolOf:
    """One step that puts copies of a kind: the largest number written, the one that holds, and how many it puts in all.

    `removed`: something takes copies of its kind away.
    """

    text: Text
    step: Putting
    kind: str
    written: int | None
    most: int
    bound: Times
    removed: bool

    def saying(self, number: int) -> tuple[n.Span, str]:
        """What rewords the step so that it says at most so many."""
        if self.step.most is not None:
            return self.step.most.span, str(number)
        return (self.step.span[1], self.step.span[1]), f" at most {number}"


def pools_of(survey: Survey) -> Iterator[PoolOf]:
    """Every such step, in the order of the texts; one that stands at several objects of a kind once, at its worst."""
    bounds, removed = _bounds(survey), _removed(survey)
    for text in survey.texts:
        if text.read is None or survey.broken(text):
            continue
        for step in text.read.nodes:
            if isinstance(step, Putting) and step.what.text in survey.kinds:
                found = [bounds[key] for key in survey.pool_keys(text, step) if key in bounds]
                if found:
                    most, bound = max(found, key=lambda pair: (pair[1] is None, pair[1] or 0))
                    written = int(step.most.value) if step.most is not None and step.most.value else None
                    yield PoolOf(text, step, step.what.text, written, most, bound, step.what.text in removed)


def _bounds(survey: Survey) -> dict[str, tuple[int, Times]]:
    """For each pool how many copies it has, and how many are ever put."""
    found: dict[str, tuple[int, Times]] = {}
    for one in survey.often.taken:
        for op in one.every:
            if isinstance(op, PutCopies) and op.copies:
                pool = survey.program.layout.placed[op.copies[0].key].pool
                before = found.get(pool, (0, 0))[1]
                found[pool] = len(op.copies), plus(before, times(survey.often.branch(one), op.count))
    return found


def _removed(survey: Survey) -> frozenset[str]:
    """The kinds of which copies can be taken away: by a cue of their own, or by name."""
    placed = survey.program.layout.placed
    gone = {
        placed[key].thing.kind for key in survey.program.layout.mentions.removed if key in placed and placed[key].pool
    }
    return frozenset(gone)
