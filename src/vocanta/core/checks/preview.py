"""What a finding stands in, and what a mend will write, in words: as it is and as it will be."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from ..cuetext.own_values import is_its
from ..cuetext.prose import Token, prose_of_cue, prose_of_needs, prose_of_steps
from ..cuetext.reading import CueTextError
from ..cuetext.references import reader_of
from ..phrases.nodes import CueTree, Span, Top
from ..progress.balance import Share
from .addresses import address_and_field, type_of
from .finding import Finding
from .mending import OF_DESIGN, Add, Before, Give, MakeSound, Remove, Reword, Write, mended
from .state import State
from .survey import Survey

UNITS = {"m": " m", "s": " s", "deg": "°"}
"""How the unit that a field's name ends in is written behind its number."""


@dataclass(frozen=True, slots=True)
class Piece:
    """Some words of where a finding stands; marked are those that it is about."""

    text: str
    marked: bool = False


@dataclass(frozen=True, slots=True)
class Line:
    """One thing that a mend writes: where, what stands there now, and what will; nothing for what comes or goes."""

    where: str
    before: str
    after: str


def standing(survey: Survey, finding: Finding) -> list[list[Piece]]:
    """Where a finding stands, as it stands there, a line of pieces for each thing; empty where it stands in no words."""
    lines = [_standing(survey, record, None) for record in finding.also if type_of(record) == "line"]
    record, field = finding.at.record, finding.at.field
    if type_of(record) == "line" and field in ("wordings", "voice"):
        return [line for line in (*lines, _line(survey, record, marked=True)) if line]
    if type_of(record) == "cue" or field in ("needs", "steps", "rewards", "entering", "text"):
        here = _standing(survey, record, finding.at.span, field)
        return [*([_line(survey, record, marked=False)] if type_of(record) == "line" else []), here] if here else lines
    if finding.check == "too_few":
        return _supply(survey, record.rpartition("/")[2])
    if field == "draft":
        return [[Piece(str(survey.record(record).draft), True)]]
    return lines


def _supply(survey: Survey, key: str) -> list[list[Piece]]:
    """What gives of a thing, and what asks for it, each with how much and how often."""
    balance = next((b for b in survey.balances if b.key == (key if key != "project" else "money")), None)
    if balance is None:
        return []
    lines = [[Piece(_share(survey, share, "gives"))] for share in balance.gives]
    lines += [[Piece(_share(survey, share, "takes"))] for share in balance.takes]
    return lines + [
        [Piece(f"{survey.name(quest)} asks for {number} in all")] for quest, number in balance.asked.items()
    ]


def _share(survey: Survey, share: Share, verb: str) -> str:
    often = {None: "again and again", 1: "once"}.get(share.times, f"{share.times} times")
    record, _ = address_and_field(share.origin)
    return f"{_where(survey, record)} {verb} {share.amount}, {often}"


def _standing(survey: Survey, record: str, span: Span | None, field: str = "text") -> list[Piece]:
    if type_of(record) == "line":
        return _line(survey, record, marked=False)
    text = survey.text_of.get((record, field))
    if text is None:
        return []
    tokens = _prose(survey, type_of(record), field, text.words, text.this)
    return _joined([Piece(t.text, span is not None and _meets(t, span)) for t in tokens])


def _meets(token: Token, span: Span) -> bool:
    """Whether some words stand within a span of the text."""
    return bool(token.slot) and span[0] <= token.start and token.end <= span[1]


def _joined(pieces: list[Piece]) -> list[Piece]:
    found: list[Piece] = []
    for piece in pieces:
        if found and found[-1].marked == piece.marked:
            found[-1] = Piece(found[-1].text + piece.text, piece.marked)
        else:
            found.append(piece)
    return found


def _line(survey: Survey, record: str, *, marked: bool) -> list[Piece]:
    """A line with what it asks for before it."""
    line = survey.record(record)
    needs = _words(survey, "line", "needs", line.needs, "") if line.needs.strip() else "always" if line.opener else ""
    return [Piece(f"{needs}: " if needs else ""), Piece(f"“{line.wordings[0]}”", marked)]


def lines_of(survey: Survey, writes: Sequence[Write]) -> list[Line]:
    """What some writes do, one line for each text, value and record."""
    after = State(mended(survey.project, writes))
    found: list[Line] = []
    for record, field in dict.fromkeys((w.record, w.field) for w in writes if isinstance(w, Reword)):
        now, then = (str(getattr(s.record(record), field)) for s in (survey, after))
        this = survey.text_of[record, field].this if (record, field) in survey.text_of else ""
        words = [_words(state, type_of(record), field, text, this) for state, text in ((survey, now), (after, then))]
        found.append(Line(_where(survey, record), words[0], words[1]))
    found += [_plain(survey, after, w) for w in writes if not isinstance(w, Reword)]
    return [line for line in found if line.before != line.after]


def _plain(survey: Survey, after: State, write: Write) -> Line:
    if isinstance(write, Give):
        if type_of(write.record) == "cue" and write.path == "text":
            this = next((t.this for t in survey.texts_of(write.record)), "")
            now = str(survey.record(write.record).text)
            words = [
                _words(survey, "cue", "text", now, this),
                _words(after, "cue", "text", str(write.value), this),
            ]
            return Line(_where(survey, write.record), *words)
        field, _, unit = write.path.removeprefix(OF_DESIGN).rpartition(".")[2].rpartition("_")
        what, unit = (field, UNITS[unit]) if unit in UNITS else (f"{field}_{unit}".strip("_"), "")
        told = [_said(v, unit) for v in (survey.value_at(write.record, write.path), write.value)]
        return Line(f"{_where(survey, write.record)}, {what.replace('_', ' ')}", *told)
    if isinstance(write, Remove):
        return Line(_where(survey, write.record), "is there", "is deleted")
    if isinstance(write, Before):
        return Line(_where(survey, write.record), "", f"stands above {_where(survey, write.other)}")
    if isinstance(write, Add):
        values = dict(write.values)
        text = (
            _words(after, write.type, "text", str(values["text"]), "")
            if "text" in values
            else str(values.get("name", ""))
        )
        return Line(f"a new {write.type}", "", text)
    assert isinstance(write, MakeSound)
    made = write.made
    name = after.name(write.record.rpartition("/")[2])
    return Line(name, "no file", f"a placeholder: {made.sort}, {made.seconds:g} s")


def _where(survey: Survey, record: str) -> str:
    """A record in a list of what is written."""
    if type_of(record) == "line":
        return survey.words.line_start(record.rpartition("/")[2])
    if type_of(record) == "cue":
        return f"a cue of {survey.name(record.split('/')[1])}"
    if record == "project":
        return survey.project.name
    return (
        survey.name(record.rpartition("/")[2])
        if type_of(record) != "stage"
        else survey.name(".".join(record.split("/")[1::2]))
    )


def _said(value: Any, unit: str = "") -> str:
    """A value in a word or two, with its unit."""
    if isinstance(value, bool) or value is None or value == "":
        return {True: "yes", False: "no"}.get(value, "nothing") if isinstance(value, bool) else "nothing"
    if isinstance(value, list | tuple | dict):
        return ", ".join(_entry(v) for v in (value.values() if isinstance(value, dict) else value)) or "none"
    return f"{value:g}{unit}" if isinstance(value, float) else str(value).replace("_", " ") + unit


def _entry(value: Any) -> str:
    named = value.get("wording") or value.get("name") if isinstance(value, dict) else value
    return str(named).replace("_", " ")


def _words(state: State, record_type: str, field: str, text: str, this: str) -> str:
    """A text as prose; as it is written where it cannot be read, and nothing for none."""
    if not text.strip() or reader_of(record_type, field) is None:
        return text.strip()
    return "".join(token.text for token in _prose(state, record_type, field, text, this)).strip()


def _prose(state: State, record_type: str, field: str, text: str, this: str) -> list[Token]:
    reader = reader_of(record_type, field)
    assert reader is not None
    try:
        tree = reader(text)
    except CueTextError:
        return [Token(text, "plain")]

    def naming(word: str, owner: str) -> str:
        if word in ("this", "player", "yes", "no") or is_its(word):
            return "it" if word == "this" else word
        of = this if owner == "this" else owner
        return state.words.owned(word, of) if of else state.words.name(word)

    if isinstance(tree, CueTree):
        return prose_of_cue(tree, naming)
    if all(isinstance(piece, Top) for piece in tree):
        return prose_of_needs(tree, naming)
    return prose_of_steps(tree, naming)
