"""A step that changes nothing: it sets what is so already, or what the next step sets again."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from ...phrases import nodes as n
from ..check import Check
from ..finding import Found, Spot, called
from ..survey import Survey
from ..taking import step_out
from ..texts import Text

_WAITS = (n.Wait, n.WaitForIt)


def find(survey: Survey, text: Text) -> Iterator[Found]:
    """Every step of a text that alters nothing, whatever happens."""
    for number, run in enumerate(text.runs):
        asked = _asked(text) if number == 0 else {}
        for at, step in enumerate(run):
            why = _why(text, step, run, at, asked)
            if why:
                mends = step_out(text, step)
                spot = Spot(text.record, text.field, step.span)
                yield Found(
                    spot,
                    survey.whose(text.record),
                    f"has a step without effect: {why}",
                    mends,
                    "without effect",
                    owner=text.owner,
                )
            asked = _after(step, asked)


def _asked(text: Text) -> dict[str, str]:
    """What is so when the steps begin: the states and values that the needs ask for."""
    found: dict[str, str] = {}
    for top in text.tops:
        for need in top.need.needs if isinstance(top.need, n.And) else (top.need,):
            if isinstance(need, n.Is):
                found[_key(text, need.subject)] = need.value.text
            if isinstance(need, n.Holds):
                found[need.fact.text] = "yes"
            if isinstance(need, n.Not) and isinstance(need.need, n.Holds):
                found[need.need.fact.text] = "no"
    return found


def _key(text: Text, word: n.Word) -> str:
    return text.this if word.text == "this" and not text.owner.startswith("kind/") else word.text


def _why(text: Text, step: Any, run: tuple[Any, ...], at: int, asked: dict[str, str]) -> str:
    if isinstance(step, n.Add) and step.number.value == 0:
        return "it adds 0"
    if isinstance(step, n.Change) and step.item == step.into and _same(step.count, step.gives):
        return f"it changes {called(step.item.text)} into as many of the same"
    if not isinstance(step, n.Set):
        return ""
    key = _key(text, step.target)
    if asked.get(key) == step.value.text:
        return f"{called(key) if key != 'this' else 'it'} is so already"
    for later in run[at + 1 :]:
        if isinstance(later, _WAITS) or not isinstance(later, n.Set | n.Show | n.Say | n.Hand):
            return ""
        if isinstance(later, n.Set) and _key(text, later.target) == key:
            return "a step behind it sets the same again"
    return ""


def _same(number: n.Number | None, other: n.Number | None) -> bool:
    one = n.Number(1.0)
    return (number or one) == (other or one)


def _after(step: Any, asked: dict[str, str]) -> dict[str, str]:
    """What is still known behind a step: nothing behind a wait, or behind what runs other rules."""
    if isinstance(step, n.Set | n.Say | n.Show | n.Hand | n.Change):
        changed = step.target.text if isinstance(step, n.Set) else ""
        return {k: v for k, v in asked.items() if changed not in (k, "this") or not changed}
    return {}


CHECK = Check(
    "step_without_effect",
    "A step without effect",
    "likely wrong",
    "N52",
    "Does every step change something?",
    "The step sets what its needs have asked for already, or the next one sets the same thing again.",
    "Only if the gate is open, then set the gate to open.",
    "text",
    find,
)
