"""A copy whose carried-over content nobody has looked at."""

from __future__ import annotations

from collections.abc import Iterator

from ...cuetext.carrying import carried_in_words
from ...project.records import Object
from ..check import Check
from ..finding import Found, Mend, Spot, called
from ..mending import Give
from ..survey import Survey


def find(survey: Survey, thing: Object) -> Iterator[Found]:
    """Everything that a copy carried over and that is neither said to be right nor changed."""
    if not thing.carried:
        return
    address, cues = f"object/{thing.key}", {c.key: c.text for c in thing.cues}

    def naming(word: str, owner: str) -> str:
        of = thing.key if owner == "this" else owner
        return called(f"{of}:{word}") if of else "it" if word == "this" else called(word)

    for place, words in carried_in_words(thing.own, cues, thing.carried, naming):
        left = {**thing.carried, place: "right"}
        mend = Mend("it is right", "Say that it was meant so.", (Give(address, "carried", left),))
        what, _, held = words.partition(": ")
        own = place.startswith("own/")
        says = f"was copied: its {what} is still {held}" if own else f"was copied, and would still {words}"
        yield Found(
            Spot(address, "carried"), called(thing.key), says, (mend,), held if own else words, rests_on=(place,)
        )


CHECK = Check(
    "copy_not_looked_at",
    "A copy not looked at",
    "likely wrong",
    "N8",
    "Was everything that copies carried over looked at?",
    "A duplicate still gives, says or does what its original does. Say that it is right, change it, or clear it.",
    "Crate 2 was copied, and still gives the pruning hook.",
    "object",
    find,
    ("kinds", "names"),
)
