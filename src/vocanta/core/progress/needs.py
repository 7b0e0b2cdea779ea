"""What a need means: tree to guard. The only place that says when a need holds."""

from __future__ import annotations

from dataclasses import dataclass, replace

from ..cuetext import nodes as n
from ..cuetext.reading import read_needs
from ..cuetext.roles import GRADE
from ..cuetext.writing import write_need
from .guards import All, AnyOf, Guard, Within, equals, opposite
from .layout import MOST_MONEY, STATUS, Layout, around_column
from .mentions import chance_key

ACTIVE = (STATUS["active"], STATUS["ready"])


@dataclass(frozen=True)
class Meaning:
    """Names of a text as columns. `this` is the key of the object that owns the text, empty for none; `place` is the
    text's own place in the project."""

    layout: Layout
    this: str = ""
    place: str = ""

    @property
    def owner(self) -> str:
        """Whose copies and deliveries the text's steps mean: an object, or the area, level or quest it belongs to."""
        if self.this:
            return self.layout.placed[self.this].owner
        return "/".join(self.place.split("/")[:2])

    def at(self, place: str) -> Meaning:
        """The same names in another text."""
        return replace(self, place=place)

    def key(self, word: n.Word) -> str:
        """The key a word stands for: `this` and `its …` are resolved."""
        if word.text == "this":
            return self.this
        if word.text.startswith("its "):
            return str(self.layout.placed[self.this].design.values[word.text.removeprefix("its ")])
        return word.text

    def column(self, what: str, word: n.Word) -> int:
        """The column `what:` of the thing a word names."""
        return self.layout.column(what, self.key(word))

    def counter(self, word: n.Word) -> int:
        """The column of an item, a fact, money or experience."""
        key = self.key(word)
        for name in (key, f"item:{key}", f"fact:{key}", f"ability_uses:{key}"):
            if self.layout.table.has(name):
                return self.layout.table.number(name)
        raise KeyError(key)

    def stage_number(self, quest: n.Word, stage: n.Word) -> int:
        """The place of a stage in its quest."""
        stages = self.layout.quests[self.key(quest)].stages
        return [s.key for s in stages].index(self.key(stage))

    def value(self, target: n.Word, word: n.Word) -> int:
        """The number of an object's state, or of a fact's value."""
        key, text = self.key(target), self.key(word)
        if key in self.layout.placed:
            return self.layout.placed[key].state_numbers[text]
        return {"yes": 1, "no": 0}[text] if text in ("yes", "no") else int(text)


def guard_of(need: n.Need, meaning: Meaning) -> Guard:
    """The guard of one need. Names must have been held against the index before."""
    text = write_need(need)
    match need:
        case n.Not(inner):
            return opposite(guard_of(inner, meaning), text)
        case n.And(needs):
            return All(tuple(guard_of(m, meaning) for m in needs), text)
        case n.Or(needs):
            return AnyOf(tuple(guard_of(m, meaning) for m in needs), text)
        case n.Has(item, count, how):
            return _compared(meaning.column("item", item), how, int(count.value or 0) if count else 1, meaning, text)
        case n.Holds(fact):
            return _holds(fact, meaning, text)
        case n.Is(subject, value):
            return _is(subject, value, meaning, text)
        case n.Compare(subject, how, number) if subject.text == GRADE:
            return _grade(how, int(number.value or 0), meaning, text)
        case n.Compare(subject, how, number):
            return _compared(meaning.counter(subject), how, int(number.value or 0), meaning, text)
        case _:
            return _tracked(need, meaning, text)


def _tracked(need: n.Need, meaning: Meaning, text: str) -> Guard:
    match need:
        case n.Place(quest, how, stage):
            return _place(quest, how, meaning.stage_number(quest, stage), meaning, text)
        case n.Between(quest, first, last):
            low, high = sorted((meaning.stage_number(quest, first), meaning.stage_number(quest, last)))
            return _stages(quest, low, high, meaning, text)
        case n.Met(objective):
            return equals(meaning.column("met", objective), 1, text)
        case n.Heard(line, by):
            return _heard(line, by, meaning, text)
        case n.Can(ability):
            return may_use(meaning.layout, meaning.key(ability), text)
        case n.Tally(subject, verb, how, count):
            column = meaning.layout.column("tally", f"{verb}/{meaning.key(subject)}")
            return _compared(column, how, int(count.value or 0), meaning, text)
        case n.Around(who, how, thing):
            return equals(meaning.layout.column(around_column(meaning.key(thing), how, who.text)), 1, text)
        case n.Inside(_, place):
            return _inside(meaning.key(place), meaning.layout, text)
        case n.Chance():
            return equals(meaning.layout.column("chance", chance_key(meaning.place, meaning.this, need)), 1, text)
        case _:
            return AnyOf((), text)


def _holds(word: n.Word, meaning: Meaning, text: str) -> Guard:
    """A yes/no fact, or the needs that stand under a name."""
    named = next((m for m in meaning.layout.project.named_needs if m.key == meaning.key(word)), None)
    if named is None:
        return equals(meaning.column("fact", word), 1, text)
    inside = Meaning(meaning.layout, "", f"namedneed/{named.key}/text")
    return All(tuple(guard_of(top.need, inside) for top in read_needs(named.text)), text)


def _grade(how: str, level: int, meaning: Meaning, text: str) -> Guard:
    """The level of experience, by the sums at which each level begins; level 1 begins at 0."""
    begins = (0, *meaning.layout.project.experience_levels, MOST_MONEY + 1)
    column = meaning.layout.column("experience")
    low = begins[min(max(level, 1), len(begins) - 1) - 1] if level <= len(begins) - 1 else MOST_MONEY + 1
    if how == "exactly":
        return Within(column, low, begins[level] - 1, True, text) if 1 <= level < len(begins) else AnyOf((), text)
    return Within(column, low, max(low, MOST_MONEY), how == "at least", text)


def may_use(layout: Layout, ability: str, text: str = "") -> Guard:
    """The ability is granted or its gear equipped, it is not suspended, and the player is in no hands-off zone for it."""
    record = next(a for a in layout.project.abilities if a.key == ability)
    ways = [equals(layout.column("ability", ability), 1)]
    if (gear := is_equipped(layout, record.gear)) is not None:
        ways.append(gear)
    zones = [equals(layout.column("near", key), 0) for key in layout.hands_off(ability)]
    return All((AnyOf(tuple(ways)), equals(layout.column("suspended", ability), 0), *zones), text)


def is_equipped(layout: Layout, item: str, text: str = "") -> Within | None:
    """The item is in its slot; None for what is no gear."""
    found = next(((slot, gear) for slot, gear in layout.slots.items() if item in gear), None)
    if found is None:
        return None
    return equals(layout.column("gear", found[0]), found[1].index(item) + 1, text)


def _inside(place: str, layout: Layout, text: str) -> Guard:
    """The player is in an area or a level by cell, in a zone by being near it."""
    if place in layout.placed:
        return equals(layout.column("near", place), 1, text)
    cells = layout.map.of_area(place) or layout.map.of_level(place)
    return AnyOf(tuple(equals(layout.column("cell"), c) for c in sorted(cells)), text)


def _compared(column: int, how: str, count: int, meaning: Meaning, text: str) -> Guard:
    limits = meaning.layout.table.columns[column]
    if how == "exactly":
        return equals(column, count, text)
    if how == "fewer than":
        return Within(column, limits.lowest, count - 1, True, text)
    return Within(column, count, max(limits.highest, count), True, text)


def _is(subject: n.Word, value: n.Word, meaning: Meaning, text: str) -> Guard:
    key, word = meaning.key(subject), meaning.key(value)
    if key in meaning.layout.placed:
        exists = meaning.layout.column("exists", key)
        if word == "gone":
            return equals(exists, 0, text)
        state = equals(meaning.layout.column("state", key), meaning.value(subject, value))
        return All((equals(exists, 1), state), text)
    if word == "equipped":
        return is_equipped(meaning.layout, key, text) or AnyOf((), text)
    if meaning.layout.table.has(f"role:{key}"):
        return _role(key, word, meaning.layout, text)
    if key in meaning.layout.quests:
        status = meaning.layout.column("status", key)
        return Within(status, *ACTIVE, True, text) if word == "active" else equals(status, STATUS[word], text)
    return equals(meaning.column("fact", subject), meaning.value(subject, value), text)


def _role(role: str, word: str, layout: Layout, text: str) -> Guard:
    column, fillings = layout.column("role", role), layout.mentions.fillings.get(role, [])
    if word == "filled":
        return opposite(equals(column, 0), text)
    return equals(column, fillings.index(word) + 1, text) if word in fillings else AnyOf((), text)


def _place(quest: n.Word, how: str, stage: int, meaning: Meaning, text: str) -> Guard:
    status = meaning.column("status", quest)
    last = len(meaning.layout.quests[meaning.key(quest)].stages) - 1
    if how == "at":
        return _stages(quest, stage, stage, meaning, text)
    if how == "before":
        not_started = Within(status, STATUS["unavailable"], STATUS["offered"])
        return AnyOf((not_started, _stages(quest, 0, stage - 1, meaning, "")), text)
    return AnyOf((equals(status, STATUS["done"]), _stages(quest, stage + 1, last, meaning, "")), text)


def _stages(quest: n.Word, low: int, high: int, meaning: Meaning, text: str) -> Guard:
    active = Within(meaning.column("status", quest), *ACTIVE)
    return All((active, Within(meaning.column("stage", quest), low, high)), text)


def _heard(line: n.Word, by: n.Word | None, meaning: Meaning, text: str) -> Guard:
    key = meaning.key(line)
    heard = Within(meaning.layout.column("heard", key), 1, 999, True, text)
    if by is None:
        return heard
    conversation = next(c for c, of in meaning.layout.speeches if of == key)
    return heard if meaning.layout.conversations[conversation].talker == meaning.key(by) else AnyOf((), text)
