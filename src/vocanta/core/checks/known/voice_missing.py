"""A line without a voice among lines of the same speaker that have one."""

from __future__ import annotations

from collections.abc import Iterator

from ...project.names import free_key
from ...project.placeholder import Made
from ...project.records import Conversation, Line
from ..check import Check
from ..finding import Found, Mend, Spot, quoted
from ..mending import Add, Give, MakeSound
from ..survey import Survey


def find(survey: Survey, talk: Conversation) -> Iterator[Found]:
    """Every line without a voice, where at least two thirds of its speaker's lines in the conversation have one."""
    speakers = dict.fromkeys(line.speaker for line in talk.lines)
    for speaker in speakers:
        mine = [line for line in talk.lines if line.speaker == speaker]
        silent = [line for line in mine if not line.voice]
        for line in silent if 3 * len(silent) <= len(mine) else ():
            address = f"line/{line.key}"
            says = f"says {quoted(line.wordings[0])} without a voice; its neighbours have one"
            yield Found(Spot(address, "voice"), survey.whose(address), says, (_made(survey, line),), "without a voice")


def _made(survey: Survey, line: Line) -> Mend:
    key = free_key(f"voice_of_{line.key}"[:55], survey.index.things.keys())
    seconds = max(1.2, len(line.wordings[0]) / 15.0)
    name = f"voice of {quoted(line.wordings[0])}"[:120]
    writes = (Add("", "sound", key, (("name", name),)), MakeSound(f"sound/{key}", Made("hum", round(seconds, 1), 0.4)))
    says = f"Make a placeholder of {seconds:.1f} s as its voice; replace it with the recording later."
    return Mend("make one", says, (*writes, Give(f"line/{line.key}", "voice", key)))


CHECK = Check(
    "voice_missing",
    "A line without a voice",
    "worth a look",
    "N23",
    "Has every line a voice where its neighbours have one?",
    "Most of what this speaker says is voiced; this line would be silent between them.",
    "Odile’s lines are recorded, but for “Good.”",
    "conversation",
    find,
    ("names",),
)
