"""What a proof says as it is read: verdicts with their ways and ways out, what is around them, the map of the gates."""

from __future__ import annotations

import time
from collections.abc import Iterable, Mapping
from typing import Any

from ..core.checks.addresses import address_and_field
from . import bulk, models
from .background import Told
from .finding_shapes import WrittenLine
from .listing import whole_number
from .mendings import changes_of, write_of
from .programs import addresses, compiled_project
from .proof_shapes import (
    GateShape,
    LeftOutShape,
    MapReading,
    ProofReading,
    ProvedQuest,
    RemarkShape,
    RouteShape,
    StepShape,
    VerdictShape,
    WayOutShape,
    WayValues,
)
from .proofs import PROVING, Proofs
from .refusals import not_found
from .shelf import row_data

ASKED = ("can", "stuck", "lost")
BESIDE = ("failed", "declined")


class _Reading:
    """One reading of one project."""

    def __init__(self, project: models.Project, known: Proofs):
        self.project, self.known = project, known
        self.ids = addresses(project)
        self.by_name = _by_name(self.ids)
        self.words = compiled_project(project).words

    def whole(self) -> ProofReading:
        known, shown = self.known, self.known.shown
        stale = shown.rests_on != known.rests_on
        proved_at = known.whole.edit if known.whole is not None else 0
        old = known.whole is not None and known.whole.rests_on != known.rests_on
        going = known.going
        what, done, of = known.note
        return ProofReading(
            self.project.edit_number,
            proved_at,
            self.project.edit_number - proved_at if old else 0,
            known.stamp,
            going,
            known.stopped,
            what,
            done,
            of,
            round(time.monotonic() - known.begun, 1) if going else shown.seconds,
            PROVING.budget_of(self.project),
            known.problems,
            self._quests(),
            [self._remark(number, told) for number, told in enumerate(shown.remarks)],
            stale,
            _gates(self.by_name, shown.gates),
            shown.chasing,
            [self._left_out(problem) for problem in shown.left_out],
        )

    def _left_out(self, problem: Told) -> LeftOutShape:
        address, _ = address_and_field(problem["path"])
        return LeftOutShape(self.words.rule(address), self.ids.get(address), problem["message"])

    def _quests(self) -> list[ProvedQuest]:
        quests = models.Quest.objects.filter(project=self.project).order_by("order", "pk")
        found = []
        for quest in quests:
            asked = [*ASKED, *(w for w in BESIDE if self.known.of(f"{quest.key}/{w}")[0] is not None)]
            verdicts = [self._verdict(quest.key, what) for what in asked]
            found.append(ProvedQuest(quest.pk, quest.key, quest.name, verdicts))
        return found

    def _verdict(self, quest: str, what: Any) -> VerdictShape:
        key = f"{quest}/{what}"
        told, stale = self.known.of(key)
        if told is None:
            return VerdictShape(key, what, "coming", "", "", False, RouteShape([], 0, 0.0, False, True), None)
        of = (
            self.known.coming if self.known.coming is not None and key in self.known.coming.proved else self.known.whole
        )
        assert of is not None
        outs = of.ways_out.get(key)
        shapes = None if outs is None else [self._way_out(out, stale) for out in outs]
        way = self._way(told["way"])
        return VerdictShape(key, what, told["answer"], told["weight"], told["because"], stale, way, shapes)

    def _way(self, told: Told) -> RouteShape:
        steps = [
            StepShape(s["says"], self.by_name.get(s["subject"]), s["metres"], s["then"], s["counts"])
            for s in told["steps"]
        ]
        return RouteShape(steps, told["counted"], told["metres"], told["walked"], told.get("shortest", True))

    def _way_out(self, told: Told, stale: bool) -> WayOutShape:
        lines = [WrittenLine(**line) for line in told["lines"]]
        return WayOutShape(told["label"], told["says"], lines, [] if stale else self._changes(told))

    def _changes(self, told: Told) -> list[dict[str, Any]]:
        """The changes of the edit that does it; none where what it writes to is not there."""
        writes = [write_of(write) for write in told["writes"]]
        if not all(write.record in self.ids for write in writes):
            return []
        records = bulk.read(self.project, {self.ids[write.record] for write in writes})
        return changes_of(writes, self.ids, {number: row_data(record) for number, record in records.items()})

    def _remark(self, number: int, told: Told) -> RemarkShape:
        record = self.by_name.get(told["subject"])
        whose = self.words.name(told["subject"])
        return RemarkShape(
            f"around/{number}",
            told["sort"],
            record,
            whose,
            told["says"],
            told["answer"],
            told["weight"],
            told["because"],
            self._way(told["way"]),
        )


def _by_name(ids: Mapping[str, int]) -> dict[str, int]:
    return {a.partition("/")[2]: n for a, n in ids.items() if a.count("/") == 1}


def _gates(by_name: Mapping[str, int], gates: Iterable[Mapping[str, Any]]) -> list[GateShape]:
    return [
        GateShape(g["number"], g["round"], g["sort"], by_name.get(g["subject"]), g["says"], g["by"], g["after"])
        for g in gates
    ]


def map_reading(project: models.Project, gates: Iterable[Told]) -> MapReading:
    """The map of the gates from some point on."""
    return MapReading(project.edit_number, _gates(_by_name(addresses(project)), gates))


def proof_reading(project: models.Project, known: Proofs) -> ProofReading:
    """All that is known of the proof of a project. Ways out of an earlier state have no changes."""
    return _Reading(project, known).whole()


def told_way(known: Proofs, key: str) -> Told | None:
    """The way of a verdict, or of what comes out around the quests, by its name; None where there is none to be gone."""
    sort, _, rest = key.partition("/")
    told: Told | None
    if sort == "around":
        remarks = known.shown.remarks
        number = whole_number(rest, len(remarks) - 1)
        told = None if number is None else remarks[number]
    else:
        told, _ = known.of(key)
    way: Told | None = told["way"] if told is not None and told["way"]["walked"] else None
    return way


def way_values(project: models.Project, known: Proofs, key: str) -> WayValues:
    """A way as the values of a start card and of a kept walk. Raises `Refused` 404."""
    way = told_way(known, key)
    if way is None:
        raise not_found("way", f"proof/{key}")
    return WayValues(way["card"], way["walk"])
