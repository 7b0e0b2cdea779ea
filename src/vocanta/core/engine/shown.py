"""What a run shows to a screen: the forms of a picture and of *why*, as plain data."""

from __future__ import annotations

from typing import Any, Literal, NotRequired

from typing_extensions import TypedDict

from ..progress.layout import Outcome
from ..project.problems import ProblemData

Spot = tuple[float, float]
"""x and y in metres, or as shares of the screen."""
Pose = tuple[float, float, float]
"""x and y in metres and a facing in degrees; or a swing in degrees and a slide along x and y in metres."""


class ButtonShown(TypedDict):
    """A choice on a panel or in a talk, as the player sees it."""

    key: str
    wording: str
    usable: bool
    reason: str


class PromptShown(TypedDict):
    """A prompt; `progress` is how much of its hold is done, from 0 to 1."""

    object: str
    control: str
    cap: str
    wording: str
    usable: bool
    reason: str
    hold: bool
    place: str
    at: Spot
    screen: Spot
    opens_s: float
    buttons: list[ButtonShown]
    progress: float


class TalkShown(TypedDict):
    """The line that is said; `voice` is how much of it was said, from 0 to 1, `sound` what is heard of it."""

    line: str
    speaker: str
    wording: str
    voice: float
    sound: str
    replies: list[ButtonShown]


class ToldShown(TypedDict):
    """An entry of the chronicle; `at` and `spot` say where an effect or sound is, `notice` what the player is told of it.

    `n` is its number in the chronicle, `cause` says why in words; `mine`: of what the player did.
    """

    n: int
    tick: int
    what: str
    subject: str
    text: str
    origin: str
    cause: str
    rule: str
    mine: NotRequired[bool]
    at: NotRequired[str]
    spot: NotRequired[Spot]
    notice: NotRequired[str]


class ThingShown(TypedDict):
    """An object: `at` is x, y and turn as placed; `pose` is swing, slide x and slide y as it stands."""

    at: Pose
    kind: str
    name: str
    down: bool
    icon: str
    state: str
    state_number: int
    lit: bool
    exists: bool
    pose: Pose


class MarkShown(TypedDict):
    """Where a marker points: `at` in the present level, None where there is nothing yet; in words how far, or through
    which exit."""

    at: Spot | None
    words: str


class ObjectiveShown(TypedDict):
    """An objective of the present stage; `left_s` are the seconds left for it, `closed`: its time ran out."""

    key: str
    name: str
    met: bool
    optional: bool
    count: int
    of: int
    mark: MarkShown | None
    left_s: int | None
    closed: bool


class OfferShown(TypedDict):
    """How a quest is put before the player; `rewards` and `asks` in words, `declined` what comes of declining."""

    key: str
    name: str
    by: str
    summary: str
    asks: list[str]
    rewards: list[str]
    time_s: float | None
    declined: Literal["no", "again", "for_good"]


class LoggedShown(TypedDict):
    """A quest that the player has had to do with; `why` it ended as it did."""

    key: str
    name: str
    bead: str
    status: str
    journal: list[str]
    why: str


class QuestShown(TypedDict):
    """A quest under way; `give_up`: what comes of giving it up."""

    key: str
    name: str
    stage: str
    bead: str
    journal: str
    objectives: list[ObjectiveShown]
    ready: bool
    give_up: Literal["no", "again", "for_good"]


class ItemShown(TypedDict):
    """An item that the player has."""

    key: str
    name: str
    icon: str
    picture: str
    count: int
    text: str


class AbilityShown(TypedDict):
    """An ability that the player has."""

    key: str
    name: str
    uses: int
    cap: str
    usable: bool


class GearShown(TypedDict):
    """What is in hand or worn."""

    slot: str
    item: str


class TrackedShown(TypedDict):
    """What is counted because something asks for it."""

    verb: str
    name: str
    count: int


class Hud(TypedDict):
    """What the player has and is at."""

    quests: list[QuestShown]
    offers: list[OfferShown]
    log: list[LoggedShown]
    items: list[ItemShown]
    money: int
    money_name: str
    experience: int
    experience_level: int
    gear: list[GearShown]
    abilities: list[AbilityShown]
    marked: list[str]
    ended: Outcome
    tracked: list[TrackedShown]


class Picture(TypedDict):
    """What a screen needs after a tick. What may be missing is there only when it differs from the last picture."""

    tick: int
    player: Pose
    walkers: dict[str, Pose]
    poses: dict[str, Pose]
    prompts: list[PromptShown]
    talk: TalkShown | None
    told: list[ToldShown]
    level: NotRequired[str]
    aims: NotRequired[dict[str, str]]
    objects: NotRequired[dict[str, ThingShown]]
    hud: NotRequired[Hud]


class Source(TypedDict):
    origin: str
    text: str


class Since(TypedDict):
    """Since when something is so: the number of the entry that made it so, its time, words and cause."""

    entry: int
    at: str
    text: str
    cause: str


WhyLine = TypedDict(
    "WhyLine",
    {
        "text": str,
        "met": bool,
        "detail": str,
        "stops": str,
        "from": NotRequired[list[Source]],
        "since": NotRequired[Since],
        "any": NotRequired[bool],
        "parts": NotRequired[list["WhyLine"]],
    },
)
"""One condition with its value now; `from` says what could bring it, `parts` what it is made of, `any` that one is enough."""


class Because(TypedDict):
    """What brought an entry about: the action, the entry that set its rule off (-1 for the action itself) and what that
    says, and the needs of its rule as they were then."""

    entry: int
    cause: str
    after: int
    said: str
    needs: list[WhyLine]


class WhyCue(TypedDict):
    """A cue that waits for a use of the object; `passed_over` when it fits and an earlier one runs instead."""

    origin: str
    rule: str
    when: str
    control: str
    met: bool
    needs: list[WhyLine]
    passed_over: bool


class InReach(TypedDict):
    """Something in reach; `met` says whether it has the focus, `cap` the key that it gets."""

    key: str
    text: str
    met: bool
    detail: str
    cap: str


class Why(TypedDict):
    """Every condition of an object with its value now."""

    key: str
    name: str
    stopped_by: str
    place: list[WhyLine]
    cues: list[WhyCue]
    reach: list[InReach]
    problems: list[ProblemData]


class StartingShown(TypedDict):
    """How far a start has come."""

    what: str
    done: int
    of: int


class BarredShown(TypedDict):
    """Somebody was sent where no way leads."""

    at: Spot
    text: str


class ThenShown(TypedDict):
    """The level as it was after a tick."""

    tick: int
    picture: Picture


class WalkShown(TypedDict):
    """The run so far as the values of a kept walk, and all that it could be held to."""

    values: dict[str, Any]
    could: list[HeldShown]


class HeldShown(TypedDict):
    """Something that a walk has come to: a column, its value, the name of that, and in words."""

    column: str
    value: int
    named: str
    says: str


class TriedShown(TypedDict):
    """A value that is tried: of the project, an object or a line, by the path that leads to it."""

    of: str
    path: str
    value: float | bool


class PlayMessage(TypedDict, total=False):
    """One message of a playtest to its screen.

    `edit` is the edit of the project that the run is of; `left_out` says what of a moment did not fit into it; `moment` is
    what the run has come to, as the values of a start card; `export` the chronicle as lines of JSON; `watched`: the run is
    only watched, `watched_all`: to its end; `otherwise`: it came to something else when it was put together again.
    """

    run: int
    edit: int
    left_out: list[str]
    moment: dict[str, Any]
    export: str
    starting: StartingShown
    picture: Picture
    why: Why
    barred: BarredShown
    problems: list[ProblemData]
    wrong: list[ProblemData]
    paused: bool
    pace: float
    ended: bool
    because: Because
    then: ThenShown
    walk: WalkShown
    tried: list[TriedShown]
    watched: bool
    watched_all: bool
    otherwise: bool
