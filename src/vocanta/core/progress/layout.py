"""Which columns a project has: one for everything that progress remembers or senses."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from ..cuetext.roles import STATUSES
from ..project.designs import resolved
from ..project.records import Conversation, Design, Object, Project, Quest
from .columns import Column, ColumnTable

MOST_MONEY = 999_999
HEARD_ENOUGH = 999
STATUS = {name: number for number, name in enumerate(STATUSES)}


@dataclass(frozen=True)
class Placed:
    """One object with its resolved design and where it is placed."""

    thing: Object
    design: Design
    level: str

    @property
    def state_numbers(self) -> dict[str, int]:
        """The number of each state."""
        return {s.key: i for i, s in enumerate(self.design.states)}


@dataclass(frozen=True)
class Layout:
    """Columns and what the compiler looks up by key."""

    project: Project
    table: ColumnTable
    placed: Mapping[str, Placed]
    quests: Mapping[str, Quest]
    conversations: Mapping[str, Conversation]
    speeches: tuple[tuple[str, str], ...]
    cells: tuple[str, ...]

    def column(self, what: str, key: str = "") -> int:
        """The number of the column `what:key`."""
        return self.table.number(f"{what}:{key}" if key else what)

    def opening(self, conversation: str) -> int:
        """The value of `talk` while a conversation's openers are being read."""
        return len(self.speeches) + 1 + list(self.conversations).index(conversation)

    def speech(self, conversation: str, line: str) -> int:
        """The value of `talk` while a line is open."""
        return self.speeches.index((conversation, line)) + 1


def lay_out(project: Project, cells: tuple[str, ...], start_cell: int) -> Layout:
    """The layout of a project. `cells` names the area (or no area) of each cell; the start lies in `start_cell`."""
    kinds = {k.key: k for k in project.kinds}
    placed = {
        o.key: Placed(o, resolved(kinds[o.kind], o) if o.kind in kinds else Design(), level.key)
        for level in project.levels
        for o in level.objects
    }
    conversations = {c.key: c for c in project.conversations}
    speeches = tuple((c.key, line.key) for c in project.conversations for line in c.lines)
    table = ColumnTable()
    layout = Layout(project, table, placed, {q.key: q for q in project.quests}, conversations, speeches, cells)
    table.add(Column("cell", 0, max(len(cells) - 1, 0), start_cell, "project"))
    for one in placed.values():
        _object_columns(table, one)
    _possession_columns(table, project)
    for quest in project.quests:
        _quest_columns(table, quest)
    _talk_columns(table, layout)
    return layout


def _object_columns(table: ColumnTable, one: Placed) -> None:
    key, origin = one.thing.key, f"object/{one.thing.key}"
    table.add(Column(f"exists:{key}", 0, 1, 1, origin))
    table.add(Column(f"state:{key}", 0, len(one.design.states) - 1, 0, origin))
    table.add(Column(f"moving:{key}", 0, len(one.design.states), 0, origin))
    table.add(Column(f"near:{key}", 0, 1, 0, origin))
    table.add(Column(f"mark:{key}", 0, 1, 0, origin))
    if one.design.uses:
        table.add(Column(f"uses:{key}", 0, one.design.uses, one.design.uses, origin))
    table.add(Column(f"in_reach:{key}", 0, 1, 0, origin, sensed=True))
    if one.design.reach.facing_deg is not None or one.design.reach.sight_m is not None:
        table.add(Column(f"looked_at:{key}", 0, 1, 0, origin, sensed=True))
    table.add(Column(f"in_way:{key}", 0, 1, 0, origin, sensed=True))


def _possession_columns(table: ColumnTable, project: Project) -> None:
    for item in project.items:
        table.add(Column(f"item:{item.key}", 0, item.limit, min(item.at_start, item.limit), f"item/{item.key}"))
    for fact in project.facts:
        low, high = (0, 1) if fact.type == "yes_no" else (fact.lowest, fact.highest)
        start = min(max(fact.at_start, low), high)
        table.add(Column(f"fact:{fact.key}", low, high, start, f"fact/{fact.key}"))
    for ability in project.abilities:
        table.add(Column(f"ability:{ability.key}", 0, 1, 0, f"ability/{ability.key}"))
        table.add(Column(f"ability_uses:{ability.key}", 0, 999, 0, f"ability/{ability.key}"))
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
