"""The chronicle: what happened, in order, each entry with what caused it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from ..cuetext.roles import STATUSES
from ..progress.ops import Told
from .wording import Words

TICKS_A_SECOND = 30


@dataclass(frozen=True, slots=True)
class Entry:
    """One thing that happened: when, in words, by which rule (`origin`), and on which action's account (`cause`)."""

    tick: int
    what: str
    subject: str
    text: str
    origin: str
    cause: str
    at: str = ""
    spot: tuple[float, float] | None = None

    def as_data(self) -> dict[str, Any]:
        """The entry as plain data."""
        return {
            "tick": self.tick,
            "what": self.what,
            "subject": self.subject,
            "text": self.text,
            "origin": self.origin,
            "cause": self.cause,
            **({"at": self.at} if self.at else {}),
            **({"spot": list(self.spot)} if self.spot else {}),
        }


def sentence(told: Told, words: Words) -> str:
    """What was told, as a sentence. Every kind of telling has its words here."""
    details: Mapping[str, Any] = dict(told.details)
    name = words.name(told.subject)
    simple = {
        "near": f"Near {name}",
        "away": f"Away from {name}",
        "crossed": f"Walked into {name}",
        "removed": f"{name} is gone",
        "marked": f"Marker on {name}",
        "unmarked": f"No marker on {name} now",
        "talk_ended": f"The talk with {name} ended",
        "nothing_to_say": f"{name} has nothing to say",
        "talk_waits": f"{name} waits to speak",
        "wait_ended": f"{name} turned back; what waited for it ended",
        "under_way": "Already under way",
        "granted": f"Ability {name} granted",
        "press": f"{name} used",
        "hold_begun": f"{name} is being held",
        "hold_broken": f"Let go of {name}",
        "focus": f"Focus on {name}",
        "queued": f"{name} moves; it is used again when it has arrived",
        "put_away": f"{name} put away",
        "equipped": f"{name} in hand",
        "suspended": f"Ability {name} suspended",
        "revoked": f"Ability {name} is gone",
        "put": f"{name} comes to be there",
        "sent": f"{name} sets out",
        "delivered": f"What {name} waited for has come",
        "player_downed": "The player is downed, and comes back where the level was entered",
        "downed": f"{name} is downed",
        "risen": f"{name} is up again",
        "fresh": f"{name} starts over",
        "exit_open": f"The exit {name} is open",
        "exit_close": f"The exit {name} is closed",
        "points_nowhere": f"{name} has no such stage to go on to",
    }
    if told.what in simple:
        return simple[told.what]
    return _detailed(told, details, name, words)


def _detailed(told: Told, details: Mapping[str, Any], name: str, words: Words) -> str:
    match told.what:
        case "state":
            return f"{name} set to {words.state(told.subject, details['state'])}"
        case "arrived":
            return f"{name} is {words.state(told.subject, details['state'])}"
        case "turned_back":
            return f"{name} turns back to {words.state(told.subject, details['state'])}"
        case "gained" | "lost" | "counted":
            return f"{details['by']:+d} {name} ({details['now']})"
        case "fact":
            return f"{name}: {details['value']}"
        case "notice":
            return f"“{details['text']}”"
        case "sound" | "effect":
            return f"{told.what.capitalize()}: {name}"
        case "filled":
            return f"{name} is {words.name(str(details['with']))} from now on"
        case "later":
            return f"{name}: {details['how']}"
        case "moved":
            return f"Moved to {words.name(told.subject.partition(':')[2])}"
        case "ending":
            return f"The level will be {told.subject} in {details['after']:g} s"
        case "ended":
            return f"The level is {told.subject}"
        case "struck":
            return f"{name} struck by {words.name(str(details['by']))}"
        case "missed":
            return f"{name}: {details['why']}"
        case "stage":
            return f"{name} is now at {words.stage(told.subject, str(details['stage']))}"
        case "quest":
            return f"{name} is {details['status']}"
        case "objective":
            return f"{'Met' if details['met'] else 'No longer met'}: {name}"
        case "progress":
            return f"{name}: {details['count']} of {details['of']}"
        case _:
            return _refusal(told, details, name, words)


def _refusal(told: Told, details: Mapping[str, Any], name: str, words: Words) -> str:
    match told.what:
        case "line":
            return f"Line: {words.line_start(told.subject)}"
        case "reply":
            return f"Answer: {words.reply_start(str(details['line']), told.subject)}"
        case "refused":
            return f"Refused at {name}: {details.get('why', 'not possible now')}"
        case "not_allowed":
            return f"{name} cannot {details['step']} now: it is {STATUSES[int(details['status'])]}"
        case "unmet":
            return f"Not met: {details['need']}"
        case "fault":
            return f"These set each other off without end: {details['groups']}"
        case _:
            raise AssertionError(f"no words for {told.what}")
