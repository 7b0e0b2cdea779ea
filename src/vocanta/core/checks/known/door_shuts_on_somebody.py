"""A body that comes to stand where somebody may be, without stay-clear."""

from __future__ import annotations

from collections.abc import Iterator

from ...project.records import Design, Project
from ..check import Check
from ..finding import Found, Mend, Spot, called
from ..mending import Give
from ..survey import Survey

SMALLEST_M2 = 0.25
"""A latch or a lever takes less; whoever stands beside it feels nothing of it."""


def find(survey: Survey, project: Project) -> Iterator[Found]:
    """Every object that a step can set from a state in which the way is free to one in which it blocks there."""
    for key, (_, level) in survey.objects.items():
        design = survey.designs[key]
        if design.motion.stay_clear or design.body.shape == "none" or design.walks:
            continue
        ground = survey.ground(level)
        if any(ground.shut_on_m2(key, a, b) > SMALLEST_M2 for a, b in sorted(_shuts(survey, key, design))):
            address = f"object/{key}"
            mend = Mend(
                "keep clear",
                "Refuse the motion while somebody is in its way.",
                (Give(address, "design.motion.stay_clear", True),),
            )
            at = Spot(address, "design.motion.stay_clear")
            yield Found(
                at,
                called(key),
                "can shut on somebody who stands in it",
                (mend,),
                "shut on somebody",
                rests_on=(str(design.states),),
            )


def _shuts(survey: Survey, key: str, design: Design) -> set[tuple[int, int]]:
    """The changes of state by which it comes to block where it did not."""
    states = design.states
    return {
        (before, after)
        for before, after in survey.state_steps(key)
        if before != after
        and states[after].blocks
        and (not states[before].blocks or (_posed(design, before) != _posed(design, after) and not _spins(design)))
    }


def _spins(design: Design) -> bool:
    """Whether it turns about its own middle, as a wheel does: that shuts on nobody."""
    slides = any(s.slide_x_m or s.slide_y_m for s in design.states)
    return not slides and not design.motion.hinge_x_m and not design.motion.hinge_y_m


def _posed(design: Design, number: int) -> tuple[float, float, float]:
    state = design.states[number]
    return state.swing_deg, state.slide_x_m, state.slide_y_m


CHECK = Check(
    "door_shuts_on_somebody",
    "A door that shuts on somebody",
    "likely wrong",
    "N19",
    "Does everything that shuts stay clear of whoever stands there?",
    "The body comes to block a place where somebody can be, and is not told to wait until they are out of the way.",
    "The wing door can shut on somebody who stands in it.",
    "project",
    find,
    ("rules", "kinds"),
)
