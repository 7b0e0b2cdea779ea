"""What is told, in words: a sentence for the chronicle, and for the player what a press of theirs was refused for."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from functools import cached_property
from typing import Any, Literal

from ..phrases import nodes as n
from ..phrases.vocabulary import STATUSES
from ..progress.happenings import Happening
from ..progress.ops import Told
from .wording import Words


@dataclass(frozen=True)
class _Entry:
    """What was told, with what its sentence is made of."""

    told: Told
    words: Words

    @cached_property
    def details(self) -> Mapping[str, Any]:
        return dict(self.told.details)

    def __getitem__(self, detail: str) -> Any:
        return self.details[detail]

    @property
    def name(self) -> str:
        return self.words.name(self.told.subject)

    @property
    def state(self) -> str:
        return self.words.state(self.told.subject, self["state"])

    def named(self, detail: str) -> str:
        return self.words.name(str(self[detail]))


def _awaited(e: _Entry) -> str:
    if "name" in e.details:
        return f"What {e.name} waited for, {str(e['name']).replace('_', ' ')},"
    return f"What {e.name} waited for"


def _gained(e: _Entry) -> str:
    """By how much a number has changed, and to what; of one that stops at its limits only as much as fitted."""
    by = int(e["by"])
    if "was" not in e.details:
        return f"{by:+d} {e.name} ({e['now']})"
    was = int(e["was"])
    now = min(max(was + by, int(e["lowest"])), int(e["highest"]))
    return f"{now - was:+d} {e.name} ({now})" if now != was else f"{e.name} stays at {now}"


def _not_allowed(e: _Entry) -> str:
    if e.details.get("never"):
        return f"{e.name} is a quest that cannot be {_DONE[e['step']]}"
    status = STATUSES[int(e["status"])]
    why = "what it asks for is not all done" if (e["step"], status) == ("hand in", "active") else f"it is {status}"
    return f"{e.name} cannot be {_DONE[e['step']]} now: {why}"


_DONE: Mapping[n.QuestVerb | Literal["move"], str] = {
    "offer": "offered",
    "start": "started",
    "decline": "declined",
    "hand in": "handed in",
    "give up": "given up",
    "finish": "finished",
    "fail": "failed",
    "move": "moved on",
}
"""What a step would have done with a quest."""


_SAID: Mapping[Happening, Callable[[_Entry], str]] = {
    Happening.STATE: lambda e: f"{e.name} set to {e.state}",
    Happening.ARRIVED: lambda e: f"{e.name} is {e.state}",
    Happening.TURNED_BACK: lambda e: f"{e.name} turns back to {e.state}",
    Happening.QUEUED: lambda e: f"{e.name} moves; it is used again when it has arrived",
    Happening.WAIT_ENDED: lambda e: f"{e.name} was sent elsewhere; what waited for it ended",
    Happening.REMOVED: lambda e: f"{e.name} is gone",
    Happening.PUT: lambda e: f"{e.name} comes to be there",
    Happening.SWAPPED: lambda e: f"{e.name} and {e.named('with')} change places",
    Happening.FRESH: lambda e: f"{e.name} starts over",
    Happening.DOWNED: lambda e: f"{e.name} is downed",
    Happening.RISEN: lambda e: f"{e.name} is up again",
    Happening.MARKED: lambda e: f"Marker on {e.name}",
    Happening.UNMARKED: lambda e: f"No marker on {e.name} now",
    Happening.FILLED: lambda e: f"{e.name} is {e.named('with')} from now on",
    Happening.NOT_ALLOWED: _not_allowed,
    Happening.STOOD: lambda e: f"{e.name} stands here",
    Happening.QUEST: lambda e: f"{e.name} is {e['status']}",
    Happening.STAGE: lambda e: f"{e.name} is now at {e.words.stage(e.told.subject, str(e['stage']))}",
    Happening.OBJECTIVE: lambda e: f"{'Met' if e['met'] else 'No longer met'}: {e.name}",
    Happening.PROGRESS: lambda e: f"{e.name}: {e['count']} of {e['of']}",
    Happening.TIME_UP: lambda e: f"Time is up: {e.name}",
    Happening.POINTS_NOWHERE: lambda e: f"{e.name} has no such stage to go on to",
    Happening.LINE: lambda e: f"Line: {e.words.line_start(e.told.subject)}",
    Happening.REPLY: lambda e: f"Answer: {e.words.reply_start(str(e['line']), e.told.subject)}",
    Happening.TALK_ENDED: lambda e: f"The talk with {e.name} ended",
    Happening.TALK_WAITS: lambda e: f"{e.name} waits to speak",
    Happening.TALK_LAPSED: lambda e: f"{e.name} no longer waits to speak: the player walked off",
    Happening.NOTHING_TO_SAY: lambda e: f"{e.name} has nothing to say",
    Happening.GAINED: _gained,
    Happening.LOST: _gained,
    Happening.COUNTED: _gained,
    Happening.FACT: lambda e: f"{e.name}: {e['value']}",
    Happening.EQUIPPED: lambda e: f"{e.name} in hand",
    Happening.PUT_AWAY: lambda e: f"{e.name} put away",
    Happening.GRANTED: lambda e: f"Ability {e.name} granted",
    Happening.SUSPENDED: lambda e: f"Ability {e.name} suspended",
    Happening.REVOKED: lambda e: f"Ability {e.name} is gone",
    Happening.NEAR: lambda e: f"Near {e.name}",
    Happening.AWAY: lambda e: f"Away from {e.name}",
    Happening.CROSSED: lambda e: f"Walked into {e.name}",
    Happening.MOVED: lambda e: f"Moved to {e.named('to')}",
    Happening.PLAYER_DOWNED: lambda e: "The player is downed, and comes back where the level was entered",
    Happening.EXIT_OPEN: lambda e: f"The exit {e.name} is open",
    Happening.EXIT_CLOSE: lambda e: f"The exit {e.name} is closed",
    Happening.HOLD_BEGUN: lambda e: f"{e.name} is being held",
    Happening.HOLD_BROKEN: lambda e: f"Let go of {e.name}",
    Happening.STRUCK: lambda e: f"{e.name} struck by {e.named('by')}",
    Happening.MISSED: lambda e: f"{e.name}: {e['why']}",
    Happening.COOLING: lambda e: f"{e.name} cools down: {e['seconds']:g} s left",
    Happening.UNDER_WAY: lambda e: "Already under way",
    Happening.PASSED_OVER: lambda e: "Another cue would have fitted too, but an earlier one ran",
    Happening.UNMET: lambda e: f"Not met: {e['words']}",
    Happening.REFUSED: lambda e: f"Refused at {e.name}: {e.details.get('why', 'not possible now')}",
    Happening.FAULT: lambda e: f"These set each other off without end, and are off for this run: {e['groups']}",
    Happening.NOTICE: lambda e: f"“{e['text']}”",
    Happening.SOUND: lambda e: f"Sound: {e.name}",
    Happening.EFFECT: lambda e: f"Effect: {e.name}",
    Happening.LATER: lambda e: f"{e.name}: {e.words.step_sentence(str(e['how']), e.told.subject)}",
    Happening.SENT: lambda e: f"{e.name} sets out",
    Happening.DELIVERED: lambda e: f"{_awaited(e)} has come",
    Happening.DELIVERY_OVER: lambda e: f"{_awaited(e)} will not come: nobody brings it any more",
    Happening.ENDING: lambda e: f"The level will be {e.told.subject} in {e['after']:g} s",
    Happening.ENDED: lambda e: f"The level is {e.told.subject}",
}
"""Every kind of telling has its words here; a test holds that none is forgotten."""


def sentence(told: Told, words: Words) -> str:
    """What was told, as a sentence."""
    return _SAID[told.what](_Entry(told, words))


_TO_THE_PLAYER: Mapping[Happening, Callable[[_Entry], str]] = {
    Happening.UNMET: lambda e: str(e["words"]),
    Happening.REFUSED: lambda e: f"{e.name}: {e.details.get('why', 'not possible now')}",
    Happening.COOLING: lambda e: f"{e.name}: not again for {e['seconds']:g} s",
    Happening.UNDER_WAY: lambda e: "that is under way already",
    Happening.MISSED: lambda e: f"{e.name}: {e['why']}",
    Happening.NOT_ALLOWED: _not_allowed,
    Happening.NOTHING_TO_SAY: lambda e: f"{e.name} has nothing to say",
}
"""What the player is told on the screen of a press of their own that came to nothing."""


def refusal(told: Told, words: Words) -> str:
    """What the player is told of something refused, as a notice; empty for what is no refusal."""
    said = _TO_THE_PLAYER[told.what](_Entry(told, words)) if told.what in _TO_THE_PLAYER else ""
    return said[:1].upper() + said[1:]
