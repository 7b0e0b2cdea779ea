"""Which columns a project has: one for everything that progress remembers or senses."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property

from ..cuetext.nodes import Later
from ..cuetext.roles import STATUSES
from ..project.designs import resolved
from ..project.records import Conversation, Design, Exit, Project, Quest
from .columns import Column, ColumnTable
from .mentions import Mentions, Placed, mentions_of

MOST_MONEY = 999_999
HEARD_ENOUGH = 999
STATUS = {name: number for number, name in enumerate(STATUSES)}
OUTCOMES = ("", "won", "lost")
"""How the level ended, by the value of `ended`."""
ON_THE_WAY, LEAVING = 1, 2
"""What a carrier is doing, by the value of `carrier:key`; 0 is nothing."""


@dataclass(frozen=True, slots=True)
class CellMap:
    """The cells of a project as the program sees them: the area, level, doorway and exit of each, and which can be
    walked into from which. `arrivals` are the cells of the entries: see `Layout.entries`."""

    areas: tuple[str, ...] = ("",)
    levels: tuple[str, ...] = ("",)
    neighbours: tuple[frozenset[int], ...] = (frozenset(),)
    doors: tuple[str, ...] = ("",)
    exits: tuple[str, ...] = ("",)
    falls: frozenset[tuple[int, int]] = frozenset()
    start: int = 0
    arrivals: tuple[int, ...] = ()

    def of_area(self, key: str) -> frozenset[int]:
        """The cells of an area."""
        return frozenset(i for i, a in enumerate(self.areas) if a == key)

    def of_level(self, key: str) -> frozenset[int]:
        """The cells of a level."""
        return frozenset(i for i, lv in enumerate(self.levels) if lv == key)


@dataclass(frozen=True)
class Layout:
    """Columns and what the compiler looks up by key."""

    project: Project
    table: ColumnTable
    placed: Mapping[str, Placed]
    mentions: Mentions
    quests: Mapping[str, Quest]
    conversations: Mapping[str, Conversation]
    speeches: tuple[tuple[str, str], ...]
    map: CellMap

    def column(self, what: str, key: str = "") -> int:
        """The number of the column `what:key`."""
        return self.table.number(f"{what}:{key}" if key else what)

    def opening(self, conversation: str) -> int:
        """The value of `talk` while a conversation's openers are being read."""
        return len(self.speeches) + 1 + list(self.conversations).index(conversation)

    def speech(self, conversation: str, line: str) -> int:
        """The value of `talk` while a line is open."""
        return self.speeches.index((conversation, line)) + 1

    @cached_property
    def entries(self) -> tuple[str, ...]:
        """Where the player can come into a level, by the value of `entry`: `start:level`, `exit:key`, `at:key`."""
        return entries_of(self.project, self.mentions)

    @cached_property
    def exits(self) -> dict[str, tuple[Exit, str]]:
        """Every exit with its level."""
        return {e.key: (e, level.key) for level in self.project.levels for e in level.exits}

    @cached_property
    def slots(self) -> dict[str, tuple[str, ...]]:
        """The gear of each slot; the value of `gear:slot` is its place, from 1 on."""
        found: dict[str, tuple[str, ...]] = {}
        for item in self.project.items:
            if item.slot not in ("", "?"):
                found[item.slot] = (*found.get(item.slot, ()), item.key)
        return found

    @cached_property
    def deliveries(self) -> dict[tuple[str, Later], int]:
        """For each owner and step of a later, the value of `later:owner` while it is under way."""
        return {(owner, s): i for owner, steps in self.mentions.laters.items() for i, s in enumerate(steps, start=1)}

    def hands_off(self, ability: str) -> list[str]:
        """The objects that suspend an ability while the player is inside their reach."""
        return [key for key, one in self.placed.items() if ability in one.design.suspends]


def entries_of(project: Project, mentions: Mentions) -> tuple[str, ...]:
    """Every place where the player can come into a level: starts, ends of exits, places of *move player*."""
    starts = [f"start:{level.key}" for level in project.levels]
    exits = [f"exit:{e.key}" for level in project.levels for e in level.exits]
    return (*starts, *exits, *(f"at:{key}" for key in mentions.moves))


def placed_of(project: Project) -> dict[str, Placed]:
    """Every object of a project with its design, by key. Raises `ProjectError` where an own value does not fit."""
    kinds = {k.key: k for k in project.kinds}
    return {
        o.key: Placed(o, resolved(kinds[o.kind], o) if o.kind in kinds else Design(), level.key)
        for level in project.levels
        for o in level.objects
    }


def lay_out(project: Project, cells: CellMap) -> Layout:
    """The layout of a project over its cells."""
    placed = placed_of(project)
    mentions = mentions_of(project, placed)
    conversations = {c.key: c for c in project.conversations}
    speeches = tuple((c.key, line.key) for c in project.conversations for line in c.lines)
    table = ColumnTable()
    quests = {q.key: q for q in project.quests}
    layout = Layout(project, table, placed, mentions, quests, conversations, speeches, cells)
    table.add(Column("cell", 0, max(len(cells.areas) - 1, 0), cells.start, "project"))
    start = max((i for i, e in enumerate(layout.entries) if e == f"start:{project.first_level}"), default=0)
    table.add(Column("entry", 0, max(len(layout.entries) - 1, 0), start, "project"))
    table.add(Column("ended", 0, len(OUTCOMES) - 1, 0, "project"))
    table.add(Column("ending", 0, len(mentions.ends), 0, "project"))
    for one in placed.values():
        _object_columns(layout, one)
    for exit, _ in layout.exits.values():
        table.add(Column(f"exit:{exit.key}", 0, 1, int(exit.open_at_start), f"exit/{exit.key}"))
    _possession_columns(layout)
    for quest in project.quests:
        _quest_columns(table, quest)
    _talk_columns(table, layout)
    _mentioned_columns(layout)
    return layout


def _object_columns(layout: Layout, one: Placed) -> None:
    table, mentions, design = layout.table, layout.mentions, one.design
    key, origin = one.thing.key, f"object/{one.thing.key}"
    table.add(Column(f"exists:{key}", 0, 1, int(one.thing.there_at_start), origin))
    table.add(Column(f"state:{key}", 0, len(design.states) - 1, 0, origin))
    table.add(Column(f"moving:{key}", 0, len(design.states), 0, origin))
    table.add(Column(f"near:{key}", 0, 1, 0, origin))
    table.add(Column(f"mark:{key}", 0, 1, 0, origin))
    if design.uses:
        table.add(Column(f"uses:{key}", 0, design.uses, design.uses, origin))
    wanted = {
        "queued": len(layout.project.controls) if design.motion.while_moving == "queued" else 0,
        "cooling": int(design.cool_down_s > 0),
        "down": int(key in mentions.downed),
        "touching": int(key in mentions.touched),
        "looking": int(key in mentions.looked_at),
        "carrier": 2 * int(key in mentions.carriers),
    }
    for what, highest in wanted.items():
        if highest:
            table.add(Column(f"{what}:{key}", 0, highest, 0, origin))
    table.add(Column(f"in_reach:{key}", 0, 1, 0, origin, sensed=True))
    if design.reach.facing_deg is not None or design.reach.sight_m is not None:
        table.add(Column(f"looked_at:{key}", 0, 1, 0, origin, sensed=True))
    table.add(Column(f"in_way:{key}", 0, 1, 0, origin, sensed=True))


def _possession_columns(layout: Layout) -> None:
    table, project = layout.table, layout.project
    for item in project.items:
        table.add(Column(f"item:{item.key}", 0, item.limit, min(item.at_start, item.limit), f"item/{item.key}"))
    for slot, gear in layout.slots.items():
        table.add(Column(f"gear:{slot}", 0, len(gear), 0, "project"))
    for fact in project.facts:
        low, high = (0, 1) if fact.type == "yes_no" else (fact.lowest, fact.highest)
        start = min(max(fact.at_start, low), high)
        table.add(Column(f"fact:{fact.key}", low, high, start, f"fact/{fact.key}"))
    for ability in project.abilities:
        origin = f"ability/{ability.key}"
        table.add(Column(f"ability:{ability.key}", 0, 1, 0, origin))
        table.add(Column(f"ability_uses:{ability.key}", 0, 999, 0, origin))
        table.add(Column(f"suspended:{ability.key}", 0, 1, 0, origin))
    table.add(Column("money", 0, MOST_MONEY, 0, "project"))
    table.add(Column("experience", 0, MOST_MONEY, 0, "project"))


def _quest_columns(table: ColumnTable, quest: Quest) -> None:
    origin = f"quest/{quest.key}"
    start = STATUS["unavailable"] if quest.needs.strip() else STATUS["available"]
    table.add(Column(f"status:{quest.key}", 0, len(STATUSES) - 1, start, origin))
    table.add(Column(f"stage:{quest.key}", 0, max(len(quest.stages) - 1, 0), 0, origin))
    table.add(Column(f"completions:{quest.key}", 0, 1, 0, origin))
    for stage in quest.stages:
        for objective in stage.objectives:
            place = f"{origin}/stage/{stage.key}/objective/{objective.key}"
            table.add(Column(f"met:{objective.key}", 0, 1, 0, place))
            table.add(Column(f"count:{objective.key}", 0, objective.count, 0, place))
            if len(objective.targets) > 1:
                for target in dict.fromkeys(objective.targets):
                    table.add(Column(f"counted:{objective.key}/{target}", 0, 1, 0, place))


def _talk_columns(table: ColumnTable, layout: Layout) -> None:
    most = len(layout.speeches) + len(layout.conversations)
    table.add(Column("talk", 0, most, 0, "project"))
    table.add(Column("talk_waiting", 0, len(layout.conversations), 0, "project"))
    for conversation, line in layout.speeches:
        table.add(Column(f"heard:{line}", 0, HEARD_ENOUGH, 0, f"conversation/{conversation}/line/{line}"))


def _mentioned_columns(layout: Layout) -> None:
    """Columns that exist only because a text asks for them."""
    table, mentions = layout.table, layout.mentions
    for (verb, key), largest in mentions.tallies.items():
        table.add(Column(f"tally:{verb}/{key}", 0, largest + 1, 0, "project"))
    for key, how, who in mentions.arounds:
        if not table.has(around_column(key, how, who)):
            table.add(Column(around_column(key, how, who), 0, 1, 0, f"object/{key}", sensed=True))
    for name in mentions.chances:
        table.add(Column(f"chance:{name}", 0, 1, 0, "project", sensed=True))
    for role in layout.project.roles:
        most = len(mentions.fillings.get(role.key, ()))
        table.add(Column(f"role:{role.key}", 0, most, 0, f"role/{role.key}"))
    for owner, steps in mentions.laters.items():
        table.add(Column(f"later:{owner}", 0, len(steps), 0, "project"))
    for ability in layout.project.abilities:
        for key in mentions.struck.get(ability.key, ()):
            table.add(Column(f"aimed_at:{key}/{ability.key}", 0, 1, 0, f"object/{key}", sensed=True))


def around_column(key: str, how: str, who: str) -> str:
    """The sensed column that says whether somebody is in reach or in the way of an object."""
    if how == "in the way of":
        return f"in_way:{key}" if who == "somebody" else f"way_by:{key}/{who}"
    return f"in_reach:{key}" if who == "player" else f"reach_by:{key}/{who}"
