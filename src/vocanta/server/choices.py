"""What could stand in place of a word: at the cursor of a text, in a slot of a sentence, as a value of an object's own."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Iterator
from typing import Any

from ..core.cuetext.analysing import Analysis, analysed
from ..core.cuetext.completing import completed
from ..core.cuetext.fitting import fitting
from ..core.cuetext.own_values import is_its
from ..core.cuetext.reading import CueTextError
from ..core.cuetext.references import reader_of
from ..core.cuetext.roles import name_uses
from ..core.phrases import nodes as n
from ..core.phrases.language import begins
from ..core.project.designs import cues_of
from ..core.project.records import Cue
from .naming import shown
from .programs import Compiled
from .refusals import not_found
from .shapes import ChoiceShape, CompletionShape, OptionShape, TextAsked, ValueAsked, ValueOptions

MADE_THERE = ("item", "fact", "ability", "sound", "role", "tag")
"""The types of what can be made where its name is chosen, by its name alone."""


def completion(here: Compiled, asked: TextAsked) -> CompletionShape:
    """What could stand at the cursor."""
    found = completed(asked.text, min(max(asked.at, 0), len(asked.text)), asked.start, here.index, asked.this)
    return CompletionShape(found.start, [OptionShape(o, here.index.shown(o)) for o in found.options])


def options_at(here: Compiled, asked: TextAsked) -> list[ChoiceShape]:
    """The alternatives for the word at a place of a readable text: names of the right type, or other phrases."""
    if asked.slot == "number":
        return [ChoiceShape(own, own) for own in here.index.own_numbers(asked.this)]
    reader = {
        "cue": reader_of("cue", "text"),
        "needs": reader_of("line", "needs"),
        "steps": reader_of("line", "steps"),
    }[asked.start]
    assert reader is not None
    tree = reader(asked.text)
    for use in name_uses(tree):
        if use.word.span[0] == asked.at:
            names = (*here.index.candidates(use, asked.this), *here.index.own_names(use, asked.this))
            owner = here.index.owner_of(use, asked.this) if use.owner else ""
            labels = {k: shown(here.words, k, "" if is_its(k) else owner) for k in names}
            return [*_told_apart(here, labels), *_made_there(use.types if use.owner is None else ())]
    return [ChoiceShape(t, t.replace("?", "…")) for t in _phrases_at(tree, asked.at)]


def value_options(here: Compiled, asked: ValueAsked) -> ValueOptions:
    """What a value of an object or a kind can be, by the cues that read it. Raises `Refused` 404."""
    fits = fitting(here.index, asked.this, asked.value, _reads(here, asked.this))
    labels = {k: shown(here.words, k, "") for k in fits.names}
    return ValueOptions([*_told_apart(here, labels), *_made_there(fits.sorts)], fits.number, fits.words)


def _reads(here: Compiled, key: str) -> Iterator[Analysis]:
    """The cues of an object, or those that all objects of a kind share."""
    for cue in _cues(here, key):
        try:
            yield analysed("cue", cue.text)
        except CueTextError:  # The checks of the project say so.
            continue


def _cues(here: Compiled, key: str) -> list[Cue]:
    kinds = {kind.key: kind for kind in here.core.kinds}
    if key in kinds:
        return list(kinds[key].cues)
    things = (o for level in here.core.levels for o in level.objects if o.key == key)
    thing = next(things, None)
    if thing is None:
        raise not_found("object or kind", key)
    return [cue for cue, _ in cues_of(kinds.get(thing.kind), thing)]


def _made_there(types: Iterable[str]) -> list[ChoiceShape]:
    return [ChoiceShape("", f"new {sort}", sort) for sort in types if sort in MADE_THERE]


def _told_apart(here: Compiled, labels: dict[str, str]) -> list[ChoiceShape]:
    """Names with what they are called; things of one name say what they are."""
    count = Counter(labels.values())
    return [
        ChoiceShape(k, label if count[label] == 1 else f"{label}, {here.index.sort_of(k)}")
        for k, label in labels.items()
    ]


def _phrases_at(tree: Any, at: int) -> tuple[str, ...]:
    for node in n.nodes_in(tree):
        if getattr(node, "span", None) and node.span[0] == at:
            if isinstance(node, n.Moment):
                return begins("moment")
            if isinstance(node, n.Need):
                return begins("need")
            if isinstance(node, n.Step):
                return begins("step")
    return ()
