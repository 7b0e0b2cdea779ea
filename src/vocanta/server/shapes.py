"""The shapes of what comes in and goes out over the API. The front end's types are generated from these."""

from __future__ import annotations

from collections.abc import Hashable
from dataclasses import dataclass, field
from functools import cache
from typing import Annotated, Any, Literal, TypeVar, cast

from pydantic import ConfigDict, Field, JsonValue, TypeAdapter, ValidationError, with_config

from ..core.engine.shown import OfferShown
from ..core.phrases.nodes import TallyVerb
from ..core.project.fileformat import value_problem
from ..core.project.placeholder import Sort
from ..core.project.problems import ProblemData, ProjectError
from .finding_shapes import FINDING_SHAPES
from .proof_shapes import PROOF_SHAPES
from .walk_shapes import WALK_SHAPES

T = TypeVar("T")
STRICT = ConfigDict(extra="forbid")
Tab = Annotated[str, Field(min_length=1, max_length=60)]
Ask = Annotated[str, Field(max_length=60)]
"""A name of the asking itself: what is asked again under the same one, since no answer came, is done once."""


@with_config(STRICT)
@dataclass(frozen=True)
class ChangeAsked:
    """One change of an edit: `add` a record, `set` values (or the key) of one, or `remove` one with all it owns.

    What is changed or removed is named by `id` with the `version` that the change is based on.
    `under`: the place in this edit, from 0, of the change that added the owner. `order`: its place among its owner's
    records. `clean`: removing also puts a hole wherever the record is used. `set_in_design` of a kind puts `values` into
    its design, each at its path. `move` puts a line into another conversation or an objective into another stage: its
    `owner`. `then_of` is a line or reply that ends so far and shall lead on to the line that is added. `rename_state`
    and `remove_state` of a kind or object take `values`: `state`, and for a new name `to` and `name`; `clear_carried` of
    an object takes `place`, one of those that its page lists as carried over. `make_sound` gives a sound, or with `under`
    one that is added, a placeholder as its file, of the `sort`, `seconds`, `height` and `rough` in `values`.
    """

    do: Literal[
        "add", "set", "set_in_design", "move", "remove", "rename_state", "remove_state", "clear_carried", "make_sound"
    ]
    id: int | None = None
    version: int | None = None
    type: str = ""
    owner: int | None = None
    under: int | None = None
    then_of: int | None = None
    key: str | None = None
    order: float | None = None
    values: dict[str, JsonValue] = field(default_factory=dict)
    clean: bool = False


@with_config(STRICT)
@dataclass(frozen=True)
class EditAsked:
    """A named edit of one tab. Edits of one gesture are one edit."""

    tab: Tab
    changes: Annotated[list[ChangeAsked], Field(min_length=1, max_length=2_000)]
    name: Annotated[str, Field(max_length=300)] = ""
    gesture: Annotated[str, Field(max_length=60)] = ""
    ask: Ask = ""


@with_config(STRICT)
@dataclass(frozen=True)
class PlaceAsked:
    """Place an object: from a kind of the project by key, or from a starter of the program."""

    tab: Tab
    level: int
    x_m: float
    y_m: float
    kind: str = ""
    starter: str = ""
    ask: Ask = ""


@with_config(STRICT)
@dataclass(frozen=True)
class OfferAsked:
    """Let an object, an item or an area offer a quest (its record), to be handed in to an object: `to`, else who offers."""

    tab: Tab
    quest: int
    by: str
    to: str = ""
    ask: Ask = ""


@with_config(STRICT)
@dataclass(frozen=True)
class PlaceholderAsked:
    """A sound made on the spot: of which sort, how long, and from 0 to 1 how high and how rough."""

    tab: Tab
    sort: Sort
    seconds: Annotated[float, Field(ge=0.05, le=20, allow_inf_nan=False)] = 0.5
    height: Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)] = 0.4
    rough: Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)] = 0.2
    version: int | None = None
    ask: Ask = ""


@with_config(STRICT)
@dataclass(frozen=True)
class DuplicateAsked:
    """Duplicate objects, moved by some metres."""

    tab: Tab
    records: Annotated[list[int], Field(min_length=1, max_length=500)]
    dx_m: Annotated[float, Field(ge=-10_000, le=10_000)] = 1.0
    dy_m: Annotated[float, Field(ge=-10_000, le=10_000)] = 0.0
    ask: Ask = ""


@with_config(STRICT)
@dataclass(frozen=True)
class TabAsked:
    """Undo or redo in one tab."""

    tab: Tab
    ask: Ask = ""


@with_config(STRICT)
@dataclass(frozen=True)
class NameAsked:
    """A new project's name."""

    name: Annotated[str, Field(min_length=1, max_length=120)]


@with_config(STRICT)
@dataclass(frozen=True)
class TextAsked:
    """A text that is being typed, of a record's kind of text, with the cursor."""

    text: Annotated[str, Field(max_length=20_000)]
    at: int = 0
    start: Literal["cue", "needs", "steps"] = "cue"
    this: str = ""
    slot: Literal["", "number"] = ""


@dataclass(frozen=True)
class ValueAsked:
    """A value by its name, of an object or a kind by its key."""

    this: Annotated[str, Field(max_length=80)]
    value: Annotated[str, Field(max_length=80)]


@dataclass(frozen=True)
class RearrangeAsked:
    """A text in which a need or step is taken out, put in or moved; see the core's `rearranging.rearranged`."""

    text: Annotated[str, Field(max_length=20_000)]
    start: Literal["cue", "needs", "steps"] = "cue"
    take: Annotated[str, Field(max_length=60)] = ""
    put: Annotated[str, Field(max_length=20_000)] = ""
    to: Annotated[str, Field(max_length=60)] = ""


@dataclass(frozen=True)
class RearrangedShape:
    """A text as it is after a rearrangement, and what was taken out of it."""

    text: str
    taken: str


@dataclass(frozen=True)
class JobLine:
    """Long work that goes on: what is being done, how much of it is done, and of how much."""

    what: str
    done: int
    of: int


@dataclass(frozen=True)
class SmallArea:
    """An area of a small picture: its corners in metres and its tint."""

    outline: list[list[float]]
    tint: str


@dataclass(frozen=True)
class SmallPlan:
    """The first level of a project as a small picture: its areas, and where things stand."""

    areas: list[SmallArea]
    things: list[list[float]]


@dataclass(frozen=True)
class ProblemBody:
    """Every answer that is a refusal or a fault, by RFC 9457; what else it holds depends on what was refused."""

    type: str
    title: str
    status: int
    detail: str
    problems: list[ProblemData]


@dataclass(frozen=True)
class ProjectLine:
    """One project in the list. `copy_of` is the name of the project that it was copied from, empty for none."""

    id: int
    name: str
    changed_at: str
    edit_number: int
    levels: int
    objects: int
    quests: int
    copy_of: str
    plan: SmallPlan


@dataclass(frozen=True)
class DeletedLine:
    """A deleted project that can be brought back until `erased_at`."""

    id: int
    name: str
    erased_at: str


@dataclass(frozen=True)
class KeptShape:
    """How much is kept: so many edits and walks of a project, the newest; a deleted project for so many days."""

    edits: int
    walks: int
    deleted_days: int


@dataclass(frozen=True)
class EditDone:
    """What an edit changed. `undo` and `redo` name what would be undone and redone next in this tab."""

    edit_number: int
    rows: list[dict[str, Any]]
    removed: list[int]
    undo: str
    redo: str
    select: str = ""


@dataclass(frozen=True)
class EventShape:
    """One edit as everybody who has the project open hears of it; with `all`, too much changed to list it."""

    edit_number: int
    tab: str
    changed: list[int]
    removed: list[int]
    all: bool


@dataclass(frozen=True)
class TokenShape:
    """A piece of prose; see the core's `prose.Token`."""

    text: str
    role: str
    slot: str
    start: int
    end: int
    value: str
    piece: str
    before: str
    after: str


@dataclass(frozen=True)
class InsertShape:
    """Where something can be added to a text."""

    what: str
    at: int
    text: str


@dataclass(frozen=True)
class TextReading:
    """A text as prose, with what is wrong with it."""

    text: str
    tokens: list[TokenShape]
    inserts: list[InsertShape]
    problems: list[ProblemData]
    draft_problems: list[ProblemData]


@dataclass(frozen=True)
class CompletionShape:
    """What could stand at the cursor."""

    start: int
    options: list[OptionShape]


@dataclass(frozen=True)
class OptionShape:
    """One alternative for a word: what is written, and how it is shown."""

    value: str
    label: str


@dataclass(frozen=True)
class ChoiceShape(OptionShape):
    """An alternative that may also be to make a record: of what type, empty for none; its value is named first."""

    makes: str = ""


@dataclass(frozen=True)
class ValueOptions:
    """What a value can be: names, yes, no, something new; besides them a `number`, or `words` of any sort."""

    options: list[ChoiceShape]
    number: bool
    words: bool


@dataclass(frozen=True)
class TouchShape:
    """Something that touches a stage or that a record touches: in words, with where it leads."""

    text: str
    quote: str
    place: str
    record: int | None
    from_stages: list[str]


@dataclass(frozen=True)
class WayShape:
    """One way a quest can go on: from a stage or `offered`, to a stage, `done` or `failed`."""

    start: str
    to: str


@dataclass(frozen=True)
class ThreadReading:
    """How a quest is drawn: what it is rewarded with, in words, and how it can go on."""

    quest: str
    rewards: list[str]
    ways: list[WayShape]


@dataclass(frozen=True)
class StatusReading:
    """The three lists of one status of a quest."""

    status: str
    brings: list[TouchShape]
    becomes: list[TouchShape]
    stops: list[TouchShape]


@dataclass(frozen=True)
class QuestReading:
    """How a quest is put before the player, and what touches its statuses."""

    edit_number: int
    card: OfferShown
    statuses: list[StatusReading]


@dataclass(frozen=True)
class StageReading:
    """The three lists of a stage."""

    quest: str
    stage: str
    brings: list[TouchShape]
    becomes: list[TouchShape]
    stops: list[TouchShape]


@dataclass(frozen=True)
class UseShape:
    """One place that uses a name."""

    record: int
    place: str
    field: str


How = Literal["from", "to", "asked", "other"]


@dataclass(frozen=True)
class FlowShape:
    """One place where a thing comes from, goes to, or is asked for, with the sentence it stands in."""

    record: int
    place: str
    how: How
    says: str


@dataclass(frozen=True)
class TrackedShape:
    """What is counted of what the player does with something, as far as anything asks: `most` is the largest number asked
    for; `asked` are the sentences that ask."""

    verb: TallyVerb
    key: str
    name: str
    most: int
    asked: list[FlowShape]


@dataclass(frozen=True)
class LivePromptShape:
    """A prompt as it would be now."""

    key: str
    control: str
    wording: str
    usable: bool
    shown: bool
    reason: str


@dataclass(frozen=True)
class LiveObject:
    """An object as it would be now."""

    state: str
    exists: bool
    prompts: list[LivePromptShape]


@dataclass(frozen=True)
class LiveLine:
    """An opener as it would be now: said, fitting but shadowed, or stopped by a need."""

    said: bool
    fits: bool
    stopped: str
    shadowed_by: str


@dataclass(frozen=True)
class AssumedShape:
    """Something that differs from the beginning of a run."""

    column: str
    value: int
    text: str


@dataclass(frozen=True)
class HeldShape:
    """Something that a start card holds: its column, value and words; whether it is still there, and whether it is told or
    only follows from where the player stands and what is under way."""

    column: str
    value: int
    text: str
    fits: bool
    told: bool


@dataclass(frozen=True)
class CardReading:
    """A start card by its id: what of it does not fit any more, in words, and what it holds."""

    id: int
    left_out: list[str]
    holds: list[HeldShape]


@dataclass(frozen=True)
class LiveReading:
    """The project as it would be at a point: objects, openers, quests, and what was assumed.

    `by_way`: after how many things to do, where it is what the way there that was walked leaves behind; null where it was assumed.
    """

    edit_number: int
    point: str
    quest: str
    stage: str
    by_way: int | None
    assumed: list[AssumedShape]
    objects: dict[str, LiveObject]
    lines: dict[str, LiveLine]
    statuses: dict[str, str]
    stages: dict[str, str]


@dataclass(frozen=True)
class TouchedStage:
    """A stage that an object or line touches."""

    quest: str
    stage: str
    how: Literal["moves", "possible"]
    text: str


@dataclass(frozen=True)
class CarriedShape:
    """One thing a duplicate carried over, in words, with where it stands."""

    key: str
    text: str


@dataclass(frozen=True)
class OverlapShape:
    """Where two reaches overlap for one control, and who wins there; outlines in metres."""

    a: str
    b: str
    controls: list[str]
    outlines: list[list[list[float]]]
    says: str


@dataclass(frozen=True)
class LevelReading:
    """What the plan of a level says of it: overlapping reaches, and in which area each object stands, empty for none."""

    edit_number: int
    overlaps: list[OverlapShape]
    areas: dict[str, str]


@dataclass(frozen=True)
class MeasureShape:
    """A distance in metres, straight and on foot, with the seconds at the player's pace; None where there is no way."""

    straight_m: float
    on_foot_m: float | None
    seconds: float | None
    way: list[list[float]]


@dataclass(frozen=True)
class InVainShape:
    """A cue that waits for a press which nothing of its object raises: why, and its text for one that is raised."""

    cue: int
    says: str
    instead: str


@dataclass(frozen=True)
class PageReading:
    """What is read off a record by its texts alone: prose, uses, what it carried over, and an object's cues in the order in
    which they are read, those of its kind among them, and which of them wait in vain; of a conversation the first
    opener that always fits; of an item and the
    like where it comes from, where it goes and what asks for it."""

    edit_number: int
    texts: dict[str, TextReading]
    uses: list[UseShape]
    carried: list[CarriedShape]
    cues: list[int]
    in_vain: list[InVainShape]
    always: str
    flows: list[FlowShape]


@dataclass(frozen=True)
class RunReading:
    """What only the compiled program tells of a record: the stages it touches, and what of it cannot run."""

    edit_number: int
    touches: list[TouchedStage]
    problems: list[ProblemData]


@dataclass(frozen=True)
class HistoryLine:
    """One edit in words."""

    number: int
    name: str
    state: str
    at: str
    mine: bool
    tab: str


@dataclass(frozen=True)
class SupplyShape:
    """How often a thing is given and asked for, and whether anything names it at all."""

    key: str
    given: int
    asked: int
    used: bool


@dataclass(frozen=True)
class BalanceShape:
    """How much of an item, or of the money, can be had at most (null: without end) against what is asked for."""

    key: str
    most: int | None
    limit: int
    asked: dict[str, int]
    """How much each quest asks for, by its name in cues."""
    kept: int
    beside: int
    """How much is taken beside all quests, each place once."""
    all_asked: int
    too_few: int


@dataclass(frozen=True)
class StarterShape:
    """A starter that can be placed. `also` are the everyday names that find it."""

    key: str
    name: str
    icon: str
    sentence: str
    also: str


@dataclass(frozen=True)
class WordShape:
    """One thing that the help explains: a moment, need, step, status or word."""

    sort: str
    text: str
    means: str
    example: str


SHAPES: tuple[type, ...] = (
    WordShape,
    ChangeAsked,
    EditAsked,
    PlaceAsked,
    OfferAsked,
    PlaceholderAsked,
    DuplicateAsked,
    OverlapShape,
    LevelReading,
    MeasureShape,
    TabAsked,
    NameAsked,
    TextAsked,
    ValueAsked,
    RearrangeAsked,
    RearrangedShape,
    ProblemBody,
    ProjectLine,
    DeletedLine,
    KeptShape,
    JobLine,
    EditDone,
    EventShape,
    TextReading,
    CompletionShape,
    OptionShape,
    ChoiceShape,
    ValueOptions,
    QuestReading,
    ThreadReading,
    CardReading,
    StageReading,
    UseShape,
    LiveReading,
    PageReading,
    RunReading,
    HistoryLine,
    StarterShape,
    SupplyShape,
    BalanceShape,
    TrackedShape,
    *FINDING_SHAPES,
    *WALK_SHAPES,
    *PROOF_SHAPES,
)


def read_body(data: Any, shape: type[T]) -> T:
    """A body as its shape. Raises `ProjectError` with every wrong value."""
    try:
        read: T = _adapter(cast("Hashable", shape)).validate_python(data)
        return read
    except ValidationError as error:
        raise ProjectError([value_problem(dict(e), "body") for e in error.errors()]) from error


def dumped(value: Any) -> Any:
    """A shape as plain data."""
    return _adapter(cast("Hashable", type(value))).dump_python(value, mode="json")


@cache
def _adapter(shape: Any) -> TypeAdapter[Any]:
    """What reads and writes a shape; made once, since that costs more than a whole edit."""
    return TypeAdapter(shape)
