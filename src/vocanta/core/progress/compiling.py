"""A project compiled to its program."""

from __future__ import annotations

from ..cuetext.index import index_of
from ..project.problems import Problem
from ..project.records import Area, Kind, Level, Project, Quest
from ..space.cells import Cells
from ..space.landings import landing
from .building import Building
from .changes import add_level_changes, add_places, add_world_clocks
from .layout import CellMap, lay_out, placed_of
from .layout import entries_of as entries_by_name
from .mentions import mentions_of
from .moments import Owner, add_moments, read_cues
from .objects import add_object
from .program import Program
from .quests import add_objectives, add_quest, announce_objectives
from .talks import add_conversation, add_waiting
from .texts import Texts

MOST_COPIES_IN_ALL = 2_000


def cell_map(cells: Cells, project: Project) -> CellMap:
    """The cells of a project, with the one the player starts in and those where each entry leads."""
    level = next((lv for lv in project.levels if lv.key == project.first_level), None)
    if level is None or not cells.cells:
        return CellMap()
    start = cells.at(level.key, level.start_x_m, level.start_y_m)
    found = cells.cells
    spots = [landing(project, entry) for entry in entries_by_name(project, mentions_of(project, placed_of(project)))]
    arrivals = [cells.at(spot.level, spot.x, spot.y) if spot else -1 for spot in spots]
    return CellMap(
        areas=tuple(c.area for c in found),
        levels=tuple(c.level for c in found),
        neighbours=cells.neighbours,
        doors=tuple(c.door for c in found),
        exits=tuple(c.exit for c in found),
        falls=cells.falls,
        start=max(start, 0),
        arrivals=tuple(max(a, 0) for a in arrivals),
    )


def compiled(project: Project, cells: CellMap | None = None) -> Program:
    """The program of a project; texts that cannot be used are left out and told in `problems`.

    Order: actions by level and object in file order, then conversations, then crossings. Deterministic.
    Raises `ProjectError` where an own value does not fit its kind.
    """
    layout = lay_out(project, cells or CellMap())
    copies = {key: one.thing.kind for key, one in layout.placed.items() if one.pool}
    building = Building(layout, Texts(index_of(project), copies=copies))
    _tell_too_many(building)
    announce_objectives(building)
    kinds: dict[str, Kind] = {k.key: k for k in project.kinds}
    for level in project.levels:
        _add_owner(building, level, "level", level.key)
        for area in level.areas:
            _add_owner(building, area, "area", level.key)
    for one in layout.placed.values():
        add_object(building, one, kinds.get(one.thing.kind))
    for talk in project.conversations:
        add_conversation(building, talk)
    add_waiting(building)
    for quest in project.quests:
        add_quest(building, quest)
        _add_owner(building, quest, "quest", project.first_level)
    for quest in project.quests:
        add_objectives(building, quest)
    add_world_clocks(building)
    add_places(building)
    add_level_changes(building)
    return _finished(building)


def _add_owner(building: Building, record: Level | Area | Quest, record_type: str, level: str) -> None:
    """Cues of what has no body."""
    owner = Owner(record_type, record.key, level)
    cues = [(c, f"{owner.place}/cue/{c.key}") for c in record.cues]
    add_moments(building, owner, read_cues(building, owner, cues))


def _tell_too_many(building: Building) -> None:
    copies = sum(pool.most for pool in building.layout.mentions.pools.values())
    if copies > MOST_COPIES_IN_ALL:
        building.texts.problems.append(
            Problem(
                "too_many_copies",
                f"All steps together may put {copies} copies; a playtest stays quick up to {MOST_COPIES_IN_ALL}.",
                "Say “at most” with a smaller number in the steps that put, scatter or drop.",
                "project",
            )
        )


def _finished(building: Building) -> Program:
    actions = tuple(building.actions)
    first = building.first
    return Program(
        table=building.layout.table,
        groups=building.groups,
        actions=actions,
        settling=(*first, *(name for name in building.settling if name not in set(first))),
        listeners=tuple(building.listeners),
        at_start=tuple(building.at_start),
        begins=tuple(building.begins),
        hears=tuple(building.hears),
        timers=tuple(building.timers),
        problems=tuple(dict.fromkeys(building.texts.problems)),
        layout=building.layout,
        by_name={a.name: a for a in actions},
    )
