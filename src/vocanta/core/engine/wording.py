"""Wordings as the player reads them: placeholders filled in, needs put into words."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable
from functools import cached_property
from typing import Any, assert_never

from ..cuetext.own_values import is_its, meant
from ..cuetext.prose import prose_of_needs, prose_of_steps
from ..cuetext.reading import CueTextError, read_needs, read_steps
from ..cuetext.writing import write_need
from ..phrases import nodes as n
from ..phrases.vocabulary import GRADE, ITS, STATUSES
from ..progress.columns import Column, What
from ..progress.layout import LEAVING, OUTCOMES, Layout, lay_out
from ..progress.placed import COPY_OF
from ..project.designs import cues_in_order, resolved
from ..project.english import counted, singular
from ..project.records import Design, Kind, Object, Project

Value = Callable[[What, str], int]
"""Gives the value of a column by what it says and of which key."""
_PLACEHOLDER = re.compile(r"\{(its [a-z][a-z0-9_]*|[a-z_]+)(?::([a-z0-9_]+))?\}")


class Words:
    """Names and values of a project in words, for one program's rows."""

    def __init__(self, project: Project, layout: Callable[[], Layout] | None = None):
        self.project = project
        self._laid_out = layout or (lambda: lay_out(project))
        self.names: dict[str, str] = {o.key: o.name for lv in project.levels for o in lv.objects}
        groups: list[Iterable[Any]] = [
            project.items,
            project.facts,
            project.abilities,
            project.quests,
            project.sounds,
            project.conversations,
            project.controls,
            project.kinds,
            project.roles,
            project.tags,
            project.named_needs,
            project.levels,
        ]
        for group in groups:
            self.names |= {r.key: r.name for r in group}
        self.names |= {a.key: a.name for lv in project.levels for a in lv.areas}
        self.names |= {e.key: e.name for lv in project.levels for e in lv.exits}
        self.names |= {o.key: o.name for q in project.quests for s in q.stages for o in s.objectives}
        self.names |= {"money": project.money_name, "experience": "experience"}
        self.names |= {GRADE: "level of experience", "player": "the player", "somebody": "somebody"}
        self.stage_names = {(q.key, s.key): s.name for q in project.quests for s in q.stages}
        self._lines = {line.key: line for talk in project.conversations for line in talk.lines}
        self.controls = {c.key: c for c in project.controls}

    @cached_property
    def layout(self) -> Layout:
        """The columns that values are read by; got when first asked for: names need none."""
        return self._laid_out()

    def name(self, key: str) -> str:
        """The shown name of a thing, that of its kind for a copy, a line by its first words; else the key itself."""
        if COPY_OF in key and key in self.layout.placed:
            return self.layout.placed[key].thing.name
        return self.line_start(key) if key in self._lines else self.names.get(key, key.replace("_", " "))

    def state(self, key: str, number: int) -> str:
        """The shown name of an object's state."""
        return self.layout.placed[key].design.states[number].name

    def stage(self, quest: str, stage: str) -> str:
        """The shown name of a stage."""
        return self.stage_names.get((quest, stage), stage)

    @cached_property
    def _kinds(self) -> dict[str, Kind]:
        return {kind.key: kind for kind in self.project.kinds}

    @cached_property
    def _objects(self) -> dict[str, Object]:
        return {thing.key: thing for level in self.project.levels for thing in level.objects}

    def _design(self, key: str) -> Design | None:
        """The design of an object, a copy or a kind. Nothing is laid out for it: a page asks only for names."""
        if key in self._kinds:
            return self._kinds[key].design
        if COPY_OF in key:
            return self.layout.placed[key].design if key in self.layout.placed else None
        thing = self._objects.get(key)
        return None if thing is None or thing.kind not in self._kinds else resolved(self._kinds[thing.kind], thing)

    def owned(self, word: str, owner: str) -> str:
        """A name that belongs to something: a stage and a button by their words in quotes, a state by its name."""
        if (owner, word) in self.stage_names:
            return f"“{self.stage(owner, word)}”"
        design = self._design(owner)
        for state in design.states if design is not None else ():
            if state.key == word:
                return state.name
        buttons = (b for p in design.prompts for b in p.buttons) if design is not None else ()
        wording = next((b.wording for b in buttons if b.key == word), "")
        if not wording and word in self.names and any(role.key == owner for role in self.project.roles):
            return self.name(word)
        return f"“{wording}”" if wording else word.replace("_", " ")

    def line_start(self, key: str) -> str:
        """A line by its first words."""
        return f"“{first_words(self._lines[key].wordings[0])}”"

    def reply_start(self, line: str, key: str) -> str:
        """A reply by its first words."""
        return f"“{first_words(self.reply(line, key))}”"

    def reply(self, line: str, key: str) -> str:
        """How a reply is worded, the first way if there are several."""
        return next(r.wordings[0] for r in self._lines[line].replies if r.key == key)

    def key_cap(self, control: str) -> str:
        """The first key bound to a control, as shown on a key."""
        bound = self.controls[control].keys if control in self.controls else ()
        return bound[0].upper() if bound else control

    def filled(self, wording: str, this: str, control: str, value: Value) -> str:
        """A wording with `{control}`, `{object}`, `{count:item}` and `{its …}`, a value of the object's, filled in; unknown
        ones stay as they are."""

        def fill(match: re.Match[str]) -> str:
            what, key = match.group(1), match.group(2) or ""
            if what == "object" and not key:
                return self.name(this)
            if what == "control" and not key:
                return self.key_cap(control)
            if what == "count" and self.layout.find("item", key) is not None:
                return str(value("item", key))
            if is_its(what) and not key and (own := self._its(what, this)):
                return own
            return match.group(0)

        return _PLACEHOLDER.sub(fill, wording)

    def _its(self, word: str, this: str) -> str:
        """A value of an object's own in words: the name of what it names, a number, yes or no; empty for none."""
        design = self._design(this)
        own = meant(word, design.values) if design is not None else ""
        return self.names.get(own, own)

    def need(self, text: str, value: Value, this: str = "") -> str:
        """One need in plain words with the value now: `needs 3 dried pods, has 2`."""
        try:
            tops = read_needs(text)
        except CueTextError:
            return text
        return self._need(tops[0].need, value, this) if len(tops) == 1 else text

    def need_sentence(self, text: str, this: str) -> str:
        """A need as prose, by its names: `Dry Feet is at Open the sluice`."""
        tokens = prose_of_needs(
            read_needs(text), lambda word, owner: self._shown(word, this if owner == "this" else owner, this)
        )
        sentence = "".join(t.text for t in tokens).removeprefix("the player ")
        return sentence[:1].upper() + sentence[1:]

    def step_sentence(self, text: str, this: str) -> str:
        """A step as prose, by its names: `have Pip bring it later`."""
        tokens = prose_of_steps(
            read_steps(text), lambda word, owner: self._shown(word, this if owner == "this" else owner, this)
        )
        return "".join(t.text for t in tokens)

    def _shown(self, word: str, owner: str, this: str) -> str:
        if owner:
            return self.owned(word, owner)
        return self.name(self._key(word, this))

    def column(self, column: Column, value: int) -> str:
        """A column's value in words; empty for columns that only follow from others."""
        key = column.key
        said: dict[What, Callable[[], str]] = {
            "item": lambda: f"has {value} of at most {column.highest}",
            "fact": lambda: ("yes" if value else "no") if column.highest == 1 else str(value),
            "state": lambda: f"is {self.state(key, value)}",
            "status": lambda: f"is {STATUSES[value]}",
            "stage": lambda: f"stage {stages[value].name}" if (stages := self.layout.quests[key].stages) else "",
            "money": lambda: str(value),
            "experience": lambda: str(value),
            "met": lambda: "met" if value else "not met",
            "exists": lambda: "" if value else "gone",
        }
        return said[column.what]() if column.what in said else ""

    def standing(self, column: Column, value: int) -> str:
        """What has come about by a column's value, whose it is included; empty for columns that only follow from others."""
        key, what = column.key, column.what
        first, _, last = column.name.partition(":")[2].rpartition("/")
        name, times = self.name(key), counted(value, "time")
        said: dict[What, Callable[[], str]] = {
            "item": lambda: f"has {name}" if value == 1 else f"has {counted(value, name)}",
            "fact": lambda: (name if value else f"not: {name}") if column.highest == 1 else f"{name}: {value}",
            "state": lambda: f"{name} {self.state(key, value)}",
            "exists": lambda: f"{name} there" if value else f"{name} gone",
            "exit": lambda: f"{name} {'open' if value else 'closed'}",
            "ability": lambda: f"can use {name}" if value else f"cannot use {name}",
            "ability_uses": lambda: f"{name} for {times}",
            "gear": lambda: f"{key.replace('_', ' ')}: {self.name(self.layout.slots[key][value - 1])}",
            "role": lambda: f"{self.name(self.layout.mentions.fillings[key][value - 1])} is {name}",
            "money": lambda: self.money(value),
            "experience": lambda: f"{value} experience",
            "status": lambda: f"{name} {STATUSES[value]}",
            "stage": lambda: f"{name} at “{self.layout.quests[key].stages[value].name}”",
            "completions": lambda: f"{name} done {times}",
            "met": lambda: f"{name}: met",
            "count": lambda: f"{name}: {value}",
            "limit": lambda: f"the time for {name} runs",
            "uses": lambda: f"{name} can be used {times} more",
            "heard": lambda: f"{self.line_start(last)} heard",
            "chosen": lambda: f"{self.reply_start(first.rpartition('/')[2], last)} answered",
            "tally": lambda: f"{self.name(last)} {first} {times}",
            "mark": lambda: f"mark on {name}",
            "down": lambda: f"{name} down" if value else "",
            "ended": lambda: f"the level {OUTCOMES[value]}" if value else "",
            "ending": lambda: "the level about to end",
            "entry": lambda: f"comes back at {self._entry(value)}",
            "cooling": lambda: f"{name} cooling down",
            "moving": lambda: f"{name} on its way from {self.state(key, value - 1)}",
            "carrier": lambda: f"{name} on the way{' back' if value == LEAVING else ''}",
            "later": lambda: f"what {self.name(first or last)} asked for still to come",
            "waits": lambda: f"a wait in {self.rule(column.origin)}",
            "talk": lambda: f"{self.line_start(self.layout.speeches[value - 1][1])} being said",
        }
        return said[what]() if what in said else ""

    def _entry(self, value: int) -> str:
        """An entry in words: the start of a level, an exit, or what the player was moved to."""
        what, _, key = self.layout.entries[value].partition(":")
        return f"the start of {self.name(key)}" if what == "start" else self.name(key)

    @cached_property
    def _cues(self) -> dict[str, str]:
        """Every cue in words by its place: its number in the order in which its owner's are read, and the owner."""
        kinds, found = {k.key: k for k in self.project.kinds}, dict[str, str]()
        lists = [(k.name, [f"kind/{k.key}/cue/{c.key}" for c in k.cues]) for k in self.project.kinds]
        for level in self.project.levels:
            for thing in level.objects:
                lists.append((thing.name, [place for _, place in cues_in_order(kinds.get(thing.kind), thing)]))
            lists.append((level.name, [f"level/{level.key}/cue/{c.key}" for c in level.cues]))
            lists += [(a.name, [f"area/{a.key}/cue/{c.key}" for c in a.cues]) for a in level.areas]
        lists += [(q.name, [f"quest/{q.key}/cue/{c.key}" for c in q.cues]) for q in self.project.quests]
        for name, places in lists:
            for number, place in enumerate(places, start=1):
                found.setdefault(place, f"cue {number} of {name}")
        return found

    def rule(self, origin: str) -> str:
        """The rule behind something in words: *cue 2 of Lamp*, *line of Odile*; for what is no rule the thing it lies in."""
        if origin in self._cues:
            return self._cues[origin]
        of, _, rest = origin.partition("/")
        if of == "conversation":
            return f"line of {self.place(origin)}"
        if of == "quest" and rest.endswith("/rewards"):
            return f"rewards of {self.place(origin)}"
        return self.place(origin) if rest else "walking"

    def place(self, origin: str) -> str:
        """An origin in words: the name of the thing it lies in."""
        parts = origin.split("/")
        return self.name(parts[1]) if len(parts) > 1 else origin

    def _need(self, need: n.Need, value: Value, this: str) -> str:
        """A need as what it asks for and how it is now."""
        match need:
            case n.And(needs) | n.Or(needs):
                joint = " and " if isinstance(need, n.And) else " or "
                return joint.join(self._need(member, value, this) for member in needs)
            case n.Not(inner):
                return self.need_sentence(write_need(inner), this)
            case n.HoleNeed():
                return "not filled in yet"
            case n.Has(item, count, how):
                return self._has(self._key(item.text, this), int(count.value or 0) if count else 1, how, value)
            case n.Is(subject, state) if self._fixed(subject.text, this):
                asked = self._key(state.text, this)
                return f"{subject.text} must be {asked}, is {self._its(subject.text, this)}"
            case n.Is(subject, state):
                owner = self._key(subject.text, this)
                return f"{self.name(owner)} must be {self.owned(self._key(state.text, this), owner)}"
            case n.Place(quest, how, stage):
                key = self._key(quest.text, this)
                return f"{self.name(key)} must be {how} {self.owned(self._key(stage.text, this), key)}"
            case n.Between(quest, first, last):
                key = self._key(quest.text, this)
                ends = [self.owned(self._key(w.text, this), key) for w in (first, last)]
                return f"{self.name(key)} must be between {ends[0]} and {ends[1]}"
            case n.Heard(line, by):
                return f"{self._shown(line.text, '', this)} was not heard" + (
                    f" from {self.name(self._key(by.text, this))}" if by else ""
                )
            case n.Holds() | n.Compare() | n.Met() | n.Can() | n.Tally() | n.Around() | n.Inside() | n.Chance():
                return self._plain_need(need, value, this)
            case _:
                assert_never(need)

    def _has(self, key: str, wanted: int, how: n.Comparison, value: Value) -> str:
        before = "" if how == "at least" else f"{how} "
        amount = self.name(key) if how == "at least" and wanted == 1 else counted(wanted, self.name(key))
        return f"needs {before}{amount}, has {value('item', key)}"

    def _plain_need(
        self,
        need: n.Holds | n.Compare | n.Met | n.Can | n.Tally | n.Around | n.Inside | n.Chance,
        value: Value,
        this: str,
    ) -> str:
        match need:
            case n.Holds(fact) if self._fixed(fact.text, this):
                return f"{fact.text}: no"
            case n.Compare(subject, how, number) if self._fixed(subject.text, this):
                own = self._its(subject.text, this)
                return f"{subject.text} must be {how} {int(number.value or 0)}, is {own}"
            case n.Holds(fact):
                return f"{self.name(self._key(fact.text, this))}: no"
            case n.Compare(subject, how, number):
                return self._compared(self._key(subject.text, this), how, int(number.value or 0), value)
            case n.Met(objective):
                return f"not met: {self.name(self._key(objective.text, this))}"
            case n.Can(ability):
                return f"needs {self.name(self._key(ability.text, this))}"
            case n.Tally(subject, verb, how, count):
                key = self._key(subject.text, this)
                times = f"{'' if how == 'at least' else how + ' '}{counted(int(count.value or 0), 'time')}"
                return f"{self.name(key)} must be {verb} {times}, is {value('tally', f'{verb}/{key}')}"
            case n.Around(who, how, thing):
                return f"{self.name(self._key(who.text, this))} must be {how} {self.name(self._key(thing.text, this))}"
            case n.Inside(_, place):
                return f"the player must be in {self.name(self._key(place.text, this))}"
            case n.Chance(one_in):
                return f"chance, one in {int(one_in.value or 1)}"
            case _:
                assert_never(need)

    def _compared(self, key: str, how: n.Comparison, number: int, value: Value) -> str:
        if key == "money":
            return f"needs {how} {self.money(number)}, has {value('money', '')}"
        if key == "experience":
            return f"needs {how} {number} experience, has {value('experience', '')}"
        if self.layout.find("fact", key) is not None:
            return f"{self.name(key)} must be {how} {number}, is {value('fact', key)}"
        return f"needs {how} {number} {self.name(key)}"

    def money(self, number: int) -> str:
        """So much money, as the project calls it."""
        name = self.project.money_name
        return f"{number} {singular(name) if number == 1 else name}"

    def _key(self, word: str, this: str) -> str:
        """The name that a word stands for: *this*, and what a kind leaves to its objects, read for this object."""
        if is_its(word):
            design = self._design(this)
            return (meant(word, design.values) if design is not None else "") or word
        return this if word == "this" else word

    def _fixed(self, word: str, this: str) -> bool:
        """Whether a word is a number, yes or no of an object's own, which nothing changes."""
        design = self._design(this) if is_its(word) else None
        value = design.values.get(word.removeprefix(ITS), "") if design is not None else ""
        return not isinstance(value, str)


def first_words(wording: str, most: int = 48) -> str:
    """The first words of a wording, with … where it goes on.

    >>> first_words("Hold it till your arms ache, then a little longer.", 20)
    'Hold it till your…'
    """
    if len(wording) <= most:
        return wording
    return wording[:most].rsplit(" ", 1)[0].rstrip(",.;:") + "…"
