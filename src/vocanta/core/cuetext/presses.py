"""Presses that an object offers against those its cues wait for: held where one presses, another control, no such button."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from ..phrases import nodes as n
from ..project.records import Design, Prompt
from .reading import CueTextError, read_cue
from .writing import write_moment

Press = tuple[n.MomentVerb, str]
"""What is raised, and by which control or button."""
_SAID = {"used": "a press", "held": "a hold", "chosen": "a button"}


@dataclass(frozen=True, slots=True)
class InVain:
    """A cue that waits for a press which nothing of its object raises. `instead` is its text for the one that was most
    likely meant, empty where nothing tells which."""

    place: str
    says: str
    instead: str


def raised_by(prompt: Prompt) -> list[Press]:
    """The presses that a prompt raises: *used* or *held* with its control, *chosen* with each button of a panel."""
    if prompt.buttons:
        return [("chosen", b.key) for b in prompt.buttons]
    return [("held" if prompt.hold_s > 0 else "used", prompt.control)]


def in_vain(design: Design, cues: Iterable[tuple[str, str]]) -> list[InVain]:
    """The cues, given as text and place, that wait for a press in vain; those that cannot be read are left out.

    Empty for an object that offers the player nothing at all: whoever has no prompt yet will say so by having none.
    """
    raised = list(dict.fromkeys(press for prompt in design.prompts for press in raised_by(prompt)))
    waiting = [(text, place, moment) for text, place in cues if (moment := pressed(text)) is not None]
    heard = {press for _, _, moment in waiting for press in raised if hears(moment, press)}
    free = [press for press in raised if press not in heard]
    found = []
    for text, place, moment in waiting if raised else ():
        if not any(hears(moment, press) for press in raised):
            press = _nearest(moment, raised, free)
            instead = "" if press is None else _put(text, moment, press, raised)
            found.append(InVain(place, _says(moment, press), instead))
    return found


def pressed(text: str) -> n.Moment | None:
    """The press that a cue waits for, None for one that waits for something else or cannot be read."""
    try:
        moment = read_cue(text).moment
    except CueTextError:
        return None
    return moment if moment.verb in _SAID else None


def hears(moment: n.Moment, press: Press) -> bool:
    """Whether a moment is the one that a press raises."""
    verb, by = press
    return moment.verb == verb and (moment.word is None or moment.word.text in (by, "?"))


def _nearest(moment: n.Moment, raised: list[Press], free: list[Press]) -> Press | None:
    """The press that was most likely meant: by the same control, else one that no cue waits for, else the only one."""
    same = [p for p in raised if moment.word is not None and p[1] == moment.word.text]
    only = raised if len(raised) == 1 else []
    return next(iter([*same, *(p for p in free if p[0] != "chosen"), *free, *only]), None)


def _put(text: str, moment: n.Moment, press: Press, raised: list[Press]) -> str:
    """The cue with the other moment; its control is named where another would raise the same."""
    verb, by = press
    several = verb == "chosen" or sum(v == verb for v, _ in raised) > 1
    new = write_moment(n.Moment(verb, n.Word(by) if several or moment.word is not None else None))
    begin, end = moment.span
    return text[:begin] + new + text[end:]


def _says(moment: n.Moment, press: Press | None) -> str:
    wanted = _SAID[moment.verb]
    if press is None:
        return f"it waits for {wanted} that nothing here offers"
    if press[0] == moment.verb:
        if press[0] == "chosen":
            return "it waits for another button than is offered"
        return f"it waits for {wanted} of another control than is offered"
    return f"it waits for {wanted}, and what is offered is {_SAID[press[0]]}"
