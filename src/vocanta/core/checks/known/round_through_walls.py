"""A character's round that goes through walls, or to where nobody can stand."""

from __future__ import annotations

import itertools
from collections.abc import Iterator

from ...project.records import Object
from ..check import Check
from ..finding import Found, Spot, called
from ..survey import Survey


def find(survey: Survey, thing: Object) -> Iterator[Found]:
    """Every round of which a stop cannot be stood at, or of which a stretch as drawn crosses a wall."""
    level = survey.objects[thing.key][1]
    ground = survey.ground(level)
    if not ground.designs[thing.key].walks or len(thing.round) < 2:
        return
    at, whose, rests = Spot(f"object/{thing.key}", "round"), called(thing.key), (thing.key,)
    room = ground.designs[thing.key].body.width_m / 2
    barred = next((i for i, (x, y) in enumerate(thing.round, 1) if ground.solid_at(x, y, room) in ("edge", "wall")), 0)
    stretches = [*itertools.pairwise(thing.round), (thing.round[-1], thing.round[0])]
    through = next((i for i, (a, b) in enumerate(stretches, 1) if ground.walled(a, b)), 0)
    if barred:
        says = f"walks a round whose stop {barred} lies where nobody can stand"
        yield Found(at, whose, says, (), "nobody can stand", rests_on=rests)
    elif through:
        says = f"walks a round that goes through a wall behind stop {through}"
        yield Found(at, whose, says, (), "through a wall", rests_on=rests)


CHECK = Check(
    "round_through_walls",
    "A round through walls",
    "likely wrong",
    "N5",
    "Can every round be walked as it is drawn?",
    "A stop lies in a wall or off the floor, or the way drawn between two stops crosses a wall: the character walks some "
    "other way.",
    "Mr Quill’s round goes straight from the Yard into the Palm House.",
    "object",
    find,
    ("kinds", "floors"),
)
