"""Why: what an object is waiting for, from the same code that decides, down to the need that stops it."""

from __future__ import annotations

from collections.abc import Iterator
from typing import assert_never

from ..cuetext.presses import InVain, in_vain
from ..phrases.vocabulary import PLAYER, STATUSES
from ..progress.guards import Guard, Within, can_hold
from ..progress.happenings import Happening
from ..progress.ops import (
    Exchange,
    Flag,
    Happen,
    If,
    Op,
    Plus,
    Put,
    PutBy,
    PutCopies,
    PutNext,
    RefuseIf,
    Reset,
    Tell,
    ToState,
    TurnBack,
    Unflag,
)
from ..progress.placed import Placed
from ..progress.program import Action, Branch, Condition
from ..project.designs import cues_of
from ..project.problems import Problem
from .focus import deciding
from .looking import MARGIN_DEG
from .prompts import Prompts
from .run import Run, Stage
from .shown import InReach, Source, Why, WhyCue, WhyLine
from .situation import Situation

MOST_SOURCES = 6
UNDER_WAY = ("active", "ready")
"""The statuses in which a quest is at a stage."""
_VERBS = {"use": "used", "hold": "held", "choose": "chosen", "strike": "struck by"}


def explained(run: Run, key: str) -> Why:
    """Every condition of an object with its value now, met or not; `stopped_by` is the first that is not met.

    Unknown keys give an empty explanation that says so.
    """
    here, situation = run.here, run.situation
    number = here.mover.scene.number.get(key)
    name = situation.words.name(key)
    if number is None:
        elsewhere = "it is not in this level"
        return {"key": key, "name": name, "stopped_by": elsewhere, "place": [], "cues": [], "reach": [], "problems": []}
    before, controls = _place_lines(run, number)
    place = [*before, *controls]
    cues = [c for a in _actions(situation, key) for c in _cue_lines(situation, a)]
    own = [w for w in situation.program.problems if f"/{key}/" in f"/{w.path}/"]
    own += [_waits_in_vain(situation, v) for v in _vain(situation, here.mover.scene.objects[number])]
    return {
        "key": key,
        "name": name,
        "stopped_by": _stopped_by(before, controls, cues, [p.message for p in own]),
        "place": place,
        "cues": cues,
        "reach": _reach_lines(here),
        "problems": [p.as_dict() for p in own],
    }


def _stopped_by(place: list[WhyLine], controls: list[WhyLine], cues: list[WhyCue], problems: list[str]) -> str:
    """The first condition that is not met, of the controls only where it gets none; empty where nothing stops it."""
    got_none = controls if not any(line["met"] for line in controls) else []
    unmet = next((line["stops"] for line in (*place, *got_none) if not line["met"]), "")
    if not unmet and cues and not any(c["met"] for c in cues):
        unmet = next((n["stops"] for n in cues[0]["needs"] if not n["met"]), "")
    if not cues and not unmet:
        unmet = problems[0] if problems else "no cue waits for a use of it"
    return unmet


def _vain(situation: Situation, one: Placed) -> list[InVain]:
    """The cues of an object that wait for a press which nothing of it raises."""
    kind = next((k for k in situation.project.kinds if k.key == one.thing.kind), None)
    return in_vain(one.design, ((cue.text, place) for cue, place in cues_of(kind, one.thing)))


def _waits_in_vain(situation: Situation, vain: InVain) -> Problem:
    message = f"{situation.words.rule(vain.place)}: {vain.says}"
    return Problem("waits_in_vain", message, "Change the prompt, or change the cue with it.", vain.place)


def _line(text: str, met: bool, detail: str = "", stops: str = "") -> WhyLine:
    """One condition; `stops` says it where it is what stops the object."""
    return {"text": text, "met": met, "detail": detail, "stops": stops or text}


# --- place and state


def _place_lines(run: Run, number: int) -> tuple[list[WhyLine], list[WhyLine]]:
    """What the player's place and the object's state ask for, and which controls it gets."""
    stage, situation = run.here, run.situation
    one = stage.mover.scene.objects[number]
    if not stage.mover.exists[number]:
        gone = "it is gone" if _was_there(run, one) else "it is not there yet"
        return [_line("It is there", False, "", gone)], []
    if stage.mover.is_down(one.thing.key):
        return [_line("It is up", False, "", "it is downed")], []
    state = one.design.states[stage.mover.states[number]]
    offers = [p for p in one.design.prompts if state.reach_on and (not p.states or state.key in p.states)]
    lines = [*_seen_lines(stage, number)]
    lines.append(_line(f"State {state.name} offers a prompt", bool(offers), "", f"no prompt while {state.name}"))
    lines += _limit_lines(run, one)
    if PLAYER not in one.design.reach.who:
        who = ", ".join(one.design.reach.who)
        lines.append(_line("The player counts", False, who, "the player does not count for its reach"))
    speech = run.talk.speech
    if speech is not None:
        speaking = situation.words.name(speech.conversation)
        return [*lines, _line("Nobody is speaking", False, speaking, "somebody is speaking")], []
    focus = [_focus_line(stage.prompts, situation, number, p.control) for p in offers if stage.senses.inside[number]]
    return lines, focus


def _was_there(run: Run, one: Placed) -> bool:
    """Whether an object was there before in this run: at its start, or put since."""
    key = one.thing.key
    came = (e for e in run.chronicle if e.subject == key and e.what in (Happening.PUT, Happening.REMOVED))
    return one.thing.there_at_start or next(came, None) is not None


def _seen_lines(stage: Stage, number: int) -> Iterator[WhyLine]:
    """Reach, facing and sight."""
    reach, eyes = stage.mover.scene.objects[number].design.reach, stage.senses.eyes
    if reach.shape == "none":
        yield _line("Has a reach", False, "none is set", "it has no reach")
    else:
        gap = _distance(stage, number)
        yield _line("In reach", bool(stage.senses.inside[number]), gap, f"out of reach, {gap}")
    if reach.facing_deg is not None:
        off, key = eyes.off_by(number), stage.mover.scene.objects[number].thing.key
        limit = reach.facing_deg + (MARGIN_DEG if eyes.situation.known("looked_at", key) else 0.0)
        yield _line("Facing", off <= limit, f"{off:.0f}° of {limit:.0f}°")
    if reach.sight_m is not None:
        yield _line("Clear sight", eyes.sees(number), f"up to {reach.sight_m:g} m", "no clear sight of it")


def _limit_lines(run: Run, one: Placed) -> Iterator[WhyLine]:
    """Uses left and cooling down."""
    key, situation = one.thing.key, run.situation
    if one.design.uses:
        left = situation.value("uses", key)
        yield _line("Uses left", left > 0, f"{left} of {one.design.uses}")
    if one.design.cool_down_s:
        cooling = bool(situation.value("cooling", key))
        rest_s = run.clocks.seconds_left(f"cooled:{key}")
        yield _line("Not cooling down", not cooling, f"{rest_s:.1f} s left" if cooling else "", "it cools down")


def _distance(stage: Stage, number: int) -> str:
    reach, gap = stage.mover.scene.objects[number].design.reach, stage.senses.eyes.reach_gap(number)
    if reach.shape in ("circle", "wedge"):
        return f"{gap:.2f} m of {reach.radius_m:g} m"
    return f"{gap:.2f} m from its middle"


def _focus_line(prompts: Prompts, situation: Situation, number: int, control: str) -> WhyLine:
    """Whether the object gets a control, and against whom."""
    found = prompts.candidates.get(control, [])
    mine, holder = next((c for c in found if c.number == number), None), prompts.live.get(control)
    text, objects = f"Gets {situation.words.key_cap(control)}", prompts.scene.objects
    if mine is None or holder is None:
        hidden = f"its prompt for {situation.words.key_cap(control)} is hidden"
        return _line(text, False, "its prompt is hidden", hidden)
    if holder.number == number:
        others = [c for c in found if c.number != number]
        against = deciding(mine, others[0], objects[others[0].number].thing.name) if others else "alone in reach"
        return _line(text, True, against)
    winner = next(c for c in found if c.number == holder.number)
    name = objects[winner.number].thing.name
    has = f"{name} has it: {deciding(winner, mine, 'this')}"
    return _line(text, False, has, f"{situation.words.key_cap(control)}, {has}")


def _reach_lines(stage: Stage) -> list[InReach]:
    """Everything in reach now, nearest first, with what has the focus."""
    held = {p.number: p for p in stage.prompts.live.values()}
    eyes, words = stage.senses.eyes, stage.prompts.situation.words
    numbers = sorted((i for i, inside in enumerate(stage.senses.inside) if inside), key=eyes.reach_gap)
    return [
        {
            "key": stage.mover.scene.objects[n].thing.key,
            "text": stage.mover.scene.objects[n].thing.name,
            "met": n in held,
            "detail": _distance(stage, n),
            "cap": words.key_cap(held[n].control) if n in held else "",
        }
        for n in numbers
    ]


# --- cues and needs


def _actions(situation: Situation, key: str) -> list[Action]:
    return [a for a in situation.program.of_subject.get(key, ()) if a.kind in _VERBS]


def _cue_lines(situation: Situation, action: Action) -> list[WhyCue]:
    """Each cue of a press; one that fits but stands behind another that does is passed over."""
    group = situation.program.groups[action.group]
    verb = _VERBS[action.kind]
    if action.kind == "choose":
        verb += f" {situation.words.owned(action.control, action.subject)}"
    if action.kind == "strike":
        verb += f" {situation.words.name(action.control)}"
    cap = situation.words.key_cap(action.control) if action.kind in ("use", "hold") else ""
    found: list[WhyCue] = []
    ends = False
    for branch in group.branches[group.first_cue :]:
        needs = [_need_line(situation, c, action.subject) for c in branch.conditions]
        met = all(n["met"] for n in needs)
        rule = situation.words.rule(branch.origin)
        found.append(
            {
                "origin": branch.origin,
                "rule": rule,
                "when": f"when {verb}",
                "control": cap,
                "met": met,
                "needs": needs,
                "passed_over": met and ends,
            }
        )
        ends = ends or (met and not branch.go_on)
    return found


def _need_line(situation: Situation, condition: Condition, this: str) -> WhyLine:
    met = can_hold(condition.guard, situation.row, situation.program.chances)
    words = situation.words
    stops = words.need(condition.text, situation.known, this)
    line = _line(words.need_sentence(condition.text, this), met, ", ".join(_values(situation, condition.guard)), stops)
    line["from"] = [] if met else sources(situation, condition.guard)
    return line


def _values(situation: Situation, guard: Guard) -> Iterator[str]:
    """The values a guard reads, in words, each once."""
    for number in dict.fromkeys(a.column for a in atoms(guard)):
        column = situation.program.columns[number]
        text = situation.words.column(column, situation.row[number])
        if text and (column.what != "stage" or STATUSES[situation.value("status", column.key)] in UNDER_WAY):
            yield text


def atoms(guard: Guard) -> Iterator[Within]:
    """Every comparison in a guard."""
    if isinstance(guard, Within):
        yield guard
    else:
        for part in guard.parts:
            yield from atoms(part)


def sources(situation: Situation, guard: Guard) -> list[Source]:
    """Where what a guard asks for could come from: every cue, line or reward that raises a column it reads."""
    columns = {a.column for a in atoms(guard)}
    found: dict[str, str] = {}
    for group in situation.program.groups.values():
        for branch in group.branches:
            if _may_raise(branch, columns):
                origin = group.origin if group.origin != "project" else branch.origin
                found.setdefault(origin, situation.words.place(group.origin))
    named = {text: origin for origin, text in reversed(found.items())}
    shown: list[Source] = [{"origin": origin, "text": text} for text, origin in named.items()]
    return shown[:MOST_SOURCES]


def _may_raise(branch: Branch, columns: set[int]) -> bool:
    return any(_raises(segment.ops, columns) for segment in branch.segments)


def _raises(ops: tuple[Op, ...], columns: set[int]) -> bool:
    """Whether operations raise or set one of the columns."""
    for op in ops:
        match op:
            case Put(column):
                raised = column in columns
            case Plus(column, amount):
                raised = column in columns and amount > 0
            case ToState(_, state):
                raised = state in columns
            case PutCopies(copies):
                raised = any(c.exists in columns for c in copies)
            case If(_, then, otherwise):
                raised = _raises(then, columns) or _raises(otherwise, columns)
            case (
                PutBy()
                | PutNext()
                | Exchange()
                | Reset()
                | TurnBack()
                | Flag()
                | Unflag()
                | Happen()
                | RefuseIf()
                | Tell()
            ):
                raised = False
            case _:
                assert_never(op)
        if raised:
            return True
    return False
