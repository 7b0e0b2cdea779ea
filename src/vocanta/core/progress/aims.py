"""What objectives aim at: a kind or a tag stands for every placed object of it, each of which counts once."""

from __future__ import annotations

import dataclasses
from collections.abc import Mapping

from ..project.records import Objective, Project
from .placed import Placed


def aimed(project: Project, placed: Mapping[str, Placed]) -> Project:
    """The project with objects in place of the kinds and tags among the targets of its objectives."""
    many: dict[str, tuple[str, ...]] = dict.fromkeys([k.key for k in project.kinds] + [t.key for t in project.tags], ())
    named = {t for q in project.quests for s in q.stages for o in s.objectives for t in o.targets}
    if not named & many.keys():
        return project
    for key, one in placed.items():
        for group in () if one.pool else (one.thing.kind, *one.design.tags):
            if group in many:
                many[group] = (*many[group], key)

    def spread(objective: Objective) -> Objective:
        found = dict.fromkeys(t for target in objective.targets for t in many.get(target, (target,)))
        return dataclasses.replace(objective, targets=tuple(found))

    quests = tuple(
        dataclasses.replace(
            quest,
            stages=tuple(
                dataclasses.replace(stage, objectives=tuple(spread(o) for o in stage.objectives))
                for stage in quest.stages
            ),
        )
        for quest in project.quests
    )
    return dataclasses.replace(project, quests=quests)
