"""A walk followed by what was meant: the inputs that do each of its deeds again, wherever things stand by now."""

from __future__ import annotations

import math
from collections.abc import Callable, Generator, Iterator, Sequence
from itertools import pairwise

from ..engine.inputs import STILL, Input
from ..engine.run import Run
from ..engine.situation import TICKS_A_SECOND
from ..engine.standing import standing_before
from ..engine.why import explained
from ..progress.guards import can_hold
from ..project.keeping import Deed
from ..project.records import Prompt
from ..space.working import LOOKED_AT_DEG

PATIENCE_S = 5.0
"""So long is waited, with nothing else to do, until a deed can be done."""
NEAR_M = 0.06
"""So near a place one is there."""
_FACING_DEG = 1.0
_OVER_M, _OVER_S = 2.0, 1.5
"""A ledge no farther than this from a place is gone over, for so long at the most."""
_Inputs = Generator[Input, None, None]
_Spot = tuple[float, float]


class Stuck(Exception):
    """A deed cannot be done: `deed` is its number, the words say what stands against it."""

    def __init__(self, deed: int, why: str):
        super().__init__(why)
        self.deed = deed


class Follower:
    """Gives the inputs of a run, one for each tick that it then makes, until all deeds are done.

    >>> Stuck(3, "out of reach").deed
    3
    """

    def __init__(self, run: Run, deeds: Sequence[Deed]):
        self.run, self.deeds = run, deeds
        self._by: dict[str, Callable[[Deed], _Inputs]] = {
            "go": self._go,
            "use": self._use,
            "hold": self._hold,
            "choose": self._choose,
            "strike": self._strike,
            "answer": self._answer,
            "skip": self._skip,
            "decide": self._decide,
            "wait": self._wait,
        }

    def inputs(self) -> Iterator[Input]:
        """The input of each next tick; the run must make that tick before the next is asked for.

        Raises `Stuck` where a deed cannot be done.
        """
        for number, deed in enumerate(self.deeds):
            if self.run.situation.ended:
                return
            try:
                yield from self._by[deed.do](deed)
            except _Against as against:
                raise Stuck(number, str(against)) from against

    # --- going

    def _go(self, deed: Deed) -> _Inputs:
        """Walk to a place, or into an exit until it leads on; where no way leads all the way, as far as it does."""
        situation, known = self.run.situation, self._exit(deed.at)
        goal = known or (deed.x_m, deed.y_m)
        level = situation.level
        if deed.level != level:
            return
        yield from self._walk(lambda: goal, until=lambda: situation.level != level)
        if situation.level == level and not known:
            yield from self._over(goal)
        waited = 0
        while known and situation.level == level:
            if waited >= self._patience:
                raise _Against(f"{self._name(deed.at)} leads on to nowhere now")
            waited += 1
            yield STILL

    def _over(self, goal: _Spot) -> _Inputs:
        """Go straight on over a ledge that lies before a place: no way leads down one."""
        situation, cells = self.run.situation, self.run.situation.layout.cells
        there = cells.at(situation.level, *goal)
        for _ in range(round(_OVER_S * TICKS_A_SECOND)):
            way = goal[0] - situation.player.x, goal[1] - situation.player.y
            apart = math.hypot(*way)
            if situation.cell == there or not NEAR_M < apart < _OVER_M or (situation.cell, there) not in cells.drops:
                return
            yield Input(move=(way[0] / apart, way[1] / apart))

    def _exit(self, key: str) -> _Spot | None:
        found = (e for level in self.run.situation.project.levels for e in level.exits if key and e.key == key)
        return next(((e.x_m, e.y_m) for e in found), None)

    def _walk(self, goal: Callable[[], _Spot], until: Callable[[], bool]) -> _Inputs:
        """Walk to a place that may move, until one is there, stands as near as the way leads, or something is so."""
        situation, sent, stopped = self.run.situation, None, 0
        player = situation.player
        while not until() and math.dist((player.x, player.y), goal()) > NEAR_M and stopped < TICKS_A_SECOND:
            now = goal()
            if self.run.talk.holds_player:
                sent = None
                yield STILL
                continue
            if sent is None or math.dist(sent, now) > NEAR_M or not player.way:
                stopped += sent is not None and not player.way  # Whoever is walked after may well have moved on.
                sent = now
                yield Input(walk_to=now)
            else:
                yield STILL

    # --- at an object

    def _approach(self, deed: Deed, control: str) -> _Inputs:
        """Walk to where it was done, turn as one stood, until the object has the control and can be used."""
        key, run = deed.at, self.run
        if key not in run.situation.layout.placed:
            raise _Against(f"{self._name(key)} is not there any more")
        stands = [lambda: self._beside(deed), *self._other_stands(key)]
        walks = run.here.mover.scene.number.get(key) in run.here.mover.walkers
        for stand in stands:
            # Whoever walks is spoken to as soon as it is near; to what stands one walks where one stood.
            yield from self._walk(stand, until=lambda: walks and self._has(deed, control))
            waited = 0
            while not self._has(deed, control):
                if waited > TICKS_A_SECOND and not self._gets(key, control) and stand is not stands[-1]:
                    break
                if waited >= self._patience:
                    break
                waited += 1
                yield self._turned(deed, key)
            if self._gets(key, control):
                return
        raise _Against(str(explained(run, key)["stopped_by"]))

    def _beside(self, deed: Deed) -> _Spot:
        place = self.run.places.place_of(deed.at)
        return place.x + deed.off_x_m, place.y + deed.off_y_m

    def _other_stands(self, key: str) -> list[Callable[[], _Spot]]:
        spot = standing_before(self.run.situation.project, key, self.run.situation.layout)
        return [] if spot is None else [lambda: (spot[0], spot[1])]

    def _turned(self, deed: Deed, key: str) -> Input:
        """Look as one looked, where that was at the object; else at the object."""
        player, place = self.run.situation.player, self.run.places.place_of(key)
        at_it = math.degrees(math.atan2(place.y - player.y, place.x - player.x))
        off = abs((deed.facing_deg - at_it + 180.0) % 360.0 - 180.0)
        look = deed.facing_deg if off <= LOOKED_AT_DEG else at_it
        apart = abs((player.facing_deg - look + 180.0) % 360.0 - 180.0)
        return Input(look=look) if apart > _FACING_DEG else STILL

    def _gets(self, key: str, control: str) -> bool:
        live = self.run.here.prompts.live.get(control)
        return live is not None and self.run.here.mover.scene.objects[live.number].thing.key == key

    def _has(self, deed: Deed, control: str) -> bool:
        """Whether the object has the control, and can be used where it could be."""
        return self._gets(deed.at, control) and (self.run.here.prompts.live[control].usable or not deed.came)

    def _use(self, deed: Deed) -> _Inputs:
        yield from self._approach(deed, deed.what)
        yield Input(down=(deed.what,))
        yield Input(up=(deed.what,))

    def _hold(self, deed: Deed) -> _Inputs:
        """Held until it is done, where it was done; else as long as it was held."""
        yield from self._approach(deed, deed.what)
        yield Input(down=(deed.what,))
        ticks, held = 1, round(deed.seconds * TICKS_A_SECOND)
        while (hold := self.run.holds.by_control.get(deed.what)) is not None and not hold.done:
            if not deed.came and ticks >= held:
                break
            ticks += 1
            yield STILL
        yield Input(up=(deed.what,))

    def _choose(self, deed: Deed) -> _Inputs:
        """A button of a panel, by its name or by its words."""
        control = next((p.control for p in self._prompts_of(deed.at) if p.buttons), "")
        yield from self._approach(deed, control)
        buttons = self.run.here.prompts.live[control].buttons
        found = [b for b in buttons if b.key == deed.what] or [b for b in buttons if b.wording == deed.words]
        if not found:
            raise _Against(f"{self._name(deed.at)} has no button “{deed.words}” now")
        yield Input(choose=found[0].key)

    def _prompts_of(self, key: str) -> tuple[Prompt, ...]:
        placed = self.run.situation.layout.placed
        return placed[key].design.prompts if key in placed else ()

    def _strike(self, deed: Deed) -> _Inputs:
        """An ability on a control, from where it was used, at what it was aimed at."""
        run = self.run
        if deed.at in run.situation.layout.placed:
            yield from self._walk(lambda: self._beside(deed), until=lambda: False)
            yield from self._until(
                lambda: deed.at in self._aimed() or not deed.came, lambda: self._turned(deed, deed.at)
            )
        else:
            yield Input(look=deed.facing_deg)
        yield Input(down=(deed.what,))
        yield Input(up=(deed.what,))

    def _aimed(self) -> list[str]:
        here = self.run.here
        return [here.mover.scene.objects[n].thing.key for n in here.senses.bodily.aims.values()]

    # --- talk and decisions

    def _answer(self, deed: Deed) -> _Inputs:
        """A reply by its words, else by its name, as soon as it can be chosen."""
        found: list[str] = []

        def ready() -> bool:
            found[:] = self._replies(deed)
            return bool(found)

        yield from self._until(ready)
        if not found:
            speech = self.run.talk.speech
            said = self.run.situation.words.name(speech.line.key) if speech is not None else "nothing"
            raise _Against(f"the answer “{deed.words}” cannot be given: {said} is said")
        yield Input(choose=found[0])

    def _replies(self, deed: Deed) -> list[str]:
        """The replies that can be given now and are meant: those of these words first."""
        speech, situation = self.run.talk.speech, self.run.situation
        if speech is None:
            return []
        by_name, chances = situation.program.by_name, situation.program.chances
        actions = ((r, by_name[f"reply:{speech.line.key}/{r.key}"]) for r in speech.line.replies)
        stand = [r for r, action in actions if can_hold(action.guard, situation.row, chances)]
        worded = [r.key for r in stand if r.wordings[0] == deed.words]
        return worded + [r.key for r in stand if (speech.line.key, r.key) == (deed.at, deed.what)]

    def _skip(self, deed: Deed) -> _Inputs:
        """The line's voice is cut short as soon as it speaks; one that has ended by itself needs it no more."""
        if self.run.talk.speech is not None and self.run.talk.speech.line.key == deed.at:
            yield Input(skip=True)

    def _decide(self, deed: Deed) -> _Inputs:
        situation, name = self.run.situation, f"{deed.what}:{deed.at}"
        action = situation.program.by_name.get(name)
        if action is None:
            raise _Against(f"{self._name(deed.at)} is no quest that can be {deed.what}ed")
        yield from self._until(lambda: can_hold(action.guard, situation.row, situation.program.chances))
        yield Input(decide=name)

    # --- waiting

    def _wait(self, deed: Deed) -> _Inputs:
        for _ in range(round(deed.seconds * TICKS_A_SECOND)):
            yield STILL

    def _until(self, ready: Callable[[], bool], meanwhile: Callable[[], Input] = lambda: STILL) -> _Inputs:
        """Wait until something is so, as long as there is patience."""
        for _ in range(self._patience):
            if ready():
                return
            yield meanwhile()

    @property
    def _patience(self) -> int:
        return round(PATIENCE_S * TICKS_A_SECOND)

    def _name(self, key: str) -> str:
        return self.run.situation.words.name(key)


class _Against(Exception):
    """What stands against a deed, in words."""


def way_of(deeds: Sequence[Deed]) -> tuple[tuple[str, float, float], ...]:
    """Where a walk leads, as points with their levels, each once."""
    points = [(d.level, d.x_m, d.y_m) for d in deeds if d.level]
    return (*points[:1], *(b for a, b in pairwise(points) if a != b))
