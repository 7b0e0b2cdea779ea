"""Which entries of the chronicle wrote which column: how things came to be as they are."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Iterable


class Ledger:
    """For each column the stretches of the chronicle that wrote it, in order: from an entry up to another. A stretch is what
    one action told until it had settled.

    >>> ledger = Ledger()
    >>> ledger.note([7], 3, 5)
    >>> ledger.last(7), ledger.last(7, before=3), ledger.last(8)
    ((3, 5), None, None)
    >>> ledger.stretch(4), ledger.stretch(9)
    ((3, 5), (9, 10))
    """

    def __init__(self) -> None:
        self._written: dict[int, list[tuple[int, int]]] = {}
        self._stretches: list[tuple[int, int]] = []

    def note(self, columns: Iterable[int], begun: int, end: int) -> None:
        """An action told the entries from `begun` up to `end` and wrote columns; nothing told is nothing noted."""
        if end > begun:
            self._stretches.append((begun, end))
            for column in columns:
                self._written.setdefault(column, []).append((begun, end))

    def last(self, column: int, before: int | None = None) -> tuple[int, int] | None:
        """The stretch that wrote a column last, or last before an entry; None where none did."""
        found = self._written.get(column, [])
        number = len(found) if before is None else bisect_left(found, (before, 0))
        return found[number - 1] if number else None

    def stretch(self, entry: int) -> tuple[int, int]:
        """The stretch that an entry belongs to; the entry alone where no action told it."""
        number = bisect_right(self._stretches, (entry, entry)) - 1
        for begun, end in self._stretches[max(number, 0) : number + 2]:
            if begun <= entry < end:
                return begun, end
        return entry, entry + 1
