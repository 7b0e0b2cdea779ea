"""The chronicle: what happened, in order, each entry with what caused it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, Literal, assert_never

from ..phrases.vocabulary import STATUSES
from ..progress.happenings import Happening
from ..progress.ops import Told
from .shown import ToldShown
from .wording import Words


@dataclass(frozen=True, slots=True)
class Entry:
    """One thing that happened: when, in words, by which rule (`origin`), and on which action's account (`cause`)."""

    tick: int
    what: Happening
    subject: str
    text: str
    origin: str
    cause: str
    rule: str = ""
    at: str = ""
    spot: tuple[float, float] | None = None

    def as_data(self) -> ToldShown:
        """The entry as plain data."""
        told: ToldShown = {
            "tick": self.tick,
            "what": self.what,
            "subject": self.subject,
            "text": self.text,
            "origin": self.origin,
            "cause": self.cause,
            "rule": self.rule,
        }
        if self.at:
            told["at"] = self.at
        if self.spot:
            told["spot"] = self.spot
        return told


def sentence(told: Told, words: Words) -> str:
    """What was told, as a sentence. Every kind of telling has its words here."""
    name = words.name(told.subject)
    match told.what:
        case (
            Happening.STATE
            | Happening.ARRIVED
            | Happening.TURNED_BACK
            | Happening.QUEUED
            | Happening.WAIT_ENDED
            | Happening.REMOVED
            | Happening.PUT
            | Happening.SWAPPED
            | Happening.FRESH
            | Happening.DOWNED
            | Happening.RISEN
            | Happening.MARKED
            | Happening.UNMARKED
            | Happening.FILLED
            | Happening.STOOD
        ):
            return _of_objects(told.what, told, name, words)
        case (
            Happening.QUEST
            | Happening.STAGE
            | Happening.OBJECTIVE
            | Happening.PROGRESS
            | Happening.POINTS_NOWHERE
            | Happening.NOT_ALLOWED
        ):
            return _of_quests(told.what, told, name, words)
        case (
            Happening.LINE
            | Happening.REPLY
            | Happening.TALK_ENDED
            | Happening.TALK_WAITS
            | Happening.TALK_LAPSED
            | Happening.NOTHING_TO_SAY
        ):
            return _of_talk(told.what, told, name, words)
        case (
            Happening.GAINED
            | Happening.LOST
            | Happening.COUNTED
            | Happening.FACT
            | Happening.EQUIPPED
            | Happening.PUT_AWAY
            | Happening.GRANTED
            | Happening.SUSPENDED
            | Happening.REVOKED
        ):
            return _of_having(told.what, told, name)
        case (
            Happening.NEAR
            | Happening.AWAY
            | Happening.CROSSED
            | Happening.MOVED
            | Happening.PLAYER_DOWNED
            | Happening.EXIT_OPEN
            | Happening.EXIT_CLOSE
        ):
            return _of_places(told.what, told, name, words)
        case (
            Happening.HOLD_BEGUN
            | Happening.HOLD_BROKEN
            | Happening.STRUCK
            | Happening.MISSED
            | Happening.COOLING
            | Happening.UNDER_WAY
            | Happening.PASSED_OVER
            | Happening.UNMET
            | Happening.REFUSED
            | Happening.FAULT
        ):
            return _of_presses(told.what, told, name, words)
        case (
            Happening.NOTICE
            | Happening.SOUND
            | Happening.EFFECT
            | Happening.LATER
            | Happening.SENT
            | Happening.DELIVERED
            | Happening.DELIVERY_OVER
            | Happening.ENDING
            | Happening.ENDED
        ):
            return _of_the_world(told.what, told, name)
        case _:
            assert_never(told.what)


def _details(told: Told) -> Mapping[str, Any]:
    return dict(told.details)


def _of_objects(what: _Objects, told: Told, name: str, words: Words) -> str:
    details = _details(told)
    match what:
        case Happening.STATE:
            return f"{name} set to {words.state(told.subject, details['state'])}"
        case Happening.ARRIVED:
            return f"{name} is {words.state(told.subject, details['state'])}"
        case Happening.TURNED_BACK:
            return f"{name} turns back to {words.state(told.subject, details['state'])}"
        case Happening.QUEUED:
            return f"{name} moves; it is used again when it has arrived"
        case Happening.WAIT_ENDED:
            return f"{name} was sent elsewhere; what waited for it ended"
        case Happening.REMOVED:
            return f"{name} is gone"
        case Happening.PUT:
            return f"{name} comes to be there"
        case Happening.SWAPPED:
            return f"{name} and {words.name(str(details['with']))} change places"
        case Happening.FRESH:
            return f"{name} starts over"
        case Happening.DOWNED:
            return f"{name} is downed"
        case Happening.RISEN:
            return f"{name} is up again"
        case Happening.MARKED:
            return f"Marker on {name}"
        case Happening.UNMARKED:
            return f"No marker on {name} now"
        case Happening.FILLED:
            return f"{name} is {words.name(str(details['with']))} from now on"
        case Happening.STOOD:
            return f"{name} stands here"
        case _:
            assert_never(what)


def _of_quests(what: _Quests, told: Told, name: str, words: Words) -> str:
    details = _details(told)
    match what:
        case Happening.QUEST:
            return f"{name} is {details['status']}"
        case Happening.STAGE:
            return f"{name} is now at {words.stage(told.subject, str(details['stage']))}"
        case Happening.OBJECTIVE:
            return f"{'Met' if details['met'] else 'No longer met'}: {name}"
        case Happening.PROGRESS:
            return f"{name}: {details['count']} of {details['of']}"
        case Happening.POINTS_NOWHERE:
            return f"{name} has no such stage to go on to"
        case Happening.NOT_ALLOWED:
            if details.get("never"):
                return f"{name} is a quest that nobody can {details['step']}"
            return f"{name} cannot {details['step']} now: it is {STATUSES[int(details['status'])]}"
        case _:
            assert_never(what)


def _of_talk(what: _Talk, told: Told, name: str, words: Words) -> str:
    match what:
        case Happening.LINE:
            return f"Line: {words.line_start(told.subject)}"
        case Happening.REPLY:
            return f"Answer: {words.reply_start(str(_details(told)['line']), told.subject)}"
        case Happening.TALK_ENDED:
            return f"The talk with {name} ended"
        case Happening.TALK_WAITS:
            return f"{name} waits to speak"
        case Happening.TALK_LAPSED:
            return f"{name} no longer waits to speak: the player walked off"
        case Happening.NOTHING_TO_SAY:
            return f"{name} has nothing to say"
        case _:
            assert_never(what)


def _of_having(what: _Having, told: Told, name: str) -> str:
    details = _details(told)
    match what:
        case Happening.GAINED | Happening.LOST | Happening.COUNTED:
            return f"{details['by']:+d} {name} ({details['now']})"
        case Happening.FACT:
            return f"{name}: {details['value']}"
        case Happening.EQUIPPED:
            return f"{name} in hand"
        case Happening.PUT_AWAY:
            return f"{name} put away"
        case Happening.GRANTED:
            return f"Ability {name} granted"
        case Happening.SUSPENDED:
            return f"Ability {name} suspended"
        case Happening.REVOKED:
            return f"Ability {name} is gone"
        case _:
            assert_never(what)


def _of_places(what: _Places, told: Told, name: str, words: Words) -> str:
    match what:
        case Happening.NEAR:
            return f"Near {name}"
        case Happening.AWAY:
            return f"Away from {name}"
        case Happening.CROSSED:
            return f"Walked into {name}"
        case Happening.MOVED:
            return f"Moved to {words.name(str(_details(told)['to']))}"
        case Happening.PLAYER_DOWNED:
            return "The player is downed, and comes back where the level was entered"
        case Happening.EXIT_OPEN:
            return f"The exit {name} is open"
        case Happening.EXIT_CLOSE:
            return f"The exit {name} is closed"
        case _:
            assert_never(what)


def _of_presses(what: _Presses, told: Told, name: str, words: Words) -> str:
    details = _details(told)
    match what:
        case Happening.HOLD_BEGUN:
            return f"{name} is being held"
        case Happening.HOLD_BROKEN:
            return f"Let go of {name}"
        case Happening.STRUCK:
            return f"{name} struck by {words.name(str(details['by']))}"
        case Happening.MISSED:
            return f"{name}: {details['why']}"
        case Happening.COOLING:
            return f"{name} cools down: {details['seconds']:g} s left"
        case Happening.UNDER_WAY:
            return "Already under way"
        case Happening.PASSED_OVER:
            return "Another cue would have fitted too, but an earlier one ran"
        case Happening.UNMET:
            return f"Not met: {details['need']}"
        case Happening.REFUSED:
            return f"Refused at {name}: {details.get('why', 'not possible now')}"
        case Happening.FAULT:
            return f"These set each other off without end, and are off for this run: {details['groups']}"
        case _:
            assert_never(what)


def _of_the_world(what: _World, told: Told, name: str) -> str:
    details = _details(told)
    match what:
        case Happening.NOTICE:
            return f"“{details['text']}”"
        case Happening.SOUND:
            return f"Sound: {name}"
        case Happening.EFFECT:
            return f"Effect: {name}"
        case Happening.LATER:
            return f"{name}: {details['how']}"
        case Happening.SENT:
            return f"{name} sets out"
        case Happening.DELIVERED:
            return f"What {name} waited for has come"
        case Happening.DELIVERY_OVER:
            return f"What {name} waited for will not come: nobody brings it any more"
        case Happening.ENDING:
            return f"The level will be {told.subject} in {details['after']:g} s"
        case Happening.ENDED:
            return f"The level is {told.subject}"
        case _:
            assert_never(what)


_Objects = Literal[
    Happening.STATE,
    Happening.ARRIVED,
    Happening.TURNED_BACK,
    Happening.QUEUED,
    Happening.WAIT_ENDED,
    Happening.REMOVED,
    Happening.PUT,
    Happening.SWAPPED,
    Happening.FRESH,
    Happening.DOWNED,
    Happening.RISEN,
    Happening.MARKED,
    Happening.UNMARKED,
    Happening.FILLED,
    Happening.STOOD,
]
_Quests = Literal[
    Happening.QUEST,
    Happening.STAGE,
    Happening.OBJECTIVE,
    Happening.PROGRESS,
    Happening.POINTS_NOWHERE,
    Happening.NOT_ALLOWED,
]
_Talk = Literal[
    Happening.LINE,
    Happening.REPLY,
    Happening.TALK_ENDED,
    Happening.TALK_WAITS,
    Happening.TALK_LAPSED,
    Happening.NOTHING_TO_SAY,
]
_Having = Literal[
    Happening.GAINED,
    Happening.LOST,
    Happening.COUNTED,
    Happening.FACT,
    Happening.EQUIPPED,
    Happening.PUT_AWAY,
    Happening.GRANTED,
    Happening.SUSPENDED,
    Happening.REVOKED,
]
_Places = Literal[
    Happening.NEAR,
    Happening.AWAY,
    Happening.CROSSED,
    Happening.MOVED,
    Happening.PLAYER_DOWNED,
    Happening.EXIT_OPEN,
    Happening.EXIT_CLOSE,
]
_Presses = Literal[
    Happening.HOLD_BEGUN,
    Happening.HOLD_BROKEN,
    Happening.STRUCK,
    Happening.MISSED,
    Happening.COOLING,
    Happening.UNDER_WAY,
    Happening.PASSED_OVER,
    Happening.UNMET,
    Happening.REFUSED,
    Happening.FAULT,
]
_World = Literal[
    Happening.NOTICE,
    Happening.SOUND,
    Happening.EFFECT,
    Happening.LATER,
    Happening.SENT,
    Happening.DELIVERED,
    Happening.DELIVERY_OVER,
    Happening.ENDING,
    Happening.ENDED,
]
