"""A quest whose requirements need itself first, by itself or over others."""

from __future__ import annotations

from collections.abc import Iterator

from ...phrases import nodes as n
from ...project.records import Project
from ..check import Check
from ..finding import Found, Spot, called
from ..survey import Survey


def find(survey: Survey, project: Project) -> Iterator[Found]:
    """Every quest in a circle of quests each of which needs the next one to have been under way or done."""
    needs = {q.key: _needed(survey, q.key) for q in project.quests}
    for quest in project.quests:
        way = _circle(quest.key, needs)
        if way:
            over = "".join(f", which waits for {called(key)}" for key in way[1:])
            says = "waits for itself" if len(way) == 1 else f"waits for {called(way[0])}{over}"
            also = tuple(f"quest/{key}" for key in way if key != quest.key)
            yield Found(
                Spot(f"quest/{quest.key}", "needs"), called(quest.key), f"can never be had: it {says}", (), says, also
            )


def _needed(survey: Survey, key: str) -> list[str]:
    """The quests that a quest's requirements ask to have begun, each for certain: not those of *or* and *not*."""
    text = survey.text_of.get((f"quest/{key}", "needs"))
    found = []
    for top in text.tops if text is not None else ():
        for need in top.need.needs if isinstance(top.need, n.And) else (top.need,):
            if (
                isinstance(need, n.Is)
                and need.subject.text in survey.quests
                and need.value.text in ("active", "ready", "done")
            ):
                found.append(need.subject.text)
            if isinstance(need, n.Between) or (isinstance(need, n.Place) and need.how != "before"):
                found.append(need.quest.text)
    return found


def _circle(start: str, needs: dict[str, list[str]]) -> list[str]:
    """The shortest way from a quest over what each needs back to it; empty without one."""
    edge: list[list[str]] = [[key] for key in needs[start]]
    seen: set[str] = set()
    while edge:
        way = edge.pop(0)
        if way[-1] == start:
            return way
        if way[-1] not in seen:
            seen.add(way[-1])
            edge += [[*way, key] for key in needs.get(way[-1], ())]
    return []


CHECK = Check(
    "quest_waits_for_itself",
    "A quest that waits for itself",
    "stops it",
    "N43",
    "Can the requirements of every quest come about without it?",
    "What must come first needs this quest in its turn, so neither ever begins.",
    "The Night Bloom asks for Dry Feet, and Dry Feet for The Night Bloom.",
    "project",
    find,
    ("names",),
)
