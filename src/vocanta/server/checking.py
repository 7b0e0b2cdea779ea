"""The findings of projects: asked of helper processes, kept by edit number, waited for by whoever wants them."""

from __future__ import annotations

import atexit
import contextlib
import itertools
import json
import subprocess
import threading
import time
from collections.abc import Callable
from dataclasses import asdict, dataclass, field
from typing import Any

from ..core.project.problems import Problem
from . import bulk, models, store
from .events import BOARD, Key, key_of
from .gone import ends_with_its_project
from .processes import begun
from .proofs import PROVING
from .refusals import Refused
from .shelf import row_data

MOST_HELPERS = 3
"""So many processes check at a time."""
LONGEST_S = 60.0
"""So long the checks of a project may take."""
ANSWER_S = 20.0
"""So long an answer of the helper is waited for."""
Message = dict[str, Any]


@dataclass
class Known:
    """What is known of one project: how far the helper was brought, and what it said last."""

    name: str
    sent: int
    said: Message = field(default_factory=dict)
    findings: tuple[Message, ...] = ()
    aside: tuple[Message, ...] = ()
    whole: int = 0
    """The edit of the last findings that are whole."""
    proven: list[Message] = field(default_factory=list)
    """What it was told of what a proof has found."""
    gone: bool = False
    """Whether the helper knows nothing of it any more: whoever asks next brings it anew."""
    since: float = 0.0
    """When the helper was brought to its last edit, by the clock that only goes forward."""

    @property
    def behind(self) -> bool:
        """Whether its helper is still at work on it."""
        return not self.gone and self.whole < self.sent

    def hear(self, said: Message) -> None:
        """Take in what the helper says of the project; of what it said before it names the keys alone."""
        had = {f["key"]: f for f in (*self.findings, *self.aside, *said["fresh"])}
        self.findings = tuple(had[key] for key in said["findings"])
        self.aside = tuple(had[key] for key in said["aside"])
        self.said = said
        self.whole = self.edit if said["whole"] else self.whole

    @property
    def edit(self) -> int:
        """The edit that the findings speak of, 0 before there are any."""
        return int(self.said.get("edit", 0))


class Helper:
    """A helper process, begun when it is first asked and again when it has ended.

    | state | what may happen | next |
    |---|---|---|
    | not begun | a project is brought to it | at work |
    | at work | it says something | at work, whoever waits is told |
    | at work | it ends by itself | not begun, all projects forgotten |
    | at work | it takes too long over a project, or that is deleted | not begun, all projects forgotten |
    | at work | `close` | not begun |
    """

    def __init__(self, too_heavy: Callable[[Key, int], None] = lambda key, edit: None) -> None:
        """`too_heavy` is told of a project, at an edit, whose checks were ended since they took too much."""
        self._too_heavy = too_heavy
        self._watched = False
        self._lock = threading.RLock()
        self._heard = threading.Condition(self._lock)
        self._process: subprocess.Popen[str] | None = None
        self._known: dict[Key, Known] = {}
        self._answers: dict[int, Message] = {}
        self._numbers = itertools.count(1)

    # --- asking

    def findings(self, project: models.Project, edit: int, wait_s: float, *, whole: bool) -> Known:
        """The findings of a project at an edit or later, whole ones on demand; what there is where that takes longer."""
        with self._lock:
            known = self._brought(project)
            wanted = min(edit, known.sent)
            self._wait(lambda: known.gone or (known.whole if whole else known.edit) >= wanted, wait_s)
            return known

    def answer(self, project: models.Project, message: Message) -> Message | None:
        """What the helper answers to a question about a project. Raises `Refused` 503 where it does not in time."""
        with self._lock:
            known = self._brought(project)
            self._wait(lambda: known.gone or known.whole >= known.sent, ANSWER_S)
            number = next(self._numbers)
            self._tell({**message, "project": known.name, "ask": number})
            self._wait(lambda: known.gone or number in self._answers, ANSWER_S)
            found = self._answers.pop(number, None)
        if found is None or found.get("lost"):
            raise _no_answer()
        answer: Message | None = found["answer"]
        return answer

    def busy_but_for(self, key: Key) -> bool:
        """Whether it is at work on another project."""
        with self._lock:
            return any(known.behind for other, known in self._known.items() if other != key)

    def drop(self, key: Key, *, gone: bool = True) -> None:
        """Forget a project. Where it is gone, what is being worked out for it is ended."""
        with self._lock:
            known = self._known.get(key)
            if known is None:
                return
            at_work_on = next((one for one, its in self._known.items() if its.behind), None)
            if gone and at_work_on == key:
                self._kill()
            else:
                self._forget([key])
                self._tell({"project": known.name, "forget": True})

    def close(self) -> None:
        """End the process."""
        with self._lock:
            process, self._process = self._process, None
            self._forget(list(self._known))
        if process is not None:
            _ended(process)

    def _wait(self, until: Callable[[], bool], wait_s: float) -> None:
        end = time.monotonic() + wait_s
        while not until() and (left := end - time.monotonic()) > 0:
            self._heard.wait(left)

    # --- bringing

    def _brought(self, project: models.Project) -> Known:
        """The helper brought to a project as it is stored now."""
        key = key_of(project)
        known = self._known.get(key)
        if known is None:
            known = self._known[key] = Known(f"{project.pk} {project.created_at.isoformat()}", 0)
            self._send_all(project, known)
        elif known.sent < project.edit_number:
            told = BOARD.since(key, known.sent, project.edit_number)
            if any(t.all for t in told):
                self._send_all(project, known)
            else:
                changed = list(dict.fromkeys(i for t in told for i in t.changed))
                removed = [i for t in told for i in t.removed]
                self._send(known, list(bulk.read(project, changed).values()), removed, told[-1].edit_number)
        self._send_proven(project, known)
        return known

    def _send_proven(self, project: models.Project, known: Known) -> None:
        """Tell what a proof has found, where that is something else than was told: the findings follow anew."""
        proven = PROVING.weighing(project)
        if proven != known.proven:
            known.proven, known.whole, known.said = proven, 0, {}
            message = {"project": known.name, "edit": known.sent, "rows": [], "removed": [], "anew": False}
            known.since = time.monotonic()
            self._watch()
            self._tell(message | {"proven": proven})

    # --- no longer than it may

    def _watch(self) -> None:
        """See to it that nothing is worked on for longer than it may, as long as there is anything at work."""
        if not self._watched:
            self._watched = True
            watch = threading.Timer(LONGEST_S / 4, self._look)
            watch.daemon = True
            watch.start()

    def _look(self) -> None:
        with self._lock:
            self._watched = False
            at_work = [(key, known) for key, known in self._known.items() if known.behind]
            late = [(key, known) for key, known in at_work if time.monotonic() - known.since > LONGEST_S]
            for key, known in late[:1]:  # They are worked on in turn: those behind the first have only waited.
                self._too_heavy(key, known.sent)
                self._kill()
            if at_work and not late:
                self._watch()

    def _kill(self) -> None:
        process, self._process = self._process, None
        self._forget(list(self._known))
        if process is not None:
            process.kill()
            _ended(process)

    def _send_all(self, project: models.Project, known: Known) -> None:
        self._send(known, store.all_records(project), [], project.edit_number, anew=True)

    def _send(
        self, known: Known, records: list[models.Record], removed: list[int], edit: int, *, anew: bool = False
    ) -> None:
        rows = [asdict(row_data(record)) for record in records]
        there = {row["id"] for row in rows}
        known.sent, known.since = edit, time.monotonic()
        self._watch()
        gone = [i for i in removed if i not in there]
        self._tell({"project": known.name, "edit": edit, "rows": rows, "removed": gone, "anew": anew})

    def _tell(self, message: Message) -> None:
        if self._process is None:
            self._process = self._begun()
        assert self._process.stdin is not None
        with contextlib.suppress(BrokenPipeError):
            self._process.stdin.write(json.dumps(message) + "\n")
            self._process.stdin.flush()

    def _begun(self) -> subprocess.Popen[str]:
        process = begun("vocanta.server.checks_process")
        threading.Thread(target=self._listen, args=(process,), daemon=True).start()
        return process

    def _listen(self, process: subprocess.Popen[str]) -> None:
        assert process.stdout is not None
        with process.stdout as lines:
            for line in lines:
                self._take(process, json.loads(line))
        with self._lock:
            if self._process is process:
                # It has ended by itself: whoever asks next begins anew, unless it fell over what it was at work on.
                self._process = None
                for key, known in [(k, one) for k, one in self._known.items() if one.behind][:1]:
                    self._too_heavy(key, known.sent)
                self._forget(list(self._known))
                _ended(process)

    def _forget(self, keys: list[Key]) -> None:
        for key in keys:
            self._known.pop(key).gone = True
        self._heard.notify_all()

    def _take(self, process: subprocess.Popen[str], message: Message) -> None:
        with self._lock:
            of = [key for key, known in self._known.items() if known.name == message["project"]]
            if self._process is process and message.get("ask") is not None:
                self._answers[message["ask"]] = message
            elif self._process is process and message.get("lost"):
                self._forget(of)
            elif self._process is process:
                for known in (self._known[key] for key in of):
                    known.hear(message)
            self._heard.notify_all()


def _ended(process: subprocess.Popen[str]) -> None:
    """Close what a process reads, and wait until it has ended."""
    if process.stdin is not None:
        with contextlib.suppress(BrokenPipeError):
            process.stdin.close()
    process.wait()


def _no_answer() -> Refused:
    problem = Problem(
        "checks_interrupted",
        "The checks did not answer in time.",
        "Ask again; they begin anew. Nothing of the project is touched by that.",
        "findings",
    )
    return Refused(503, "No answer from the checks", [problem])


class Helpers:
    """The helper processes: a project is brought to one that is at work on no other, as long as there are such.

    What takes too long, or more memory than a process may have, is not begun again before the project is edited.
    """

    def __init__(self, most: int = MOST_HELPERS):
        self._lock = threading.Lock()
        self._helpers = [Helper(self._note_heavy) for _ in range(most)]
        self._of: dict[Key, Helper] = {}
        self._heavy: dict[Key, int] = {}

    def findings(self, project: models.Project, edit: int, wait_s: float, *, whole: bool) -> Known:
        """See `Helper.findings`; of what was too heavy it is told so."""
        key = key_of(project)
        if self._heavy.get(key) != project.edit_number:
            known = self._for(key).findings(project, edit, wait_s, whole=whole)
        if self._heavy.get(key) == project.edit_number:
            known = Known("", project.edit_number, _heavy_at(project.edit_number), whole=project.edit_number)
        return known

    def answer(self, project: models.Project, message: Message) -> Message | None:
        """See `Helper.answer`."""
        if self._heavy.get(key_of(project)) == project.edit_number:
            raise _no_answer()
        return self._for(key_of(project)).answer(project, message)

    def drop(self, project: models.Project) -> None:
        """A project is gone, and with it what is worked out for it."""
        with self._lock:
            helper = self._of.pop(key_of(project), None)
        if helper is not None:
            helper.drop(key_of(project))

    def close(self) -> None:
        """End all processes."""
        for helper in self._helpers:
            helper.close()
        with self._lock:
            self._of.clear()
            self._heavy.clear()

    def _for(self, key: Key) -> Helper:
        with self._lock:
            before = self._of.get(key)
            if before is not None and not before.busy_but_for(key):
                return before
            free = next((one for one in self._helpers if not one.busy_but_for(key)), None)
            found = free or before or self._helpers[0]
            self._of[key] = found
        if before is not None and before is not found:
            before.drop(key, gone=False)
        return found

    def _note_heavy(self, key: Key, edit: int) -> None:
        self._heavy[key] = edit


def _heavy_at(edit: int) -> Message:
    message = (
        f"The checks of this project took longer than {LONGEST_S:g} s, or more memory than they may, and were ended."
    )
    fix = "Make its largest floor or its longest outlines simpler, or take out what was added last; they begin again then."
    problem = Problem("checks_too_heavy", message, fix, "findings")
    return {"edit": edit, "problems": [problem.as_dict()]}


HELPER = Helpers()
ends_with_its_project(HELPER.drop)
atexit.register(HELPER.close)
