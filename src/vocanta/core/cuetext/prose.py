"""A cue as prose: the sentence a page shows, cut into tokens; a token that can be changed knows its span in the text.

The text must be canonical (`writing.write_cue(reading.read_cue(text))`), so that spans hold.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import asdict, dataclass
from typing import Any

from . import nodes as n

Naming = Callable[[str, str], str]
"""Gives the shown words for a name: `naming(text, owner)`; the owner is the key a state or stage belongs to, or empty."""


@dataclass(frozen=True, slots=True)
class Token:
    """A piece of prose. `role` is plain, moment, need or step; `slot` says how it can be changed, empty for not at all:

    `word` a name, `number`, `seconds`, `wording`, `need` or `step` a whole phrase by its first word, `moment`.
    """

    text: str
    role: str
    slot: str = ""
    start: int = 0
    end: int = 0
    value: str = ""

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

    def plain(self, text: str) -> None:
        self.tokens.append(Token(text, "plain"))

    def lead(self, text: str, slot: str, span: n.Span) -> None:
        """The first word of a phrase: changing it changes the phrase."""
        self.tokens.append(Token(text, self.role, slot, *span))

    def between(self, text: str) -> None:
        self.tokens.append(Token(text, self.role))

    def word(self, word: n.Word, owner: str = "") -> None:
        shown = "…" if word.is_hole else self.naming(word.text, owner)
        self.tokens.append(Token(shown, self.role, "word", *word.span, word.text))

    def number(self, number: n.Number, unit: str = "") -> None:
        shown = "…" if number.value is None else f"{number.value:g}{unit}"
        value = n.HOLE if number.value is None else f"{number.value:g}"
        self.tokens.append(Token(shown, self.role, "seconds" if unit else "number", *number.span, value))

    def wording(self, text: n.Text) -> None:
        shown = "…" if text.value is None else f"“{text.value}”"
        self.tokens.append(Token(shown, self.role, "wording", *text.span, text.value or ""))


def prose_of_cue(cue: n.CueTree, naming: Naming) -> list[Token]:
    """The tokens of one cue, as one sentence or two."""
    p = _Prose(naming)
    _moment(p, cue.moment)
    if cue.tops:
        p.plain(", only if ")
        _tops(p, cue.tops)
    p.plain(", then " if cue.tops else " then ")
    _steps(p, cue.steps)
    p.plain(".")
    if cue.otherwise:
        p.plain(" Otherwise ")
        _steps(p, cue.otherwise)
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
        _steps(p, steps)
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
    words = {
        "used": "it is ",
        "held": "it is ",
        "near": "the player comes ",
        "away": "the player goes ",
        "entered": "",
        "left": "",
        n.HOLE: "",
    }
    p.plain("When " + words[moment.verb])
    p.role = "moment"
    p.lead("…" if moment.verb == n.HOLE else moment.verb, "moment", moment.span)
    if moment.word is not None:
        p.plain(" with " if moment.verb in ("used", "held") else " ")
        p.word(moment.word)
    p.role = "plain"


def _tops(p: _Prose, tops: tuple[n.Top, ...]) -> None:
    for number, top in enumerate(tops):
        if number:
            p.plain(" and ")
        p.role = "need"
        _need(p, top.need)
        p.role = "plain"
        if top.or_else is not None:
            p.plain(" (or else ")
            if isinstance(top.or_else, n.Say):
                p.wording(top.or_else.text)
            else:
                _one_step(p, top.or_else)
            p.plain(")")


def _need(p: _Prose, need: n.Need) -> None:
    match need:
        case n.Not(inner):
            p.lead("not ", "need", need.span)
            _need(p, inner)
        case n.And(needs) | n.Or(needs):
            p.between("(")
            for number, member in enumerate(needs):
                if number:
                    p.between(" and " if isinstance(need, n.And) else " or ")
                _need(p, member)
            p.between(")")
        case n.Has(item, count, how):
            p.lead("the player has " + ("" if how == "at least" else how + " "), "need", need.span)
            if count is not None:
                p.number(count)
                p.between(" ")
            p.word(item)
        case n.Holds(fact):
            p.word(fact)
        case n.HoleNeed():
            p.lead("…", "need", need.span)
        case _:
            _relation(p, need)


def _relation(p: _Prose, need: n.Need) -> None:
    match need:
        case n.Is(subject, value):
            p.word(subject)
            p.lead(" is ", "need", need.span)
            p.word(value, subject.text)
        case n.Compare(subject, how, number):
            p.word(subject)
            p.lead(f" {how} ", "need", need.span)
            p.number(number)
        case n.Place(quest, how, stage):
            p.word(quest)
            p.lead(f" is {how} ", "need", need.span)
            p.word(stage, quest.text)
        case n.Between(quest, first, last):
            p.word(quest)
            p.lead(" is between ", "need", need.span)
            p.word(first, quest.text)
            p.between(" and ")
            p.word(last, quest.text)
        case n.Met(objective):
            p.word(objective)
            p.lead(" is met", "need", need.span)
        case n.Heard(line, by):
            p.lead("the player has heard ", "need", need.span)
            p.word(line)
            if by is not None:
                p.between(" from ")
                p.word(by)
        case n.Can(ability):
            p.lead("the player can use ", "need", need.span)
            p.word(ability)


def _steps(p: _Prose, steps: tuple[n.Step, ...]) -> None:
    if not steps:
        p.plain("nothing")
    for number, step in enumerate(steps):
        if number:
            p.plain(" and " if number == len(steps) - 1 else ", ")
        _one_step(p, step)


def _one_step(p: _Prose, step: n.Step) -> None:
    before, p.role = p.role, "step"
    for part in _step_parts(step):
        if isinstance(part, str):
            (
                p.between
                if p.tokens[-1:] and p.tokens[-1].role == "step" and part.startswith(" ")
                else lambda t: p.lead(t, "step", step.span)
            )(part)
        elif isinstance(part, tuple):
            p.word(*part)
        elif isinstance(part, n.Text):
            p.wording(part)
        elif isinstance(part, n.Number):
            p.number(part, " s" if isinstance(step, n.Wait) else "")
    p.role = before


def _step_parts(step: n.Step) -> Iterator[str | tuple[n.Word, str] | n.Number | n.Text]:
    """A step as its words in order; a tuple is a name with the owner it belongs to."""
    match step:
        case n.Set(target, value):
            yield from ("set ", (target, ""), " to ", (value, target.text))
        case n.SetNext(target, states):
            yield from ("set ", (target, ""), " to the next state" if not states else " to the next of ")
            for number, state in enumerate(states):
                yield from (*((" , ",) if number else ()), (state, target.text))
        case n.Add(number, target):
            yield from ("add ", number, " to ", (target, ""))
        case n.Hand(verb, item, count):
            yield from (f"{verb} ", *((count, " ") if count else ()), (item, ""))
        case n.Grant(ability, uses):
            yield from ("grant ", (ability, ""), *((" for ", uses, " uses") if uses else ()))
        case n.QuestStep(verb, quest, for_good):
            yield from (f"{verb} ", (quest, ""), *((" for good",) if for_good else ()))
        case n.Move(quest, stage):
            yield from ("move ", (quest, ""), " to ", (stage, quest.text))
        case _:
            yield from _more_parts(step)


def _more_parts(step: n.Step) -> Iterator[str | tuple[n.Word, str] | n.Number | n.Text]:
    match step:
        case n.Say(text):
            yield from ("say ", text)
        case n.Talk(conversation):
            yield from ("open the talk ", (conversation, ""))
        case n.Sound(sound, at):
            yield from ("sound ", (sound, ""), *((" at ", (at, "")) if at else ()))
        case n.Wait(seconds):
            yield from ("wait ", seconds)
        case n.WaitForIt():
            yield "wait for it"
        case n.Marking(verb, target):
            yield from (f"{verb} ", (target, ""))
        case n.Remove(target):
            yield from ("remove ", (target, ""))
        case n.Meet(objective):
            yield from ("count as met ", (objective, ""))
        case _:
            yield "…"
