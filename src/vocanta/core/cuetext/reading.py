"""Cue text to tree. One Lark grammar; what cannot be read gives place, caret and what could stand there."""

from __future__ import annotations

import re
from functools import cache, lru_cache
from importlib.resources import files
from typing import Any

from lark import Lark, Token, Transformer, UnexpectedCharacters, UnexpectedEOF, UnexpectedInput, UnexpectedToken, v_args

from ..phrases import nodes as n
from ..phrases.declaring import Phrase
from ..phrases.language import by_rule
from ..phrases.vocabulary import ITS, PLAYER
from ..project.problems import Problem, ProjectError

_LONGEST_LIST = 30
CARET_BEFORE, CARET_AFTER = 60, 40
"""So many characters of a line are shown about the place where it cannot be read."""
MOST_DEEP = 40
"""So many brackets may lie within each other, and so many *not* stand before each other."""
MOST_DIGITS = 9
"""A number may have so many digits before its point, and behind it."""
_STRING = re.compile(r'"(?:\\.|[^"\\\n])*"?')
_TOO_LONG = re.compile(rf"\d{{{MOST_DIGITS + 1},}}")
_NESTING = re.compile(r"\(|\)|\b[a-z0-9_]+")


class CueTextError(ProjectError):
    """Text that cannot be read: `line` and `column` from 1, `position` from 0, `expected` as it would be typed."""

    def __init__(self, text: str, position: int, expected: tuple[str, ...], said: tuple[str, str, str] | None = None):
        """`said`: code, message and mend of what is wrong besides the grammar."""
        self.position = position
        self.line = text.count("\n", 0, position) + 1
        start = text.rfind("\n", 0, position) + 1
        self.column = position - start + 1
        self.expected = expected
        shown, left = text[start:].split("\n", 1)[0], max(0, position - start - CARET_BEFORE)
        shown = shown[left : left + CARET_BEFORE + CARET_AFTER]
        self.caret = f"{shown}\n{' ' * (position - start - left)}^"
        could = ", ".join(expected[:_LONGEST_LIST]) or "the end"
        found = text[position:].split(None, 1)[:1]
        what = f"“{found[0][:40]}” cannot stand here" if found else "something is missing at the end"
        code, message, fix = said or ("cue_unreadable", what, f"Here could stand: {could}.")
        place = f"line {self.line}, column {self.column}"
        super().__init__([Problem(code, f"{place.capitalize()}: {message}.\n{self.caret}", fix, place)])


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


def hold_limits(text: str) -> None:
    """Raises `CueTextError` where a text nests deeper, or a number is longer, than anything could need. Linear."""
    bare = _STRING.sub(lambda found: " " * len(found.group()), text)
    number = _TOO_LONG.search(bare)
    if number is not None:
        limit = f"from -{'9' * MOST_DIGITS} to {'9' * MOST_DIGITS}"
        wrong = f"a number of {len(number.group())} digits is not possible"
        raise CueTextError(text, number.start(), (), ("number_outside", wrong, f"Give a number {limit}."))
    depth = nots = 0
    for found in _NESTING.finditer(bare):
        word = found.group()
        depth += (word == "(") - (word == ")")
        nots = nots + 1 if word == "not" else nots if word == "(" else 0
        if depth > MOST_DEEP or nots > MOST_DEEP:
            wrong = f"this lies more than {MOST_DEEP} deep"
            fix = "Write it flatter, or make a part of it a named need."
            raise CueTextError(text, found.start(), (), ("cue_too_deep", wrong, fix))


def _read(text: str, start: str) -> Any:
    hold_limits(text)
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


def _leaf(token: Token) -> n.Span:
    return (token.start_pos or 0, token.end_pos or 0)


def _attribute(part: Any) -> Any:
    """A child of a rule as an attribute of its node: a number token as a number, another token as its words."""
    if not isinstance(part, Token):
        return part
    if part.type == "NUMBER":
        return n.Number(float(part), _leaf(part))
    return n.Word(_spaced(part), _leaf(part)) if part.type in ("NAME", "ITS") else _spaced(part)


class _Builder(Transformer[Token, Any]):
    """Lark tree to ours, bottom up: a phrase as it is declared, what holds phrases together by a method each."""

    def __default__(self, data: Any, children: list[Any], meta: Any) -> Any:
        phrase = by_rule()[str(data)]
        return self._node(phrase, children, _span(meta))

    @staticmethod
    def _node(phrase: Phrase, children: list[Any], span: n.Span) -> Any:
        """A node from the children of its rule, which stand in the order of the phrase's attributes."""
        values: dict[str, Any] = {**phrase.fixed}
        rest = list(children)
        for attribute in phrase.attributes:
            if attribute in phrase.several:
                values[attribute], rest = tuple(c for c in rest if c is not None), []
                continue
            child = rest.pop(0) if rest else None
            if attribute in phrase.flags:
                values[attribute] = child is not None
            elif child is not None:
                values[attribute] = _attribute(child)
            elif attribute in phrase.usual:
                values[attribute] = phrase.usual[attribute]
            elif attribute in phrase.optional:
                values[attribute] = None
        return phrase.node(**values, span=span)

    @v_args(meta=True)
    def name(self, meta: Any, parts: list[Token]) -> n.Word:
        return n.Word(_spaced(parts[0]), _leaf(parts[0]))

    word = label = named = name

    @v_args(meta=True)
    def number(self, meta: Any, parts: list[Token]) -> n.Number:
        if parts[0].type == "ITS":
            return n.Number(None, _leaf(parts[0]), _spaced(parts[0]).removeprefix(ITS))
        value = None if parts[0] == n.HOLE else float(str(parts[0]).rstrip("sm").strip())
        return n.Number(value, _leaf(parts[0]))

    its = its_of = seconds = metres = number

    @v_args(meta=True)
    def string(self, meta: Any, parts: list[Token]) -> n.Text:
        raw = str(parts[0])
        value = None if raw == n.HOLE else re.sub(r"\\(.)", lambda m: "\n" if m[1] == "n" else m[1], raw[1:-1])
        return n.Text(value, _leaf(parts[0]))

    def cue(self, parts: list[Any]) -> n.CueTree:
        moment, tops, *rest = parts
        *steps, otherwise, go_on = rest
        return n.CueTree(moment, tops or (), tuple(steps), otherwise or (), go_on is not None)

    def needs(self, parts: list[Any]) -> tuple[n.Top, ...]:
        return parts[0] or ()

    def steps(self, parts: list[Any]) -> tuple[n.Step, ...]:
        return tuple(parts)

    otherwise = tops = steps

    def tops_any(self, parts: list[Any]) -> tuple[n.Top, ...]:
        return (n.Top(parts[0], parts[1]),)

    def clause(self, parts: list[Any]) -> n.Top:
        return n.Top(parts[0], parts[1])

    @v_args(meta=True)
    def any_of(self, meta: Any, parts: list[n.Need]) -> n.Or:
        return n.Or(tuple(parts), _span(meta))

    or_ = any_of

    @v_args(meta=True)
    def and_(self, meta: Any, parts: list[n.Need]) -> n.And:
        return n.And(tuple(parts), _span(meta))

    @v_args(meta=True)
    def not_(self, meta: Any, parts: list[Any]) -> n.Not:
        return n.Not(parts[0], _span(meta))

    @v_args(meta=True)
    def move(self, meta: Any, parts: list[Any]) -> n.Move | n.MovePlayer:
        if parts[0].text == PLAYER:
            return n.MovePlayer(parts[1], _span(meta))
        return n.Move(parts[0], parts[1], _span(meta))

    @v_args(meta=True)
    def place_at(self, meta: Any, parts: list[Any]) -> n.Place:
        return n.Place(parts[0], "at", parts[1], _span(meta))

    def offset(self, parts: list[Any]) -> n.Offset:
        return parts[0], parts[1]

    def most(self, parts: list[Any]) -> n.Number:
        number: n.Number = parts[0]
        return number

    def stood(self, parts: list[Any]) -> None:
        return None

    @v_args(meta=True)
    def moment_hole(self, meta: Any, parts: list[Any]) -> n.Moment:
        return n.Moment("?", None, None, _span(meta))

    @v_args(meta=True)
    def hole_need(self, meta: Any, parts: list[Any]) -> n.HoleNeed:
        return n.HoleNeed(_span(meta))

    @v_args(meta=True)
    def hole_step(self, meta: Any, parts: list[Any]) -> n.HoleStep:
        return n.HoleStep(_span(meta))
