"""Two runs side by side: where they part ways first, and what one has not come to."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from difflib import SequenceMatcher
from typing import Literal

from ..engine.again import held_of, is_kept, kept_now
from ..engine.run import Run
from ..phrases.vocabulary import STATUSES
from ..progress.columns import Column
from ..progress.happenings import Happening
from ..project.keeping import Came, Held

SAID = "said"
"""What is put before the name of a line, where it must have been said: that has no column where nothing asks for it."""
_AT_LEAST = ("item", "money", "experience")
"""Columns of which more than what was had is as good."""


@dataclass(frozen=True, slots=True)
class Parting:
    """Where two runs part ways: what the old one came to there, and the new one; None where one of them was over.

    `how`: something comes instead of something else, something is missing, or something comes besides.
    """

    was: Came | None
    now: Came | None
    how: Literal["instead", "missing", "besides"] = "instead"

    def says(self) -> str:
        """The first difference in words."""
        was, now = (one.says if one is not None else "" for one in (self.was, self.now))
        if self.how == "missing":
            return f"this does not come any more: {was}"
        return f"this comes besides: {now}" if self.how == "besides" else f"{now}, where it was: {was}"


def parting(was: Sequence[Came], now: Sequence[Came]) -> Parting | None:
    """The first difference between what two runs came to; None where there is none. Wording and time make no difference."""
    old, new = [_what(one) for one in was], [_what(one) for one in now]
    for tag, i, _, j, _ in SequenceMatcher(None, old, new, autojunk=False).get_opcodes():
        if tag != "equal":
            return Parting(was[i] if i < len(was) else None, now[j] if j < len(now) else None, _HOW[tag])
    return None


_HOW: dict[str, Literal["instead", "missing", "besides"]] = {
    "replace": "instead",
    "delete": "missing",
    "insert": "besides",
}


def _what(one: Came) -> tuple[str, str, str]:
    return one.what, one.subject, one.detail


def same_so_far(was: Sequence[Came], now: Sequence[Came]) -> bool:
    """Whether what a run has come to up to now is what the other came to first."""
    return [_what(one) for one in was[: len(now)]] == [_what(one) for one in now]


def not_come_to(run: Run, wanted: Iterable[Held]) -> list[Held]:
    """What a run must have come to and has not."""
    return [one for one in wanted if not _has_come(run, one)]


def _has_come(run: Run, one: Held) -> bool:
    what, _, key = one.column.partition(":")
    if what == SAID:
        return any(e.what is Happening.LINE and e.subject == key for e in run.chronicle)
    program = run.situation.program
    value = kept_now(program, one)
    if value is None:
        return False
    now = run.situation.named(one.column)
    return now >= value if what in _AT_LEAST else now == value


def could_come_to(run: Run) -> list[Held]:
    """All that a run has come to that it could be held to, the weightiest first: its end, quests, states, things had, lines.

    Of what it has come back to in the end only how its quests stand."""
    layout, words, row = run.situation.layout, run.situation.words, run.situation.row
    quests = {e.subject for e in run.chronicle if e.what is Happening.QUEST}
    found = [
        held_of(layout, words, column, row[number])
        for number, column in enumerate(run.situation.program.columns)
        if _counts(column) and (row[number] != column.start or (column.what == "status" and column.key in quests))
    ]
    at_a_stage = {quest.key for quest in run.situation.project.quests if _is_under_way(run, quest.key)}
    found = [h for h in found if not h.column.startswith("stage:") or h.column.partition(":")[2] in at_a_stage]
    found.sort(key=lambda held: _WEIGHT.index(held.column.partition(":")[0]))
    lines = dict.fromkeys(e.subject for e in run.chronicle if e.what is Happening.LINE)
    return found + [Held(f"{SAID}:{line}", 1, "", f"{words.name(line)} was said") for line in lines]


def _counts(column: Column) -> bool:
    return column.what in _WEIGHT and (is_kept(column) or column.what == "ended")


def _is_under_way(run: Run, quest: str) -> bool:
    return STATUSES[run.situation.value("status", quest)] in ("active", "ready")


_WEIGHT = (
    "ended",
    "status",
    "stage",
    "item",
    "gear",
    "ability",
    "fact",
    "state",
    "exists",
    "money",
    "experience",
    "role",
)


def usually_held_to(found: Sequence[Held]) -> list[Held]:
    """What a walk is held to where nobody chooses: its end and how its quests stand, else the first three things."""
    heavy = [one for one in found if one.column.partition(":")[0] in ("ended", "status", "stage")]
    return heavy or list(found[:3])
