"""Tree to cue text: the canonical layout, one statement a line. `read(write(tree)) == tree` for every tree."""

from __future__ import annotations

from collections.abc import Callable
from functools import lru_cache
from typing import Any, assert_never

from ..phrases import nodes as n
from ..phrases.declaring import (
    Aside,
    Both,
    Each,
    How,
    Of,
    Plain,
    Slot,
    Sort,
    Units,
    Unsaid,
    how_words,
    of_words,
    shown_parts,
    value_of,
)
from ..phrases.language import phrase_of
from ..phrases.vocabulary import ITS


def write_cue(cue: n.CueTree) -> str:
    """One cue as text, without a final line end."""
    lines = [f"when {write_moment(cue.moment)}"]
    if cue.tops:
        lines.append("only if " + write_needs(cue.tops))
    lines.append("then")
    lines += [f"  {write_step(s)}" for s in cue.steps]
    if cue.otherwise:
        lines.append("otherwise")
        lines += [f"  {write_step(s)}" for s in cue.otherwise]
    if cue.go_on:
        lines.append("and go on")
    return "\n".join(lines)


def write_needs(tops: tuple[n.Top, ...]) -> str:
    """Needs alone, each further one on a line of its own; empty without needs."""
    return "\n  and ".join(_top(top) for top in tops)


def write_steps(steps: tuple[n.Step, ...]) -> str:
    """Steps alone, one a line."""
    return "\n".join(write_step(s) for s in steps)


def _top(top: n.Top) -> str:
    text = write_need(top.need)
    return text if top.or_else is None else f"{text} or else {write_step(top.or_else)}"


def write_moment(moment: n.Moment) -> str:
    """A moment without its *when*."""
    return _written(moment)


@lru_cache(maxsize=50_000)
def write_need(need: n.Need) -> str:
    """One need; *and* and *or* in brackets."""
    if isinstance(need, n.Not):
        return f"not {write_need(need.need)}"
    if isinstance(need, n.And | n.Or):
        joint = " and " if isinstance(need, n.And) else " or "
        return f"({joint.join(write_need(m) for m in need.needs)})"
    return _written(need)


@lru_cache(maxsize=50_000)
def write_step(step: n.Step) -> str:
    """One step."""
    return _written(step)


def _written(node: n.Moment | n.Need | n.Step) -> str:
    """A moment, a need or a step as its phrase is declared; a hole as one."""
    phrase = phrase_of(node)
    if phrase is None:
        return n.HOLE
    return "".join(_part(node, part) for part in shown_parts(node, phrase.parts)).strip()


def _part(node: Any, part: Plain) -> str:
    match part:
        case str():
            return part
        case Both(text):
            return text
        case How():
            return how_words(node, part)[0]
        case Slot(attribute, sort):
            return _slot(value_of(node, attribute), sort)
        case Each(slot):
            return ", ".join(word.text for word in value_of(node, slot.attribute))
        case Units(_, _, many):
            return many
        case Of():
            return of_words(node, part)
        case Aside() | Unsaid():
            return ""
        case _:
            assert_never(part)


def _slot(value: Any, sort: Sort) -> str:
    match sort:
        case "word" | "label":
            return str(value.text)
        case "wording":
            return quoted(value.value)
        case "number":
            return _number(value, lambda number: str(int(number)))
        case "seconds" | "metres":
            return _number(value, lambda number: f"{number:g} {sort[0]}")
        case _:
            assert_never(sort)


def _number(number: n.Number, written: Callable[[float], str]) -> str:
    if number.its:
        return ITS + number.its
    return n.HOLE if number.value is None else written(number.value)


def quoted(value: str | None) -> str:
    """A wording as it stands in cue text.

    >>> quoted('say "no"')
    '"say \\\\"no\\\\""'
    """
    if value is None:
        return n.HOLE
    escaped = value.replace("\\", "\\\\").replace('"', '\\"').replace("\n", "\\n")
    return f'"{escaped}"'
