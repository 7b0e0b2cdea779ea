"""A prompt that stays in a state in which its object can never be worked again."""

from __future__ import annotations

from collections.abc import Iterator

from ...cuetext.presses import raised_by
from ...progress.guards import equals
from ...progress.program import Group
from ...project.records import Object, Project, Prompt
from ..check import Check
from ..finding import Found, Mend, Spot, called, quoted
from ..mending import Give
from ..survey import Survey


def find(survey: Survey, project: Project) -> Iterator[Found]:
    """Every prompt that is shown in a state which its object comes to for good, and where no cue of it ever fits."""
    for key, (thing, _) in survey.objects.items():
        design = survey.designs[key]
        if design.uses or len(design.states) < 2:
            continue
        dead = [s for s in _lasting(survey, key) if design.states[s].reach_on]
        for prompt in design.prompts:
            stays = [
                design.states[s].key
                for s in dead
                if _shown(prompt, design.states[s].key) and not _fits(survey, key, prompt, s)
            ]
            if stays and prompt.when_unusable != "hidden" and _ever(survey, key, prompt):
                yield _found(survey, thing, prompt, stays)


def _shown(prompt: Prompt, state: str) -> bool:
    return not prompt.states or state in prompt.states


def _lasting(survey: Survey, key: str) -> list[int]:
    """The states that an object can come to and never leave."""
    column = survey.program.table.at("state", key)
    return [
        s for s in survey.states_reached(key) if not survey.leaves(key, s) and s != survey.program.columns[column].start
    ]


def _groups(survey: Survey, key: str, prompt: Prompt) -> list[Group]:
    names = [f"{verb}:{key}/{by}" for verb, by in raised_by(prompt)]
    return [survey.program.groups[name] for name in names if name in survey.program.groups]


def _fits(survey: Survey, key: str, prompt: Prompt, state: int) -> bool:
    known = survey.values.narrowed(equals(survey.program.table.at("state", key), state))
    return any(
        survey.values.can(b.guard, known) for g in _groups(survey, key, prompt) for b in g.branches[g.first_cue :]
    )


def _ever(survey: Survey, key: str, prompt: Prompt) -> bool:
    return any(survey.values.can(b.guard) for g in _groups(survey, key, prompt) for b in g.branches[g.first_cue :])


def _found(survey: Survey, thing: Object, prompt: Prompt, stays: list[str]) -> Found:
    address, path = f"object/{thing.key}", f"design.prompts.{prompt.key}"
    design = survey.designs[thing.key]
    left = [s.key for s in design.states if _shown(prompt, s.key) and s.key not in stays]
    words = " and ".join(called(f"{thing.key}:{s}") for s in stays)
    mends = (
        (
            Mend(
                "hide it there",
                f"Show the prompt only while it is {' or '.join(called(f'{thing.key}:{s}') for s in left)}.",
                (Give(address, f"{path}.states", left),),
            ),
        )
        if left
        else ()
    )
    says = f"still shows {quoted(prompt.wording)} when it is {words}, and nothing can be done there any more"
    return Found(
        Spot(address, f"{path}.wording"), called(thing.key), says, mends, "still shows", rests_on=(str(stays),)
    )


CHECK = Check(
    "prompt_stays",
    "A prompt that stays",
    "likely wrong",
    "N10",
    "Does every prompt go when its object is used up?",
    "The object has come to a state that it never leaves and in which no cue fits, and still tells the player to press.",
    "The crate is opened, and still says “Open the crate”.",
    "project",
    find,
    ("rules", "kinds"),
)
