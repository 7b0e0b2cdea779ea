"""What the texts of a project ask columns for: counts, sensed places, chances, copies, roles, deliveries, zones.

One walk over all texts before the columns are laid out; texts that cannot be read mention nothing.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field
from types import MappingProxyType
from typing import Any, assert_never

from ..cuetext.analysing import Analysis, Start, analysed
from ..cuetext.own_values import Values, is_its, meant
from ..cuetext.reading import CueTextError
from ..cuetext.writing import write_step
from ..phrases import nodes as n
from ..phrases.vocabulary import PLAYER
from ..project.designs import cues_of
from ..project.records import Cue, Kind, Object, Project
from .placed import COPY_OF, Placed, Pool

NotedNeed = n.Tally | n.Around | n.Inside | n.Chance | n.Heard | n.Compare
NotedStep = n.Down | n.Fill | n.Later | n.MovePlayer | n.EndLevel | n.Marking | n.Limit | n.Grant | n.Talk
Noted = n.Moment | n.PutAt | n.Scatter | n.Drop | n.Set | n.SetNext | n.Remove | n.Swap | NotedNeed | NotedStep
"""The nodes that ask for something."""
_NO_VALUES: Values = MappingProxyType({})


@dataclass
class Mentions:
    """Everything that texts mention, by what it needs. Keys are resolved: no `this`, no `its …`."""

    placed: dict[str, Placed]
    tallies: dict[tuple[n.TallyVerb, str], int] = field(default_factory=dict)
    arounds: dict[tuple[str, n.AroundHow, str], None] = field(default_factory=dict)
    chances: dict[str, int] = field(default_factory=dict)
    touched: set[str] = field(default_factory=set)
    looked_at: set[str] = field(default_factory=set)
    paired: set[str] = field(default_factory=set)
    """Objects that somebody waits for to be come near to, or gone from."""
    zones: set[str] = field(default_factory=set)
    """Objects whose reach somebody asks for as a place."""
    struck: dict[str, list[str]] = field(default_factory=dict)
    downed: set[str] = field(default_factory=set)
    changed: set[str] = field(default_factory=set)
    """Objects that a step sets to a state."""
    removed: set[str] = field(default_factory=set)
    put: dict[str, list[n.PutAt | None]] = field(default_factory=dict)
    """Objects, not kinds, that a step puts somewhere, with those steps; None where the place follows from no step."""
    puts_at: dict[tuple[str, n.PutAt], str] = field(default_factory=dict)
    """For each such step of an owner the object at which it puts."""
    swapped: dict[str, list[str]] = field(default_factory=dict)
    marked: set[str] = field(default_factory=set)
    suspended: set[str] = field(default_factory=set)
    granted: dict[str, int] = field(default_factory=dict)
    """The most uses that a step grants of an ability."""
    heard: set[str] = field(default_factory=set)
    """Lines whose having been heard is asked for."""
    opened: dict[str, dict[str, None]] = field(default_factory=dict)
    """For each conversation the objects at which it may be opened, '' for nowhere."""
    fillings: dict[str, list[str]] = field(default_factory=dict)
    laters: dict[str, dict[str, list[n.Later]]] = field(default_factory=dict)
    """For each owner and name, empty for none, the steps that let it come later."""
    carriers: dict[str, None] = field(default_factory=dict)
    pools: dict[tuple[str, str], Pool] = field(default_factory=dict)
    moves: dict[str, None] = field(default_factory=dict)
    ends: dict[n.EndLevel, None] = field(default_factory=dict)
    waits: dict[tuple[str, str], int] = field(default_factory=dict)
    """For each cue that waits, by its `this` and place, how often."""
    feet: set[str] = field(default_factory=set)
    """Objects at whose place something is put or dropped, or to which the player is moved."""
    steps: dict[tuple[str, str], int] = field(default_factory=dict)
    """How often each step that puts copies stands in the texts of an owner."""
    named_puts: set[str] = field(default_factory=set)
    """What steps put, as it is written."""
    stood: dict[tuple[str, str], None] = field(default_factory=dict)
    """The (this, cue) of cues that put something where it stood after a wait."""

    def movable(self, key: str) -> bool:
        """Whether an object can come to be elsewhere by a step."""
        return key in self.put or key in self.swapped or key in self.carriers or bool(self.placed[key].pool)


def pending(owner: str, name: str) -> str:
    """The key of what an owner waits for, by its name; empty for what has none."""
    return f"{owner}/{name}" if name else owner


@dataclass(frozen=True, slots=True)
class _Text:
    """One text: whose it is, what `this` is in it, its place, what stands in it, and at which objects it is said."""

    owner: str
    this: str
    place: str
    read: Analysis
    said_at: tuple[str, ...] = ()


def mentions_of(project: Project, placed: dict[str, Placed]) -> Mentions:
    """The mentions of a project; copies that steps put are added to `placed`, in the order of their steps."""
    found = Mentions(placed)
    kinds = {k.key: k for k in project.kinds}
    waiting = list(_texts(project, placed, kinds))
    _note_puts(found, [*waiting, *(t for kind in project.kinds for t in _cue_texts(kind.cues, f"kind/{kind.key}"))])
    for text in waiting:
        waits = _waits(text.read.tree)
        if waits:
            found.waits[text.this, text.place] = len(waits)
        for node in noted(text.read):
            pool = _note(found, node, text, project, kinds)
            if pool is not None:
                waiting += _copies(found, pool)
    for objective in (o for q in project.quests for s in q.stages for o in s.objectives if o.type == "go"):
        found.zones |= {w for t in objective.targets for w in found.fillings.get(t, [t]) if w in placed}
    _pass_on(found, project)
    return found


def noted(read: Analysis) -> tuple[Noted, ...]:
    """The nodes of a text that ask for something."""
    return tuple(node for node in read.nodes if isinstance(node, Noted))


def chance_key(place: str, this: str, need: n.Chance) -> str:
    """The name of a chance need: its text's place, whose it is there, and where in the text it stands."""
    return f"{this}/{place}/{need.span[0]}"


def _texts(project: Project, placed: dict[str, Placed], kinds: dict[str, Kind]) -> Iterator[_Text]:
    for level in project.levels:
        yield from _cue_texts(level.cues, f"level/{level.key}")
        for area in level.areas:
            yield from _cue_texts(area.cues, f"area/{area.key}")
    for one in placed.values():
        yield from _object_texts(one, kinds)
    for talk in project.conversations:
        this = talk.talker if talk.talker in placed else ""
        values = placed[this].design.values if this else _NO_VALUES
        for line in talk.lines:
            place = f"conversation/{talk.key}/line/{line.key}"
            yield from _plain_texts(line.needs, line.steps, place, this, talk.key, values)
            for reply in line.replies:
                at = f"{place}/reply/{reply.key}"
                yield from _plain_texts(reply.needs, reply.steps, at, this, talk.key, values)
    for quest in project.quests:
        place = f"quest/{quest.key}"
        yield from _cue_texts(quest.cues, place)
        yield from _read("needs", quest.needs, place, "", f"{place}/needs")
        yield from _read("steps", quest.rewards, place, "", f"{place}/rewards")
        for stage in quest.stages:
            yield from _read("steps", stage.entering, place, "", f"{place}/stage/{stage.key}/entering")
    for need in project.named_needs:
        place = f"namedneed/{need.key}"
        yield from _read("needs", need.text, place, "", f"{place}/text")


def _object_texts(one: Placed, kinds: dict[str, Kind]) -> Iterator[_Text]:
    for cue, place in cues_of(kinds.get(one.thing.kind), one.thing):
        yield from _read("cue", cue.text, one.owner, one.thing.key, place, values=one.design.values)


def _cue_texts(cues: tuple[Cue, ...], owner: str) -> Iterator[_Text]:
    for cue in cues:
        yield from _read("cue", cue.text, owner, "", f"{owner}/cue/{cue.key}")


def _plain_texts(needs: str, steps: str, place: str, this: str, talk: str, values: Values) -> Iterator[_Text]:
    owner = this or "/".join(place.split("/")[:2])
    yield from _read("needs", needs, owner, this, f"{place}/needs", values=values)
    yield from _read("steps", steps, owner, this, f"{place}/steps", (talk,), values)


def _read(
    start: Start,
    text: str,
    owner: str,
    this: str,
    place: str,
    said_at: tuple[str, ...] = (),
    values: Values = _NO_VALUES,
) -> Iterator[_Text]:
    if not text.strip():
        return
    try:
        read = analysed(start, text, bool(this)).of(values, bool(this))
    except CueTextError:
        return
    if not read.has_hole:
        yield _Text(owner, this, place, read, said_at)


def _key(word: n.Word, text: _Text, found: Mentions) -> str:
    if word.text == "this":
        return text.this
    return meant(word.text, found.placed[text.this].design.values) if text.this in found.placed else word.text


def _note(found: Mentions, node: Noted, text: _Text, project: Project, kinds: dict[str, Kind]) -> Pool | None:
    """Take in one node; the pool that it opened, if any."""
    match node:
        case n.Moment():
            _note_moment(found, node, text, project)
        case n.PutAt() | n.Scatter() | n.Drop():
            return _note_pool(found, node, text, project, kinds)
        case n.Tally() | n.Around() | n.Inside() | n.Chance() | n.Heard() | n.Compare():
            _note_need(found, node, text)
        case n.Set(target) | n.SetNext(target):
            found.changed.add(_key(target, text, found))
        case n.Remove(target):
            found.removed.add(_key(target, text, found))
        case n.Swap(target, other):
            keys = _key(target, text, found), _key(other, text, found)
            for one, with_ in (keys, keys[::-1]):
                if one in found.placed:
                    found.swapped.setdefault(one, []).append(with_)
        case (
            n.Down()
            | n.Fill()
            | n.Later()
            | n.MovePlayer()
            | n.EndLevel()
            | n.Marking()
            | n.Limit()
            | n.Grant()
            | n.Talk()
        ):
            _note_step(found, node, text)
        case _:
            assert_never(node)
    return None


def _note_moment(found: Mentions, moment: n.Moment, text: _Text, project: Project) -> None:
    this, word = text.this, _key(moment.word, text, found) if moment.word else ""
    noted = {"touched": found.touched, "looked at": found.looked_at, "near": found.paired, "away": found.paired}
    if moment.verb in noted:
        noted[moment.verb].add(this)
    elif moment.verb in ("entered", "left"):
        found.zones |= {word or this} & found.placed.keys()
    elif moment.verb == "struck":
        for ability in [word] if word else [a.key for a in project.abilities]:
            if this not in (struck := found.struck.setdefault(ability, [])):
                struck.append(this)


def _note_need(found: Mentions, need: NotedNeed, text: _Text) -> None:
    match need:
        case n.Tally(subject, verb, _, count):
            key = (verb, _key(subject, text, found))
            found.tallies[key] = max(found.tallies.get(key, 0), int(count.value or 0))
        case n.Around(who, how, thing):
            found.arounds[_key(thing, text, found), how, who.text] = None
        case n.Inside(_, place):
            found.zones |= {_key(place, text, found)} & found.placed.keys()
        case n.Chance(one_in):
            found.chances[chance_key(text.place, text.this, need)] = int(one_in.value or 1)
        case n.Heard(line):
            found.heard.add(_key(line, text, found))
        case n.Compare(subject):
            found.granted.setdefault(_key(subject, text, found), 0)
        case _:
            assert_never(need)


def _note_step(found: Mentions, node: NotedStep, text: _Text) -> None:
    match node:
        case n.Down(who):
            found.downed |= {_key(who, text, found)} - {PLAYER}
        case n.Fill(role, thing):
            fillings = found.fillings.setdefault(role.text, [])
            if (key := _key(thing, text, found)) not in fillings:
                fillings.append(key)
        case n.Later(_, carrier, _, name):
            named = found.laters.setdefault(text.this or text.owner, {})
            laters = named.setdefault(name.text if name is not None else "", [])
            if node not in laters:
                laters.append(node)
            if carrier is not None:
                found.carriers[_key(carrier, text, found)] = None
        case n.MovePlayer(place):
            found.moves[_key(place, text, found)] = None
            found.feet.add(_key(place, text, found))
        case n.EndLevel():
            found.ends[node] = None
        case n.Marking(verb, target):
            found.marked |= {_key(target, text, found)} if verb == "mark" else set()
        case n.Limit(limit, ability):
            found.suspended |= {_key(ability, text, found)} if limit == "suspend" else set()
        case n.Grant(ability, uses):
            _note_grant(found, _key(ability, text, found), uses)
        case n.Talk(conversation):
            at = found.opened.setdefault(_key(conversation, text, found), {})
            at[f"@{text.said_at[0]}" if text.said_at else text.this] = None
        case _:
            assert_never(node)


def _note_grant(found: Mentions, ability: str, uses: n.Number | None) -> None:
    if uses is not None:
        found.granted[ability] = max(found.granted.get(ability, 0), int(uses.value or 0))


def _pass_on(found: Mentions, project: Project) -> None:
    """A conversation opened by a line is opened where that line is said."""
    for talk in project.conversations:
        found.opened.setdefault(talk.key, {})
    for _ in project.conversations:
        for at in found.opened.values():
            for other in [key[1:] for key in at if key.startswith("@")]:
                at |= {k: None for k in found.opened.get(other, {}) if not k.startswith("@")}
    for talk in project.conversations:
        places = {k: None for k in found.opened[talk.key] if not k.startswith("@")}
        found.opened[talk.key] = places or {talk.talker if talk.talker in found.placed else "": None}


# --- what steps put


def _note_pool(
    found: Mentions, node: n.PutAt | n.Scatter | n.Drop, text: _Text, project: Project, kinds: dict[str, Kind]
) -> Pool | None:
    what, kind = _key(node.what, text, found), kinds.get(_key(node.what, text, found))
    at = node.feet if isinstance(node, n.Drop) else node.around if isinstance(node, n.Scatter) else node.at
    place = text.this if at is None else _key(at, text, found)
    found.feet.add(place)
    if at is None and _after_wait(text.read.tree, node):
        found.stood[text.this, text.place] = None
    if what in found.placed and isinstance(node, n.PutAt):
        found.put.setdefault(what, []).append(node)
        found.puts_at[text.this, node] = place
    identity = (text.owner, write_step(node))
    if kind is None or identity in found.pools:
        return None
    number = sum(1 for owner, _ in found.pools if owner == text.owner) + 1
    most = int(node.most.value or 1) if node.most is not None else project.usual.most_put
    most = min(most, _runs(node, text, found) * _count(node))
    key = f"{kind.key}{COPY_OF}{text.owner.replace('/', '_')}_{number}"
    pool = Pool(key, kind, most, text.place)
    found.pools[identity] = pool
    return pool


def _note_puts(found: Mentions, texts: list[_Text]) -> None:
    """Which things steps put at all, and how often each such step stands, before anything is bounded by it."""
    for text in texts:
        for node in text.read.nodes:
            if isinstance(node, n.PutAt | n.Scatter | n.Drop):
                found.named_puts.add(node.what.text)
                identity = (text.owner, write_step(node))
                found.steps[identity] = found.steps.get(identity, 0) + 1


def _may_be_put(found: Mentions, key: str) -> bool:
    return any(name in (key, "this") or is_its(name) for name in found.named_puts)


def _count(node: n.PutAt | n.Scatter | n.Drop) -> int:
    return 1 if isinstance(node, n.PutAt) or node.count is None else int(node.count.value or 1)


def _runs(node: n.PutAt | n.Scatter | n.Drop, text: _Text, found: Mentions) -> int:
    """How often a step can run at the most: by the uses of what it belongs to, or once where it goes with it."""
    tree, endless = text.read.tree, 10_000
    one = found.placed.get(text.this)
    if one is None or one.pool or not isinstance(tree, n.CueTree) or one.design.fresh or node not in tree.steps:
        return endless
    if found.steps.get((text.owner, write_step(node)), 0) != 1:
        return endless
    pressed = tree.moment.verb in ("used", "held", "chosen", "struck")
    goes = any(isinstance(s, n.Remove) and s.target.text in ("this", text.this) for s in tree.steps)
    if goes and not any(isinstance(s, n.Wait | n.WaitForIt) for s in tree.steps) and not _may_be_put(found, text.this):
        return 1
    return one.design.uses if pressed and one.design.uses else endless


def _waits(tree: Any) -> list[int]:
    """Which steps of a cue are waited after."""
    steps = tree.steps if isinstance(tree, n.CueTree) else ()
    return [i for i, s in enumerate(steps) if isinstance(s, n.Wait | n.WaitForIt) or (isinstance(s, n.Show) and s.wait)]


def _after_wait(tree: Any, node: Any) -> bool:
    """Whether a step of a cue stands behind a wait."""
    waits = _waits(tree)
    return bool(waits) and any(s == node for s in tree.steps[waits[0] :])


def _copies(found: Mentions, pool: Pool) -> list[_Text]:
    """Lay out the copies of a pool; the texts that they bring along."""
    texts: list[_Text] = []
    for copy in pool.copies:
        thing = Object(copy, pool.kind.name, pool.kind.key, 0.0, 0.0, there_at_start=False)
        one = Placed(thing, pool.kind.design, "", pool.key)
        found.placed[copy] = one
        texts += _object_texts(one, {pool.kind.key: pool.kind})
    return texts
