"""What the texts of a project ask columns for: counts, sensed places, chances, copies, roles, deliveries.

One walk over all texts before the columns are laid out; texts that cannot be read mention nothing.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from typing import Any

from ..cuetext import nodes as n
from ..cuetext.reading import CueTextError, read_cue, read_needs, read_steps
from ..cuetext.writing import write_step
from ..project.designs import cues_of
from ..project.records import Cue, Design, Kind, Object, Project

PLAYER = "player"
COPY_OF = "@"
"""Stands in the key of a copy that a step puts, between its kind and the step."""


@dataclass(frozen=True)
class Placed:
    """One object with its resolved design and where it is placed. A copy that a step puts names its `pool`."""

    thing: Object
    design: Design
    level: str
    pool: str = ""

    @property
    def state_numbers(self) -> dict[str, int]:
        """The number of each state."""
        return {s.key: i for i, s in enumerate(self.design.states)}

    @property
    def owner(self) -> str:
        """Whose copies its own steps put: its own, or for a copy those of its kind."""
        return f"kind/{self.thing.kind}" if self.pool else self.thing.key


@dataclass(frozen=True, slots=True)
class Pool:
    """The copies that one step may have put at a time; `level` is empty where they may come to lie in any."""

    key: str
    kind: Kind
    most: int
    level: str
    origin: str

    @property
    def copies(self) -> tuple[str, ...]:
        """The keys of its copies, in the order in which they are put."""
        return tuple(f"{self.key}.{i}" for i in range(1, self.most + 1))


@dataclass
class Mentions:
    """Everything that texts mention, by what it needs. Keys are resolved: no `this`, no `its …`."""

    placed: dict[str, Placed]
    tallies: dict[tuple[str, str], int] = field(default_factory=dict)
    arounds: dict[tuple[str, str, str], None] = field(default_factory=dict)
    chances: dict[str, int] = field(default_factory=dict)
    touched: set[str] = field(default_factory=set)
    looked_at: set[str] = field(default_factory=set)
    struck: dict[str, list[str]] = field(default_factory=dict)
    downed: set[str] = field(default_factory=set)
    fillings: dict[str, list[str]] = field(default_factory=dict)
    laters: dict[str, list[n.Later]] = field(default_factory=dict)
    carriers: dict[str, None] = field(default_factory=dict)
    pools: dict[tuple[str, str], Pool] = field(default_factory=dict)
    put: set[str] = field(default_factory=set)
    """Objects, not kinds, that a step puts somewhere."""
    moves: dict[str, None] = field(default_factory=dict)
    ends: dict[n.EndLevel, None] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class _Text:
    """One text: whose it is, what `this` is in it, its place, its tree."""

    owner: str
    this: str
    place: str
    tree: Any


def mentions_of(project: Project, placed: dict[str, Placed]) -> Mentions:
    """The mentions of a project; copies that steps put are added to `placed`, in the order of their steps."""
    found = Mentions(placed)
    kinds = {k.key: k for k in project.kinds}
    waiting = list(_texts(project, placed, kinds))
    while waiting:
        text = waiting.pop(0)
        for node in n.nodes_in(text.tree):
            pool = _note(found, node, text, project, kinds)
            if pool is not None:
                waiting += _copies(found, pool)
    return found


def chance_key(place: str, this: str, need: n.Chance) -> str:
    """The name of a chance need: its text's place, whose it is there, and where in the text it stands."""
    return f"{this}/{place}/{need.span[0]}"


def _texts(project: Project, placed: dict[str, Placed], kinds: dict[str, Kind]) -> Iterator[_Text]:
    for level in project.levels:
        yield from _cue_texts(level.cues, f"level/{level.key}", "")
        for area in level.areas:
            yield from _cue_texts(area.cues, f"area/{area.key}", "")
    for one in placed.values():
        yield from _object_texts(one, kinds)
    for talk in project.conversations:
        this = talk.talker if talk.talker in placed else ""
        for line in talk.lines:
            place = f"conversation/{talk.key}/line/{line.key}"
            yield from _plain_texts(line.needs, line.steps, place, this)
            for reply in line.replies:
                yield from _plain_texts(reply.needs, reply.steps, f"{place}/reply/{reply.key}", this)
    for quest in project.quests:
        place = f"quest/{quest.key}"
        yield from _cue_texts(quest.cues, place, "")
        yield from _read(read_needs, quest.needs, place, "", f"{place}/needs")
        yield from _read(read_steps, quest.rewards, place, "", f"{place}/rewards")
        for stage in quest.stages:
            yield from _read(read_steps, stage.entering, place, "", f"{place}/stage/{stage.key}/entering")
    for need in project.named_needs:
        place = f"namedneed/{need.key}"
        yield from _read(read_needs, need.text, place, "", f"{place}/text")


def _object_texts(one: Placed, kinds: dict[str, Kind]) -> Iterator[_Text]:
    for cue, place in cues_of(kinds.get(one.thing.kind), one.thing):
        yield from _read(read_cue, cue.text, one.owner, one.thing.key, place)


def _cue_texts(cues: tuple[Cue, ...], owner: str, this: str) -> Iterator[_Text]:
    for cue in cues:
        yield from _read(read_cue, cue.text, owner, this, f"{owner}/cue/{cue.key}")


def _plain_texts(needs: str, steps: str, place: str, this: str) -> Iterator[_Text]:
    owner = this or "/".join(place.split("/")[:2])
    yield from _read(read_needs, needs, owner, this, f"{place}/needs")
    yield from _read(read_steps, steps, owner, this, f"{place}/steps")


def _read(reader: Callable[[str], Any], text: str, owner: str, this: str, place: str) -> Iterator[_Text]:
    if not text.strip():
        return
    try:
        tree = reader(text)
    except CueTextError:
        return
    if not n.has_hole(tree):
        yield _Text(owner, this, place, tree)


def _key(word: n.Word, text: _Text, found: Mentions) -> str:
    if word.text == "this":
        return text.this
    if word.text.startswith("its ") and text.this in found.placed:
        return str(found.placed[text.this].design.values.get(word.text.removeprefix("its "), ""))
    return word.text


def _note(found: Mentions, node: Any, text: _Text, project: Project, kinds: dict[str, Kind]) -> Pool | None:
    """Take in one node; the pool that it opened, if any."""
    match node:
        case n.Tally(subject, verb, _, count):
            key = (verb, _key(subject, text, found))
            found.tallies[key] = max(found.tallies.get(key, 0), int(count.value or 0))
        case n.Around(who, how, thing):
            found.arounds[_key(thing, text, found), how, who.text] = None
        case n.Chance(one_in):
            found.chances[chance_key(text.place, text.this, node)] = int(one_in.value or 1)
        case n.Moment("touched"):
            found.touched.add(text.this)
        case n.Moment("looked at"):
            found.looked_at.add(text.this)
        case n.Moment("struck", word):
            for ability in [a.key for a in project.abilities] if word is None else [_key(word, text, found)]:
                if text.this not in (struck := found.struck.setdefault(ability, [])):
                    struck.append(text.this)
        case n.Fill(role, thing):
            fillings = found.fillings.setdefault(role.text, [])
            if (key_ := _key(thing, text, found)) not in fillings:
                fillings.append(key_)
        case n.PutAt() | n.Scatter() | n.Drop():
            return _note_pool(found, node, text, project, kinds)
        case _:
            _note_rarer(found, node, text)
    return None


def _note_rarer(found: Mentions, node: Any, text: _Text) -> None:
    match node:
        case n.Down(who) if who.text != PLAYER:
            found.downed.add(_key(who, text, found))
        case n.Later(_, carrier):
            laters = found.laters.setdefault(text.this or text.owner, [])
            if node not in laters:
                laters.append(node)
            if carrier is not None:
                found.carriers[_key(carrier, text, found)] = None
        case n.MovePlayer(place):
            found.moves[_key(place, text, found)] = None
        case n.EndLevel():
            found.ends[node] = None


def _note_pool(
    found: Mentions, node: n.PutAt | n.Scatter | n.Drop, text: _Text, project: Project, kinds: dict[str, Kind]
) -> Pool | None:
    what = _key(node.what, text, found)
    kind = kinds.get(what)
    identity = (text.owner, write_step(node))
    if what in found.placed:
        found.put.add(what)
    if kind is None or identity in found.pools:
        return None
    at = node.feet if isinstance(node, n.Drop) else node.around if isinstance(node, n.Scatter) else node.at
    place = text.this if at is None else _key(at, text, found)
    one = found.placed.get(place)
    fixed = one is not None and not one.pool and not isinstance(node, n.Drop)
    number = sum(1 for owner, _ in found.pools if owner == text.owner) + 1
    most = int(node.most.value or 1) if node.most is not None else project.usual.most_put
    key = f"{kind.key}{COPY_OF}{text.owner.replace('/', '_')}_{number}"
    pool = Pool(key, kind, most, one.level if fixed and one else "", text.place)
    found.pools[identity] = pool
    return pool


def _copies(found: Mentions, pool: Pool) -> list[_Text]:
    """Lay out the copies of a pool; the texts that they bring along."""
    texts: list[_Text] = []
    for copy in pool.copies:
        thing = Object(copy, pool.kind.name, pool.kind.key, 0.0, 0.0, there_at_start=False)
        one = Placed(thing, pool.kind.design, pool.level, pool.key)
        found.placed[copy] = one
        texts += _object_texts(one, {pool.kind.key: pool.kind})
    return texts
