"""What follows from where the player is: crossings, falls, exits, coming into levels, what comes later, the end."""

from __future__ import annotations

from collections.abc import Iterator

from ..project.records import Ending, Level
from ..space.cells import Blocker
from .building import Building, plain_branch
from .guards import ALWAYS, NEVER, AnyOf, Guard, Within, among, both, equals, opposite
from .happenings import Happening
from .layout import LEAVING, ON_THE_WAY, Layout
from .leaping import down_player, leap
from .meaning import spot_of
from .nearness import after_change, after_walking, differing, go_away
from .object_steps import awaited, carrier_of, named
from .ops import Happen, If, Op, Put, Reset, Tell, Told
from .placing import resets_of
from .program import Action, Group, Listens
from .tracking import tally
from .world_steps import end_level

# --- places


def add_places(building: Building) -> None:
    """Walking from cell to cell, falling too far, and leaving through exits."""
    for number in range(len(building.layout.cells.cells)):
        _add_crossing(building, number)
    for key in building.layout.exits:
        _add_exit(building, key)


def passable(layout: Layout, number: int) -> Guard:
    """When a cell can be walked into: no body fills it, neither as it stands nor as it comes from where it stood."""
    return both(*(_clear(layout, blocker) for blocker in layout.cells.cells[number].blockers))


def _clear(layout: Layout, blocker: Blocker) -> Guard:
    key, moving, down = blocker.key, layout.find("moving", blocker.key), layout.find("down", blocker.key)
    ways: list[Guard] = [equals(layout.column("exists", key), 0)]
    stands = opposite(among(layout.column("state", key), blocker.states))
    comes = ALWAYS if moving is None else opposite(among(moving, [s + 1 for s in blocker.states]))
    ways.append(both(stands, comes))
    if down is not None:
        ways.append(equals(down, 1))
    place = layout.find("place", key)
    if place is not None:
        ways.append(opposite(among(place, layout.cells.of_spot(key, blocker.spot))))
    return AnyOf(tuple(ways))


def _add_crossing(building: Building, number: int) -> None:
    """The action of walking into a cell from a neighbour; a fall of more than 3.5 m downs whoever falls."""
    layout = building.layout
    cells, column = layout.cells, layout.column("cell")
    area, level = cells.cells[number].area, cells.cells[number].level
    sources = [i for i, near in enumerate(cells.neighbours) if number in near]
    guard = both(among(column, sources) if sources else AnyOf(()), passable(layout, number))
    others = [i for i in sources if cells.cells[i].area != area]
    told = Tell(Told(Happening.CROSSED, area or level))
    tell = () if not others else (told,) if len(others) == len(sources) else (If(among(column, others), (told,)),)
    falls = [i for i in sources if (i, number) in cells.falls]
    ops: tuple[Op, ...] = (*tell, Put(column, number), *after_walking(layout, differing(layout, number, sources)))
    if falls:
        ops = (If(among(column, falls), (*ops, *down_player(layout)), ops),)
    name, origin = f"cross:{number}", f"area/{area}" if area else f"level/{level}"
    building.add_group(Group(name, "project", (plain_branch("project", guard, ops),)))
    building.actions.append(Action(name, "cross", area, guard, name, origin))


def _add_exit(building: Building, key: str) -> None:
    """Leaving through an exit, from its own patch of floor, while it is open and leads somewhere."""
    layout, name = building.layout, f"exit:{key}"
    patch = [i for i, cell in enumerate(layout.cells.cells) if cell.exit == key]
    exit, _ = layout.exits[key]
    if not patch or exit.to_level not in {level.key for level in layout.project.levels}:
        return
    guard = both(equals(layout.column("exit", key), 1), among(layout.column("cell"), patch))
    branch = plain_branch(f"exit/{key}", guard, leap(layout, f"exit:{key}"))
    building.add_group(Group(name, f"exit/{key}", (branch,)))
    building.actions.append(Action(name, "exit", key, guard, name, f"exit/{key}"))


# --- coming and leaving


def add_level_changes(building: Building) -> None:
    """What leaving and entering a level brings, before any cue is read; and what waits for the next area."""
    several = len(building.layout.project.levels) > 1
    _add_standing(building)
    for level in building.layout.project.levels:
        if several:
            _add_leaving(building, level)
            _add_fresh(building, level)
        _add_starting(building, level)
    _add_visits(building)
    _add_next_area(building)


def _first(building: Building, name: str, level: Level, ops: list[Op], edge: Listens) -> None:
    """A group of our own that settles before all others; none without operations."""
    if ops:
        origin = f"level/{level.key}"
        building.add_listening(Group(name, origin, (plain_branch(origin, ALWAYS, ops),)), [edge])
        building.first.append(name)


def _add_standing(building: Building) -> None:
    """Where a run begins, the player is near what the cell says."""
    ops = after_walking(building.layout, building.layout.zone_keys)
    if ops:
        building.add_listening(Group("standing", "project", (plain_branch("project", ALWAYS, ops),)))
        building.first.append("standing")
        building.at_start.append("standing")


def _add_leaving(building: Building, level: Level) -> None:
    """Leaving a level completes its motions, and nobody else who counts is near anything in it any more."""
    layout, name = building.layout, f"leaving:{level.key}"
    ops: list[Op] = []
    for key in layout.may_lie_in(level.key):
        moving = layout.find("moving", key)
        ends: tuple[Op, ...] = ()
        if moving is not None:
            ends = (If(opposite(equals(moving, 0)), building.arrivals[key]),)
        if not layout.near_by_cell(key):
            ends = (*ends, *go_away(layout, key))
        ops += _where_in(layout, key, level.key, ends)
    cells = layout.cells.of_level(level.key)
    _first(building, name, level, ops, Listens(name, layout.column("cell"), "out_of", cells))


def _where_in(layout: Layout, key: str, level: str, ops: tuple[Op, ...]) -> list[Op]:
    """Operations for an object that may lie in a level: on a condition for what can be elsewhere."""
    if not ops or not layout.mentions.movable(key):
        return list(ops)
    spot = spot_of(layout, key)
    if spot.column >= 0:
        return [If(among(spot.column, layout.cells.of_level(level)), ops)]
    return list(ops) if layout.placed[key].level == level else []


def _add_fresh(building: Building, level: Level) -> None:
    """Objects that are fresh each visit start over when the level is entered: those placed in it, and copies that lie in
    it. That is no moment, being near there is."""
    layout, name = building.layout, f"fresh:{level.key}"
    ops: list[Op] = []
    for key in layout.may_lie_in(level.key):
        one = layout.placed[key]
        if not one.design.fresh or one.level not in (level.key, ""):
            continue
        whole = [(layout.column("exists", key), int(one.thing.there_at_start)), *resets_of(key, layout)]
        place = layout.find("place", key)
        if place is not None and one.level:
            whole.append((place, layout.table.columns[place].start))
        over = (Reset(tuple(whole)), Tell(Told(Happening.FRESH, key)), *after_change(layout, key))
        ops += over if one.level else _where_in(layout, key, level.key, over)
    cells = layout.cells.of_level(level.key)
    _first(building, name, level, ops, Listens(name, layout.column("cell"), "into", cells))


def _add_starting(building: Building, level: Level) -> None:
    """A level starts when the run begins in it, and whenever it is come into."""
    layout, name = building.layout, f"starting:{level.key}"
    edge = Listens(name, layout.column("cell"), "into", layout.cells.of_level(level.key))
    _first(building, name, level, [Happen(f"started:{level.key}")], edge)
    building.begins[level.key] = name


def _add_visits(building: Building) -> None:
    """How often areas and levels were visited, where anything asks for it."""
    layout = building.layout
    for verb, key in layout.mentions.tallies:
        cells = layout.cells.of_area(key) or layout.cells.of_level(key)
        if verb == "visited" and cells:
            name = f"visit:{key}"
            group = Group(name, "project", (plain_branch("project", ALWAYS, tally("visited", key, layout)),))
            building.add_listening(group, [Listens(name, layout.column("cell"), "into", cells)])
            building.first.append(name)


# --- later


def add_world_clocks(building: Building) -> None:
    """Deliveries: after a time, or by a carrier, who then leaves; and the end of the level after a time."""
    layout = building.layout
    for (owner, step), value in layout.deliveries.items():
        key = awaited(owner, step)
        column, name = layout.column("later", key), f"deliver:{key}/{value}"
        ops: list[Op] = [Put(column, 0)]
        carrier = carrier_of(owner, step, layout)
        if carrier:
            ops.append(Put(layout.column("carrier", carrier), LEAVING))
        ops += [Tell(Told(Happening.DELIVERED, owner, named(step))), Happen(f"later:{key}")]
        if step.seconds is not None:
            building.add_clock(name, owner, column, value, step.seconds.value or 0.0, ops)
        elif carrier:
            _add_delivery(building, name, carrier, equals(column, value), ops, owner)
    for carrier in layout.mentions.carriers:
        if layout.find("carrier", carrier) is not None:
            _add_carrier(building, carrier)
    ended, ending = layout.column("ended"), layout.column("ending")
    for number, end in enumerate(layout.mentions.ends, start=1):
        if end.after is not None:
            over = If(equals(ended, 0), end_level(end.outcome, layout))
            building.add_clock(
                f"end:{number}", "project", ending, number, end.after.value or 0.0, [Put(ending, 0), over]
            )
    for number, (level, of_level) in enumerate(layout.endings, start=len(layout.mentions.ends) + 1):
        _add_ending(building, f"level/{level}", number, of_level)


def _add_ending(building: Building, origin: str, number: int, ending: Ending) -> None:
    """A level that ends by itself: once all that is asked for is so, at once or after a time. The first end counts."""
    layout = building.layout
    guards = [_reached(layout, key) for key in ending.when if key != "?"]
    if not guards:
        return
    ended, running = layout.column("ended"), layout.column("ending")
    over, name = end_level(ending.outcome, layout), f"ending:{number}"
    if ending.after_s:
        told = Tell(Told(Happening.ENDING, ending.outcome, (("after", ending.after_s),)))
        begun: tuple[Op, ...] = (Put(running, number), told)
        late: list[Op] = [Put(running, 0), If(equals(ended, 0), over)]
        building.add_clock(f"end:{number}", "project", running, number, ending.after_s, late, origin)
    else:
        begun = over
    open_yet = both(equals(ended, 0), equals(running, 0))
    building.follow(Group(name, origin, (plain_branch(origin, both(open_yet, *guards), begun),)), guards)


def _reached(layout: Layout, key: str) -> Guard:
    """An objective is met, or a quest was done; never for what is neither."""
    if key in layout.quests:
        return Within(layout.column("completions", key), 1, max(layout.quests[key].times, 1))
    met = layout.find("met", key)
    return NEVER if met is None else equals(met, 1)


def _add_delivery(building: Building, name: str, carrier: str, guard: Guard, ops: list[Op], owner: str) -> None:
    """The action of handing over, whose subject is who brings it."""
    origin = f"object/{owner}" if owner in building.layout.placed else owner
    building.add_group(Group(name, origin, (plain_branch(origin, guard, ops),)))
    building.actions.append(Action(name, "deliver", carrier, guard, name, origin))


def _add_carrier(building: Building, carrier: str) -> None:
    """A carrier who has handed over is back where they came from; one who was not there at the start is gone again."""
    layout, name = building.layout, f"carrier_back:{carrier}"
    column, origin = layout.column("carrier", carrier), f"object/{carrier}"
    ops: list[Op] = [Put(column, 0)]
    if not layout.placed[carrier].thing.there_at_start:
        gone = (Put(layout.column("exists", carrier), 0), *after_change(layout, carrier))
        ops += [*gone, Tell(Told(Happening.REMOVED, carrier))]
    brings = AnyOf(tuple(guard for _, guard in _brought_by(layout, carrier)))
    guard = AnyOf((equals(column, LEAVING), both(equals(column, ON_THE_WAY), opposite(brings))))
    building.add_group(Group(name, origin, (plain_branch(origin, guard, ops),)))
    building.actions.append(Action(name, "deliver", carrier, guard, name, origin))


def _brought_by(layout: Layout, carrier: str) -> Iterator[tuple[str, Guard]]:
    """What a carrier may be bringing: whose it is, and while what holds."""
    for (owner, step), value in layout.deliveries.items():
        if carrier_of(owner, step, layout) == carrier:
            yield owner, equals(layout.column("later", awaited(owner, step)), value)


def _add_next_area(building: Building) -> None:
    """What is to come at the next change of area."""
    layout, name, origin = building.layout, "next_area", "project"
    branches = []
    for (owner, step), value in layout.deliveries.items():
        if step.how == "area":
            key = awaited(owner, step)
            column = layout.column("later", key)
            ops = (Put(column, 0), Tell(Told(Happening.DELIVERED, owner, named(step))), Happen(f"later:{key}"))
            branches.append(plain_branch(origin, equals(column, value), ops, go_on=True))
    if branches:
        areas = dict.fromkeys(c.area for c in layout.cells.cells if c.area)
        listens = [Listens(name, layout.column("cell"), "into", layout.cells.of_area(a)) for a in areas]
        building.add_listening(Group(name, origin, tuple(branches)), listens)
