"""Cue text to tree. One Lark grammar; what cannot be read gives place, caret and what could stand there."""

from __future__ import annotations

import re
from functools import cache, lru_cache
from importlib.resources import files
from typing import Any

from lark import Lark, Token, Transformer, UnexpectedCharacters, UnexpectedEOF, UnexpectedInput, UnexpectedToken, v_args

from ..project.problems import Problem, ProjectError
from . import nodes as n

_LONGEST_LIST = 30


class CueTextError(ProjectError):
    """Text that cannot be read: `line` and `column` from 1, `position` from 0, `expected` as it would be typed."""

    def __init__(self, text: str, position: int, expected: tuple[str, ...]):
        self.position = position
        self.line = text.count("\n", 0, position) + 1
        start = text.rfind("\n", 0, position) + 1
        self.column = position - start + 1
        self.expected = expected
        shown = text[start:].split("\n", 1)[0]
        self.caret = f"{shown}\n{' ' * (position - start)}^"
        could = ", ".join(expected[:_LONGEST_LIST]) or "the end"
        found = text[position:].split(None, 1)[:1]
        what = f"“{found[0]}” cannot stand here" if found else "something is missing at the end"
        super().__init__(
            [
                Problem(
                    "cue_unreadable",
                    f"Line {self.line}, column {self.column}: {what}.\n{self.caret}",
                    f"Here could stand: {could}.",
                    f"line {self.line}, column {self.column}",
                )
            ]
        )


@cache
def parser() -> Lark:
    """The one parser, built on first use (about 30 ms)."""
    grammar = files(__package__).joinpath("grammar.lark").read_text(encoding="utf-8")
    return Lark(
        grammar,
        parser="lalr",
        lexer="contextual",
        start=["cue", "needs", "steps"],
        propagate_positions=True,
        maybe_placeholders=True,
    )


@lru_cache(maxsize=20_000)
def read_cue(text: str) -> n.CueTree:
    """The tree of one cue. Raises `CueTextError`."""
    tree = _read(text, "cue")
    assert isinstance(tree, n.CueTree)
    return tree


@lru_cache(maxsize=20_000)
def read_needs(text: str) -> tuple[n.Top, ...]:
    """The needs in a text of needs alone; none when it is empty. Raises `CueTextError`."""
    tops: tuple[n.Top, ...] = _read(text, "needs") if text.strip() else ()
    return tops


@lru_cache(maxsize=20_000)
def read_steps(text: str) -> tuple[n.Step, ...]:
    """The steps in a text of steps alone. Raises `CueTextError`."""
    steps: tuple[n.Step, ...] = _read(text, "steps")
    return steps


def _read(text: str, start: str) -> Any:
    try:
        return _Builder().transform(parser().parse(text, start=start))
    except UnexpectedInput as error:
        raise CueTextError(text, _position(text, error), expected_of(error)) from error


def _position(text: str, error: UnexpectedInput) -> int:
    if isinstance(error, UnexpectedEOF) or (isinstance(error, UnexpectedToken) and error.token.type == "$END"):
        return len(text)
    return error.pos_in_stream if error.pos_in_stream is not None else len(text)


def expected_of(error: UnexpectedInput) -> tuple[str, ...]:
    """What could stand there, as it would be typed, sorted."""
    if isinstance(error, UnexpectedCharacters):
        names = set(error.allowed)
    elif isinstance(error, UnexpectedToken):
        names = set(error.accepts or error.expected)
    else:
        names = set(getattr(error, "expected", ()))
    return shown_terminals(names)


def shown_terminals(names: set[str]) -> tuple[str, ...]:
    """Terminal names as what a designer would type."""
    shown: set[str] = set()
    for name in names:
        shown.update(_shown(name))
    return tuple(sorted(shown))


_SPECIAL = {
    "NAME": ("a name",),
    "NUMBER": ("a number",),
    "SECONDS": ("seconds, such as 2 s",),
    "HOLE": ("?",),
    "STRING": ("a wording in quotes",),
    "$END": ("the end",),
    "LPAR": ("(",),
    "RPAR": (")",),
    "COMMA": (",",),
    "METRES": ("metres, such as 1.5 m",),
    "ITS": ("its and the name of a value",),
}


@cache
def _shown(name: str) -> tuple[str, ...]:
    if name in _SPECIAL:
        return _SPECIAL[name]
    pattern = parser().get_terminal(name).pattern.value
    return tuple(re.sub(r"\\s\+", " ", p).replace(r"\b", "") for p in pattern.split("|"))


def _span(meta: Any) -> n.Span:
    return (meta.start_pos, meta.end_pos) if not meta.empty else n.NOWHERE


def _spaced(token: Any) -> str:
    """A token of several words with single spaces."""
    return " ".join(str(token).split())


def _number(token: Token | None) -> n.Number | None:
    if token is None:
        return None
    return n.Number(float(token), (token.start_pos or 0, token.end_pos or 0))


@v_args(meta=True)
class _Builder(Transformer[Token, Any]):
    """Lark tree to ours, bottom up. One method for each alias of the grammar."""

    def _leaf(self, token: Token) -> n.Span:
        return (token.start_pos or 0, token.end_pos or 0)

    def name(self, meta: Any, parts: list[Token]) -> n.Word:
        return n.Word(" ".join(str(parts[0]).split()), self._leaf(parts[0]))

    word = name

    def number(self, meta: Any, parts: list[Token]) -> n.Number:
        value = None if parts[0] == n.HOLE else float(parts[0])
        return n.Number(value, self._leaf(parts[0]))

    def seconds(self, meta: Any, parts: list[Token]) -> n.Number:
        value = None if parts[0] == n.HOLE else float(str(parts[0]).rstrip("sm").strip())
        return n.Number(value, self._leaf(parts[0]))

    metres = seconds

    def string(self, meta: Any, parts: list[Token]) -> n.Text:
        raw = str(parts[0])
        value = None if raw == n.HOLE else re.sub(r"\\(.)", lambda m: "\n" if m[1] == "n" else m[1], raw[1:-1])
        return n.Text(value, self._leaf(parts[0]))

    def cue(self, meta: Any, parts: list[Any]) -> n.CueTree:
        moment, tops, *rest = parts
        *steps, otherwise, go_on = rest
        return n.CueTree(moment, tops or (), tuple(steps), otherwise or (), go_on is not None)

    def needs(self, meta: Any, parts: list[Any]) -> tuple[n.Top, ...]:
        return parts[0] or ()

    def steps(self, meta: Any, parts: list[Any]) -> tuple[n.Step, ...]:
        return tuple(parts)

    otherwise = steps

    def moment_plain(self, meta: Any, parts: list[Token]) -> n.Moment:
        return n.Moment(_spaced(parts[0]), None, None, self._leaf(parts[0]))

    def moment_stage(self, meta: Any, parts: list[Any]) -> n.Moment:
        return n.Moment("stage", parts[1], parts[2], self._leaf(parts[0]))

    def moment_control(self, meta: Any, parts: list[Any]) -> n.Moment:
        return n.Moment(str(parts[0]), parts[1], None, self._leaf(parts[0]))

    moment_place = moment_control

    def tops(self, meta: Any, parts: list[n.Top]) -> tuple[n.Top, ...]:
        return tuple(parts)

    def tops_any(self, meta: Any, parts: list[Any]) -> tuple[n.Top, ...]:
        return (n.Top(parts[0], parts[1]),)

    def clause(self, meta: Any, parts: list[Any]) -> n.Top:
        return n.Top(parts[0], parts[1])

    def any_of(self, meta: Any, parts: list[n.Need]) -> n.Or:
        return n.Or(tuple(parts), _span(meta))

    or_ = any_of

    def and_(self, meta: Any, parts: list[n.Need]) -> n.And:
        return n.And(tuple(parts), _span(meta))

    def not_(self, meta: Any, parts: list[Any]) -> n.Not:
        return n.Not(parts[0], _span(meta))

    def has(self, meta: Any, parts: list[Any]) -> n.Has:
        how, count, item = parts
        return n.Has(item, _number(count), " ".join(str(how).split()) if how else "at least", _span(meta))

    def holds(self, meta: Any, parts: list[Token]) -> n.Holds:
        return n.Holds(n.Word(str(parts[0]), self._leaf(parts[0])), self._leaf(parts[0]))

    def is_(self, meta: Any, parts: list[Any]) -> n.Is:
        return n.Is(parts[0], parts[1], _span(meta))

    def compare(self, meta: Any, parts: list[Any]) -> n.Compare:
        return n.Compare(parts[0], " ".join(str(parts[1]).split()), parts[2], _span(meta))

    def place(self, meta: Any, parts: list[Any]) -> n.Place:
        return n.Place(parts[0], str(parts[1]), parts[2], _span(meta))

    def place_at(self, meta: Any, parts: list[Any]) -> n.Place:
        return n.Place(parts[0], "at", parts[1], _span(meta))

    def between(self, meta: Any, parts: list[Any]) -> n.Between:
        return n.Between(parts[0], parts[1], parts[2], _span(meta))

    def met(self, meta: Any, parts: list[Any]) -> n.Met:
        return n.Met(parts[0], _span(meta))

    def heard(self, meta: Any, parts: list[Any]) -> n.Heard:
        return n.Heard(parts[1], parts[2], _span(meta))

    def tally(self, meta: Any, parts: list[Any]) -> Any:
        if len(parts) == 1:
            return str(parts[0])
        subject, verb, how, count = parts
        return n.Tally(subject, verb, _spaced(how) if how else "at least", count, _span(meta))

    def around(self, meta: Any, parts: list[Any]) -> n.Around:
        return n.Around(parts[0], _spaced(parts[1]), parts[2], _span(meta))

    def inside(self, meta: Any, parts: list[Any]) -> n.Inside:
        return n.Inside(parts[0], parts[1], _span(meta))

    def chance(self, meta: Any, parts: list[Any]) -> n.Chance:
        return n.Chance(parts[0], _span(meta))

    def can(self, meta: Any, parts: list[Any]) -> n.Can:
        return n.Can(parts[0], _span(meta))

    def hole_need(self, meta: Any, parts: list[Any]) -> n.HoleNeed:
        return n.HoleNeed(_span(meta))

    def set_(self, meta: Any, parts: list[Any]) -> n.Set:
        return n.Set(parts[0], parts[1], _span(meta))

    def set_next(self, meta: Any, parts: list[Any]) -> n.SetNext:
        return n.SetNext(parts[0], tuple(p for p in parts[1:] if p is not None), _span(meta))

    def add(self, meta: Any, parts: list[Any]) -> n.Add:
        return n.Add(parts[0], parts[1], _span(meta))

    def give(self, meta: Any, parts: list[Any]) -> n.Hand:
        return n.Hand("give", parts[1], _number(parts[0]), _span(meta))

    def take(self, meta: Any, parts: list[Any]) -> n.Hand:
        return n.Hand("take", parts[1], _number(parts[0]), _span(meta))

    def grant(self, meta: Any, parts: list[Any]) -> n.Grant:
        return n.Grant(parts[0], parts[1], _span(meta))

    def quest(self, meta: Any, parts: list[Any]) -> n.QuestStep:
        return n.QuestStep(" ".join(str(parts[0]).split()), parts[1], False, _span(meta))

    def quest_end(self, meta: Any, parts: list[Any]) -> n.QuestStep:
        return n.QuestStep(" ".join(str(parts[0]).split()), parts[1], parts[2] is not None, _span(meta))

    def move(self, meta: Any, parts: list[Any]) -> n.Move | n.MovePlayer:
        if parts[0].text == "player":
            return n.MovePlayer(parts[1], _span(meta))
        return n.Move(parts[0], parts[1], _span(meta))

    def say(self, meta: Any, parts: list[Any]) -> n.Say:
        return n.Say(parts[0], _span(meta))

    def talk(self, meta: Any, parts: list[Any]) -> n.Talk:
        return n.Talk(parts[0], _span(meta))

    def offset(self, meta: Any, parts: list[Any]) -> n.Offset:
        return parts[0], parts[1]

    def most(self, meta: Any, parts: list[Any]) -> n.Number:
        number: n.Number = parts[0]
        return number

    def stood(self, meta: Any, parts: list[Any]) -> None:
        return None

    def show(self, meta: Any, parts: list[Any]) -> n.Show:
        verb, what, at, offset, wait = parts
        return n.Show(str(verb), what, at, offset, wait is not None, _span(meta))

    def change(self, meta: Any, parts: list[Any]) -> n.Change:
        count, item, gives, into = parts
        return n.Change(item, into, _number(count), _number(gives), _span(meta))

    def gear(self, meta: Any, parts: list[Any]) -> n.Gear:
        return n.Gear(_spaced(parts[0]), parts[1], _span(meta))

    def limit(self, meta: Any, parts: list[Any]) -> n.Limit:
        return n.Limit(str(parts[0]), parts[1], _span(meta))

    def put(self, meta: Any, parts: list[Any]) -> n.PutAt:
        what, at, offset, most = parts
        return n.PutAt(what, at, offset, most, _span(meta))

    def scatter(self, meta: Any, parts: list[Any]) -> n.Scatter:
        count, what, around, within, most = parts
        return n.Scatter(count, what, around, within, most, _span(meta))

    def drop(self, meta: Any, parts: list[Any]) -> n.Drop:
        count, what, feet, most = parts
        return n.Drop(what, feet, _number(count), most, _span(meta))

    def fill(self, meta: Any, parts: list[Any]) -> n.Fill:
        return n.Fill(parts[0], parts[1], _span(meta))

    def later_by(self, meta: Any, parts: list[Any]) -> n.Later:
        return n.Later("by", parts[1], None, _span(meta))

    def later_after(self, meta: Any, parts: list[Any]) -> n.Later:
        return n.Later("after", None, parts[1], _span(meta))

    def later_area(self, meta: Any, parts: list[Any]) -> n.Later:
        return n.Later("area", None, None, _span(meta))

    def exit_step(self, meta: Any, parts: list[Any]) -> n.ExitStep:
        return n.ExitStep(_spaced(parts[0]).split()[0], parts[1], _span(meta))

    def down(self, meta: Any, parts: list[Any]) -> n.Down:
        return n.Down(parts[0], _span(meta))

    def end_level(self, meta: Any, parts: list[Any]) -> n.EndLevel:
        return n.EndLevel(str(parts[0]), parts[1], _span(meta))

    def count(self, meta: Any, parts: list[Any]) -> n.CountUp:
        return n.CountUp(parts[0], _span(meta))

    def wait(self, meta: Any, parts: list[Any]) -> n.Wait:
        return n.Wait(parts[0], _span(meta))

    def wait_for_it(self, meta: Any, parts: list[Any]) -> n.WaitForIt:
        return n.WaitForIt(_span(meta))

    def marking(self, meta: Any, parts: list[Any]) -> n.Marking:
        return n.Marking(str(parts[0]), parts[1], _span(meta))

    def remove(self, meta: Any, parts: list[Any]) -> n.Remove:
        return n.Remove(parts[0], _span(meta))

    def meet(self, meta: Any, parts: list[Any]) -> n.Meet:
        return n.Meet(parts[0], _span(meta))

    def hole_step(self, meta: Any, parts: list[Any]) -> n.HoleStep:
        return n.HoleStep(_span(meta))
