"""Something that is put into a wall or a body, off the floor, under it, or so high that it falls."""

from __future__ import annotations

import math
from collections.abc import Iterator

from ...phrases import nodes as n
from ...project.records import Project
from ...space.cells import HURTS_M
from ...space.floor import STEP_M
from ..check import Check
from ..finding import Found, Mend, Spot, called
from ..ground import Ground
from ..mending import Reword
from ..survey import Survey
from ..texts import Text

_NEARER_M = 0.25


def find(survey: Survey, project: Project) -> Iterator[Found]:
    """Every step that puts something at an offset where it cannot lie, at each object that has the step."""
    for text in survey.texts:
        if text.read is None or text.read.has_hole or survey.broken(text):
            continue
        for step in (s for s in text.steps if isinstance(s, n.PutAt) and s.offset is not None):
            found = [(at, why) for at in _anchors(survey, text, step) if (why := _wrong(survey, at, step))]
            if found:
                yield _found(survey, text, step, *found[0])


def _anchors(survey: Survey, text: Text, step: n.PutAt) -> list[str]:
    """The objects beside which a step puts something, that stand where they were placed."""
    keys = []
    for this, meaning in survey.meanings(text):
        key = this if step.at is None else meaning.key(step.at)
        stands = key in survey.objects and not survey.designs[key].walks
        if stands and not survey.program.layout.mentions.movable(key):
            keys.append(key)
    return keys


def _wrong(survey: Survey, key: str, step: n.PutAt, share: float = 1.0) -> str:
    """What is wrong with a place beside an object, at a share of the step's offset; empty for nothing."""
    thing, level = survey.objects[key]
    assert step.offset is not None
    ground: Ground = survey.ground(level)
    x, y = (p + share * (o.value or 0.0) for p, o in zip((thing.x_m, thing.y_m), step.offset, strict=True))
    solid = ground.solid_at(x, y, 0.0)
    if solid in ("edge", "wall"):
        return "off the floor" if solid == "edge" else "into a wall"
    if solid and solid != key:
        return f"into {called(solid)}"
    rise = ground.floor.height_at(x, y) - ground.floor.height_at(thing.x_m, thing.y_m)
    where = called(ground.area_of(x, y))
    if rise > STEP_M:
        return f"{rise:g} m under the floor of the {where}"
    return f"{-rise:g} m above the floor of the {where}" if -rise > HURTS_M else ""


def _found(survey: Survey, text: Text, step: n.PutAt, key: str, why: str) -> Found:
    says = f"puts {called(step.what.text)} {why}"
    assert step.offset is not None
    mends: tuple[Mend, ...] = ()
    share = next((s / 8 for s in range(7, -1, -1) if not _wrong(survey, key, step, s / 8)), None)
    if share is not None:
        near = [math.trunc((o.value or 0.0) * share / _NEARER_M) * _NEARER_M for o in step.offset]
        writes = tuple(
            Reword(text.record, text.field, o.span, f"{v:g} m") for o, v in zip(step.offset, near, strict=True)
        )
        mends = (
            Mend(
                "lay it down",
                f"Put it {near[0]:g} m east and {near[1]:g} m north of {called(key)}, on the floor.",
                writes,
            ),
        )
    at = Spot(text.record, text.field, step.span)
    rests = (str(survey.objects[key][0].x_m), str(survey.objects[key][0].y_m), why)
    return Found(at, survey.whose(text.record), says, mends, why, (f"object/{key}",), rests, text.owner)


CHECK = Check(
    "put_off_the_floor",
    "Something put where it cannot lie",
    "worth a look",
    "N22",
    "Does everything that is put come to lie on a floor?",
    "The step puts it into something solid, off the floor, under the floor beside it, or higher than a fall that does no harm.",
    "The bag of silver is put 1.2 m under the floor of the Pump Room.",
    "project",
    find,
    ("rules", "kinds"),
)
