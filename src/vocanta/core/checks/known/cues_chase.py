"""Cues that set each other off without end."""

from __future__ import annotations

from collections.abc import Iterator

from ...project.records import Project
from ..addresses import address_and_field, owner_of
from ..chases import chases
from ..check import Check
from ..finding import Found, Spot, called
from ..survey import Survey


def find(survey: Survey, project: Project) -> Iterator[Found]:
    """Every circle of cues that was seen not to settle, told at each cue in it."""
    for groups in chases(survey.program, survey.values):
        records = dict.fromkeys(
            address_and_field(b.origin)[0]
            for name in groups
            for b in survey.program.groups[name].branches
            if "/cue/" in b.origin
        )
        for record in records:
            others = [owner_of(r) for r in records if r != record]
            whose = " and ".join(dict.fromkeys(called(o.rpartition("/")[2]) for o in others)) or "itself"
            says = f"has a cue that chases {whose}: each sets the other off again, and it never ends"
            says = says if others else "has a cue that sets itself off again and again"
            text = survey.text_of.get((record, "text"))
            span = text.read.tree.moment.span if text is not None and text.read is not None else None
            rests = tuple(survey.held_at(Spot(r, "text")) for r in records)
            yield Found(
                Spot(record, "text", span),
                survey.whose(record),
                says,
                (),
                "chases" if others else "sets itself off",
                tuple(others),
                rests,
                owner_of(record),
            )


CHECK = Check(
    "cues_chase",
    "Cues that chase each other",
    "stops it",
    "N20",
    "Does everything come to rest?",
    "One cue changes what another listens to, and that one changes it back: the playtest breaks it off, and both are "
    "switched off for the run.",
    "When wet changes, add 1 to the tally; when the tally changes, turn wet round.",
    "project",
    find,
    ("rules",),
)
