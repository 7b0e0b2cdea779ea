"""Whether needs hold wherever others do, as far as their words show it."""

from __future__ import annotations

from ..phrases import nodes as n

_UNDER_WAY = ("active", "ready")


def hold_whenever(these: tuple[n.Top, ...], others: tuple[n.Top, ...]) -> bool:
    """Whether needs hold wherever the others hold. False where the words alone do not show it."""
    said = [part for top in others for part in _parts(top.need)]
    return all(_follows(top.need, said) for top in these)


def of_a_quest(tops: tuple[n.Top, ...]) -> bool:
    """Whether needs ask where a quest is."""
    asked = (node for top in tops for node in n.nodes_in(top.need))
    return any(isinstance(node, n.Place | n.Between | n.Met) or _is_status(node) for node in asked)


def _is_status(node: object) -> bool:
    return isinstance(node, n.Is) and node.value.text in ("unavailable", "available", "offered", *_UNDER_WAY, "done")


def _parts(need: n.Need) -> tuple[n.Need, ...]:
    return tuple(p for inner in need.needs for p in _parts(inner)) if isinstance(need, n.And) else (need,)


def _follows(need: n.Need, said: list[n.Need]) -> bool:
    if isinstance(need, n.And):
        return all(_follows(inner, said) for inner in need.needs)
    if isinstance(need, n.Or):
        return any(_follows(inner, said) for inner in need.needs) or need in said
    return any(_brings(one, need) for one in said)


def _brings(one: n.Need, need: n.Need) -> bool:
    """Whether one need alone brings another."""
    if one == need:
        return True
    if isinstance(one, n.Has) and isinstance(need, n.Has):
        enough = one.how in ("at least", "exactly") and need.how == "at least"
        return one.item == need.item and enough and _number(one.count) >= _number(need.count)
    if isinstance(need, n.Is) and need.value.text == "active":
        if isinstance(one, n.Between) or (isinstance(one, n.Place) and one.how == "at"):
            return one.quest == need.subject
        return isinstance(one, n.Is) and one.subject == need.subject and one.value.text == "ready"
    if isinstance(one, n.Is) and isinstance(need, n.Not) and isinstance(need.need, n.Is):
        other = need.need
        apart = one.value != other.value and not {one.value.text, other.value.text} <= set(_UNDER_WAY)
        return one.subject == other.subject and apart
    return False


def _number(count: n.Number | None) -> float:
    return 1.0 if count is None else count.value or 0.0
