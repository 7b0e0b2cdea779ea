"""The line that is open: its wording and how long its voice lasts. Which line it is, the row says."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..progress.ops import Told
from ..progress.program import Action
from ..project.records import Line, Reply, Sound
from .situation import TICKS_A_SECOND, Situation

LETTERS_A_SECOND = 15.0
SHORTEST_S = 1.2


@dataclass
class Speech:
    """The line that is open: its wording, and how many ticks its voice still lasts."""

    line: Line
    conversation: str
    talker: str
    wording: str
    left: int
    total: int
    sound: str = ""
    """What is heard of it; empty where nothing is."""


class Talk:
    """The one voice of a run."""

    def __init__(self, situation: Situation):
        self.situation = situation
        self.sounds = {s.key: s for s in situation.project.sounds if s.file}
        """Those that have a file; a voice without one is silent."""
        self.speech: Speech | None = None

    @property
    def holds_player(self) -> bool:
        """Whether the player cannot walk until the line ends."""
        return self.speech is not None and self.speech.line.holds_player

    def begin(self, told: Told) -> None:
        """A line begins."""
        details = dict(told.details)
        at = int(details["at"])
        self._say(str(details["conversation"]), told.subject, at, int(details.get(f"heard {at}", 0)))

    def take_up(self, seconds: float | None) -> None:
        """Whoever speaks as the row says goes on speaking, for so long; to the end where nothing is said of it."""
        situation, open_line = self.situation, self.situation.known("talk")
        if not 0 < open_line <= len(situation.layout.speeches):
            return
        (conversation, line), at = situation.layout.speeches[open_line - 1], situation.known("talk_at")
        talker = situation.layout.talkers[at - 1] if at else ""
        heard = situation.known("heard", f"{talker}/{line}")
        self._say(conversation, line, at, max(0, heard - 1))
        if self.speech is not None and seconds is not None:
            self.speech.left = min(round(seconds * TICKS_A_SECOND), self.speech.total)

    def _say(self, conversation: str, key: str, at: int, heard: int) -> None:
        situation = self.situation
        talk = situation.layout.conversations[conversation]
        line = next(m for m in talk.lines if m.key == key)
        raw = line.wordings[wording_number(line, heard)]
        talker = situation.layout.talkers[at - 1] if at else talk.talker
        wording = situation.words.filled(raw, talker, "use", situation.known)
        sound = self.sounds.get(line.voice)
        ticks = voice_ticks(line, wording, sound)
        self.speech = Speech(line, talk.key, talker, wording, ticks, ticks, sound.key if sound else "")

    def follow(self) -> None:
        """Nobody speaks any more where the row says so."""
        if not self.situation.known("talk"):
            self.speech = None

    def advance(self) -> list[Action]:
        """A tick of the voice; the action of its end when it is due."""
        if self.speech is None:
            return []
        self.speech.left = max(0, self.speech.left - 1)
        return [self.voice()] if self.speech.left == 0 else []

    def voice(self) -> Action:
        """The action of the voice's end."""
        assert self.speech is not None
        return self.situation.program.by_name[f"voice:{self.speech.line.key}"]


def voice_ticks(line: Line, wording: str, sound: Sound | None = None) -> int:
    """How many ticks a line's voice lasts: as given, as its sound, or 15 characters a second and never under 1.2 s."""
    reckoned = max(SHORTEST_S, len(wording) / LETTERS_A_SECOND)
    seconds = line.seconds if line.seconds is not None else sound.seconds if sound is not None else reckoned
    return max(1, math.ceil(seconds * TICKS_A_SECOND))


def wording_number(said: Line | Reply, often: int) -> int:
    """Which wording is next after it was heard or chosen so often: in turn, or the last for ever."""
    turns = len(said.wordings)
    return min(often, turns - 1) if said.last_stays else often % turns
