"""At which spots things may come to lie that steps put and swap, as far as that follows from the steps alone."""

from __future__ import annotations

from collections.abc import Iterator

from ..phrases import nodes as n
from ..space.cells import EDGE_M
from .layout import Layout
from .mentions import Mentions

MOST_SPOTS = 64
Lying = tuple[str, float, float]
"""A level, and metres east and north."""


def lying_spots(layout: Layout) -> dict[str, frozenset[Lying] | None]:
    """For each thing that steps can move all spots where it may lie; None where that may be anywhere.

    Anywhere is whatever is put at somebody who walks or at the player, copies that a step puts, and what comes to more than
    `MOST_SPOTS`.
    """
    return _Spots(layout).found


class _Spots:
    """The spots while they are gathered: they only grow, until nothing is added."""

    def __init__(self, layout: Layout):
        self.layout, mentions = layout, layout.mentions
        movable = [key for key in layout.placed if mentions.movable(key)]
        self.found: dict[str, frozenset[Lying] | None] = {key: self._at_first(key) for key in movable}
        sources = [(key, source) for key in movable for source in _sources(key, mentions)]
        growing = True
        while growing:
            growing = False
            for key, (at, step) in sources:
                here, more = self.found[key], self._moved(at, step)
                grown = None if here is None or more is None else here | more
                if grown is not None and len(grown) > MOST_SPOTS:
                    grown = None
                growing = growing or grown != here
                self.found[key] = grown

    def _at_first(self, key: str) -> frozenset[Lying] | None:
        one = self.layout.placed[key]
        anywhere = one.pool or one.walks or key in self.layout.mentions.carriers or not one.level
        return None if anywhere else frozenset({(one.level, one.thing.x_m, one.thing.y_m)})

    def _moved(self, at: str, step: n.PutAt | None) -> frozenset[Lying] | None:
        """Where a thing comes to lie beside another, or in its place where no step says so."""
        there = self._where(at)
        if there is None or step is None:
            return there
        east, north = (o.value or 0.0 for o in step.offset) if step.offset else (0.0, 0.0)
        moves = self.layout.mentions.movable(at)
        return frozenset(self._beside(one, east, north, moves) for one in there)

    def _where(self, at: str) -> frozenset[Lying] | None:
        if at in self.found:
            return self.found[at]
        one = self.layout.placed.get(at)
        if one is None or one.walks or not one.level:
            return None
        return frozenset({(one.level, one.thing.x_m, one.thing.y_m)})

    def _beside(self, one: Lying, east: float, north: float, moves: bool) -> Lying:
        """The spot beside another that the cell allows: its own, or that of what moves itself."""
        level, x, y = one
        cells = self.layout.cells
        cell = cells.at(level, x, y) if moves else cells.at(level, x + east, y + north)
        return level, *cells.inside(cell, x + east, y + north, EDGE_M)


def _sources(key: str, mentions: Mentions) -> Iterator[tuple[str, n.PutAt | None]]:
    """What a thing is put at, by which step, and what it changes places with."""
    for (_, step), at in mentions.puts_at.items():
        if step in mentions.put.get(key, ()):
            yield at, step
    yield from ((other, None) for other in mentions.swapped.get(key, ()))
