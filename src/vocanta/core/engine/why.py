"""Why: what an object is waiting for, from the same code that decides, down to the need that stops it."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from ..progress.guards import Guard, Within
from ..progress.mentions import PLAYER
from ..progress.onerow import holds_on
from ..progress.ops import If, Op, Plus, Put, PutCopies, ToState
from ..progress.program import Action, Condition
from .chronicle import TICKS_A_SECOND
from .focus import deciding
from .run import Run
from .sensing import Senses

Line = dict[str, Any]


def explained(run: Run, key: str) -> dict[str, Any]:
    """Every condition of an object with its value now, met or not; `stopped_by` is the first that is not met.

    Unknown keys give an empty explanation that says so.
    """
    number = run.scene.number.get(key)
    if number is None:
        return {
            "key": key,
            "name": run.words.name(key),
            "stopped_by": "it is not in this level",
            "place": [],
            "cues": [],
            "reach": [],
        }
    place = _place_lines(run, number)
    cues = [c for a in _actions(run, key) for c in _cue_lines(run, a)]
    own = [w for w in run.program.problems if f"/{key}/" in f"/{w.path}/"]
    unmet = next((line["stops"] for line in place if not line["met"]), "")
    best = next((c for c in cues if c["met"]), None)
    if not unmet and cues and best is None:
        unmet = next((n["stops"] for n in cues[0]["needs"] if not n["met"]), "")
    if not cues and not unmet:
        unmet = "no cue waits for a use of it" if not own else own[0].message
    return {
        "key": key,
        "name": run.words.name(key),
        "stopped_by": unmet,
        "place": place,
        "cues": cues,
        "reach": _reach_lines(run),
        "problems": [p.as_dict() for p in own],
    }


def _line(text: str, met: bool, detail: str = "", stops: str = "") -> Line:
    """One condition; `stops` says it where it is what stops the object."""
    return {"text": text, "met": met, "detail": detail, "stops": stops or text}


def _place_lines(run: Run, number: int) -> list[Line]:
    """What the player's place and the object's state ask for."""
    one, senses = run.scene.objects[number], run.senses
    reach, state = one.design.reach, one.design.states[run.mover.states[number]]
    if not run.mover.exists[number]:
        gone = "it is gone" if one.thing.there_at_start else "it is not there yet"
        return [_line("It is there", False, "", gone)]
    if run.is_down(one.thing.key):
        return [_line("It is up", False, "", "it is downed")]
    lines = [
        _line(
            "In reach", bool(senses.inside[number]), _distance(run, number), f"out of reach, {_distance(run, number)}"
        )
    ]
    if reach.shape == "none":
        lines = [_line("Has a reach", False, "none is set", "it has no reach")]
    if reach.facing_deg is not None:
        lines.append(
            _line(
                "Facing",
                senses.facing(number) <= reach.facing_deg,
                f"{senses.facing(number):.0f}° of {reach.facing_deg:.0f}°",
            )
        )
    if reach.sight_m is not None:
        lines.append(_line("Clear sight", senses.sees(number), f"up to {reach.sight_m:g} m", "no clear sight of it"))
    offers = [p for p in one.design.prompts if state.reach_on and (not p.states or state.key in p.states)]
    lines.append(_line(f"State {state.name} offers a prompt", bool(offers), "", f"no prompt while {state.name}"))
    if one.design.uses:
        left = run.value(f"uses:{one.thing.key}")
        lines.append(_line("Uses left", left > 0, f"{left} of {one.design.uses}"))
    if one.design.cool_down_s:
        cooling = bool(run.value(f"cooling:{one.thing.key}"))
        rest_s = run.clocks.get(f"cooled:{one.thing.key}", 0) / TICKS_A_SECOND
        lines.append(_line("Not cooling down", not cooling, f"{rest_s:.1f} s left" if cooling else "", "it cools down"))
    if PLAYER not in reach.who:
        lines.append(_line("The player counts", False, ", ".join(reach.who), "the player does not count for its reach"))
    if run.speech is not None:
        lines.append(
            _line("Nobody is speaking", False, run.words.name(run.speech.conversation), "somebody is speaking")
        )
    lines += [_focus_line(senses, number, p.control) for p in offers if senses.inside[number] and run.speech is None]
    return lines


def _distance(run: Run, number: int) -> str:
    reach, gap = run.scene.objects[number].design.reach, run.senses.distance(number)
    return (
        f"{gap:.2f} m of {reach.radius_m:g} m" if reach.shape in ("circle", "wedge") else f"{gap:.2f} m from its middle"
    )


def _focus_line(senses: Senses, number: int, control: str) -> Line:
    """Whether the object gets a control, and against whom."""
    found = senses.candidates.get(control, [])
    mine = next((c for c in found if c.number == number), None)
    holder = senses.prompts.get(control)
    if mine is None or holder is None:
        return _line(f"Gets {senses.run.words.key_cap(control)}", False, "its prompt is hidden")
    names = senses.run.scene.objects
    if holder.number == number:
        others = [c for c in found if c.number != number]
        against = (
            f"{deciding(mine, others[0])} than {names[others[0].number].thing.name}" if others else "alone in reach"
        )
        return _line(f"Gets {senses.run.words.key_cap(control)}", True, against)
    winner = next(c for c in found if c.number == holder.number)
    return _line(
        f"Gets {senses.run.words.key_cap(control)}",
        False,
        f"{names[winner.number].thing.name}: {deciding(winner, mine)}",
    )


def _reach_lines(run: Run) -> list[Line]:
    """Everything in reach now, nearest first, with what has the focus."""
    held = {p.number: p for p in run.senses.prompts.values()}
    numbers = sorted((i for i, inside in enumerate(run.senses.inside) if inside), key=run.senses.distance)
    return [
        {
            "key": run.scene.objects[n].thing.key,
            "text": run.scene.objects[n].thing.name,
            "met": n in held,
            "detail": _distance(run, n),
            "cap": run.words.key_cap(held[n].control) if n in held else "",
        }
        for n in numbers
    ]


def _actions(run: Run, key: str) -> list[Action]:
    return [a for a in run.program.actions if a.subject == key and a.kind in _VERBS]


_VERBS = {"use": "used", "hold": "held", "choose": "chosen", "strike": "struck by"}


def _cue_lines(run: Run, action: Action) -> list[dict[str, Any]]:
    group = run.program.groups[action.group]
    found = []
    for branch in group.branches[group.first_cue :]:
        needs = [_need_line(run, c, action.subject) for c in branch.conditions]
        verb = _VERBS[action.kind] + (
            f" {run.words.name(action.control)}" if action.kind in ("choose", "strike") else ""
        )
        found.append(
            {
                "origin": branch.origin,
                "when": f"when {verb}",
                "control": run.words.key_cap(action.control) if action.kind in ("use", "hold") else "",
                "met": all(n["met"] for n in needs),
                "needs": needs,
            }
        )
    return found


def _need_line(run: Run, condition: Condition, this: str) -> Line:
    met = holds_on(condition.guard, run.row)
    stops = run.words.need(condition.text, run.value, this)
    line = _line(run.words.need_sentence(condition.text, this), met, ", ".join(_values(run, condition.guard)), stops)
    line["from"] = [] if met else sources(run, condition.guard)
    return line


def _values(run: Run, guard: Guard) -> Iterator[str]:
    """The values a guard reads, in words, each once."""
    columns = dict.fromkeys(a.column for a in atoms(guard))
    for column in columns:
        text = run.words.column(run.program.columns[column].name, run.row[column])
        if text:
            yield text


def atoms(guard: Guard) -> Iterator[Within]:
    """Every comparison in a guard."""
    if isinstance(guard, Within):
        yield guard
    else:
        for part in guard.parts:
            yield from atoms(part)


def sources(run: Run, guard: Guard) -> list[Line]:
    """Where what a guard asks for could come from: every cue, line or reward that writes a column it reads."""
    columns = {a.column for a in atoms(guard)}
    found: dict[str, str] = {}
    for group in run.program.groups.values():
        for branch in group.branches:
            if any(_writes(s.ops, columns) for s in branch.segments):
                found.setdefault(
                    group.origin if group.origin != "project" else branch.origin, run.words.place(group.origin)
                )
    named = {text: origin for origin, text in reversed(found.items())}
    return [{"origin": origin, "text": text} for text, origin in named.items()][:6]


def _writes(ops: tuple[Op, ...], columns: set[int]) -> bool:
    """Whether operations raise or set one of the columns."""
    for op in ops:
        if (isinstance(op, Put) and op.column in columns) or (
            isinstance(op, Plus) and op.column in columns and op.amount > 0
        ):
            return True
        if isinstance(op, ToState) and op.state in columns:
            return True
        if isinstance(op, PutCopies) and any(c.exists in columns for c in op.copies):
            return True
        if isinstance(op, If) and (_writes(op.then, columns) or _writes(op.otherwise, columns)):
            return True
    return False
