"""A route of a proof gone in the engine: each thing that is done in it as a deed, on foot from one to the next.

A proof knows places and clocks only roughly: where one stands within a place, and how long anything takes, is found out here.
So a *yes* is told only of what was gone.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Generator, Iterator, Sequence
from dataclasses import dataclass, replace

import shapely
import shapely.ops

from ..engine.beginning import Start
from ..engine.inputs import STILL, Input
from ..engine.run import Run
from ..engine.situation import TICKS_A_SECOND
from ..engine.standing import standing_before
from ..engine.wording import Words
from ..progress.happenings import Happening
from ..progress.program import Action, Program
from ..project.keeping import Came, Deed
from ..project.records import Project
from ..proof.flats import Flat
from ..proof.routes import Route
from ..proof.spans import has
from ..proof.verdicts import Worked
from ..space.bodies import footprint, pose_of, solid_of
from ..space.cells import reach_shape
from ..walks.following import Follower, Stuck
from ..walks.recording import Recorder
from .wording import in_words

LONGEST_WAIT_S = 180.0
"""So long is waited for a clock that the route says runs out."""
_BEFORE_M = 0.5
_WIDE_M = 0.05
"""So far one keeps from what would be heard."""
_BEYOND_M = 0.6
"""So far beyond its edge a ledge is walked over."""
_PRESSES = {"use": "use", "hold": "hold", "choose": "choose", "strike": "strike"}
_Inputs = Generator[Input, None, None]


@dataclass(frozen=True, slots=True)
class Gone:
    """How a route went: the deeds that were done and the run as it stands. `failed` says what could not be done, or what
    did not come of it; `late` whether time is the reason: something ran out sooner or later than the route has it.
    """

    run: Run
    deeds: tuple[Deed, ...]
    failed: str = ""
    late: bool = False
    came: tuple[Came, ...] = ()
    stretches: tuple[tuple[float, int, int], ...] = ()
    """For each flat that was gone how many metres were walked in it, and from where to where the chronicle tells of it."""


class Goer:
    """Goes one route of a project in the engine."""

    def __init__(self, project: Project, whole: Program, worked: Worked, seed: int = 0):
        self.program, self.places = worked.program, worked.places
        self._project, self._words = project, Words(project, lambda: whole.layout)
        self.run = Run(project, Start(seed=seed), whole)
        self._rows = list(worked.first)
        actions = self.program.actions
        self._into = {int(a.name.partition(":")[2]): n for n, a in enumerate(actions) if a.kind == "cross"}
        """The action that walks into each cell."""
        self._flats: dict[int, list[Flat]] = {}
        for flat in worked.spread.flats:
            if actions[flat.action].kind == "cross":
                self._flats.setdefault(flat.action, []).append(flat)
        self.recorder = Recorder(self.run)
        self.deeds: list[Deed] = []
        self._stretches: list[tuple[float, int, int]] = []

    def gone(self, route: Route, claim: Callable[[Run], bool]) -> Gone:
        """Go it; `claim` says whether what it promises has come about."""
        timed = False
        for flat in route.flats:
            action = self.program.actions[flat.action]
            timed = timed or action.whose == "clock"
            after = flat.after(self._rows)
            try:
                self._stretch(self._done(action, flat, after))
            except Stuck as stuck:
                return self._gone(f"{in_words(self._words, action)}: {stuck}", timed)
            self._rows = after
        self._stretch(self._to_the_end(claim))
        failed = "" if claim(self.run) else "it does not come to that"
        return self._gone(failed, timed and bool(failed))

    def _gone(self, failed: str, late: bool) -> Gone:
        came = tuple(self.recorder.came)
        return Gone(self.run, tuple(self.deeds), failed, late, came, tuple(self._stretches))

    def _stretch(self, inputs: Iterator[Input]) -> None:
        """Make the ticks of one flat, and note how far one walks by them and what is told meanwhile."""
        situation, since, metres = self.run.situation, len(self.run.chronicle), 0.0
        try:
            for given in inputs:
                level, x, y = situation.level, situation.player.x, situation.player.y
                self.recorder.note(given, self.run.tick(given))
                if situation.level == level:
                    step = math.hypot(situation.player.x - x, situation.player.y - y)
                    metres += step if step < _BEFORE_M else 0.0
                if situation.ended:
                    break
        finally:
            self._stretches.append((metres, since, len(self.run.chronicle)))

    def _to_the_end(self, claim: Callable[[Run], bool]) -> Iterator[Input]:
        """Walk on to where the route ends, where that alone is left of it; then a moment for what has just been begun."""
        if not claim(self.run) and self.run.situation.cell != self._cell and not self.run.situation.ended:
            yield from self._go(self._cell, "", False)
        for _ in range(TICKS_A_SECOND):
            if claim(self.run) or self.run.situation.ended:
                return
            yield STILL

    # --- one thing after another

    def _done(self, action: Action, flat: Flat, after: Sequence[int]) -> Iterator[Input]:
        cell = int(action.name.partition(":")[2]) if action.kind == "cross" else self._cell
        if action.kind in _PRESSES:
            yield from self._follow(self._press(action, cell))
        elif action.kind == "reply":
            line, _, reply = action.name.partition(":")[2].partition("/")
            yield from self._follow(Deed("answer", line, reply, self._words.reply(line, reply)))
        elif action.kind == "decide":
            what, _, quest = action.name.partition(":")
            yield from self._follow(Deed("decide", quest, what))
        elif action.kind == "exit":
            yield from self._follow(Deed("go", action.subject, level=self._level(self._cell)))
        elif action.whose == "clock":
            yield from self._wait(flat, after)
        elif action.kind == "cross":
            if (self._cell, cell) in self.places.layout.cells.drops:
                yield from self._drop(cell)
            elif self._matters(flat, {self.program.table.at("cell")}):
                if (
                    self.run.situation.cell == cell
                ):  # The way out of it did nothing and was not gone: it is to be come into.
                    yield from self._go(self._cell, "", False)
                yield from self._go(cell, "", False)
        else:
            yield from self._sense(action, flat, after)

    def _sense(self, action: Action, flat: Flat, after: Sequence[int]) -> Iterator[Input]:
        """Walk to where it is sensed, where anything hangs on it."""
        own = set() if action.kind != "sensed" else {self.program.table.number(action.control)}
        beyond = action.kind == "away" or any(after[n] == 0 for n in own)
        if action.kind != "sensed" or (beyond and self._matters(flat, own)):
            key = action.control.partition(":")[2] if action.kind == "sensed" else action.subject
            yield from self._go(self._cell, key, beyond)

    @property
    def _cell(self) -> int:
        return self._rows[self.program.table.at("cell")]

    def _matters(self, flat: Flat, beside: set[int]) -> bool:
        """Whether it does more than change these columns."""
        return bool(flat.then.keys() - beside or flat.ends)

    def _follow(self, deed: Deed) -> Iterator[Input]:
        """Do something; on the way there, out of everything that would be heard and is no part of the route."""
        goes_about = deed.at in self.places.layout.placed and self.places.roams(deed.at)
        if deed.level == self.run.situation.level and not goes_about:
            for x, y in self._bends(deed.x_m, deed.y_m):
                yield from self._only(Deed("go", "", "", "", deed.level, round(x, 3), round(y, 3)))
        yield from self._only(deed)

    def _only(self, deed: Deed) -> Iterator[Input]:
        self.deeds.append(deed)
        yield from Follower(self.run, [deed]).inputs()

    def _bends(self, x: float, y: float) -> list[tuple[float, float]]:
        """The bends of a way to a place round what would be heard; none where the straight way meets nothing of it."""
        cells = self.places.layout.cells
        here = {self.run.situation.cell, self._cell, cells.at(self.run.situation.level, x, y)}
        heard = [n for n in cells.by_level.get(self.run.situation.level, ()) if n not in here and self._is_heard(n)]
        zones = [zone for zone in self._zones() if not shapely.contains_xy(zone, x, y)]
        if not heard and not zones:
            return []
        shunned = shapely.union_all([*(cells.cells[n].shape for n in heard), *zones])
        return self.run.here.mover.way_round((x, y), shunned.buffer(_WIDE_M))[:-1]

    def _zones(self) -> Iterator[shapely.Geometry]:
        """Where one would come near something, wherever it lies now, and that would be heard."""
        layout, row = self.places.layout, self.run.situation.row
        for action in self.program.actions:
            if not action.name.startswith("come_near:") or action.subject not in layout.placed:
                continue
            one, place = layout.placed[action.subject], self.run.places.place_of(action.subject)
            if self.places.roams(action.subject) or row[layout.column("near", action.subject)]:
                continue
            if place.level == self.run.situation.level:
                yield reach_shape(replace(one.thing, x_m=place.x, y_m=place.y, turn_deg=place.turn_deg), one.design)

    def _is_heard(self, cell: int) -> bool:
        """Whether walking into a cell would do something else than be there."""
        action, at = self._into.get(cell, -1), self.program.table.at("cell")
        return any(
            flat.then.keys() - {at} and all(n == at or has(spans, self._rows[n]) for n, spans in flat.when.items())
            for flat in self._flats.get(action, ())
        )

    def _level(self, cell: int) -> str:
        return self.places.layout.cells.cells[cell].level

    # --- where to stand

    def _press(self, action: Action, cell: int) -> Deed:
        """A press at an object, from a free spot of the cell in which the route has it."""
        key, what = action.subject, action.control
        place = self.run.places.place_of(key)
        x, y = (place.x, place.y) if self.places.roams(key) else self._stand(cell, key)
        facing = math.degrees(math.atan2(place.y - y, place.x - x))
        if action.kind == "strike":
            what = next(a.control for a in self._project.abilities if a.key == action.control)
        off = round(x - place.x, 3), round(y - place.y, 3)
        do = action.kind if action.kind in ("hold", "choose", "strike") else "use"
        return Deed(do, key, what, "", self._level(cell), round(x, 3), round(y, 3), round(facing, 1), *off)

    def _stand(self, cell: int, key: str) -> tuple[float, float]:
        place, spots = self.run.places.place_of(key), self._spots(cell, key)
        if self.places.moves(key):
            return spots[0] if spots and place.level == self._level(cell) else (place.x, place.y)
        before = standing_before(self._project, key, self.places.layout)
        cells = self.places.layout.cells
        if before is not None and cells.at(self._level(cell), before[0], before[1]) == cell:
            return before[0], before[1]
        if spots:
            return spots[0]
        if before is not None:
            return before[0], before[1]
        return place.x, place.y

    def _go(self, cell: int, key: str, beyond: bool) -> Iterator[Input]:
        spots = self._spots(cell, key, beyond) or self.places.spots(cell)
        x, y = spots[0]
        yield from self._follow(Deed("go", "", "", "", self._level(cell), round(x, 3), round(y, 3)))

    def _spots(self, cell: int, key: str, beyond: bool = False) -> list[tuple[float, float]]:
        """The free spots of a cell within or beyond the reach of something, wherever that lies by now; of a cell beside it
        where there are none: a cell is left late, so that it can be sensed from both sides of a border."""
        at = None
        if key in self.places.layout.placed and self.places.moves(key):
            place = self.run.places.place_of(key)
            at = (place.x, place.y, place.turn_deg) if place.level == self._level(cell) else None
        level = self._level(cell)
        for near in (cell, *sorted(self.places.layout.cells.neighbours[cell])):
            spots = self.places.spots(near, key, beyond, at) if self._level(near) == level else []
            if free := self._free(near, spots):
                return free
        return []

    def _drop(self, cell: int) -> Iterator[Input]:
        """Walk up to a ledge and go on over it: no way that is looked for leads down one."""
        cells = self.places.layout.cells
        border = shapely.intersection(cells.cells[self._cell].shape, cells.cells[cell].shape)
        edge = max(shapely.get_parts(border), key=lambda part: part.length).interpolate(0.5, normalized=True)
        before = shapely.ops.nearest_points(cells.cells[self._cell].shape.buffer(-_BEFORE_M), edge)[0]
        yield from self._follow(Deed("go", "", "", "", self._level(cell), round(before.x, 3), round(before.y, 3)))
        length = math.hypot(edge.x - before.x, edge.y - before.y) or 1.0
        x, y = (e + (e - b) / length * _BEYOND_M for e, b in ((edge.x, before.x), (edge.y, before.y)))
        yield from self._follow(Deed("go", "", "", "", self._level(cell), round(x, 3), round(y, 3)))

    def _free(self, cell: int, spots: Sequence[tuple[float, float]]) -> list[tuple[float, float]]:
        """Those where no body stands now."""
        layout, situation = self.places.layout, self.run.situation
        bodies = []
        for key in layout.may_lie_in(self._level(cell)):
            one = layout.placed[key]
            state = one.design.states[situation.row[layout.column("state", key)]]
            if one.design.body.shape != "none" and state.blocks and situation.row[layout.column("exists", key)]:
                bodies.append(footprint(solid_of(one.thing, one.design, pose_of(state))))
        taken = shapely.union_all(bodies).buffer(self._project.player.radius_m + 0.02)
        return [spot for spot in spots if not taken.contains(shapely.Point(spot))]

    # --- waiting

    def _wait(self, flat: Flat, after: Sequence[int]) -> Iterator[Input]:
        """Wait until what a clock brings about is so."""
        row, waited = self.run.situation.row, 0
        while waited < round(LONGEST_WAIT_S * TICKS_A_SECOND):
            over = not all(has(spans, row[n]) for n, spans in flat.when.items()) and not self._sensed(flat)
            if over or all(row[n] == after[n] for n in flat.then):
                break
            waited += 1
            yield STILL
        if waited:
            self.deeds.append(Deed("wait", seconds=round(waited / TICKS_A_SECOND, 2)))

    def _sensed(self, flat: Flat) -> bool:
        return any(self.program.columns[n].sensed for n in flat.when)


def quest_done(quest: str, status: str = "done") -> Callable[[Run], bool]:
    """Whether a run has told that a quest has come to an end."""
    return has_told(Happening.QUEST, quest, status)


def has_told(what: Happening, subject: str, detail: str) -> Callable[[Run], bool]:
    """Whether a run has told that something has happened to somebody or something."""
    return lambda run: any((e.what, e.subject, e.detail) == (what, subject, detail) for e in run.chronicle)
