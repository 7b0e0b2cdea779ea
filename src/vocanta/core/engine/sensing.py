"""What the player's place means in one level: who is in reach and near, and what else the rules sense."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field

import numpy as np

from ..phrases.vocabulary import PLAYER
from ..progress.happenings import Happening
from ..progress.ops import Told
from ..progress.program import Action
from .bodily import Bodily
from .looking import Eyes
from .moving import Mover
from .situation import Situation


@dataclass(frozen=True, slots=True)
class Heard:
    """A column that somebody listens to has another value by now; it is written when its action comes."""

    action: Action
    column: int
    value: int


@dataclass
class Sensed:
    """What the senses found new: actions that are due for it, columns that listeners are to hear of, and what is merely
    told."""

    actions: list[Action] = field(default_factory=list)
    heard: list[Heard] = field(default_factory=list)
    told: list[Told] = field(default_factory=list)

    def __bool__(self) -> bool:
        return bool(self.actions or self.heard)


class Senses:
    """The senses in one level of a run. Sensed columns are written here and nowhere else."""

    def __init__(self, situation: Situation, mover: Mover, eyes: Eyes):
        self.situation, self.mover, self.eyes, self.scene = situation, mover, eyes, mover.scene
        self.bodily = Bodily(situation, mover, eyes)
        layout, objects = situation.layout, self.scene.objects
        keys = [one.thing.key for one in objects]
        self.inside = np.zeros(len(objects), dtype=bool)
        """For each object whether the player is in its reach; leaving takes 5 cm more than entering."""
        self._in_reach = [layout.find("in_reach", key) for key in keys]
        here = situation.level == self.scene.level.key
        for number, column in enumerate(self._in_reach):
            self.inside[number] = here and column is not None and bool(situation.row[column])
        self._looked_at = {n: c for n, key in enumerate(keys) if (c := layout.find("looked_at", key)) is not None}
        self._seen = {n for n, c in self._looked_at.items() if here and situation.row[c]}
        self._unheard: set[int] = set()
        """The objects of which nobody has heard yet whether the player is in their reach."""
        self._silent = False
        """Nothing is sensed here any more, and nothing is left to be told of that."""
        nears = {n: layout.find("near", key) for n, key in enumerate(keys)}
        self._near = {n: c for n, c in nears.items() if c is not None and not layout.near_by_cell(keys[n])}
        self._told = frozenset(n for n, c in nears.items() if c is None and PLAYER in objects[n].design.reach.who)

    def goes_on_as(self, other: Senses) -> None:
        """Take over who was in reach and what was looked at."""
        self.inside, self._seen, self._unheard = other.inside.copy(), set(other._seen), set(other._unheard)

    def sense(self) -> Sensed:
        """Write the sensed columns; what is new."""
        self._silent = False
        found, was, here = Sensed(), self.inside, self.mover.exists & self.mover.reach_on
        player, floor_m = self.situation.player, self.situation.floor_m
        self.inside = self.scene.reaches.inside(player.x, player.y, was, floor_m) & here
        self._enter(found, (self.inside != was).nonzero()[0].tolist())
        self._write(found, self._looks())
        self._write(found, self.bodily.senses())
        for number, column in self._near.items():
            self._edge(found, column, number, "come_near", "go_away", self._counts(number, column, bool(here[number])))
        for column, (number, begin, end, now) in self.bodily.edges():
            self._edge(found, column, number, begin, end, now)
        return found

    def silence(self) -> Sensed:
        """The player is in another level: nothing here is sensed any more."""
        found = Sensed()
        if self._silent:
            return found
        left = self.inside.nonzero()[0].tolist()
        self.inside[:] = False
        self._enter(found, left)
        self._write(found, ((self._looked_at[n], 0) for n in sorted(self._seen)))
        self._write(found, self.bodily.silent())
        for column, number, end in self.bodily.pairs():
            self._edge(found, column, number, "", end, False)
        self._seen = {n for n in self._seen if self.situation.row[self._looked_at[n]]}
        self._silent = not found and not found.told
        return found

    def _enter(self, found: Sensed, changed: Iterable[int]) -> None:
        """The player has come into reaches or left them."""
        columns, row = self._in_reach, self.situation.row
        for number in changed:
            if number in self._told:
                what = Happening.NEAR if self.inside[number] else Happening.AWAY
                found.told.append(Told(what, self.scene.objects[number].thing.key))
        likely = sorted(self._unheard.union(n for n in changed if columns[n] is not None))
        self._write(found, ((column, int(self.inside[n])) for n in likely if (column := columns[n]) is not None))
        self._unheard = {n for n in likely if (column := columns[n]) is not None and row[column] != self.inside[n]}

    def _looks(self) -> Iterator[tuple[int, int]]:
        """The objects in reach, and those that were looked at last, asked anew."""
        inside = {int(n) for n in self.inside.nonzero()[0]} & self._looked_at.keys()
        for number in sorted(inside | self._seen):
            column = self._looked_at[number]
            now = number in inside and self.eyes.demands_met(number, bool(self.situation.row[column]))
            (self._seen.add if now else self._seen.discard)(number)
            yield column, int(now)

    def _counts(self, number: int, column: int, here: bool) -> bool:
        """Whether anybody who counts is in a reach whose nearness is sensed."""
        who = self.scene.objects[number].design.reach.who
        was = bool(self.situation.row[column])
        inside = bool(self.inside[number])
        return here and self.bodily.anybody_in(number, who, was, player_in=inside)

    def _edge(self, found: Sensed, column: int, number: int, begin: str, end: str, now: bool) -> None:
        """The action of beginning or ending, where what is so differs from what the row remembers."""
        if now != bool(self.situation.row[column]):
            name = f"{begin if now else end}:{self.scene.objects[number].thing.key}"
            found.actions.append(self.situation.program.by_name[name])

    def _write(self, found: Sensed, values: Iterable[tuple[int, int]]) -> None:
        """Write what nobody listens to; of all else it is noted that it is to be heard."""
        row, heard = self.situation.row, self.situation.program.sensed_actions
        for column, value in values:
            if row[column] != value and column in heard:
                found.heard.append(Heard(heard[column], column, value))
            else:
                row[column] = value
