"""Objects in the program: the actions that raise their cues, their motions, and who is near, touching or looking."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from ..cuetext.nodes import CueTree
from ..project.designs import cues_of
from ..project.records import Kind as KindRecord
from ..project.records import Prompt
from .building import Building, plain_branch
from .guards import NEVER, AnyOf, Guard, both, equals, opposite
from .layout import Layout
from .mentions import Placed
from .moments import Owner, add_moments, read_cues
from .needs import Meaning, may_use
from .ops import Flag, If, Op, Plus, Put, Tell, Told, TurnBack, can_refuse
from .program import Action, Branch, Group, Kind, Segment
from .steps import out_of_reach, stay_clear, tally

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
    return [(verb, c) for c in dict.fromkeys(p.control for p in one.design.prompts if _raises(p, verb))]


def _raises(prompt: Prompt, verb: str) -> bool:
    """Whether a prompt raises *used*, *held* or *chosen*."""
    if prompt.buttons:
        return verb == "chosen"
    return verb == ("held" if prompt.hold_s > 0 else "used")


def prompts_in(one: Placed, verb: str, word: str) -> list[Prompt]:
    """The prompts of an object that raise a press: with a control, or with a button."""
    if verb == "chosen":
        return [p for p in one.design.prompts if any(b.key == word for b in p.buttons)]
    return [p for p in one.design.prompts if p.control == word and _raises(p, verb)]


def offered(layout: Layout, one: Placed, prompts: list[Prompt]) -> Guard:
    """Where one of the prompts is offered: the object is there and up, in a state with reach and that prompt."""
    key = one.thing.key
    states = [
        equals(layout.column("state", key), i)
        for i, s in enumerate(one.design.states)
        if s.reach_on and any(not p.states or s.key in p.states for p in prompts)
    ]
    return both(equals(layout.column("exists", key), 1), *_up(layout, key), AnyOf(tuple(states)))


def _up(layout: Layout, key: str) -> list[Guard]:
    return [equals(layout.column("down", key), 0)] if layout.table.has(f"down:{key}") else []


def _add_press(building: Building, one: Placed, verb: str, word: str, branches: tuple[Branch, ...]) -> None:
    layout, key = building.layout, one.thing.key
    limits = _use_limits(building, one)
    if verb == "struck":
        aimed = equals(layout.column("aimed_at", f"{key}/{word}"), 1)
        exists = equals(layout.column("exists", key), 1)
        entry = both(exists, *_up(layout, key), may_use(layout, word), aimed, equals(layout.column("talk"), 0), *limits)
    else:
        entry = both(offered(layout, one, prompts_in(one, verb, word)), *within_use(layout, one), *limits)
    name = f"{verb}:{key}/{word}"
    after = [*_after_use(building, one), *(_spent(layout, word) if verb == "struck" else ())]
    ours = () if verb in ("chosen", "struck") else (*_turning_back(building, one), *_queueing(building, one, word))
    group = Group(name, f"object/{key}", (*ours, *branches), entry, tuple(after), first_cue=len(ours))
    if one.design.motion.while_moving == "queued":
        building.add_listening(group)
    else:
        building.add_group(group)
    guard = both(entry, AnyOf(tuple(b.guard for b in group.branches)))
    building.actions.append(Action(name, _PRESS[verb], key, guard, name, f"object/{key}", word))


def _after_use(building: Building, one: Placed) -> Iterator[Op]:
    """What follows a use that took effect: one use less, the cool-down, counts and objectives."""
    layout, key = building.layout, one.thing.key
    if one.design.uses:
        yield Plus(layout.column("uses", key), -1, 0, one.design.uses, clamped=True)
    if one.design.cool_down_s > 0:
        yield Put(layout.column("cooling", key), 1)
    yield from tally("used", key, layout)
    counted = tuple(building.used_objectives.get(key, ()))
    if counted:
        yield Flag(counted)


def _spent(layout: Layout, ability: str) -> tuple[Op, ...]:
    """One use of a limited ability less; the last one takes it away."""
    uses = layout.column("ability_uses", ability)
    gone = (Put(layout.column("ability", ability), 0), Tell(Told("revoked", ability)))
    last = If(equals(uses, 0), gone)
    return (If(opposite(equals(uses, 0)), (Plus(uses, -1, 0, 999, clamped=True), last)),)


def within_use(layout: Layout, one: Placed) -> list[Guard]:
    """What the player's place asks for: to count there, in reach, looked at where that is asked, and nobody speaking."""
    key = one.thing.key
    if "player" not in one.design.reach.who:
        return [NEVER]
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


def _queueing(building: Building, one: Placed, control: str) -> tuple[Branch, ...]:
    """Used while moving, the use is kept until it has arrived; once."""
    key, motion = one.thing.key, one.design.motion
    if motion.seconds <= 0 or motion.while_moving != "queued":
        return ()
    layout = building.layout
    controls = [c.key for c in layout.project.controls]
    if control not in controls:
        return ()
    put = (Put(layout.column("queued", key), controls.index(control) + 1), Tell(Told("queued", key)))
    under_way = opposite(equals(layout.column("moving", key), 0))
    return (Branch(f"object/{key}", (), under_way, (Segment(put, can_refuse=False),)),)


def _use_limits(building: Building, one: Placed) -> list[Guard]:
    layout, key, limits = building.layout, one.thing.key, list[Guard]()
    if one.design.uses:
        limits.append(opposite(equals(layout.column("uses", key), 0)))
    if one.design.cool_down_s > 0:
        limits.append(equals(layout.column("cooling", key), 0))
    if one.design.motion.while_moving == "ignored":
        limits.append(equals(layout.column("moving", key), 0))
    return limits


def _add_arrival(building: Building, one: Placed, uses: Iterable[tuple[str, str]]) -> None:
    key = one.thing.key
    if one.design.motion.seconds <= 0:
        return
    layout, name = building.layout, f"arrive:{key}"
    under_way = opposite(equals(layout.column("moving", key), 0))
    ops = building.arrivals[key] = _arrival_ops(layout, key, uses)
    building.add_group(Group(name, f"object/{key}", (plain_branch(f"object/{key}", under_way, ops),)))
    building.actions.append(Action(name, "arrive", key, under_way, name, f"object/{key}"))


def _arrival_ops(layout: Layout, key: str, uses: Iterable[tuple[str, str]]) -> tuple[Op, ...]:
    """A motion has ended; a use that was kept is read now."""
    told = Tell(Told("arrived", key), (("state", layout.column("state", key)),))
    ops: tuple[Op, ...] = (Put(layout.column("moving", key), 0), told)
    if not layout.table.has(f"queued:{key}"):
        return ops
    queued, controls = layout.column("queued", key), [c.key for c in layout.project.controls]
    reads = tuple(
        If(equals(queued, controls.index(word) + 1), (Flag((f"{verb}:{key}/{word}",)),))
        for verb, word in uses
        if word in controls
    )
    return (*ops, *reads, Put(queued, 0))


def _add_pairs(building: Building, one: Placed) -> None:
    """The paired actions by which somebody comes near and goes away, touches and lets go, looks and looks away."""
    key, layout = one.thing.key, building.layout
    exists = equals(layout.column("exists", key), 1)
    pairs = [("near", "come_near", "go_away")] if one.design.reach.shape != "none" else []
    pairs += [("touching", "touch", "let_go")] if layout.table.has(f"touching:{key}") else []
    pairs += [("looking", "look_at", "look_away")] if layout.table.has(f"looking:{key}") else []
    for what, begin, end in pairs:
        column = layout.column(what, key)
        _add_edge(building, key, begin, "near", both(exists, *_up(layout, key), equals(column, 0)), column, 1)
        _add_edge(building, key, end, "away", equals(column, 1), column, 0)


def _add_edge(building: Building, key: str, verb: str, kind: Kind, guard: Guard, column: int, value: int) -> None:
    told = {"come_near": "near", "go_away": "away"}.get(verb)
    tell = (Tell(Told(told, key)),) if told else ()
    branch = plain_branch(f"object/{key}", guard, (Put(column, value), *tell))
    name = f"{verb}:{key}"
    building.add_group(Group(name, f"object/{key}", (branch,)))
    building.actions.append(Action(name, kind, key, guard, name, f"object/{key}"))


def _add_clocks(building: Building, one: Placed) -> None:
    """Cooling down, and coming back after being downed."""
    key, layout, design = one.thing.key, building.layout, one.design
    if design.cool_down_s > 0:
        cooling = layout.column("cooling", key)
        building.add_clock(f"cooled:{key}", key, cooling, 1, design.cool_down_s, (Put(cooling, 0),))
    if design.comes_back_s is not None and layout.table.has(f"down:{key}"):
        down = layout.column("down", key)
        building.add_clock(f"rise:{key}", key, down, 1, design.comes_back_s, (Put(down, 0), Tell(Told("risen", key))))
