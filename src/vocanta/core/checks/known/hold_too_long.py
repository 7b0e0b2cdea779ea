"""A hold that lasts longer than its thing stays in reach."""

from __future__ import annotations

from collections.abc import Iterator

from ...project.records import Object
from ..check import Check
from ..finding import Found, Mend, Spot, called
from ..mending import Give
from ..survey import Survey


def find(survey: Survey, thing: Object) -> Iterator[Found]:
    """Every held prompt of a character on a round who walks through their own reach before the hold is over."""
    design = survey.designs[thing.key]
    if not design.walks or len(thing.round) < 2 or design.reach.shape == "none":
        return
    across = (
        2 * design.reach.radius_m if design.reach.shape != "box" else max(design.reach.width_m, design.reach.depth_m)
    )
    stays = across / design.speed_mps
    for prompt in design.prompts:
        if prompt.hold_s > stays:
            path = f"design.prompts.{prompt.key}.hold_s"
            short = max(0.1, int(stays * 5) / 10)
            mend = Mend("hold shorter", f"Let it be held for {short:g} s.", (Give(f"object/{thing.key}", path, short),))
            says = f"has to be held for {prompt.hold_s:g} s, and walks past whoever stands still in {stays:.1f} s"
            yield Found(
                Spot(f"object/{thing.key}", path),
                called(thing.key),
                says,
                (mend,),
                "walks past",
                rests_on=(f"{stays:.2f}",),
            )


CHECK = Check(
    "hold_too_long",
    "A hold that is too long",
    "worth a look",
    "N12",
    "Does everything stay in reach for as long as it is to be held?",
    "The character has walked on before the hold is over, so only who walks beside them can finish it.",
    "The carrier is to be held for 6 s, and is past in 2.",
    "object",
    find,
    ("kinds",),
)
