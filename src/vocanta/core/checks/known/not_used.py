"""Something that nothing uses: a kind, an item, a fact, a sound, a named need, a tag, a role."""

from __future__ import annotations

from collections.abc import Iterator

from ...project.records import Project
from ..check import Check
from ..finding import Found, Mend, Spot, called
from ..mending import Remove
from ..survey import Survey

_SORTS = {kind: kind for kind in ("kind", "item", "fact", "sound", "tag", "role", "ability")} | {
    "namedneed": "named need"
}


def find(survey: Survey, project: Project) -> Iterator[Found]:
    """Every such record whose name stands nowhere, and that the player does not begin with."""
    for address, place in survey.records.items():
        sort = _SORTS.get(place.type)
        if sort is not None and place.record.key not in survey.names_used and not getattr(place.record, "at_start", 0):
            mend = Mend("delete it", f"Delete the {sort} {called(place.record.key)}.", (Remove(address),))
            article = "an" if sort[0] in "ai" else "a"
            yield Found(
                Spot(address),
                called(place.record.key),
                f"is {article} {sort} that nothing uses",
                (mend,),
                "nothing uses",
            )


CHECK = Check(
    "not_used",
    "Something that nothing uses",
    "worth a look",
    "N52",
    "Is everything used somewhere?",
    "Its name stands in no text and in no field. It may be left over, or what should use it names something else.",
    "The kind “old lamp” has no object.",
    "project",
    find,
    ("names", "kinds"),
)
