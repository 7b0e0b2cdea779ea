"""A text read once: its tree, every node, the names it uses, whether it has a hole. Kept by text."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from typing import Any, Literal

from ..phrases import nodes as n
from ..project.problems import Problem
from .limits import limit_problems
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


@lru_cache(maxsize=20_000)
def analysed(start: Start, text: str, bodily: bool = True) -> Analysis:
    """A text taken apart; an empty one of needs or steps holds nothing. Raises `CueTextError`."""
    tree = _READERS[start](text) if start == "cue" or text.strip() else ()
    nodes = n.nodes_in(tree)
    limits = tuple(limit_problems(tree, "this" if bodily else ""))
    return Analysis(tree, nodes, tuple(uses_in(nodes)), any(n.is_hole(node) for node in nodes), limits)
