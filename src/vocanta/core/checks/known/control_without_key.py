"""A control that no key, mouse button or pad button works."""

from __future__ import annotations

from collections.abc import Iterator

from ...project.records import Project
from ..check import Check
from ..finding import Found, Spot
from ..survey import Survey


def find(survey: Survey, project: Project) -> Iterator[Found]:
    """Every control that is bound to nothing, and every one that prompts ask for and that is not there."""
    used = {p.control for _, _, d in survey.every_design() for p in d.prompts if not p.buttons}
    used |= {a.control for a in project.abilities if a.control not in ("", "?")}
    for control in project.controls:
        if not (control.keys or control.mouse or control.pad):
            told = "which prompts ask for" if control.key in used else "which nothing asks for yet"
            yield Found(
                Spot("project", "controls"),
                project.name,
                f"has a control, {control.name}, {told}, without a key",
                marks="without a key",
                rests_on=(control.key,),
            )
    for key in sorted(used - {c.key for c in project.controls}):
        yield Found(
            Spot("project", "controls"),
            project.name,
            f"has prompts for the control {key}, and there is no such control",
            marks="no such control",
            rests_on=(key,),
        )


CHECK = Check(
    "control_without_key",
    "A control without a key",
    "stops it",
    "N12",
    "Can every control be worked?",
    "The control is bound to no key and no button, so nothing that asks for it can be done.",
    "Cast has lost its last key.",
    "project",
    find,
    ("names", "kinds"),
)
