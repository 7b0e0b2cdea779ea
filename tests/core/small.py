"""The smallest project that a rule needs, and a situation of it to act on."""

from __future__ import annotations

import dataclasses

from vocanta.core.progress.compiling import compiled
from vocanta.core.progress.onerow import RowOutcome, RowWalk
from vocanta.core.progress.ops import Told
from vocanta.core.project.records import (
    Ability,
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
    Motion,
    Object,
    Project,
    Prompt,
    Quest,
    Reach,
    State,
)

FLOOR = Area("hall", "Hall", ((0, 0), (20, 0), (20, 10), (0, 10)))
STATES = (State("shut", "shut"), State("ajar", "ajar"), State("wide", "wide"))


def thing(key: str, *cues: str, x: float = 2.0, y: float = 2.0, **design) -> tuple[Kind, Object]:
    """An object of its own kind with the given cues; pressed with `use`, held with `second`."""
    usual = {
        "reach": Reach("circle", 1.5),
        "states": STATES,
        "prompts": (Prompt("p1", "Use {object}"), Prompt("p2", "Hold {object}", "second", hold_s=0.5)),
    }
    texts = tuple(Cue(f"c{i}", text) for i, text in enumerate(cues, start=1))
    return Kind(f"{key}_kind", key, design=Design(**{**usual, **design})), Object(
        key, key.title(), f"{key}_kind", x, y, cues=texts
    )


def project(
    *things: tuple[Kind, Object],
    quests: tuple[Quest, ...] = (),
    talks: tuple[Conversation, ...] = (),
    areas: tuple[Area, ...] = (FLOOR,),
) -> Project:
    """A project of these things, with an item `nut` (to 3), facts `wet` and `tally` (0 to 4), an ability `leap`."""
    return Project(
        "small",
        "Small",
        "level",
        levels=(Level("level", "Level", 10.0, 5.0, 0.0, areas, (), tuple(o for _, o in things)),),
        kinds=tuple(k for k, _ in things),
        items=(Item("nut", "nut", limit=3), Item("pin", "pin", limit=1)),
        facts=(Fact("wet", "Wet"), Fact("tally", "Tally", "number", 0, 4)),
        abilities=(Ability("leap", "Leap"),),
        quests=quests,
        conversations=talks,
    )


CELLAR = Area("cellar", "Cellar", ((0, 0), (8, 0), (8, 8), (0, 8)))
DOOR = {
    "states": (State("shut", "shut"), State("open", "open", blocks=False, swing_deg=90.0)),
    "motion": Motion(1.0, hinge_x_m=-0.5),
    "body": Body("box", 1.0, 0.1, 2.0),
    "prompts": (Prompt("p1", "Use"),),
}
ZONE = {"prompts": (), "body": Body("none")}
TOGGLE = "when used\nthen\n  set this to next"


def two_levels(*upper, lower=(), exits=(), back=(), **more):
    """The hall of `small`, and a cellar below that its exits lead to."""
    first = project(*upper, *lower, **more)
    keys = {o.key for _, o in lower}
    hall = first.levels[0]
    hall = dataclasses.replace(hall, objects=tuple(o for o in hall.objects if o.key not in keys), exits=tuple(exits))
    cellar = Level("below", "Below", 1.0, 1.0, 0.0, (CELLAR,), (), tuple(o for _, o in lower), tuple(back))
    return dataclasses.replace(first, levels=(hall, cellar))


DOWN = Exit("way_down", "Way down", 5.0, 1.0, to_level="below", to_x_m=4.0, to_y_m=4.0, to_facing_deg=0.0)
UP = Exit("way_up", "Way up", 7.0, 4.0, to_level="level", to_x_m=8.0, to_y_m=5.0)


USE = (Prompt("p1", "Use"),)


def post(key, *cues, **more):
    """A thing without a body that is reached from 2 m around."""
    return thing(key, *cues, **{"reach": Reach("circle", 2.0), "prompts": USE, "body": Body("none"), **more})


def area(key, x, y, wide, deep, floor_m=0.0, drops=()):
    """A right-angled area."""
    corners = ((x, y), (x + wide, y), (x + wide, y + deep), (x, y + deep))
    return Area(key, key.title(), corners, floor_m=floor_m, drops_to=tuple(drops))


class Situation:
    """One row of a project; everything is in reach. `told` gathers what the last action told."""

    def __init__(self, small: Project):
        self.program = compiled(small)
        assert self.program.problems == (), self.program.problems
        self.row = [c.start for c in self.program.columns]
        self.told: list[Told] = []
        self.off: frozenset[str] = frozenset()
        self.take(self.walk().start())
        for number in self.program.sensed:
            self.row[number] = int(self.program.columns[number].what in ("in_reach", "looked_at"))

    def walk(self) -> RowWalk:
        return RowWalk(self.program, self.row, self.off)

    def take(self, outcome: RowOutcome) -> bool:
        """Keep what was told and what is switched off; whether something took effect."""
        wrong = [c.name for c, v in zip(self.program.columns, self.row, strict=True) if not c.lowest <= v <= c.highest]
        assert not wrong, wrong
        self.told = [told for told, _ in outcome.told]
        self.off |= frozenset(outcome.chasing)
        return outcome.took_effect

    def refuse(self, name: str) -> None:
        """Only the refusal of an action."""
        self.take(self.walk().refuse(self.program.by_name[name]))

    def sense(self, column: str, value: int) -> None:
        """A sensed column changes, and whoever listens hears of it."""
        number = self.program.table.number(column)
        old, self.row[number] = self.row[number], value
        self.take(self.walk().sensed(number, old))

    def use(self, key: str) -> bool:
        """Press, as a player does, whether usable or not; whether something took effect."""
        return self.act(f"used:{key}/use", attempt=True)

    def act(self, name: str, *, attempt: bool = False) -> bool:
        return self.take(self.walk().act(self.program.by_name[name], attempt=attempt))

    def walk_to(self, key: str) -> bool:
        """Walk into a cell of an object's zone; whether something took effect."""
        return self.act(f"cross:{min(self.program.layout.zone(key))}")

    def walk_off(self, key: str) -> bool:
        """Walk out of an object's zone."""
        inside = self.program.layout.zone(key)
        near = self.program.layout.cells.neighbours[self["cell"]]
        return self.act(f"cross:{min(near - inside)}")

    def put(self, column: str, value: int) -> None:
        self.row[self.program.table.number(column)] = value

    def __getitem__(self, column: str) -> int:
        return self.row[self.program.table.number(column)]

    def notices(self) -> list[str]:
        return [str(dict(t.details)["text"]) for t in self.told if t.what == "notice"]

    def kinds_told(self) -> list[str]:
        return [t.what for t in self.told]

    def open_names(self) -> list[str]:
        from vocanta.core.progress.onerow import holds_on

        return [a.name for a in self.program.actions if holds_on(a.guard, self.row)]
