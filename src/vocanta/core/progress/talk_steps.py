"""What a step does that opens a conversation: at once, as the one that waits, or refused."""

from __future__ import annotations

from .guards import All, equals
from .happenings import Happening
from .meaning import Meaning
from .ops import Flag, If, Op, Put, PutBy, RefuseIf, Tell, Told


def open_talk(conversation: str, meaning: Meaning) -> list[Op]:
    """Open a conversation: at once when nobody speaks, as the one that waits, or refused."""
    layout = meaning.layout
    talk, waiting = layout.column("talk"), layout.column("talk_waiting")
    opening = (
        Put(talk, layout.opening(conversation)),
        _opened_at("talk_at", meaning),
        Flag((f"openers:{conversation}",)),
    )
    number = layout.talk_numbers[conversation] + 1
    waits = (Put(waiting, number), _opened_at("waiting_at", meaning), Tell(Told(Happening.TALK_WAITS, conversation)))
    why = Told(Happening.REFUSED, conversation, (("why", "somebody else is waiting to speak"),))
    return [If(equals(talk, 0), opening, (If(equals(waiting, 0), waits, (RefuseIf(All(()), why),)),))]


def _opened_at(column: str, meaning: Meaning) -> Op:
    """Where the conversation is opened: at the object whose text it is, at that of the line that opens it, or nowhere."""
    layout = meaning.layout
    target = layout.column("talk_at" if column == "talk_at" else "waiting_at")
    if meaning.talk:
        return PutBy(target, layout.column("talk_at"))
    at = layout.talkers.index(meaning.this) + 1 if meaning.this in layout.talkers else 0
    return Put(target, at)
