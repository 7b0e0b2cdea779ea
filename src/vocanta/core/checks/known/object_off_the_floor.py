"""An object that stands on no floor."""

from __future__ import annotations

from collections.abc import Iterator

from ...project.records import Object
from ..check import Check
from ..finding import Found, Mend, Spot, called
from ..mending import Give
from ..survey import Survey


def find(survey: Survey, thing: Object) -> Iterator[Found]:
    """Every object of a level with floor whose middle lies outside all areas and off every wall."""
    level = survey.objects[thing.key][1]
    ground = survey.ground(level)
    if ground.floor.whole.is_empty:
        return
    if thing.there_at_start and ground.off_the_floor(thing.x_m, thing.y_m) and not ground.on_a_wall(thing.key):
        address = f"object/{thing.key}"
        near = ground.nearest_standing(thing.x_m, thing.y_m)
        mends: tuple[Mend, ...] = ()
        if near is not None:
            x, y = (round(v, 2) for v in near)
            writes = (Give(address, "x_m", x), Give(address, "y_m", y))
            mends = (
                Mend(
                    "put it there",
                    f"Put it {ground.gap(thing.x_m, thing.y_m, near):.1f} m away, on the nearest floor.",
                    writes,
                ),
            )
        yield Found(
            Spot(address, "x_m"),
            called(thing.key),
            "stands on no floor",
            mends,
            "on no floor",
            rests_on=(str(thing.y_m),),
        )


CHECK = Check(
    "object_off_the_floor",
    "An object on no floor",
    "likely wrong",
    "N2",
    "Does everything stand on a floor?",
    "The object lies outside all areas of its level, where nobody comes to.",
    "Crate 4 was dragged out of the Yard.",
    "object",
    find,
    ("kinds", "floors"),
)
