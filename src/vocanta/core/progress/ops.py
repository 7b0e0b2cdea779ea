"""Operations: what steps are compiled to. Each acts on chosen rows; a refusal puts its whole segment back."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field

from .guards import Guard
from .happenings import Happening


@dataclass(frozen=True, slots=True)
class Told:
    """Something for the chronicle and the screen: what happened, to whom, with plain details."""

    what: Happening
    subject: str = ""
    details: tuple[tuple[str, str | int | float], ...] = ()


@dataclass(frozen=True, slots=True)
class Put:
    """Set a column to a value."""

    column: int
    value: int


@dataclass(frozen=True, slots=True)
class PutNext:
    """Map a column's value through a table indexed by `value - lowest`."""

    column: int
    table: tuple[int, ...]
    lowest: int = 0


@dataclass(frozen=True, slots=True)
class PutBy:
    """Set a column to what a table gives for the value of another; without a table to that value itself."""

    column: int
    by: int
    table: tuple[int, ...] = ()


@dataclass(frozen=True, slots=True)
class Exchange:
    """Two columns take each other's value."""

    one: int
    other: int


@dataclass(frozen=True, slots=True)
class Reset:
    """Put columns back to their start. That is no moment: nobody is flagged by it."""

    values: tuple[tuple[int, int], ...]


@dataclass(frozen=True, slots=True)
class ToState:
    """Put an object into the state its present one maps to. A timed one is then under way: `moving` is one more than
    the state it came from. Cues waiting for a motion that is under way and now leads elsewhere end."""

    key: str
    state: int
    moving: int
    table: tuple[int, ...]
    timed: bool


@dataclass(frozen=True, slots=True)
class TurnBack:
    """Send an object that is under way back to the state it came from."""

    key: str
    state: int
    moving: int


@dataclass(frozen=True, slots=True)
class Plus:
    """Add to a column; clamped to its limits where `clamped`, refused whole where it would leave them otherwise."""

    column: int
    amount: int
    lowest: int
    highest: int
    clamped: bool
    refusal: Told | None = None


@dataclass(frozen=True, slots=True)
class Flag:
    """Flag groups: an occurrence they listen to has happened."""

    groups: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Unflag:
    """Take flags back: what they were raised for is over."""

    groups: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Happen:
    """An occurrence: every group that hears it is flagged."""

    occurrence: str


@dataclass(frozen=True, slots=True)
class Copy:
    """One copy that a step may put: its `exists` and `place` columns and what its other columns start from."""

    key: str
    exists: int
    place: int
    resets: tuple[tuple[int, int], ...]


@dataclass(frozen=True, slots=True)
class Spot:
    """A cell: a fixed one, or the value of a column, where there is a table the cell that it gives for that."""

    cell: int = 0
    column: int = -1
    table: tuple[int, ...] = ()


@dataclass(frozen=True, slots=True)
class PutCopies:
    """Bring so many copies into being at a spot, the first that are not there; refused whole where too few are left."""

    copies: tuple[Copy, ...]
    count: int
    spot: Spot
    told: Told
    refusal: Told


@dataclass(frozen=True, slots=True)
class RefuseIf:
    """Refuse the segment where a guard holds. `again`: a cue that goes on tries it once more when the guard is over."""

    guard: Guard
    told: Told
    again: bool = False


@dataclass(frozen=True, slots=True)
class If:
    """Operations for the rows where a guard holds, others for the rest."""

    guard: Guard
    then: tuple[Op, ...]
    otherwise: tuple[Op, ...] = ()


@dataclass(frozen=True, slots=True)
class Tell:
    """Tell something; changes nothing. `columns` are read and told beside it by name."""

    told: Told
    columns: tuple[tuple[str, int], ...] = field(default=())


Op = (
    Put
    | PutBy
    | PutNext
    | Exchange
    | Reset
    | PutCopies
    | ToState
    | TurnBack
    | Plus
    | Flag
    | Unflag
    | Happen
    | RefuseIf
    | If
    | Tell
)


def can_refuse(ops: Iterable[Op]) -> bool:
    """Whether any of the operations can refuse its segment."""
    return any(
        isinstance(op, RefuseIf | PutCopies)
        or (isinstance(op, Plus) and not op.clamped)
        or (isinstance(op, If) and (can_refuse(op.then) or can_refuse(op.otherwise)))
        for op in ops
    )
