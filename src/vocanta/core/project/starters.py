"""Starters: what can be placed from nothing. Each works the moment it stands there."""

from __future__ import annotations

from dataclasses import dataclass

from .records import Body, Button, Cue, Design, Kind, Motion, Prompt, Reach, State


@dataclass(frozen=True, slots=True)
class Starter:
    """A kind to begin from, what it says of itself, and whether it brings a conversation of its own.

    Values that are `?` are filled on placing with an item of their own, `?kind` with a kind to put. `round_m` are
    the way-points of a round, metres from where it is placed. `hands_off`: it suspends every ability there is. `also`:
    everyday names under which it is found.
    """

    kind: Kind
    sentence: str
    talks: bool = False
    round_m: tuple[tuple[float, float], ...] = ()
    hands_off: bool = False
    also: str = ""


def _starter(
    key: str, name: str, sentence: str, design: Design, *cues: str, talks: bool = False, also: str = ""
) -> Starter:
    texts = tuple(Cue(f"c{i}", cue) for i, cue in enumerate(cues, start=1))
    return Starter(Kind(key, name, key, design, texts), sentence, talks, also=also)


_TOGGLE = "when used\nthen\n  set this to next"

STARTERS: tuple[Starter, ...] = (
    _starter(
        "switch",
        "switch",
        "Two states; using it goes to the other.",
        Design(
            icon="switch",
            body=Body("box", 0.4, 0.2, 1.2),
            reach=Reach("circle", 1.2),
            states=(State("down", "down"), State("raised", "raised")),
            prompts=(Prompt("p1", "Work {object}"),),
        ),
        _TOGGLE,
        also="lever, button, valve, wheel, handle",
    ),
    _starter(
        "hinged_door",
        "hinged door",
        "Swings open and shut, blocks the way while shut.",
        Design(
            icon="door",
            body=Body("box", 1.2, 0.1, 2.1),
            reach=Reach("circle", 1.5),
            states=(
                State("shut", "shut"),
                State("open", "open", blocks=False, lets_sight_through=True, swing_deg=90.0),
            ),
            motion=Motion(0.8, "smooth", hinge_x_m=-0.6, stay_clear=True),
            prompts=(Prompt("p1", "Open {object}", states=("shut",)), Prompt("p2", "Shut {object}", states=("open",))),
        ),
        _TOGGLE,
        also="hatch, lid, shutter",
    ),
    _starter(
        "sliding_gate",
        "sliding gate",
        "Slides aside and back, never onto somebody.",
        Design(
            icon="gate",
            body=Body("box", 2.0, 0.15, 2.0),
            reach=Reach("box", width_m=2.4, depth_m=2.4),
            states=(
                State("shut", "shut"),
                State("open", "open", blocks=False, lets_sight_through=True, slide_x_m=1.9),
            ),
            motion=Motion(1.2, "smooth", stay_clear=True),
            prompts=(Prompt("p1", "Open {object}", states=("shut",)), Prompt("p2", "Shut {object}", states=("open",))),
        ),
        _TOGGLE,
        also="barrier, portcullis, lift door",
    ),
    _starter(
        "one_time_crate",
        "one-time crate",
        "Can be opened once and gives what it holds.",
        Design(
            icon="crate",
            body=Body("box", 0.9, 0.7, 0.7),
            reach=Reach("circle", 1.3),
            states=(State("closed", "closed"), State("opened", "opened")),
            prompts=(Prompt("p1", "Open {object}", states=("closed",)),),
            uses=1,
            values={"content": "?"},
        ),
        "when used\nthen\n  give its content\n  set this to opened",
        also="chest, box, container, locker, cabinet, drawer",
    ),
    _starter(
        "converter",
        "converter",
        "Changes two of one item into one of another, or says that there are too few.",
        Design(
            icon="press",
            body=Body("box", 0.9, 0.9, 1.2),
            reach=Reach("circle", 1.4),
            prompts=(Prompt("p1", "Use {object}"),),
            values={"takes": "?", "makes": "?"},
        ),
        'when used\nonly if has 2 its takes or else say "It takes two at a time."\nthen\n  change 2 its takes into 1 its makes',
        also="machine, workbench, oven, vending machine",
    ),
    _starter(
        "pick_up",
        "pick-up",
        "Can be taken once, then it is gone.",
        Design(
            icon="item",
            body=Body("circle", 0.25, 0.25, 0.3),
            reach=Reach("circle", 1.0),
            states=(State("idle", "idle", blocks=False),),
            prompts=(Prompt("p1", "Take {object}"),),
            values={"content": "?"},
        ),
        "when used\nthen\n  give its content\n  remove this",
        also="pick up, pickup, item, key, coin, collect, loot",
    ),
    _starter(
        "talker",
        "talker",
        "A character with something to say.",
        Design(
            icon="talk",
            body=Body("circle", 0.5, 0.5, 1.7),
            reach=Reach("circle", 1.5),
            prompts=(Prompt("p1", "Talk to {object}"),),
        ),
        talks=True,
        also="person, character, villager, guard, shopkeeper, somebody",
    ),
    _starter(
        "board",
        "board",
        "Shows a notice; its prompt stands fixed on the screen.",
        Design(
            icon="board",
            body=Body("box", 1.2, 0.15, 1.6),
            reach=Reach("box", width_m=1.6, depth_m=1.4, offset_y_m=-0.7),
            prompts=(Prompt("p1", "Read {object}", place="screen"),),
        ),
        'when used\nthen\n  say "Nothing is posted here yet."',
        also="sign, notice, note, poster, book, letter",
    ),
    _starter(
        "console",
        "console",
        "A panel with two buttons, worked with keys or the pointer.",
        Design(
            icon="console",
            body=Body("box", 1.0, 0.4, 1.2),
            reach=Reach("circle", 1.4),
            prompts=(Prompt("p1", "{object}", buttons=(Button("first", "First"), Button("second", "Second"))),),
        ),
        'when chosen first\nthen\n  say "The first."',
        'when chosen second\nthen\n  say "The second."',
        also="panel, terminal, keypad, computer, controls",
    ),
    _starter(
        "lamp",
        "lamp",
        "Dark or lit; using it changes that.",
        Design(
            icon="lamp",
            body=Body("circle", 0.3, 0.3, 1.8),
            reach=Reach("circle", 1.2),
            states=(State("dark", "dark"), State("lit", "lit", lit=True)),
            prompts=(
                Prompt("p1", "Light {object}", states=("dark",)),
                Prompt("p2", "Put out {object}", states=("lit",)),
            ),
        ),
        _TOGGLE,
        also="light, torch, lantern, candle",
    ),
    _starter(
        "zone",
        "zone",
        "A patch of floor that notices who comes and goes.",
        Design(icon="zone", body=Body("none"), reach=Reach("circle", 2.0)),
        'when near\nthen\n  say "Somebody came in."',
        'when away\nthen\n  say "And went again."',
        also="trigger, area, checkpoint, region, place",
    ),
    Starter(
        Kind(
            "hands_off_zone",
            "hands-off zone",
            "hands_off_zone",
            Design(icon="hands_off", body=Body("none"), reach=Reach("circle", 2.0)),
            (Cue("c1", 'when near\nthen\n  say "Hands off in here."'),),
        ),
        "Suspends every ability while the player is inside, and surely gives them back.",
        hands_off=True,
    ),
    _starter(
        "spawner",
        "spawner",
        "Puts a copy of something before it each time it is used.",
        Design(
            icon="spawner",
            body=Body("circle", 0.7, 0.7, 0.9),
            reach=Reach("circle", 1.4),
            prompts=(Prompt("p1", "Work {object}"),),
            values={"makes": "?kind"},
        ),
        "when used\nthen\n  put its makes at this by 0 m, -1 m at most 8",
        also="nest, source, generator",
    ),
    _starter(
        "carrier",
        "carrier",
        "Goes off when asked, comes back, walks up and hands over.",
        Design(
            icon="walker",
            body=Body("circle", 0.5, 0.5, 1.7),
            reach=Reach("circle", 1.5),
            prompts=(Prompt("p1", "Ask {object} to bring something"),),
            walks=True,
            speed_mps=2.0,
        ),
        'when used\nthen\n  say "I will be back."\n  wait 3 s\n  later by this',
        'when later\nthen\n  say "This is for you."',
        also="messenger, postman, person, delivery",
    ),
    Starter(
        Kind(
            "passer_by",
            "passer-by",
            "passer_by",
            Design(icon="walker", body=Body("circle", 0.5, 0.5, 1.7), walks=True),
        ),
        "Walks a round and raises nobody’s prompt.",
        round_m=((0.0, 0.0), (3.0, 0.0), (3.0, 2.0)),
    ),
    _starter(
        "plain",
        "blank",
        "A plain body with a reach; its one cue says so.",
        Design(
            icon="shape",
            body=Body("box", 0.6, 0.6, 1.0),
            reach=Reach("circle", 1.2),
            prompts=(Prompt("p1", "Look at {object}"),),
        ),
        'when used\nthen\n  say "Nothing out of the ordinary."',
        also="thing, object, prop, empty",
    ),
)


def starter(key: str) -> Starter | None:
    """The starter of that key, None where there is none."""
    return next((s for s in STARTERS if s.kind.key == key), None)


PUTTABLE = Kind(
    "thing",
    "small thing",
    "pick_up",
    Design(
        icon="item",
        body=Body("circle", 0.25, 0.25, 0.3),
        reach=Reach("circle", 1.0),
        states=(State("idle", "idle", blocks=False),),
        prompts=(Prompt("p1", "Take {object}"),),
    ),
    (Cue("c1", "when used\nthen\n  remove this"),),
)
"""What a spawner puts until something else is chosen."""
