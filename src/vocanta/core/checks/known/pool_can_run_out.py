"""A step that puts copies and can come to its largest number."""

from __future__ import annotations

from collections.abc import Iterator

from ...cuetext.limits import MOST_COPIES
from ...project.records import Project
from ..check import Check
from ..finding import Found, Mend, Spot, called
from ..mending import Reword
from ..pools import pools_of
from ..survey import Survey


def find(survey: Survey, project: Project) -> Iterator[Found]:
    """Every step that may be run more often than it may have copies, where nothing ever takes one away."""
    for pool in pools_of(survey):
        if pool.removed or (pool.bound is not None and pool.bound <= pool.most):
            continue
        often = "again and again" if pool.bound is None else f"{pool.bound} times in all"
        says = f"puts {called(pool.kind)} {often}, and at most {pool.most} can lie there: then the step is refused"
        mends: tuple[Mend, ...] = ()
        if pool.bound is not None and pool.bound <= MOST_COPIES:
            writes = (Reword(pool.text.record, pool.text.field, *pool.saying(pool.bound)),)
            mends = (Mend("allow as many", f"Let at most {pool.bound} lie there at a time.", writes),)
        at = Spot(pool.text.record, pool.text.field, pool.step.span)
        yield Found(at, survey.whose(pool.text.record), says, mends, f"at most {pool.most}", owner=pool.text.owner)


CHECK = Check(
    "pool_can_run_out",
    "Copies that can run out",
    "worth a look",
    "N24",
    "Can every step put what it puts as often as it is run?",
    "The step may be run more often than it may have copies, and nothing takes one away: from then on it is refused.",
    "The press drops a bottle at each use, and at most 16 can lie there.",
    "project",
    find,
    ("rules", "names", "kinds"),
)
