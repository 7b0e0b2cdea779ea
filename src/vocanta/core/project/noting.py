"""How far long work has come: told while it is done, by whoever does it, to whoever asked for it."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from typing import TypeVar

Note = Callable[[str, int, int], None]
"""Takes what is being done, how much of it is done, and of how much. It may raise: the work ends there."""
EVERY = 100
Thing = TypeVar("Thing")


def unnoted(what: str, done: int, of: int) -> None:
    """Nobody asked."""


def noted(things: Sequence[Thing], what: str, note: Note) -> Iterator[Thing]:
    """The same things in order; how far it has come is told before every hundredth."""
    for done, thing in enumerate(things):
        if done % EVERY == 0:
            note(what, done, len(things))
        yield thing
