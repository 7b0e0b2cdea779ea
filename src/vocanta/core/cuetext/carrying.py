"""What a copy of an object carried over: own values and telling steps that its original may have been alone to mean."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import Any

from ..phrases import nodes as n
from .prose import Naming, prose_of_steps
from .reading import CueTextError, read_cue

TELLING = (n.Say, n.Talk, n.Hand, n.Change, n.Move, n.QuestStep, n.Grant, n.Set, n.PutAt, n.Scatter, n.Drop, n.Later)
"""Steps that a copy may do wrongly because its original did them."""
OPEN, RIGHT = "open", "right"


def carried(own: dict[str, Any], cues: dict[str, str]) -> list[str]:
    """The places of what is carried over, of own values and of own cues (by key, their texts).

    As `own/values.content` and `cue/o1/0`, the number counting the telling steps of that cue.
    """
    found = [f"own/{path}" for path in own if path.startswith("values.") or path == "prompts"]
    for key, text in cues.items():
        found += [f"cue/{key}/{i}" for i, _ in enumerate(telling_steps(text))]
    return found


def telling_steps(text: str) -> list[Any]:
    """The telling steps of a cue's text, in order; none of a text that cannot be read."""
    try:
        tree = read_cue(text) if text.strip() else None
    except CueTextError:
        return []
    if tree is None:
        return []
    refusals = [top.or_else for top in tree.tops if top.or_else is not None]
    return [s for s in (*tree.steps, *tree.otherwise, *refusals) if isinstance(s, TELLING)]


def carried_in_words(
    own: Mapping[str, Any], cues: Mapping[str, str], answers: Mapping[str, str], naming: Naming
) -> Iterator[tuple[str, str]]:
    """What is carried over and still open, each place with its words; what is no longer there is left out."""
    for place in (p for p, answer in answers.items() if answer == OPEN):
        what, _, rest = place.partition("/")
        if what == "own" and rest in own:
            value = own[rest]
            shown = naming(value, "") if isinstance(value, str) else "wording of its own"
            yield place, f"{rest.removeprefix('values.').replace('_', ' ')}: {shown}"
        elif what == "cue":
            cue, _, number = rest.partition("/")
            steps = telling_steps(cues.get(cue, ""))
            if int(number) < len(steps):
                yield place, "".join(t.text for t in prose_of_steps((steps[int(number)],), naming))


def answered_by_edit(
    before: tuple[Mapping[str, Any], Mapping[str, str]],
    after: tuple[Mapping[str, Any], Mapping[str, str]],
    answers: dict[str, str],
) -> dict[str, str]:
    """The answers once own values, and the texts of cues by key, are no longer as they were: what was changed is looked at;
    a step that is still the same stays open, wherever it stands by now."""
    (own, cues), (own_now, cues_now) = before, after
    left: dict[str, str] = {}
    for place, answer in answers.items():
        what, _, rest = place.partition("/")
        cue, _, number = rest.rpartition("/")
        if what == "own":
            left[place] = RIGHT if own_now.get(rest) != own.get(rest) else answer
        elif cues.get(cue, "") == cues_now.get(cue, ""):
            left[place] = answer
        else:
            old, new = telling_steps(cues.get(cue, "")), telling_steps(cues_now.get(cue, ""))
            step = old[int(number)] if int(number) < len(old) else None
            if step in new:
                left[f"cue/{cue}/{new.index(step)}"] = answer
    return left


def cleared_own(own: dict[str, Any], answers: dict[str, str], place: str) -> dict[str, Any]:
    """The values of an object without one own value: the kind's stands there again."""
    path = place.removeprefix("own/")
    return {"own": {p: v for p, v in own.items() if p != path}, "carried": {**answers, place: RIGHT}}


def cleared_step(text: str, answers: dict[str, str], place: str) -> tuple[str, dict[str, str]] | None:
    """A cue's text with a hole for one telling step, and the answers as they count from then on.

    A hole is no telling step, so those behind it move up by one. None where the step is no longer there.
    """
    cue, _, number = place.removeprefix("cue/").partition("/")
    steps, gone = telling_steps(text), int(number) if number.isdigit() else -1
    if not 0 <= gone < len(steps):
        return None
    moved: dict[str, str] = {}
    for key, answer in answers.items():
        of, _, at = key.removeprefix("cue/").partition("/")
        if not key.startswith("cue/") or of != cue or int(at) < gone:
            moved[key] = answer
        elif int(at) > gone:
            moved[f"cue/{cue}/{int(at) - 1}"] = answer
    begin, end = steps[gone].span
    return f"{text[:begin]}?{text[end:]}", moved
