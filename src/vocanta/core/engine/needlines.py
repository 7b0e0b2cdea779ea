"""Needs with their values at a moment of a run: met or not, down to their parts, since when it is so, what could bring it."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass

from ..phrases.vocabulary import STATUSES
from ..progress.columns import What
from ..progress.guards import All, Guard, Within, can_hold
from .run import Run
from .shown import Since, Source, WhyLine
from .situation import Situation, at_clock

MOST_SOURCES = 6
UNDER_WAY = ("active", "ready")
"""The statuses in which a quest is at a stage."""


def line(text: str, met: bool, detail: str = "", stops: str = "") -> WhyLine:
    """One condition; `stops` says it where it is what stops something."""
    return {"text": text, "met": met, "detail": detail, "stops": stops or text}


@dataclass(frozen=True)
class Moment:
    """A moment of a run: its row then, and how many entries the chronicle had."""

    run: Run
    row: Sequence[int]
    before: int

    @classmethod
    def now(cls, run: Run) -> Moment:
        """The present moment."""
        return cls(run, run.situation.row, len(run.chronicle))

    @property
    def situation(self) -> Situation:
        """The situation whose words and columns are used."""
        return self.run.situation

    def known(self, what: What, key: str = "") -> int:
        """The value of a column then, 0 where nothing asks for it."""
        column = self.situation.layout.find(what, key)
        return 0 if column is None else self.row[column]

    def since(self, columns: Iterable[int]) -> Since | None:
        """The entry of the chronicle that made columns what they are, the last of them; None where none did."""
        run, columns = self.run, tuple(columns)
        found = [(span, c) for c in columns if (span := run.ledger.last(c, self.before)) is not None]
        if not found:
            return None
        (begun, end), column = max(found)
        key = self.situation.program.columns[column].key
        entries = run.chronicle[begun:end]
        own = next((n for n, e in enumerate(entries) if e.subject == key), 0)
        one = entries[own]
        return {"entry": begun + own, "at": at_clock(one.tick), "text": one.text, "cause": one.cause.says}

    # --- needs

    def need(self, guard: Guard, text: str, this: str) -> WhyLine:
        """A need with its value then, its parts, since when it is so, and where what it asks for could come from."""
        situation, words = self.situation, self.situation.words
        met = can_hold(guard, self.row, situation.program.chances)
        found = line(
            words.need_sentence(text, this), met, ", ".join(self._values(guard)), words.need(text, self.known, this)
        )
        found["from"] = [] if met else sources(situation, guard)
        if since := self.since(a.column for a in atoms(guard)):
            found["since"] = since
        parts = [p for p in _parts(guard) if p.text]
        if len(parts) > 1:
            found["any"] = not isinstance(guard, All)
            found["parts"] = [self.need(p, p.text, this) for p in parts]
        return found

    def needs(self, guard: Guard, this: str = "") -> list[WhyLine]:
        """Every need that a guard was made of."""
        return [self.need(one, one.text, this) for one in written(guard)]

    def _values(self, guard: Guard) -> Iterator[str]:
        """The values a guard reads, in words, each once."""
        for number in dict.fromkeys(a.column for a in atoms(guard)):
            column = self.situation.program.columns[number]
            text = self.situation.words.column(column, self.row[number])
            if text and (column.what != "stage" or STATUSES[self.known("status", column.key)] in UNDER_WAY):
                yield text


def written(guard: Guard) -> Iterator[Guard]:
    """The needs in a guard, as they are written: its parts, or itself."""
    if guard.text:
        yield guard
    elif isinstance(guard, All):
        for part in guard.parts:
            yield from written(part)


def _parts(guard: Guard) -> tuple[Guard, ...]:
    return () if isinstance(guard, Within) else guard.parts


def atoms(guard: Guard) -> Iterator[Within]:
    """Every comparison in a guard."""
    if isinstance(guard, Within):
        yield guard
    else:
        for part in guard.parts:
            yield from atoms(part)


def sources(situation: Situation, guard: Guard) -> list[Source]:
    """Where what a guard asks for could come from: every cue, line or reward that raises a column it reads."""
    return sources_of(situation, {a.column for a in atoms(guard)})


def sources_of(situation: Situation, columns: set[int]) -> list[Source]:
    """Every cue, line or reward that raises one of some columns."""
    raisers, named = situation.program.raisers, dict[str, str]()
    for group, branch in dict.fromkeys(place for column in sorted(columns) for place in raisers.get(column, ())):
        named.setdefault(situation.words.place(group), branch if group == "project" else group)
    shown: list[Source] = [{"origin": origin, "text": text} for text, origin in named.items()]
    return shown[:MOST_SOURCES]
