"""The project's names, and whether the names of a text name anything."""

from __future__ import annotations

import dataclasses
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from difflib import get_close_matches
from typing import Any

from ..phrases.nodes import Word, nodes_in
from ..phrases.vocabulary import EFFECTS, FIXED, GRADE, ITS, PURSES, SELVES, STATUSES
from ..project.designs import as_word, resolved
from ..project.problems import Problem
from ..project.records import NOTING, Design, Fact, Kind, Object, Project, Quest
from ..project.tree import Place, walk
from .limits import limit_problems
from .own_values import fixed_sort, is_its, meant, number_problems, numbers_left, open_value, with_numbers
from .roles import NameUse, name_uses

_UNNAMED = ("cue", "stage", "reply", *NOTING)
"""Types of records that nothing names by one name."""
_TYPE_WORDS = {
    "object": "an object",
    "fact": "a fact",
    "item": "an item",
    "quest": "a quest",
    "area": "an area",
    "ability": "an ability",
    "sound": "a sound",
    "line": "a line",
    "objective": "an objective",
    "conversation": "a conversation",
    "control": "a control",
    "purse": "money or experience",
    "stage": "a stage",
    "value": "a state",
    "state": "a state",
    "level": "a level",
    "exit": "an exit",
    "role": "a role",
    "tag": "a tag",
    "kind": "a kind",
    "namedneed": "a named need",
    "effect": "an effect",
    "button": "a button",
    "grade": "the level of experience",
    "player": "the player",
    "somebody": "somebody",
}


@dataclass(frozen=True)
class NameIndex:
    """Every name of a project: `things` by key as (type, record), the states of objects and kinds, the stages of quests."""

    things: Mapping[str, tuple[str, Any]]
    states: Mapping[str, tuple[str, ...]]
    values: Mapping[str, Mapping[str, str | float | bool]]
    stages: Mapping[str, tuple[str, ...]]
    controls: tuple[str, ...]
    buttons: Mapping[str, tuple[str, ...]] = field(default_factory=dict)
    money_name: str = "money"

    def type_of(self, key: str) -> str:
        """The type a key names, empty when it names nothing."""
        if key in PURSES:
            return "purse"
        if key == GRADE:
            return "grade"
        if key in self.controls:
            return "control"
        if key in EFFECTS and key not in self.things:
            return "effect"
        return self.things[key][0] if key in self.things else ""

    def sort_of(self, key: str) -> str:
        """What sort of thing a name is of, with its article: *an item*, *the player*."""
        found = self.type_of(key)
        return _TYPE_WORDS.get(found, f"a {found}" if found else key)

    def shown(self, key: str) -> str:
        """The shown name of a thing, empty for what has none."""
        if key == "money":
            return self.money_name
        return str(getattr(self.things[key][1], "name", "")) if key in self.things else ""

    def candidates(self, use: NameUse, this: str) -> tuple[str, ...]:
        """Every name that could stand in a slot, sorted; those of the owner for states, stages and values."""
        if use.owner is not None:
            return self._owned(use, this)
        found = {k for k, (t, _) in self.things.items() if t in use.types}
        if "purse" in use.types:
            found |= PURSES
        if "control" in use.types:
            found |= set(self.controls)
        if "grade" in use.types:
            found.add(GRADE)
        if "effect" in use.types:
            found |= set(EFFECTS)
        if "stage" in use.types:
            found |= {stage for stages in self.stages.values() for stage in stages}
        found |= {t for t in ("player", "somebody") if t in use.types}
        if "object" in use.types and this:
            found.add("this")
        return tuple(sorted(found))

    def own_names(self, use: NameUse, this: str) -> tuple[str, ...]:
        """The values of the owner's own that could stand in a slot; one that is not chosen yet fits everywhere."""
        found = []
        for name in self.values.get(this, ()):
            wrong = _use_problem(dataclasses.replace(use, word=Word(ITS + name)), self, this)
            found += [ITS + name] if wrong is None or wrong.code == "cue_hole" else []
        return tuple(found)

    def own_numbers(self, this: str) -> tuple[str, ...]:
        """The values of the owner's own that are numbers, or not chosen yet."""
        values = self.values.get(this, {})
        return tuple(ITS + k for k, v in values.items() if str(v).startswith("?") or fixed_sort(v) == FIXED[1])

    def owner_of(self, use: NameUse, this: str) -> str:
        """Whose state, stage or value a name is."""
        assert use.owner is not None
        return this if use.owner.text == "this" else meant(use.owner.text, self.values.get(this, {}))

    def _owned(self, use: NameUse, this: str) -> tuple[str, ...]:
        owner = self.owner_of(use, this)
        if owner in ("yes", "no"):
            return ("no", "yes")
        kind, record = self.things.get(owner, ("", None))
        if kind in ("object", "kind") and use.types == ("button",):
            return self.buttons.get(owner, ())
        if kind in ("item", "role"):
            return ("equipped",) if kind == "item" else ("filled", *self._objects())
        if kind in ("object", "kind"):
            return self.states[owner] if use.types == ("state",) else (*self.states[owner], "gone")
        if kind == "quest":
            return {"stage": self.stages[owner], "value": STATUSES}.get(use.types[0], ())
        if kind == "fact" and isinstance(record, Fact):
            return ("no", "yes") if record.type == "yes_no" else ()
        return ()

    def _objects(self) -> tuple[str, ...]:
        return tuple(sorted(k for k, (t, _) in self.things.items() if t == "object"))


def index_of(project: Project, places: Iterable[Place] | None = None) -> NameIndex:
    """The index of a project; `places` are its records where they were walked already. Raises `ProjectError` where an
    own value does not fit its kind."""
    records = walk(project) if places is None else places
    things = {p.record.key: (p.type, p.record) for p in records if p.type not in _UNNAMED}
    kinds = {k.key: k for k in project.kinds}
    states: dict[str, tuple[str, ...]] = {}
    values: dict[str, Mapping[str, str | float | bool]] = {}
    stages: dict[str, tuple[str, ...]] = {}
    buttons: dict[str, tuple[str, ...]] = {}
    for key, (_, record) in things.items():
        if isinstance(record, Kind):
            states[key], values[key] = tuple(s.key for s in record.design.states), record.design.values
            buttons[key] = _buttons(record.design)
        elif isinstance(record, Object):
            design = resolved(kinds[record.kind], record) if record.kind in kinds else Design()
            states[key], values[key] = tuple(s.key for s in design.states), design.values
            buttons[key] = _buttons(design)
        elif isinstance(record, Quest):
            stages[key] = tuple(s.key for s in record.stages)
    return NameIndex(
        things, states, values, stages, tuple(c.key for c in project.controls), buttons, project.money_name
    )


def _buttons(design: Design) -> tuple[str, ...]:
    return tuple(b.key for p in design.prompts for b in p.buttons)


def text_problems(tree: Any, index: NameIndex, this: str = "") -> list[Problem]:
    """Names in a tree that name nothing, or the wrong thing, and what cannot be said there.

    `this` is the key of the object or kind that owns the text, empty for any other owner.
    """
    values = index.values.get(this, {})
    numbers = number_problems(numbers_left(nodes_in(tree)), values)
    return use_problems(name_uses(tree), index, this) + numbers + limit_problems(with_numbers(tree, values), this)


def use_problems(uses: Iterable[NameUse], index: NameIndex, this: str = "") -> list[Problem]:
    """Of the names a text uses those that name nothing, or the wrong thing."""
    return [p for use in uses if (p := _use_problem(use, index, this))]


def _use_problem(use: NameUse, index: NameIndex, this: str) -> Problem | None:
    word = use.word
    if word.is_hole or (use.owner is not None and use.owner.is_hole):
        return None
    if is_its(word.text):
        return _its_problem(use, index, this)
    if use.owner is not None:
        return _owned_problem(use, index, this)
    if word.text in SELVES:
        if (word.text == "this" and "object" in use.types and this) or word.text in use.types:
            return None
        return Problem(
            "name_wrong_type", f"“{word.text}” cannot stand here.", f"Name {_wanted(use.types)}.", _place(word)
        )
    found = index.type_of(word.text)
    if found in use.types:
        return None
    near = get_close_matches(word.text, index.candidates(use, this), 3)
    fix = f"Perhaps {', '.join(near)}." if near else f"Name {_wanted(use.types)}, or make {word.text} first."
    if found:
        return Problem(
            "name_wrong_type",
            f"“{word.text}” is {_TYPE_WORDS.get(found, 'a ' + found)}, but {_wanted(use.types)} must stand here.",
            fix,
            _place(word),
        )
    return Problem("name_unknown", f"Nothing is called “{word.text}”.", fix, _place(word))


def _its_problem(use: NameUse, index: NameIndex, this: str) -> Problem | None:
    values = index.values.get(this, {})
    name = use.word.text.removeprefix("its ")
    if name not in values:
        could = ", ".join(f"its {v}" for v in values) or "no value is declared here"
        return Problem("value_unknown", f"“{name}” is no value of this kind.", f"It can be: {could}.", _place(use.word))
    if str(values[name]).startswith("?"):
        return open_value(name, _place(use.word))
    fixed = fixed_sort(values[name]) if use.owner is None else ""
    if fixed:
        if fixed in use.types:
            return None
        says = f"“its {name}” is {as_word(values[name])}, but {_wanted(use.types)} must stand here."
        return Problem("name_wrong_type", says, f"Name {_wanted(use.types)}.", _place(use.word))
    inner = Word(as_word(values[name]), use.word.span)
    return _use_problem(NameUse(inner, use.types, use.owner), index, this)


def _owned_problem(use: NameUse, index: NameIndex, this: str) -> Problem | None:
    owner = index.owner_of(use, this)
    kind, record = index.things.get(owner, ("", None))
    if (kind == "" and (owner not in ("yes", "no"))) and (not _is_number(Word(owner)) or _is_number(use.word)):
        return None
    if kind == "fact" and record.type == "number" and _is_number(use.word):
        return None
    could = index.candidates(use, this)
    if use.word.text in could:
        return None
    what = (
        "stage"
        if kind == "quest" and use.types == ("stage",)
        else {"fact": "value", "quest": "status", "item": "condition", "role": "condition"}.get(
            kind, "button" if use.types == ("button",) else "state" if kind else "value"
        )
    )
    owner = use.owner.text if kind == "" and use.owner is not None else owner
    near = ", ".join(could) if could else "a number"
    return Problem(
        "value_unknown", f"{owner} has no {what} “{use.word.text}”.", f"It can be: {near}.", _place(use.word)
    )


def _is_number(word: Word) -> bool:
    return word.text.lstrip("-").isdigit()


def _wanted(types: Iterable[str]) -> str:
    return " or ".join(_TYPE_WORDS.get(t, t) for t in types if t not in FIXED)


def _place(word: Word) -> str:
    return f"characters {word.span[0] + 1}–{word.span[1]}"
