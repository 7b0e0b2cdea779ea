"""A run in a few bytes: two runs that are the same to the last bit have the same mark, others have not."""

from __future__ import annotations

import hashlib
from collections.abc import Iterable

from .chronicle import Entry
from .situation import Situation


def stands(situation: Situation) -> tuple[object, ...]:
    """The tick, the row, the player's body and its way: what a run is at this moment, to be compared."""
    body = situation.player
    return situation.tick, *situation.row, body.x, body.y, body.facing_deg, *body.way


class Marker:
    """Takes in what a run tells, as it tells it."""

    def __init__(self) -> None:
        self._told = hashlib.sha256()

    def note(self, entries: Iterable[Entry]) -> None:
        """Take in what has happened, in order."""
        for e in entries:
            told = e.tick, e.what.value, e.subject, e.text, e.origin, e.cause.says, e.notice, e.detail
            self._told.update(repr(told).encode())

    def mark(self, now: tuple[object, ...]) -> str:
        """The mark of a run that has told all this and stands like this now; 64 characters."""
        all_of_it = self._told.copy()
        all_of_it.update(repr(now).encode())
        return all_of_it.hexdigest()
