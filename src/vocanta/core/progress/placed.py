"""What stands in a project: every object with its design, and the copies that steps may put."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

from ..project.designs import resolved
from ..project.records import Design, Kind, Object, Project

COPY_OF = "@"
"""Stands in the key of a copy that a step puts, between its kind and the step."""


@dataclass(frozen=True)
class Placed:
    """One object with its resolved design and where it is placed. A copy that a step puts names its `pool`, and has no
    level: its column says where it lies."""

    thing: Object
    design: Design
    level: str
    pool: str = ""

    @cached_property
    def state_numbers(self) -> dict[str, int]:
        """The number of each state."""
        return {s.key: i for i, s in enumerate(self.design.states)}

    @property
    def owner(self) -> str:
        """Whose copies its own steps put: its own, or for a copy those of its kind."""
        return f"kind/{self.thing.kind}" if self.pool else self.thing.key

    @property
    def walks(self) -> bool:
        """Whether it goes a round by itself."""
        return self.design.walks and len(self.thing.round) > 1

    @property
    def stands(self) -> bool:
        """Whether it has a body that blocks in some state and stays where it was put."""
        return self.design.body.shape != "none" and not self.walks and any(s.blocks for s in self.design.states)


@dataclass(frozen=True, slots=True)
class Pool:
    """The copies that one step may have put at a time."""

    key: str
    kind: Kind
    most: int
    origin: str

    @property
    def copies(self) -> tuple[str, ...]:
        """The keys of its copies, in the order in which they are put."""
        return tuple(f"{self.key}.{i}" for i in range(1, self.most + 1))


def placed_of(project: Project) -> dict[str, Placed]:
    """Every object of a project with its design, by key. Raises `ProjectError` where an own value does not fit."""
    kinds = {k.key: k for k in project.kinds}
    return {
        o.key: Placed(o, resolved(kinds[o.kind], o) if o.kind in kinds else Design(), level.key)
        for level in project.levels
        for o in level.objects
    }
