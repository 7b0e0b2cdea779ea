"""A cue as prose: the sentence a page shows, cut into tokens; a token that can be changed knows its span in the text.

The text must be canonical (`writing.write_cue(reading.read_cue(text))`), so that spans hold.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import asdict, dataclass
from typing import Any

from . import nodes as n
from .roles import QUEST_MOMENTS

Naming = Callable[[str, str], str]
"""Gives the shown words for a name: `naming(text, owner)`; the owner is the key a state or stage belongs to, or empty."""


@dataclass(frozen=True, slots=True)
class Token:
    """A piece of prose. `role` is plain, moment, need or step; `slot` says how it can be changed, empty for not at all:

    `word` a name, `number`, `seconds`, `metres`, `wording`, `need` or `step` a whole phrase by its first word, `moment`.
    `piece` is the place of the need or step that it belongs to, as `rearranging` counts them; empty between them.
    """

    text: str
    role: str
    slot: str = ""
    start: int = 0
    end: int = 0
    value: str = ""
    piece: str = ""

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

    def word(self, word: n.Word, owner: str = "") -> None:
        shown = "…" if word.is_hole else self.naming(word.text, owner)
        self._add(shown, "word", word.span, word.text)

    def number(self, number: n.Number, unit: str = "") -> None:
        shown = "…" if number.value is None else f"{number.value:g}{unit}"
        value = n.HOLE if number.value is None else f"{number.value:g}"
        slot = {" s": "seconds", " m": "metres"}.get(unit, "number")
        self._add(shown, slot, number.span, value)

    def wording(self, text: n.Text) -> None:
        shown = "…" if text.value is None else f"“{text.value}”"
        self._add(shown, "wording", text.span, text.value or "")


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


_MOMENT_WORDS = {
    "used": "it is ",
    "held": "it is ",
    "near": "whoever counts comes ",
    "away": "whoever counts goes ",
    "touched": "the player has ",
    "looked at": "it is ",
    "struck": "it is ",
    "downed": "it is ",
    "changed": "it has ",
    "entered": "the player has ",
    "left": "the player has ",
    "chosen": "the player has ",
    "gained": "the player has ",
    "lost": "the player has ",
    "heard": "the player has ",
    "started": "the level has ",
    "later": "",
    "stage": "",
    "met": "",
}
_MOMENT_LEADS = {
    "touched": "touched it",
    "stage": "the stage ",
    "met": "the objective is met: ",
    "later": "later comes",
}
_WITH_A_NAME = {"downed": "", "changed": ""}


def _moment(p: _Prose, moment: n.Moment) -> None:
    """*When it is used*; with a name: *when oil is gained*, *when Dry Feet is done*."""
    named = moment.word is not None
    p.plain("When " + (_WITH_A_NAME if named else _MOMENT_WORDS).get(moment.verb, _MOMENT_WORDS.get(moment.verb, "")))
    p.role = "moment"
    if moment.word is not None and moment.verb in (*QUEST_MOMENTS, *_WITH_A_NAME):
        p.word(moment.word)
        p.lead(f" is {moment.verb}", "moment", moment.span)
    else:
        p.lead("…" if moment.verb == n.HOLE else _MOMENT_LEADS.get(moment.verb, moment.verb), "moment", moment.span)
        if moment.word is not None:
            if moment.verb not in ("stage", "met"):
                p.plain({"used": " with ", "held": " with ", "struck": " by "}.get(moment.verb, " "))
            p.word(moment.word, moment.of.text if moment.of else "")
        if moment.of is not None:
            p.plain(" of ")
            p.word(moment.of)
            p.plain(" is reached")
    p.role = "plain"


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
        case _:
            _sensed(p, need)


_TALLY_LEADS = {"used": " was used ", "heard": " was heard ", "visited": " was visited ", "gained": " was gained "}


def _sensed(p: _Prose, need: n.Need) -> None:
    match need:
        case n.Tally(subject, verb, how, count):
            p.word(subject)
            p.lead(_TALLY_LEADS[verb] + ("" if how == "at least" else f"{how} "), "need", need.span)
            p.number(count)
            p.between(" times")
        case n.Around(who, how, thing):
            p.word(who)
            p.lead(f" is {how} ", "need", need.span)
            p.word(thing)
        case n.Inside(who, place):
            p.word(who)
            p.lead(" is in ", "need", need.span)
            p.word(place)
        case n.Chance(one_in):
            p.lead("chance has it, one in ", "need", need.span)
            p.number(one_in)


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
    for part in _step_parts(step):
        if isinstance(part, str):
            (
                p.between
                if p.tokens[-1:] and p.tokens[-1].role == "step" and part.startswith((" ", ","))
                else lambda t: p.lead(t, "step", step.span)
            )(part)
        elif isinstance(part, tuple):
            p.word(*part)
        elif isinstance(part, n.Text):
            p.wording(part)
        elif isinstance(part, n.Number):
            p.number(part)
        elif isinstance(part, _Measure):
            p.number(part.number, part.unit)
    p.role = before


@dataclass(frozen=True, slots=True)
class _Measure:
    """A number with its unit."""

    number: n.Number
    unit: str


Part = str | tuple[n.Word, str] | n.Number | n.Text | _Measure


def _step_parts(step: n.Step) -> Iterator[Part]:
    """A step as its words in order; a tuple is a name with the owner it belongs to."""
    match step:
        case n.Set(target, value):
            yield from ("set ", (target, ""), " to ", (value, target.text))
        case n.SetNext(target, states):
            yield from ("set ", (target, ""), " to the next state" if not states else " to the next of ")
            for number, state in enumerate(states):
                yield from (*((", ",) if number else ()), (state, target.text))
        case n.Add(amount, target):
            yield from ("add ", amount, " to ", (target, ""))
        case n.Hand(verb, item, count):
            yield from (f"{verb} ", *_counted(count), (item, ""))
        case n.Grant(ability, uses):
            yield from ("grant ", (ability, ""), *((" for ", uses, " uses") if uses else ()))
        case n.QuestStep(verb, quest, for_good):
            yield from (f"{verb} ", (quest, ""), *((" for good",) if for_good else ()))
        case n.Move(quest, stage):
            yield from ("move ", (quest, ""), " to ", (stage, quest.text))
        case _:
            yield from _more_parts(step)


def _counted(count: n.Number | None) -> tuple[Part, ...]:
    return (count, " ") if count else ()


def _more_parts(step: n.Step) -> Iterator[Part]:
    match step:
        case n.Say(text):
            yield from ("say ", text)
        case n.Talk(conversation):
            yield from ("open the talk ", (conversation, ""))
        case n.Wait(seconds):
            yield from ("wait ", _Measure(seconds, " s"))
        case n.WaitForIt():
            yield "wait for it"
        case n.Marking(verb, target):
            yield from (f"{verb} ", (target, ""))
        case n.Remove(target):
            yield from ("remove ", (target, ""))
        case n.Meet(objective):
            yield from ("count as met ", (objective, ""))
        case n.CountUp(objective):
            yield from ("count one more for ", (objective, ""))
        case n.HoleStep():
            yield "…"
        case _:
            yield from _placing_parts(step)


def _placing_parts(step: n.Step) -> Iterator[Part]:
    match step:
        case n.Show(verb, what, at, offset, wait):
            shown = "play the sound " if verb == "sound" else "show the effect "
            yield from (shown, (what, ""), *((" at ", (at, "")) if at else ()), *_beside(offset))
            yield from (" and wait for its end",) if wait else ()
        case n.PutAt(what, at, offset, most):
            yield from ("put ", (what, ""), *((" at ", (at, "")) if at else (" where it stood",)))
            yield from (*_beside(offset), *_at_most(most))
        case n.Scatter(count, what, around, within, most):
            yield from ("scatter ", count, " ", (what, ""), *((" around ", (around, "")) if around else (_STOOD,)))
            yield from (" within ", _Measure(within, " m"), *_at_most(most))
        case n.Drop(what, feet, count, most):
            yield from ("drop ", *_counted(count), (what, ""), " at the feet of ", (feet, ""), *_at_most(most))
        case n.Later(_, carrier, seconds):
            when = ("by ", (carrier, "")) if carrier else ("after ", _Measure(seconds, " s")) if seconds else None
            yield from ("let it come later ", *(when or ("at the next area",)))
        case _:
            yield from _ruling_parts(step)


_STOOD = " around where it stood"


def _beside(offset: n.Offset | None) -> tuple[Part, ...]:
    if offset is None:
        return ()
    return (" beside it by ", _Measure(offset[0], " m"), " east and ", _Measure(offset[1], " m"), " north")


def _at_most(most: n.Number | None) -> tuple[Part, ...]:
    return (", at most ", most, " at a time") if most else ()


def _ruling_parts(step: n.Step) -> Iterator[Part]:
    match step:
        case n.Change(item, into, count, gives):
            yield from ("change ", *_counted(count), (item, ""), " into ", *_counted(gives), (into, ""))
        case n.Gear(verb, item):
            yield from (f"{verb} ", (item, ""))
        case n.Limit(verb, ability):
            yield from (f"{verb} ", (ability, ""))
        case n.Fill(role, thing):
            yield from ("fill the role ", (role, ""), " with ", (thing, ""))
        case n.MovePlayer(place):
            yield from ("move the player to ", (place, ""))
        case n.ExitStep(verb, exit):
            yield from (f"{verb} the exit ", (exit, ""))
        case n.Down(who):
            yield from ("down ", (who, ""))
        case n.EndLevel(outcome, after):
            yield from (f"end the level {outcome}", *((" after ", _Measure(after, " s")) if after else ()))
        case _:
            raise AssertionError(f"no words for {step}")
