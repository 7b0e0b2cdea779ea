"""A cue as prose: the sentence a page shows, cut into tokens; a token that can be changed knows its span in the text.

The text must be canonical (`writing.write_cue(reading.read_cue(text))`), so that spans hold.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import asdict, dataclass
from typing import Any, assert_never

from ..phrases import nodes as n
from ..phrases.declaring import (
    Aside,
    Both,
    Each,
    How,
    Of,
    Slot,
    Sort,
    Units,
    Unsaid,
    how_words,
    of_words,
    shown_parts,
    value_of,
)
from ..phrases.language import phrase_of
from ..phrases.vocabulary import ITS, PURSES, SOMEBODY
from ..project.english import plural, singular
from .own_values import is_its

Naming = Callable[[str, str], str]
"""Gives the shown words for a name: `naming(text, owner)`; the owner is the key a state or stage belongs to, or empty."""


@dataclass(frozen=True, slots=True)
class Token:
    """A piece of prose. `role` is plain, moment, need or step; `slot` says how it can be changed, empty for not at all:

    `word` a name, `number`, `seconds`, `metres`, `wording`, `need` or `step` a whole phrase by its first word, `moment`.
    `before` and `after` are put around what is typed, where nothing is written yet.
    `piece` is the place of the need or step that it belongs to, as `rearranging` counts them; empty between them.
    """

    text: str
    role: str
    slot: str = ""
    start: int = 0
    end: int = 0
    value: str = ""
    piece: str = ""
    before: str = ""
    after: str = ""

    def as_data(self) -> dict[str, Any]:
        """The token as plain data."""
        return asdict(self)


@dataclass(frozen=True, slots=True)
class Insert:
    """Where something can be added to the text, and what is put in for it."""

    what: str
    at: int
    text: str


class _Prose:
    """Builds the tokens of one tree."""

    def __init__(self, naming: Naming):
        self.naming = naming
        self.tokens: list[Token] = []
        self.role = "plain"
        self.piece = ""

    def _add(self, text: str, slot: str = "", span: n.Span = n.NOWHERE, value: str = "") -> None:
        self.tokens.append(Token(text, self.role, slot, *span, value, self.piece))

    def plain(self, text: str) -> None:
        self.tokens.append(Token(text, "plain", piece=self.piece))

    def lead(self, text: str, slot: str, span: n.Span) -> None:
        """The first word of a phrase: changing it changes the phrase."""
        self._add(text, slot, span)

    def between(self, text: str) -> None:
        self._add(text)

    def words(self, text: str, led: bool, slot: str, span: n.Span) -> tuple[bool, str]:
        """Words gathered so far: the first of a phrase lead it. Whether it is led by now, and nothing more gathered."""
        if text:
            self.between(text) if led else self.lead(text, slot, span)
        return led or bool(text), ""

    def word(self, word: n.Word, owner: str = "", *, many: bool | None = None, instead: str = "") -> None:
        shown = "…" if word.is_hole else instead or self.naming(word.text, owner)
        if not word.is_hole and not is_its(shown) and many is not None:
            shown = _counted(word.text, shown, many)
        self._add(shown, "word", word.span, word.text)

    def unsaid(self, part: Unsaid, at: int) -> None:
        value = part.shown if part.shown.isdigit() else ""
        self.tokens.append(Token(part.shown, self.role, part.sort, at, at, value, self.piece, part.before, part.after))

    def label(self, word: n.Word) -> None:
        shown = "…" if word.is_hole else word.text.replace("_", " ")
        self._add(shown, "label", word.span, word.text)

    def number(self, number: n.Number, sort: Sort) -> None:
        if number.its:
            self._add(ITS + number.its, sort, number.span, ITS + number.its)
            return
        unit = "" if sort == "number" else f" {sort[0]}"
        value = n.HOLE if number.value is None else f"{number.value:g}"
        self._add("…" if number.value is None else value + unit, sort, number.span, value)

    def wording(self, text: n.Text) -> None:
        shown = "…" if text.value is None else f"“{text.value}”"
        self._add(shown, "wording", text.span, text.value or "")


def _counted(key: str, shown: str, many: bool) -> str:
    """A name as it reads for one or for several. Money is called as for several already; experience is not counted."""
    if key in PURSES:
        return singular(shown) if key == "money" and not many else shown
    return plural(shown) if many else shown


def prose_of_cue(cue: n.CueTree, naming: Naming) -> list[Token]:
    """The tokens of one cue, as one sentence or two."""
    p = _Prose(naming)
    _moment(p, cue.moment)
    if cue.tops:
        p.plain(", only if ")
        _tops(p, cue.tops)
    p.plain(", then " if cue.tops else " then ")
    _steps(p, cue.steps, "steps")
    p.plain(".")
    if cue.otherwise:
        p.plain(" Otherwise ")
        _steps(p, cue.otherwise, "otherwise")
        p.plain(".")
    if cue.go_on:
        p.plain(" And go on to the next cue.")
    return p.tokens


def prose_of_needs(tops: tuple[n.Top, ...], naming: Naming) -> list[Token]:
    """The tokens of needs alone; none without needs."""
    p = _Prose(naming)
    _tops(p, tops)
    return p.tokens


def prose_of_steps(steps: tuple[n.Step, ...], naming: Naming) -> list[Token]:
    """The tokens of steps alone; none without steps."""
    p = _Prose(naming)
    if steps:
        _steps(p, steps, "steps")
    return p.tokens


def inserts_of_cue(cue: n.CueTree, text: str) -> list[Insert]:
    """Where a need, a step or an otherwise can be added to a cue's canonical text."""
    lines = text.split("\n")
    then = lines.index("then")
    before_then = len("\n".join(lines[:then]))
    need = "\n  and ?" if cue.tops else "\nonly if ?"
    after_steps = len("\n".join(lines[: then + 1 + len(cue.steps)]))
    found = [Insert("need", before_then, need), Insert("step", after_steps, "\n  ?")]
    if cue.otherwise:
        end = len("\n".join(lines[: then + 2 + len(cue.steps) + len(cue.otherwise)]))
        return [*found, Insert("step otherwise", end, "\n  ?")]
    return [*found, Insert("otherwise", after_steps, "\notherwise\n  ?")]


def _moment(p: _Prose, moment: n.Moment) -> None:
    """*When it is used*; with a name: *when oil is gained*, *when Dry Feet is done*."""
    p.plain("When ")
    p.role = "moment"
    _phrase(p, moment, "moment")
    p.role = "plain"


def _phrase(p: _Prose, node: n.Moment | n.Atom | n.HoleNeed | n.Step, slot: str, turned: n.Span | None = None) -> None:
    """A moment, a need or a step as its phrase is declared: its first words can be changed for another phrase.

    `turned`: the span of the *not* that turns it round.
    """
    phrase = phrase_of(node)
    span = node.span if turned is None else turned
    if phrase is None:
        p.lead("…", slot, span)
        return
    nobody = turned is not None and isinstance(node, n.Around) and node.who.text == SOMEBODY
    led, text = False, ""
    for part in shown_parts(node, phrase.prose or phrase.parts):
        if isinstance(part, str | Both | How | Units | Of):
            text += _words(node, part, turned is not None and not nobody)
        elif isinstance(part, Aside):
            p.plain(part.prose)
        else:
            led, text = p.words(text, led, slot, span)
            if isinstance(part, Slot):
                _slot(p, node, part, "nobody" if nobody and part.attribute == "who" else "")
            elif isinstance(part, Each):
                _each(p, node, part.slot)
            else:
                p.unsaid(part, node.span[1] if not part.at else value_of(node, part.at).span[0])
    p.words(text, led, slot, span)


def _words(node: Any, part: str | Both | How | Units | Of, turned: bool) -> str:
    """The words of a part in prose, turned round where a *not* stands before the need."""
    match part:
        case str():
            return part
        case Both(_, prose, negated):
            return negated if turned and negated else prose
        case Units(attribute, one, many):
            return one if value_of(node, attribute).value == 1 else many
        case Of():
            return of_words(node, part)
        case How():
            words = how_words(node, part)[1]
            if not turned or not words.startswith(" "):
                return words
            return words.replace(" is ", " is not ", 1) if " is " in words else f" not{words}"
        case _:
            assert_never(part)


def _each(p: _Prose, node: Any, slot: Slot) -> None:
    for number, word in enumerate(value_of(node, slot.attribute)):
        if number:
            p.between(", ")
        p.word(word, value_of(node, slot.owner).text if slot.owner else "")


def _slot(p: _Prose, node: Any, slot: Slot, instead: str = "") -> None:
    value = value_of(node, slot.attribute)
    match slot.sort:
        case "word":
            owner = n.Word("this") if slot.owner == "this" else value_of(node, slot.owner) if slot.owner else None
            count = value_of(node, slot.many) if slot.many else None
            many = (count is not None and (bool(count.its) or count.value not in (None, 1))) if slot.many else None
            p.word(value, owner.text if owner is not None else "", many=many, instead=instead)
        case "label":
            p.label(value)
        case "wording":
            p.wording(value)
        case "number" | "seconds" | "metres":
            p.number(value, slot.sort)
        case _:
            assert_never(slot.sort)


def _tops(p: _Prose, tops: tuple[n.Top, ...]) -> None:
    for number, top in enumerate(tops):
        if number:
            p.plain(" and ")
        p.role, p.piece = "need", f"needs.{number}"
        _need(p, top.need)
        p.role = "plain"
        if top.or_else is not None:
            p.plain(" (or else ")
            p.piece = f"needs.{number}.else"
            if isinstance(top.or_else, n.Say):
                p.wording(top.or_else.text)
            else:
                _one_step(p, top.or_else)
            p.piece = f"needs.{number}"
            p.plain(")")
        p.piece = ""


def _need(p: _Prose, need: n.Need) -> None:
    match need:
        case n.Not(inner) if isinstance(inner, n.Atom):
            _phrase(p, inner, "need", need.span)
        case n.Not(inner):
            p.lead("not ", "need", need.span)
            _need(p, inner)
        case n.And(needs) | n.Or(needs):
            group = p.piece
            p.between("(")
            for number, member in enumerate(needs):
                if number:
                    p.between(" and " if isinstance(need, n.And) else " or ")
                p.piece = f"{group}.{number}"
                _need(p, member)
                p.piece = group
            p.between(")")
        case (
            n.HoleNeed()
            | n.Has()
            | n.Holds()
            | n.Is()
            | n.Compare()
            | n.Place()
            | n.Between()
            | n.Met()
            | n.Heard()
            | n.Can()
            | n.Tally()
            | n.Around()
            | n.Inside()
            | n.Chance()
        ):
            _phrase(p, need, "need")
        case _:
            assert_never(need)


def _steps(p: _Prose, steps: tuple[n.Step, ...], part: str) -> None:
    if not steps:
        p.plain("nothing")
    for number, step in enumerate(steps):
        if number:
            p.plain(" and " if number == len(steps) - 1 else ", ")
        p.piece = f"{part}.{number}"
        _one_step(p, step)
        p.piece = ""


def _one_step(p: _Prose, step: n.Step) -> None:
    before, p.role = p.role, "step"
    _phrase(p, step, "step")
    p.role = before
