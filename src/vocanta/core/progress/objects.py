"""Objects in the program: the actions that raise their cues, their motions, and who is near, touching or looking."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from ..cuetext.presses import raised_by
from ..phrases.nodes import CueTree
from ..phrases.vocabulary import PLAYER
from ..project.designs import cues_of
from ..project.records import Kind as KindRecord
from ..project.records import Prompt
from .building import Building, counted, plain_branch
from .guards import NEVER, All, AnyOf, Guard, among, both, equals, opposite
from .happenings import Happening
from .layout import Layout
from .meaning import is_there
from .meeting import meeting_cells
from .moments import Owner, add_moments, read_cues
from .nearness import after_change, come_near_guard
from .needs import may_use
from .object_steps import stay_clear
from .ops import Flag, If, Op, Plus, Put, Tell, Told, TurnBack, can_refuse
from .placed import Placed
from .program import Action, Branch, Group, Kind, Segment
from .tracking import tally

_PRESS: dict[str, Kind] = {"used": "use", "held": "hold", "chosen": "choose", "struck": "strike"}


def add_object(building: Building, one: Placed, kind: KindRecord | None) -> None:
    """An object's groups and actions; its kind's cues come first."""
    key = one.thing.key
    owner = Owner("object", key, one.level, equals(building.layout.column("exists", key), 1))
    read = read_cues(building, owner, cues_of(kind, one.thing))
    uses: dict[tuple[str, str], list[Branch]] = {}
    for tree, branch in read:
        for moment in _presses(tree, one, building.layout):
            uses.setdefault(moment, []).append(branch)
    add_moments(building, owner, read)
    for (verb, word), branches in uses.items():
        _add_press(building, one, verb, word, tuple(branches))
    _add_arrival(building, one, uses)
    _add_pairs(building, one)
    _add_clocks(building, one)


def _presses(tree: CueTree, one: Placed, layout: Layout) -> list[tuple[str, str]]:
    """The presses a cue listens to; without a word, every control that is offered so, or every ability."""
    verb, word = tree.moment.verb, tree.moment.word.text if tree.moment.word else ""
    if verb == "struck":
        return [(verb, word)] if word else [(verb, a.key) for a in layout.project.abilities]
    if verb == "chosen":
        return [(verb, word)]
    if verb not in ("used", "held"):
        return []
    if word:
        return [(verb, word)]
    return [(verb, c) for c in dict.fromkeys(p.control for p in one.design.prompts if raises(p, verb))]


def raises(prompt: Prompt, verb: str) -> bool:
    """Whether a prompt raises *used*, *held* or *chosen*."""
    return any(raised == verb for raised, _ in raised_by(prompt))


def prompts_in(one: Placed, verb: str, word: str) -> list[Prompt]:
    """The prompts of an object that raise a press: with a control, or with a button."""
    if verb == "chosen":
        return [p for p in one.design.prompts if any(b.key == word for b in p.buttons)]
    return [p for p in one.design.prompts if p.control == word and raises(p, verb)]


def offered(layout: Layout, one: Placed, prompts: list[Prompt]) -> Guard:
    """Where one of the prompts is offered: the object is there and up, in a state with reach and that prompt."""
    key = one.thing.key
    states = [
        i
        for i, s in enumerate(one.design.states)
        if s.reach_on and any(not p.states or s.key in p.states for p in prompts)
    ]
    return both(is_there(layout, key), among(layout.column("state", key), states))


def _add_press(building: Building, one: Placed, verb: str, word: str, branches: tuple[Branch, ...]) -> None:
    layout, key = building.layout, one.thing.key
    limits = _use_limits(building, one)
    silent = equals(layout.column("talk"), 0)
    if verb == "struck":
        aimed = equals(layout.column("aimed_at", f"{key}/{word}"), 1)
        entry = both(is_there(layout, key), may_use(layout, word), aimed, silent, *limits)
    else:
        entry = both(offered(layout, one, prompts_in(one, verb, word)), *within_use(layout, one), silent, *limits)
    name = f"{verb}:{key}/{word}"
    after = [*_after_use(building, one), *(_spent(layout, word) if verb == "struck" else ())]
    ours = () if verb in ("chosen", "struck") else (*_turning_back(building, one), *_queueing(building, one, word))
    counts = tuple(building.used_objectives.get(key, ()))
    cues = tuple(counted(branch, counts) for branch in branches)
    group = Group(name, f"object/{key}", (*ours, *cues), entry, tuple(after), len(ours), True, verb)
    if layout.find("queued", key) is not None:
        building.add_listening(group)
    else:
        building.add_group(group)
    guard = both(entry, AnyOf(tuple(b.guard for b in group.branches)))
    building.actions.append(Action(name, _PRESS[verb], key, guard, name, f"object/{key}", word, tried=entry))


def _after_use(building: Building, one: Placed) -> Iterator[Op]:
    """What follows a use that took effect: one use less, the cool-down, counts."""
    layout, key = building.layout, one.thing.key
    if one.design.uses:
        yield Plus(layout.column("uses", key), -1, 0, one.design.uses, clamped=True)
    if one.design.cool_down_s > 0:
        yield Put(layout.column("cooling", key), 1)
    yield from tally("used", key, layout)


def _spent(layout: Layout, ability: str) -> tuple[Op, ...]:
    """One use of a limited ability less; the last one takes it away."""
    uses = layout.find("ability_uses", ability)
    if uses is None:
        return ()
    gone = (Put(layout.column("ability", ability), 0), Tell(Told(Happening.REVOKED, ability)))
    last = If(equals(uses, 0), gone)
    return (If(opposite(equals(uses, 0)), (Plus(uses, -1, 0, 999, clamped=True), last)),)


def within_use(layout: Layout, one: Placed) -> list[Guard]:
    """What the player's place asks for: to count there, in reach, looked at where that is asked."""
    key = one.thing.key
    reached, looked = layout.find("in_reach", key), layout.find("looked_at", key)
    if PLAYER not in one.design.reach.who or reached is None:
        return [NEVER]
    return [equals(reached, 1), *([] if looked is None else [equals(looked, 1)])]


def _turning_back(building: Building, one: Placed) -> tuple[Branch, ...]:
    """Used while moving, an object turns back before any cue is read; that is no use."""
    key, motion, layout = one.thing.key, one.design.motion, building.layout
    moving = layout.find("moving", key)
    if moving is None or motion.while_moving != "turned_back":
        return ()
    state = layout.column("state", key)
    told = Tell(Told(Happening.TURNED_BACK, key), (("state", state),))
    ops = (*stay_clear(key, layout), TurnBack(key, state, moving), told, *after_change(layout, key))
    return (Branch(f"object/{key}", (), opposite(equals(moving, 0)), (Segment(ops, can_refuse(ops)),), counts=False),)


def _queueing(building: Building, one: Placed, control: str) -> tuple[Branch, ...]:
    """Used while moving, the use is kept until it has arrived, once; it is a use when it is read."""
    key, layout = one.thing.key, building.layout
    queued, moving = layout.find("queued", key), layout.find("moving", key)
    controls = [c.key for c in layout.project.controls]
    if queued is None or moving is None or control not in controls:
        return ()
    put = (Put(queued, controls.index(control) + 1), Tell(Told(Happening.QUEUED, key)))
    under_way = opposite(equals(moving, 0))
    return (Branch(f"object/{key}", (), under_way, (Segment(put, can_refuse=False),), counts=False),)


def _use_limits(building: Building, one: Placed) -> list[Guard]:
    layout, key, limits = building.layout, one.thing.key, list[Guard]()
    if one.design.uses:
        limits.append(opposite(equals(layout.column("uses", key), 0)))
    if one.design.cool_down_s > 0:
        limits.append(equals(layout.column("cooling", key), 0))
    moving = layout.find("moving", key)
    if one.design.motion.while_moving == "ignored" and moving is not None:
        limits.append(equals(moving, 0))
    return limits


def _add_arrival(building: Building, one: Placed, uses: Iterable[tuple[str, str]]) -> None:
    layout, key = building.layout, one.thing.key
    moving = layout.find("moving", key)
    if moving is None:
        return
    name, under_way = f"arrive:{key}", opposite(equals(moving, 0))
    ops = building.arrivals[key] = _arrival_ops(layout, key, moving, uses)
    building.add_group(Group(name, f"object/{key}", (plain_branch(f"object/{key}", under_way, ops),)))
    building.actions.append(Action(name, "arrive", key, under_way, name, f"object/{key}"))


def _arrival_ops(layout: Layout, key: str, moving: int, uses: Iterable[tuple[str, str]]) -> tuple[Op, ...]:
    """A motion has ended; a use that was kept is read now."""
    told = Tell(Told(Happening.ARRIVED, key), (("state", layout.column("state", key)),))
    ops: tuple[Op, ...] = (Put(moving, 0), told)
    queued = layout.find("queued", key)
    if queued is None:
        return ops
    controls = [c.key for c in layout.project.controls]
    reads = tuple(
        If(equals(queued, controls.index(word) + 1), (Flag((f"{verb}:{key}/{word}",)),))
        for verb, word in uses
        if verb in ("used", "held") and word in controls
    )
    return (*ops, *reads, Put(queued, 0))


def _add_pairs(building: Building, one: Placed) -> None:
    """The paired actions by which somebody comes near and goes away, touches and lets go, looks and looks away.

    Where nearness follows from the player's cell it is no action of its own.
    """
    key, layout = one.thing.key, building.layout
    near = layout.find("near", key)
    if near is not None and not layout.near_by_cell(key):
        guard = come_near_guard(layout, key, meeting_cells(layout, key))
        _add_edge(building, key, "come_near", "near", guard, near, 1, Happening.NEAR)
        _add_edge(building, key, "go_away", "away", equals(near, 1), near, 0, Happening.AWAY)
    touching, looking = layout.find("touching", key), layout.find("looking", key)
    for column, begin, end in ((touching, "touch", "let_go"), (looking, "look_at", "look_away")):
        if column is not None:
            there = All((is_there(layout, key), equals(column, 0)))
            _add_edge(building, key, begin, "near", there, column, 1)
            _add_edge(building, key, end, "away", equals(column, 1), column, 0)


def _add_edge(
    building: Building,
    key: str,
    verb: str,
    kind: Kind,
    guard: Guard,
    column: int,
    value: int,
    told: Happening | None = None,
) -> None:
    tell = () if told is None else (Tell(Told(told, key)),)
    branch = plain_branch(f"object/{key}", guard, (Put(column, value), *tell))
    name = f"{verb}:{key}"
    building.add_group(Group(name, f"object/{key}", (branch,)))
    building.actions.append(Action(name, kind, key, guard, name, f"object/{key}"))


def _add_clocks(building: Building, one: Placed) -> None:
    """Cooling down, and coming back after being downed."""
    key, layout, design = one.thing.key, building.layout, one.design
    cooling, down = layout.find("cooling", key), layout.find("down", key)
    if cooling is not None:
        building.add_clock(f"cooled:{key}", key, cooling, 1, design.cool_down_s, (Put(cooling, 0),))
    if design.comes_back_s is not None and down is not None:
        up = (Put(down, 0), Tell(Told(Happening.RISEN, key)), *after_change(layout, key))
        building.add_clock(f"rise:{key}", key, down, 1, design.comes_back_s, up)
