"""Objects in the program: their cues by moment, the actions that raise them, waits and motions."""

from __future__ import annotations

from ..cuetext.nodes import CueTree
from ..project.records import Cue, Prompt
from .building import Building, add_resumes, cue_branch, plain_branch
from .guards import ALWAYS, AnyOf, Guard, both, equals, opposite
from .layout import Layout, Placed
from .needs import Meaning
from .ops import Flag, Op, Plus, Put, Tell, Told, TurnBack, can_refuse
from .program import Action, Branch, Group, Kind, Listens, Segment
from .steps import out_of_reach, stay_clear


def add_object(building: Building, one: Placed, kind_cues: tuple[Cue, ...]) -> None:
    """An object's groups and actions; its kind's cues come first."""
    key = one.thing.key
    moments: dict[tuple[str, str], list[Branch]] = {}
    meaning = Meaning(building.layout, key)
    places = [(c, f"kind/{one.thing.kind}/cue/{c.key}") for c in kind_cues]
    places += [(c, f"object/{key}/cue/{c.key}") for c in one.thing.cues]
    for cue, place in places:
        tree = building.texts.cue(cue.text, place, key) if cue.text.strip() else None
        if tree is not None:
            branch = cue_branch(building, tree, place, meaning)
            for moment in _moments(tree, one):
                moments.setdefault(moment, []).append(branch)
            add_resumes(building, key, branch)
    for (verb, word), branches in moments.items():
        _add_moment(building, one, verb, word, tuple(branches))
    _add_arrival(building, one)
    _add_nearness(building, one)


def _moments(tree: CueTree, one: Placed) -> list[tuple[str, str]]:
    """The moments a cue listens to; *used* or *held* without a control means every control that is offered so."""
    verb, word = tree.moment.verb, tree.moment.word.text if tree.moment.word else ""
    if verb not in ("used", "held") or word:
        return [(verb, word)]
    held = verb == "held"
    return [(verb, c) for c in dict.fromkeys(p.control for p in one.design.prompts if (p.hold_s > 0) == held)]


def _add_moment(building: Building, one: Placed, verb: str, word: str, branches: tuple[Branch, ...]) -> None:
    key = one.thing.key
    if verb in ("used", "held"):
        _add_use(building, one, verb, word, branches)
        return
    name = f"{verb}:{key}" + (f"/{word}" if word else "")
    exists = equals(building.layout.column("exists", key), 1)
    if verb in ("near", "away"):
        listens = Listens(name, building.layout.column("near", key), "rise" if verb == "near" else "fall")
        building.add_listening(Group(name, f"object/{key}", branches, exists if verb == "near" else ALWAYS), [listens])
    else:
        cells = frozenset(i for i, area in enumerate(building.layout.cells) if area == word)
        edge = Listens(name, building.layout.column("cell"), "into" if verb == "entered" else "out_of", cells)
        building.add_listening(Group(name, f"object/{key}", branches, exists), [edge])


def prompts_in(one: Placed, control: str, held: bool) -> list[Prompt]:
    """The prompts of an object that raise *held* or *used* with a control."""
    return [p for p in one.design.prompts if p.control == control and (p.hold_s > 0) == held]


def offered(layout: Layout, one: Placed, prompts: list[Prompt]) -> Guard:
    """Where one of the prompts is offered: the object is there, in a state with reach and that prompt."""
    key = one.thing.key
    states = [
        equals(layout.column("state", key), i)
        for i, s in enumerate(one.design.states)
        if s.reach_on and any(not p.states or s.key in p.states for p in prompts)
    ]
    return both(equals(layout.column("exists", key), 1), AnyOf(tuple(states)))


def _add_use(building: Building, one: Placed, verb: str, control: str, branches: tuple[Branch, ...]) -> None:
    layout, key = building.layout, one.thing.key
    prompts = prompts_in(one, control, verb == "held")
    entry = both(offered(layout, one, prompts), *within_use(layout, key), *_use_limits(building, one))
    name = f"{verb}:{key}/{control}"
    after: list[Op] = []
    if one.design.uses:
        after.append(Plus(layout.column("uses", key), -1, 0, one.design.uses, clamped=True))
    counted = tuple(building.used_objectives.get(key, ()))
    if counted:
        after.append(Flag(counted))
    turns = _turning_back(building, one)
    branches = (*turns, *branches)
    building.add_group(Group(name, f"object/{key}", branches, entry, tuple(after), first_cue=len(turns)))
    guard = both(entry, AnyOf(tuple(b.guard for b in branches)))
    kind: Kind = "hold" if verb == "held" else "use"
    building.actions.append(Action(name, kind, key, guard, name, f"object/{key}", control))


def within_use(layout: Layout, key: str) -> list[Guard]:
    """What the player's place asks for: in reach, looked at where that is asked, and nobody speaking."""
    guards: list[Guard] = [equals(layout.column("in_reach", key), 1), equals(layout.column("talk"), 0)]
    if layout.table.has(f"looked_at:{key}"):
        guards.append(equals(layout.column("looked_at", key), 1))
    return guards


def _turning_back(building: Building, one: Placed) -> tuple[Branch, ...]:
    """Used while moving, an object turns back before any cue is read."""
    key, motion = one.thing.key, one.design.motion
    if motion.seconds <= 0 or motion.while_moving != "turned_back":
        return ()
    layout, meaning = building.layout, Meaning(building.layout, key)
    state, moving = layout.column("state", key), layout.column("moving", key)
    told = Tell(Told("turned_back", key), (("state", state),))
    ops = (*stay_clear(key, meaning), TurnBack(key, state, moving), *out_of_reach(key, meaning), told)
    under_way = opposite(equals(moving, 0))
    return (Branch(f"object/{key}", (), under_way, (Segment(ops, can_refuse(ops)),)),)


def _use_limits(building: Building, one: Placed) -> list[Guard]:
    key, limits = one.thing.key, list[Guard]()
    if one.design.uses:
        limits.append(opposite(equals(building.layout.column("uses", key), 0)))
    if one.design.motion.while_moving == "ignored":
        limits.append(equals(building.layout.column("moving", key), 0))
    return limits


def _add_arrival(building: Building, one: Placed) -> None:
    key = one.thing.key
    if one.design.motion.seconds <= 0:
        return
    layout, name = building.layout, f"arrive:{key}"
    moving = layout.column("moving", key)
    ops = (Put(moving, 0), Tell(Told("arrived", key), (("state", layout.column("state", key)),)))
    under_way = opposite(equals(moving, 0))
    building.add_group(Group(name, f"object/{key}", (plain_branch(f"object/{key}", under_way, ops),)))
    building.actions.append(Action(name, "arrive", key, under_way, name, f"object/{key}"))


def _add_nearness(building: Building, one: Placed) -> None:
    """The paired actions by which the player comes near an object and goes away from it."""
    key = one.thing.key
    if one.design.reach.shape == "none":
        return
    near, exists = building.layout.column("near", key), equals(building.layout.column("exists", key), 1)
    pair: tuple[tuple[str, Kind, Guard, int], ...] = (
        ("come_near", "near", both(exists, equals(near, 0)), 1),
        ("go_away", "away", equals(near, 1), 0),
    )
    for verb, kind, guard, value in pair:
        name = f"{verb}:{key}"
        branch = plain_branch(f"object/{key}", guard, (Put(near, value), Tell(Told(kind, key))))
        building.add_group(Group(name, f"object/{key}", (branch,)))
        building.actions.append(Action(name, kind, key, guard, name, f"object/{key}"))
