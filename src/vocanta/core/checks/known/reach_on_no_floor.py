"""A reach in which nobody can stand."""

from __future__ import annotations

from collections.abc import Iterator

from ...project.records import Object
from ..check import Check
from ..finding import Found, Mend, Spot, called
from ..mending import Give
from ..survey import Survey

SMALLEST_M2 = 0.02
_ROOM_M = 1.0


def find(survey: Survey, thing: Object) -> Iterator[Found]:
    """Every object with a reach that meets no floor on which the player could stand."""
    level = survey.objects[thing.key][1]
    ground = survey.ground(level)
    design = ground.designs[thing.key]
    stays = thing.there_at_start and not design.walks and not design.reach.moves_with_part
    if design.reach.shape == "none" or not stays or not any(s.reach_on for s in design.states):
        return
    if ground.reach_of(thing.key).intersection(ground.standable).area < SMALLEST_M2:
        address = f"object/{thing.key}"
        wide = ground.nearest_standing(thing.x_m, thing.y_m)
        mends: tuple[Mend, ...] = ()
        if design.reach.shape == "circle" and wide is not None and ground.same_band(thing.key, wide):
            radius = round(ground.gap(thing.x_m, thing.y_m, wide) + _ROOM_M, 1)
            mends = (
                Mend(
                    "reach farther",
                    f"Let its reach be {radius:g} m around it.",
                    (Give(address, "design.reach.radius_m", radius),),
                ),
            )
        at = Spot(address, "design.reach.radius_m")
        says = "can be worked from nowhere: its reach meets no floor to stand on"
        yield Found(at, called(thing.key), says, mends, "from nowhere", rests_on=(f"{thing.x_m},{thing.y_m}",))


CHECK = Check(
    "reach_on_no_floor",
    "A reach on no floor",
    "stops it",
    "N3",
    "Can one stand in every reach?",
    "The reach lies in a wall, off the floor, or above or below what it counts, so nobody ever comes into it.",
    "The switch stands behind the wall, and its reach ends before it.",
    "object",
    find,
    ("kinds", "floors"),
)
