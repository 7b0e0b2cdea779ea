"""A slot that nobody filled in: in a text, in a field, in a value of an object's own."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from ...cuetext.roles import NameUse
from ...phrases import nodes as n
from ...project.records import Exit, Kind, Object, Objective
from ..check import Check
from ..finding import Found, Mend, Spot, called
from ..mending import Give, Reword
from ..survey import Survey
from ..texts import Text

_SAID: dict[type[Any], str] = {n.HoleNeed: "a need", n.HoleStep: "a step", n.Number: "a number", n.Text: "the words"}


def find(survey: Survey, address: str) -> Iterator[Found]:
    """Every hole of a record."""
    for text in survey.texts_of(address):
        yield from _in_text(survey, text)
    yield from _in_fields(survey, address, survey.record(address))


def _in_text(survey: Survey, text: Text) -> Iterator[Found]:
    if text.read is None:
        return
    whose, uses = survey.whose(text.record), {u.word.span: u for u in text.read.uses}
    silent = [s.what.span for s in text.steps if isinstance(s, n.Show)]
    for node in text.read.nodes:
        span = getattr(node, "span", n.NOWHERE)
        if not n.is_hole(node) or span in silent or _holds_another(node):
            continue
        use = uses.get(span)
        wanted = survey.index.candidates(use, text.this) if use is not None else ()
        mends = [_only(text, span, wanted[0])] if len(wanted) == 1 else []
        what = _missing(node, use)
        says = f"has a slot that is not filled in: {what} is missing, so this never runs"
        yield Found(Spot(text.record, text.field, span), whose, says, tuple(mends), what, owner=text.owner)


def _holds_another(node: Any) -> bool:
    """A moment that waits for nothing yet is told by itself, its word is not."""
    return isinstance(node, n.Moment) and node.verb != n.HOLE


def _missing(node: Any, use: NameUse | None) -> str:
    if isinstance(node, n.Moment):
        return "what it waits for"
    if use is not None:
        return "the name of " + " or ".join(_sort(t) for t in use.types)
    return _SAID.get(type(node), "something")


def _sort(kind: str) -> str:
    words = {"namedneed": "a named need", "value": "a state", "purse": "money", "grade": "a level of experience"}
    article = "an" if kind[0] in "aeio" else "a"
    return words.get(kind, f"{article} {kind}")


def _only(text: Text, span: n.Span, name: str) -> Mend:
    return Mend(
        "fill it in", f"Write {called(name)}, the only one there is.", (Reword(text.record, text.field, span, name),)
    )


def _in_fields(survey: Survey, address: str, record: Any) -> Iterator[Found]:
    whose = survey.whose(address)
    if isinstance(record, Exit) and record.to_level in ("", n.HOLE):
        others = [level.key for level in survey.project.levels]
        mends = (Mend("fill it in", f"Lead to {called(others[0])}.", (Give(address, "to_level", others[0]),)),)
        yield Found(
            Spot(address, "to_level"), whose, "leads nowhere: its level is not chosen", mends[: len(others) == 1]
        )
    if isinstance(record, Object) and record.kind in ("", n.HOLE):
        yield Found(Spot(address, "kind"), whose, "has no kind, so that nothing can be done with it")
    if isinstance(record, Objective) and n.HOLE in record.targets:
        yield Found(
            Spot(address, "targets"), whose, f"has an objective, {called(record.key)}, with a target that is not chosen"
        )
    if isinstance(record, Object):
        design = survey.designs[record.key]
        used = {u.word.text for t in _cues_of(survey, record) if t.read is not None for u in t.read.uses}
        for name, value in design.values.items():
            if str(value).startswith(n.HOLE) and f"its {name}" in used:
                says = f"leaves its {name} open: nothing is chosen, so its cue never runs"
                yield Found(Spot(address, f"design.values.{name}"), whose, says, marks="nothing is chosen")


def _cues_of(survey: Survey, thing: Object) -> Iterator[Text]:
    kind = survey.kinds.get(thing.kind, Kind("x", "x"))
    own = {c.key for c in thing.cues}
    for cue in kind.cues:
        if cue.key not in own and cue.key not in thing.cues_off:
            yield from survey.texts_of(f"kind/{kind.key}/cue/{cue.key}")
    for cue in thing.cues:
        yield from survey.texts_of(f"object/{thing.key}/cue/{cue.key}")


CHECK = Check(
    "slot_not_filled_in",
    "A slot that is not filled in",
    "stops it",
    "N52",
    "Is every slot filled in?",
    "A cue with an open slot never runs, and a thing that leads nowhere does nothing. Fill the slot, or take it out.",
    "The crate gives …, and what it gives was never chosen.",
    "record",
    find,
    ("names", "kinds"),
)
