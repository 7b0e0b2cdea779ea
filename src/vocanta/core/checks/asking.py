"""Asking all checks of a project, and again after an edit: only what the edit touched is asked anew."""

from __future__ import annotations

import traceback
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, field, replace
from itertools import chain
from typing import Any

from ..project.noting import Note, unnoted
from ..project.records import Project
from .addresses import owner_of
from .asides import aside_key
from .check import Check, checks
from .finding import WEIGHTS, Finding, Found, Mend, ended, names_in, shown, stamp
from .proven import Proven
from .survey import Survey


@dataclass(frozen=True, slots=True)
class Failed:
    """A check that could not be asked: its name, and what went wrong. That is a fault of ours."""

    check: str
    what: str
    trace: str = ""


@dataclass(frozen=True, slots=True)
class Report:
    """What all checks found. `findings` stand by weight, then in the order of the project; those put aside are apart.

    `behind`: the checks whose findings are still those of an earlier state.
    """

    findings: tuple[Finding, ...]
    aside: tuple[Finding, ...] = ()
    failed: tuple[Failed, ...] = ()
    behind: frozenset[str] = frozenset()


@dataclass
class _Some:
    """What a check found at one subject, kept as long as neither that nor what it reads has changed."""

    found: tuple[Found, ...]
    shown: tuple[Finding, ...] | None = None
    """The same as they are shown, as long as what they name is called what it was."""
    names: frozenset[str] = frozenset()
    """What they name."""


@dataclass(frozen=True)
class _Known:
    """The subjects that a check was asked of, and what it found at those where it found anything."""

    subjects: Mapping[str, Any] = field(default_factory=dict)
    found: Mapping[str, _Some] = field(default_factory=dict)


@dataclass
class Asking:
    """The checks of one project as it is edited.

    | state | what may happen | next |
    |---|---|---|
    | nothing asked | `ask` | all asked |
    | all asked | `ask` with another state of the project | what it touched asked anew, the rest kept |
    | all asked | `ask` in two goes: `quick`, then whole | what needs the program stays as it was for a moment |
    """

    only: frozenset[str] = frozenset()
    """The checks to be asked; none named: all."""
    proven: tuple[Proven, ...] = ()
    """What a proof has found of the project, as far as it is known."""
    survey: Survey | None = None
    asked: int = 0
    """How many subjects were asked at the last time: for those who want to know that little was."""
    _known: dict[str, _Known] = field(default_factory=dict)
    _failed: dict[str, Failed] = field(default_factory=dict)
    _quick_from: Survey | None = None
    _fresh: dict[tuple[int, int], tuple[Mapping[str, Any], Mapping[str, Any], list[str]]] = field(default_factory=dict)
    """While checks are asked: the subjects to be asked anew, by the subjects that there are and were."""

    def ask(self, project: Project, note: Note = unnoted, *, quick: bool = False) -> Report:
        """The findings of a project. `quick`: leave what needs the compiled program as it was found last; the next call
        without it catches up. Raises whatever `note` raises, and `ProjectError` where own values do not fit."""
        whole_before = self._quick_from or self.survey
        survey = Survey(project, self.survey if quick else whole_before)
        survey.proven = self.proven
        kept = dict(self._known), dict(self._failed)
        try:
            return self._ask(survey, note, quick=quick, whole_before=whole_before)
        except BaseException:
            # What was asked of a state that is given up says nothing of the next one.
            self._known, self._failed = kept
            raise

    def _ask(self, survey: Survey, note: Note, *, quick: bool, whole_before: Survey | None) -> Report:
        mine = [c for c in checks() if not self.only or c.name in self.only]
        self.asked, self._fresh = 0, {}
        late = frozenset(c.name for c in mine if "rules" in c.reads and quick and c.name in self._known)
        for number, check in enumerate(mine):
            note("Asking " + check.title.lower(), number, len(mine))
            if check.name not in late:
                self._ask_one(survey, check)
        self._quick_from = whole_before if quick else None
        report = self._report(survey, mine, late)
        survey.forget_before()
        self.survey, self._fresh = survey, {}
        return report

    def _ask_one(self, survey: Survey, check: Check) -> None:
        before = self._known.get(check.name, _Known()) if self._may_keep(survey, check) else _Known()
        subjects, was = survey.subjects(check.subject), before.subjects
        fresh = self._other_subjects(subjects, was)
        found = dict(before.found)
        for key in (*(k for k in found if k not in subjects), *fresh):
            found.pop(key, None)
        self._failed.pop(check.name, None)
        try:
            for key in fresh:
                self.asked += 1
                if some := tuple(check.find(survey, key if check.subject == "record" else subjects[key])):
                    found[key] = _Some(some)
        except Exception as error:  # a check of ours that fails is told by its name, and the others go on
            self._failed[check.name] = Failed(check.name, f"{type(error).__name__}: {error}", traceback.format_exc())
            self._known[check.name] = _Known({}, found)
        else:
            self._known[check.name] = _Known(subjects, found)

    def _other_subjects(self, now: Mapping[str, Any], was: Mapping[str, Any]) -> list[str]:
        """The keys of subjects that were not there or were others: most checks are asked of the same ones."""
        pair = id(now), id(was)
        if pair not in self._fresh:
            others = [key for key, subject in now.items() if was.get(key) is not subject]
            self._fresh[pair] = now, was, others  # They are kept, so that no other has their place in memory.
        return self._fresh[pair][-1]

    @staticmethod
    def _may_keep(survey: Survey, check: Check) -> bool:
        """Whether nothing has changed that a check reads besides its subject."""
        same = {"names": survey.same_names, "kinds": survey.same_kinds, "floors": survey.same_floors}
        if not all(same[what] for what in check.reads if what != "rules"):
            return False
        return "rules" not in check.reads or (survey.same_program and survey.same_order)

    def _report(self, survey: Survey, mine: Iterable[Check], late: frozenset[str]) -> Report:
        order = {address: number for number, address in enumerate(survey.records)}
        found = [f for check in mine for f in self._findings(survey, check)]
        found.sort(key=lambda f: (WEIGHTS.index(f.weight), order.get(f.at.record, -1), f.at.span or (0, 0)))
        failed = tuple(self._failed[c.name] for c in mine if c.name in self._failed)
        shown_now = tuple(f for f in found if f.aside is None)
        return Report(shown_now, tuple(f for f in found if f.aside is not None), failed, late)

    def _findings(self, survey: Survey, check: Check) -> Iterator[Finding]:
        seen: set[str] = set()
        for known in self._known.get(check.name, _Known()).found.values():
            if known.shown is None or not _as_before(survey, known):
                there = [f for f in known.found if _is_there(survey, f)]
                known.shown = tuple(_finding(survey, check, f) for f in there)
                known.names = frozenset(chain.from_iterable(map(names_in, there)))
            for finding in known.shown:
                if finding.key not in seen:
                    seen.add(finding.key)
                    reason = survey.asides.get(aside_key(finding)) if survey.asides else None
                    yield finding if reason is None else replace(finding, aside=reason)


def _is_there(survey: Survey, one: Found) -> bool:
    return one.at.record in survey.records or one.at.record == "project"


def _as_before(survey: Survey, known: _Some) -> bool:
    """Whether findings read as they were shown: what they name is called what it was, and what they stand in is so."""
    if survey.called_anew is None or survey.changed is None or not known.names.isdisjoint(survey.called_anew):
        return False
    return not any(f.at.record in survey.changed or f.owner in survey.changed for f in known.found)


def found_in(project: Project, note: Note = unnoted, only: Iterable[str] = ()) -> Report:
    """The findings of a project, asked from nothing."""
    return Asking(frozenset(only)).ask(project, note)


def _finding(survey: Survey, check: Check, one: Found) -> Finding:
    owner = one.owner or owner_of(one.at.record) or "project"
    of_kind = survey.of_kind.get(owner.removeprefix("kind/"), ()) if owner.startswith("kind/") else ()
    also = (*one.also, *(f"object/{thing.key}" for thing in of_kind))
    name = survey.name
    held = survey.held_at(one.at)
    rests = stamp(check.name, held, *one.rests_on) if one.rests_on or held else stamp(check.name, one.says)
    key = stamp(check.name, one.at.record, one.at.field, str(one.at.span or ""), one.says)
    mends = tuple(Mend(m.label, ended(shown(m.says, name)), m.writes) for m in one.mends)
    level, quest = survey.belongs(owner if owner in survey.records else one.at.record)
    return Finding(
        check.name,
        check.weight,
        key,
        one.at,
        owner,
        shown(one.whose, name),
        shown(one.says + one.behind, name),
        mends,
        shown(one.marks, name),
        also,
        rests,
        level,
        quest,
    )
