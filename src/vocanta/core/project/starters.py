"""Starters: what can be placed from nothing. Each works the moment it stands there."""

from __future__ import annotations

from dataclasses import dataclass

from .records import Body, Cue, Design, Kind, Motion, Prompt, Reach, State


@dataclass(frozen=True, slots=True)
class Starter:
    """A kind to begin from, what it says of itself, and whether it brings a conversation of its own."""

    kind: Kind
    sentence: str
    talks: bool = False


def _starter(key: str, name: str, sentence: str, design: Design, cue: str = "", *, talks: bool = False) -> Starter:
    cues = (Cue("c1", cue),) if cue else ()
    return Starter(Kind(key, name, key, design, cues), sentence, talks)


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
    ),
)


def starter(key: str) -> Starter | None:
    """The starter of that key, None where there is none."""
    return next((s for s in STARTERS if s.kind.key == key), None)
