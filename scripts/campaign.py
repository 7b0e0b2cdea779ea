"""Generated projects of any size for the bench: rooms of objects, quests that run through them."""

from __future__ import annotations

from vocanta.core.project.records import (
    Area,
    Body,
    Conversation,
    Cue,
    Design,
    Fact,
    Item,
    Kind,
    Level,
    Line,
    Motion,
    Object,
    Objective,
    Project,
    Prompt,
    Quest,
    Reach,
    Stage,
    State,
)

SPACING_M = 4.0


def campaign(objects: int, quests: int) -> Project:
    """A project with so many objects on a square floor and so many quests of three stages. Deterministic."""
    side = max(1, round(objects**0.5))
    size = side * SPACING_M
    floor = Area("floor", "Floor", ((0, 0), (size, 0), (size, size), (0, size)))
    things = tuple(_thing(i, side, quests) for i in range(objects))
    level = Level("field", "Field", SPACING_M / 2 + 1.0, 1.0, 0.0, (floor,), (), things)
    items = tuple(Item(f"token_{q}", f"token {q}", limit=9) for q in range(quests))
    facts = tuple(Fact(f"known_{q}", f"known {q}") for q in range(quests))
    return Project(
        "field_trip",
        "Field trip",
        "field",
        levels=(level,),
        kinds=_kinds(),
        items=items,
        facts=facts,
        quests=tuple(_quest(q, objects) for q in range(quests)),
        conversations=_talks(quests),
    )


def _kinds() -> tuple[Kind, ...]:
    states = (State("down", "down"), State("raised", "raised"))
    prompt = (Prompt("p1", "Work {object}"),)
    lever = Design(
        body=Body("box", 0.4, 0.2), reach=Reach("circle", 1.5), states=states, motion=Motion(0.5), prompts=prompt
    )
    watch = Design(
        body=Body("circle", 0.4),
        reach=Reach("circle", 1.5, facing_deg=70.0, sight_m=4.0),
        states=states,
        prompts=prompt,
    )
    return (Kind("lever", "lever", design=lever), Kind("watch", "watch", design=watch))


def _thing(i: int, side: int, quests: int) -> Object:
    x, y = (i % side + 0.5) * SPACING_M, (i // side + 0.5) * SPACING_M
    q = i % max(quests, 1)
    cue = "when used\nthen\n  set this to next"
    if quests:
        cue = (
            f'when used\nonly if quest_{q} at second or else say "Not yet."\n  and (token_{q}_seen or has token_{q})\nthen\n'
            f"  set this to next\n  give token_{q}\n  set known_{q} to yes"
        ).replace(f"token_{q}_seen", f"known_{q}")
    return Object(f"thing_{i}", f"Thing {i}", "watch" if i % 3 == 0 else "lever", x, y, cues=(Cue("c1", cue),))


def _quest(q: int, objects: int) -> Quest:
    target = f"thing_{q % max(objects, 1)}"
    stages = (
        Stage("first", "First", then="second", objectives=(Objective(f"get_{q}", "get", "have", (f"token_{q}",)),)),
        Stage("second", "Second", then="third", objectives=(Objective(f"use_{q}", "use", "use", (target,)),)),
        Stage("third", "Third", then="done", objectives=(Objective(f"know_{q}", "know", "fact", (f"known_{q}",)),)),
    )
    needs = f"quest_{q - 1} is done" if q % 4 else ""
    return Quest(f"quest_{q}", f"Quest {q}", needs=needs, rewards="give 10 money", stages=stages)


def _talks(quests: int) -> tuple[Conversation, ...]:
    lines = tuple(Line(f"line_{q}", (f"About quest {q}.",), True, needs=f"quest_{q} is active") for q in range(quests))
    return (Conversation("chatter", "Chatter", "thing_0", lines),) if quests else ()
