"""Everything that checks may ask of one state of a project: records, texts, supply, rules and the ground."""

from __future__ import annotations

from collections.abc import Mapping
from functools import cached_property
from typing import Any

from ..project.records import Level
from .ground import Ground
from .proven import Proven
from .ruled import Ruled


class Survey(Ruled):
    """One state of a project as checks see it. `proven`: what a proof has found, where there was one."""

    proven: tuple[Proven, ...] = ()

    def subjects(self, sort: str) -> Mapping[str, Any]:
        """What a check is asked of, each by a key of its own: the project, its texts, its records, or those of a type."""
        if sort not in self._subjects:
            self._subjects[sort] = self._subjects_of(sort)
        return self._subjects[sort]

    def _subjects_of(self, sort: str) -> Mapping[str, Any]:
        if sort == "project":
            return {"": self.project}
        if sort == "proven":
            return {f"{p.what}/{p.quest}": p for p in self.proven}
        if sort == "text":
            return {f"{t.record}#{t.field}": t for t in self.texts}
        of_all = {a: p.record for a, p in self.records.items() if sort in ("record", p.type)}
        return {"project": self.project, **of_all} if sort == "record" else of_all

    @cached_property
    def _subjects(self) -> dict[str, Mapping[str, Any]]:
        return {}

    def walk(self, level: Level, a: str, b: str) -> float | None:
        """Metres on foot from one object to another of a level, from reach to reach; None without a way."""
        one, other = self.objects[a][0], self.objects[b][0]
        return self.ground(level).on_foot((one.x_m, one.y_m), (other.x_m, other.y_m), self.designs[b].reach.radius_m)

    def walk_at_most(self, level: Level, a: str, b: str) -> float:
        """Metres that the way from one object to another is no longer than, from reach to reach; found quickly."""
        one, other = self.objects[a][0], self.objects[b][0]
        spots = (one.x_m, one.y_m), (other.x_m, other.y_m)
        return self.ground(level).on_foot_at_most(*spots, self.designs[b].reach.radius_m)

    def ground(self, level: Level) -> Ground:
        """A level as geometry; that of the state before where nothing in it has changed."""
        if level.key not in self._grounds:
            before = self._before
            known = before._grounds.get(level.key) if before is not None and self.same_kinds else None
            if known is not None and known.level is level and known.player == self.project.player:
                self._grounds[level.key] = known
            else:
                floored = known if self.same_floors else None
                self._grounds[level.key] = Ground(self.project, level, self.designs, floored)
        return self._grounds[level.key]

    @cached_property
    def _grounds(self) -> dict[str, Ground]:
        return {}
