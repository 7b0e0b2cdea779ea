"""Taking a need or a step out of a text and putting one in: what moving, copying and deleting on a page come to.

The *place* of a piece is its part and its number from 0: `needs.1`, `steps.0`, `otherwise.2`; a member of a group in
brackets has a number more, `needs.1.0`; what a need says *or else* is `needs.1.else`. Prose tokens carry these places.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any

from ..phrases import nodes as n
from ..project.problems import Problem, ProjectError
from .reading import CueTextError, read_cue, read_needs, read_steps
from .writing import write_cue, write_needs, write_steps

NEEDS, STEPS, OTHERWISE = "needs", "steps", "otherwise"
ELSE = "else"
Parts = dict[str, tuple[Any, ...]]
"""The needs and steps of a text by part."""


@dataclass(frozen=True, slots=True)
class Rearranged:
    """A text as it is now, in its layout, and the text of what was taken out of it."""

    text: str
    taken: str


def rearranged(text: str, start: str, take: str = "", put: str = "", to: str = "") -> Rearranged:
    """A text with a piece taken out, put in, or both; `start` says what it is: cue, needs or steps.

    `take` is the place of what goes; `put` the text of what comes, empty for what was taken; `to` the place before
    which it comes, counted before the taking, a part alone or a number past the end for the end of that part.
    Raises `CueTextError` where `text` or `put` cannot be read, `ProjectError` with `no_such_piece` where no piece is
    at `take` or `to`, and with `misplaced_piece` where a need would stand among steps or a step among needs.

    >>> rearranged("give nut\\ntake key", "steps", take="steps.1", to="steps.0").text
    'take key\\ngive nut'
    >>> rearranged("a_fact and b_fact", "needs", take="needs.0")
    Rearranged(text='b_fact', taken='a_fact')
    """
    whole, parts = _opened(text, start)
    end = _place(parts, to) if to else ("", 0)
    left, taken = _without(parts, take) if take else (parts, ())
    coming = _read_piece(put, end[0]) if put and to else taken
    if to:
        if coming and _is_need(coming[0]) != (end[0] == NEEDS):
            raise ProjectError([_misplaced(_is_need(coming[0]))])
        left = _with(left, coming, end[0], end[1] - _moved_up(parts, left, end))
    return Rearranged(_closed(whole, left), _written(taken))


def _opened(text: str, start: str) -> tuple[n.CueTree | None, Parts]:
    if start == NEEDS:
        return None, {NEEDS: read_needs(text)}
    if start == STEPS:
        return None, {STEPS: read_steps(text)}
    cue = read_cue(text)
    return cue, {NEEDS: cue.tops, STEPS: cue.steps, OTHERWISE: cue.otherwise}


def _closed(cue: n.CueTree | None, parts: Parts) -> str:
    if cue is None:
        return write_needs(parts[NEEDS]) if NEEDS in parts else write_steps(parts[STEPS])
    return write_cue(replace(cue, tops=parts[NEEDS], steps=parts[STEPS], otherwise=parts[OTHERWISE]))


def _place(parts: Parts, place: str) -> tuple[str, int]:
    """The part and the number at a place; the end of the part for a part alone."""
    part, _, rest = place.partition(".")
    number = rest.split(".")[0]
    if part not in parts or not (number.isdigit() or not number):
        raise ProjectError([_nowhere(place)])
    return part, min(int(number), len(parts[part])) if number else len(parts[part])


def _without(parts: Parts, place: str) -> tuple[Parts, tuple[Any, ...]]:
    """The parts without the piece at a place, and that piece."""
    part, *path = place.split(".")
    pieces = parts.get(part, ())
    if not path or not path[0].isdigit() or int(path[0]) >= len(pieces):
        raise ProjectError([_nowhere(place)])
    at = int(path[0])
    left, taken = _inner(pieces[at], path[1:], place) if path[1:] else (None, pieces[at])
    kept = pieces[:at] + ((left,) if left is not None else ()) + pieces[at + 1 :]
    return {**parts, part: kept}, (taken,)


def _inner(piece: Any, path: list[str], place: str) -> tuple[Any, Any]:
    """A top-level need without something inside it, and that: a member of a group, or its *or else*."""
    if not isinstance(piece, n.Top) or (path == [ELSE] and piece.or_else is None):
        raise ProjectError([_nowhere(place)])
    if path == [ELSE]:
        return replace(piece, or_else=None), piece.or_else
    need, member = _without_member(piece.need, path, place)
    return replace(piece, need=need), n.Top(member)


def _without_member(need: Any, path: list[str], place: str) -> tuple[Any, Any]:
    """A group without a member, and the member; a group of one is that one."""
    if isinstance(need, n.Not):
        left, member = _without_member(need.need, path, place)
        return replace(need, need=left), member
    if not isinstance(need, (n.And, n.Or)) or not path[0].isdigit() or int(path[0]) >= len(need.needs):
        raise ProjectError([_nowhere(place)])
    at = int(path[0])
    if path[1:]:
        left, member = _without_member(need.needs[at], path[1:], place)
        return replace(need, needs=(*need.needs[:at], left, *need.needs[at + 1 :])), member
    rest = need.needs[:at] + need.needs[at + 1 :]
    return (rest[0] if len(rest) == 1 else replace(need, needs=rest)), need.needs[at]


def _moved_up(before: Parts, after: Parts, end: tuple[str, int]) -> int:
    """By how much a number counted before the taking is too large after it."""
    part, number = end
    gone = len(before[part]) - len(after[part])
    first = next((i for i, p in enumerate(before[part]) if i >= len(after[part]) or p is not after[part][i]), number)
    return gone if first < number else 0


def _with(parts: Parts, coming: tuple[Any, ...], part: str, at: int) -> Parts:
    return {**parts, part: parts[part][:at] + coming + parts[part][at:]}


def _read_piece(text: str, part: str) -> tuple[Any, ...]:
    wanted, other = (read_needs, read_steps) if part == NEEDS else (read_steps, read_needs)
    if not _readable(wanted, text) and _readable(other, text):
        raise ProjectError([_misplaced(part != NEEDS)])
    return wanted(text)


def _readable(read: Callable[[str], tuple[Any, ...]], text: str) -> bool:
    try:
        read(text)
    except CueTextError:
        return False
    return True


def _is_need(piece: Any) -> bool:
    return isinstance(piece, n.Top)


def _written(taken: tuple[Any, ...]) -> str:
    if not taken:
        return ""
    return write_needs(taken) if _is_need(taken[0]) else write_steps(taken)


def _nowhere(place: str) -> Problem:
    return Problem("no_such_piece", f"There is no need or step at {place}.", "Look at the text as it is now.", place)


def _misplaced(need: bool) -> Problem:
    if need:
        return Problem("misplaced_piece", "A need cannot stand among steps.", "Put it among the needs, after only if.")
    return Problem("misplaced_piece", "A step cannot stand among needs.", "Put it among the steps, after then.")
