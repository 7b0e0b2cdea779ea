"""Conversations in the program: openers, lines that begin, replies, voices that end, the one that waits."""

from __future__ import annotations

from ..project.records import Conversation, Line, Reply
from .building import Building, conditions_of, plain_branch, steps_branch, written_segment
from .columns import What
from .filled import who_may_be
from .guards import ALWAYS, NEVER, AnyOf, Guard, both, equals, opposite
from .happenings import Happening
from .layout import Layout, chosen_enough, heard_enough
from .meaning import Meaning, has_reach
from .ops import Flag, Happen, If, Op, Plus, Put, PutBy, PutNext, Tell, Told, can_refuse
from .program import Action, Branch, Group, Listens, Segment
from .tracking import tally


def add_conversation(building: Building, talk: Conversation) -> None:
    """All groups and actions of one conversation."""
    _add_openers(building, talk)
    for line in talk.lines:
        place = f"conversation/{talk.key}/line/{line.key}"
        segment = written_segment(building, line.steps, f"{place}/steps", _self(building, talk), talk=True)
        building.add_listening(Group(f"line:{line.key}", place, (steps_branch(place, ALWAYS, segment),)))
        guards = [_add_reply(building, talk, line, r, f"{place}/reply/{r.key}") for r in line.replies]
        _add_voice(building, talk, line, guards, place)


def add_waiting(building: Building) -> None:
    """When a conversation has ended, the one that waits begins: its openers are read only then."""
    layout = building.layout
    if not layout.conversations:
        return
    talk, waiting, at = layout.column("talk"), layout.column("talk_waiting"), layout.column("waiting_at")
    branches = []
    for number, conversation in enumerate(layout.conversations, start=1):
        begins = (Put(talk, layout.opening(conversation)), PutBy(layout.column("talk_at"), at), Put(at, 0))
        ops = (Put(waiting, 0), *begins, Flag((f"openers:{conversation}",)))
        guard = both(equals(talk, 0), equals(waiting, number))
        branches.append(plain_branch(f"conversation/{conversation}", guard, ops))
    building.add_listening(Group("talk_ended", "project", tuple(branches)), [Listens("talk_ended", talk, "fall")])
    for number, key in enumerate(layout.talkers, start=1):
        _add_leaving(building, key, number)


def _add_leaving(building: Building, key: str, number: int) -> None:
    """Walking out of the reach where a talk was opened ends it, unless its line holds the player; one that waits lapses."""
    layout, reached = building.layout, building.layout.find("in_reach", key)
    if reached is None:
        return
    talk, waiting = layout.column("talk"), layout.column("talk_waiting")
    holding = [
        equals(talk, layout.speech(c.key, line.key))
        for c in layout.conversations.values()
        for line in c.lines
        if line.holds_player
    ]
    out = (equals(reached, 0), has_reach(layout, key))
    open_here = both(
        equals(layout.column("talk_at"), number), opposite(equals(talk, 0)), *out, opposite(AnyOf(tuple(holding)))
    )
    waits_here = both(equals(layout.column("waiting_at"), number), opposite(equals(waiting, 0)), *out)
    lapsed = (Put(waiting, 0), Put(layout.column("waiting_at"), 0), Tell(Told(Happening.TALK_LAPSED, key)))
    name, origin = f"walked_off:{key}", f"object/{key}"
    branches = (
        plain_branch(origin, waits_here, lapsed, go_on=True),
        plain_branch(origin, open_here, end_talk(layout, key)),
    )
    building.add_listening(Group(name, origin, branches), [Listens(name, reached, "fall")])


def _self(building: Building, talk: Conversation) -> str:
    """What `this` is in a conversation: its talker, where there is one."""
    return talk.talker if talk.talker in building.layout.placed else ""


def needs_guard(building: Building, text: str, place: str, this: str) -> Guard:
    """The guard of needs alone; never where the text cannot be used."""
    tops = building.texts.needs(text, place, this)
    if tops is None:
        return NEVER
    return both(*(c.guard for c in conditions_of(building, tops, Meaning(building.layout, this, place))))


def opener_guard(building: Building, talk: Conversation, line: Line) -> Guard:
    """When an opener fits: its needs hold, and it is not a line said once that was heard where the talk was opened."""
    place = f"conversation/{talk.key}/line/{line.key}"
    needs = needs_guard(building, line.needs, f"{place}/needs", _self(building, talk))
    if line.repeat != "once":
        return needs
    return both(needs, _first_time(building.layout, heard_at(building.layout, talk, line)))


def _first_time(layout: Layout, columns: list[tuple[int, int]]) -> Guard:
    """What is counted for each object where a talk may be opened was not yet where it is open."""
    at = layout.column("talk_at")
    return AnyOf(tuple(both(equals(at, number), equals(column, 0)) for number, column in columns))


def heard_at(layout: Layout, talk: Conversation, line: Line) -> list[tuple[int, int]]:
    """For each object a conversation may be opened at: the value of `talk_at`, and the column of how often it was heard."""
    return _counted_at(layout, talk, "heard", line.key)


def chosen_at(layout: Layout, talk: Conversation, line: Line, reply: Reply) -> list[tuple[int, int]]:
    """The same of how often a reply was chosen."""
    return _counted_at(layout, talk, "chosen", f"{line.key}/{reply.key}")


def _counted_at(layout: Layout, talk: Conversation, what: What, key: str) -> list[tuple[int, int]]:
    found = []
    for at in layout.mentions.opened[talk.key]:
        column = layout.find(what, f"{at}/{key}")
        if column is not None:
            found.append((layout.talkers.index(at) + 1 if at else 0, column))
    return found


def _add_openers(building: Building, talk: Conversation) -> None:
    layout, origin = building.layout, f"conversation/{talk.key}"
    column = layout.column("talk")
    counted = _counted_talk(building, talk)
    branches: list[Branch] = []
    for line in talk.lines:
        if line.opener:
            place = f"{origin}/line/{line.key}"
            ops = (*begin(building, talk, line.key), *counted)
            branches.append(plain_branch(place, opener_guard(building, talk, line), ops))
    silence = (Put(column, 0), Put(layout.column("talk_at"), 0), Tell(Told(Happening.NOTHING_TO_SAY, talk.key)))
    branches.append(plain_branch(origin, ALWAYS, silence))
    entry = equals(column, layout.opening(talk.key))
    building.add_listening(Group(f"openers:{talk.key}", origin, tuple(branches), entry, verb="openers"))


def _counted_talk(building: Building, talk: Conversation) -> tuple[Op, ...]:
    """A talk counts as one with its talker, or who fills the role of it, and with the object where it was opened."""
    layout, talked = building.layout, building.talked_objectives
    at = layout.column("talk_at")
    opened = [(key, equals(at, layout.talkers.index(key) + 1)) for key in layout.mentions.opened[talk.key] if key]
    found: list[Op] = []
    for who, entry in [*who_may_be(talk.talker, layout), *(one for one in opened if one[0] != talk.talker)]:
        if who in talked:
            found += talked[who] if entry is ALWAYS else [If(entry, tuple(talked[who]))]
    return tuple(found)


def begin(building: Building, talk: Conversation, key: str) -> tuple[Op, ...]:
    """A line begins: it counts as heard where the talk was opened, its steps settle."""
    layout = building.layout
    line = layout.lines[talk.key, key]
    places = heard_at(layout, talk, line)
    told = Told(Happening.LINE, key, (("conversation", talk.key),))
    at = layout.column("talk_at")
    columns = [("at", at), *((f"heard {number}", column) for number, column in places)]
    enough = heard_enough(line, line.key in layout.mentions.heard)
    counts = (If(equals(at, number), (_once_more(line, column, enough),)) for number, column in places)
    return (
        Put(layout.column("talk"), layout.speech(talk.key, key)),
        Tell(told, tuple(columns)),
        *counts,
        *tally("heard", key, layout),
        Happen(f"heard:{key}"),
        Flag((f"line:{key}",)),
    )


def _once_more(said: Line | Reply, column: int, enough: int) -> Op:
    """Heard or chosen once more. Wordings in turn come round: the count after the last goes back to the first."""
    turns = len(said.wordings)
    if said.last_stays or turns == 1 or enough < turns:
        return Plus(column, 1, 0, enough, clamped=True)
    return PutNext(column, (*range(1, turns + 1), 1))


def end_talk(layout: Layout, told_of: str) -> tuple[Op, ...]:
    """The conversation is over."""
    return (Put(layout.column("talk"), 0), Put(layout.column("talk_at"), 0), Tell(Told(Happening.TALK_ENDED, told_of)))


def _onward(building: Building, talk: Conversation, then: str) -> tuple[Op, ...]:
    known = (talk.key, then) in building.layout.lines
    return begin(building, talk, then) if known else end_talk(building.layout, talk.key)


def _open(building: Building, talk: Conversation, line: Line) -> Guard:
    return equals(building.layout.column("talk"), building.layout.speech(talk.key, line.key))


def _add_reply(building: Building, talk: Conversation, line: Line, reply: Reply, place: str) -> Guard:
    """One reply; when it can be chosen."""
    this, layout = _self(building, talk), building.layout
    needs = needs_guard(building, reply.needs, f"{place}/needs", this)
    places = chosen_at(layout, talk, line, reply)
    if reply.repeat == "once":
        needs = both(needs, _first_time(layout, places))
    at, enough = layout.column("talk_at"), chosen_enough(reply)
    counts = (If(equals(at, number), (_once_more(reply, column, enough),)) for number, column in places)
    name = f"reply:{line.key}/{reply.key}"
    written = written_segment(building, reply.steps, f"{place}/steps", this, talk=True)
    told = Tell(Told(Happening.REPLY, reply.key, (("line", line.key),)))
    onward: tuple[Op, ...] = () if reply.then == "stays_here" else _onward(building, talk, reply.then)
    ops = (told, *written.ops, *counts, *onward)
    guard = both(_open(building, talk, line), needs)
    building.add_group(Group(name, place, (steps_branch(place, guard, Segment(ops, can_refuse(ops))),)))
    building.actions.append(Action(name, "reply", talk.talker, guard, name, place))
    return needs


def _add_voice(building: Building, talk: Conversation, line: Line, replies: list[Guard], place: str) -> None:
    """The voice of a line ends: on to the next line, or the end, where no reply can be chosen."""
    guard = both(_open(building, talk, line), opposite(AnyOf(tuple(replies))) if replies else ALWAYS)
    onward = end_talk(building.layout, talk.key) if replies else _onward(building, talk, line.then)
    name = f"voice:{line.key}"
    building.add_group(Group(name, place, (plain_branch(place, guard, onward),)))
    building.actions.append(Action(name, "voice", talk.talker, guard, name, place))
