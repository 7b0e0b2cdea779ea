"""At what the floor of each level is cut: zones that work by themselves, bodies that can change, be removed or be put."""

from __future__ import annotations

from dataclasses import replace

from ..phrases import nodes as n
from ..project.records import Object, Project
from ..space.cells import Cuts, Standing
from .mentions import Mentions
from .placed import Placed


def cuts_of(project: Project, placed: dict[str, Placed], mentions: Mentions) -> dict[str, Cuts]:
    """The cuts of each level."""
    zones: dict[str, list[Placed]] = {level.key: [] for level in project.levels}
    solid: dict[str, list[Placed]] = {level.key: [] for level in project.levels}
    bodies: dict[str, list[Standing]] = {level.key: [] for level in project.levels}
    for key, one in placed.items():
        if one.pool:
            continue
        if is_zone(one, mentions):
            zones[one.level].append(one)
        if one.stands and changes(one, mentions):
            for number, (level, thing) in enumerate(put_spots(one, placed, mentions)):
                bodies[level].append(Standing(thing, one.design, number))
        elif one.stands and one.design.states[0].blocks and key not in mentions.carriers:
            solid[one.level].append(one)
    return {
        level.key: Cuts(
            tuple((z.thing, z.design) for z in zones[level.key]),
            tuple(bodies[level.key]),
            tuple((s.thing, s.design) for s in solid[level.key]),
        )
        for level in project.levels
    }


def is_zone(one: Placed, mentions: Mentions) -> bool:
    """Whether the floor is cut at an object's reach: it stays where it is, and works by itself."""
    key = one.thing.key
    asked = key in mentions.paired or key in mentions.zones or bool(one.design.suspends)
    stays = not (one.walks or one.design.reach.moves_with_part or mentions.movable(key))
    return asked and stays and one.design.reach.shape != "none"


def changes(one: Placed, mentions: Mentions) -> bool:
    """Whether what an object's body blocks can change."""
    key = one.thing.key
    poses = {(s.blocks, s.swing_deg, s.slide_x_m, s.slide_y_m) for s in one.design.states}
    goes = key in mentions.removed or key in mentions.downed or not one.thing.there_at_start
    return (len(poses) > 1 and key in mentions.changed) or goes or mentions.movable(key)


def put_spots(one: Placed, placed: dict[str, Placed], mentions: Mentions) -> list[tuple[str, Object]]:
    """Where an object may come to stand for certain: where it was placed, at fixed things beside which steps put it, and
    where those stand that it changes places with. Level and the object as it stands there."""
    found = [(one.level, one.thing)]
    for (_, step), at in mentions.puts_at.items():
        if at in placed and step in mentions.put.get(one.thing.key, ()):
            found += _at(one, placed[at], step, mentions)
    for key in _circle(one.thing.key, mentions) - {one.thing.key}:
        thing = placed[key].thing
        if placed[key].level:
            found.append((placed[key].level, replace(one.thing, x_m=thing.x_m, y_m=thing.y_m)))
    return _unique(found)


def _at(one: Placed, at: Placed, step: n.PutAt, mentions: Mentions) -> list[tuple[str, Object]]:
    if mentions.movable(at.thing.key) or at.walks or not at.level:
        return []
    east, north = (o.value or 0.0 for o in step.offset) if step.offset else (0.0, 0.0)
    return [(at.level, replace(one.thing, x_m=at.thing.x_m + east, y_m=at.thing.y_m + north, turn_deg=0.0))]


def _circle(key: str, mentions: Mentions) -> set[str]:
    """Everything that may change places with a thing, at once or by way of others."""
    found, edge = {key}, [key]
    while edge:
        for other in mentions.swapped.get(edge.pop(), ()):
            if other not in found:
                found.add(other)
                edge.append(other)
    return found


def _unique(found: list[tuple[str, Object]]) -> list[tuple[str, Object]]:
    seen: dict[tuple[str, float, float, float], tuple[str, Object]] = {}
    for level, thing in found:
        seen.setdefault((level, thing.x_m, thing.y_m, thing.turn_deg), (level, thing))
    return list(seen.values())
