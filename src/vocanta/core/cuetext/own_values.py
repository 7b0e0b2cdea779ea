"""What a kind leaves to each of its objects, read in a text: `its gift` as the name, the number, the yes or no of one."""

from __future__ import annotations

import dataclasses
from collections.abc import Iterable, Mapping
from typing import Any

from ..phrases import nodes as n
from ..phrases.vocabulary import FIXED, ITS
from ..project.designs import as_word
from ..project.problems import Problem

Values = Mapping[str, str | float | bool]


def is_its(word: str) -> bool:
    """Whether a word is read from its owner's values."""
    return word.startswith(ITS)


def meant(word: str, values: Values) -> str:
    """What a word stands for with an owner of these values: itself, or the value that it names; empty for none."""
    if not is_its(word):
        return word
    name = word.removeprefix(ITS)
    return as_word(values[name]) if name in values else ""


def fixed_sort(value: str | float | bool) -> str:
    """What a value is where it names nothing: *yes or no*, *number*; empty for a name."""
    return FIXED[0] if isinstance(value, bool) else "" if isinstance(value, str) else FIXED[1]


def numbers_left(nodes: Iterable[Any]) -> tuple[n.Number, ...]:
    """The numbers that a text leaves to its owner."""
    return tuple(node for node in nodes if isinstance(node, n.Number) and node.its)


def number_problems(numbers: Iterable[n.Number], values: Values) -> list[Problem]:
    """What is wrong with the numbers that a text leaves to an owner of these values."""
    return [p for number in numbers if (p := _number_problem(number, values)) is not None]


def _number_problem(number: n.Number, values: Values) -> Problem | None:
    place = f"characters {number.span[0] + 1}–{number.span[1]}"
    value = values.get(number.its)
    if value is None:
        could = [f"{ITS}{name}" for name, v in values.items() if fixed_sort(v) == FIXED[1]]
        fix = f"It can be: {', '.join(could)}." if could else "Write a number, or give the kind a value that is one."
        return Problem("value_unknown", f"“{number.its}” is no value of this kind.", fix, place)
    if isinstance(value, str) and value.startswith(n.HOLE):
        return open_value(number.its, place)
    if fixed_sort(value) != FIXED[1]:
        says = f"“its {number.its}” is {as_word(value)}, but a number must stand here."
        return Problem("name_wrong_type", says, f"Make its {number.its} a number, or write one here.", place)
    return None


def open_value(name: str, place: str) -> Problem:
    """What is said where nothing was chosen for a value yet."""
    return Problem("cue_hole", f"Its {name} is not chosen yet, so this never runs.", f"Choose its {name}.", place)


def with_numbers(tree: Any, values: Values) -> Any:
    """A tree with the numbers that it leaves to its owner put in; one that is no number stays open."""
    if isinstance(tree, tuple):
        return tuple(with_numbers(member, values) for member in tree)
    if isinstance(tree, n.Number):
        value = values.get(tree.its) if tree.its else None
        return tree if value is None or fixed_sort(value) != FIXED[1] else n.Number(float(value), tree.span)
    if not dataclasses.is_dataclass(tree) or isinstance(tree, type):
        return tree
    parts = {f.name: getattr(tree, f.name) for f in dataclasses.fields(tree) if f.name != "span"}
    put = {name: with_numbers(part, values) for name, part in parts.items()}
    return dataclasses.replace(tree, **put) if any(put[k] is not parts[k] for k in put) else tree
