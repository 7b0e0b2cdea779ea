"""What a cue's moment listens to: values that alter, or occurrences. The same for every owner of cues."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import assert_never

from ..phrases.nodes import CueTree, Moment
from ..project.problems import Problem
from ..project.records import Cue
from .building import Building, add_resumes, cue_branch
from .guards import ALWAYS, Guard, both
from .meaning import Meaning, is_here
from .mentions import pending
from .program import Branch, Group, Listens

PRESSED = frozenset({"used", "held", "chosen", "struck"})
"""Moments that are an action of the player's at the object."""


@dataclass(frozen=True, slots=True)
class Owner:
    """Who owns cues: type and key; `this` is the key where it is an object; `level` the level it lies in."""

    type: str
    key: str
    level: str
    entry: Guard = ALWAYS

    @property
    def place(self) -> str:
        """The owner's place in the project."""
        return f"{self.type}/{self.key}"

    @property
    def this(self) -> str:
        """What `this` is in the owner's cues."""
        return self.key if self.type == "object" else ""

    @property
    def name(self) -> str:
        """How its groups call it."""
        return self.this or self.place


Read = list[tuple[CueTree, Branch]]
Heard = tuple[str, str, str]
"""A moment with its names resolved: verb, word, whose."""


def read_cues(building: Building, owner: Owner, cues: Iterable[tuple[Cue, str]]) -> Read:
    """An owner's cues as branches, with the actions that go on after their waits; unusable ones are left out, told."""
    meaning, found = Meaning(building.layout, owner.this), Read()
    for cue, place in cues:
        tree = building.texts.cue(cue.text, place, owner.this) if cue.text.strip() else None
        if tree is not None:
            branch = cue_branch(building, tree, place, meaning)
            add_resumes(building, owner.name, branch)
            found.append((tree, branch))
    return found


def add_moments(building: Building, owner: Owner, read: Read) -> None:
    """For each moment that an owner's cues listen to a group, in the order of their first cue."""
    moments: dict[Heard, tuple[Moment, list[Branch]]] = {}
    for tree, branch in read:
        if tree.moment.verb not in PRESSED:
            moments.setdefault(_heard(building, owner, tree.moment), (tree.moment, []))[1].append(branch)
    for heard, (moment, branches) in moments.items():
        _add_moment(building, owner, heard, moment, tuple(branches))


def _heard(building: Building, owner: Owner, moment: Moment) -> Heard:
    """One moment is one, however its own name is written."""
    meaning = Meaning(building.layout, owner.this)
    word = meaning.key(moment.word) if moment.word else ""
    if word and word == owner.this and moment.verb in ("changed", "downed"):
        word = ""
    return moment.verb, word, meaning.key(moment.of) if moment.of else ""


def _add_moment(building: Building, owner: Owner, heard: Heard, moment: Moment, branches: tuple[Branch, ...]) -> None:
    words = "/".join(w for w in heard[1:] if w)
    name = f"{moment.verb}:{owner.name}" + (f"/{words}" if words else "")
    own_end = moment.verb in ("away", "later", "comes") or (moment.verb in ("downed", "changed") and not heard[1])
    entry = ALWAYS if own_end else owner.entry
    everywhere = moment.verb == "started" and bool(owner.this) and building.layout.mentions.movable(owner.this)
    if everywhere:
        entry = both(entry, is_here(building.layout, owner.this))
    group = Group(name, owner.place, branches, entry, verb=moment.verb)
    occurrence = occurrence_of(moment, heard, owner)
    listens = () if occurrence else _listens(building, name, moment, heard, owner)
    if everywhere:
        building.add_hearing(group, *(f"started:{level.key}" for level in building.layout.project.levels))
    elif moment.verb == "comes" and heard[1] not in building.layout.mentions.laters.get(owner.name, {}):
        building.texts.problems.append(_never_comes(heard[1], branches[0].origin))
    elif occurrence:
        building.add_hearing(group, occurrence)
    elif listens:
        building.add_listening(group, listens)
    else:
        building.texts.problems.append(_impossible(moment, branches[0].origin))


def occurrence_of(moment: Moment, heard: Heard, owner: Owner) -> str:
    """The occurrence that a moment hears; empty where it listens to a value."""
    verb, word, of = heard
    match moment.verb:
        case "accepted" | "declined" | "done" | "failed" | "heard":
            return f"{verb}:{word}"
        case "stage":
            return f"stage:{of}/{word}"
        case "downed":
            return f"downed:{word or owner.this}"
        case "later" | "comes":
            return f"later:{pending(owner.name, word)}"
        case "started":
            return f"started:{owner.level}"
        case (
            "used"
            | "held"
            | "near"
            | "away"
            | "touched"
            | "looked at"
            | "chosen"
            | "struck"
            | "changed"
            | "entered"
            | "left"
            | "gained"
            | "lost"
            | "met"
            | "?"
        ):
            return ""
        case _:
            assert_never(moment.verb)


def _listens(building: Building, name: str, moment: Moment, heard: Heard, owner: Owner) -> tuple[Listens, ...]:
    """The values a moment listens to, and how they must alter; none where the owner has no such moment."""
    layout, word = building.layout, heard[1]
    match moment.verb:
        case "near" | "away":
            column = layout.find("near", owner.key)
            edge = Listens(name, -1 if column is None else column, "rise" if moment.verb == "near" else "fall")
            return () if column is None else (edge,)
        case "touched":
            return (Listens(name, layout.column("touching", owner.key), "rise"),)
        case "looked at":
            return (Listens(name, layout.column("looking", owner.key), "rise"),)
        case "entered" | "left":
            return _crossing(building, name, moment.verb == "entered", word or owner.key)
        case "changed":
            return _changed(building, name, word or owner.this)
        case "gained" | "lost":
            counter = Meaning(layout, owner.this).counter(word)
            return (Listens(name, counter, "rise" if moment.verb == "gained" else "fall"),)
        case "met":
            return (Listens(name, layout.column("met", word), "rise"),)
        case (
            "used"
            | "held"
            | "chosen"
            | "struck"
            | "downed"
            | "heard"
            | "stage"
            | "accepted"
            | "declined"
            | "done"
            | "failed"
            | "later"
            | "comes"
            | "started"
            | "?"
        ):
            return ()
        case _:
            assert_never(moment.verb)


def _changed(building: Building, name: str, key: str) -> tuple[Listens, ...]:
    """A fact, or a state, gone, or there again."""
    layout = building.layout
    if key in layout.placed:
        columns = (layout.column("state", key), layout.column("exists", key))
    else:
        columns = (layout.column("fact", key), layout.column("fact", key))
    return tuple(Listens(name, c, "change") for c in dict.fromkeys(columns))


def _crossing(building: Building, name: str, enters: bool, place: str) -> tuple[Listens, ...]:
    """Into or out of an area, a level or a zone."""
    layout = building.layout
    if place in layout.placed:
        return _zone(building, name, enters, place)
    cells = layout.cells.of_area(place) or layout.cells.of_level(place)
    if not cells and place in layout.quests:
        return ()
    return (Listens(name, layout.column("cell"), "into" if enters else "out_of", cells),)


def _zone(building: Building, name: str, enters: bool, key: str) -> tuple[Listens, ...]:
    """Into or out of a zone: the player's own body, whoever else counts for it."""
    layout = building.layout
    near, sensed = layout.find("near", key), layout.find("in_reach", key)
    edge: tuple[int | None, ...] = (near,) if layout.near_by_cell(key) else (sensed,)
    if not layout.near_by_cell(key) and layout.cut(key):
        return (Listens(name, layout.column("cell"), "into" if enters else "out_of", layout.zone(key)),)
    return tuple(Listens(name, c, "rise" if enters else "fall") for c in edge if c is not None)


def _never_comes(name: str, place: str) -> Problem:
    return Problem(
        "never_comes",
        f"Nothing here lets “{name}” come.",
        f"Write a step such as later {name} after 20 s, or name what one of its steps lets come.",
        place,
    )


def _impossible(moment: Moment, place: str) -> Problem:
    return Problem(
        "moment_impossible",
        f"“{moment.verb}” needs a name here.",
        "Say what is entered, left or changed.",
        place,
    )
