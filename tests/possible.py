"""What a run does is asked of the proof: possible there? Every run that a test makes is held to it while it is replayed.

`Watched` asks of each action, before it is carried out, and of each tick, after it, whether the places of the proof allow
what is sensed; `Reachable` asks besides whether the situation, and what is told, is among what a proof holds possible.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence

from vocanta.core.engine.run import Run
from vocanta.core.progress.onerow import RowOutcome, RowWalk, holds_on
from vocanta.core.progress.program import Action, Program
from vocanta.core.proof.flats import DID, Event, events_told
from vocanta.core.proof.places import Places, holds_one
from vocanta.core.proof.verdicts import begun
from vocanta.core.proof.wide import happening, spread_whole

_ON_FOOT = ("cross", "exit", "near", "away", "sensed")
_NONE: frozenset[str] = frozenset()


class _Asking(RowWalk):
    """The walk of one action of a run, which tells what it is about to do."""

    asked: Callable[[Action], None]
    heard: Callable[[int, int], None]
    came: Callable[[RowOutcome], None]

    def act(self, action: Action, *, attempt: bool = False) -> RowOutcome:
        tried = action.tried if attempt and action.tried is not None else action.guard
        if holds_on(tried, self.row):
            self.asked(action)
        outcome = super().act(action, attempt=attempt)
        self.came(outcome, action.name if outcome.took_effect else "")
        return outcome

    def refuse(self, action: Action) -> RowOutcome:
        self.asked(action)
        return super().refuse(action)

    def sensed(self, column: int, old: int) -> RowOutcome:
        self.heard(column, self.row[column])
        outcome = super().sensed(column, old)
        self.came(outcome, "")
        return outcome


class Watched:
    """One run that is watched; `contradictions` are what the proof would not have held possible, in words."""

    def __init__(self, run: Run, places: Places, lies: frozenset[str] = frozenset()):
        """`lies`: what was laid somewhere before it began; that may be anywhere."""
        self.run, self.places, self.contradictions, self._lies = run, places, list[str](), lies
        self.of, self.happened = run.situation.project.name, set[Event]()
        self._columns = run.situation.program.columns
        self._sensed = [n for n in run.situation.program.sensed if self._is_placed(n)]
        asked = [when.keys() for n in self._sensed for v in (0, 1) for when in places.whens(self._columns[n], v) or ()]
        self._rest_on = sorted({*self._sensed, *(n for keys in asked for n in keys)})
        self._sound: tuple[int, ...] = ()
        run._walk = self._walk

    def _is_placed(self, number: int) -> bool:
        column = self._columns[number]
        placed = any(self.places.whens(column, value) is not None for value in (0, 1))
        return placed and column.key.partition("/")[0] not in self._lies

    def _walk(self) -> RowWalk:
        situation = self.run.situation
        walk = _Asking(situation.program, situation.row, self.run.off)
        walk.asked, walk.heard, walk.came = self._asked, self._heard, self._came
        return walk

    def _asked(self, action: Action) -> None:
        row = self.run.situation.row
        if action.subject not in self._lies and not holds_one(self.places.whens_of(action), row):
            self._says(f"{action.name} comes about")
        if action.kind not in _ON_FOOT:
            self._sense(f"as {action.name} comes")

    def _heard(self, column: int, value: int) -> None:
        if column in self._sensed and not self.places.allows(self._columns[column], value, self.run.situation.row):
            self._says(f"{self._columns[column].name} turns {value}")

    def _came(self, outcome: RowOutcome, did: str) -> None:
        self.happened.update(events_told(outcome.told))
        if did:
            self.happened.add((did, DID))

    def _sense(self, when: str) -> None:
        row, wrong = self.run.situation.row, False
        now = tuple(row[n] for n in self._rest_on)
        for number in self._sensed if now != self._sound else ():
            if not self.places.allows(self._columns[number], row[number], row):
                wrong = True
                self._says(f"{self._columns[number].name} is {row[number]} {when}")
        self._sound = () if wrong else now

    def _says(self, what: str) -> None:
        situation = self.run.situation
        player = situation.player
        where = f"in cell {situation.cell} of {situation.level} at {player.x}, {player.y}"
        self.contradictions.append(f"tick {situation.tick}: {what} {where}")

    def ticked(self) -> None:
        """A tick is over: what is sensed now must be possible where the player stands."""
        self._sense("after the tick")


def watch_every_run() -> list[Watched]:
    """From now on every run of this process is watched; those that are, as they come."""
    begin, tick, watched = Run.__init__, Run.tick, list[Watched]()
    known: list[tuple[Program, Places]] = []

    def beginning(run, project, start=None, program=None, *, going=True):
        begin(run, project, start, program, going=going)
        its = run.situation.program
        places = next((places for one, places in known if one.layout is its.layout), None)
        if places is None:
            known.append((its, places := Places(its.layout)))
        lies = frozenset(one.key for one in start.lies) if start is not None else frozenset()
        run.watched = Watched(run, places, lies if going else frozenset(its.layout.placed))
        watched.append(run.watched)

    def ticking(run, given):
        entries = tick(run, given)
        run.watched.ticked()
        return entries

    Run.__init__, Run.tick = beginning, ticking
    return watched


class Reachable:
    """What a proof of a whole program holds possible: pairs of values, and what happens."""

    def __init__(self, program: Program):
        self.program, self._worked = program, spread_whole(program, begun(program))
        self._together = self._worked.spread.together
        self._counts = sorted(self._worked.spread.counts)
        self._happens = happening(self._worked)
        self._seen: set[tuple[int, ...]] = set()

    @property
    def whole(self) -> bool:
        """Whether nothing was left out of it."""
        return not self._worked.spread.too_many and not self._worked.spread.chasing

    def not_reachable(self, row: Sequence[int]) -> Iterator[str]:
        """The pairs of values of a situation that a proof would say never come together."""
        kept = tuple(row[n] for n in self._counts)
        if kept in self._seen:
            return
        self._seen.add(kept)
        facts = self._together.facts
        own = {n: facts.fact(n, row[n]) for n in self._counts}
        mask = sum(1 << fact for fact in own.values())
        columns = self.program.columns
        for number, fact in own.items():
            apart = mask & ~self._together.rows[fact]
            others = [columns[n].name for n, other in own.items() if apart >> other & 1]
            if others:
                yield f"{columns[number].name} = {row[number]} with {', '.join(others)}"

    def never_told(self, happened: set[Event]) -> list[Event]:
        """What has happened and would be said never to. Of actions that do nothing at all a proof says nothing."""
        spoken_of = {action.name for action in self._worked.program.actions}
        return sorted(e for e in happened - self._happens if e[1] != DID or e[0] in spoken_of)


def held(run: Run, inputs: Iterator, reachable: Reachable | None = None, places: Places | None = None) -> list[str]:
    """Walk a run and tell what contradicts the proof, the first few."""
    watched = Watched(run, places or Places(run.situation.program.layout))
    run.made = None  # It is held here: it need not be replayed.
    found: list[str] = []
    for given in inputs:
        run.tick(given)
        watched.ticked()
        if reachable is not None:
            found += [f"tick {run.situation.tick}: {says}" for says in reachable.not_reachable(run.situation.row)]
        if len(found) + len(watched.contradictions) > 5:
            break
    if reachable is not None:
        found += [f"never told: {event}" for event in reachable.never_told(watched.happened)]
    return watched.contradictions + found
