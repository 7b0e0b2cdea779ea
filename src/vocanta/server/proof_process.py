"""A project proved in a process of its own, out of the way of whoever types.

In: `{"file": text of a project file, "budget_s": seconds, "stood": [{"quest", "what", "deeds"}]}`: the ways that stood before.
Out, a line each: `{"note": [what, done, of]}` as it comes on; `{"stands": [quest, what]}` for a way that still leads there;
`{"proved": ...}` for each verdict, `{"remark": ...}`, `{"gates": [...]}`, `{"ways_out": ...}`, at last `{"whole": seconds}`. A
project that cannot be proved: `{"problems": [...]}`.
"""

from __future__ import annotations

import os
import time
from collections.abc import Iterable
from dataclasses import asdict
from typing import Any

from pydantic import TypeAdapter

from ..core.checks.finding import Mend
from ..core.checks.preview import lines_of
from ..core.checks.survey import Survey
from ..core.engine.beginning import Start
from ..core.engine.run import Run
from ..core.progress.compiling import compiled
from ..core.progress.program import Program
from ..core.project.fileformat import loads
from ..core.project.keeping import Deed
from ..core.project.records import Project
from ..core.project.tree import plain
from ..core.proving.around import Remark
from ..core.proving.going import quest_done
from ..core.proving.map import map_of
from ..core.proving.proving import Proved, Proving
from ..core.proving.ways import Way
from ..core.walks.following import Follower, Stuck
from .helping import Say, help_out, noting
from .mendings import write_told

OF_THIS_S = 60.0
"""So long ways out of one verdict are looked for."""
_DEEDS = TypeAdapter(list[Deed])


def way_told(way: Way) -> dict[str, Any]:
    """A way as it travels."""
    return {
        "steps": [asdict(step) for step in way.steps],
        "counted": way.counted,
        "metres": round(way.metres, 1),
        "walked": way.walked,
        "shortest": way.shortest,
        "deeds": plain(way.deeds),
        "card": way.card,
        "walk": way.walk,
    }


def proved_told(one: Proved) -> dict[str, Any]:
    """A verdict as it travels."""
    verdict = one.verdict
    told = {"quest": verdict.quest, "what": verdict.what, "answer": verdict.answer, "weight": one.weight}
    return told | {"because": one.because, "way": way_told(one.way)}


def remark_told(one: Remark) -> dict[str, Any]:
    """What comes out around the quests as it travels."""
    told = {"sort": one.sort, "subject": one.subject, "says": one.says, "answer": one.answer, "weight": one.weight}
    return told | {"because": one.because if one.answer == "undecided" else "", "way": way_told(one.way)}


def puts_of(way: Way) -> list[list[Any]]:
    """What a way leaves behind: columns with their values."""
    return [[held["column"], held["value"]] for held in (way.card or {}).get("holds", ())]


def mend_told(survey: Survey, mend: Mend) -> dict[str, Any]:
    """A way out as it travels: what it writes, and what that comes to line by line."""
    lines = [asdict(line) for line in lines_of(survey, mend.writes)]
    return {"label": mend.label, "says": mend.says, "writes": [write_told(w) for w in mend.writes], "lines": lines}


def standing(project: Project, program: Program, stood: Iterable[dict[str, Any]], say: Say) -> None:
    """Walk the ways again that stood before the last edits, and tell those that still lead to what they led to."""
    for one in stood:
        run = Run(project, Start(), program)
        claim = quest_done(one["quest"], "done" if one["what"] == "can" else one["what"])
        try:
            for given in Follower(run, _DEEDS.validate_python(one["deeds"])).inputs():
                run.tick(given)
        except Stuck:
            continue
        if claim(run):
            say({"stands": [one["quest"], one["what"]]})


def prove(asked: dict[str, Any], say: Say) -> None:
    """Prove what comes in, and say everything as soon as it is known."""
    begun, note = time.monotonic(), noting(say)
    project = loads(asked["file"])
    program = compiled(project)
    note("Walking the ways that stood before", 0, 0)
    standing(project, program, asked["stood"], say)
    proving = Proving(project, (), program, asked["budget_s"], note=note)
    found: dict[tuple[str, str], Proved] = {}
    for one in proving.quests():
        found[one.verdict.quest, one.verdict.what] = one
        say({"proved": proved_told(one)})
    for remark in proving.remarks() if proving.asked else ():
        say({"remark": remark_told(remark)})
    say({"chasing": sorted(proving.chasing), "left_out": [p.as_dict() for p in program.problems]})
    if proving.around is not None and proving.around.worked is not None:
        say({"gates": [asdict(gate) for gate in map_of(proving.around.worked, proving.words)]})
    for point, way in proving.points():
        say({"point": {"point": point, "counted": way.counted, "puts": puts_of(way)}})
    for remark in proving.orders():
        say({"remark": remark_told(remark)})
    survey = Survey(project)
    for one in found.values():
        if one.weight:
            mends = [mend_told(survey, m) for m in proving.ways_out(one, OF_THIS_S)]
            say({"ways_out": {"quest": one.verdict.quest, "what": one.verdict.what, "mends": mends}})
    say({"whole": round(time.monotonic() - begun, 1)})


if __name__ == "__main__":
    os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
    help_out(prove)
