"""A start where nobody can stand."""

from __future__ import annotations

from collections.abc import Iterator

from ...project.records import Level
from ..check import Check
from ..finding import Found, Mend, Spot, called
from ..ground import standing_mend
from ..mending import Give
from ..survey import Survey


def find(survey: Survey, level: Level) -> Iterator[Found]:
    """The start of a level, where it lies off the floor, in a wall or in a body."""
    ground, address = survey.ground(level), f"level/{level.key}"
    if level.key != survey.project.first_level and not level.areas:
        return
    solid = ground.solid_at(level.start_x_m, level.start_y_m, ground.player.radius_m)
    if solid:
        where = {"edge": "off the floor", "wall": "in a wall"}.get(solid, f"in {called(solid)}")
        near = standing_mend(ground, (level.start_x_m, level.start_y_m))
        mends: tuple[Mend, ...] = ()
        if near is not None:
            writes = (Give(address, "start_x_m", near[0]), Give(address, "start_y_m", near[1]))
            mends = (Mend("move the start", f"Start {near[2]:.1f} m away, where one can stand.", writes),)
        rests = (str(level.start_y_m), solid)
        yield Found(
            Spot(address, "start_x_m"),
            called(level.key),
            f"begins {where}: the player cannot stand there",
            mends,
            where,
            rests_on=rests,
        )


CHECK = Check(
    "start_in_a_solid",
    "A start in something solid",
    "stops it",
    "N1",
    "Can the player stand where the level begins?",
    "The start lies in a wall, in a body or off the floor.",
    "The Cistern begins in its outer wall.",
    "level",
    find,
    ("kinds",),
)
