"""Walks the demo to each of its ends and keeps the walks in its file: what is done stands here, the engine does the rest."""

from __future__ import annotations

import math
from dataclasses import replace

from vocanta.core.engine.again import card_of, fitted, reached
from vocanta.core.engine.run import Run
from vocanta.core.engine.standing import standing_before
from vocanta.core.phrases.vocabulary import STATUSES
from vocanta.core.progress.compiling import compiled
from vocanta.core.progress.program import Program
from vocanta.core.project.fileformat import dumps
from vocanta.core.project.keeping import Card, Deed, Done, Held, Walk
from vocanta.core.project.records import Project
from vocanta.core.walks.comparing import could_come_to
from vocanta.core.walks.following import Follower
from vocanta.core.walks.recording import Recorder
from vocanta.demo import PLACE, night_bloom

FILE = PLACE / "night_bloom" / "project.json"
BESIDE_THE_VAULT_DOOR = (26.95, 9.2)
"""Out of the way of its swing."""


def use(key: str, control: str = "use", stand: tuple[float, float] | None = None, do: Done = "use") -> list[Deed]:
    """Walk up to something and use it; a moment later one goes on."""
    project = night_bloom().project
    thing = next(o for level in project.levels for o in level.objects if o.key == key)
    spot = stand or standing_before(project, key)
    assert spot is not None, key
    x, y = spot[0], spot[1]
    facing = math.degrees(math.atan2(thing.y_m - y, thing.x_m - x))
    off = round(x - thing.x_m, 3), round(y - thing.y_m, 3)
    level = next(lv.key for lv in project.levels if thing in lv.objects)
    return [Deed(do, key, control, "", level, x, y, round(facing, 1), *off), wait(0.3)]


def hold(key: str, control: str = "second", stand: tuple[float, float] | None = None) -> list[Deed]:
    """Hold a control at something until it is done."""
    return use(key, control, stand, "hold")


def answer(line: str, reply: str) -> list[Deed]:
    """Answer, and let the voices speak a little before they are cut short."""
    return [Deed("answer", line, reply), wait(0.6), Deed("wait", seconds=0.2)]


def wait(seconds: float) -> Deed:
    """Stand still."""
    return Deed("wait", seconds=seconds)


def climb(exit: str, level: str) -> Deed:
    """Walk into an exit."""
    return Deed("go", exit, level=level)


def decide(what: str, quest: str) -> list[Deed]:
    """Take on, decline or give up."""
    return [Deed("decide", quest, what), wait(0.3)]


WHOLE_EVENING = [
    *use("odile_marr"),
    *answer("you_are_the_new_one", "r1"),
    *use("field_book_bench"),
    *hold("sluice_wheel"),
    wait(2.2),
    *use("odile_marr"),
    *answer("listen_no_frogs", "r1"),
    wait(6.5),
    *use("odile_marr"),
    *answer("it_opens_tonight", "r1"),
    *use("supply_crate_1"),
    *use("east_wing_door"),
    wait(1.8),
    *use("vines"),
    *use("rack_by_the_wall"),
    *use("rack_in_the_corner"),
    *use("seed_press"),
    wait(1.5),
    *use("work_slate"),
    *decide("start", "lamps_before_dusk"),
    *use("yard_lamp_west"),
    *use("yard_lamp_east"),
    *use("palm_lamp"),
    climb("ladder_down", "glasshouse"),
    *use("landing_lamp"),
    climb("ladder_up", "cistern"),
    *hold("vault_gate", "second", BESIDE_THE_VAULT_DOOR)[:1],
    *use("vault_gate", "use", BESIDE_THE_VAULT_DOOR),
    wait(1.8),
    *use("orchid"),
    *use("work_slate"),
    wait(4.0),
    *use("yard_bell"),
    *use("odile_marr"),
    *answer("bring_it_here", "r1"),
    wait(6.0),
]
BEFORE_THE_END = 6
"""So many deeds before the end of the whole evening, the orchid is in hand and not yet given."""


THE_START = Card("here", "Here", "glasshouse", *(5.6, 1.2, 90.0))
TO_THE_WARDEN = [
    Deed("use", "mr_quill", "use", level="glasshouse", off_y_m=-1.0, facing_deg=90.0),
    wait(0.3),
    *answer("that_flower", "r1"),
    wait(2.0),
]
OUT_OF_TIME = [wait(4.0)]
GIVEN_UP = [*decide("give up", "word_for_owner"), wait(0.5)]
ACTIVE = STATUSES.index("active")


def walked(project: Project, program: Program, deeds: list[Deed], begins: Card, name: str, key: str) -> Walk:
    """A walk of these deeds as the engine goes it, with its raw inputs; held to the level's end and how its quests stand."""
    run, _ = _run(project, program, begins, deeds)
    wanted = tuple(h for h in could_come_to(run.run) if h.column.partition(":")[0] in ("ended", "status"))
    ticks = run.run.situation.tick
    return Walk(key, name, begins, 0, ticks, run.deeds(), tuple(run.came), wanted, tuple(run.pressed))


def _run(project: Project, program: Program, begins: Card, deeds: list[Deed]) -> tuple[Recorder, Card]:
    """A run of these deeds, recorded, and what it has come to."""
    run = Run(project, fitted(begins, project, program).start, program)
    recorder = Recorder(run)
    for given in Follower(run, deeds).inputs():
        recorder.note(given, run.tick(given))
    return recorder, card_of(run.situation, reached(run))


def main() -> None:
    """Write the demo's file anew with its kept walks."""
    project = replace(night_bloom().project, walks=())
    program = compiled(project)
    orchid_in_hand = _run(project, program, THE_START, WHOLE_EVENING[:-BEFORE_THE_END])[1]
    letter = Held("status:word_for_owner", ACTIVE, "", "A Word for the Owner active")
    lamps = Held("status:lamps_before_dusk", ACTIVE, "", "Lamps Before Dusk active")
    time = Held("limit:four_lamps", 1, "", "the time for Lamps lit runs", 3.0)
    owed = replace(orchid_in_hand, holds=(*orchid_in_hand.holds, letter))
    late = replace(THE_START, holds=(lamps, time))
    asked = replace(THE_START, holds=(letter,))
    walks = [
        (WHOLE_EVENING, THE_START, "From the gate to the ending", "walk_to_the_ending"),
        (TO_THE_WARDEN, owed, "The orchid to the warden", "walk_to_the_warden"),
        (OUT_OF_TIME, late, "Lamps, too late", "walk_too_late"),
        (GIVEN_UP, asked, "The letter given up", "walk_given_up"),
    ]
    kept = tuple(walked(project, program, *one) for one in walks)
    FILE.write_text(dumps(replace(project, walks=kept)), encoding="utf-8")


if __name__ == "__main__":
    main()
