"""What a cue's moment listens to: values that alter, or occurrences. The same for every owner of cues."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from ..cuetext.nodes import CueTree, Moment
from ..cuetext.roles import QUEST_MOMENTS
from ..project.problems import Problem
from ..project.records import Cue
from .building import Building, add_resumes, cue_branch
from .guards import ALWAYS, Guard
from .needs import Meaning
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


Read = list[tuple[CueTree, Branch]]


def read_cues(building: Building, owner: Owner, cues: Iterable[tuple[Cue, str]]) -> Read:
    """An owner's cues as branches, with the actions that go on after their waits; unusable ones are left out, told."""
    meaning, found = Meaning(building.layout, owner.this), Read()
    for cue, place in cues:
        tree = building.texts.cue(cue.text, place, owner.this) if cue.text.strip() else None
        if tree is not None:
            branch = cue_branch(building, tree, place, meaning)
            add_resumes(building, owner.this or owner.place, branch)
            found.append((tree, branch))
    return found


def add_moments(building: Building, owner: Owner, read: Read) -> None:
    """For each moment that an owner's cues listen to a group, in the order of their first cue."""
    moments: dict[Moment, list[Branch]] = {}
    for tree, branch in read:
        if tree.moment.verb not in PRESSED:
            moments.setdefault(tree.moment, []).append(branch)
    for moment, branches in moments.items():
        _add_moment(building, owner, moment, tuple(branches))


def _add_moment(building: Building, owner: Owner, moment: Moment, branches: tuple[Branch, ...]) -> None:
    words = "/".join(w.text for w in (moment.word, moment.of) if w is not None)
    name = f"{moment.verb}:{owner.this or owner.place}" + (f"/{words}" if words else "")
    entry = ALWAYS if moment.verb in ("away", "downed") else owner.entry
    group = Group(name, owner.place, branches, entry)
    occurrence = occurrence_of(moment, owner)
    if occurrence:
        building.add_hearing(group, occurrence)
        return
    listens = _listens(building, name, moment, owner)
    if listens is None:
        building.texts.problems.append(_impossible(moment, branches[0].origin))
        return
    building.add_listening(group, [listens])


def occurrence_of(moment: Moment, owner: Owner) -> str:
    """The occurrence that a moment hears; empty where it listens to a value."""
    word = moment.word.text if moment.word else ""
    if moment.verb in QUEST_MOMENTS or moment.verb == "heard":
        return f"{moment.verb}:{word}"
    match moment.verb:
        case "stage":
            return f"stage:{moment.of.text}/{word}" if moment.of else ""
        case "downed":
            return f"downed:{owner.this if word in ('', 'this') else word}"
        case "later":
            return f"later:{owner.this or owner.place}"
        case "started":
            return f"started:{owner.level}"
    return ""


def _listens(building: Building, name: str, moment: Moment, owner: Owner) -> Listens | None:
    """The value a moment listens to, and how it must alter; None where the owner has no such moment."""
    layout, word = building.layout, moment.word.text if moment.word else owner.key
    key = owner.this if word == "this" else word
    match moment.verb:
        case "near" | "away":
            return Listens(name, layout.column("near", owner.key), "rise" if moment.verb == "near" else "fall")
        case "touched":
            return Listens(name, layout.column("touching", owner.key), "rise")
        case "looked at":
            return Listens(name, layout.column("looking", owner.key), "rise")
        case "entered" | "left":
            return _crossing(building, name, moment.verb == "entered", key)
        case "changed":
            what = "state" if key in layout.placed else "fact"
            return Listens(name, layout.column(what, key), "change")
        case "gained" | "lost":
            counter = Meaning(layout, owner.this).counter(moment.word) if moment.word else -1
            return Listens(name, counter, "rise" if moment.verb == "gained" else "fall")
        case "met":
            return Listens(name, layout.column("met", key), "rise")
    return None


def _crossing(building: Building, name: str, enters: bool, place: str) -> Listens | None:
    layout = building.layout
    if place in layout.placed:
        return Listens(name, layout.column("near", place), "rise" if enters else "fall")
    cells = layout.map.of_area(place) or layout.map.of_level(place)
    if not cells and layout.project.levels and place in layout.quests:
        return None
    return Listens(name, layout.column("cell"), "into" if enters else "out_of", cells)


def _impossible(moment: Moment, place: str) -> Problem:
    return Problem(
        "moment_impossible",
        f"“{moment.verb}” needs a name here.",
        "Say what is entered, left or changed.",
        place,
    )
