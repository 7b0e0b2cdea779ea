"""Findings as they are asked for: filtered, by pages, by record, one with all that is to be said of it."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Mapping
from typing import Any

from pydantic import TypeAdapter

from ..core.checks.finding import WEIGHTS
from . import models
from .checking import HELPER, Known
from .finding_shapes import (
    CheckCount,
    FailedShape,
    FindingAnswer,
    FindingDetail,
    FindingShape,
    FindingsReading,
    MarkShape,
    MarksReading,
    TogetherShape,
)
from .listing import whole_number
from .refusals import not_found

PAGE = 100
QUICK_S, WHOLE_S = 4.0, 30.0
"""So long findings are waited for: the quick ones, and all of them."""
Told = Mapping[str, Any]
_FINDING, _DETAIL, _TOGETHER = TypeAdapter(FindingShape), TypeAdapter(FindingDetail), TypeAdapter(TogetherShape)


def known_at(project: models.Project, asked: Told) -> Known:
    """The findings at the edit that the caller has, or later."""
    edit = whole_number(str(asked.get("edit", "")))
    edit, whole = project.edit_number if edit is None else edit, _yes(asked, "whole")
    return HELPER.findings(project, edit, WHOLE_S if whole else QUICK_S, whole=whole)


def reading(project: models.Project, asked: Told) -> FindingsReading:
    """A page of the findings that were asked for, with counts of all."""
    known = known_at(project, asked)
    every = known.findings
    matching = [f for f in (known.aside if _yes(asked, "aside") else every) if _matches(f, asked)]
    page = whole_number(str(asked.get("page", ""))) or 0
    titles = {f["check"]: f["title"] for f in every}
    counts = Counter(f["check"] for f in every)
    return FindingsReading(
        known.edit,
        known.whole == known.edit and bool(known.said),
        len(every),
        {w: sum(f["weight"] == w for f in every) for w in WEIGHTS},
        len(known.aside),
        len(matching),
        -(-len(matching) // PAGE),
        [CheckCount(name, titles[name], count) for name, count in counts.most_common()],
        [FailedShape(f["check"], f["what"]) for f in known.said.get("failed", [])],
        known.said.get("problems", []),
        shapes_of(matching[page * PAGE : (page + 1) * PAGE]),
    )


def _yes(asked: Told, what: str) -> bool:
    return asked.get(what) in ("1", "true")


def _matches(finding: Told, asked: Told) -> bool:
    for what in ("check", "level", "quest", "weight"):
        if asked.get(what) and finding[what] != asked[what]:
            return False
    words = str(asked.get("words", "")).lower().split()
    whole = f"{finding['whose']} {finding['says']} {finding['title']}".lower()
    return all(word in whole for word in words)


def shapes_of(findings: Iterable[Told]) -> list[FindingShape]:
    """Findings as they travel."""
    return [_FINDING.validate_python(f) for f in findings]


def of_record(project: models.Project, asked: Told, records: set[int]) -> list[FindingShape]:
    """The findings at some records, or about them."""
    known = known_at(project, asked)
    return shapes_of(f for f in known.findings if records & _about(f))


def _about(finding: Told) -> set[int]:
    return {i for i in (finding["record"], finding["owner"], *finding["also"]) if i is not None}


def marks(project: models.Project, asked: Told) -> MarksReading:
    """What the findings come to at each record."""
    known = known_at(project, asked)
    found: dict[int, list[Told]] = {}
    for finding in known.findings:
        for record in _about(finding):
            found.setdefault(record, []).append(finding)
    lines = [_mark(record, some) for record, some in found.items()]
    whole = known.whole == known.edit and bool(known.said)
    return MarksReading(known.edit, whole, len(known.findings), lines)


def _mark(record: int, some: list[Told]) -> MarkShape:
    own = [f for f in some if record in (f["record"], f["owner"])]
    first = (own or some)[0]
    return MarkShape(record, len(some), some[0]["weight"], first["whose"], first["says"], bool(own))


def detail(project: models.Project, key: str) -> FindingAnswer:
    """One finding with what it means, where it stands and what its mends write. Raises `Refused` 503."""
    answer = HELPER.answer(project, {"detail": key})
    return FindingAnswer(None if answer is None else _DETAIL.validate_python(answer))


def together(project: models.Project, check: str, label: str) -> TogetherShape:
    """One edit for every finding of a check that has a mend of that label. Raises `Refused` 404, 503."""
    answer = HELPER.answer(project, {"mends": {"check": check, "label": label}})
    if not answer or not answer["changes"]:
        raise not_found("mend", f"findings/{check}/{label}")
    return _TOGETHER.validate_python(answer)
