"""An item of which more is asked for than can be had."""

from __future__ import annotations

from collections.abc import Iterator

from ...project.records import Project
from ..check import Check
from ..finding import Found, Spot, called
from ..survey import Survey


def find(survey: Survey, project: Project) -> Iterator[Found]:
    """Every item of which all that asks for it together wants more than there can ever be."""
    for one in survey.balances:
        asked, most = one.all_wanted, one.most
        if most is None or asked <= most or (not one.gives and not most):
            continue
        address = f"item/{one.key}" if one.key in survey.index.things else "project"
        says = f"{most} can be had, {asked} are asked for"
        also = tuple(f"quest/{q}" for q in one.asked)
        yield Found(Spot(address), called(one.key), says, (), says, also, (str(most), str(asked)))


CHECK = Check(
    "too_few",
    "More is asked for than can be had",
    "worth a look",
    "N56",
    "Is there enough of everything?",
    "Counted together, what asks for this wants more than all that gives it can ever give: who spends it in the wrong "
    "place may be stuck.",
    "6 dried pods can be had, 9 are asked for.",
    "project",
    find,
    ("rules",),
)
