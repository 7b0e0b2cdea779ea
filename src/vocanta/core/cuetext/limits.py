"""What a readable text may still not say: waits where nothing can wait, moments an owner never has, senseless numbers."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from ..phrases import nodes as n
from ..project.problems import Problem

MOST_COPIES = 99
MOST_GIVEN = 999_999
LONGEST_WAIT_S = 86_400.0
BODY_MOMENTS = frozenset({"used", "held", "near", "away", "touched", "looked at", "chosen", "struck"})
"""Moments that only an object has."""
_BARE_BODY = frozenset({"downed", "changed"})


def limit_problems(tree: Any, this: str = "") -> list[Problem]:
    """Everything in a tree that its names alone do not show to be wrong. `this` is empty where the owner is no object."""
    found = list(_number_problems(tree))
    if isinstance(tree, n.CueTree):
        found += _moment_problems(tree.moment, this)
        instead = [top.or_else for top in tree.tops if top.or_else is not None]
        found += _wait_problems([*instead, *tree.otherwise])
    else:
        found += _wait_problems([node for node in n.nodes_in(tree)])
    return found


def _moment_problems(moment: n.Moment, this: str) -> Iterator[Problem]:
    bodily = moment.verb in BODY_MOMENTS or (moment.verb in _BARE_BODY and moment.word is None)
    if bodily and not this:
        yield Problem(
            "moment_impossible",
            f"Only an object can be “{moment.verb}”.",
            "Write the cue on an object, or wait for something with a name.",
            _place(moment.span),
        )
    if moment.verb in ("gained", "lost", "met", "accepted", "declined", "done", "failed", "chosen") and not moment.word:
        yield Problem("cue_hole", f"What is {moment.verb}?", f"Name it after “{moment.verb}”.", _place(moment.span))


def _wait_problems(nodes: list[Any]) -> Iterator[Problem]:
    for node in nodes:
        if isinstance(node, n.Wait | n.WaitForIt) or (isinstance(node, n.Show) and node.wait):
            yield Problem(
                "wait_impossible",
                "Waits can stand only among the steps of a cue after “then”.",
                "Take the wait out, or move these steps into a cue.",
                _place(node.span),
            )


def _number_problems(tree: Any) -> Iterator[Problem]:
    for node in n.nodes_in(tree):
        if isinstance(node, n.Wait | n.Later) and node.seconds is not None:
            yield from _outside(node.seconds, 0.0, LONGEST_WAIT_S, "seconds")
        if isinstance(node, n.EndLevel) and node.after is not None:
            yield from _outside(node.after, 0.0, LONGEST_WAIT_S, "seconds")
        if isinstance(node, n.Scatter):
            most = node.most.value if node.most and node.most.value else MOST_COPIES
            yield from _outside(node.count, 1, most, "copies at a time")
            yield from _outside(node.within, 0.0, 100.0, "metres")
        most_put = getattr(node, "most", None)
        if isinstance(most_put, n.Number):
            yield from _outside(most_put, 1, MOST_COPIES, "copies")
        for amount in _amounts(node):
            yield from _outside(amount, 1, MOST_GIVEN, "at a time")
        if isinstance(node, n.Chance):
            yield from _outside(node.one_in, 1, 1_000, "times")


def _amounts(node: Any) -> list[n.Number]:
    """How many of something a step gives, takes or changes at a time."""
    found: list[n.Number | None] = []
    if isinstance(node, n.Hand | n.Change):
        found.append(node.count)
    if isinstance(node, n.Change):
        found.append(node.gives)
    if isinstance(node, n.Grant):
        found.append(node.uses)
    return [number for number in found if number is not None]


def _outside(number: n.Number, low: float, high: float, unit: str) -> Iterator[Problem]:
    if number.value is not None and not low <= number.value <= high:
        yield Problem(
            "number_outside",
            f"{number.value:g} {unit} is not possible here.",
            f"Give a number from {low:g} to {high:,g}.",
            _place(number.span),
        )


def _place(span: n.Span) -> str:
    return f"characters {span[0] + 1}–{span[1]}"
