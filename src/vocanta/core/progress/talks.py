"""Conversations in the program: openers, lines that begin, replies, voices that end, the one that waits."""

from __future__ import annotations

from ..project.records import Conversation, Line, Reply
from .building import Building, conditions_of, plain_branch, steps_branch, written_segment
from .guards import ALWAYS, NEVER, All, AnyOf, Guard, both, equals, opposite
from .layout import HEARD_ENOUGH
from .needs import Meaning
from .ops import Flag, Happen, Op, Plus, Put, PutNext, Tell, Told, can_refuse
from .program import Action, Branch, Group, Listens, Segment
from .quests import objective_flags
from .steps import tally


def add_conversation(building: Building, talk: Conversation) -> None:
    """All groups and actions of one conversation."""
    _add_openers(building, talk)
    for line in talk.lines:
        place = f"conversation/{talk.key}/line/{line.key}"
        segment = written_segment(building, line.steps, f"{place}/steps", _self(building, talk))
        building.add_listening(Group(f"line:{line.key}", place, (steps_branch(place, ALWAYS, segment),)))
        guards = [_add_reply(building, talk, line, r, f"{place}/reply/{r.key}") for r in line.replies]
        _add_voice(building, talk, line, guards, place)
        _add_leaving(building, talk, line, place)


def add_waiting(building: Building) -> None:
    """When a conversation has ended, the one that waits begins: its openers are read only then."""
    layout = building.layout
    talk, waiting = layout.column("talk"), layout.column("talk_waiting")
    branches = []
    for number, conversation in enumerate(layout.conversations, start=1):
        ops = (Put(waiting, 0), Put(talk, layout.opening(conversation)), Flag((f"openers:{conversation}",)))
        guard = both(equals(talk, 0), equals(waiting, number))
        branches.append(plain_branch(f"conversation/{conversation}", guard, ops))
    building.add_listening(Group("talk_ended", "project", tuple(branches)), [Listens("talk_ended", talk, "fall")])


def _self(building: Building, talk: Conversation) -> str:
    """What `this` is in a conversation: its talker, where there is one."""
    return talk.talker if talk.talker in building.layout.placed else ""


def needs_guard(building: Building, text: str, place: str, this: str) -> Guard:
    """The guard of needs alone; never where the text cannot be used."""
    tops = building.texts.needs(text, place, this)
    if tops is None:
        return NEVER
    return both(*(c.guard for c in conditions_of(tops, Meaning(building.layout, this, place))))


def opener_guard(building: Building, talk: Conversation, line: Line) -> Guard:
    """When an opener fits: its needs hold, and it is not a line said once that was heard."""
    place = f"conversation/{talk.key}/line/{line.key}"
    needs = needs_guard(building, line.needs, f"{place}/needs", _self(building, talk))
    if line.repeat == "once":
        return both(needs, equals(building.layout.column("heard", line.key), 0))
    return needs


def _add_openers(building: Building, talk: Conversation) -> None:
    layout, origin = building.layout, f"conversation/{talk.key}"
    column = layout.column("talk")
    branches: list[Branch] = []
    for line in talk.lines:
        if line.opener:
            place = f"{origin}/line/{line.key}"
            ops = (*begin(building, talk, line.key), *objective_flags(building.talked_objectives.get(talk.talker, [])))
            branches.append(plain_branch(place, opener_guard(building, talk, line), ops))
    silence = (Put(column, 0), Tell(Told("nothing_to_say", talk.key)))
    branches.append(plain_branch(origin, ALWAYS, silence))
    entry = equals(column, layout.opening(talk.key))
    building.add_listening(Group(f"openers:{talk.key}", origin, tuple(branches), entry))


def begin(building: Building, talk: Conversation, key: str) -> tuple[Op, ...]:
    """A line begins: it counts as heard, its steps settle."""
    layout = building.layout
    line = next(m for m in talk.lines if m.key == key)
    heard = layout.column("heard", key)
    told = Tell(Told("line", key, (("conversation", talk.key),)), (("heard", heard),))
    return (
        Put(layout.column("talk"), layout.speech(talk.key, key)),
        told,
        _count_heard(line, heard),
        *tally("heard", key, layout),
        Happen(f"heard:{key}"),
        Flag((f"line:{key}",)),
    )


def _count_heard(line: Line, heard: int) -> Op:
    """Heard once more. Wordings said in turn come round: the count after the last goes back to the first."""
    turns = len(line.wordings)
    if line.last_stays or turns == 1:
        return Plus(heard, 1, 0, HEARD_ENOUGH, clamped=True)
    table = [min(i + 1, turns) if i < turns else 1 for i in range(HEARD_ENOUGH + 1)]
    return PutNext(heard, tuple(table))


def _end(building: Building, talk: Conversation) -> tuple[Op, ...]:
    return (Put(building.layout.column("talk"), 0), Tell(Told("talk_ended", talk.key)))


def _onward(building: Building, talk: Conversation, then: str) -> tuple[Op, ...]:
    return begin(building, talk, then) if any(m.key == then for m in talk.lines) else _end(building, talk)


def _open(building: Building, talk: Conversation, line: Line) -> Guard:
    return equals(building.layout.column("talk"), building.layout.speech(talk.key, line.key))


def _add_reply(building: Building, talk: Conversation, line: Line, reply: Reply, place: str) -> Guard:
    """One reply; the guard of its needs."""
    needs = needs_guard(building, reply.needs, f"{place}/needs", _self(building, talk))
    name = f"reply:{line.key}/{reply.key}"
    written = written_segment(building, reply.steps, f"{place}/steps", _self(building, talk))
    told = Tell(Told("reply", reply.key, (("line", line.key),)))
    onward: tuple[Op, ...] = () if reply.then == "stays_here" else _onward(building, talk, reply.then)
    ops = (told, *written.ops, *onward)
    segment = Segment(ops, can_refuse(ops))
    guard = both(_open(building, talk, line), needs)
    building.add_group(Group(name, place, (steps_branch(place, guard, segment),)))
    building.actions.append(Action(name, "reply", talk.talker, guard, name, place))
    return needs


def _add_voice(building: Building, talk: Conversation, line: Line, replies: list[Guard], place: str) -> None:
    """The voice of a line ends: on to the next line, or the end, where no reply can be chosen."""
    guard = both(_open(building, talk, line), opposite(AnyOf(tuple(replies))) if replies else ALWAYS)
    onward = _end(building, talk) if replies else _onward(building, talk, line.then)
    name = f"voice:{line.key}"
    building.add_group(Group(name, place, (plain_branch(place, guard, onward),)))
    building.actions.append(Action(name, "voice", talk.talker, guard, name, place))


def _add_leaving(building: Building, talk: Conversation, line: Line, place: str) -> None:
    """Walking out of the talker's reach ends the conversation, unless the line holds the player."""
    if line.holds_player or talk.talker not in building.layout.placed:
        return
    out = equals(building.layout.column("in_reach", talk.talker), 0)
    guard = All((_open(building, talk, line), out))
    name = f"leave:{line.key}"
    building.add_group(Group(name, place, (plain_branch(place, guard, _end(building, talk)),)))
    building.actions.append(Action(name, "leave", talk.talker, guard, name, place))
