"""The texts of a project, read: needs, steps and moments, each with whose it is."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property
from typing import Any

from ..cuetext.analysing import Analysis, Start, analysed
from ..cuetext.reading import CueTextError
from ..cuetext.references import reader_of, text_fields
from ..phrases import nodes as n
from ..project.problems import Problem
from ..project.tree import Place
from .addresses import address_of
from .state import State

_STARTS: dict[str, Start] = {"read_cue": "cue", "read_needs": "needs", "read_steps": "steps"}
Run = tuple[Any, ...]
"""Steps that are carried out one after the other."""


@dataclass(frozen=True, slots=True)
class Text:
    """One text of a project: its record, field and words, whose it is, and what stands in it.

    `this` is the key of the object or kind that `this` means in it. `problem` says why it cannot be read. `tops` are its
    top-level needs, `runs` its steps by the lists in which they stand, `steps` all of them with those after *or else*.
    """

    record: str
    field: str
    start: Start
    words: str
    owner: str
    this: str
    read: Analysis | None
    problem: Problem | None = None
    tops: tuple[n.Top, ...] = ()
    runs: tuple[Run, ...] = ()
    steps: Run = ()
    supplies: tuple[tuple[str, bool], ...] = ()
    """What it gives and asks for, by name; whether it gives it."""

    @property
    def origin_field(self) -> str:
        """What stands behind the record in the compiler's origins: nothing for a cue."""
        return "" if self.start == "cue" else self.field


class Texts(State):
    """A state with its texts."""

    @cached_property
    def texts(self) -> tuple[Text, ...]:
        """Every text that is not empty, in the order of the project; the same ones as before where nothing changed."""
        known = {(t.record, t.field): t for t in self._before.texts} if self._before is not None else {}
        found: list[Text] = []
        for address, place in self.records.items():
            for field in text_fields(place.type):
                words = getattr(place.record, field)
                if words.strip():
                    this = self._this(place)
                    was = known.get((address, field))
                    same = was is not None and was.words == words and was.this == this
                    found.append(was if same and was is not None else self._text(address, place, field, words, this))
        return tuple(found)

    def texts_of(self, record: str) -> tuple[Text, ...]:
        """The texts of one record."""
        return self._texts_by_record.get(record, ())

    @cached_property
    def _texts_by_record(self) -> dict[str, tuple[Text, ...]]:
        found: dict[str, tuple[Text, ...]] = {}
        for text in self.texts:
            found[text.record] = (*found.get(text.record, ()), text)
        return found

    @cached_property
    def text_of(self) -> Mapping[tuple[str, str], Text]:
        """Every text by record and field."""
        return {(t.record, t.field): t for t in self.texts}

    def _text(self, address: str, place: Place, field: str, words: str, this: str) -> Text:
        reader = reader_of(place.type, field)
        assert reader is not None
        start, owner = _STARTS[getattr(reader, "__name__", "")], self._owner(place)
        try:
            read = analysed(start, words, bool(this))
            tops, runs = _tops(read, start), _runs(read, start)
            instead = [top.or_else for top in tops if top.or_else is not None]
            steps = (*(s for run in runs for s in run), *instead)
            return Text(
                address, field, start, words, owner, this, read, None, tops, runs, steps, _supplies(read, start)
            )
        except CueTextError as error:
            return Text(address, field, start, words, owner, this, None, error.problems[0])

    def object_or_kind(self, record: str) -> str:
        """The key of the object or kind whose wordings a record holds; empty for none."""
        place = self.records.get(record)
        if place is None:
            return ""
        return place.record.key if place.type in ("object", "kind") else self._this(place)

    def _this(self, place: Place) -> str:
        """What *this* is in the texts of a record."""
        if place.type == "cue" and place.owner is not None and place.owner[0] in ("object", "kind"):
            return place.owner[1]
        talk = dict(place.chain).get("conversation") if place.type in ("line", "reply") else None
        if talk is None:
            return ""
        talker = self.talks[talk].talker
        return talker if talker in self.objects else ""

    @staticmethod
    def _owner(place: Place) -> str:
        """The address of what a text belongs to: what has a cue, a quest's stage, a line itself."""
        if place.type in ("cue", "reply") and place.owner is not None:
            return "/".join(place.owner)
        return address_of(place)


def _tops(read: Analysis, start: Start) -> tuple[n.Top, ...]:
    if start == "steps":
        return ()
    found: tuple[n.Top, ...] = read.tree.tops if start == "cue" else read.tree
    return found


def _supplies(read: Analysis, start: Start) -> tuple[tuple[str, bool], ...]:
    moment = read.tree.moment.word if start == "cue" else None
    return tuple(
        (u.word.text, u.supply == "given") for u in read.uses if u.supply or (moment is not None and u.word == moment)
    )


def _runs(read: Analysis, start: Start) -> tuple[Run, ...]:
    if start == "needs":
        return ()
    return (read.tree.steps, read.tree.otherwise) if start == "cue" else (read.tree,)
