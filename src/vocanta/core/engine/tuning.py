"""Values tried while walking: the project with them, and a run that goes on in it from where it is."""

from __future__ import annotations

from dataclasses import dataclass, fields, replace
from typing import Any

from pydantic import TypeAdapter, ValidationError

from ..progress.columns import Column
from ..progress.program import Program
from ..progress.recompiling import recompiled
from ..project.designs import leads_somewhere, resolved
from ..project.problems import Problem, ProjectError
from ..project.records import Level, Object, Player, Project
from ..project.tree import plain
from ..space.cells import Cell
from .beginning import Start
from .run import Run
from .talking import voice_ticks

_PLAYER = TypeAdapter(Player)
MOST_VOICE_S = 600.0


@dataclass(frozen=True, slots=True)
class Tried:
    """A value tried: `of` is `project`, an object or a line by its name; `path` leads to it, as own values are addressed."""

    of: str
    path: str
    value: float | bool


def read_tried(data: Any) -> tuple[Tried, ...]:
    """Values tried from plain data. Raises `ProjectError` (`input_senseless`)."""
    try:
        return _TRIED.validate_python(data)
    except ValidationError as error:
        says = f"The values tried are not understood: {error.errors()[0]['msg']}."
        raise ProjectError([Problem("input_senseless", says, "Send a list of of, path and value.", "try")]) from error


_TRIED = TypeAdapter(tuple[Tried, ...])


def with_tried(project: Project, tried: tuple[Tried, ...]) -> Project:
    """A project with values tried in it.

    Raises `ProjectError` (`not_tried`) for what is no value of an object, a line's length or the player's pace, and for a
    value out of its limits.
    """
    for one in tried:
        project = _with(project, one)
    return project


def _with(project: Project, one: Tried) -> Project:
    if one.of == "project":
        return _with_player(project, one)
    if one.path == "seconds":
        return _with_voice(project, one)
    levels = tuple(_with_own(project, level, one) for level in project.levels)
    if all(now is before for now, before in zip(levels, project.levels, strict=True)):
        raise _not_tried(one, "there is no object of that name")
    return replace(project, levels=levels)


def _with_player(project: Project, one: Tried) -> Project:
    name = one.path.removeprefix("player.")
    if name not in {f.name for f in fields(Player)} or name == one.path:
        raise _not_tried(one, "only the player’s values are tried of a project")
    whole = {f.name: getattr(project.player, f.name) for f in fields(Player)} | {name: one.value}
    try:
        return replace(project, player=_PLAYER.validate_python(whole))
    except ValidationError as error:
        raise _not_tried(one, error.errors()[0]["msg"]) from error


def _with_voice(project: Project, one: Tried) -> Project:
    if not 0.0 < float(one.value) <= MOST_VOICE_S:
        raise _not_tried(one, f"a voice lasts up to {MOST_VOICE_S:g} s")
    talks = []
    for talk in project.conversations:
        lines = tuple(replace(m, seconds=float(one.value)) if m.key == one.of else m for m in talk.lines)
        talks.append(talk if lines == talk.lines else replace(talk, lines=lines))
    return replace(project, conversations=tuple(talks))


def _with_own(project: Project, level: Level, one: Tried) -> Level:
    if one.of not in {o.key for o in level.objects}:
        return level
    return replace(level, objects=tuple(_tuned(project, o, one) if o.key == one.of else o for o in level.objects))


def _tuned(project: Project, thing: Object, one: Tried) -> Object:
    """An object with a value of its own; one that does not fit its kind is refused."""
    now = replace(thing, own={**thing.own, one.path: one.value})
    kind = next((k for k in project.kinds if k.key == thing.kind), None)
    if kind is None:
        raise _not_tried(one, "it is of no kind")
    if not leads_somewhere(plain(kind.design), one.path):
        raise _not_tried(one, "it has no such value")
    try:
        resolved(kind, now)
    except ProjectError as error:
        raise _not_tried(one, error.problems[0].message) from error
    return now


def _not_tried(one: Tried, why: str) -> ProjectError:
    says = f"{one.path} of {one.of.replace('_', ' ')} cannot be {one.value}: {why}."
    return ProjectError([Problem("not_tried", says, "Try another value.", "try")])


# --- a run that goes on


def gone_on(run: Run, tried: tuple[Tried, ...]) -> Run:
    """The run as it goes on in its project with values tried. All that was under way goes on; the chronicle is the same.

    Raises `ProjectError` (`not_tried`) where one does not fit, and where what can happen would be another than before.
    """
    project = with_tried(run.situation.project, tried)
    if project == run.situation.project:
        return run
    program = recompiled(run.situation.program, project)
    if [c.name for c in program.columns] != [c.name for c in run.situation.program.columns]:
        raise _not_tried(tried[-1], "other things could happen with it than before; change it on the plan")
    return _carried(run, project, program)


def _carried(old: Run, project: Project, program: Program) -> Run:
    """A run of a program whose columns are the same, with all that another has come to."""
    player = old.situation.player
    start = Start(player.x, player.y, player.facing_deg, level=old.situation.level, seed=old.situation.seed)
    new = Run(project, start, program, going=False)
    here, was = new.situation, old.situation
    here.tick, here.actions, here.player, here.spots, here.stood = was.tick, was.actions, player, was.spots, was.stood
    cells = program.layout.cells == was.layout.cells
    for number, (column, value) in enumerate(zip(program.columns, was.row, strict=True)):
        value = value if cells else _value_in(old, new, column, value)
        here.row[number] = min(max(value, column.lowest), column.highest)
    new.chronicle, new.ledger, new.off, new.held = old.chronicle, old.ledger, old.off, old.held
    new.clocks.left, new.clocks.again = old.clocks.left, old.clocks.again
    new.errands.goes_on_as(old.errands)
    new.places.landed = old.places.landed if cells else here.cell
    for control, hold in old.holds.by_control.items():
        new.holds.by_control[control] = hold
    new.take_levels_of(old)
    _speak_on(old, new)
    new.look()
    return new


def _value_in(old: Run, new: Run, column: Column, value: int) -> int:
    """A value where the floor is cut otherwise by now: cells are those of the places where things are."""
    here = new.situation
    if column.what == "cell":
        return _cell_in(old, new)
    if column.what in ("place", "stood", "whereabouts"):
        spot = here.spots.get(column.key)
        return here.cells.at(spot.level, spot.x, spot.y) if spot is not None else column.start
    return value


def _cell_in(old: Run, new: Run) -> int:
    """The player's cell where the floor is cut otherwise: one of the same zones, from which the next tick walks on."""
    cells, was, player = new.situation.cells, old.situation.cells.cells[old.situation.cell], old.situation.player
    here = cells.at(was.level, player.x, player.y)
    alike = [n for n in cells.by_level[was.level] if _zones(cells.cells[n]) == _zones(was)]
    if not alike or here in alike:
        return here
    return min(alike, key=lambda n: cells.gap_m(n, player.x, player.y))


def _zones(cell: Cell) -> tuple[str, str, frozenset[str]]:
    return cell.area, cell.exit, frozenset(cell.zones)


def _speak_on(old: Run, new: Run) -> None:
    """Whoever speaks goes on; a voice of another length has spoken as long as it has."""
    speech = old.talk.speech
    if speech is None:
        return
    talk = new.situation.layout.conversations[speech.conversation]
    line = next(m for m in talk.lines if m.key == speech.line.key)
    total = voice_ticks(line, speech.wording, new.talk.sounds.get(line.voice))
    passed = speech.total - speech.left
    new.talk.speech = replace(speech, line=line, total=total, left=max(1, total - passed))
