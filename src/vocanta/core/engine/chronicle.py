"""The chronicle: what happened, in order, each entry with what caused it."""

from __future__ import annotations

from dataclasses import dataclass

from ..progress.happenings import Happening
from .causes import Cause
from .shown import ToldShown


@dataclass(frozen=True, slots=True)
class Entry:
    """One thing that happened: when, in words, by which rule (`origin`), and on which action's account (`cause`).

    `notice` is what the player is told of it on the screen, empty for nothing; `detail` the stage or the status that a
    quest has come to.
    """

    tick: int
    what: Happening
    subject: str
    text: str
    origin: str
    cause: Cause
    rule: str = ""
    at: str = ""
    spot: tuple[float, float] | None = None
    notice: str = ""
    detail: str = ""

    def as_data(self, number: int) -> ToldShown:
        """The entry as plain data, with its number in the chronicle."""
        told: ToldShown = {
            "n": number,
            "tick": self.tick,
            "what": self.what,
            "subject": self.subject,
            "text": self.text,
            "origin": self.origin,
            "cause": self.cause.says,
            "rule": self.rule,
        }
        if self.cause.mine:
            told["mine"] = True
        if self.at:
            told["at"] = self.at
        if self.spot:
            told["spot"] = self.spot
        if self.notice:
            told["notice"] = self.notice
        return told
