"""The tree of a cue: frozen values, compared by meaning; spans say where each word stands in the text.

A hole is a `Word` whose text is `?`; a whole need or step can be a hole too.
"""

from __future__ import annotations

import dataclasses
from collections.abc import Hashable
from dataclasses import dataclass, field
from functools import cache
from typing import Any, Literal, cast, get_args

Span = tuple[int, int]
Comparison = Literal["at least", "at most", "exactly", "fewer than"]
COMPARISONS: tuple[Comparison, ...] = get_args(Comparison)
MomentVerb = Literal[
    "used",
    "held",
    "near",
    "away",
    "touched",
    "looked at",
    "chosen",
    "struck",
    "downed",
    "changed",
    "entered",
    "left",
    "gained",
    "lost",
    "heard",
    "met",
    "stage",
    "accepted",
    "declined",
    "done",
    "failed",
    "later",
    "comes",
    "started",
    "?",
]
PlaceHow = Literal["at", "before", "past"]
TallyVerb = Literal["used", "heard", "visited", "gained"]
AroundHow = Literal["in reach of", "in the way of"]
QuestVerb = Literal["offer", "start", "decline", "hand in", "give up", "finish", "fail"]
LaterHow = Literal["by", "after", "area"]
Outcome = Literal["won", "lost"]
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
    """A number; `value` None is a hole, or where `its` names one what the owner's kind leaves to each of its objects."""

    value: float | None
    span: Span = field(default=NOWHERE, compare=False)
    its: str = ""


@dataclass(frozen=True, slots=True)
class Text:
    """A wording between quotes; `value` None is a hole."""

    value: str | None
    span: Span = field(default=NOWHERE, compare=False)


@dataclass(frozen=True, slots=True)
class Moment:
    """What a cue waits for: used, held, near … or `?`. `of` is the quest of a stage."""

    verb: MomentVerb
    word: Word | None = None
    of: Word | None = None
    span: Span = field(default=NOWHERE, compare=False)


@dataclass(frozen=True, slots=True)
class Has:
    """The player has `count` of an item, compared."""

    item: Word
    count: Number | None = None
    how: Comparison = "at least"
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
    """A number fact, money or experience compared."""

    subject: Word
    how: Comparison
    number: Number
    span: Span = field(default=NOWHERE, compare=False)


@dataclass(frozen=True, slots=True)
class Place:
    """A quest is `at`, `before` or `past` a stage."""

    quest: Word
    how: PlaceHow
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
class Tally:
    """How often something was `used`, `heard`, `visited`, or how many were `gained`."""

    subject: Word
    verb: TallyVerb
    how: Comparison
    count: Number
    span: Span = field(default=NOWHERE, compare=False)


@dataclass(frozen=True, slots=True)
class Around:
    """The player, somebody or something tagged is `in reach of` or `in the way of` an object."""

    who: Word
    how: AroundHow
    thing: Word
    span: Span = field(default=NOWHERE, compare=False)


@dataclass(frozen=True, slots=True)
class Inside:
    """The player is in an area, a level or a zone."""

    who: Word
    place: Word
    span: Span = field(default=NOWHERE, compare=False)


@dataclass(frozen=True, slots=True)
class Chance:
    """One in so many times."""

    one_in: Number
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


Atom = Has | Holds | Is | Compare | Place | Between | Met | Heard | Can | Tally | Around | Inside | Chance
"""A need without others inside it."""
Need = Atom | HoleNeed | Not | And | Or


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

    verb: Literal["give", "take"]
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

    verb: QuestVerb
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


Offset = tuple[Number, Number]
"""How far beside a place, metres east and north."""


@dataclass(frozen=True, slots=True)
class Show:
    """A `sound` or an `effect`, at an object, with an offset; the next step may wait for its end."""

    verb: Literal["sound", "effect"]
    what: Word
    at: Word | None = None
    offset: Offset | None = None
    wait: bool = False
    span: Span = field(default=NOWHERE, compare=False)


@dataclass(frozen=True, slots=True)
class Change:
    """Change n of one item into m of another, or refuse."""

    item: Word
    into: Word
    count: Number | None = None
    gives: Number | None = None
    span: Span = field(default=NOWHERE, compare=False)


@dataclass(frozen=True, slots=True)
class Gear:
    """`equip` an item or `put away` one."""

    verb: Literal["equip", "put away"]
    item: Word
    span: Span = field(default=NOWHERE, compare=False)


@dataclass(frozen=True, slots=True)
class Limit:
    """`suspend` an ability until it is granted again, or `revoke` it."""

    verb: Literal["suspend", "revoke"]
    ability: Word
    span: Span = field(default=NOWHERE, compare=False)


@dataclass(frozen=True, slots=True)
class PutAt:
    """Put an object, or a copy of a kind, at a place; `at` None is where it stood. `most` copies at a time."""

    what: Word
    at: Word | None
    offset: Offset | None = None
    most: Number | None = None
    span: Span = field(default=NOWHERE, compare=False)


@dataclass(frozen=True, slots=True)
class Scatter:
    """Scatter copies of a kind around a place."""

    count: Number
    what: Word
    around: Word | None
    within: Number
    most: Number | None = None
    span: Span = field(default=NOWHERE, compare=False)


@dataclass(frozen=True, slots=True)
class Drop:
    """Drop copies of a kind at the feet of somebody."""

    what: Word
    feet: Word
    count: Number | None = None
    most: Number | None = None
    span: Span = field(default=NOWHERE, compare=False)


@dataclass(frozen=True, slots=True)
class Swap:
    """Two objects change places."""

    target: Word
    other: Word
    span: Span = field(default=NOWHERE, compare=False)


@dataclass(frozen=True, slots=True)
class Fill:
    """Fill a role with an object."""

    role: Word
    thing: Word
    span: Span = field(default=NOWHERE, compare=False)


@dataclass(frozen=True, slots=True)
class Later:
    """The owner's *later*: brought `by` a carrier, `after` a time, or at the next change of `area`. Under a `name` it is
    told apart from whatever else is still to come."""

    how: LaterHow
    carrier: Word | None = None
    seconds: Number | None = None
    name: Word | None = None
    span: Span = field(default=NOWHERE, compare=False)


@dataclass(frozen=True, slots=True)
class MovePlayer:
    """Move the player to an object, an area or where an exit leads."""

    place: Word
    span: Span = field(default=NOWHERE, compare=False)


@dataclass(frozen=True, slots=True)
class ExitStep:
    """`open exit` or `close exit`."""

    verb: Literal["open", "close"]
    exit: Word
    span: Span = field(default=NOWHERE, compare=False)


@dataclass(frozen=True, slots=True)
class Down:
    """Down the player or a character."""

    who: Word
    span: Span = field(default=NOWHERE, compare=False)


@dataclass(frozen=True, slots=True)
class EndLevel:
    """End the level `won` or `lost`, at once or after some seconds."""

    outcome: Outcome
    after: Number | None = None
    span: Span = field(default=NOWHERE, compare=False)


@dataclass(frozen=True, slots=True)
class CountUp:
    """Count an objective up by one, by hand."""

    objective: Word
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

    verb: Literal["mark", "unmark"]
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
    | Show
    | Change
    | Gear
    | Limit
    | PutAt
    | Scatter
    | Drop
    | Swap
    | Fill
    | Later
    | MovePlayer
    | ExitStep
    | Down
    | EndLevel
    | CountUp
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


def nodes_in(tree: Any) -> tuple[Any, ...]:
    """The node and every node below it, in the order of the text. Cost: linear in the tree."""
    found: list[Any] = []
    _gather(tree, found)
    return tuple(found)


def _gather(tree: Any, found: list[Any]) -> None:
    if isinstance(tree, tuple):
        for member in tree:
            _gather(member, found)
        return
    parts = _parts_of(cast(Hashable, type(tree)))
    if parts is not None:
        found.append(tree)
        for part in parts:
            _gather(getattr(tree, part), found)


@cache
def _parts_of(kind: Any) -> tuple[str, ...] | None:
    """The fields in which a node holds others; None for what is no node."""
    if not dataclasses.is_dataclass(kind):
        return None
    return tuple(f.name for f in dataclasses.fields(kind) if f.name != "span")


def has_hole(tree: Any) -> bool:
    """Whether any slot of the tree is not filled in yet."""
    return any(is_hole(node) for node in nodes_in(tree))


def is_hole(node: Any) -> bool:
    """Whether a node itself is not filled in yet."""
    return (
        isinstance(node, HoleNeed | HoleStep)
        or (isinstance(node, Word) and node.is_hole)
        or (isinstance(node, Number) and node.value is None and not node.its)
        or (isinstance(node, Text) and node.value is None)
        or (isinstance(node, Moment) and node.verb == HOLE)
    )
