"""What a proof came to, for people and in the forms of others: plain data, SARIF 2.1.0, JUnit."""

from __future__ import annotations

import json
from typing import Any
from xml.etree import ElementTree as ET

from ..checks.addresses import address_and_field
from ..checks.reports import sarif_log
from ..engine.wording import Words
from ..project.problems import Problem
from ..project.xmltext import cleaned, document
from ..proof.verdicts import What
from .proving import Proof, Proved

_SAYS: dict[tuple[What, str], str] = {
    ("can", "yes"): "{quest} can be done",
    ("can", "never"): "{quest} can never be done",
    ("can", "undecided"): "whether {quest} can be done is not decided",
    ("stuck", "yes"): "One can get stuck in {quest}",
    ("stuck", "never"): "nobody gets stuck in {quest}",
    ("stuck", "undecided"): "whether one can get stuck in {quest} is not decided",
    ("lost", "yes"): "{quest} can be lost for good",
    ("lost", "never"): "{quest} is never lost for good",
    ("lost", "undecided"): "whether {quest} can be lost for good is not decided",
    ("failed", "yes"): "{quest} can fail",
    ("failed", "never"): "{quest} never fails",
    ("failed", "undecided"): "whether {quest} can fail is not decided",
    ("declined", "yes"): "{quest} can be declined",
    ("declined", "never"): "{quest} is never declined",
    ("declined", "undecided"): "whether {quest} can be declined is not decided",
}
_LEVELS = {"stops it": "error", "worth a look": "note"}
_RULES: dict[What, tuple[str, str]] = {
    "can": ("never_done", "A quest that can never be done"),
    "stuck": ("gets_stuck", "A quest in which one can get stuck: it is under way and can never be done any more"),
    "lost": ("gets_lost", "A quest that can be failed or declined for good"),
}
NOTHING_ASKED = (
    "There is no quest in it. Of each quest it would be proved whether it can be done, and whether one can get stuck in it"
    " or lose it for good."
)


def sentence(proved: Proved, words: Words) -> str:
    """A verdict in a sentence, without its full stop."""
    said = _SAYS[proved.verdict.what, proved.verdict.answer].format(quest=words.name(proved.verdict.quest))
    if proved.verdict.answer == "undecided":
        return f"{said[0].upper()}{said[1:]} ({proved.because})"
    if proved.verdict.answer == "yes":
        if not proved.way.counted:
            return f"{said}: from the beginning"
        times = "1 thing to do" if proved.way.counted == 1 else f"{proved.way.counted} things to do"
        return f"{said}: {times}" if proved.way.shortest else f"{said}: at most {times}"
    return said[0].upper() + said[1:]


def _said(proved: Proved) -> list[str]:
    """The steps of its way in words."""
    return [step.says for step in proved.way.steps]


def lines(proof: Proof, words: Words) -> list[str]:
    """For people: a line for each verdict, and beside what weighs something the way there."""
    found = []
    for one in proof.proved:
        weight = f"{one.weight}: " if one.weight else ""
        found.append(f"{weight}{sentence(one, words)}.")
        if one.way.steps and (one.weight or one.verdict.answer == "undecided"):
            found.append("    " + " · ".join(_said(one)))
    found += [f"stops it: cues chase each other without end: {name}." for name in proof.chasing]
    found += [f"left out, since it cannot be used: {_whose(p, words)}: {p.message}" for p in proof.left_out]
    return found


def _whose(problem: Problem, words: Words) -> str:
    """Which text of the project cannot be used, in words."""
    return words.rule(address_and_field(problem.path)[0])


def as_data(proved: Proved, words: Words) -> dict[str, Any]:
    """A verdict as plain data."""
    return {
        "quest": proved.verdict.quest,
        "what": proved.verdict.what,
        "answer": proved.verdict.answer,
        "weight": proved.weight,
        "says": sentence(proved, words),
        "because": proved.because,
        "too_much": list(proved.verdict.too_much),
        "things_to_do": proved.way.counted if proved.way.steps or proved.way.walked else None,
        "shortest": proved.way.shortest if proved.way.walked else None,
        "steps": _said(proved),
        "metres": round(proved.way.metres, 1) if proved.way.walked else None,
        "walked": proved.way.walked,
    }


def as_json(proof: Proof, words: Words, file: str) -> str:
    """The report as one JSON document."""
    answers = [p.verdict.answer for p in proof.proved]
    whole = {
        "file": file,
        "counts": {answer: answers.count(answer) for answer in ("yes", "never", "undecided")},
        "verdicts": [as_data(p, words) for p in proof.proved],
        "chasing": list(proof.chasing),
        "left_out": [{"where": p.path, "says": p.message} for p in proof.left_out],
    }
    return json.dumps(whole, ensure_ascii=False, indent=1) + "\n"


def as_sarif(proof: Proof, words: Words, file: str, version: str) -> str:
    """The report as a SARIF 2.1.0 log: a result for each verdict that weighs something."""
    names = list(_RULES)
    rules = [{"id": _RULES[w][0], "shortDescription": {"text": _RULES[w][1]}} for w in names]
    results = []
    for one in (p for p in proof.proved if p.weight):
        where = {"name": one.verdict.quest, "fullyQualifiedName": f"quest/{one.verdict.quest}", "kind": "object"}
        way = f" The way there: {' · '.join(_said(one))}." if one.way.steps else ""
        results.append(
            {
                "ruleId": _RULES[one.verdict.what][0],
                "ruleIndex": names.index(one.verdict.what),
                "level": _LEVELS[one.weight],
                "message": {"text": f"{sentence(one, words)}.{way}"},
                "locations": [
                    {
                        "physicalLocation": {"artifactLocation": {"uri": file, "index": 0}},
                        "logicalLocations": [where],
                    }
                ],
                "partialFingerprints": {"verdict/v1": f"{one.verdict.quest}/{one.verdict.what}"},
            }
        )
    return sarif_log(file, version, rules, results)


def as_junit(proof: Proof, words: Words, file: str) -> str:
    """The report as JUnit XML: a test case for each verdict; it fails where it weighs something, and is an error where it
    is not decided."""
    failures = sum(bool(p.weight) for p in proof.proved)
    errors = sum(p.verdict.answer == "undecided" for p in proof.proved)
    suite = ET.Element(
        "testsuite",
        name=f"vocanta prove {file}",
        tests=str(len(proof.proved)),
        errors=str(errors),
        failures=str(failures),
    )
    for one in proof.proved:
        name = f"{one.verdict.quest}: {one.verdict.what}"
        case = ET.SubElement(suite, "testcase", classname="vocanta.prove", name=cleaned(name))
        said, way = cleaned(sentence(one, words)), cleaned("\n".join(_said(one)))
        if one.weight:
            ET.SubElement(case, "failure", message=said, type=one.weight).text = way
        elif one.verdict.answer == "undecided":
            ET.SubElement(case, "error", message=said, type="not decided").text = way
    return document(suite)
