"""Compiled projects, kept by edit number: what readings and runs are worked out from."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from functools import cached_property, lru_cache

from ..core.cuetext.index import NameIndex, index_of
from ..core.engine.wording import Words
from ..core.progress.compiling import compiled
from ..core.progress.program import Program
from ..core.progress.threads import Touching
from ..core.project.records import Project as CoreProject
from . import models, store


@dataclass(frozen=True)
class Compiled:
    """One state of a project with everything worked out from it, each part on first use."""

    core: CoreProject
    edit_number: int

    @cached_property
    def program(self) -> Program:
        """The program, with cells."""
        return compiled(self.core)

    @cached_property
    def touching(self) -> Touching:
        """What touches the stages of its quests."""
        return Touching(self.program)

    @cached_property
    def index(self) -> NameIndex:
        """The names."""
        return index_of(self.core)

    @cached_property
    def words(self) -> Words:
        """Names and values in words."""
        return Words(self.core)


@lru_cache(maxsize=8)
def _compiled(project_id: int, created_at: datetime, edit_number: int) -> Compiled:
    return Compiled(store.core_project(models.Project.objects.get(pk=project_id)), edit_number)


def compiled_project(project: models.Project) -> Compiled:
    """The project as it is now, compiled."""
    return _compiled(project.pk, project.created_at, project.edit_number)
