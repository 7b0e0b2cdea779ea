"""Compiled projects, kept by edit number: what readings and runs are worked out from."""

from __future__ import annotations

from collections import OrderedDict
from dataclasses import dataclass, replace
from datetime import datetime
from functools import cached_property
from threading import Lock

from ..core.cuetext.index import NameIndex, index_of
from ..core.engine.wording import Words
from ..core.progress.compiling import compiled
from ..core.progress.program import Program
from ..core.progress.recompiling import recompiled
from ..core.progress.threads import Touching
from ..core.project.records import Project as CoreProject
from . import models, store


@dataclass(frozen=True)
class Compiled:
    """One state of a project with everything worked out from it, each part on first use."""

    core: CoreProject
    edit_number: int
    before: Compiled | None = None

    @cached_property
    def program(self) -> Program:
        """The program; where only things were moved since the state before, most of it is that one's."""
        if self.before is None or "program" not in self.before.__dict__:
            return compiled(self.core)
        return recompiled(self.before.program, self.core)

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


class Programs:
    """The last states of projects that were asked for, the oldest forgotten first. One a process; a cache, no record."""

    def __init__(self, most: int = 8):
        self._most, self._lock = most, Lock()
        self._known: OrderedDict[tuple[int, datetime], Compiled] = OrderedDict()

    def of(self, project: models.Project) -> Compiled:
        """The project as it is now; each state is read once, and knows the one asked for before it."""
        key = project.pk, project.created_at
        with self._lock:
            known = self._known.get(key)
            if known is None or known.edit_number != project.edit_number:
                before = None if known is None else replace(known, before=None)
                if before is not None and known is not None and "program" in known.__dict__:
                    before.__dict__["program"] = known.program
                core = store.core_project(models.Project.objects.get(pk=project.pk))
                known = self._known[key] = Compiled(core, project.edit_number, before)
            self._known.move_to_end(key)
            while len(self._known) > self._most:
                self._known.popitem(last=False)
            return known


_PROGRAMS = Programs()


def compiled_project(project: models.Project) -> Compiled:
    """The project as it is now, compiled."""
    return _PROGRAMS.of(project)
