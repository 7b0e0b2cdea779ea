"""Kept walks walked again in the project as it is now: as they were pressed, and where that comes to otherwise, as meant."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass, replace
from typing import Literal

from ..engine.again import fitted, held_of
from ..engine.inputs import Input, read_input
from ..engine.run import Run
from ..progress.program import Program
from ..project.keeping import Held, Walk
from ..project.problems import ProjectError
from ..project.records import Project
from .comparing import Parting, not_come_to, parting, same_so_far
from .following import Follower, Stuck, way_of
from .recording import Recorder

How = Literal["as pressed", "as meant"]


@dataclass(frozen=True, slots=True)
class Outcome:
    """What a kept walk came to now.

    `stuck` says what stood against the next deed, `missing` what it was to come to and did not, `parting` where it first
    came to something else, `left_out` what of its beginning does not fit any more. `now` is the walk as it went,
    with the deeds that could be done, `way` where it led.
    """

    walk: Walk
    how: How
    ticks: int
    now: Walk
    stuck: str = ""
    missing: tuple[Held, ...] = ()
    parting: Parting | None = None
    left_out: tuple[str, ...] = ()
    way: tuple[tuple[str, float, float], ...] = ()

    @property
    def same(self) -> bool:
        """Whether it comes to the same end."""
        return not self.stuck and not self.missing


def walked_again(walk: Walk, project: Project, program: Program) -> Outcome:
    """A kept walk walked again.

    Raises `ProjectError` (`no_level`) where the project has no level to walk in.
    """
    if walk.ticks:
        outcome = _as_pressed(walk, project, program)
        if outcome is not None:
            return outcome
    return _as_meant(walk, project, program)


def all_again(
    project: Project, program: Program, walks: Iterable[Walk], note: Callable[[str, int, int], None]
) -> Iterator[Outcome]:
    """Walks walked again, one after the other. `note` is told which one begins, and of how many."""
    chosen = list(walks)
    for number, walk in enumerate(chosen):
        note(walk.name, number, len(chosen))
        yield walked_again(walk, project, program)


def begun(walk: Walk, project: Project, program: Program) -> tuple[Run, tuple[str, ...]]:
    """A run that begins as a kept walk does, and what of its beginning was left out."""
    fits = fitted(walk.begins, project, program, walk.seed)
    return Run(project, fits.start, program), fits.left_out


def raw_inputs(walk: Walk, project: Project) -> Iterator[Input | None]:
    """The raw inputs of a kept walk, one a tick; None where the last goes on. An input that names what is gone is none."""
    controls = frozenset(c.key for c in project.controls)
    given = {one.tick: one.given for one in walk.pressed}
    for tick in range(1, walk.ticks + 1):
        try:
            yield read_input(given[tick], controls) if tick in given else None
        except ProjectError:
            return


def _as_pressed(walk: Walk, project: Project, program: Program) -> Outcome | None:
    """Where the raw inputs come to the very same; None as soon as they do not."""
    run, left_out = begun(walk, project, program)
    recorder, steady = Recorder(run), Input()
    for given in raw_inputs(walk, project):
        steady = steady if given is None else Input(move=given.move)
        known = len(recorder.came)
        recorder.note(given, run.tick(steady if given is None else given))
        if len(recorder.came) > known and not same_so_far(walk.came, recorder.came):
            return None
    if len(recorder.came) != len(walk.came) or not_come_to(run, walk.comes_to) or left_out:
        return None
    return Outcome(walk, "as pressed", run.situation.tick, walk, way=way_of(walk.deeds))


def _as_meant(walk: Walk, project: Project, program: Program) -> Outcome:
    run, left_out = begun(walk, project, program)
    recorder, stuck, deeds = Recorder(run), "", walk.deeds
    try:
        for given in Follower(run, walk.deeds).inputs():
            recorder.note(given, run.tick(given))
    except Stuck as against:
        stuck, deeds = str(against), walk.deeds[: against.deed]
    missing = tuple(not_come_to(run, walk.comes_to))
    ticks, way = run.situation.tick, way_of(recorder.deeds())
    comes_to = tuple(_as_it_is(run, walk.comes_to, missing))
    now = replace(
        walk, deeds=deeds, came=tuple(recorder.came), pressed=tuple(recorder.pressed), ticks=ticks, comes_to=comes_to
    )
    return Outcome(walk, "as meant", ticks, now, stuck, missing, parting(walk.came, recorder.came), left_out, way)


def _as_it_is(run: Run, wanted: Sequence[Held], missing: Sequence[Held]) -> Iterator[Held]:
    """What a walk is held to, with the values that it has come to now; what is no more is left out."""
    program = run.situation.program
    for one in wanted:
        if one not in missing:
            yield one
        elif program.table.has(one.column):
            number = program.table.number(one.column)
            yield held_of(program.layout, run.situation.words, program.columns[number], run.situation.row[number])
