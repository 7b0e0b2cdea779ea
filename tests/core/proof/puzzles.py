"""Puzzles with known answers, written as projects. Each has one quest, `errand`, under way from the start."""

from __future__ import annotations

from dataclasses import replace

from tests.core.small import DOOR, FLOOR, area, post, project, thing
from vocanta.core.project.records import Area, Fact, Project, Quest, Reach, Stage, Wall

BEGIN = "when started\nthen\n  start errand"
ERRAND = Quest("errand", "Errand", stages=(Stage("only", "Only"),), give_up="no")


def puzzle(
    *things, facts: tuple[Fact, ...] = (), areas: tuple[Area, ...] = (FLOOR,), walls=(), start=(10.0, 5.0)
) -> Project:
    """A project of these things; a post of its own begins the errand."""
    one = project(post("beginner", BEGIN, x=start[0], y=start[1], prompts=()), *things, quests=(ERRAND,), areas=areas)
    level = replace(one.levels[0], key="hall_level", walls=tuple(walls), start_x_m=start[0], start_y_m=start[1])
    return replace(one, facts=(*one.facts, *facts), first_level="hall_level", levels=(level,))


# --- a river


def _row(who: str, over: bool, left: str) -> str:
    """One crossing with somebody, or alone: from one bank to the other, leaving the rest in peace."""
    here = "boat_over" if over else "not boat_over"
    needs = [here, *([] if not who else [f"{who}_over" if over else f"not {who}_over"]), *([left] if left else [])]
    to = "no" if over else "yes"
    moved = "".join(f"\n  set {one}_over to {to}" for one in ([who] if who else []) + ["boat"])
    return "when used\nonly if " + "\n  and ".join(needs) + "\nthen" + moved


def _apart(one: str, other: str, over: bool) -> str:
    """Whoever stays behind at a bank is not both of two."""
    return f"(not {one}_over or not {other}_over)" if over else f"({one}_over or {other}_over)"


def crossing() -> Project:
    """A wolf, a goat and a cabbage are rowed over a river, one at a time and never left to eat one another. Seven."""
    done = "when changed boat_over\nonly if wolf_over\n  and goat_over\n  and cabbage_over\nthen\n  finish errand"
    both = [f"{_apart('goat', 'wolf', o)}\n  and {_apart('goat', 'cabbage', o)}" for o in (False, True)]
    left = {
        "wolf": [_apart("goat", "cabbage", o) for o in (False, True)],
        "goat": ["", ""],
        "cabbage": [_apart("goat", "wolf", o) for o in (False, True)],
        "": both,
    }
    rows = {who: [_row(who, over, needs[over]) for over in (False, True)] for who, needs in left.items()}
    posts = [post(f"take_{who or 'nobody'}", *texts, x=2.0 + 4.0 * n) for n, (who, texts) in enumerate(rows.items())]
    facts = tuple(Fact(f"{who}_over", who.title()) for who in ("boat", "wolf", "goat", "cabbage"))
    return puzzle(*posts, post("bank", done, x=18.0, y=8.0, prompts=()), facts=facts)


# --- two jugs


def jugs() -> Project:
    """Jugs of three and of five, and four to be measured in the larger. Six."""
    pours = {"small": [], "large": []}
    for small in range(4):
        for large in range(6):
            at = f"when used\nonly if small exactly {small}\n  and large exactly {large}\nthen\n  "
            more, less = min(small, 5 - large), min(large, 3 - small)
            if more:
                pours["small"].append(f"{at}set small to {small - more}\n  set large to {large + more}")
            if less:
                pours["large"].append(f"{at}set small to {small + less}\n  set large to {large - less}")
    done = "when changed large\nonly if large exactly 4\nthen\n  finish errand"
    things = [
        post("fill_small", "when used\nthen\n  set small to 3", x=2.0),
        post("fill_large", "when used\nthen\n  set large to 5", x=6.0),
        post("empty_small", "when used\nthen\n  set small to 0", x=10.0),
        post("empty_large", "when used\nthen\n  set large to 0", x=14.0),
        post("pour_small", *pours["small"], x=18.0),
        post("pour_large", *pours["large"], x=18.0, y=6.0),
        post("eye", done, x=2.0, y=8.0, prompts=()),
    ]
    return puzzle(*things, facts=(Fact("small", "Small", "number", 0, 3), Fact("large", "Large", "number", 0, 5)))


# --- locked doors

HALL, LEFT, RIGHT = area("hall", 0, 0, 10, 4), area("left_room", 0, 4, 5, 4), area("right_room", 5, 4, 5, 4)
WALLS = (
    Wall("w1", ((0, 4), (1.5, 4))),
    Wall("w2", ((2.5, 4), (7.5, 4))),
    Wall("w3", ((8.5, 4), (10, 4))),
    Wall("w4", ((5, 4), (5, 8))),
)
NEAR = {"reach": Reach("circle", 1.0)}


def _door(key: str, x: float, item: str, spends: bool) -> tuple:
    takes = f"take {item}\n  " if spends else ""
    opens = f"when used\nonly if this is shut\n  and has {item}\nthen\n  {takes}set this to open"
    return thing(f"{key}_door", opens, x=x, y=4.0, **DOOR, **NEAR)


def _lying(key: str, item: str, x: float, y: float) -> tuple:
    return post(f"{key}_key", f"when used\nthen\n  give {item}\n  remove this", x=x, y=y, **NEAR)


def _lever(x: float, y: float) -> tuple:
    return post("lever", "when used\nthen\n  finish errand", x=x, y=y, **NEAR)


def one_after_another() -> Project:
    """The key of the second door lies behind the first, the lever behind the second: two keys, two doors, a lever. Five."""
    things = (_door("left", 2.0, "nut", False), _door("right", 8.0, "pin", False), _lying("first", "nut", 5.0, 1.0))
    more = (_lying("second", "pin", 2.0, 7.0), _lever(8.0, 7.0))
    return puzzle(*things, *more, areas=(HALL, LEFT, RIGHT), walls=WALLS, start=(5.0, 2.5))


def one_key_for_two() -> Project:
    """The one key is spent on either door, and the lever is behind the right one. Three, or stuck after two."""
    things = (_door("left", 2.0, "nut", True), _door("right", 8.0, "nut", True), _lying("only", "nut", 5.0, 1.0))
    return puzzle(*things, _lever(8.0, 7.0), areas=(HALL, LEFT, RIGHT), walls=WALLS, start=(5.0, 2.5))


def a_drop_without_return() -> Project:
    """Whoever jumps into the pit before the lever was pulled never comes up again. One, or stuck after none."""
    high = area("hall", 0, 0, 10, 4, floor_m=2.0, drops=("pit",))
    pit = area("pit", 0, 4, 10, 4)
    return puzzle(_lever(2.0, 1.0), areas=(high, pit), start=(5.0, 2.0))


# --- a walk


def three_bells() -> Project:
    """Three bells along a hall, to be rung in any order, and not built in that in which they hang. Three, and eleven metres."""
    ring = "when used\nthen\n  add 1 to rung\n  remove this"
    bells = [post(f"bell_at_{x}", ring, x=float(x), y=5.0, **NEAR) for x in (14, 6, 10)]
    ear = post("ear", "when changed rung\nonly if rung exactly 3\nthen\n  finish errand", x=18.0, y=8.0, prompts=())
    return puzzle(*bells, ear, facts=(Fact("rung", "Rung", "number", 0, 3),), start=(2.0, 5.0))
