"""A carrier who can never come to where something is to be brought."""

from __future__ import annotations

from collections.abc import Iterator

from ...phrases import nodes as n
from ...project.records import Level, Project
from ..check import Check
from ..finding import Found, Mend, Spot, called
from ..mending import Give
from ..survey import Survey


def find(survey: Survey, project: Project) -> Iterator[Found]:
    """Every delivery by somebody who cannot walk, or who has no way from where carriers come in to where it is read."""
    for text in survey.texts:
        if text.read is None or text.read.has_hole or survey.broken(text):
            continue
        for step in (s for s in text.steps if isinstance(s, n.Later) and s.carrier is not None):
            assert step.carrier is not None
            for this, meaning in survey.meanings(text):
                carrier = meaning.key(step.carrier)
                why, mends = _why(survey, carrier, this)
                if why:
                    at = Spot(text.record, text.field, step.carrier.span)
                    yield Found(
                        at,
                        survey.whose(text.record),
                        f"lets {called(carrier)} bring something, {why}",
                        mends,
                        why,
                        (f"object/{carrier}",),
                        (this,),
                        text.owner,
                    )
                    break


def _why(survey: Survey, carrier: str, this: str) -> tuple[str, tuple[Mend, ...]]:
    if carrier not in survey.designs:
        return "", ()
    if not survey.designs[carrier].walks:
        mend = Mend("let them walk", f"Let {called(carrier)} walk.", (Give(f"object/{carrier}", "design.walks", True),))
        return "who cannot walk", (mend,)
    level = survey.objects[this][1] if this in survey.objects else None
    if level is None or carrier not in survey.objects:
        return "", ()
    starts = [(e.x_m, e.y_m) for e in level.exits] or [(level.start_x_m, level.start_y_m)]
    if survey.objects[carrier][1] is level:
        starts = [(survey.objects[carrier][0].x_m, survey.objects[carrier][0].y_m)]
    return ("" if _a_way(survey, level, starts, this) else f"who has no way to the {_area(survey, level, this)}"), ()


def _a_way(survey: Survey, level: Level, starts: list[tuple[float, float]], this: str) -> bool:
    thing = survey.objects[this][0]
    reach = survey.designs[this].reach
    near = max(reach.radius_m, reach.width_m) + 1.0
    return any(survey.ground(level).on_foot(start, (thing.x_m, thing.y_m), near) is not None for start in starts)


def _area(survey: Survey, level: Level, this: str) -> str:
    thing = survey.objects[this][0]
    return called(survey.ground(level).area_of(thing.x_m, thing.y_m) or level.key)


CHECK = Check(
    "carrier_without_way",
    "A carrier without a way",
    "likely wrong",
    "N25",
    "Can every carrier walk up to the player?",
    "Who is to bring something cannot walk, or comes in where no way leads on, and waits there for ever.",
    "Pip is to bring the letter to the Gallery, and no stair leads up.",
    "project",
    find,
    ("rules", "kinds"),
)
