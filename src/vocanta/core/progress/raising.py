"""Which columns operations raise or set: where what a need asks for could come from."""

from __future__ import annotations

from collections.abc import Iterator
from typing import assert_never

from .ops import (
    Exchange,
    Flag,
    Happen,
    If,
    Op,
    Plus,
    Put,
    PutBy,
    PutCopies,
    PutNext,
    RefuseIf,
    Reset,
    Tell,
    ToState,
    TurnBack,
    Unflag,
)


def raised(ops: tuple[Op, ...]) -> Iterator[int]:
    """The columns that operations raise or set to a value of their own."""
    for op in ops:
        match op:
            case Put(column):
                yield column
            case Plus(column, amount):
                if amount > 0:
                    yield column
            case ToState(_, state):
                yield state
            case PutCopies(copies):
                yield from (c.exists for c in copies)
            case If(_, then, otherwise):
                yield from raised(then)
                yield from raised(otherwise)
            case (
                PutBy()
                | PutNext()
                | Exchange()
                | Reset()
                | TurnBack()
                | Flag()
                | Unflag()
                | Happen()
                | RefuseIf()
                | Tell()
            ):
                pass
            case _:
                assert_never(op)
