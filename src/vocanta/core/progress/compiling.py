"""A project compiled to its program."""

from __future__ import annotations

from dataclasses import dataclass

from ..cuetext.index import index_of
from ..project.records import Area, Kind, Level, Project
from ..space.cells import Cells
from .building import Building, add_resumes, cue_branch, plain_branch
from .guards import ALWAYS, AnyOf, Guard, both, equals, opposite
from .layout import lay_out
from .needs import Meaning
from .objects import add_object
from .ops import Put, Tell, Told
from .program import Action, Branch, Group, Listens, Program
from .quests import add_objectives, add_quest, announce_objectives
from .talks import add_conversation, add_waiting
from .texts import Texts


@dataclass(frozen=True, slots=True)
class CellMap:
    """The cells of a project as the program sees them: the area of each, and which can be walked into from which."""

    areas: tuple[str, ...] = ("",)
    neighbours: tuple[frozenset[int], ...] = (frozenset(),)
    doors: tuple[str, ...] = ("",)
    start: int = 0


def cell_map(cells: Cells, project: Project) -> CellMap:
    """The cells of a project, with the one the player starts in."""
    level = next((lv for lv in project.levels if lv.key == project.first_level), None)
    if level is None or not cells.cells:
        return CellMap()
    start = cells.at(level.key, level.start_x_m, level.start_y_m)
    return CellMap(
        tuple(c.area for c in cells.cells), cells.neighbours, tuple(c.door for c in cells.cells), max(start, 0)
    )


def compiled(project: Project, cells: CellMap | None = None) -> Program:
    """The program of a project; texts that cannot be used are left out and told in `problems`.

    Order: actions by level and object in file order, then conversations, then crossings. Deterministic.
    Raises `ProjectError` where an own value does not fit its kind.
    """
    cells = cells or CellMap()
    layout = lay_out(project, cells.areas, cells.start)
    building = Building(layout, Texts(index_of(project)))
    announce_objectives(building)
    kinds: dict[str, Kind] = {k.key: k for k in project.kinds}
    for level in project.levels:
        _add_place_cues(building, level)
        for area in level.areas:
            _add_place_cues(building, area)
    for one in layout.placed.values():
        add_object(building, one, kinds[one.thing.kind].cues if one.thing.kind in kinds else ())
    for talk in project.conversations:
        add_conversation(building, talk)
    add_waiting(building)
    for quest in project.quests:
        add_quest(building, quest)
    for quest in project.quests:
        add_objectives(building, quest)
    _add_crossings(building, cells)
    return _finished(building)


def _finished(building: Building) -> Program:
    actions = tuple(building.actions)
    return Program(
        table=building.layout.table,
        groups=building.groups,
        actions=actions,
        settling=tuple(building.settling),
        listeners=tuple(building.listeners),
        at_start=tuple(building.at_start),
        problems=tuple(building.texts.problems),
        speeches=building.layout.speeches,
        cells=building.layout.cells,
        by_name={a.name: a for a in actions},
    )


def _add_place_cues(building: Building, owner: Level | Area) -> None:
    """Cues of a level or an area: entered and left."""
    kind = "area" if isinstance(owner, Area) else "level"
    meaning = Meaning(building.layout)
    moments: dict[tuple[str, str], list[Branch]] = {}
    for cue in owner.cues:
        place = f"{kind}/{owner.key}/cue/{cue.key}"
        tree = building.texts.cue(cue.text, place, "") if cue.text.strip() else None
        if tree is not None and tree.moment.verb in ("entered", "left"):
            area = tree.moment.word.text if tree.moment.word else owner.key
            branch = cue_branch(building, tree, place, meaning)
            add_resumes(building, owner.key, branch)
            moments.setdefault((tree.moment.verb, area), []).append(branch)
    for (verb, area), branches in moments.items():
        name = f"{verb}:{owner.key}/{area}"
        numbers = frozenset(i for i, a in enumerate(building.layout.cells) if a == area)
        edge = Listens(name, building.layout.column("cell"), "into" if verb == "entered" else "out_of", numbers)
        building.add_listening(Group(name, f"{kind}/{owner.key}", tuple(branches)), [edge])


def _passable(building: Building, door: str) -> Guard:
    """When a doorway can be walked into: its body is gone, or neither where it is nor where it comes from blocks."""
    if not door:
        return ALWAYS
    layout, states = building.layout, building.layout.placed[door].design.states
    state, moving = layout.column("state", door), layout.column("moving", door)
    open_states = AnyOf(tuple(equals(state, i) for i, s in enumerate(states) if not s.blocks))
    not_from = [opposite(equals(moving, i + 1)) for i, s in enumerate(states) if s.blocks]
    return AnyOf((equals(layout.column("exists", door), 0), both(open_states, *not_from)))


def _add_crossings(building: Building, cells: CellMap) -> None:
    """For each cell the action of walking into it from a neighbour."""
    column = building.layout.column("cell")
    for number, area in enumerate(cells.areas):
        sources = [i for i, near in enumerate(cells.neighbours) if number in near]
        guard = both(AnyOf(tuple(equals(column, i) for i in sources)), _passable(building, cells.doors[number]))
        name = f"cross:{number}"
        told = Tell(Told("crossed", area))
        building.add_group(Group(name, "project", (plain_branch("project", guard, (Put(column, number), told)),)))
        building.actions.append(Action(name, "cross", area, guard, name, f"area/{area}" if area else "project"))
