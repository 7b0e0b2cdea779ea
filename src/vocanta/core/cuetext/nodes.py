"""The tree of a cue: frozen values, compared by meaning; spans say where each word stands in the text.

A hole is a `Word` whose text is `?`; a whole need or step can be a hole too.
"""

from __future__ import annotations

import dataclasses
from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import Any

Span = tuple[int, int]
NOWHERE: Span = (0, 0)
HOLE = "?"


@dataclass(frozen=True, slots=True)
class Word:
    """A name, a yes or no, or a hole."""

    text: str
    span: Span = field(default=NOWHERE, compare=False)

    @property
    def is_hole(self) -> bool:
        """Whether the slot is not filled in yet."""
        return self.text == HOLE


@dataclass(frozen=True, slots=True)
class Number:
    """A number; `value` None is a hole."""

    value: float | None
    span: Span = field(default=NOWHERE, compare=False)


@dataclass(frozen=True, slots=True)
class Text:
    """A wording between quotes; `value` None is a hole."""

    value: str | None
    span: Span = field(default=NOWHERE, compare=False)


@dataclass(frozen=True, slots=True)
class Moment:
    """What a cue waits for: used, held, near, away, entered, left, or `?`."""

    verb: str
    word: Word | None = None
    span: Span = field(default=NOWHERE, compare=False)


@dataclass(frozen=True, slots=True)
class Has:
    """The player has `count` of an item: `at least`, `exactly` or `fewer than`."""

    item: Word
    count: Number | None = None
    how: str = "at least"
    span: Span = field(default=NOWHERE, compare=False)


@dataclass(frozen=True, slots=True)
class Holds:
    """A yes/no fact is yes."""

    fact: Word
    span: Span = field(default=NOWHERE, compare=False)


@dataclass(frozen=True, slots=True)
class Is:
    """An object is in a state or gone, a quest has a status, a fact is yes or no."""

    subject: Word
    value: Word
    span: Span = field(default=NOWHERE, compare=False)


@dataclass(frozen=True, slots=True)
class Compare:
    """A number fact, money or experience compared: `at least`, `exactly` or `fewer than`."""

    subject: Word
    how: str
    number: Number
    span: Span = field(default=NOWHERE, compare=False)


@dataclass(frozen=True, slots=True)
class Place:
    """A quest is `at`, `before` or `past` a stage."""

    quest: Word
    how: str
    stage: Word
    span: Span = field(default=NOWHERE, compare=False)


@dataclass(frozen=True, slots=True)
class Between:
    """A quest is at a stage from `first` to `last`, both counted."""

    quest: Word
    first: Word
    last: Word
    span: Span = field(default=NOWHERE, compare=False)


@dataclass(frozen=True, slots=True)
class Met:
    """An objective is met."""

    objective: Word
    span: Span = field(default=NOWHERE, compare=False)


@dataclass(frozen=True, slots=True)
class Heard:
    """A line was heard, by any object or from the one named."""

    line: Word
    by: Word | None = None
    span: Span = field(default=NOWHERE, compare=False)


@dataclass(frozen=True, slots=True)
class Can:
    """The player has an ability, with uses left."""

    ability: Word
    span: Span = field(default=NOWHERE, compare=False)


@dataclass(frozen=True, slots=True)
class HoleNeed:
    """A need that is not written yet."""

    span: Span = field(default=NOWHERE, compare=False)


@dataclass(frozen=True, slots=True)
class Not:
    """The need does not hold."""

    need: Need
    span: Span = field(default=NOWHERE, compare=False)


@dataclass(frozen=True, slots=True)
class And:
    """All hold."""

    needs: tuple[Need, ...]
    span: Span = field(default=NOWHERE, compare=False)


@dataclass(frozen=True, slots=True)
class Or:
    """At least one holds."""

    needs: tuple[Need, ...]
    span: Span = field(default=NOWHERE, compare=False)


Need = Has | Holds | Is | Compare | Place | Between | Met | Heard | Can | HoleNeed | Not | And | Or


@dataclass(frozen=True, slots=True)
class Top:
    """One need of *only if*, with what happens instead when it is the first unmet one."""

    need: Need
    or_else: Step | None = None


@dataclass(frozen=True, slots=True)
class Set:
    """Set an object to a state or a fact to a value."""

    target: Word
    value: Word
    span: Span = field(default=NOWHERE, compare=False)


@dataclass(frozen=True, slots=True)
class SetNext:
    """Set an object to the next of the named states, of all its states when none is named."""

    target: Word
    states: tuple[Word, ...] = ()
    span: Span = field(default=NOWHERE, compare=False)


@dataclass(frozen=True, slots=True)
class Add:
    """Add to a number fact, money or experience."""

    number: Number
    target: Word
    span: Span = field(default=NOWHERE, compare=False)


@dataclass(frozen=True, slots=True)
class Hand:
    """`give` or `take` a count of an item, money or experience."""

    verb: str
    item: Word
    count: Number | None = None
    span: Span = field(default=NOWHERE, compare=False)


@dataclass(frozen=True, slots=True)
class Grant:
    """Grant an ability, for a number of uses or for ever."""

    ability: Word
    uses: Number | None = None
    span: Span = field(default=NOWHERE, compare=False)


@dataclass(frozen=True, slots=True)
class QuestStep:
    """`offer`, `start`, `decline`, `hand in`, `give up`, `finish` or `fail` a quest."""

    verb: str
    quest: Word
    for_good: bool = False
    span: Span = field(default=NOWHERE, compare=False)


@dataclass(frozen=True, slots=True)
class Move:
    """Move a quest to a stage."""

    quest: Word
    stage: Word
    span: Span = field(default=NOWHERE, compare=False)


@dataclass(frozen=True, slots=True)
class Say:
    """A notice to the player."""

    text: Text
    span: Span = field(default=NOWHERE, compare=False)


@dataclass(frozen=True, slots=True)
class Talk:
    """Open a conversation."""

    conversation: Word
    span: Span = field(default=NOWHERE, compare=False)


@dataclass(frozen=True, slots=True)
class Sound:
    """A sound, at an object."""

    sound: Word
    at: Word | None = None
    span: Span = field(default=NOWHERE, compare=False)


@dataclass(frozen=True, slots=True)
class Wait:
    """Wait some seconds; the rest is a segment of its own."""

    seconds: Number
    span: Span = field(default=NOWHERE, compare=False)


@dataclass(frozen=True, slots=True)
class WaitForIt:
    """Wait until the motion begun by the last *set* has arrived."""

    span: Span = field(default=NOWHERE, compare=False)


@dataclass(frozen=True, slots=True)
class Marking:
    """`mark` or `unmark` an object."""

    verb: str
    target: Word
    span: Span = field(default=NOWHERE, compare=False)


@dataclass(frozen=True, slots=True)
class Remove:
    """Take an object away."""

    target: Word
    span: Span = field(default=NOWHERE, compare=False)


@dataclass(frozen=True, slots=True)
class Meet:
    """Count an objective as met, by hand."""

    objective: Word
    span: Span = field(default=NOWHERE, compare=False)


@dataclass(frozen=True, slots=True)
class HoleStep:
    """A step that is not written yet."""

    span: Span = field(default=NOWHERE, compare=False)


Step = (
    Set
    | SetNext
    | Add
    | Hand
    | Grant
    | QuestStep
    | Move
    | Say
    | Talk
    | Sound
    | Wait
    | WaitForIt
    | Marking
    | Remove
    | Meet
    | HoleStep
)


@dataclass(frozen=True, slots=True)
class CueTree:
    """One rule: when, only if, then, otherwise; `go_on` lets the next cue of the moment be read too."""

    moment: Moment
    tops: tuple[Top, ...] = ()
    steps: tuple[Step, ...] = ()
    otherwise: tuple[Step, ...] = ()
    go_on: bool = False


Tree = CueTree | tuple[Top, ...] | tuple[Step, ...]


def nodes_in(tree: Any) -> Iterator[Any]:
    """The node and every node below it, in the order of the text."""
    if isinstance(tree, tuple):
        for member in tree:
            yield from nodes_in(member)
    elif dataclasses.is_dataclass(tree):
        yield tree
        for part in dataclasses.fields(tree):
            value = getattr(tree, part.name)
            if (isinstance(value, tuple) and part.name != "span") or dataclasses.is_dataclass(value):
                yield from nodes_in(value)


def has_hole(tree: Any) -> bool:
    """Whether any slot of the tree is not filled in yet."""
    return any(
        isinstance(n, HoleNeed | HoleStep)
        or (isinstance(n, Word) and n.is_hole)
        or (isinstance(n, Number | Text) and n.value is None)
        or (isinstance(n, Moment) and n.verb == HOLE)
        for n in nodes_in(tree)
    )
