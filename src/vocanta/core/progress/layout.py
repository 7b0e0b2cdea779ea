"""Which columns a project has: one for everything that progress remembers or senses, and that anything reads."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cached_property
from typing import Literal

from ..phrases import nodes as n
from ..phrases.vocabulary import PLAYER, SOMEBODY, STATUSES
from ..project.records import Conversation, Ending, Exit, Line, Project, Quest, Reply
from ..space.cells import Cells, cells_of
from .aims import aimed
from .columns import Column, ColumnTable, What
from .cutting import cuts_of
from .guards import Guard
from .mentions import Mentions, mentions_of, pending
from .placed import Placed, placed_of

MOST_MONEY = 999_999
STATUS = {name: number for number, name in enumerate(STATUSES)}
Outcome = Literal["", "won", "lost"]
OUTCOMES: tuple[Outcome, ...] = ("", "won", "lost")
"""How the level ended, by the value of `ended`."""
TIME_RUNS, TIME_IS_UP = 1, 2
"""What the time of an objective does, by the value of `limit:key`; 0 is nothing."""
ON_THE_WAY, LEAVING = 1, 2
"""What a carrier is doing, by the value of `carrier:key`; 0 is nothing."""


@dataclass(frozen=True)
class Layout:
    """Columns and what the compiler looks up by key. `spots` are the places where a thing may be put for certain."""

    project: Project
    table: ColumnTable
    placed: Mapping[str, Placed]
    mentions: Mentions
    quests: Mapping[str, Quest]
    conversations: Mapping[str, Conversation]
    speeches: tuple[tuple[str, str], ...]
    cells: Cells
    required: dict[str, Guard] = field(default_factory=dict)
    """What quests ask for before they are available, by quest; noted by the compiler before anything asks."""

    def column(self, what: What, key: str = "") -> int:
        """The number of a column. Raises `KeyError` where there is none."""
        return self.table.at(what, key)

    def find(self, what: What, key: str = "") -> int | None:
        """The number of a column, None where nothing asks for it."""
        return self.table.find(what, key)

    def opening(self, conversation: str) -> int:
        """The value of `talk` while a conversation's openers are being read."""
        return len(self.speeches) + 1 + self.talk_numbers[conversation]

    def speech(self, conversation: str, line: str) -> int:
        """The value of `talk` while a line is open."""
        return self._speech_numbers[conversation, line]

    @cached_property
    def talk_numbers(self) -> dict[str, int]:
        """The place of each conversation."""
        return {key: i for i, key in enumerate(self.conversations)}

    @cached_property
    def lines(self) -> dict[tuple[str, str], Line]:
        """Every line by its conversation and key."""
        return {(talk.key, line.key): line for talk in self.conversations.values() for line in talk.lines}

    @cached_property
    def _speech_numbers(self) -> dict[tuple[str, str], int]:
        return {speech: i for i, speech in enumerate(self.speeches, start=1)}

    @cached_property
    def talkers(self) -> tuple[str, ...]:
        """The objects at which a conversation may be opened; the value of `talk_at` is the place here, from 1 on."""
        return tuple(dict.fromkeys(k for at in self.mentions.opened.values() for k in at if k))

    @cached_property
    def entries(self) -> tuple[str, ...]:
        """Where the player can come into a level, by the value of `entry`: `start:level`, `exit:key`, `at:key`."""
        starts = [f"start:{level.key}" for level in self.project.levels]
        exits = [f"exit:{e.key}" for level in self.project.levels for e in level.exits]
        return (*starts, *exits, *(f"at:{key}" for key in self.mentions.moves))

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
    def endings(self) -> tuple[tuple[str, Ending], ...]:
        """What ends each level by itself, with the level; the values of `ending` after those of the steps that end one."""
        return tuple((level.key, ending) for level in self.project.levels for ending in level.endings)

    @cached_property
    def deliveries(self) -> dict[tuple[str, n.Later], int]:
        """For each owner and step of a later, the value of `later:owner` or `later:owner/name` while it is under way."""
        return {
            (owner, step): number
            for owner, named in self.mentions.laters.items()
            for steps in named.values()
            for number, step in enumerate(steps, start=1)
        }

    @cached_property
    def _suspending(self) -> dict[str, list[str]]:
        found: dict[str, list[str]] = {}
        for key, one in self.placed.items():
            for ability in one.design.suspends:
                found.setdefault(ability, []).append(key)
        return found

    def hands_off(self, ability: str) -> list[str]:
        """The objects that suspend an ability while the player is inside their reach."""
        return self._suspending.get(ability, [])

    def cut(self, key: str) -> bool:
        """Whether the floor is cut at an object's reach, so that the cell says whether the player is inside."""
        return bool(self._zones.get(key))

    @cached_property
    def _zones(self) -> dict[str, frozenset[int]]:
        found: dict[str, set[int]] = {}
        for number, cell in enumerate(self.cells.cells):
            for key in cell.zones:
                found.setdefault(key, set()).add(number)
        return {key: frozenset(numbers) for key, numbers in found.items()}

    def zone(self, key: str) -> frozenset[int]:
        """The cells of an object's reach, where the floor is cut at it."""
        return self._zones.get(key, frozenset())

    @cached_property
    def _lying(self) -> dict[str, tuple[str, ...]]:
        movable = [self.mentions.movable(key) for key in self.placed]
        roaming = {key: i for i, (key, moves) in enumerate(zip(self.placed, movable, strict=True)) if moves}
        settled: dict[str, dict[str, int]] = {level.key: {} for level in self.project.levels}
        for number, (key, one) in enumerate(self.placed.items()):
            if not movable[number] and one.level:
                settled[one.level][key] = number
        both = {level: {**here, **roaming} for level, here in settled.items()}
        return {level: tuple(sorted(found, key=found.__getitem__)) for level, found in both.items()}

    def may_lie_in(self, level: str) -> tuple[str, ...]:
        """The objects placed in a level, and those that can come to lie in any, by creation."""
        return self._lying[level]

    @cached_property
    def sensed_near(self) -> tuple[str, ...]:
        """The objects at which the player's nearness is sensed, not given by the cell, by creation."""
        sensed = (k for k in self.placed if self.find("near", k) is not None and not self.near_by_cell(k))
        return tuple(k for k in sensed if self.placed[k].design.reach.who == (PLAYER,))

    @cached_property
    def zone_keys(self) -> tuple[str, ...]:
        """The objects whose nearness follows from the player's cell, by creation."""
        return tuple(k for k in self.placed if k in self._zones and self.near_by_cell(k))

    def near_by_cell(self, key: str) -> bool:
        """Whether the column `near` of an object follows from the player's cell alone."""
        return self.cut(key) and self.placed[key].design.reach.who == (PLAYER,) and self.find("near", key) is not None

    def level_cells(self, level: str) -> tuple[int, int]:
        """The first and the last cell of a level."""
        here = self.cells.by_level[level]
        return here[0], here[-1]


def lay_out(project: Project) -> Layout:
    """The layout of a project. Raises `ProjectError` where an own value does not fit its kind."""
    placed = placed_of(project)
    project = aimed(project, placed)
    mentions = mentions_of(project, placed)
    cells = cells_of(project, cuts_of(project, placed, mentions))
    table = ColumnTable()
    speeches = tuple((c.key, line.key) for c in project.conversations for line in c.lines)
    talks = {c.key: c for c in project.conversations}
    layout = Layout(project, table, placed, mentions, {q.key: q for q in project.quests}, talks, speeches, cells)
    _place_columns(layout)
    table.add(Column("ended", "", 0, len(OUTCOMES) - 1, 0, "project"))
    table.add(Column("ending", "", 0, len(mentions.ends) + len(layout.endings), 0, "project"))
    for one in placed.values():
        _object_columns(layout, one)
    for exit, _ in layout.exits.values():
        table.add(Column("exit", exit.key, 0, 1, int(exit.open_at_start), f"exit/{exit.key}"))
    _possession_columns(layout)
    for quest in project.quests:
        _quest_columns(table, quest)
    _talk_columns(layout)
    _mentioned_columns(layout)
    return layout


def _place_columns(layout: Layout) -> None:
    """Where the player is, and where the present level was entered."""
    project, table, cells = layout.project, layout.table, layout.cells
    level = next((lv for lv in project.levels if lv.key == project.first_level), None)
    cell = cells.at(level.key, level.start_x_m, level.start_y_m) if level is not None else 0
    table.add(Column("cell", "", 0, max(len(cells.cells) - 1, 0), cell, "project"))
    start = max((i for i, e in enumerate(layout.entries) if e == f"start:{project.first_level}"), default=0)
    table.add(Column("entry", "", 0, max(len(layout.entries) - 1, 0), start, "project"))


def _object_columns(layout: Layout, one: Placed) -> None:
    key, origin, add = one.thing.key, f"object/{one.thing.key}", layout.table.add
    add(Column("exists", key, 0, 1, int(one.thing.there_at_start), origin, key))
    add(Column("state", key, 0, len(one.design.states) - 1, 0, origin, key))
    for wanted, highest, start in _wanted(layout, one):
        if highest:
            add(Column(wanted, key, 0, highest, start, origin, key))
    _sensed_columns(layout, one)
    if layout.mentions.movable(key) or key in layout.mentions.feet:
        home = layout.cells.at(one.level, one.thing.x_m, one.thing.y_m) if one.level and not one.pool else 0
        what: What = "whereabouts" if _roams(layout, one) else "place"
        if what == "whereabouts" or layout.mentions.movable(key):
            add(Column(what, key, 0, max(len(layout.cells.cells) - 1, 0), home, origin, key))


def _roams(layout: Layout, one: Placed) -> bool:
    """Whether it walks by itself, so that its place is seen, not decided."""
    return one.walks or one.thing.key in layout.mentions.carriers


def _wanted(layout: Layout, one: Placed) -> list[tuple[What, int, int]]:
    """The columns that only some objects have: what, highest and starting value; highest 0 for none."""
    mentions, design, key = layout.mentions, one.design, one.thing.key
    moves = design.motion.seconds > 0
    paired = key in mentions.paired or key in mentions.zones
    return [
        ("moving", len(design.states) if moves else 0, 0),
        ("near", int(paired and design.reach.shape != "none"), 0),
        ("mark", int(key in mentions.marked), 0),
        ("uses", design.uses, design.uses),
        ("queued", len(layout.project.controls) if moves and design.motion.while_moving == "queued" else 0, 0),
        ("cooling", int(design.cool_down_s > 0), 0),
        ("down", int(key in mentions.downed), 0),
        ("touching", int(key in mentions.touched), 0),
        ("looking", int(key in mentions.looked_at), 0),
        ("carrier", 2 * int(key in mentions.carriers), 0),
    ]


def _sensed_columns(layout: Layout, one: Placed) -> None:
    key, design, add = one.thing.key, one.design, layout.table.add
    asked = (key, "in reach of", PLAYER) in layout.mentions.arounds
    talks = any(key in at for at in layout.mentions.opened.values())
    zone = (key in layout.mentions.zones or design.suspends) and not layout.cut(key)
    if design.reach.shape != "none" and (design.prompts or asked or talks or zone):
        add(Column("in_reach", key, 0, 1, 0, f"object/{key}"))
    demands = design.reach.facing_deg is not None or design.reach.sight_m is not None
    if design.prompts and demands:
        add(Column("looked_at", key, 0, 1, 0, f"object/{key}"))
    if design.motion.stay_clear or (key, "in the way of", SOMEBODY) in layout.mentions.arounds:
        add(Column("in_way", key, 0, 1, 0, f"object/{key}"))


def _possession_columns(layout: Layout) -> None:
    table, project, mentions = layout.table, layout.project, layout.mentions
    for item in project.items:
        table.add(Column("item", item.key, 0, item.limit, min(item.at_start, item.limit), f"item/{item.key}"))
    for slot, gear in layout.slots.items():
        table.add(Column("gear", slot, 0, len(gear), 0, "project"))
    for fact in project.facts:
        low, high = (0, 1) if fact.type == "yes_no" else (fact.lowest, fact.highest)
        table.add(Column("fact", fact.key, low, high, min(max(fact.at_start, low), high), f"fact/{fact.key}"))
    for ability in project.abilities:
        origin = f"ability/{ability.key}"
        table.add(Column("ability", ability.key, 0, 1, 0, origin))
        if ability.key in mentions.granted:
            table.add(Column("ability_uses", ability.key, 0, max(mentions.granted[ability.key], 1), 0, origin))
        if ability.key in mentions.suspended:
            table.add(Column("suspended", ability.key, 0, 1, 0, origin))
    table.add(Column("money", "", 0, MOST_MONEY, 0, "project"))
    table.add(Column("experience", "", 0, MOST_MONEY, 0, "project"))


def _quest_columns(table: ColumnTable, quest: Quest) -> None:
    origin = f"quest/{quest.key}"
    start = STATUS["unavailable"] if quest.needs.strip() else STATUS["available"]
    table.add(Column("status", quest.key, 0, len(STATUSES) - 1, start, origin))
    table.add(Column("stage", quest.key, 0, max(len(quest.stages) - 1, 0), 0, origin))
    table.add(Column("completions", quest.key, 0, max(quest.times, 1), 0, origin))
    for stage in quest.stages:
        for objective in stage.objectives:
            place = f"{origin}/stage/{stage.key}/objective/{objective.key}"
            table.add(Column("met", objective.key, 0, 1, 0, place))
            table.add(Column("count", objective.key, 0, objective.count, 0, place))
            if objective.time_s is not None:
                table.add(Column("limit", objective.key, 0, TIME_IS_UP, 0, place))
            if len(objective.targets) > 1 and objective.type in ("use", "go", "talk"):
                for target in dict.fromkeys(objective.targets):
                    table.add(Column("counted", f"{objective.key}/{target}", 0, 1, 0, place))


def _talk_columns(layout: Layout) -> None:
    table, count = layout.table, len(layout.conversations)
    table.add(Column("talk", "", 0, len(layout.speeches) + count, 0, "project"))
    if not count:
        return
    table.add(Column("talk_at", "", 0, len(layout.talkers), 0, "project"))
    table.add(Column("talk_waiting", "", 0, count, 0, "project"))
    table.add(Column("waiting_at", "", 0, len(layout.talkers), 0, "project"))
    for talk in layout.conversations.values():
        for line in talk.lines:
            most = heard_enough(line, line.key in layout.mentions.heard)
            for at in layout.mentions.opened[talk.key] if most else ():
                origin = f"conversation/{talk.key}/line/{line.key}"
                table.add(Column("heard", f"{at}/{line.key}", 0, most, 0, origin, at))
            for reply in line.replies:
                place = f"conversation/{talk.key}/line/{line.key}/reply/{reply.key}"
                for at in layout.mentions.opened[talk.key] if (often := chosen_enough(reply)) else ():
                    table.add(Column("chosen", f"{at}/{line.key}/{reply.key}", 0, often, 0, place, at))


def heard_enough(line: Line, asked: bool) -> int:
    """How far it is counted how often a line was heard: as far as anything reads it, 0 for not at all."""
    return _turns(line) or int(asked or line.repeat == "once")


def chosen_enough(reply: Reply) -> int:
    """How far it is counted how often a reply was chosen: as far as anything reads it, 0 for not at all."""
    return 1 if reply.repeat == "once" else _turns(reply)


def _turns(said: Line | Reply) -> int:
    """How far is counted for the sake of its wordings."""
    turns = len(said.wordings)
    return 0 if turns == 1 else turns - 1 if said.last_stays else turns


def _mentioned_columns(layout: Layout) -> None:
    """Columns that exist only because a text asks for them."""
    table, mentions = layout.table, layout.mentions
    for (verb, key), largest in mentions.tallies.items():
        of = key if verb == "used" and key in layout.placed else ""
        table.add(Column("tally", f"{verb}/{key}", 0, largest + 1, 0, "project", of))
    for key, how, who in mentions.arounds:
        what, name = around_column(key, how, who)
        if table.find(what, name) is None:
            table.add(Column(what, name, 0, 1, 0, f"object/{key}"))
    for name in mentions.chances:
        table.add(Column("chance", name, 0, 1, 0, "project"))
    for role in layout.project.roles:
        table.add(Column("role", role.key, 0, len(mentions.fillings.get(role.key, ())), 0, f"role/{role.key}"))
    for owner, named in mentions.laters.items():
        for name, steps in named.items():
            of = owner if owner in layout.placed else ""
            table.add(Column("later", pending(owner, name), 0, len(steps), 0, "project", of))
    for ability in layout.project.abilities:
        for key in mentions.struck.get(ability.key, ()):
            table.add(Column("aimed_at", f"{key}/{ability.key}", 0, 1, 0, f"object/{key}"))
    for (this, place), waits in mentions.waits.items():
        table.add(Column("waits", f"{this}/{place}", 0, waits, 0, place, this))
    for this, place in mentions.stood:
        if this and spot_column(layout, this) is not None:
            table.add(Column("stood", f"{this}/{place}", 0, max(len(layout.cells.cells) - 1, 0), 0, place, this))


def spot_column(layout: Layout, key: str) -> int | None:
    """The column that says where an object is, decided or seen; None for one that stays where it was placed."""
    place = layout.find("place", key)
    return layout.find("whereabouts", key) if place is None else place


def around_column(key: str, how: n.AroundHow, who: str) -> tuple[What, str]:
    """The sensed column that says whether somebody is in reach or in the way of an object."""
    if how == "in the way of":
        return ("in_way", key) if who == SOMEBODY else ("way_by", f"{key}/{who}")
    return ("in_reach", key) if who == PLAYER else ("reach_by", f"{key}/{who}")
