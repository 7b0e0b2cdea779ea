"""Why: what an object is waiting for, from the same code that decides, down to the need that stops it."""

from __future__ import annotations

from collections.abc import Iterator

from ..cuetext.presses import InVain, in_vain
from ..phrases.vocabulary import PLAYER
from ..progress.columns import What
from ..progress.happenings import Happening
from ..progress.placed import Placed
from ..progress.program import Action
from ..project.designs import cues_of
from ..project.problems import Problem
from ..project.records import State
from .focus import deciding
from .looking import MARGIN_DEG
from .needlines import Moment, line
from .prompts import Prompts
from .run import Run, Stage
from .shown import InReach, Why, WhyCue, WhyLine
from .situation import Situation
from .whyothers import of_other

_VERBS = {"use": "used", "hold": "held", "choose": "chosen", "strike": "struck by"}


def explained(run: Run, key: str) -> Why:
    """Every condition of an object with its value now, met or not; `stopped_by` is the first that is not met. Also of a
    quest, an objective, a line, a conversation, an ability, an item.

    Unknown keys give an empty explanation that says so.
    """
    here, now = run.here, Moment.now(run)
    number = here.mover.scene.number.get(key)
    if number is not None:
        return _of_object(run, now, number)
    if key in run.situation.layout.placed:
        return _elsewhere(run, now, key)
    return of_other(now, key)


def _of_object(run: Run, now: Moment, number: int) -> Why:
    here, situation = run.here, run.situation
    key = here.mover.scene.objects[number].thing.key
    before, controls = _place_lines(run, now, number)
    cues = [c for a in _actions(situation, key) for c in _cue_lines(now, a)]
    own = [w for w in situation.program.problems if f"/{key}/" in f"/{w.path}/"]
    own += [_waits_in_vain(situation, v) for v in _vain(situation, here.mover.scene.objects[number])]
    return {
        "key": key,
        "name": situation.words.name(key),
        "stopped_by": _stopped_by(before, controls, cues, [p.message for p in own]),
        "place": [*before, *controls],
        "cues": cues,
        "reach": _reach_lines(here),
        "problems": [p.as_dict() for p in own],
    }


def _elsewhere(run: Run, now: Moment, key: str) -> Why:
    """An object that is not in the player's level: where it is, if it is anywhere, and since when."""
    words, level = run.situation.words, run.places.place_of(key).level
    there = bool(run.situation.value("exists", key)) and bool(level)
    where = f"it is in {words.name(level)}" if there else "it is not there now"
    found = line("In this level", False, words.name(level) if there else "", where)
    if since := now.since([run.situation.layout.column("exists", key)]):
        found["since"] = since
    return {
        "key": key,
        "name": words.name(key),
        "stopped_by": where,
        "place": [found],
        "cues": [],
        "reach": _reach_lines(run.here),
        "problems": [],
    }


def _stopped_by(place: list[WhyLine], controls: list[WhyLine], cues: list[WhyCue], problems: list[str]) -> str:
    """The first condition that is not met, of the controls only where it gets none; empty where nothing stops it."""
    got_none = controls if not any(one["met"] for one in controls) else []
    unmet = next((one["stops"] for one in (*place, *got_none) if not one["met"]), "")
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


# --- place and state


def _place_lines(run: Run, now: Moment, number: int) -> tuple[list[WhyLine], list[WhyLine]]:
    """What the player's place and the object's state ask for, and which controls it gets."""
    stage, situation = run.here, run.situation
    one = stage.mover.scene.objects[number]
    if not stage.mover.exists[number]:
        gone = "it is gone" if _was_there(run, one) else "it is not there yet"
        return [_since(line("It is there", False, "", gone), now, "exists", one)], []
    if stage.mover.is_down(one.thing.key):
        return [_since(line("It is up", False, "", "it is downed"), now, "down", one)], []
    state = one.design.states[stage.mover.states[number]]
    offers = [p for p in one.design.prompts if state.reach_on and (not p.states or state.key in p.states)]
    off = not state.reach_on and one.design.reach.shape != "none"
    lines = [_no_reach(now, one, state)] if off else [*_seen_lines(stage, number)]
    stands = line(f"State {state.name} offers a prompt", bool(offers), "", f"no prompt while {state.name}")
    lines.append(_since(stands, now, "state", one))
    lines += _limit_lines(run, one)
    if PLAYER not in one.design.reach.who:
        who = ", ".join(one.design.reach.who)
        lines.append(line("The player counts", False, who, "the player does not count for its reach"))
    speech = run.talk.speech
    if speech is not None:
        speaking = situation.words.name(speech.conversation)
        return [*lines, line("Nobody is speaking", False, speaking, "somebody is speaking")], []
    focus = [_focus_line(stage.prompts, situation, number, p.control) for p in offers if stage.senses.inside[number]]
    return lines, focus


def _since(found: WhyLine, now: Moment, what: What, one: Placed) -> WhyLine:
    """The line with the entry that made it so."""
    column = now.situation.layout.find(what, one.thing.key)
    since = None if column is None else now.since([column])
    if since is not None:
        found["since"] = since
    return found


def _was_there(run: Run, one: Placed) -> bool:
    """Whether an object was there before in this run: at its start, or put since."""
    key = one.thing.key
    came = (e for e in run.chronicle if e.subject == key and e.what in (Happening.PUT, Happening.REMOVED))
    return one.thing.there_at_start or next(came, None) is not None


def _no_reach(now: Moment, one: Placed, state: State) -> WhyLine:
    """A state in which the reach is off, and since when it is in it."""
    found = line("Its reach is on", False, f"not while {state.name}", f"its reach is off while {state.name}")
    return _since(found, now, "state", one)


def _seen_lines(stage: Stage, number: int) -> Iterator[WhyLine]:
    """Reach, facing and sight."""
    reach, eyes = stage.mover.scene.objects[number].design.reach, stage.senses.eyes
    if reach.shape == "none":
        yield line("Has a reach", False, "none is set", "it has no reach")
    else:
        gap = _distance(stage, number)
        yield line("In reach", bool(stage.senses.inside[number]), gap, f"out of reach, {gap}")
    if reach.facing_deg is not None:
        off, key = eyes.off_by(number), stage.mover.scene.objects[number].thing.key
        held = bool(eyes.situation.known("looked_at", key))
        limit = reach.facing_deg + (MARGIN_DEG if held else 0.0)
        margin = f", {MARGIN_DEG:g}° more until it is lost" if held else ""
        yield line("Facing", off <= limit, f"{off:.0f}° of {reach.facing_deg:g}°{margin}")
    if reach.sight_m is not None:
        yield line("Clear sight", eyes.sees(number), f"up to {reach.sight_m:g} m", "no clear sight of it")


def _limit_lines(run: Run, one: Placed) -> Iterator[WhyLine]:
    """Uses left and cooling down."""
    key, situation = one.thing.key, run.situation
    if one.design.uses:
        left = situation.value("uses", key)
        yield line("Uses left", left > 0, f"{left} of {one.design.uses}")
    if one.design.cool_down_s:
        cooling = bool(situation.value("cooling", key))
        rest_s = run.clocks.seconds_left(f"cooled:{key}")
        yield line("Not cooling down", not cooling, f"{rest_s:.1f} s left" if cooling else "", "it cools down")


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
        return line(text, False, "its prompt is hidden", hidden)
    if holder.number == number:
        others = [c for c in found if c.number != number]
        against = deciding(mine, others[0], objects[others[0].number].thing.name) if others else "alone in reach"
        return line(text, True, against)
    winner = next(c for c in found if c.number == holder.number)
    name = objects[winner.number].thing.name
    has = f"{name} has it: {deciding(winner, mine, 'this')}"
    return line(text, False, has, f"{situation.words.key_cap(control)}, {has}")


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


def _cue_lines(now: Moment, action: Action) -> list[WhyCue]:
    """Each cue of a press; one that fits but stands behind another that does is passed over."""
    situation = now.situation
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
        needs = [now.need(c.guard, c.text, action.subject) for c in branch.conditions]
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
