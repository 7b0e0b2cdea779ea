"""What is given, asked for, worded and used at all."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from functools import cached_property, partial
from typing import Any

from ..cuetext.own_values import is_its, meant
from ..cuetext.references import field_references
from ..phrases import nodes as n
from ..project.records import Design, Level
from .mending import OF_DESIGN
from .texts import Text, Texts

_COUNTED = re.compile(r"\{count:([a-z0-9_]+)\}")
_WORDED: Mapping[str, tuple[str, ...]] = {
    "line": ("wordings",),
    "reply": ("wordings",),
    "stage": ("journal",),
    "quest": ("summary",),
    "item": ("description", "text"),
    "ability": ("description",),
}
"""The fields that are read by the player, by type of record."""


@dataclass(frozen=True, slots=True)
class Use:
    """How often a thing is given, asked for, and told in wordings."""

    given: int
    asked: int
    worded: int


class Supplied(Texts):
    """A state with what is given and asked for in it."""

    def uses(self, key: str) -> Use:
        """How often a fact, an item or an ability is given, asked for, and told in wordings."""
        return self._uses.get(key, Use(0, 0, 0))

    @cached_property
    def _uses(self) -> dict[str, Use]:
        given, asked = Counter[str](), Counter[str]()
        for text in self.texts:
            for name, gives in text.supplies:
                (given if gives else asked).update(self._meant(name, text))
        for quest in self.project.quests:
            asked.update(t for s in quest.stages for o in s.objectives for t in o.targets)
        return {k: Use(given[k], asked[k], self._told[k]) for k in {*given, *asked, *self._told}}

    def _meant(self, word: str, text: Text) -> list[str]:
        """What a word of a text names: itself, or for `its …` the value of each object that has the text."""
        if not is_its(word):
            return [word]
        things = [o.key for o in self.of_kind.get(text.this, ())] if text.owner.startswith("kind/") else [text.this]
        return [meant(word, self.designs[k].values) for k in things if k in self.designs]

    def wordings_of(self, address: str) -> tuple[tuple[str, str], ...]:
        """Every wording of a record that is not in a text, by field: prompts, buttons, lines, answers, journals."""
        place = self.records.get(address)
        if place is None or place.type not in (*_WORDED, "kind", "object"):
            return ()
        if place.type in _WORDED:
            return self.worked(address, _worded)
        if place.type == "kind":
            return tuple(_prompted(place.record.design, lambda _: True))
        own = [p for p in place.record.own if p.startswith("prompts")]
        return tuple(_prompted(self.designs[place.record.key], partial(_covered, own))) if own else ()

    @cached_property
    def _told(self) -> Counter[str]:
        """How often each thing is counted in a wording."""
        found = Counter[str]()
        for address, place in self.records.items():
            if place.type in _WORDED:
                found.update(self.worked(address, _counted))
            else:
                found.update(key for _, words in self.wordings_of(address) for key in _COUNTED.findall(words))
        return found

    def designs_and_kinds(self) -> Iterator[tuple[str, Design]]:
        """The design of every kind, and of every object that has prompts of its own."""
        for kind in self.project.kinds:
            yield f"kind/{kind.key}", kind.design
        for thing, _ in self.objects.values():
            if any(p.startswith("prompts") for p in thing.own):
                yield f"object/{thing.key}", self.designs[thing.key]

    def every_design(self) -> Iterator[tuple[str, Level, Design]]:
        """The design of every object with its level."""
        for key, (_, level) in self.objects.items():
            yield key, level, self.designs[key]

    @cached_property
    def names_used(self) -> frozenset[str]:
        """Every name that a text, a field or a value of another record holds."""
        found: set[str] = set()
        for text in self.texts:
            for use in text.read.uses if text.read is not None else ():
                found.add(use.word.text)
        for named in self.fields_naming.values():
            found |= {name for _, name, _ in named}
        found |= {
            str(v) for d in (*self.designs.values(), *(k.design for k in self.project.kinds)) for v in d.values.values()
        }
        found |= {t for d in self.designs.values() for t in (*d.tags, *d.suspends, *d.reach.who)}
        return frozenset(found | self._told.keys())

    @cached_property
    def fields_naming(self) -> Mapping[str, tuple[tuple[str, str, bool], ...]]:
        """The names in the fields of each record: field, name, and whether it is one of its siblings."""
        return {
            "project": _naming("project", self.project),
            **{address: self.worked(address, _naming) for address in self.records},
        }

    def gear_of(self, item: str) -> bool:
        """Whether an ability needs an item as its gear."""
        return any(a.gear == item for a in self.project.abilities)

    def steps_on(self, quest: str) -> tuple[Any, ...]:
        """Every step of any text that does something to a quest."""
        return self._steps_on.get(quest, ())

    @cached_property
    def _steps_on(self) -> dict[str, tuple[Any, ...]]:
        found: dict[str, tuple[Any, ...]] = {}
        for text in self.texts:
            for step in text.steps:
                if isinstance(step, n.QuestStep | n.Move):
                    for key in self._meant(step.quest.text, text):
                        found[key] = (*found.get(key, ()), step)
        return found


def _naming(record_type: str, record: Any) -> tuple[tuple[str, str, bool], ...]:
    return tuple((r.field, r.name, bool(r.owner)) for r in field_references(record_type, record))


def _worded(record_type: str, record: Any) -> tuple[tuple[str, str], ...]:
    """The wordings of a record, by field, several in one by their number."""
    found: list[tuple[str, str]] = []
    for field in _WORDED[record_type]:
        held = getattr(record, field)
        several = held if isinstance(held, tuple) else (held,)
        found += [(field if len(several) == 1 else f"{field}.{i}", w) for i, w in enumerate(several) if w]
    return tuple(found)


def _counted(record_type: str, record: Any) -> tuple[str, ...]:
    return tuple(key for _, words in _worded(record_type, record) for key in _COUNTED.findall(words))


def _prompted(design: Design, own: Callable[[str], bool]) -> Iterator[tuple[str, str]]:
    """The wordings of the prompts and buttons of a design whose paths in it are its owner's own."""
    for prompt in design.prompts:
        path = f"prompts.{prompt.key}"
        worded = [(f"{path}.buttons.{b.key}.wording", b.wording) for b in prompt.buttons]
        for at, words in worded or [(f"{path}.wording", prompt.wording)]:
            if words and own(at):
                yield OF_DESIGN + at, words


def _covered(own: list[str], path: str) -> bool:
    """Whether a path is one of some values of an object's own, or lies in one."""
    return any(path == p or path.startswith(f"{p}.") for p in own)
