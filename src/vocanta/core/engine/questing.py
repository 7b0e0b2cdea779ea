"""What the player's screen shows of quests: what is under way, offered and over, markers and the time that is left."""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Sequence

from shapely import Polygon

from ..cuetext.reading import read_steps
from ..phrases import nodes as n
from ..phrases.vocabulary import PURSES, STATUSES
from ..progress.happenings import Happening
from ..progress.layout import TIME_IS_UP, TIME_RUNS
from ..progress.live import held_columns
from ..project.english import counted, singular
from ..project.records import Exit, Objective, Quest, Stage
from ..space.ways import Way
from .chronicle import Entry
from .clocks import Clocks
from .places import Places
from .shown import LoggedShown, MarkShown, ObjectiveShown, OfferShown, QuestShown, Spot
from .situation import TICKS_A_SECOND, Place, Situation
from .wording import Words

LOOK_AGAIN_TICKS = TICKS_A_SECOND // 2
"""So often the ways to markers are looked for again."""
WayTo = Callable[[Spot], Way]
"""Gives the player's way on foot to a place of the present level, empty where there is none."""
NEAR_M = 1.5
"""A way on foot that ends so near a marker leads to it."""


def offer_card(quest: Quest, words: Words) -> OfferShown:
    """How a quest is put before the player."""
    first = quest.stages[0] if quest.stages else None
    objectives = [o for o in (first.objectives if first else ()) if not o.hidden]
    limits = [o.time_s for o in objectives if o.time_s is not None and not o.optional]
    return {
        "key": quest.key,
        "name": quest.name,
        "by": words.name(quest.offered_by) if quest.offered_by not in ("", "?") else "",
        "summary": quest.summary,
        "asks": [o.name + (", if you like" if o.optional else "") for o in objectives],
        "rewards": rewards_of(quest, words),
        "time_s": min(limits, default=None),
        "declined": quest.decline,
    }


def rewards_of(quest: Quest, words: Words) -> list[str]:
    """What a quest is rewarded with, each thing in words."""
    found = []
    for step in read_steps(quest.rewards) if quest.rewards.strip() else ():
        if isinstance(step, n.Hand) and step.verb == "give":
            number = int(step.count.value or 1) if step.count is not None else 1
            name, purse = words.name(step.item.text), step.item.text in PURSES
            found.append(f"{number} {singular(name) if number == 1 else name}" if purse else counted(number, name))
        elif isinstance(step, n.Grant):
            often = f" ({counted(int(step.uses.value or 1), 'use')})" if step.uses is not None else ""
            found.append(words.name(step.ability.text) + often)
    return found


class QuestScreen:
    """The quests of one run as the player sees them."""

    def __init__(self, situation: Situation, clocks: Clocks, places: Places, chronicle: Sequence[Entry], way_to: WayTo):
        self.situation, self.clocks, self.places = situation, clocks, places
        self.chronicle, self.way_to = chronicle, way_to
        self._marks: dict[str, MarkShown | None] = {}
        self._looked = -LOOK_AGAIN_TICKS
        self._read = 0
        self._stages: dict[str, list[str]] = {}
        self._over: dict[str, Entry] = {}
        self._out_of_time: dict[int, str] = {}

    # --- lists

    def _with(self, *statuses: str) -> list[Quest]:
        value = self.situation.value
        return [q for q in self.situation.layout.quests.values() if STATUSES[value("status", q.key)] in statuses]

    def under_way(self) -> list[QuestShown]:
        """The quests under way, with what they ask for now."""
        return [self._quest(q) for q in self._with("active", "ready")]

    def offers(self) -> list[OfferShown]:
        """The quests that wait for the player to take them on."""
        return [offer_card(q, self.situation.words) for q in self._with("offered")]

    def log(self) -> list[LoggedShown]:
        """Every quest that the player has had to do with, in order of the project."""
        self._read_on()
        began = set(self._stages) | set(self._over)
        over = {q.key for q in self._with("done", "failed", "declined")}
        return [self._logged(q) for q in self.situation.layout.quests.values() if q.key in began | over]

    def _read_on(self) -> None:
        """Take in what the chronicle has told of quests since."""
        for entry in itertools.islice(self.chronicle, self._read, None):
            if entry.what is Happening.STAGE:
                self._stages.setdefault(entry.subject, []).append(entry.detail)
            elif entry.what is Happening.QUEST and entry.detail in ("done", "failed", "declined"):
                self._over[entry.subject] = entry
            elif entry.what is Happening.TIME_UP:
                self._out_of_time[entry.tick] = entry.text
        self._read = len(self.chronicle)

    def _logged(self, quest: Quest) -> LoggedShown:
        status = STATUSES[self.situation.value("status", quest.key)]
        journals = {s.key: s.journal for s in quest.stages}
        visited = dict.fromkeys(self._stages.get(quest.key, ()))
        over = self._over.get(quest.key)
        ended = over is not None and over.detail == status
        return {
            "key": quest.key,
            "name": quest.name,
            "bead": quest.bead,
            "status": status,
            "journal": [journals[key] for key in visited if journals.get(key)],
            "why": self._why(over) if ended and over is not None else "",
        }

    def _why(self, over: Entry) -> str:
        """Why a quest ended as it did."""
        if over.detail == "failed":
            return self._out_of_time.get(over.tick) or (
                "Given up" if over.cause.decided == "give up" else f"By {over.rule}"
            )
        return ""

    # --- one quest

    def _quest(self, quest: Quest) -> QuestShown:
        run = self.situation
        stage: Stage | None = quest.stages[run.value("stage", quest.key)] if quest.stages else None
        objectives = [self._objective(o) for o in (stage.objectives if stage else ()) if not o.hidden]
        return {
            "key": quest.key,
            "name": quest.name,
            "stage": stage.name if stage else "",
            "bead": quest.bead,
            "journal": stage.journal if stage else "",
            "objectives": objectives,
            "ready": STATUSES[run.value("status", quest.key)] == "ready",
            "give_up": quest.give_up,
        }

    def _objective(self, objective: Objective) -> ObjectiveShown:
        run = self.situation
        met, closed = bool(run.value("met", objective.key)), run.known("limit", objective.key) == TIME_IS_UP
        return {
            "key": objective.key,
            "name": objective.name,
            "met": met,
            "optional": objective.optional,
            "count": objective.count if met else self._progress(objective),
            "of": objective.count,
            "mark": None if met or closed else self.mark(objective.marker),
            "left_s": self._left(objective),
            "closed": closed,
        }

    def _left(self, objective: Objective) -> int | None:
        """The whole seconds that the player still has for it; None where no time runs."""
        if self.situation.known("limit", objective.key) != TIME_RUNS:
            return None
        return math.ceil(self.clocks.seconds_left(f"limit:{objective.key}"))

    def _progress(self, objective: Objective) -> int:
        run = self.situation
        held = held_columns(run.program.table, objective)
        if held:
            return min(objective.count, max(run.row[column] for column in held))
        if objective.type == "state":
            here = [run.layout.placed[t] for t in objective.targets if t in run.layout.placed]
            if objective.state == "gone":
                return sum(not run.value("exists", one.thing.key) for one in here)
            return sum(one.design.states[run.value("state", one.thing.key)].key == objective.state for one in here)
        return run.value("count", objective.key)

    # --- markers

    def mark(self, marker: str) -> MarkShown | None:
        """Where a marker points; the way there is looked for again now and then."""
        if marker in ("", "?"):
            return None
        if self.situation.tick - self._looked >= LOOK_AGAIN_TICKS:
            self._marks, self._looked = {}, self.situation.tick
        if marker not in self._marks:
            self._marks[marker] = self._found(marker)
        return self._marks[marker]

    def _found(self, marker: str) -> MarkShown:
        place = self._place(marker)
        if place is None:
            return {"at": None, "words": "not there yet"}
        situation = self.situation
        if place.level == situation.level:
            return {"at": _spot(place), "words": self._far(_spot(place))}
        exit_key = self._way_out(place.level)
        if exit_key is None:
            return {"at": None, "words": f"no way there: it is in {situation.words.name(place.level)}"}
        one, _ = situation.layout.exits[exit_key]
        return {"at": (one.x_m, one.y_m), "words": f"through {one.name}, {self._far((one.x_m, one.y_m))}"}

    def _place(self, marker: str) -> Place | None:
        """Where a marker points in the whole project; None where that is not there yet."""
        layout, marked = self.situation.layout, self.situation.who(marker)
        if marked is None:
            return None
        if marked in layout.placed:
            return self.places.place_of(marked) if self.situation.known("exists", marked) else None
        for level in layout.project.levels:
            for area in level.areas:
                if area.key == marked:
                    middle = Polygon(area.outline).representative_point()
                    return Place(level.key, float(middle.x), float(middle.y), 0.0)
        return None

    def _far(self, spot: Spot) -> str:
        """How far somewhere is on foot, else straight."""
        player = self.situation.player
        way = [(player.x, player.y), *self.way_to(spot)]
        near = math.dist(way[-1], spot) < NEAR_M
        metres = sum(math.dist(a, b) for a, b in itertools.pairwise(way)) if near else math.dist(way[0], spot)
        return f"{metres:.0f} m" if near else f"{metres:.0f} m straight, no way on foot"

    def _way_out(self, level: str) -> str | None:
        """The exit of the present level on the way through the fewest levels to another; one that is open before one
        that is not, the nearest of several."""
        layout, here, player = self.situation.layout, self.situation.level, self.situation.player
        leads: dict[str, set[str]] = {}
        for one, of in layout.exits.values():
            leads.setdefault(of, set()).add(one.to_level)
        steps, edge = {level: 0}, [level]
        for to in edge:
            for of in (k for k, found in leads.items() if to in found and k not in steps):
                steps[of] = steps[to] + 1
                edge.append(of)
        ways = [one for one, of in layout.exits.values() if of == here and one.to_level in steps]

        def worth(one: Exit) -> tuple[bool, int, float]:
            shut = not self.situation.known("exit", one.key)
            return shut, steps[one.to_level], math.dist((player.x, player.y), (one.x_m, one.y_m))

        return min(ways, key=worth).key if ways else None


def _spot(place: Place) -> Spot:
    return round(place.x, 3), round(place.y, 3)
