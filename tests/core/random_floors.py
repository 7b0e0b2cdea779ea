"""Random projects with real geometry: overlapping reaches, bodies within reach of each other, doors on borders, thin
areas, walls, things that are not there at the start, carriers, somebody on a round; and a player who does this and that."""

from __future__ import annotations

import dataclasses
import math
import random
from collections.abc import Iterator

from tests.core.random_projects import random_project
from vocanta.core.engine.inputs import Input
from vocanta.core.engine.run import Run
from vocanta.core.project.records import (
    Area,
    Body,
    Cue,
    Design,
    Kind,
    Level,
    Motion,
    Object,
    Project,
    Prompt,
    Reach,
    State,
    Wall,
)

OFTEN = 0.5


def random_floor(seed: int) -> Project:
    """The rules of a random project on a floor of its own; the same for the same seed."""
    r = random.Random(seed * 7 + 1)
    project = random_project(seed)
    kinds = tuple(dataclasses.replace(k, design=_design(r, k.design)) for k in project.kinds)
    glade, cave = project.levels
    objects = [_placed(r, o, 11.0, 4.0) for o in glade.objects]
    errands = [Cue("errands", f"when near\nthen\n  later by {r.choice(('elm', 'ash'))}")] if r.random() < OFTEN else []
    objects[0] = dataclasses.replace(objects[0], cues=(*objects[0].cues, *errands))
    gate = Object("gate", "Gate", "gate_kind", 5.0, 2.0, 90.0)
    returned = Cue(
        "back", f"when {r.choice(('near', 'used', 'away'))}\nthen\n  put {r.choice(('elm', 'ash'))} where it stood"
    )
    bell = _placed(r, Object("bell", "Bell", "bell_kind", 0, 0, cues=(returned,)), 11.0, 4.0)
    glade = dataclasses.replace(
        glade,
        areas=(*_strips(r, glade.areas[0], 5.0), *_strips(r, glade.areas[1], 12.0)),
        walls=_walls(r),
        objects=(*objects, gate, bell),
    )
    cave = dataclasses.replace(cave, objects=tuple(_placed(r, o, 8.0, 5.0) for o in cave.objects))
    return dataclasses.replace(project, levels=(glade, cave), kinds=(*kinds, _gate(r), _bell(r)))


def _design(r: random.Random, design: Design) -> Design:
    reach = _reach(r)
    body = r.choice([Body("none"), Body("box", 0.4, 1.2), Body("circle", 0.7, 0.7), Body("box", 1.6, 0.2)])
    shut, ajar = design.states
    swings = r.choice([0.0, 0.0, 90.0])
    states = (dataclasses.replace(shut, blocks=r.random() < 0.6), dataclasses.replace(ajar, swing_deg=swings))
    return dataclasses.replace(design, reach=reach, body=body, states=states, walks=r.random() < 0.4)


def _reach(r: random.Random) -> Reach:
    return Reach(
        r.choice(["circle", "circle", "box", "wedge"]),
        r.uniform(0.6, 2.5),
        r.uniform(0.6, 3.0),
        r.uniform(0.6, 3.0),
        r.uniform(60.0, 300.0),
        r.choice([0.0, 0.0, 0.5]),
        facing_deg=r.choice([None, None, 60.0]),
        sight_m=r.choice([None, None, 3.0]),
        moves_with_part=r.random() < 0.25,
        who=r.choice([("player",), ("player",), ("player", "characters")]),
    )


def _placed(r: random.Random, one: Object, wide: float, deep: float) -> Object:
    rounds = tuple((r.uniform(0.6, wide), r.uniform(0.6, deep - 0.6)) for _ in range(2)) if r.random() < 0.3 else ()
    x, y = r.uniform(0.6, wide), r.uniform(0.5, deep - 0.5)
    there = r.random() < 0.8
    return dataclasses.replace(
        one, x_m=x, y_m=y, turn_deg=r.choice([0.0, 90.0, 33.0]), round=rounds, there_at_start=there
    )


def _strips(r: random.Random, area: Area, right: float) -> tuple[Area, ...]:
    """An area, in some projects with a thin one cut off its right."""
    thin = r.choice([0.0, 0.03, 0.1, 0.4])
    (left, low), _, (_, high), _ = area.outline
    if not thin:
        return (area,)
    cut = right - thin
    slit = Area(
        f"{area.key}_slit", "Slit", ((cut, low), (right, low), (right, high), (cut, high)), floor_m=r.choice([0.0, 0.2])
    )
    return dataclasses.replace(area, outline=((left, low), (cut, low), (cut, high), (left, high))), slit


def _walls(r: random.Random) -> tuple[Wall, ...]:
    """A wall on the border with a gap for the gate, in some projects one more that stands free."""
    border = (Wall("low", ((5.0, 0.0), (5.0, 1.5))), Wall("high", ((5.0, 2.5), (5.0, 4.0))))
    free = Wall(
        "free", ((r.uniform(6.0, 8.0), 1.0), (r.uniform(8.0, 10.0), r.uniform(1.0, 3.0))), r.choice([None, 1.2])
    )
    return (*(border if r.random() < 0.7 else ()), *((free,) if r.random() < OFTEN else ()))


def _gate(r: random.Random) -> Kind:
    states = [State("shut", "shut"), State("open", "open", blocks=False, swing_deg=r.choice([0.0, 90.0]))]
    if r.random() < 0.4:
        states.reverse()
    design = Design(
        body=Body("box", 1.0, 0.1, 2.0),
        reach=Reach("circle", r.uniform(1.0, 2.0), moves_with_part=r.random() < 0.3),
        states=tuple(states),
        motion=Motion(r.choice([0.0, 0.5]), hinge_x_m=-0.5, stay_clear=r.random() < OFTEN),
        prompts=(Prompt("p1", "Open"),),
    )
    used = r.random() < 0.7
    return Kind(
        "gate_kind", "gate", design=design, cues=(Cue("c1", "when used\nthen\n  set this to next"),) if used else ()
    )


def _bell(r: random.Random) -> Kind:
    return Kind("bell_kind", "bell", design=Design(reach=_reach(r), prompts=(Prompt("p1", "Ring"),)))


def played(run: Run, seed: int, ticks: int) -> Iterator[Input]:
    """So many inputs of a player who goes about, presses, holds, answers and decides."""
    r, held, direction = random.Random(seed), "", (0.0, 0.0)
    for tick in range(ticks):
        how = {}
        if tick % 20 == 0:
            direction, goal = _whither(run, r)
            if goal is not None:
                how["walk_to"] = goal
        if held and r.random() < 0.05:
            how["up"], held = (held,), ""
        elif not held and r.random() < 0.12:
            held = r.choice(("use", "use", "second"))
            how["down"] = (held,)
        if r.random() < 0.04:
            how["look"] = r.uniform(-180.0, 180.0)
        if r.random() < 0.05:
            how |= _spoken(run, r)
        yield Input(move=direction if "walk_to" not in how else (0.0, 0.0), **how)


def _whither(run: Run, r: random.Random) -> tuple[tuple[float, float], tuple[float, float] | None]:
    """Straight on, nowhere, or by the way to something or to an exit."""
    how = r.random()
    if how < 0.35:
        angle = r.uniform(0.0, 2 * math.pi)
        return (math.cos(angle), math.sin(angle)), None
    level: Level = run.situation.scene.level
    places = [run.places.place_of(o.key) for o in level.objects]
    spots = [(p.x, p.y) for p in places if p.level == level.key] + [(e.x_m, e.y_m) for e in level.exits]
    if how > 0.9 or not spots:
        return (0.0, 0.0), None
    x, y = r.choice(spots)
    return (0.0, 0.0), (x + r.uniform(-0.8, 0.8), y + r.uniform(-0.8, 0.8))


def _spoken(run: Run, r: random.Random) -> dict[str, object]:
    speech = run.talk.speech
    if speech is not None and speech.line.replies and r.random() < 0.7:
        return {"choose": r.choice(speech.line.replies).key}
    if speech is not None:
        return {"skip": True}
    return {"decide": f"{r.choice(('start', 'decline', 'give up'))}:errand"} if r.random() < 0.2 else {}
