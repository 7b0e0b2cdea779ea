"""In which orders the stages of different quests are come to: what was walked so can be so, what was proved never is not.

Every way of a proof that the engine has gone tells of pairs of stages that one was come to before the other. What no way
tells of and no proof rules out is not decided.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

from ..project.records import Quest
from ..proof.wide import NeverBefore

Stage = tuple[str, str]
"""A quest and one of its stages, by their names."""
Known = Literal["any", "but for some", "open"]
"""Whether the stages of two quests come in `any` order, in any but for some that never come so, or that is `open`."""


class Orders:
    """What the ways that were walked tell of orders."""

    def __init__(self) -> None:
        self._ways: dict[Stage, list[dict[Stage, int]]] = {}

    def see(self, reached: Sequence[Stage]) -> None:
        """Take in a way, by the stages that it has come to, in order."""
        first: dict[Stage, int] = {}
        for number, stage in enumerate(reached):
            first.setdefault(stage, number)
        for stage in first:
            self._ways.setdefault(stage, []).append(first)

    def is_seen(self, stage: Stage, before: Stage) -> bool:
        """Whether some way has come to a stage before it came to another."""
        return any(way[stage] < way.get(before, len(way)) for way in self._ways.get(stage, ()))

    def pair(self, quest: Quest, other: Quest, never: NeverBefore, reached: frozenset[Stage]) -> Known:
        """What is known of two quests: of the stages that are ever `reached`."""
        ruled_out = False
        for one, its, two, theirs in ((quest.key, quest, other.key, other), (other.key, other, quest.key, quest)):
            for a, stage in enumerate(its.stages):
                for b, before in enumerate(theirs.stages):
                    if {(one, stage.key), (two, before.key)} <= reached:
                        if (a, b) in never.get((one, two), ()):
                            ruled_out = True
                        elif not self.is_seen((one, stage.key), (two, before.key)):
                            return "open"
        return "but for some" if ruled_out else "any"
