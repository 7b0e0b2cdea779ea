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
    "change ? into ?",
    "equip ?",
    "put away ?",
    "suspend ?",
    "revoke ?",
    "sound ? at this",
    "effect ? at this",
    "put ? at ?",
    "put ? where it stood",
    "scatter ? ? around this within 1 m",
    "drop ? at the feet of ?",
    "fill ? with ?",
    "later by ?",
    "later after ?",
    "later at the next area",
    "move player to ?",
    "open exit ?",
    "close exit ?",
    "down ?",
    "end level won after ?",
    "end level lost after ?",
    "wait ?",
    "wait for it",
    "mark ?",
    "unmark ?",
    "remove ?",
    "meet ?",
    "count ?",
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
    "? used ? times",
    "? heard ? times",
    "? visited ? times",
    "? gained ? times",
    "? is equipped",
    "? is filled",
    "player in ?",
    "player in reach of ?",
    "somebody in reach of ?",
    "somebody in the way of ?",
    "chance one in ?",
    "? at least ?",
    "? exactly ?",
    "? fewer than ?",
    "not ?",
)
MOMENTS = (
    "used",
    "held",
    "near",
    "away",
    "touched",
    "looked at",
    "chosen ?",
    "struck by ?",
    "downed",
    "changed",
    "changed ?",
    "entered ?",
    "left ?",
    "gained ?",
    "lost ?",
    "heard ?",
    "met ?",
    "stage ? of ?",
    "accepted ?",
    "declined ?",
    "done ?",
    "failed ?",
    "later",
    "started",
)

_BEFORE: tuple[tuple[str, tuple[str, ...]], ...] = (
    (r"(has( (exactly|fewer than))?( \d+)?)$", ("item",)),
    (r"(give|take)( \d+)?$", ("item", "purse")),
    (r"\b(set|is)$", ("object", "fact")),
    (r"\badd \S+ to$", ("fact", "purse")),
    (r"\b(offer|start|decline|hand in|give up|finish|fail|move)$", ("quest",)),
    (r"\bopen conversation$", ("conversation",)),
    (r"\bsound$", ("sound",)),
    (r"\beffect$", ("effect",)),
    (r"\b(sound|effect) \S+ at$", ("object", "player")),
    (r"\bput$", ("kind", "object")),
    (r"\bput \S+ at$", ("object", "player")),
    (r"\bscatter \d+$", ("kind",)),
    (r"\bscatter \d+ \S+ around$", ("object", "player")),
    (r"\bdrop( \d+)?$", ("kind",)),
    (r"\bdrop .*feet of$", ("object", "player")),
    (r"\b(equip|put away)$", ("item",)),
    (r"\bchange( \d+)?$", ("item", "purse")),
    (r"\bchange .*into( \d+)?$", ("item", "purse")),
    (r"\b(grant|can|suspend|revoke|struck by)$", ("ability",)),
    (r"\bfill$", ("role",)),
    (r"\bfill \S+ with$", ("object",)),
    (r"\blater by$", ("object",)),
    (r"\bmove player to$", ("object", "area", "exit")),
    (r"\b(open|close) exit$", ("exit",)),
    (r"\bdown$", ("object", "player")),
    (r"\b(count|when met)$", ("objective",)),
    (r"\bwhen changed$", ("fact", "object")),
    (r"\bwhen (gained|lost)$", ("item", "purse")),
    (r"\bwhen (accepted|declined|done|failed)$", ("quest",)),
    (r"\bwhen downed$", ("object", "player")),
    (r"\b(in reach of|in the way of)$", ("object",)),
    (r"\bplayer in$", ("area", "level", "object")),
    (r"\b(mark|unmark)$", ("object", "role", "area")),
    (r"\bremove$", ("object",)),
    (r"\bmeet$", ("objective",)),
    (r"\bheard$", ("line",)),
    (r"\bheard \S+ by$", ("object",)),
    (r"\b(entered|left)$", ("area", "level", "object")),
    (r"\b(used|held) with$", ("control",)),
    (
        r"(only if|and|or|not|\()$",
        ("object", "fact", "namedneed", "quest", "objective", "item", "purse", "player", "somebody"),
    ),
)
_OWNED: tuple[tuple[str, str], ...] = (
    (r"\bset (\S+) to( next of( \S+ ,?)*)?$", "state"),
    (r"\bmove (?!player )(\S+) to$", "stage"),
    (r"\bwhen (chosen)$", "button"),
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
        if w not in ("a name", "a number", "the end") and not w.startswith(("seconds", "metres", "a wording", "its"))
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
            owner = "this" if kind == "button" else found.group(1)
            owned = index.candidates(NameUse(Word("?"), (kind,), Word(owner)), this)
            if owned:
                return owned
    for pattern, types in _BEFORE:
        if re.search(pattern, tail):
            return index.candidates(NameUse(Word("?"), types), this)
    return (*index.candidates(NameUse(Word("?"), ("object", "fact", "quest")), this), *sorted(PURSES))
