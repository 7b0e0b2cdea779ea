"""What could stand at a place in a text: words of the language and names of the project that fit there."""

from __future__ import annotations

import re
from dataclasses import dataclass

from lark import UnexpectedInput

from .index import NameIndex
from .nodes import Word
from .reading import parser, shown_terminals
from .roles import PURSES, NameUse

STEPS = (
    "set ? to ?",
    "set ? to next",
    "add ? to ?",
    "give ?",
    "take ?",
    "grant ?",
    "offer ?",
    "start ?",
    "decline ?",
    "hand in ?",
    "give up ?",
    "move ? to ?",
    "finish ?",
    "fail ?",
    "say ?",
    "open conversation ?",
    "sound ?",
    "wait ?",
    "wait for it",
    "mark ?",
    "unmark ?",
    "remove ?",
    "meet ?",
)
NEEDS = (
    "has ?",
    "? is ?",
    "? at ?",
    "? before ?",
    "? past ?",
    "? between ? and ?",
    "? met",
    "heard ?",
    "can ?",
    "? at least ?",
    "? exactly ?",
    "? fewer than ?",
    "not ?",
)
MOMENTS = ("used", "held", "near", "away", "entered ?", "left ?")

_BEFORE: tuple[tuple[str, tuple[str, ...]], ...] = (
    (r"(has( (exactly|fewer than))?( \d+)?)$", ("item",)),
    (r"(give|take)( \d+)?$", ("item", "purse")),
    (r"\b(set|is)$", ("object", "fact")),
    (r"\badd \S+ to$", ("fact", "purse")),
    (r"\b(offer|start|decline|hand in|give up|finish|fail|move)$", ("quest",)),
    (r"\bopen conversation$", ("conversation",)),
    (r"\bsound$", ("sound",)),
    (r"\bsound \S+ at$", ("object",)),
    (r"\b(mark|unmark|remove)$", ("object",)),
    (r"\b(grant|can)$", ("ability",)),
    (r"\bmeet$", ("objective",)),
    (r"\bheard$", ("line",)),
    (r"\bheard \S+ by$", ("object",)),
    (r"\b(entered|left)$", ("area",)),
    (r"\b(used|held) with$", ("control",)),
    (r"(only if|and|or|not|\()$", ("object", "fact", "quest", "objective", "purse")),
)
_OWNED: tuple[tuple[str, str], ...] = (
    (r"\bset (\S+) to( next of( \S+ ,?)*)?$", "state"),
    (r"\bmove (\S+) to$", "stage"),
    (r"(\S+) (at|before|past)$", "stage"),
    (r"(\S+) between( \S+ and)?$", "stage"),
    (r"(\S+) is$", "value"),
)


@dataclass(frozen=True, slots=True)
class Completion:
    """What could be typed at a place: `start` is where the word being typed begins."""

    start: int
    options: tuple[str, ...]


def completed(text: str, at: int, start: str, index: NameIndex, this: str) -> Completion:
    """What could stand at position `at` of a text that starts as `cue`, `needs` or `steps`; the best first."""
    before = text[:at]
    partial = re.search(r"[a-z0-9_]*$", before)
    assert partial is not None
    begun = before[: partial.start()]
    words = _accepted(begun, start)
    options = [
        w
        for w in words
        if w not in ("a name", "a number", "the end") and not w.startswith(("seconds", "a wording", "its"))
    ]
    if "a name" in words:
        options = [*_names(begun, index, this), *options]
    fitting = [o for o in dict.fromkeys(options) if o.startswith(partial.group())]
    return Completion(partial.start(), tuple(fitting))


def _accepted(begun: str, start: str) -> tuple[str, ...]:
    """What the grammar could take after a beginning; nothing when the beginning itself cannot be read."""
    interactive = parser().parse_interactive(begun, start=start)
    try:
        interactive.exhaust_lexer()
    except UnexpectedInput:
        return ()
    return shown_terminals(set(interactive.accepts()))  # type: ignore[no-untyped-call]


def _names(begun: str, index: NameIndex, this: str) -> tuple[str, ...]:
    tail = " ".join(begun.split())
    for pattern, kind in _OWNED:
        found = re.search(pattern, tail)
        if found:
            owned = index.candidates(NameUse(Word("?"), (kind,), Word(found.group(1))), this)
            if owned:
                return owned
    for pattern, types in _BEFORE:
        if re.search(pattern, tail):
            return index.candidates(NameUse(Word("?"), types), this)
    return (*index.candidates(NameUse(Word("?"), ("object", "fact", "quest")), this), *sorted(PURSES))
