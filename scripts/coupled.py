"""Campaigns for measuring and testing proofs: quests that really start, more or less tied to one another."""

from __future__ import annotations

import random

from vocanta.core.project.records import (
    Area,
    Body,
    Cue,
    Design,
    Fact,
    Item,
    Kind,
    Level,
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
_POST = Design(
    body=Body("none"),
    reach=Reach("circle", 1.5),
    states=(State("off", "off"), State("on", "on")),
    prompts=(Prompt("p1", "Use"),),
)


def coupled(quests: int, coupling: float, seed: int) -> Project:
    """So many quests of three stages each, begun at posts of their own. Deterministic.

    `coupling`, 0 to 1: how likely a step of one quest asks for, gives or takes what is another's.
    """
    r = random.Random(f"{quests}/{coupling}/{seed}")
    cues: list[tuple[str, list[str]]] = []
    for q in range(quests):
        cues += _posts(q, quests, coupling, r)
    side = max(1, round(len(cues) ** 0.5))
    size = (side + 1) * SPACING_M
    things = tuple(
        Object(key, key, "post", (i % side + 0.5) * SPACING_M, (i // side + 0.5) * SPACING_M, cues=_cues(texts))
        for i, (key, texts) in enumerate(cues)
    )
    floor = Area("field_floor", "Floor", ((0, 0), (size, 0), (size, size), (0, size)))
    return Project(
        "coupled",
        "Coupled",
        "field",
        levels=(Level("field", "Field", 1.0, 1.0, 0.0, (floor,), (), things),),
        kinds=(Kind("post", "post", design=_POST),),
        items=tuple(Item(f"token_{q}", f"token {q}", limit=2) for q in range(quests)),
        facts=tuple(Fact(f"known_{q}", f"known {q}") for q in range(quests)),
        quests=tuple(_quest(q) for q in range(quests)),
    )


def _quest(q: int) -> Quest:
    first = Objective(f"find_{q}", "Find", "have", (f"token_{q}",))
    then = Objective(f"learn_{q}", "Learn", "fact", (f"known_{q}",))
    stages = (
        Stage(f"first_{q}", "First", then=f"second_{q}", objectives=(first,)),
        Stage(f"second_{q}", "Second", then=f"third_{q}", objectives=(then,)),
        Stage(f"third_{q}", "Third"),
    )
    return Quest(f"quest_{q}", f"Quest {q}", stages=stages)


def _cues(texts: list[str]) -> tuple[Cue, ...]:
    return tuple(Cue(f"c{n}", text) for n, text in enumerate(texts, start=1))


def _posts(q: int, quests: int, coupling: float, r: random.Random) -> list[tuple[str, list[str]]]:
    """The posts of one quest: where it begins, where its token is, where it is learned, where it is handed in."""

    def other() -> int:
        return r.randrange(quests)

    def needs(*own: str) -> str:
        more = list(own)
        if r.random() < coupling:
            o = other()
            more.append(
                r.choice([f"known_{o}", f"not known_{o}", f"has token_{o}", f"quest_{o} is done"]) if o != q else own[0]
            )
        asked = list(dict.fromkeys(more))
        return "only if " + "\n  and ".join(asked) + "\n" if asked else ""

    def beside() -> str:
        if r.random() >= coupling / 2:
            return ""
        o = other()
        return "\n  " + r.choice(
            [f"take token_{o}", f"set known_{o} to yes", f"set known_{o} to no", f"give token_{o}"]
        )

    return [
        (f"board_{q}", [f"when used\nthen\n  start quest_{q}"]),
        (f"heap_{q}", [f"when used\n{needs('this is off')}then\n  give token_{q}\n  set this to on{beside()}"]),
        (f"stone_{q}", [f"when used\n{needs(f'has token_{q}')}then\n  set known_{q} to yes{beside()}"]),
        (
            f"desk_{q}",
            [f"when used\nonly if quest_{q} at third_{q}\nthen\n  take token_{q}\n  finish quest_{q}{beside()}"],
        ),
    ]
