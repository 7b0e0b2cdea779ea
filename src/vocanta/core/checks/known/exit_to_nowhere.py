"""An exit that leads to nowhere, or to where nobody can stand."""

from __future__ import annotations

from collections.abc import Iterator

from ...project.records import Level, Project
from ..check import Check
from ..finding import Found, Mend, Spot, called
from ..ground import standing_mend
from ..mending import Give
from ..survey import Survey


def find(survey: Survey, project: Project) -> Iterator[Found]:
    """Every exit whose other end lies off the floor, in a wall or in a body, and every one that nobody can stand in."""
    levels: dict[str, Level] = {level.key: level for level in project.levels}
    for level in project.levels:
        for exit in level.exits:
            address, whose = f"exit/{exit.key}", called(exit.key)
            if survey.ground(level).exit_closed(exit):
                yield Found(
                    Spot(address, "x_m"),
                    whose,
                    "lies where nobody can stand, so nobody leaves by it",
                    (),
                    "nobody can stand",
                    rests_on=(str(exit),),
                )
            if exit.to_level not in levels:
                continue
            ground = survey.ground(levels[exit.to_level])
            solid = ground.solid_at(exit.to_x_m, exit.to_y_m, ground.player.radius_m)
            if solid:
                where = {"edge": "off the floor", "wall": "into a wall"}.get(solid, f"into {called(solid)}")
                near, mends = standing_mend(ground, (exit.to_x_m, exit.to_y_m)), tuple[Mend, ...]()
                if near is not None:
                    writes = (Give(address, "to_x_m", near[0]), Give(address, "to_y_m", near[1]))
                    mends = (Mend("move its end", f"Let it end {near[2]:.1f} m away, where one can stand.", writes),)
                rests = (str(exit.to_y_m), exit.to_level, solid)
                yield Found(
                    Spot(address, "to_x_m"),
                    whose,
                    f"leads {where} in {called(exit.to_level)}",
                    mends,
                    where,
                    rests_on=rests,
                )


CHECK = Check(
    "exit_to_nowhere",
    "An exit to nowhere",
    "stops it",
    "N1",
    "Does every exit lead to where one can stand?",
    "Who takes the exit would come out in a wall, in a body or off the floor.",
    "The ladder leads off the floor in the Cistern.",
    "project",
    find,
    ("kinds",),
)
