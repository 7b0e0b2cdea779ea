"""Generated projects of any size for the bench: rooms of objects, quests that run through them."""

from __future__ import annotations

import dataclasses

from vocanta.core.project.records import (
    Area,
    Body,
    Conversation,
    Cue,
    Design,
    Exit,
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


def campaign(objects: int, quests: int, *, cues: int = 0, walkers: int = 0) -> Project:
    """A project with so many objects on a square floor and so many quests of three stages. Deterministic.

    `cues`: so many in all, spread over the objects; `walkers`: so many characters on rounds besides.
    """
    side = max(1, round(objects**0.5))
    size = side * SPACING_M
    floor = Area("floor", "Floor", ((0, 0), (size, 0), (size, size), (0, size)))
    each = [max(cues * (i + 1) // objects - cues * i // objects, 1) for i in range(objects)]
    things = tuple(_thing(i, side, quests, each[i]) for i in range(objects))
    things += tuple(_walker(i, size) for i in range(walkers))
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


def saga(levels: int, objects: int, lines: int) -> Project:
    """A large project: so many levels in a row, so many objects and lines in all, spread evenly. Deterministic."""
    whole = campaign(objects, 40)
    each, per_talk = objects // levels, 25
    side = max(1, round(each**0.5))
    things = whole.levels[0].objects
    made = []
    for number in range(levels):
        size = (side + 1) * SPACING_M
        floor = Area(f"floor_{number}", f"Floor {number}", ((0, 0), (size, 0), (size, size), (0, size)))
        some = tuple(_moved(o, i, side) for i, o in enumerate(things[number * each : (number + 1) * each]))
        away = Exit(
            f"way_{number}",
            f"Way {number}",
            1.0,
            3.0,
            to_level=f"level_{(number + 1) % levels}",
            to_x_m=3.0,
            to_y_m=1.0,
        )
        made.append(Level(f"level_{number}", f"Level {number}", 3.0, 1.0, 0.0, (floor,), (), some, (away,)))
    talks = tuple(talk(t, things[t % objects].key, per_talk) for t in range(lines // per_talk))
    return dataclasses.replace(whole, first_level="level_0", levels=tuple(made), conversations=talks)


def _moved(thing: Object, i: int, side: int) -> Object:
    x, y = (i % side + 0.5) * SPACING_M, (i // side + 0.5) * SPACING_M
    return dataclasses.replace(thing, x_m=x, y_m=y)


def talk(number: int, talker: str, lines: int) -> Conversation:
    """A talk of so many lines, one after the other."""
    said = tuple(
        Line(
            f"talk_{number}_{i}",
            (f"This is line {i} of talk {number}.",),
            i == 0,
            then=f"talk_{number}_{i + 1}" if i + 1 < lines else "",
        )
        for i in range(lines)
    )
    return Conversation(f"talk_{number}", f"Talk {number}", talker, said)


def _kinds() -> tuple[Kind, ...]:
    states = (State("down", "down"), State("raised", "raised"))
    prompt = (Prompt("p1", "Work {object}"),)
    lever = Design(
        body=Body("box", 0.4, 0.2), reach=Reach("circle", 1.5), states=states, motion=Motion(0.5), prompts=prompt
    )
    slow = dataclasses.replace(lever, motion=Motion(600.0, hinge_x_m=-0.2, stay_clear=True))
    person = Design(body=Body("circle", 0.5, 0.5, 1.7), walks=True, speed_mps=1.4)
    watch = Design(
        body=Body("circle", 0.4),
        reach=Reach("circle", 1.5, facing_deg=70.0, sight_m=4.0),
        states=states,
        prompts=prompt,
    )
    return (
        Kind("lever", "lever", design=lever),
        Kind("watch", "watch", design=watch),
        Kind("slow", "slow door", design=slow),
        Kind("person", "person", design=person),
    )


def _walker(i: int, size: float) -> Object:
    """Somebody who walks a square between the rows of things."""
    x, y = 4.0 + (i % 5) * (size - 8.0) / 5, 4.0 + (i // 5) * (size - 8.0) / 5
    corners = ((x, y), (x + 8.0, y), (x + 8.0, y + 8.0), (x, y + 8.0))
    return Object(f"person_{i}", f"Person {i}", "person", x, y, round=corners)


def swinging(project: Project, count: int) -> Project:
    """The same with the first so many things as slow doors."""
    level = project.levels[0]
    things = tuple(dataclasses.replace(o, kind="slow") if i < count else o for i, o in enumerate(level.objects))
    return dataclasses.replace(project, levels=(dataclasses.replace(level, objects=things),))


def _thing(i: int, side: int, quests: int, cues: int = 1) -> Object:
    x, y = (i % side + 0.5) * SPACING_M, (i // side + 0.5) * SPACING_M
    q = i % max(quests, 1)
    cue = "when used\nthen\n  set this to next"
    if quests:
        cue = (
            f'when used\nonly if quest_{q} at second or else say "Not yet."\n  and (token_{q}_seen or has token_{q})\nthen\n'
            f"  set this to next\n  give token_{q}\n  set known_{q} to yes"
        ).replace(f"token_{q}_seen", f"known_{q}")
    return Object(
        f"thing_{i}",
        f"Thing {i}",
        "watch" if i % 3 == 0 else "lever",
        x,
        y,
        cues=tuple(Cue(f"c{n + 1}", cue) for n in range(cues)),
    )


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
