"""What could stand at a place in a text: words of the language and names of the project that fit there.

Which words: what the grammar takes next. Which names: the slot of the phrase that has begun, found by its words.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass
from functools import cache
from string import ascii_lowercase, digits
from typing import Any, assert_never

from lark import UnexpectedInput

from ..phrases.declaring import Aside, Both, Each, How, Maybe, Of, Part, Phrase, Slot, Units, Unsaid
from ..phrases.moments import MOMENTS
from ..phrases.needs import NEEDS
from ..phrases.nodes import Word
from ..phrases.steps import STEPS
from .index import NameIndex
from .reading import CueTextError, hold_limits, parser, shown_terminals
from .roles import NameUse

_LOOKED_BACK = 400
"""A phrase is found within so many characters before the cursor."""
_NAME = r"\S+"
_MOST_WORDS = 5
"""A shown name is looked for in so many words before the cursor."""
_LETTERS = f"{ascii_lowercase}{digits}_"
_ITS_BEGUN = re.compile(r"\bits\s+$")
_NUMBERS = ("a number", "seconds, such as 2 s", "metres, such as 1.5 m")
_BORDER = {
    "moment": r"(?:^|\bwhen )",
    "need": r"(?:^|\bonly if |\band |\bor |\bnot |\()",
    "step": r"(?:^|\s)",
}
_PHRASES: dict[str, tuple[Phrase, ...]] = {"moment": MOMENTS, "need": NEEDS, "step": STEPS}
_FIRST = {"cue": "moment", "needs": "need", "steps": "step"}


@dataclass(frozen=True, slots=True)
class Completion:
    """What could be typed at a place: `start` is where the word being typed begins."""

    start: int
    options: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class _Begun:
    """A slot, how the text before it reads, and in which group of that the owner of its name stands, 0 for none."""

    slot: Slot
    pattern: re.Pattern[str]
    owner: int


def completed(text: str, at: int, start: str, index: NameIndex, this: str) -> Completion:
    """What could stand at position `at` of a text that starts as `cue`, `needs` or `steps`; the best first.

    A name is found by its letters in cues, and by its shown name, of which several words may have been typed.
    """
    before = text[: max(at, 0)]
    begun = _ITS_BEGUN.sub("", before.rstrip(_LETTERS))
    partial = before[len(begun) :]
    found, at_letters = _by_letters(begun, partial, start, index, this), len(begun)
    typed = [(begun, partial)] if partial else []
    for begun, partial in (*typed, *_last_words(before)):
        shown = tuple(name for name in _shown_as(begun, partial, start, index, this) if name not in found)
        if shown:
            return Completion(len(begun), (*found, *shown) if len(begun) == at_letters else shown)
        if found:
            break
    return Completion(at_letters, found)


def _last_words(before: str) -> Iterator[tuple[str, str]]:
    """A text cut before its last word, its last two …, as far as a shown name may reach back on its line."""
    line = before.rpartition("\n")[2]
    for word in list(re.finditer(r"\S+", line))[: -_MOST_WORDS - 1 : -1]:
        at = len(before) - len(line) + word.start()
        yield before[:at], before[at:]


def _shown_as(begun: str, typed: str, start: str, index: NameIndex, this: str) -> tuple[str, ...]:
    """The names that could stand after a beginning and whose shown names hold what was typed, the nearest first."""
    wanted = " ".join(typed.lower().split())
    if not wanted or "a name" not in _accepted(begun, start):
        return ()
    held = [(index.shown(name).lower(), name) for name in _names(begun, start, index, this)]
    found = [(not shown.startswith(wanted), shown, name) for shown, name in held if wanted in shown]
    return tuple(name for _, _, name in sorted(found))


def _by_letters(begun: str, partial: str, start: str, index: NameIndex, this: str) -> tuple[str, ...]:
    """The words of the language and the names in cues that begin with what was typed."""
    words = _accepted(begun, start)
    options = [
        w
        for w in words
        if w not in ("a name", "a number", "the end") and not w.startswith(("seconds", "metres", "a wording", "its"))
    ]
    asked = _asked_of(begun, start, index)
    if asked is not None:
        options = [w for w in options if w not in _follows_name() or w in asked]
    if "a name" in words:
        options = [*_names(begun, start, index, this), *options]
    if any(number in words for number in _NUMBERS):
        options += index.own_numbers(this)
    return tuple(o for o in dict.fromkeys(options) if o.startswith(partial))


_NEED_BEGUN = re.compile(r"(?:^|\bonly if |\band |\bor |\bnot |\()\s*([a-z][a-z0-9_]*) $")


@cache
def _follows_name() -> dict[str, frozenset[str]]:
    """What is written behind a name that begins a need, and of what it can be asked."""
    found: dict[str, set[str]] = {}
    for phrase in NEEDS:
        first, *rest = phrase.parts
        if isinstance(first, Slot) and rest:
            texts = [t for t, _ in rest[0].words.values()] if isinstance(rest[0], How) else [_text_of(rest[0])]
            for text in texts:
                found.setdefault(text.strip(), set()).update(first.types)
    return {text: frozenset(types) for text, types in found.items()}


def _text_of(part: Part) -> str:
    return part.text if isinstance(part, Both) else part if isinstance(part, str) else ""


def _asked_of(begun: str, start: str, index: NameIndex) -> frozenset[str] | None:
    """The words with which something can be asked of the name at the end of a beginning; None where no name stands there."""
    if _section(begun, start) != "need":
        return None
    found = _NEED_BEGUN.search(" ".join(begun[-_LOOKED_BACK:].split()) + " ")
    sort = index.type_of(found.group(1)) if found is not None else ""
    return frozenset(w for w, types in _follows_name().items() if sort in types) if sort else None


def _accepted(begun: str, start: str) -> tuple[str, ...]:
    """What the grammar could take after a beginning; nothing when the beginning itself cannot be read."""
    try:
        hold_limits(begun)
        interactive: Any = parser().parse_interactive(begun, start=start)
        interactive.exhaust_lexer()
    except (UnexpectedInput, CueTextError):
        return ()
    return shown_terminals(set(interactive.accepts()))


def _names(begun: str, start: str, index: NameIndex, this: str) -> tuple[str, ...]:
    """The names that fit the slot at the end of a beginning, those of an owner first."""
    sort = _section(begun, start)
    tail = " ".join(begun[-_LOOKED_BACK:].split())
    tail += " " if tail else ""
    owned: dict[str, None] = {}
    named: dict[str, None] = {}
    for one in _begun(sort):
        found = one.pattern.search(tail)
        if found is None:
            continue
        owner = Word("this") if one.slot.owner == "this" else Word(found.group(one.owner)) if one.owner else None
        for name in index.candidates(NameUse(Word("?"), one.slot.types, owner), this):
            (owned if one.slot.owner else named)[name] = None
        for name in index.own_names(NameUse(Word("?"), one.slot.types, owner), this):
            (owned if one.slot.owner else named)[name] = None
    return tuple(owned) or tuple(sorted(named))


def _section(begun: str, start: str) -> str:
    """Whether a moment, a need or a step stands at the end of a beginning."""
    bare = re.sub(r'"(?:\\.|[^"\\\n])*"?', '""', begun)
    marks = re.findall(r"\b(when|only if|then|otherwise|or else)\b", " ".join(bare.split()))
    last = marks[-1] if marks else ""
    if last == "or else" and re.search(r"\band $", " ".join(bare.split()) + " "):
        return "need"
    sections = {"when": "moment", "only if": "need", "then": "step", "otherwise": "step", "or else": "step"}
    return sections.get(last, _FIRST[start])


@cache
def _begun(sort: str) -> tuple[_Begun, ...]:
    """Every slot of every phrase of a sort with the words before it, the longest first."""
    found = [one for phrase in _PHRASES[sort] for one in _slots_of(phrase, sort)]
    return tuple(sorted(found, key=lambda one: -len(one.pattern.pattern)))


def _slots_of(phrase: Phrase, sort: str) -> Iterator[_Begun]:
    """The slots of a phrase that hold names. Words that may be left out are so in the pattern of what follows them."""
    groups: dict[str, int] = {}
    yield from _walked(phrase.parts, _BORDER[sort], groups)


def _walked(parts: tuple[Part, ...], before: str, groups: dict[str, int]) -> Iterator[_Begun]:
    for number, part in enumerate(parts):
        match part:
            case Slot(attribute, _, types, owner) if types:
                yield _Begun(part, re.compile(before + "$"), groups.get(owner, 0))
                groups[attribute] = before.count("(") - before.count("(?") - before.count(r"\(") + 1
                before += f"({_NAME})"
            case Slot():
                before += r"(?:its )?-?[\w.?]+(?: ?[sm]\b)?"
            case Each(slot):
                yield _Begun(slot, re.compile(before + rf"(?:{_NAME} ?, ?)*$"), groups.get(slot.owner, 0))
            case Maybe(_, inner, otherwise):
                yield from _walked((*inner, *parts[number + 1 :]), before, dict(groups))
                yield from _walked((*otherwise, *parts[number + 1 :]), before, groups)
                return
            case How(_, words, usual):
                texts = "|".join(re.escape(text) for text, _ in words.values())
                before += f"(?:{texts}){'?' if usual else ''}"
            case str() | Both():
                before += re.escape(part if isinstance(part, str) else part.text)
            case Units(_, _, many):
                before += re.escape(many)
            case Of():
                before += " (?:of )?"
            case Aside() | Unsaid():
                pass
            case _:
                assert_never(part)
