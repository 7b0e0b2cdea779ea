"""One key for two controls."""

from __future__ import annotations

from collections.abc import Iterator

from ...project.records import Project
from ..check import Check
from ..finding import Found, Mend, Spot
from ..mending import Give
from ..survey import Survey


def find(survey: Survey, project: Project) -> Iterator[Found]:
    """Every key, mouse button and pad button that is bound to more than one control."""
    bound: dict[tuple[str, str], list[str]] = {}
    for control in project.controls:
        for sort in ("keys", "mouse", "pad"):
            for key in dict.fromkeys(getattr(control, sort)):
                bound.setdefault((sort, str(key)), []).append(control.name)
    for (sort, key), names in bound.items():
        if len(names) > 1:
            what = {"keys": key.upper(), "mouse": f"the {key} mouse button", "pad": f"pad button {key}"}[sort]
            says = f"has {what} for {' and '.join(names)}: one press works both"
            left = tuple(_without(survey, c, sort, key, keep=names[0]) for c in project.controls)
            mend = Mend("free it", f"Leave {what} to {names[0]} alone.", (Give("project", "controls", left),))
            yield Found(Spot("project", "controls"), project.name, says, (mend,), what, rests_on=(key,))


def _without(survey: Survey, control: object, sort: str, key: str, keep: str) -> object:
    data = survey.plain(control)
    if data["name"] != keep:
        data[sort] = [k for k in data[sort] if str(k) != key]
    return data


CHECK = Check(
    "key_twice",
    "One key for two controls",
    "likely wrong",
    "N12",
    "Has every key one meaning?",
    "A key is bound to two controls, so that a press does two things at once.",
    "E is bound to Use and to Cast.",
    "project",
    find,
)
