"""Which names a tree uses, and what each of them must be the name of."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any

from . import nodes as n

PURSES = frozenset({"money", "experience"})
GRADE = "experience_level"
"""The level of experience, which follows from experience."""
SELVES = frozenset({"this", "player", "somebody"})
EFFECTS = ("burst", "dust", "glow", "ripple", "smoke", "sparks")
"""What an *effect* step can show."""
QUEST_MOMENTS = frozenset({"accepted", "declined", "done", "failed"})
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


MOMENT_TYPES: dict[str, tuple[str, ...]] = {
    "used": ("control",),
    "held": ("control",),
    "entered": ("area", "level", "object"),
    "left": ("area", "level", "object"),
    "changed": ("fact", "object"),
    "gained": ("item", "purse"),
    "lost": ("item", "purse"),
    "heard": ("line",),
    "met": ("objective",),
    "downed": ("object", "player"),
    "struck": ("ability",),
    **dict.fromkeys(QUEST_MOMENTS, ("quest",)),
}
"""What the word of each moment may name."""
_THIS = n.Word("this")


def _moment(node: n.Moment) -> list[NameUse]:
    if node.word is None:
        return []
    if node.of is not None:
        return [NameUse(node.word, ("stage",), node.of), NameUse(node.of, ("quest",))]
    if node.verb == "chosen":
        return [NameUse(node.word, ("button",), _THIS)]
    return [NameUse(node.word, MOMENT_TYPES[node.verb])]


def _is(node: n.Is) -> list[NameUse]:
    types = ("object", "quest", "fact", "item", "role")
    return [NameUse(node.subject, types), NameUse(node.value, ("value",), node.subject)]


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


_TALLY_TYPES = {"used": ("object",), "heard": ("line",), "visited": ("area", "level"), "gained": ("item", "purse")}


def _tally(node: n.Tally) -> list[NameUse]:
    return [NameUse(node.subject, _TALLY_TYPES[node.verb])]


def _around(node: n.Around) -> list[NameUse]:
    return [NameUse(node.who, ("player", "somebody", "tag")), NameUse(node.thing, ("object",))]


def _inside(node: n.Inside) -> list[NameUse]:
    return [NameUse(node.who, ("player",)), NameUse(node.place, ("area", "level", "object"))]


def _show(node: n.Show) -> list[NameUse]:
    at = [NameUse(node.at, ("object", "player"))] if node.at else []
    return [NameUse(node.what, (node.verb,)), *at]


def _change(node: n.Change) -> list[NameUse]:
    return [NameUse(node.item, ("item", "purse")), NameUse(node.into, ("item", "purse"))]


def _put(node: n.PutAt) -> list[NameUse]:
    at = [NameUse(node.at, ("object", "player"))] if node.at else []
    return [NameUse(node.what, ("kind", "object")), *at]


def _scatter(node: n.Scatter) -> list[NameUse]:
    around = [NameUse(node.around, ("object", "player"))] if node.around else []
    return [NameUse(node.what, ("kind",)), *around]


def _drop(node: n.Drop) -> list[NameUse]:
    return [NameUse(node.what, ("kind",)), NameUse(node.feet, ("object", "player"))]


def _fill(node: n.Fill) -> list[NameUse]:
    return [NameUse(node.role, ("role",)), NameUse(node.thing, ("object",))]


_RULES: dict[type, Callable[[Any], list[NameUse]]] = {
    n.Moment: _moment,
    n.Has: _one("item", "item"),
    n.Holds: _one("fact", "fact", "namedneed"),
    n.Is: _is,
    n.Compare: _one("subject", "fact", "purse", "ability", "grade"),
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
    n.Show: _show,
    n.Marking: _one("target", "object", "role", "area"),
    n.Tally: _tally,
    n.Around: _around,
    n.Inside: _inside,
    n.Change: _change,
    n.Gear: _one("item", "item"),
    n.Limit: _one("ability", "ability"),
    n.PutAt: _put,
    n.Scatter: _scatter,
    n.Drop: _drop,
    n.Fill: _fill,
    n.Later: _one("carrier", "object"),
    n.MovePlayer: _one("place", "object", "area", "exit"),
    n.ExitStep: _one("exit", "exit"),
    n.Down: _one("who", "object", "player"),
    n.CountUp: _one("objective", "objective"),
    n.Remove: _one("target", "object"),
    n.Meet: _one("objective", "objective"),
}
