"""A step that allows more copies than there can ever be."""

from __future__ import annotations

from collections.abc import Iterator

from ...project.records import Project
from ..check import Check
from ..finding import Found, Mend, Spot, called
from ..mending import Reword
from ..pools import pools_of
from ..survey import Survey


def find(survey: Survey, project: Project) -> Iterator[Found]:
    """Every step that says *at most* with a number which it can never come to."""
    for pool in pools_of(survey):
        if pool.written is not None and pool.bound is not None and 0 < pool.bound < pool.written:
            says = f"allows at most {pool.written} of {called(pool.kind)} at a time, and puts {pool.bound} in all"
            writes = (Reword(pool.text.record, pool.text.field, *pool.saying(pool.bound)),)
            mend = Mend(f"say {pool.bound}", f"Say at most {pool.bound}: fewer copies have to be kept ready.", writes)
            at = Spot(pool.text.record, pool.text.field, pool.step.span)
            yield Found(
                at, survey.whose(pool.text.record), says, (mend,), f"at most {pool.written}", owner=pool.text.owner
            )


CHECK = Check(
    "pool_too_large",
    "More copies than ever needed",
    "worth a look",
    "N24",
    "Is every largest number one that can be reached?",
    "The step says how many of its copies may lie there at a time, and can never put so many.",
    "The crate drops one bag, once, and allows 16.",
    "project",
    find,
    ("rules", "names", "kinds"),
)
