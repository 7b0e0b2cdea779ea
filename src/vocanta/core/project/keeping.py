"""What a project keeps of work on it: findings put aside, start cards, kept walks. None of it is needed to play.

Names in it are noted, not needed: what they name can be deleted all the same.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import Field, JsonValue

from .scalars import Degrees, Key, Metres, Name, Point, Ref, Seconds, Wording


@dataclass(frozen=True, slots=True)
class Aside:
    """A finding put aside as right as it is: which check found it, `at` whose name, and the stamp of what it rests on.

    It comes back when that changes.
    """

    key: Key
    check: Annotated[str, Field(max_length=60)] = ""
    at: Ref = ""
    rests_on: Annotated[str, Field(max_length=40)] = ""
    reason: Wording = ""


@dataclass(frozen=True, slots=True)
class Held:
    """One value that differs from the beginning: its column, the value as a number, the name of the value where it has one,
    and in words. `seconds` are what is left of what runs out: a time limit, a wait, a motion, a voice."""

    column: Annotated[str, Field(min_length=1, max_length=200)]
    value: int = 0
    named: Annotated[str, Field(max_length=300)] = ""
    says: Annotated[str, Field(max_length=300)] = ""
    seconds: Seconds | None = None


@dataclass(frozen=True, slots=True)
class Lying:
    """Where something lies that was moved: whose name, level, metres, degrees."""

    key: Annotated[str, Field(min_length=1, max_length=200)]
    level: Ref
    x_m: Metres
    y_m: Metres
    turn_deg: Degrees = 0.0


@dataclass(frozen=True, slots=True)
class Afoot:
    """Somebody who walks: where they are, metres, degrees, and the way-point they walk to next.

    `way` is what is left of their way, `goal` where an errand leads, `came_from` where one began. `waited` and `aside` are the
    ticks for which somebody has stood in the way, and for which they let others by.
    """

    key: Annotated[str, Field(min_length=1, max_length=120)]
    level: Ref
    x_m: Metres
    y_m: Metres
    facing_deg: Degrees = 0.0
    next_stop: Annotated[int, Field(ge=0, le=10_000)] = 0
    way: Annotated[tuple[Point, ...], Field(max_length=2_000)] = ()
    goal: Point | None = None
    came_from: Point | None = None
    waited: Annotated[int, Field(ge=0, le=10_000_000)] = 0
    aside: Annotated[int, Field(ge=0, le=10_000_000)] = 0


@dataclass(frozen=True, slots=True)
class Card:
    """A start card: a place to begin a walk at, and all that differs there from the beginning. `digit` is put to Alt.

    `goes_on`: it was taken from a run, which has begun already. `stood` is where the owners of cues stood that wait to put
    something there, by the names of their columns.
    """

    key: Key
    name: Name
    in_level: Ref = ""
    x_m: Metres = 0.0
    y_m: Metres = 0.0
    facing_deg: Degrees = 0.0
    holds: tuple[Held, ...] = ()
    lies: tuple[Lying, ...] = ()
    stood: tuple[Lying, ...] = ()
    afoot: tuple[Afoot, ...] = ()
    goes_on: bool = False
    digit: Literal["", "1", "2", "3", "4", "5", "6", "7", "8", "9"] = ""


Done = Literal["go", "use", "hold", "choose", "strike", "answer", "skip", "decide", "wait"]


@dataclass(frozen=True, slots=True)
class Deed:
    """One thing that the player did in a walk, by what was meant: walk there, use this, answer so.

    `at` is the object, exit, line or quest that it was done at, `what` the control, the button, the reply, the ability or the
    decision, `words` how an answer or a button was worded. The place is where the player stood, and by how much that was off
    the object's own place. `came` tells whether it took effect; `seconds` how long it was held or waited.
    """

    do: Done
    at: Annotated[str, Field(max_length=120)] = ""
    what: Annotated[str, Field(max_length=120)] = ""
    words: Wording = ""
    level: Ref = ""
    x_m: Metres = 0.0
    y_m: Metres = 0.0
    facing_deg: Degrees = 0.0
    off_x_m: Metres = 0.0
    off_y_m: Metres = 0.0
    seconds: Seconds = 0.0
    came: bool = True


@dataclass(frozen=True, slots=True)
class Came:
    """One thing that a walk came to, in order: when, what, in words, and where the player was then."""

    tick: Annotated[int, Field(ge=0, le=10_000_000)]
    what: Annotated[str, Field(max_length=40)]
    subject: Annotated[str, Field(max_length=120)] = ""
    detail: Annotated[str, Field(max_length=200)] = ""
    says: Wording = ""
    level: Ref = ""
    x_m: Metres = 0.0
    y_m: Metres = 0.0


@dataclass(frozen=True, slots=True)
class Pressed:
    """The raw input of one tick of a walk."""

    tick: Annotated[int, Field(ge=1, le=10_000_000)]
    given: dict[str, JsonValue]


@dataclass(frozen=True, slots=True)
class Walk:
    """A kept walk: where it begins, what the player did, what came of it, and what it must come to whenever it is walked
    again. `pressed` are its raw inputs up to `ticks`; a walk without any is followed by its deeds alone."""

    key: Key
    name: Name
    begins: Card
    seed: Annotated[int, Field(ge=0, lt=2**31)] = 0
    ticks: Annotated[int, Field(ge=0, le=10_000_000)] = 0
    deeds: Annotated[tuple[Deed, ...], Field(max_length=20_000)] = ()
    came: Annotated[tuple[Came, ...], Field(max_length=20_000)] = ()
    comes_to: Annotated[tuple[Held, ...], Field(max_length=200)] = ()
    pressed: Annotated[tuple[Pressed, ...], Field(max_length=200_000)] = ()


SPARSE = (Deed, Came, Pressed)
"""Values that come by the hundred: in a file and a database stands of them only what is not as usual."""
