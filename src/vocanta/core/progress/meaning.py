"""Names of a text as columns, and the places and conditions of objects that needs, steps and actions share."""

from __future__ import annotations

from dataclasses import dataclass, replace

from ..cuetext.own_values import is_its, meant
from ..phrases import nodes as n
from ..phrases.vocabulary import ITS, PLAYER
from .columns import What
from .guards import NEVER, AnyOf, Guard, Within, among, both, equals
from .layout import Layout, spot_column
from .ops import Spot


@dataclass(frozen=True)
class Meaning:
    """Names of a text as columns. `this` is the key of the object that owns the text, empty for none; `place` is the
    text's own place in the project; `late` says that its steps stand behind a wait; `talk` that they are said in a conversation."""

    layout: Layout
    this: str = ""
    place: str = ""
    late: bool = False
    talk: bool = False

    @property
    def owner(self) -> str:
        """Whose copies and deliveries the text's steps mean: an object, or the area, level or quest it belongs to."""
        if self.this:
            return self.layout.placed[self.this].owner
        return "/".join(self.place.split("/")[:2])

    def at(self, place: str) -> Meaning:
        """The same names in another text."""
        return replace(self, place=place)

    def behind_a_wait(self) -> Meaning:
        """The same for steps behind a wait."""
        return replace(self, late=True)

    def key(self, word: n.Word) -> str:
        """The key a word stands for: `this` and `its …` are resolved."""
        if word.text == "this":
            return self.this
        return meant(word.text, self.layout.placed[self.this].design.values) if self.this else word.text

    def fixed(self, word: n.Word) -> bool | float | None:
        """The value of the owner's own that a word is, where it is no name: a number, yes or no."""
        value = self.layout.placed[self.this].design.values[word.text.removeprefix(ITS)] if is_its(word.text) else ""
        return None if isinstance(value, str) else value

    def column(self, what: What, word: n.Word) -> int:
        """The column `what` of the thing a word names."""
        return self.layout.column(what, self.key(word))

    def counter(self, key: str) -> int:
        """The column of money, experience, an item, a fact, or the uses left of an ability. Raises `KeyError`."""
        if key in {"money", "experience"}:
            return self.layout.column("money" if key == "money" else "experience")
        whats: tuple[What, ...] = ("item", "fact", "ability_uses")
        for what in whats:
            number = self.layout.find(what, key)
            if number is not None:
                return number
        raise KeyError(key)

    def stage_number(self, quest: n.Word, stage: n.Word) -> int:
        """The place of a stage in its quest."""
        stages = self.layout.quests[self.key(quest)].stages
        return [s.key for s in stages].index(self.key(stage))

    def value(self, target: n.Word, word: n.Word) -> int:
        """The number of an object's state, or of a fact's value."""
        key, text = self.key(target), self.key(word)
        if key in self.layout.placed:
            return self.layout.placed[key].state_numbers[text]
        return {"yes": 1, "no": 0}[text] if text in ("yes", "no") else int(text)


# --- what is so of an object


def is_there(layout: Layout, key: str) -> Guard:
    """The object is there, and not down."""
    down = layout.find("down", key)
    up = () if down is None else (equals(down, 0),)
    return both(equals(layout.column("exists", key), 1), *up)


def has_reach(layout: Layout, key: str) -> Guard:
    """The object is there, up, and in a state with reach."""
    states = layout.placed[key].design.states
    on = [i for i, s in enumerate(states) if s.reach_on]
    if len(on) == len(states):
        return is_there(layout, key)
    return both(is_there(layout, key), among(layout.column("state", key), on) if on else NEVER)


def player_inside(layout: Layout, key: str) -> Guard:
    """The player's own body is inside an object's reach: by cell where the floor is cut at it, else as it is sensed."""
    if layout.cut(key):
        return both(has_reach(layout, key), among(layout.column("cell"), layout.zone(key)))
    column = layout.find("in_reach", key)
    return NEVER if column is None else equals(column, 1)


def in_level(layout: Layout, level: str) -> Guard:
    """The player is in a level."""
    return Within(layout.column("cell"), *layout.level_cells(level))


def is_here(layout: Layout, key: str) -> Guard:
    """The object lies in the level where the player is."""
    spot = spot_of(layout, key)
    if spot.column < 0:
        return in_level(layout, layout.placed[key].level)
    together = [
        both(in_level(layout, level.key), Within(spot.column, *layout.level_cells(level.key)))
        for level in layout.project.levels
    ]
    return together[0] if len(together) == 1 else AnyOf(tuple(together))


def spot_of(layout: Layout, key: str) -> Spot:
    """The cell of the player or of an object: fixed, decided, or seen."""
    if key == PLAYER:
        return Spot(column=layout.column("cell"))
    column = spot_column(layout, key)
    if column is not None:
        return Spot(column=column)
    one = layout.placed[key]
    return Spot(layout.cells.at(one.level, one.thing.x_m, one.thing.y_m))
