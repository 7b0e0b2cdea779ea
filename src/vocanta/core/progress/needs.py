"""What a need means: tree to guard. The only place that says when a need holds."""

from __future__ import annotations

from collections.abc import Callable
from operator import eq, ge, le, lt
from typing import assert_never

from ..cuetext.reading import read_needs
from ..cuetext.writing import write_need
from ..phrases import nodes as n
from ..phrases.vocabulary import GRADE
from .guards import NEVER, All, AnyOf, Guard, Within, among, equals, opposite
from .layout import MOST_MONEY, STATUS, Layout, around_column
from .meaning import Meaning, player_inside
from .mentions import chance_key

ACTIVE = (STATUS["active"], STATUS["ready"])


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
        case n.HoleNeed():
            return AnyOf((), text)
        case (
            n.Has()
            | n.Holds()
            | n.Is()
            | n.Compare()
            | n.Met()
            | n.Can()
            | n.Chance()
            | n.Place()
            | n.Between()
            | n.Heard()
            | n.Tally()
            | n.Around()
            | n.Inside()
        ):
            return _atom(need, meaning, text)
        case _:
            assert_never(need)


def _atom(need: n.Atom, meaning: Meaning, text: str) -> Guard:
    layout = meaning.layout
    match need:
        case n.Has(item, count, how):
            return _compared(meaning.column("item", item), how, int(count.value or 0) if count else 1, meaning, text)
        case n.Holds(fact):
            return _holds(fact, meaning, text)
        case n.Is(subject, value):
            return _is(subject, value, meaning, text)
        case n.Compare(subject, how, number) if (fixed := meaning.fixed(subject)) is not None:
            return _standing(_COMPARED[how](fixed, int(number.value or 0)), text)
        case n.Compare(subject, how, number) if subject.text == GRADE:
            return _grade(how, int(number.value or 0), meaning, text)
        case n.Compare(subject, how, number):
            return _compared(meaning.counter(meaning.key(subject)), how, int(number.value or 0), meaning, text)
        case n.Met(objective):
            return equals(meaning.column("met", objective), 1, text)
        case n.Can(ability):
            return may_use(layout, meaning.key(ability), text)
        case n.Chance():
            return equals(layout.column("chance", chance_key(meaning.place, meaning.this, need)), 1, text)
        case n.Place() | n.Between() | n.Heard() | n.Tally() | n.Around() | n.Inside():
            return _relation(need, meaning, text)
        case _:
            assert_never(need)


def _relation(
    need: n.Place | n.Between | n.Heard | n.Tally | n.Around | n.Inside, meaning: Meaning, text: str
) -> Guard:
    match need:
        case n.Place(quest, how, stage):
            return _place(quest, how, meaning.stage_number(quest, stage), meaning, text)
        case n.Between(quest, first, last):
            low, high = sorted((meaning.stage_number(quest, first), meaning.stage_number(quest, last)))
            return _stages(quest, low, high, meaning, text)
        case n.Heard(line, by):
            return _heard(meaning.key(line), meaning.key(by) if by else None, meaning.layout, text)
        case n.Tally(subject, verb, how, count):
            column = meaning.layout.column("tally", f"{verb}/{meaning.key(subject)}")
            return _compared(column, how, int(count.value or 0), meaning, text)
        case n.Around(who, how, thing):
            sensed = meaning.layout.find(*around_column(meaning.key(thing), how, who.text))
            return NEVER if sensed is None else equals(sensed, 1, text)
        case n.Inside(_, place):
            return inside(meaning.key(place), meaning.layout, text)
        case _:
            assert_never(need)


_COMPARED: dict[n.Comparison, Callable[[float, float], bool]] = {
    "at least": ge,
    "at most": le,
    "exactly": eq,
    "fewer than": lt,
}


def _standing(holds: bool, text: str) -> Guard:
    """What is so, or not, whatever happens."""
    return All((), text) if holds else AnyOf((), text)


def _holds(word: n.Word, meaning: Meaning, text: str) -> Guard:
    """A yes/no fact, the needs that stand under a name, or a yes/no of the owner's own."""
    fixed = meaning.fixed(word)
    if fixed is not None:
        return _standing(bool(fixed), text)
    named = next((m for m in meaning.layout.project.named_needs if m.key == meaning.key(word)), None)
    if named is None:
        return equals(meaning.column("fact", word), 1, text)
    within = Meaning(meaning.layout, "", f"namedneed/{named.key}/text")
    return All(tuple(guard_of(top.need, within) for top in read_needs(named.text)), text)


def _grade(how: n.Comparison, level: int, meaning: Meaning, text: str) -> Guard:
    """The level of experience, by the sums at which each level begins; level 1 begins at 0."""
    begins = (0, *meaning.layout.project.experience_levels)
    column, top = meaning.layout.column("experience"), MOST_MONEY

    def sum_of(number: int) -> int:
        """Where a level begins; beyond every sum where there is no such level."""
        return begins[max(number, 1) - 1] if number <= len(begins) else top + 1

    match how:
        case "at least":
            return Within(column, sum_of(level), top + 1, True, text)
        case "at most":
            return Within(column, 0, sum_of(level + 1) - 1, level > 0, text) if level > 0 else AnyOf((), text)
        case "fewer than":
            return Within(column, 0, sum_of(level) - 1, True, text) if level > 1 else AnyOf((), text)
        case "exactly":
            within = 1 <= level <= len(begins)
            return Within(column, sum_of(level), sum_of(level + 1) - 1, True, text) if within else AnyOf((), text)
        case _:
            assert_never(how)


def may_use(layout: Layout, ability: str, text: str = "") -> Guard:
    """The ability is granted or its gear equipped, it is not suspended, and the player is in no hands-off zone for it."""
    record = next(a for a in layout.project.abilities if a.key == ability)
    ways: list[Guard] = [equals(layout.column("ability", ability), 1)]
    if (gear := is_equipped(layout, record.gear)) is not None:
        ways.append(gear)
    suspended = layout.find("suspended", ability)
    free = () if suspended is None else (equals(suspended, 0),)
    zones = [opposite(player_inside(layout, key)) for key in layout.hands_off(ability)]
    return All((AnyOf(tuple(ways)), *free, *zones), text)


def is_equipped(layout: Layout, item: str, text: str = "") -> Within | None:
    """The item is in its slot; None for what is no gear."""
    found = next(((slot, gear) for slot, gear in layout.slots.items() if item in gear), None)
    if found is None:
        return None
    return equals(layout.column("gear", found[0]), found[1].index(item) + 1, text)


def inside(place: str, layout: Layout, text: str = "") -> Guard:
    """The player is in an area, a level or a zone."""
    if place in layout.placed:
        return All((player_inside(layout, place),), text)
    cells = layout.cells.of_area(place) or layout.cells.of_level(place)
    return among(layout.column("cell"), cells, text) if cells else AnyOf((), text)


def _compared(column: int, how: n.Comparison, count: int, meaning: Meaning, text: str) -> Guard:
    limits = meaning.layout.table.columns[column]
    match how:
        case "exactly":
            return equals(column, count, text)
        case "fewer than":
            return Within(column, limits.lowest, count - 1, True, text)
        case "at most":
            return Within(column, limits.lowest, count, True, text)
        case "at least":
            return Within(column, count, max(limits.highest, count), True, text)
        case _:
            assert_never(how)


def _is(subject: n.Word, value: n.Word, meaning: Meaning, text: str) -> Guard:
    key, word, layout = meaning.key(subject), meaning.key(value), meaning.layout
    if meaning.fixed(subject) is not None:
        return _standing(key == word, text)
    if key in layout.placed:
        exists = layout.column("exists", key)
        if word == "gone":
            return equals(exists, 0, text)
        return All((equals(exists, 1), equals(layout.column("state", key), meaning.value(subject, value))), text)
    if word == "equipped":
        return is_equipped(layout, key, text) or AnyOf((), text)
    if layout.find("role", key) is not None:
        return _role(key, word, layout, text)
    if key in layout.quests:
        status = layout.column("status", key)
        return Within(status, *ACTIVE, True, text) if word == "active" else equals(status, STATUS[word], text)
    return equals(meaning.column("fact", subject), meaning.value(subject, value), text)


def _role(role: str, word: str, layout: Layout, text: str) -> Guard:
    column, fillings = layout.column("role", role), layout.mentions.fillings.get(role, [])
    if word == "filled":
        return opposite(equals(column, 0), text)
    return equals(column, fillings.index(word) + 1, text) if word in fillings else AnyOf((), text)


def _place(quest: n.Word, how: n.PlaceHow, stage: int, meaning: Meaning, text: str) -> Guard:
    status = meaning.column("status", quest)
    last = len(meaning.layout.quests[meaning.key(quest)].stages) - 1
    match how:
        case "at":
            return _stages(quest, stage, stage, meaning, text)
        case "before":
            not_started = Within(status, STATUS["unavailable"], STATUS["offered"])
            return AnyOf((not_started, _stages(quest, 0, stage - 1, meaning, "")), text)
        case "past":
            return AnyOf((equals(status, STATUS["done"]), _stages(quest, stage + 1, last, meaning, "")), text)
        case _:
            assert_never(how)


def _stages(quest: n.Word, low: int, high: int, meaning: Meaning, text: str) -> Guard:
    active = Within(meaning.column("status", quest), *ACTIVE)
    return All((active, Within(meaning.column("stage", quest), low, high)), text)


def _heard(line: str, by: str | None, layout: Layout, text: str) -> Guard:
    """The line was heard: from anybody, or at the object named."""
    conversation = next(c for c, of in layout.speeches if of == line)
    places = [at for at in layout.mentions.opened[conversation] if by is None or at == by]
    columns = [layout.find("heard", f"{at}/{line}") for at in places]
    return AnyOf(tuple(Within(c, 1, layout.table.columns[c].highest) for c in columns if c is not None), text)
