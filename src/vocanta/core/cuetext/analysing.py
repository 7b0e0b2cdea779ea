"""A text read once: its tree, every node, the names it uses, whether it has a hole. Kept by text."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from typing import Any, Literal

from ..phrases import nodes as n
from ..project.problems import Problem
from .limits import limit_problems
from .own_values import Values, numbers_left, with_numbers
from .reading import read_cue, read_needs, read_steps
from .roles import NameUse, uses_in

Start = Literal["cue", "needs", "steps"]
_READERS = {"cue": read_cue, "needs": read_needs, "steps": read_steps}


@dataclass(frozen=True, slots=True)
class Analysis:
    """What a readable text holds. `limits` are what it says that cannot be, for an owner with or without a body."""

    tree: Any
    nodes: tuple[Any, ...]
    uses: tuple[NameUse, ...]
    has_hole: bool
    limits: tuple[Problem, ...]
    left: tuple[n.Number, ...] = ()
    """The numbers that each owner has for itself."""

    def of(self, values: Values, bodily: bool) -> Analysis:
        """The same for an owner of these values."""
        return _taken_apart(with_numbers(self.tree, values), bodily) if self.left else self


@lru_cache(maxsize=20_000)
def analysed(start: Start, text: str, bodily: bool = True) -> Analysis:
    """A text taken apart; an empty one of needs or steps holds nothing. Raises `CueTextError`."""
    tree = _READERS[start](text) if start == "cue" or text.strip() else ()
    return _taken_apart(tree, bodily)


def _taken_apart(tree: Any, bodily: bool) -> Analysis:
    nodes = n.nodes_in(tree)
    limits = tuple(limit_problems(tree, "this" if bodily else ""))
    hole = any(n.is_hole(node) for node in nodes)
    return Analysis(tree, nodes, tuple(uses_in(nodes)), hole, limits, numbers_left(nodes))
