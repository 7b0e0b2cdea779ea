"""Why things happen in a run, in words of the project: what the player did, what a clock did, what was walked into."""

from __future__ import annotations

from dataclasses import dataclass

from .wording import Words

_DECIDED = {"start": "taken on", "decline": "declined", "give up": "given up"}


@dataclass(frozen=True, slots=True)
class Cause:
    """What something happened on account of; `mine`: of what the player did; `decided`: of what was decided of a quest."""

    says: str
    mine: bool = False
    decided: str = ""


START, WALKING, SKIPPED = Cause("the start"), Cause("walking"), Cause("skipped", mine=True)


class Causes:
    """Causes by the names of a project."""

    def __init__(self, words: Words):
        self._words = words

    def clock(self, subject: str) -> Cause:
        """Time passed at something, or just so."""
        return Cause(f"time passed at {self._words.name(subject)}" if subject else "time passed")

    def reach(self, subject: str) -> Cause:
        """Somebody came into the reach of something, or left it."""
        return Cause(f"the reach of {self._words.name(subject)}")

    def pressed(self, control: str, key: str = "", *, held: bool = False) -> Cause:
        """A control was pressed, or held, at something."""
        where = f" at {self._words.name(key)}" if key else ""
        return Cause(self._words.name(control) + (" held" if held else "") + where, mine=True)

    def ability(self, ability: str, key: str = "") -> Cause:
        """An ability was used, on something where it had a target."""
        return Cause(self._words.name(ability) + (f" at {self._words.name(key)}" if key else ""), mine=True)

    def answered(self, line: str, reply: str) -> Cause:
        """The player answered."""
        return Cause(f"the answer {self._words.reply_start(line, reply)}", mine=True)

    def decided(self, decision: str) -> Cause:
        """The player decided about a quest: `start:key`, `decline:key`, `give up:key`."""
        what, _, quest = decision.partition(":")
        return Cause(f"{self._words.name(quest)} {_DECIDED[what]}", mine=True, decided=what)

    def button(self, key: str, button: str) -> Cause:
        """A button of a panel was pressed."""
        return Cause(f"the button {self._words.owned(button, key)} of {self._words.name(key)}", mine=True)
