"""Compiled projects, kept by edit number: what readings and runs are worked out from."""

from __future__ import annotations

from collections import OrderedDict
from dataclasses import dataclass, replace
from functools import cached_property
from threading import Lock

from ..core.cuetext.index import NameIndex, index_of
from ..core.engine.wording import Words
from ..core.progress.balance import Balance, balances
from ..core.progress.compiling import compiled
from ..core.progress.layout import lay_out
from ..core.progress.program import Program
from ..core.progress.recompiling import recompiled
from ..core.progress.threads import Touching
from ..core.project.records import Project as CoreProject
from . import models
from .events import BOARD, Key, key_of
from .shelf import Shelf


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
    def balances(self) -> list[Balance]:
        """How much of each item can be had against how much is asked for."""
        return balances(self.program)

    @cached_property
    def index(self) -> NameIndex:
        """The names."""
        return index_of(self.core)

    @cached_property
    def words(self) -> Words:
        """Names and values in words."""
        return Words(self.core, lambda: self.program.layout if "program" in self.__dict__ else lay_out(self.core))


class Programs:
    """The last states of projects that were asked for, the oldest forgotten first. One a process; a cache, no record."""

    def __init__(self, most: int = 8):
        self._most, self._lock = most, Lock()
        self._known: OrderedDict[Key, tuple[Compiled, Shelf]] = OrderedDict()

    def of(self, project: models.Project) -> Compiled:
        """The project as it is now; each state is read once, and knows the one asked for before it."""
        key = key_of(project)
        with self._lock:
            if key not in self._known:
                shelf = Shelf(project)
                self._known[key] = Compiled(shelf.core(), project.edit_number), shelf
            known, shelf = self._known[key]
            if known.edit_number != project.edit_number:
                self._known[key] = known, shelf = self._renewed(project, known, shelf)
            self._known.move_to_end(key)
            while len(self._known) > self._most:
                self._known.popitem(last=False)
            return known

    def addresses(self, project: models.Project) -> dict[str, int]:
        """The id of every record of the project as it is now, by its address."""
        self.of(project)
        with self._lock:
            return self._known[key_of(project)][1].addresses()

    def clear(self) -> None:
        """Know nothing."""
        with self._lock:
            self._known.clear()

    @staticmethod
    def _renewed(project: models.Project, known: Compiled, shelf: Shelf) -> tuple[Compiled, Shelf]:
        """The next state, from what the edits since have touched."""
        before = replace(known, before=None)
        if "program" in known.__dict__:
            before.__dict__["program"] = known.program
        since = BOARD.since(key_of(project), known.edit_number, project.edit_number)
        if any(told.all for told in since):
            shelf = Shelf(project)
        for told in since:
            shelf.renew(project, told.changed, told.removed)
        return Compiled(shelf.core(), project.edit_number, before), shelf


_PROGRAMS = Programs()


def forget() -> None:
    """Forget every state; the next question reads anew."""
    _PROGRAMS.clear()


def compiled_project(project: models.Project) -> Compiled:
    """The project as it is now, compiled."""
    return _PROGRAMS.of(project)


def addresses(project: models.Project) -> dict[str, int]:
    """The id of every record of the project as it is now, by its address."""
    return _PROGRAMS.addresses(project)
