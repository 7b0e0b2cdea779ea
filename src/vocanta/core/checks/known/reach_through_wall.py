"""A reach that goes through a wall into another area, where sight is not asked for."""

from __future__ import annotations

import math
from collections.abc import Iterator

from ...project.records import Object, Reach
from ..check import Check
from ..finding import Found, Mend, Spot, called
from ..mending import Give
from ..survey import Survey


def find(survey: Survey, thing: Object) -> Iterator[Found]:
    """Every object with a prompt, which asks for no sight, that can be worked from another area with a wall between."""
    level = survey.objects[thing.key][1]
    ground = survey.ground(level)
    design = ground.designs[thing.key]
    if design.reach.shape == "none" or design.reach.sight_m is not None or not design.prompts or design.walks:
        return
    area = ground.behind_walls(thing.key)
    if area:
        far = round(_extent(design.reach) + 0.25, 1)
        says = f"Ask for clear sight up to {far:g} m."
        mend = Mend("ask for sight", says, (Give(f"object/{thing.key}", "design.reach.sight_m", far),))
        at = Spot(f"object/{thing.key}", "design.reach.sight_m")
        words = f"can be worked from the {called(area)}, through the wall"
        yield Found(
            at,
            called(thing.key),
            words,
            (mend,),
            "through the wall",
            (f"area/{area}",),
            (_where(survey, thing.key),),
        )


def _where(survey: Survey, key: str) -> str:
    thing, reach = survey.objects[key][0], survey.designs[key].reach
    return f"{thing.x_m},{thing.y_m},{thing.turn_deg},{reach}"


def _extent(reach: Reach) -> float:
    """How far a reach goes from the middle of its object."""
    off = math.hypot(reach.offset_x_m, reach.offset_y_m)
    return off + (math.hypot(reach.width_m, reach.depth_m) / 2 if reach.shape == "box" else reach.radius_m)


CHECK = Check(
    "reach_through_wall",
    "A reach through a wall",
    "likely wrong",
    "N4",
    "Does every reach stay on its side of the walls?",
    "Somebody in the next room is within reach, with a wall between, and clear sight is not asked for.",
    "The sluice wheel can be worked from the Potting Shed, through the wall.",
    "object",
    find,
    ("kinds", "floors"),
)
