"""Who is meant by a name: itself, or for a role each that can fill it, while it does."""

from __future__ import annotations

from dataclasses import dataclass

from ..project.records import Objective
from .guards import ALWAYS, Guard, equals
from .layout import Layout


def who_may_be(key: str, layout: Layout) -> tuple[tuple[str, Guard], ...]:
    """Each that a name can stand for, and while it does; nobody for a role that nothing fills."""
    role = layout.find("role", key)
    if role is None:
        return ((key, ALWAYS),)
    filling = enumerate(layout.mentions.fillings.get(key, ()), start=1)
    return tuple((who, equals(role, number)) for number, who in filling if who in layout.placed)


@dataclass(frozen=True, slots=True)
class Counting:
    """One group that counts for an objective: for which of its targets, at whom or where, and while what holds."""

    group: str
    target: str
    who: str
    entry: Guard


def countings(objective: Objective, layout: Layout) -> tuple[Counting, ...]:
    """What counts for an objective, in the order of its targets."""
    found = []
    for target in dict.fromkeys(objective.targets):
        for who, entry in who_may_be(target, layout):
            name = f"count:{objective.key}/{target}"
            found.append(Counting(name if who == target else f"{name}/{who}", target, who, entry))
    return tuple(found)
