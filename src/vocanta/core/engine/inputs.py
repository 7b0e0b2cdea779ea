"""What a player does in one tick, and how a message that makes no sense is refused."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from ..project.problems import Problem, ProjectError


@dataclass(frozen=True, slots=True)
class Input:
    """One tick's input. `move` is a direction (its length at most 1 counts); keys are names of controls.

    A control that is both in `down` and in `up` was pressed and let go where it was not held, and let go and pressed
    again where it was. `mark` is the entry of a panel that its control works; the first one where none is named.
    `decide` is what is decided of a quest: `start:key`, `decline:key`, `give up:key`.
    """

    move: tuple[float, float] = (0.0, 0.0)
    down: tuple[str, ...] = ()
    up: tuple[str, ...] = ()
    choose: str = ""
    skip: bool = False
    walk_to: tuple[float, float] | None = None
    look: float | None = None
    mark: str = ""
    decide: str = ""

    def as_data(self) -> dict[str, Any]:
        """The input as plain data, without what is not set."""
        data: dict[str, Any] = {
            "move": list(self.move),
            "down": list(self.down),
            "up": list(self.up),
            "choose": self.choose,
            "skip": self.skip,
            "look": self.look,
            "mark": self.mark,
            "decide": self.decide,
            "walk_to": list(self.walk_to) if self.walk_to else None,
        }
        return {k: v for k, v in data.items() if v not in (None, "", False, [], [0.0, 0.0])}


STILL = Input()
MOST_LETTERS = 200


def read_input(data: Any, controls: frozenset[str]) -> Input:
    """An input from plain data. Raises `ProjectError` (`input_senseless`) with every wrong part."""
    if not isinstance(data, Mapping):
        raise ProjectError([_wrong("input", data, "an object")])
    problems = [_wrong(k, v, f"one of {', '.join(_PARTS)}") for k, v in data.items() if k not in _PARTS]
    move = _point(data.get("move", (0.0, 0.0)), "move", problems)
    walk_to = _point(data["walk_to"], "walk_to", problems) if data.get("walk_to") is not None else None
    down, up = (_names(data.get(k, ()), k, controls, problems) for k in ("down", "up"))
    choose, mark, decide = (_word(data.get(k, ""), k, problems) for k in ("choose", "mark", "decide"))
    look = data.get("look")
    if look is not None and not _is_number(look):
        problems.append(_wrong("look", look, "an angle in degrees"))
    if problems:
        raise ProjectError(problems)
    return Input(move or (0.0, 0.0), down, up, choose, data.get("skip") is True, walk_to, look, mark, decide)


_PARTS = ("move", "down", "up", "choose", "skip", "walk_to", "look", "mark", "decide")


def _word(value: Any, part: str, problems: list[Problem]) -> str:
    if isinstance(value, str) and len(value) <= MOST_LETTERS:
        return value
    problems.append(_wrong(part, value, "a word: the key of a reply or of a button, or a decision"))
    return ""


def _is_number(value: Any) -> bool:
    return isinstance(value, int | float) and not isinstance(value, bool) and math.isfinite(value) and abs(value) <= 1e6


def _point(value: Any, part: str, problems: list[Problem]) -> tuple[float, float] | None:
    if isinstance(value, list | tuple) and len(value) == 2 and all(_is_number(v) for v in value):
        return float(value[0]), float(value[1])
    problems.append(_wrong(part, value, "two numbers"))
    return None


def _names(value: Any, part: str, controls: frozenset[str], problems: list[Problem]) -> tuple[str, ...]:
    if (
        isinstance(value, list | tuple)
        and len(value) <= 20
        and all(isinstance(v, str) and v in controls for v in value)
    ):
        return tuple(value)
    problems.append(_wrong(part, value, f"controls of this project: {', '.join(sorted(controls))}"))
    return ()


def _wrong(part: str, value: Any, wanted: str) -> Problem:
    return Problem("input_senseless", f"{part} is {str(value)[:60]!r}.", f"It must be {wanted}.", part)
