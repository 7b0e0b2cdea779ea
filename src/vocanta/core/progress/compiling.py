"""A project compiled to its program."""

from __future__ import annotations

from ..cuetext.index import index_of
from ..project.noting import Note, noted, unnoted
from ..project.problems import Problem
from ..project.records import Area, Kind, Level, Project, Quest
from .building import Building
from .changes import add_level_changes, add_places, add_world_clocks
from .guards import equals, opposite
from .layout import lay_out
from .moments import Owner, add_moments, read_cues
from .objects import add_object
from .program import Action, Group, Program
from .quests import add_objectives, add_quest, announce_objectives, note_requirements
from .talks import add_conversation, add_waiting
from .texts import Texts

MOST_COPIES_IN_ALL = 2_000
_ORDER = ("object", "area", "level", "quest", "conversation")


def compiled(project: Project, note: Note = unnoted) -> Program:
    """The program of a project; texts that cannot be used are left out and told in `problems`.

    Settling order: levels, areas, objects by creation, conversations, quests, objectives. Deterministic.
    Raises `ProjectError` where an own value does not fit its kind.
    """
    note("Cutting the floor", 0, 1)
    layout = lay_out(project)
    project = layout.project
    copies = {key: one.thing.kind for key, one in layout.placed.items() if one.pool}
    building = Building(layout, Texts(index_of(project), copies=copies))
    _tell_too_many(building)
    note_requirements(building)
    announce_objectives(building)
    kinds: dict[str, Kind] = {k.key: k for k in project.kinds}
    for level in project.levels:
        _add_owner(building, level, "level", level.key)
    for level in project.levels:
        for area in level.areas:
            _add_owner(building, area, "area", level.key)
    for one in noted(list(layout.placed.values()), "Reading what happens", note):
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
    _add_sensed(building)
    return _finished(building)


def _add_owner(building: Building, record: Level | Area | Quest, record_type: str, level: str) -> None:
    """Cues of what has no body."""
    owner = Owner(record_type, record.key, level)
    cues = [(c, f"{owner.place}/cue/{c.key}") for c in record.cues]
    add_moments(building, owner, read_cues(building, owner, cues))


def _add_sensed(building: Building) -> None:
    """For each sensed column that somebody listens to, the action by which its change is heard: it turns round."""
    listened = {listener.column for listener in building.listeners}
    for number, column in enumerate(building.layout.table.columns):
        if column.sensed and column.what not in ("chance", "whereabouts") and number in listened:
            name = f"sensed:{column.name}"
            building.add_group(Group(name, column.origin, ()))
            guard = opposite(equals(number, -1))
            building.actions.append(Action(name, "sensed", column.key, guard, name, column.origin, control=column.name))


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


def _rank(action: Action) -> int:
    """Where an action stands in order of creation: objects, areas, levels, quests, talk, the rest."""
    of = action.origin.partition("/")[0]
    if action.kind in ("use", "hold", "choose", "strike", "near", "away", "arrive"):
        return 0
    return _ORDER.index(of) if of in _ORDER else 0 if of == "kind" else len(_ORDER)


def _finished(building: Building) -> Program:
    first = dict.fromkeys(building.first)
    return Program(
        layout=building.layout,
        table=building.layout.table,
        groups=building.groups,
        actions=tuple(sorted(building.actions, key=_rank)),
        settling=(*first, *(name for name in building.settling if name not in first)),
        listeners=tuple(building.listeners),
        at_start=tuple(building.at_start),
        begins=building.begins,
        hears=tuple(building.hears),
        timers=tuple(building.timers),
        problems=tuple(dict.fromkeys(building.texts.problems)),
    )
