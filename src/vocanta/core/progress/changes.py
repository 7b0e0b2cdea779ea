"""What follows from where the player is: crossings, falls, exits, coming into levels, what comes later, the end."""

from __future__ import annotations

from ..project.records import Level
from .building import Building, plain_branch
from .guards import ALWAYS, AnyOf, Guard, both, equals, opposite
from .layout import LEAVING
from .needs import Meaning
from .ops import Happen, If, Op, Put, Tell, Told
from .program import Action, Group, Listens
from .steps import go_away, tally
from .world_steps import down_player, end_level, move_player, resets_of

# --- places


def add_places(building: Building) -> None:
    """Walking from cell to cell, falling too far, and leaving through exits."""
    _add_crossings(building)
    for key in building.layout.exits:
        _add_exit(building, key)


def _passable(building: Building, door: str) -> Guard:
    """When a doorway can be walked into: its body is gone, or neither where it is nor where it comes from blocks."""
    if not door:
        return ALWAYS
    layout, states = building.layout, building.layout.placed[door].design.states
    state, moving = layout.column("state", door), layout.column("moving", door)
    open_states = AnyOf(tuple(equals(state, i) for i, s in enumerate(states) if not s.blocks))
    not_from = [opposite(equals(moving, i + 1)) for i, s in enumerate(states) if s.blocks]
    return AnyOf((equals(layout.column("exists", door), 0), both(open_states, *not_from)))


def _add_crossings(building: Building) -> None:
    """For each cell the action of walking into it from a neighbour; a fall of more than 3.5 m downs whoever falls."""
    cells, column = building.layout.map, building.layout.column("cell")
    for number, area in enumerate(cells.areas):
        sources = [i for i, near in enumerate(cells.neighbours) if number in near]
        guard = both(AnyOf(tuple(equals(column, i) for i in sources)), _passable(building, cells.doors[number]))
        name = f"cross:{number}"
        told = Tell(Told("crossed", area))
        falls = tuple(equals(column, i) for i in sources if (i, number) in cells.falls)
        down: tuple[Op, ...] = tuple(down_player(Meaning(building.layout))) if falls else ()
        ops: tuple[Op, ...] = (Put(column, number), told)
        if falls:
            ops = (If(AnyOf(falls), (*ops, *down), ops),)
        building.add_group(Group(name, "project", (plain_branch("project", guard, ops),)))
        building.actions.append(Action(name, "cross", area, guard, name, f"area/{area}" if area else "project"))


def _add_exit(building: Building, key: str) -> None:
    """Leaving through an exit, from its own patch of floor, while it is open and leads somewhere."""
    layout, name = building.layout, f"exit:{key}"
    patch = [i for i, e in enumerate(layout.map.exits) if e == key]
    exit, _ = layout.exits[key]
    if not patch or exit.to_level not in {level.key for level in layout.project.levels}:
        return
    here = AnyOf(tuple(equals(layout.column("cell"), i) for i in patch))
    guard = both(equals(layout.column("exit", key), 1), here)
    ops = move_player(f"exit:{key}", Meaning(layout))
    building.add_group(Group(name, f"exit/{key}", (plain_branch(f"exit/{key}", guard, ops),)))
    building.actions.append(Action(name, "exit", key, guard, name, f"exit/{key}"))


# --- coming and leaving


def add_level_changes(building: Building) -> None:
    """What leaving and entering a level brings, before any cue is read; and what waits for the next area."""
    for level in building.layout.project.levels:
        if len(building.layout.project.levels) > 1:
            _add_leaving(building, level)
            _add_fresh(building, level)
        _add_starting(building, level)
    _add_visits(building)
    _add_next_area(building)


def _first(building: Building, group: Group, listens: list[Listens]) -> None:
    building.add_listening(group, listens)
    building.first.append(group.name)


def _add_leaving(building: Building, level: Level) -> None:
    """Leaving a level completes its motions, and nobody is near anything in it."""
    layout, name = building.layout, f"leaving:{level.key}"
    ops: list[Op] = []
    for key, one in layout.placed.items():
        if one.level in (level.key, ""):
            if key in building.arrivals:
                ops.append(If(opposite(equals(layout.column("moving", key), 0)), building.arrivals[key]))
            ops += go_away(key, Meaning(layout))
    edge = Listens(name, layout.column("cell"), "out_of", layout.map.of_level(level.key))
    _first(building, Group(name, f"level/{level.key}", (plain_branch(f"level/{level.key}", ALWAYS, ops),)), [edge])


def _add_fresh(building: Building, level: Level) -> None:
    """Objects that are fresh each visit start over when the level is entered: their columns and their waits."""
    layout, name = building.layout, f"fresh:{level.key}"
    ops: list[Op] = []
    for key, one in layout.placed.items():
        if one.design.fresh and one.level == level.key:
            exists = layout.column("exists", key)
            ops.append(Put(exists, layout.table.columns[exists].start))
            ops += [Put(c, v) for c, v in resets_of(key, Meaning(layout, key))]
            ops += [Put(i, 0) for i, c in enumerate(layout.table.columns) if c.name.startswith(f"waits:{key}/")]
            ops.append(Tell(Told("fresh", key)))
    if ops:
        edge = Listens(name, layout.column("cell"), "into", layout.map.of_level(level.key))
        _first(building, Group(name, f"level/{level.key}", (plain_branch(f"level/{level.key}", ALWAYS, ops),)), [edge])


def _add_starting(building: Building, level: Level) -> None:
    """A level starts when the run begins in it, and whenever it is come into."""
    layout, name = building.layout, f"starting:{level.key}"
    branch = plain_branch(f"level/{level.key}", ALWAYS, (Happen(f"started:{level.key}"),))
    edge = Listens(name, layout.column("cell"), "into", layout.map.of_level(level.key))
    _first(building, Group(name, f"level/{level.key}", (branch,)), [edge])
    if level.key == layout.project.first_level:
        building.begins.append(name)


def _add_visits(building: Building) -> None:
    """How often areas and levels were visited, where anything asks for it."""
    layout = building.layout
    for verb, key in layout.mentions.tallies:
        cells = layout.map.of_area(key) or layout.map.of_level(key)
        if verb == "visited" and cells:
            name = f"visit:{key}"
            group = Group(name, "project", (plain_branch("project", ALWAYS, tally("visited", key, layout)),))
            _first(building, group, [Listens(name, layout.column("cell"), "into", cells)])


# --- later


def add_world_clocks(building: Building) -> None:
    """Deliveries: after a time, or by a carrier, who then leaves; and the end of the level after a time."""
    layout = building.layout
    for (owner, step), value in layout.deliveries.items():
        column, name = layout.column("later", owner), f"deliver:{owner}/{value}"
        ops: list[Op] = [Put(column, 0)]
        if step.carrier is not None:
            carrier = Meaning(layout, owner if owner in layout.placed else "").key(step.carrier)
            ops.append(Put(layout.column("carrier", carrier), LEAVING))
        ops += [Tell(Told("delivered", owner)), Happen(f"later:{owner}")]
        if step.seconds is not None:
            building.add_clock(name, owner, column, value, step.seconds.value or 0.0, ops)
        elif step.carrier is not None:
            _add_delivery(building, name, owner, both(equals(column, value)), ops)
    for carrier in layout.mentions.carriers:
        if layout.table.has(f"carrier:{carrier}"):
            _add_carrier(building, carrier)
    for number, end in enumerate(layout.mentions.ends, start=1):
        if end.after is not None:
            ops = [Put(layout.column("ending"), 0), *end_level(end.outcome, Meaning(layout))]
            building.add_clock(f"end:{number}", "project", layout.column("ending"), number, end.after.value or 0.0, ops)


def _add_delivery(building: Building, name: str, owner: str, guard: Guard, ops: list[Op]) -> None:
    origin = f"object/{owner}" if owner in building.layout.placed else owner
    building.add_group(Group(name, origin, (plain_branch(origin, guard, ops),)))
    building.actions.append(Action(name, "deliver", owner, guard, name, origin))


def _add_carrier(building: Building, carrier: str) -> None:
    """A carrier who has handed over is back where they came from; one who was not there at the start is gone again."""
    layout, name = building.layout, f"carrier_back:{carrier}"
    column, origin = layout.column("carrier", carrier), f"object/{carrier}"
    ops: list[Op] = [Put(column, 0)]
    if not layout.placed[carrier].thing.there_at_start:
        away = go_away(carrier, Meaning(layout))
        ops += [Put(layout.column("exists", carrier), 0), *away, Tell(Told("removed", carrier))]
    guard = equals(column, LEAVING)
    building.add_group(Group(name, origin, (plain_branch(origin, guard, ops),)))
    building.actions.append(Action(name, "deliver", carrier, guard, name, origin))


def _add_next_area(building: Building) -> None:
    """What is to come at the next change of area."""
    layout, name, origin = building.layout, "next_area", "project"
    branches = []
    for (owner, step), value in layout.deliveries.items():
        if step.how == "area":
            column = layout.column("later", owner)
            ops = (Put(column, 0), Tell(Told("delivered", owner)), Happen(f"later:{owner}"))
            branches.append(plain_branch(origin, equals(column, value), ops, go_on=True))
    if branches:
        areas = dict.fromkeys(a for a in layout.map.areas if a)
        listens = [Listens(name, layout.column("cell"), "into", layout.map.of_area(a)) for a in areas]
        building.add_listening(Group(name, origin, tuple(branches)), listens)
