"""One state of a project as checks see it: its records by address, and what differs from the state before.

The layers of a survey stand on each other, each in a file of its own: the records here, then the texts, what is given
and asked for, the rules, and the ground. Each part is worked out once and only when it is asked for, and what the edits
between two states did not touch is taken over from the one before.
"""

from __future__ import annotations

import dataclasses
from collections.abc import Callable, Mapping
from functools import cached_property
from itertools import zip_longest
from typing import Any, Self, TypeVar

from ..cuetext.index import NameIndex, index_of
from ..engine.wording import Words
from ..project.designs import resolved
from ..project.records import CHILDREN, Conversation, Design, Kind, Level, Line, Object, Project, Quest
from ..project.tree import Place, branches, plain, walk_branch
from .addresses import address_of
from .finding import Spot, called
from .mending import OF_DESIGN

_COSMETIC = frozenset(
    {"name", "description", "summary", "journal", "icon", "picture", "voice", "draft", "carried", "tint"}
)
"""Fields that no rule reads."""


Worked = TypeVar("Worked")


def _below(record_type: str, record: Any) -> dict[str, Place]:
    return {address_of(p): p for p in walk_branch(record_type, record)}


class State:
    """The records of one state, and its names."""

    def __init__(self, project: Project, before: Self | None = None):
        self.project = project
        self._before = before
        self.records: dict[str, Place] = {}
        """Every record by its address, owners before what they own."""
        self._branches: dict[tuple[str, str], tuple[Any, dict[str, Place]]] = {}
        for record_type, record in branches(project):
            name = record_type, record.key
            was = before._branches.get(name) if before is not None else None
            below = was[1] if was is not None and was[0] is record else _below(record_type, record)
            self._branches[name] = record, below
            self.records |= below
        self._worked: dict[Any, dict[str, tuple[Any, Any]]] = before._worked if before is not None else {}

    def forget_before(self) -> None:
        """Let go of the state before, once everything that is taken over has been."""
        self._before = None
        for known in self._worked.values():
            for address in [a for a in known if a not in self.records] if len(known) > len(self.records) else ():
                del known[address]

    def worked(self, address: str, work: Callable[[str, Any], Worked]) -> Worked:
        """What can be worked out of a record's type and itself alone: done once, as long as it is what it was."""
        place, known = self.records[address], self._worked.setdefault(work, {})
        found = known.get(address)
        if found is None or found[0] is not place.record:
            found = known[address] = place.record, work(place.type, place.record)
        worked: Worked = found[1]
        return worked

    # --- what has changed

    @cached_property
    def changed(self) -> dict[str, tuple[Any, Any]] | None:
        """The records that differ from the state before, each with what it was and is; None where all is new."""
        if self._before is None:
            return None
        old, found = self._before.records, dict[str, tuple[Any, Any]]()
        for address, place in self.records.items():
            was = old.get(address)
            if was is None:
                found[address] = (None, place.record)
            elif was.record is not place.record:
                found[address] = (was.record, place.record)
        found |= {address: (place.record, None) for address, place in old.items() if address not in self.records}
        return found

    @cached_property
    def same_names(self) -> bool:
        """Whether every name, state, value and stage is what it was."""
        if self.changed is None or self._before is None or self.project.controls != self._before.project.controls:
            return False
        return all(a is not None and b is not None and _naming(a) == _naming(b) for a, b in self.changed.values())

    @cached_property
    def called_anew(self) -> frozenset[str] | None:
        """The names of what is called or worded otherwise than before; None where that may be everything."""
        if self.changed is None or self._before is None or not self.same_kinds:
            return None
        old, new = self._before.project, self.project
        if (old.name, old.money_name, old.controls) != (new.name, new.money_name, new.controls):
            return None
        if any(a is None or b is None for a, b in self.changed.values()):
            return None
        return frozenset(b.key for a, b in self.changed.values() if _called(a) != _called(b))

    @cached_property
    def same_rules(self) -> bool:
        """Whether nothing that a rule reads has changed, places on the plan and words aside."""
        if self.changed is None or self._before is None:
            return False
        if _settings(self.project) != _settings(self._before.project):
            return False
        return all(a is not None and b is not None and _same_rules(a, b) for a, b in self.changed.values())

    @cached_property
    def same_order(self) -> bool:
        """Whether all records stand in the order in which they stood."""
        return self._before is not None and all(
            a == b for a, b in zip_longest(self.records, self._before.records, fillvalue="")
        )

    @cached_property
    def same_kinds(self) -> bool:
        """Whether no kind has changed."""
        return (
            self._before is not None
            and len(self.project.kinds) == len(self._before.project.kinds)
            and all(a is b for a, b in zip(self.project.kinds, self._before.project.kinds, strict=True))
        )

    @cached_property
    def same_floors(self) -> bool:
        """Whether areas, walls, exits and the player's body are what they were."""
        before = self._before
        if before is None or len(before.project.levels) != len(self.project.levels):
            return False
        levels = zip(before.project.levels, self.project.levels, strict=True)
        return before.project.player == self.project.player and all(a is b or _floor(a) == _floor(b) for a, b in levels)

    # --- records

    @cached_property
    def index(self) -> NameIndex:
        """The names."""
        return index_of(self.project, self.records.values())

    @cached_property
    def words(self) -> Words:
        """Names and values in words."""
        return Words(self.project)

    @cached_property
    def kinds(self) -> Mapping[str, Kind]:
        """The kinds by key."""
        return {k.key: k for k in self.project.kinds}

    @cached_property
    def objects(self) -> Mapping[str, tuple[Object, Level]]:
        """Every object by key, with its level."""
        return {o.key: (o, level) for level in self.project.levels for o in level.objects}

    @cached_property
    def of_kind(self) -> Mapping[str, tuple[Object, ...]]:
        """The objects of each kind."""
        found: dict[str, list[Object]] = {}
        for thing, _ in self.objects.values():
            found.setdefault(thing.kind, []).append(thing)
        return {kind: tuple(things) for kind, things in found.items()}

    @cached_property
    def quests(self) -> Mapping[str, Quest]:
        """The quests by key."""
        return {q.key: q for q in self.project.quests}

    @cached_property
    def talks(self) -> Mapping[str, Conversation]:
        """The conversations by key."""
        return {c.key: c for c in self.project.conversations}

    @cached_property
    def lines(self) -> Mapping[str, tuple[Line, Conversation]]:
        """Every line by key, with its conversation."""
        return {line.key: (line, talk) for talk in self.project.conversations for line in talk.lines}

    @cached_property
    def designs(self) -> Mapping[str, Design]:
        """The design of every object, by key."""
        found: dict[str, Design] = {}
        before = self._before if self._before is not None and self.same_kinds else None
        for key, (thing, _) in self.objects.items():
            was = before.objects.get(key) if before is not None else None
            if before is not None and was is not None and was[0] is thing and key in before.designs:
                found[key] = before.designs[key]
            else:
                found[key] = resolved(self.kinds[thing.kind], thing) if thing.kind in self.kinds else Design()
        return found

    def record(self, address: str) -> Any:
        """A record by its address; `project` is the project itself."""
        return self.project if address == "project" else self.records[address].record

    def siblings(self, address: str) -> frozenset[str]:
        """The names of the records beside one, its own among them."""
        chain = self.records[address].chain if address in self.records else ()
        if chain[:-1] not in self._held:
            owner: Any = self.project if len(chain) < 2 else self._owners[chain[:-1]]
            fields = CHILDREN.get(chain[-2][0] if len(chain) > 1 else "project", {})
            self._held[chain[:-1]] = frozenset(c.key for f in fields for c in getattr(owner, f))
        return self._held[chain[:-1]]

    @cached_property
    def _held(self) -> dict[tuple[tuple[str, str], ...], frozenset[str]]:
        return {}

    @cached_property
    def _owners(self) -> dict[tuple[tuple[str, str], ...], Any]:
        return {p.chain: p.record for p in self.records.values() if p.type in CHILDREN}

    @staticmethod
    def plain(value: Any) -> Any:
        """A value as plain data."""
        return plain(value)

    # --- words

    def name(self, key: str) -> str:
        """What a sentence calls something: `quest.stage` is a stage in quotes, `owner:state` a state."""
        for joint in (".", ":"):
            owner, found, inner = key.partition(joint)
            if found:
                return self.words.owned(inner, owner)
        return self.words.name(key) if key else self.project.name

    def whose(self, address: str) -> str:
        """Whose a finding at a record is, as its sentence begins: the object of a cue, the one object of a
        kind, who says a line, a stage's quest."""
        place = self.records.get(address)
        if place is None:
            return self.project.name
        chain = dict(place.chain)
        if "conversation" in chain:
            talk = self.talks[chain["conversation"]]
            return called(talk.talker if talk.talker in self.objects else talk.key)
        alone = self.of_kind.get(chain.get("kind", ""), ())
        if len(alone) == 1:
            return called(alone[0].key)
        for kind in ("object", "kind", "area", "quest"):
            if kind in chain:
                return called(chain[kind])
        return called(place.chain[0][1] if place.type == "cue" else place.record.key)

    def held_at(self, spot: Spot) -> str:
        """What stands at a place, as text; empty where no field is named."""
        known = spot.record in self.records or spot.record == "project"
        held = self.value_at(spot.record, spot.field) if spot.field and known else None
        return "" if held is None else repr(held)

    def value_at(self, record: str, path: str) -> Any:
        """The value of a field, or at a path of a design; None where there is none."""
        found = self.record(record)
        if not path.startswith(OF_DESIGN):
            return getattr(found, path, None)
        data: Any = plain(self.designs[found.key] if isinstance(found, Object) else found.design)
        for part in path.removeprefix(OF_DESIGN).split("."):
            data = next((m for m in data if m.get("key") == part), None) if isinstance(data, list) else data.get(part)
            if data is None:
                return None
        return data

    def belongs(self, address: str) -> tuple[str, str]:
        """The level and the quest that a record is part of, empty where it is of none."""
        place = self.records.get(address)
        chain = dict(place.chain) if place is not None else {}
        level, quest = chain.get("level", ""), chain.get("quest", "")
        talk = self.talks.get(chain.get("conversation", ""))
        if not level and talk is not None and talk.talker in self.objects:
            level = self.objects[talk.talker][1].key
        return level, quest

    @cached_property
    def asides(self) -> Mapping[tuple[str, str, str], str]:
        """What was put aside as right as it is: the reason by check, name and what it rests on."""
        return {(a.check, a.at, a.rests_on): a.reason for a in self.project.asides}


def _naming(record: Any) -> tuple[Any, ...]:
    """What of a record its names are known by."""
    kept: list[Any] = [record.key]
    if isinstance(record, Object):
        kept += [record.kind, record.own]
    elif isinstance(record, Kind):
        kept += [record.design.states, record.design.values, record.design.prompts]
    elif isinstance(record, Quest):
        kept += [[s.key for s in record.stages]]
    elif hasattr(record, "talker"):
        kept += [record.talker]
    elif hasattr(record, "at_start") and hasattr(record, "highest"):
        kept += [record.type]
    return tuple(kept)


def _same_rules(a: Any, b: Any) -> bool:
    """Whether two versions of a record are one to every rule; what they own is held against each other by itself."""
    if isinstance(a, Object):
        a, b = (dataclasses.replace(r, x_m=0.0, y_m=0.0, turn_deg=0.0) for r in (a, b))
    for one in dataclasses.fields(a):
        old, new = getattr(a, one.name), getattr(b, one.name)
        if old is new or one.name in _COSMETIC or _owned(one.name):
            continue
        if one.name == "wordings":
            if len(old) != len(new):
                return False
        elif old != new:
            return False
    return True


def _called(record: Any) -> tuple[Any, ...]:
    """What a record is called by, and what stands in for that."""
    return tuple(getattr(record, field, None) for field in ("name", "wordings", "own"))


def _floor(level: Level) -> tuple[Any, ...]:
    return level.areas, level.walls, level.exits


def _owned(field: str) -> bool:
    return field in ("levels", "areas", "walls", "objects", "exits", "cues", "stages", "objectives", "lines", "replies")


def _settings(project: Project) -> tuple[Any, ...]:
    return project.first_level, project.player, project.usual, project.experience_levels, project.controls
