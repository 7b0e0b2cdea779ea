"""A report of findings in the forms of others: plain data, SARIF 2.1.0, JUnit."""

from __future__ import annotations

import json
from collections.abc import Sequence
from typing import Any
from xml.etree import ElementTree as ET

from ..project.xmltext import cleaned, document
from .asking import Report
from .check import Check
from .finding import WEIGHTS, Finding, Weight

SARIF_SCHEMA = "https://docs.oasis-open.org/sarif/sarif/v2.1.0/errata01/os/schemas/sarif-schema-2.1.0.json"
_LEVELS: dict[Weight, str] = {"stops it": "error", "likely wrong": "warning", "worth a look": "note"}


def as_data(finding: Finding) -> dict[str, Any]:
    """A finding as plain data."""
    span = None if finding.at.span is None else list(finding.at.span)
    return {
        "key": finding.key,
        "check": finding.check,
        "weight": finding.weight,
        "whose": finding.whose,
        "says": finding.says,
        "at": {"record": finding.at.record, "field": finding.at.field, "span": span},
        "mends": [{"label": m.label, "says": m.says} for m in finding.mends],
        "level": finding.level,
        "quest": finding.quest,
    }


def as_json(report: Report, file: str) -> str:
    """The report as one JSON document."""
    counts = {w: sum(f.weight == w for f in report.findings) for w in WEIGHTS}
    whole = {
        "file": file,
        "counts": counts,
        "findings": [as_data(f) for f in report.findings],
        "aside": [{**as_data(f), "reason": f.aside} for f in report.aside],
        "failed": [{"check": f.check, "what": f.what} for f in report.failed],
    }
    return json.dumps(whole, ensure_ascii=False, indent=1) + "\n"


def as_sarif(report: Report, file: str, asked: tuple[Check, ...], version: str) -> str:
    """The report as a SARIF 2.1.0 log: a rule for each check, a result for each finding, those put aside suppressed."""
    rules = [_rule(check) for check in asked]
    numbers = {check.name: i for i, check in enumerate(asked)}
    results = [_result(f, file, numbers[f.check]) for f in (*report.findings, *report.aside)]
    notes = [
        {"level": "error", "message": {"text": f"The check {f.check} failed: {f.what}"}, "descriptor": {"id": f.check}}
        for f in report.failed
    ]
    return sarif_log(file, version, rules, results, notes)


def sarif_log(
    file: str, version: str, rules: list[Any], results: list[Any], notes: Sequence[dict[str, Any]] = ()
) -> str:
    """A whole SARIF 2.1.0 log of one run over one file. `notes` tell what failed in the run itself."""
    run = {
        "tool": {"driver": {"name": "Vocanta", "version": version, "rules": rules}},
        "columnKind": "unicodeCodePoints",
        "invocations": [{"executionSuccessful": not notes, "toolExecutionNotifications": list(notes)}],
        "artifacts": [{"location": {"uri": file}}],
        "results": results,
    }
    return json.dumps({"$schema": SARIF_SCHEMA, "version": "2.1.0", "runs": [run]}, ensure_ascii=False, indent=1) + "\n"


def _rule(check: Check) -> dict[str, Any]:
    return {
        "id": check.name,
        "name": "".join(part.capitalize() for part in check.name.split("_")),
        "shortDescription": {"text": check.title},
        "fullDescription": {"text": check.means},
        "help": {"text": f"{check.asks} For example: {check.example}"},
        "defaultConfiguration": {"level": _LEVELS[check.weight]},
        "properties": {"tags": [check.need]},
    }


def _result(finding: Finding, file: str, rule: int) -> dict[str, Any]:
    mend = "".join(f" To mend it: {m.says}" for m in finding.mends[:1])
    name = finding.at.record + (f"#{finding.at.field}" if finding.at.field else "")
    where = {"name": finding.at.record.rpartition("/")[2], "fullyQualifiedName": name, "kind": "object"}
    artifact = {"artifactLocation": {"uri": file, "index": 0}}
    result: dict[str, Any] = {
        "ruleId": finding.check,
        "ruleIndex": rule,
        "level": _LEVELS[finding.weight],
        "message": {"text": f"{finding.sentence}.{mend}"},
        "locations": [{"physicalLocation": artifact, "logicalLocations": [where]}],
        "partialFingerprints": {"finding/v1": finding.key},
    }
    if finding.aside is not None:
        result["suppressions"] = [{"kind": "inSource", "justification": finding.aside}]
    return result


def as_junit(report: Report, file: str, asked: tuple[Check, ...]) -> str:
    """The report as JUnit XML: a test case for each check, which fails with every finding of it."""
    suite = ET.Element("testsuite", name=f"vocanta check {file}", tests=str(len(asked)), errors=str(len(report.failed)))
    failed = {f.check: f for f in report.failed}
    failures = 0
    for check in asked:
        case = ET.SubElement(suite, "testcase", classname=f"vocanta.{check.weight.replace(' ', '_')}", name=check.name)
        mine = [f for f in report.findings if f.check == check.name]
        if check.name in failed:
            ET.SubElement(case, "error", message=cleaned(failed[check.name].what), type="fault").text = ""
        elif mine:
            failures += 1
            head = mine[0].sentence if len(mine) == 1 else f"{len(mine)} times: {check.title}"
            failure = ET.SubElement(case, "failure", message=cleaned(head), type=check.weight)
            failure.text = cleaned("\n".join(f"{f.at.record}: {f.sentence}" for f in mine))
    suite.set("failures", str(failures))
    return document(suite)
