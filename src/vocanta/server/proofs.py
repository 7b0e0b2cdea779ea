"""What a proof says of each project: proved by a process of low priority after edits, kept with the edit it speaks of."""

from __future__ import annotations

import atexit
import time
from dataclasses import dataclass, field
from typing import Any

from django.conf import settings

from ..core.proving.proving import BUDGET_S
from . import events, models
from .background import AtWork, Background, Prepared, Told
from .gone import ends_with_its_project
from .walking import played
from .writing import writing

ANSWERED = ("can", "failed", "declined")
"""The verdicts whose way shows all that they claim: walked again, they stand."""


@dataclass
class Results:
    """What came out of one proof: of which edit, and of which state of what is played."""

    edit: int = 0
    rests_on: str = ""
    proved: dict[str, Told] = field(default_factory=dict)
    """By quest and what is asked, as `quest/what`."""
    remarks: list[Told] = field(default_factory=list)
    gates: list[Told] = field(default_factory=list)
    ways_out: dict[str, list[Told]] = field(default_factory=dict)
    points: dict[str, Told] = field(default_factory=dict)
    """By `quest.stage` what the way there that was walked leaves behind."""
    chasing: list[str] = field(default_factory=list)
    left_out: list[Told] = field(default_factory=list)
    seconds: float = 0.0

    def hear(self, said: Told) -> None:
        """Take in something that came out."""
        if "proved" in said:
            self.proved[key_of(said["proved"])] = said["proved"]
        elif "remark" in said:
            self.remarks.append(said["remark"])
        elif "point" in said:
            self.points[said["point"]["point"]] = said["point"]
        elif "gates" in said:
            self.gates = said["gates"]
        elif "ways_out" in said:
            self.ways_out[key_of(said["ways_out"])] = said["ways_out"]["mends"]
        elif "chasing" in said:
            self.chasing, self.left_out = said["chasing"], said["left_out"]
        elif "whole" in said:
            self.seconds = said["whole"]


@dataclass(frozen=True)
class PointWay:
    """The way to a stage that was walked: how many things there are to do, and the columns that it leaves otherwise."""

    counted: int
    puts: tuple[tuple[str, int], ...]


def key_of(told: Told) -> str:
    """How a verdict is called: its quest, and what is asked of it."""
    return f"{told['quest']}/{told['what']}"


@dataclass
class Proofs(AtWork):
    """What is known of one project: the last whole proof, and the one that is coming. `rests_on` is the project as it is now.

    `stands`: the verdicts of before whose ways were walked again already.
    """

    rests_on: str = ""
    whole: Results | None = None
    coming: Results | None = None
    stands: set[str] = field(default_factory=set)
    note: tuple[str, int, int] = ("", 0, 0)
    begun: float = 0.0
    stopped: bool = False
    ended: Results | None = None
    """What had come of a proof that an edit ended: it stands, as of its edit, where there was no whole one before."""
    unkept: bool = False
    """Whether the last whole proof is not in the database yet."""

    def of(self, key: str) -> tuple[Told | None, bool]:
        """A verdict, and whether it speaks of an earlier state of the project."""
        if self.coming is not None and key in self.coming.proved:
            return self.coming.proved[key], False
        if self.whole is not None and key in self.whole.proved:
            return self.whole.proved[key], self.whole.rests_on != self.rests_on and key not in self.stands
        return None, False

    @property
    def shown(self) -> Results:
        """What is shown of all that is no verdict: of the proof that is coming as soon as it has come so far."""
        if self.coming is not None and (self.whole is None or self.coming.gates):
            return self.coming
        return self.whole or Results()


class Proving(Background[Proofs]):
    """The proofs of all projects."""

    module = "vocanta.server.proof_process"

    def __init__(self) -> None:
        super().__init__()
        self.budget_s: dict[int, float] = {}
        """What somebody has set as the budget of a project, by its id."""

    def weighing(self, project: models.Project) -> list[Told]:
        """What the last whole proof of a project has found that weighs something; its ways out while they still fit."""
        with self._lock:
            known = self._known.get(events.key_of(project))
            if known is None:
                known = self._known[events.key_of(project)] = self._first(project)
            if known.whole is None:
                return []
            fits = known.edit == project.edit_number and known.whole.rests_on == known.rests_on
            return [_as_proven(one, known.whole, fits) for one in known.whole.proved.values() if one["weight"]]

    def way_to(self, project: models.Project, quest: str, stage: str) -> PointWay | None:
        """What the way to a stage leaves behind, as far as the last whole proof fits the project as it is now."""
        with self._lock:
            known = self._known.get(events.key_of(project))
            if known is None or known.whole is None or known.edit != project.edit_number:
                return None
            told = known.whole.points.get(f"{quest}.{stage}") if known.whole.rests_on == known.rests_on else None
            if told is None:
                return None
            return PointWay(told["counted"], tuple((column, value) for column, value in told["puts"]))

    def _first(self, project: models.Project) -> Proofs:
        """What was proved of it last, in an earlier life of the server too."""
        known = Proofs()
        kept = models.KeptProof.objects.filter(project=project).first()
        if kept is not None:
            known.whole = Results(**kept.told)
        return known

    def _forget(self, known: Proofs) -> None:
        known.rests_on, known.stands = "", set()
        if known.whole is not None:
            known.whole.rests_on = ""

    def _begin(self, project: models.Project, known: Proofs, prepared: Prepared, *, anew: bool) -> None:
        core, file = prepared
        known.rests_on, known.stopped, known.stands = played(core), False, set()
        if known.whole is not None and known.whole.rests_on == known.rests_on:
            return
        if not anew and not settings.PROVES_BY_ITSELF:
            return
        if known.whole is None and known.ended is not None and known.ended.proved:
            known.whole = known.ended
        known.ended = None
        stood = [] if known.whole is None else [one for one in known.whole.proved.values() if _can_stand(one)]
        known.coming = Results(project.edit_number, known.rests_on)
        known.begun, known.note = time.monotonic(), ("Beginning", 0, 0)
        ways = [{"quest": o["quest"], "what": o["what"], "deeds": o["way"]["deeds"]} for o in stood]
        asked = {"file": file, "budget_s": self.budget_of(project), "stood": ways}
        self._start(known, asked)

    def budget_of(self, project: models.Project) -> float:
        """So many seconds a proof of it may take."""
        return self.budget_s.get(project.pk, BUDGET_S)

    def _hear(self, known: Proofs, said: Told) -> None:
        coming = known.coming
        assert coming is not None
        if "note" in said:
            known.note = said["note"][0], said["note"][1], said["note"][2]
        elif "stands" in said:
            known.stands.add("/".join(said["stands"]))
        else:
            coming.hear(said)
            if "whole" in said:
                known.whole, known.coming, known.unkept = coming, None, True

    def _stopped(self, known: Proofs) -> None:
        """A proof that was not whole comes to nothing; only an edit leaves standing what had come of it, as of before."""
        known.stopped = known.coming is not None
        known.ended, known.coming, known.note = known.coming, None, ("", 0, 0)

    def stop(self, project: models.Project) -> None:
        """Stop proving; nothing is kept of what had come of it."""
        super().stop(project)
        with self._lock:
            if (known := self._known.get(events.key_of(project))) is not None:
                known.ended = None


def _as_proven(told: Told, of: Results, fits: bool) -> Told:
    last = next((step["says"] for step in reversed(told["way"]["steps"]) if step["counts"]), "")
    outs = of.ways_out.get(key_of(told), []) if fits else []
    found = {"quest": told["quest"], "what": told["what"], "counted": told["way"]["counted"], "last": last}
    return {**found, "ways_out": outs, "stale": not fits}


def _can_stand(told: Told) -> bool:
    return told["what"] in ANSWERED and told["answer"] == "yes" and told["way"]["walked"]


def known_proof(
    project: models.Project, stamp: int | None, *, anew: bool = False, going: bool = True, budget_s: float | None = None
) -> Proofs:
    """What is known of the proof of a project (`Background.known`); a whole one is kept as soon as somebody asks for it."""
    if budget_s is not None:
        PROVING.budget_s[project.pk] = budget_s
    known = PROVING.known(project, stamp, anew=anew, going=going)
    if known.unkept and known.whole is not None:
        known.unkept = False
        told: dict[str, Any] = dict(vars(known.whole))
        with writing():
            models.KeptProof.objects.update_or_create(project=project, defaults={"told": told})
    return known


PROVING = Proving()
ends_with_its_project(PROVING.stop)
atexit.register(PROVING.close)
