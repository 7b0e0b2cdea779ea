"""A time limit that is shorter than the way on foot."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator

from ...project.records import Objective, Project
from ..check import Check
from ..finding import Found, Mend, Spot, called
from ..mending import Give
from ..survey import Survey

MOST_TARGETS = 6
"""Of more targets the straight lines alone are taken, one after the other to the nearest."""


def find(survey: Survey, project: Project) -> Iterator[Found]:
    """Every objective with a time limit whose targets lie farther apart than one walks in that time."""
    for quest in project.quests:
        for objective in (o for s in quest.stages for o in s.objectives):
            if objective.time_s is None or objective.type not in ("use", "go", "talk", "state"):
                continue
            metres = _shortest(survey, objective, quest.offered_by, objective.time_s * project.player.speed_mps)
            seconds = metres / project.player.speed_mps
            if seconds > objective.time_s:
                address, whole = f"objective/{objective.key}", math.ceil(1.5 * seconds)
                mend = Mend(
                    "give more time",
                    f"Give {whole} s: half as much again as the way takes.",
                    (Give(address, "time_s", whole),),
                )
                says = f"gives {objective.time_s:g} s for {called(objective.key)}; the way alone, {metres:.0f} m, takes {seconds:.0f} s"
                yield Found(
                    Spot(address, "time_s"),
                    called(quest.key),
                    says,
                    (mend,),
                    f"{objective.time_s:g} s",
                    rests_on=(f"{metres:.0f}",),
                )


def _shortest(survey: Survey, objective: Objective, giver: str, enough: float) -> float:
    """At least so many metres on foot from who offers it past as many targets as are asked for, or the first way
    that is no longer than enough; 0 where nothing is known.

    Only what lies in one level and stays where it was placed is counted, less what reaches make shorter.
    """
    begin = [giver] if giver in survey.objects and not survey.designs[giver].walks else []
    things = [
        t for t in dict.fromkeys((*begin, *objective.targets)) if t in survey.objects and not survey.designs[t].walks
    ]
    if not things:
        return 0.0
    level = survey.objects[things[0]][1]
    here = [t for t in things if survey.objects[t][1] is level]
    asked = min(objective.count if objective.type != "state" else len(objective.targets), len(objective.targets))
    missing = len(objective.targets) - len([t for t in here if t in objective.targets])
    number = max(0, asked - missing)
    targets = [t for t in here if t in objective.targets][:MOST_TARGETS]
    first = [t for t in begin if t in here and t not in targets]
    shortest = math.inf
    for some in itertools.permutations(targets, min(number, len(targets))):
        way = [*first, *some]
        roughly = sum(survey.walk_at_most(level, a, b) for a, b in itertools.pairwise(way))
        shortest = min(shortest, roughly if roughly <= enough else _length(survey, way))
        if shortest <= enough:
            break
    return 0.0 if shortest == math.inf else shortest


def _length(survey: Survey, way: list[str]) -> float:
    total = 0.0
    for a, b in itertools.pairwise(way):
        (one, level), (other, _) = survey.objects[a], survey.objects[b]
        here, there = survey.designs[a].reach.radius_m, survey.designs[b].reach.radius_m
        metres = survey.walk(level, a, b)
        if metres is None:
            metres = math.dist((one.x_m, one.y_m), (other.x_m, other.y_m)) - there
        total += max(0.0, metres - here)
    return total


CHECK = Check(
    "time_too_short",
    "A time that is too short",
    "stops it",
    "N57",
    "Is there time enough for the way on foot?",
    "Who walks straight from one target to the next and loses no second is late all the same.",
    "Four lamps in 20 s, and the way past them takes 41 s.",
    "project",
    find,
    ("kinds",),
)
