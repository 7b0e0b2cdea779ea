"""The checks in a process of their own, out of the way of whoever types: one JSON object a line in and out.

In: `{"rows": [...], "removed": [ids], "project": name, "edit": n, "anew": bool}` brings a project to an edit; its
findings follow, first those that need no program (`"whole": false`), then all: the keys of all, and those that were not
told before or otherwise. With `"proven": [...]` it is told what a proof has found. `{"detail": key, "project", "ask": n}` and
`{"mends": {"check", "label"}, "project", "ask": n}` are answered with what was asked for. What is newer overtakes what is
being worked on. Nothing here reads the database.
"""

from __future__ import annotations

import gc
import json
import os
import queue
import sys
import threading
from collections import OrderedDict
from dataclasses import asdict, dataclass, field
from typing import Any, TextIO

from ..core.checks.asides import aside_key
from ..core.checks.asking import Asking, Report
from ..core.checks.check import by_name
from ..core.checks.finding import WEIGHTS, Finding, Mend, Spot
from ..core.checks.mending import joined
from ..core.checks.preview import lines_of, standing
from ..core.checks.proven import Proven
from ..core.project.problems import ProjectError
from .mendings import changes_of, write_of
from .processes import end_with_parent, hold_memory
from .rowshelf import RowData, RowShelf

MOST_PROJECTS = 4
MOST_TOGETHER = 400
"""So many mends are one edit at the most."""
IDLE_S = 2.0
"""After so long without a message what is no longer used is collected."""


_NOT_THERE = Finding("", WEIGHTS[0], "", Spot(""), "", "", "", (), "", (), "")


class Overtaken(Exception):
    """Raised while checks are asked and something newer has come in."""


@dataclass
class Checked:
    """One project as it is edited, with its checks."""

    shelf: RowShelf
    rows: dict[int, RowData]
    asking: Asking = field(default_factory=Asking)
    edit: int = 0
    report: Report = field(default_factory=lambda: Report(()))
    ids: dict[str, int] = field(default_factory=dict)
    sent: dict[str, tuple[Finding, dict[str, Any]]] = field(default_factory=dict)
    """The findings that the other side has, by their keys, as they travelled."""

    def take(self, report: Report) -> None:
        """Take in what was found, and the ids of what it was found at."""
        ids = self.shelf.addresses()
        if ids != self.ids:
            self.sent = {key: (_NOT_THERE, told) for key, (_, told) in self.sent.items()}
        self.report, self.ids = report, ids

    def bring(self, message: dict[str, Any]) -> None:
        """Take in what an edit changed."""
        for number in message["removed"]:
            self.shelf.forget(number)
            self.rows.pop(number, None)
        for data in message["rows"]:
            row = RowData(**data)
            self.shelf.put(row)
            self.rows[row.id] = row
        self.edit = message["edit"]
        if "proven" in message:
            self.asking.proven = tuple(map(proven_of, message["proven"]))

    def found(self, key: str) -> Finding | None:
        """A finding by its key, put aside or not."""
        return next((f for f in (*self.report.findings, *self.report.aside) if f.key == key), None)


def proven_of(told: dict[str, Any]) -> Proven:
    """What a proof has found, as it travels."""
    outs = (Mend(o["label"], o["says"], tuple(map(write_of, o["writes"]))) for o in told["ways_out"])
    return Proven(told["quest"], told["what"], told["counted"], told["last"], tuple(outs), told["stale"])


class Checks:
    """The projects that are checked, the last asked for last. `overtaken` says whether something newer waits."""

    def __init__(self, out: TextIO, overtaken: Any = lambda: False):
        self._out, self._overtaken = out, overtaken
        self._known: OrderedDict[str, Checked] = OrderedDict()
        self._unchecked: dict[str, None] = {}
        """The projects that were brought to an edit whose checks have not all been asked."""

    @property
    def at_work(self) -> bool:
        """Whether there is anything to check."""
        return bool(self._unchecked)

    def take(self, message: dict[str, Any]) -> None:
        """One message from outside."""
        name = message["project"]
        if message.get("forget"):
            self._known.pop(name, None)
            return
        if message.get("anew"):
            self._known[name] = Checked(RowShelf(()), {})
        here = self._known.get(name)
        if here is None:
            self._say({"project": name, "lost": True, "ask": message.get("ask")})
            return
        self._known.move_to_end(name)
        while len(self._known) > MOST_PROJECTS:
            self._known.popitem(last=False)
        if "edit" in message:
            here.bring(message)
            self._unchecked[name] = None
        elif "detail" in message:
            self._say({"project": name, "ask": message["ask"], "answer": detail_of(here, message["detail"])})
        else:
            self._say({"project": name, "ask": message["ask"], "answer": together(here, **message["mends"])})

    def work(self) -> None:
        """Ask the checks of one project in two goes; what comes in meanwhile ends them, and they are begun again after."""
        name = next(iter(self._unchecked))
        here = self._known.get(name)
        try:
            if here is not None:
                self._check(name, here)
            self._unchecked.pop(name)
        except Overtaken:
            return

    def _check(self, name: str, here: Checked) -> None:
        core = here.shelf.core()
        try:
            for quick in (True, False):
                if quick and here.asking.survey is None:
                    continue
                here.take(here.asking.ask(core, self._note, quick=quick))
                self._say({"project": name, "edit": here.edit, "whole": not quick, **told(here)})
        except ProjectError as error:
            problems = [p.as_dict() for p in error.problems]
            self._say({"project": name, "edit": here.edit, "whole": True, "problems": problems, **told(here)})

    def _note(self, what: str, done: int, of: int) -> None:
        if self._overtaken():
            raise Overtaken

    def _say(self, message: dict[str, Any]) -> None:
        self._out.write(json.dumps(message, separators=(",", ":")) + "\n")
        self._out.flush()


def told(here: Checked) -> dict[str, Any]:
    """The findings of a project as they travel: what the other side has of them already is named by its key alone."""
    report, had = here.report, here.sent
    here.sent, fresh = {}, []
    for finding in (*report.findings, *report.aside):
        was, known = had.get(finding.key, (_NOT_THERE, {}))
        now = known if was is finding else as_told(here, finding)
        here.sent[finding.key] = finding, now
        if now != known:
            fresh.append(now)
    return {
        "fresh": fresh,
        "findings": [f.key for f in report.findings],
        "aside": [f.key for f in report.aside],
        "failed": [{"check": f.check, "what": f.what} for f in report.failed],
        "behind": sorted(report.behind),
    }


def as_told(here: Checked, finding: Finding) -> dict[str, Any]:
    """One finding with the ids of what it is about."""
    ids, check = here.ids, by_name()[finding.check]
    return {
        "key": finding.key,
        "check": finding.check,
        "title": check.title,
        "weight": finding.weight,
        "whose": finding.whose,
        "says": finding.says,
        "marks": finding.marks,
        "record": ids.get(finding.at.record),
        "owner": ids.get(finding.owner, ids.get(finding.at.record)),
        "field": finding.at.field,
        "span": None if finding.at.span is None else list(finding.at.span),
        "also": [ids[a] for a in finding.also if a in ids],
        "mend": finding.mends[0].label if finding.mends else "",
        "level": finding.level,
        "quest": finding.quest,
        "reason": finding.aside,
    }


def detail_of(here: Checked, key: str) -> dict[str, Any] | None:
    """All that is to be said of one finding; None where it is there no longer."""
    finding, survey = here.found(key), here.asking.survey
    if finding is None or survey is None:
        return None
    check = by_name()[finding.check]
    name, at, rests_on = aside_key(finding)
    aside = next((a for a in survey.project.asides if (a.check, a.at, a.rests_on) == (name, at, rests_on)), None)
    owners = {finding.owner, finding.at.record}
    others = [f for f in here.report.findings if f.key != key and owners & {f.owner, f.at.record, *f.also}]
    return {
        "edit_number": here.edit,
        "finding": as_told(here, finding),
        "means": check.means,
        "example": check.example,
        "need": check.need,
        "number": next((i for i, f in enumerate(here.report.findings, 1) if f.key == key), 0),
        "standing": [[asdict(piece) for piece in line] for line in standing(survey, finding)],
        "mends": [_mend(here, finding, mend) for mend in finding.mends],
        "aside": {"check": name, "at": at, "rests_on": rests_on},
        "aside_record": here.ids.get(f"aside/{aside.key}") if aside is not None else None,
        "others": [as_told(here, f) for f in others[:20]],
    }


def _mend(here: Checked, finding: Finding, mend: Mend) -> dict[str, Any]:
    survey = here.asking.survey
    assert survey is not None
    lines = [asdict(line) for line in lines_of(survey, mend.writes)]
    alike = sum(any(m.label == mend.label for m in f.mends) for f in here.report.findings if f.check == finding.check)
    changes = changes_of(mend.writes, here.ids, here.rows)
    return {
        "label": mend.label,
        "says": mend.says,
        "lines": lines,
        "changes": changes,
        "alike": alike,
        "together": min(alike, MOST_TOGETHER),
    }


def together(here: Checked, check: str, label: str) -> dict[str, Any]:
    """The changes that mend every finding of a check which has a mend of that label, as one."""
    mends = [m for f in here.report.findings if f.check == check for m in f.mends if m.label == label]
    changes = changes_of(joined(m.writes for m in mends[:MOST_TOGETHER]), here.ids, here.rows)
    return {"edit_number": here.edit, "count": min(len(mends), MOST_TOGETHER), "changes": changes}


def _read_lines(source: TextIO, messages: queue.Queue[Any]) -> None:
    for line in source:
        messages.put(json.loads(line))
    messages.put(None)


def main() -> None:
    """Check until the input ends."""
    end_with_parent()
    hold_memory()
    os.nice(5)
    messages: queue.Queue[Any] = queue.Queue()
    threading.Thread(target=_read_lines, args=(sys.stdin, messages), daemon=True).start()
    checks = Checks(sys.stdout, lambda: not messages.empty())
    # A collection in the midst of many small values costs more than it frees: it is done when nobody has asked for a while.
    gc.disable()
    untidy = False
    while True:
        if checks.at_work and messages.empty():
            checks.work()
            continue
        try:
            message = messages.get(timeout=IDLE_S if untidy else None)
        except queue.Empty:
            gc.collect()
            gc.freeze()
            untidy = False
            continue
        if message is None:
            return
        checks.take(message)
        untidy = True


if __name__ == "__main__":
    os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
    main()
