"""Two reaches that fight for one control with nothing to tell them apart."""

from __future__ import annotations

import dataclasses
import math
from collections.abc import Iterator

import numpy as np
import shapely

from ...project.records import Level
from ...space.geometry import turned
from ...space.overlaps import overlaps_of
from ...space.working import HOLDER_M
from ..check import Check
from ..finding import Found, Mend, Spot, called
from ..mending import Give
from ..survey import Survey


def find(survey: Survey, level: Level) -> Iterator[Found]:
    """Every two objects whose reaches overlap for one control, with one priority, one direction and one distance."""
    for over in overlaps_of(survey.project, _of_neighbours(level)):
        a, b = survey.designs[over.a], survey.designs[over.b]
        one, other = survey.objects[over.a][0], survey.objects[over.b][0]
        apart = math.dist((one.x_m, one.y_m), (other.x_m, other.y_m))
        middles = math.dist(_middle(survey, over.a), _middle(survey, over.b))
        roams = a.walks or b.walks or a.reach.moves_with_part or b.reach.moves_with_part
        if a.reach.priority == b.reach.priority and apart <= HOLDER_M and middles <= HOLDER_M and not roams:
            controls = " and ".join(called(c) for c in over.controls)
            says = f"fights with {called(over.b)} for {controls}: same priority, same direction, same distance"
            mends = tuple(
                Mend(
                    "let one win" if w == over.b else "let it win",
                    f"Give {called(w)} a higher priority.",
                    (Give(f"object/{w}", "design.reach.priority", p + 1),),
                )
                for w, p in ((over.a, a.reach.priority), (over.b, b.reach.priority))
            )
            at = Spot(f"object/{over.a}", "design.reach.priority")
            yield Found(
                at, called(over.a), says, mends, "same priority", (f"object/{over.b}",), (over.b, f"{apart:.2f}")
            )


def _of_neighbours(level: Level) -> Level:
    """A level with those objects alone that stand at the spot of another."""
    points = np.array([shapely.Point(o.x_m, o.y_m) for o in level.objects], dtype=object)
    pairs = shapely.STRtree(points).query(points, "dwithin", HOLDER_M)
    near = sorted({int(i) for i, j in pairs.T if i != j})
    return dataclasses.replace(level, objects=tuple(level.objects[i] for i in near))


def _middle(survey: Survey, key: str) -> tuple[float, float]:
    thing, reach = survey.objects[key][0], survey.designs[key].reach
    dx, dy = turned(reach.offset_x_m, reach.offset_y_m, thing.turn_deg)
    return thing.x_m + dx, thing.y_m + dy


CHECK = Check(
    "control_fought_for",
    "Two reaches that fight for a control",
    "likely wrong",
    "N13",
    "Is it always clear who gets a control?",
    "Two objects stand at one spot and want the same control with the same priority: which one gets it is chance to the "
    "player.",
    "The lamp and its bracket both want Use, at the same place.",
    "level",
    find,
    ("kinds",),
)
