"""A cue whose moment never comes, as far as it waits for something that the project never does."""

from __future__ import annotations

from collections.abc import Iterator

from ...cuetext.presses import in_vain
from ...cuetext.writing import write_moment
from ...progress.moments import PRESSED
from ...project.designs import cues_of
from ...project.records import Project
from ..addresses import address_and_field, owner_of
from ..check import Check
from ..finding import Found, Spot, quoted
from ..survey import Survey


def find(survey: Survey, project: Project) -> Iterator[Found]:
    """Every cue none of whose groups is ever read. Presses that nothing offers are told by a check of their own."""
    read: dict[str, bool] = {}
    for group in survey.program.groups.values():
        for branch in group.branches[group.first_cue :] if group.verb != "resume" else ():
            if "/cue/" in branch.origin:
                record = address_and_field(branch.origin)[0]
                read[record] = read.get(record, False) or group.name in survey.values.read
    vain = _in_vain(survey)
    for record, ever in read.items():
        text = survey.text_of.get((record, "text"))
        if ever or text is None or text.read is None or record in vain:
            continue
        moment = text.read.tree.moment
        what = "nobody can ever work it" if moment.verb in PRESSED else "that never comes"
        says = f"has a cue that never runs: it waits for {quoted(write_moment(moment))}, and {what}"
        yield Found(
            Spot(record, "text", moment.span), survey.whose(record), says, (), "never runs", owner=owner_of(record)
        )


def _in_vain(survey: Survey) -> set[str]:
    found: set[str] = set()
    for key, (thing, _) in survey.objects.items():
        cues = [(c.text, place) for c, place in cues_of(survey.kinds.get(thing.kind), thing) if c.text.strip()]
        found |= {one.place for one in in_vain(survey.designs[key], cues)}
    return found


CHECK = Check(
    "moment_never_comes",
    "A moment that never comes",
    "likely wrong",
    "N55",
    "Does every moment come at some time?",
    "The cue waits for something that nothing in the project ever brings about.",
    "When Odile is downed, and nothing ever downs her.",
    "project",
    find,
    ("rules", "names", "kinds"),
)
