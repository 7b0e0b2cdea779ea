"""Which names a tree uses, and what each of them must be the name of."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any

from . import nodes as n

PURSES = frozenset({"money", "experience"})
SELVES = frozenset({"this", "player"})
STATUSES = ("unavailable", "available", "offered", "active", "ready", "done", "declined", "failed")
"""A quest's statuses in the order of their numbers. `ready` counts as active."""


@dataclass(frozen=True, slots=True)
class NameUse:
    """One name in a text: what it may name; a state or stage also names whose it is."""

    word: n.Word
    types: tuple[str, ...]
    owner: n.Word | None = None


def name_uses(tree: Any) -> Iterator[NameUse]:
    """Every name in a tree in the order of the text, holes included."""
    for node in n.nodes_in(tree):
        rule = _RULES.get(type(node))
        if rule is not None:
            yield from rule(node)


def _one(attribute: str, *types: str) -> Callable[[Any], list[NameUse]]:
    def rule(node: Any) -> list[NameUse]:
        word = getattr(node, attribute)
        return [] if word is None else [NameUse(word, types)]

    return rule


def _moment(node: n.Moment) -> list[NameUse]:
    if node.word is None:
        return []
    return [NameUse(node.word, ("control",) if node.verb in ("used", "held") else ("area",))]


def _is(node: n.Is) -> list[NameUse]:
    return [NameUse(node.subject, ("object", "quest", "fact")), NameUse(node.value, ("value",), node.subject)]


def _set(node: n.Set) -> list[NameUse]:
    return [NameUse(node.target, ("object", "fact")), NameUse(node.value, ("state",), node.target)]


def _set_next(node: n.SetNext) -> list[NameUse]:
    return [NameUse(node.target, ("object",)), *(NameUse(s, ("state",), node.target) for s in node.states)]


def _place(node: n.Place) -> list[NameUse]:
    return [NameUse(node.quest, ("quest",)), NameUse(node.stage, ("stage",), node.quest)]


def _between(node: n.Between) -> list[NameUse]:
    return [NameUse(node.quest, ("quest",)), *(NameUse(s, ("stage",), node.quest) for s in (node.first, node.last))]


def _move(node: n.Move) -> list[NameUse]:
    return [NameUse(node.quest, ("quest",)), NameUse(node.stage, ("stage",), node.quest)]


def _heard(node: n.Heard) -> list[NameUse]:
    by = [NameUse(node.by, ("object",))] if node.by else []
    return [NameUse(node.line, ("line",)), *by]


def _sound(node: n.Sound) -> list[NameUse]:
    at = [NameUse(node.at, ("object",))] if node.at else []
    return [NameUse(node.sound, ("sound",)), *at]


_RULES: dict[type, Callable[[Any], list[NameUse]]] = {
    n.Moment: _moment,
    n.Has: _one("item", "item"),
    n.Holds: _one("fact", "fact"),
    n.Is: _is,
    n.Compare: _one("subject", "fact", "purse"),
    n.Place: _place,
    n.Between: _between,
    n.Met: _one("objective", "objective"),
    n.Heard: _heard,
    n.Can: _one("ability", "ability"),
    n.Set: _set,
    n.SetNext: _set_next,
    n.Add: _one("target", "fact", "purse"),
    n.Hand: _one("item", "item", "purse"),
    n.Grant: _one("ability", "ability"),
    n.QuestStep: _one("quest", "quest"),
    n.Move: _move,
    n.Talk: _one("conversation", "conversation"),
    n.Sound: _sound,
    n.Marking: _one("target", "object"),
    n.Remove: _one("target", "object"),
    n.Meet: _one("objective", "objective"),
}
