"""The typed records of a project. All frozen; lengths in metres, angles in degrees anticlockwise from east.

A *record* has a `key` (lower_snake_case) and a place of its own in the project tree; the other
classes here are values inside a record. Fields that hold child records are tuples of records.
"""

from __future__ import annotations

import dataclasses
from dataclasses import dataclass
from functools import cache
from typing import Annotated, Any, Literal

from pydantic import Field, JsonValue

from .keeping import Aside, Card, Walk
from .scalars import (
    Count,
    CueText,
    Degrees,
    Drop,
    Icon,
    Key,
    Metres,
    Name,
    Point,
    Ref,
    Seconds,
    Share,
    Size,
    Wording,
    Wordings,
)


@dataclass(frozen=True, slots=True)
class Reach:
    """The zone in which an object can be used; `none` has no zone at all.

    `below_m` and `above_m` are the floor band: how far the floor of whoever comes may lie below and above the
    object's. `who` names who counts: `player`, `characters`, or tags.
    """

    shape: Literal["none", "circle", "box", "wedge"] = "none"
    radius_m: Size = 1.5
    width_m: Size = 2.0
    depth_m: Size = 2.0
    arc_deg: Annotated[float, Field(gt=0, le=360)] = 120.0
    offset_x_m: Metres = 0.0
    offset_y_m: Metres = 0.0
    facing_deg: Annotated[float, Field(gt=0, le=180)] | None = None
    sight_m: Size | None = None
    moves_with_part: bool = False
    priority: Annotated[int, Field(ge=-99, le=99)] = 0
    below_m: Drop = 1.0
    above_m: Drop = 1.0
    who: tuple[Ref, ...] = ("player",)


@dataclass(frozen=True, slots=True)
class Body:
    """The solid shape; `none` has no size and never blocks."""

    shape: Literal["none", "box", "circle"] = "box"
    width_m: Size = 0.5
    depth_m: Size = 0.5
    height_m: Size = 1.0


@dataclass(frozen=True, slots=True)
class State:
    """One named condition of an object: how it looks, stands, blocks and answers."""

    key: Key
    name: Name
    blocks: bool = True
    lets_sight_through: bool = False
    reach_on: bool = True
    lit: bool = False
    icon: Icon = ""
    swing_deg: Degrees = 0.0
    slide_x_m: Metres = 0.0
    slide_y_m: Metres = 0.0


@dataclass(frozen=True, slots=True)
class Motion:
    """The picture of going from one state to another. The hinge lies in the body's own axes."""

    seconds: Annotated[float, Field(ge=0, le=600)] = 0.0
    easing: Literal["smooth", "even"] = "smooth"
    hinge_x_m: Metres = 0.0
    hinge_y_m: Metres = 0.0
    while_moving: Literal["turned_back", "ignored", "queued"] = "turned_back"
    stay_clear: bool = False


WhenUnusable = Literal["hidden", "dimmed", "usual"]


@dataclass(frozen=True, slots=True)
class Button:
    """One button of a panel; pressing it raises *chosen*. It is shown in its own way while it cannot be used."""

    key: Key
    wording: Wording
    when_unusable: WhenUnusable = "dimmed"


@dataclass(frozen=True, slots=True)
class Prompt:
    """What tells the player what a control does here, for one control in the named states (none named: all).

    With buttons it is a panel. By the object it stands at an offset from it; on the screen at shares of its width
    and height from the top left. `opens_s` None: as the project's usual.
    """

    key: Key
    wording: Wording
    control: Key = "use"
    states: tuple[Key, ...] = ()
    hold_s: Annotated[float, Field(ge=0, le=60)] = 0.0
    when_unusable: WhenUnusable = "dimmed"
    place: Literal["object", "screen"] = "object"
    offset_x_m: Metres = 0.0
    offset_y_m: Metres = 0.0
    screen_x: Share = 0.5
    screen_y: Share = 0.86
    opens_s: Annotated[float, Field(ge=0, le=5)] | None = None
    buttons: tuple[Button, ...] = ()


@dataclass(frozen=True, slots=True)
class Design:
    """Everything a kind fixes and an object may own differently.

    `uses` 0 is any number; `cool_down_s` follows each use; `fresh` starts over at each visit of its level;
    `suspends` names abilities switched off while the player is in reach; `comes_back_s` None stays down.
    """

    icon: Annotated[str, Field(max_length=40)] = "shape"
    body: Body = Body()
    reach: Reach = Reach()
    states: tuple[State, ...] = (State("idle", "idle"),)
    motion: Motion = Motion()
    prompts: tuple[Prompt, ...] = ()
    walks: bool = False
    speed_mps: Annotated[float, Field(gt=0, le=20)] = 1.2
    uses: Count = 0
    cool_down_s: Seconds = 0.0
    fresh: bool = False
    tags: tuple[Ref, ...] = ()
    suspends: tuple[Ref, ...] = ()
    comes_back_s: Seconds | None = None
    values: dict[Key, str | float | bool] = dataclasses.field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class Cue:
    """One rule, as cue text. A draft is text that cannot be read yet; it is never in force."""

    key: Key
    text: CueText = ""
    draft: CueText = ""


@dataclass(frozen=True, slots=True)
class Object:
    """One thing placed in a level. `own` maps paths into its kind's design to the object's own values.

    `there_at_start` false: it exists only once a step puts it. Its own cue of a kind's cue's key replaces that one;
    `cues_off` are the kind's cues that it leaves out. `carried` lists what a duplicate brought along
    (`own/…`, `cue/…`, `name`), each open until somebody has said that it is right.
    """

    key: Key
    name: Name
    kind: Ref
    x_m: Metres
    y_m: Metres
    turn_deg: Degrees = 0.0
    own: dict[str, JsonValue] = dataclasses.field(default_factory=dict)
    round: tuple[Point, ...] = ()
    there_at_start: bool = True
    cues_off: tuple[Key, ...] = ()
    carried: dict[str, Literal["open", "right"]] = dataclasses.field(default_factory=dict)
    cues: tuple[Cue, ...] = ()


@dataclass(frozen=True, slots=True)
class Kind:
    """The definition that objects are placed from."""

    key: Key
    name: Name
    starter: Annotated[str, Field(max_length=40)] = ""
    design: Design = Design()
    cues: tuple[Cue, ...] = ()


@dataclass(frozen=True, slots=True)
class Area:
    """A named part of a level; its outline runs anticlockwise or clockwise, without repeating the first corner.

    `drops_to` names lower areas that one can drop down to over a common border, but not climb back.
    """

    key: Key
    name: Name
    outline: Annotated[tuple[Point, ...], Field(min_length=3, max_length=400)]
    floor_m: Metres = 0.0
    tint: Literal["sand", "moss", "mint", "water", "rose", "stone"] = "sand"
    drops_to: tuple[Ref, ...] = ()
    cues: tuple[Cue, ...] = ()


@dataclass(frozen=True, slots=True)
class Wall:
    """A run of wall through its points; `height_m` None reaches the ceiling; glass lets sight through."""

    key: Key
    points: Annotated[tuple[Point, ...], Field(min_length=2, max_length=400)]
    height_m: Size | None = None
    glass: bool = False


@dataclass(frozen=True, slots=True)
class Exit:
    """A patch of floor that leads one way to a place in this or another level, where it is open."""

    key: Key
    name: Name
    x_m: Metres
    y_m: Metres
    turn_deg: Degrees = 0.0
    width_m: Size = 1.2
    depth_m: Size = 0.6
    to_level: Ref = ""
    to_x_m: Metres = 0.0
    to_y_m: Metres = 0.0
    to_facing_deg: Degrees = 90.0
    open_at_start: bool = True


@dataclass(frozen=True, slots=True)
class Ending:
    """What ends the level by itself: all of some objectives met, or quests done, and then `after_s` seconds more."""

    outcome: Literal["won", "lost"] = "won"
    when: tuple[Ref, ...] = ()
    after_s: Seconds = 0.0


@dataclass(frozen=True, slots=True)
class Level:
    """One level: areas, walls, exits, objects, where the player starts, and what ends it by itself."""

    key: Key
    name: Name
    start_x_m: Metres = 0.0
    start_y_m: Metres = 0.0
    start_facing_deg: Degrees = 90.0
    areas: tuple[Area, ...] = ()
    walls: tuple[Wall, ...] = ()
    objects: tuple[Object, ...] = ()
    exits: tuple[Exit, ...] = ()
    cues: tuple[Cue, ...] = ()
    endings: Annotated[tuple[Ending, ...], Field(max_length=20)] = ()


@dataclass(frozen=True, slots=True)
class Item:
    """Something the player can have; the count never leaves 0 to `limit`. One with a `slot` is gear.

    `picture` is the hash of a file in the asset folder; without one the sign `icon` is drawn.
    """

    key: Key
    name: Name
    description: Wording = ""
    icon: Annotated[str, Field(max_length=40)] = "item"
    picture: Annotated[str, Field(max_length=120)] = ""
    limit: Annotated[int, Field(ge=1, le=999)] = 999
    at_start: Count = 0
    text: Wording = ""
    slot: Ref = ""


@dataclass(frozen=True, slots=True)
class Fact:
    """A named value about the world. A yes/no fact is the number 0 or 1."""

    key: Key
    name: Name
    type: Literal["yes_no", "number"] = "yes_no"
    lowest: Annotated[int, Field(ge=-999_999, le=999_999)] = 0
    highest: Annotated[int, Field(ge=-999_999, le=999_999)] = 999
    at_start: Annotated[int, Field(ge=-999_999, le=999_999)] = 0


@dataclass(frozen=True, slots=True)
class Ability:
    """Something the player may do with a control of their own, on what they aim at up to `range_m` away.

    With `gear` it can be done while that item is equipped, and needs no grant.
    """

    key: Key
    name: Name
    description: Wording = ""
    control: Ref = ""
    gear: Ref = ""
    range_m: Size = 8.0
    aim_deg: Annotated[float, Field(gt=0, le=180)] = 15.0


@dataclass(frozen=True, slots=True)
class Role:
    """A name for somebody or something decided at run time."""

    key: Key
    name: Name
    description: Wording = ""


@dataclass(frozen=True, slots=True)
class Tag:
    """A label for picking out several objects at once."""

    key: Key
    name: Name


@dataclass(frozen=True, slots=True)
class NamedNeed:
    """Needs under a name, to be used in many places."""

    key: Key
    name: Name
    text: CueText = ""


@dataclass(frozen=True, slots=True)
class Sound:
    """A sound by name; `file` is its hash in the asset folder, empty while nothing is chosen."""

    key: Key
    name: Name
    file: Annotated[str, Field(max_length=120)] = ""
    seconds: Seconds = 1.0


@dataclass(frozen=True, slots=True)
class Objective:
    """One thing a stage asks for. `targets` are items, objects, areas, talkers or facts by type.

    `time_s` is how long the player has for it from the stage's beginning. When it runs out unmet, the quest fails; an
    optional objective is only closed.
    """

    key: Key
    name: Name
    type: Literal["have", "use", "go", "talk", "fact", "state", "by_hand"] = "by_hand"
    targets: tuple[Ref, ...] = ()
    count: Annotated[int, Field(ge=1, le=999)] = 1
    state: Ref = ""
    optional: bool = False
    hidden: bool = False
    marker: Ref = ""
    time_s: Annotated[float, Field(gt=0, le=86_400, allow_inf_nan=False)] | None = None


@dataclass(frozen=True, slots=True)
class Stage:
    """One stage. `then` says what follows when all required objectives are met: the stage of that name, `ready` to be
    handed in, `done`; empty waits for a cue."""

    key: Key
    name: Name
    journal: Wording = ""
    entering: CueText = ""
    then: Ref = ""
    objectives: tuple[Objective, ...] = ()


@dataclass(frozen=True, slots=True)
class Quest:
    """A quest with its stages in order, what it asks before it is available, and its reward steps.

    `times` is how often it can be done, 0 for any number. Declined, given up or failed it is there `again`, or not.
    """

    key: Key
    name: Name
    summary: Wording = ""
    offered_by: Ref = ""
    needs: CueText = ""
    rewards: CueText = ""
    times: Annotated[int, Field(ge=0, le=999)] = 1
    decline: Literal["no", "again", "for_good"] = "again"
    give_up: Literal["no", "again", "for_good"] = "again"
    failing: Literal["again", "for_good"] = "for_good"
    bead: Literal["circle", "diamond", "square", "triangle", "hexagon"] = "circle"
    stages: tuple[Stage, ...] = ()
    cues: tuple[Cue, ...] = ()


@dataclass(frozen=True, slots=True)
class Reply:
    """What the player can answer, or an entry of a menu. `then` is a line, `stays_here`, or empty: ends the talk.

    Several wordings are shown in turn; one that is there `once` is gone when it was chosen, where the talk was opened.
    """

    key: Key
    wordings: Wordings
    needs: CueText = ""
    repeat: Literal["every_time", "once"] = "every_time"
    last_stays: bool = False
    unmet: Literal["hidden", "greyed"] = "hidden"
    steps: CueText = ""
    then: Ref = ""


@dataclass(frozen=True, slots=True)
class Line:
    """Something said. Openers are tried in order; several wordings are said in turn.

    `voice` is the sound of it; where that has a file, it sets how long the line lasts, unless `seconds` do.
    """

    key: Key
    wordings: Wordings
    opener: bool = False
    speaker: Ref = ""
    needs: CueText = ""
    repeat: Literal["every_time", "once"] = "every_time"
    last_stays: bool = False
    seconds: Seconds | None = None
    voice: Ref = ""
    steps: CueText = ""
    then: Ref = ""
    holds_player: bool = False
    replies: tuple[Reply, ...] = ()


@dataclass(frozen=True, slots=True)
class Conversation:
    """What one talker says; the first opener whose needs hold begins it."""

    key: Key
    name: Name
    talker: Ref = ""
    lines: tuple[Line, ...] = ()


@dataclass(frozen=True, slots=True)
class Control:
    """A named input of the player: keys (as the browser names them), mouse buttons, pad buttons by number."""

    key: Key
    name: Name
    keys: tuple[Annotated[str, Field(max_length=40)], ...] = ()
    mouse: tuple[Literal["left", "middle", "right"], ...] = ()
    pad: tuple[Annotated[int, Field(ge=0, le=31)], ...] = ()


@dataclass(frozen=True, slots=True)
class Player:
    """The player's body and pace."""

    radius_m: Size = 0.35
    speed_mps: Annotated[float, Field(gt=0, le=50)] = 3.5
    eyes_m: Size = 1.6


@dataclass(frozen=True, slots=True)
class Camera:
    """How the playtest is looked at: how much of the level is across the screen, how far it looks ahead, how many seconds it is
    behind."""

    view_m: Annotated[float, Field(ge=4, le=200)] = 26.0
    look_ahead_m: Annotated[float, Field(ge=0, le=20)] = 1.5
    inside_area: bool = True
    behind_s: Annotated[float, Field(ge=0, le=5)] = 0.18


@dataclass(frozen=True, slots=True)
class Usual:
    """What holds where nothing else is said: how many copies a step may put, how long a prompt takes to open."""

    most_put: Annotated[int, Field(ge=1, le=99)] = 16
    prompt_s: Annotated[float, Field(ge=0, le=5)] = 0.15


@dataclass(frozen=True, slots=True)
class Project:
    """A whole project. `experience_levels` are the sums at which the levels of experience from 2 on begin, rising."""

    key: Key
    name: Name
    first_level: Ref = ""
    money_name: Name = "coins"
    player: Player = Player()
    camera: Camera = Camera()
    usual: Usual = Usual()
    experience_levels: tuple[Annotated[int, Field(ge=1, le=999_999)], ...] = (100, 300, 600, 1_000)
    controls: tuple[Control, ...] = (Control("use", "Use", ("e",)), Control("second", "Second", ("f",)))
    levels: tuple[Level, ...] = ()
    kinds: tuple[Kind, ...] = ()
    items: tuple[Item, ...] = ()
    facts: tuple[Fact, ...] = ()
    abilities: tuple[Ability, ...] = ()
    roles: tuple[Role, ...] = ()
    tags: tuple[Tag, ...] = ()
    named_needs: tuple[NamedNeed, ...] = ()
    sounds: tuple[Sound, ...] = ()
    quests: tuple[Quest, ...] = ()
    conversations: tuple[Conversation, ...] = ()
    asides: tuple[Aside, ...] = ()
    cards: tuple[Card, ...] = ()
    walks: tuple[Walk, ...] = ()


Record = (
    Project
    | Level
    | Area
    | Wall
    | Exit
    | Object
    | Kind
    | Cue
    | Item
    | Fact
    | Ability
    | Role
    | Tag
    | NamedNeed
    | Sound
    | Quest
    | Stage
    | Objective
    | Conversation
    | Line
    | Reply
    | Aside
    | Card
    | Walk
)

RECORD_TYPES: dict[str, type[Any]] = {
    c.__name__.lower(): c
    for c in (
        Project,
        Level,
        Area,
        Wall,
        Exit,
        Object,
        Kind,
        Cue,
        Item,
        Fact,
        Ability,
        Role,
        Tag,
        NamedNeed,
        Sound,
        Quest,
        Stage,
        Objective,
        Conversation,
        Line,
        Reply,
        Aside,
        Card,
        Walk,
    )
}

CHILDREN: dict[str, dict[str, str]] = {
    "project": {
        "levels": "level",
        "kinds": "kind",
        "items": "item",
        "facts": "fact",
        "abilities": "ability",
        "roles": "role",
        "tags": "tag",
        "named_needs": "namedneed",
        "sounds": "sound",
        "quests": "quest",
        "conversations": "conversation",
        "asides": "aside",
        "cards": "card",
        "walks": "walk",
    },
    "level": {"areas": "area", "walls": "wall", "objects": "object", "exits": "exit", "cues": "cue"},
    "area": {"cues": "cue"},
    "object": {"cues": "cue"},
    "kind": {"cues": "cue"},
    "quest": {"stages": "stage", "cues": "cue"},
    "stage": {"objectives": "objective"},
    "conversation": {"lines": "line"},
    "line": {"replies": "reply"},
}
"""For each record type: the field that holds children, and their type."""

SCOPED = frozenset({"cue", "stage", "reply"})
"""Types whose keys are unique in their owner; every other record's key is unique in the project."""


NOTING = frozenset({"aside", "card", "walk"})
"""Types that note something of other records without needing it: those can be deleted all the same."""


@cache
def own_fields(record_type: str) -> tuple[str, ...]:
    """The names of a record's fields, without its children, in the order of the class."""
    children = CHILDREN.get(record_type, {})
    return tuple(f.name for f in dataclasses.fields(RECORD_TYPES[record_type]) if f.name not in children)
