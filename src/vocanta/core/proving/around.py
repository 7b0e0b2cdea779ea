"""What a proof says around the quests: what never happens, what can be missed for good, what comes in one order only, what
can be worked through a wall or before its time."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal, get_args

from ..checks.known import reach_through_wall
from ..checks.survey import Survey
from ..engine.wording import Words
from ..progress.happenings import Happening
from ..progress.program import Program
from ..project.noting import Note
from ..project.records import Project
from ..proof.answering import Answer
from ..proof.any_way import Aim
from ..proof.system import Question
from ..proof.values import Watch
from ..proof.verdicts import Worked, begun
from ..proof.wide import (
    Never,
    NeverBefore,
    Order,
    asking,
    before_its_time,
    from_cells,
    missable,
    never,
    never_before,
    orders,
    spread_whole,
    stages_reached,
    stages_that_happen,
)
from .going import has_told
from .orders import Known, Orders
from .ways import NO_WAY, Sought, Spent, Way, WayFinder
from .wording import in_vain

Sort = Literal["never", "missed", "order", "any_order", "wall", "early"]
SORTS: tuple[Sort, ...] = get_args(Sort)
LEFT_OUT = "parts were too much and were left out"
MOST_NAMED = 6
_PART = 6
"""Each of these questions may take so many times fewer nodes than all the quests together."""


@dataclass(frozen=True, slots=True)
class Remark:
    """One thing that comes out beside the quests: `subject` whose it is, `says` it in words behind that name.

    What is *not decided* says `because` of what. Where it comes about, there is a way to it.
    """

    sort: Sort
    subject: str
    says: str
    answer: Answer = "yes"
    way: Way = NO_WAY
    because: str = ""

    @property
    def weight(self) -> Literal["worth a look", ""]:
        """How heavy it weighs."""
        return "worth a look" if self.sort == "wall" and self.answer == "yes" else ""


class Around:
    """The work on what is around the quests of one project."""

    def __init__(self, project: Project, whole: Program, most: int, note: Note, seen: Orders):
        self.project, self.whole, self.most, self.note, self.seen = project, whole, most, note, seen
        self.words = Words(project, lambda: whole.layout)
        self.worked: Worked | None = None
        """The whole program, taken apart."""
        self.never: NeverBefore = {}

    def remarks(self) -> Iterator[Remark]:
        """Each as soon as it is known; what is left when the time is over is not decided."""
        try:
            self.worked = worked = spread_whole(self.whole, begun(self.whole), self.note)
        except (Spent, MemoryError) as over:
            yield from (_not_looked(sort, _over(over)) for sort in SORTS)
            return
        left_out = bool(worked.spread.too_many or worked.spread.chasing)
        yield from (self._never(one, left_out) for one in never(worked))
        yield from self._always_so(worked, left_out)
        watches = [*missable(worked), *self._through_walls(worked), *before_its_time(worked)]
        asked = asking(worked, watches)
        finder = WayFinder(self.project, self.whole, asked, self.most // _PART, self.note)
        questions = {q.key: q for q in asked.recoded.system.questions}
        surely = not left_out and not asked.recoded.too_wide
        for number, watch in enumerate(watches):
            yield from self._watched(finder, questions[watch.key], watch, number, len(watches), surely)

    def _always_so(self, worked: Worked, left_out: bool) -> Iterator[Remark]:
        if left_out:
            yield _not_looked("order", LEFT_OUT)
            return
        try:
            self.never = never_before(worked, self.note)
        except Spent as over:
            yield _not_looked("order", _over(over))
            return
        yield from map(self._order, orders(worked, self.never))

    def points(self) -> Iterator[tuple[str, Way]]:
        """The shortest way to each stage, by `quest.stage`, where one was found and walked."""
        if self.worked is None:
            return
        asked = asking(self.worked, stages_reached(self.worked))
        finder = WayFinder(self.project, self.whole, asked, self.most // _PART, self.note)
        questions = asked.recoded.system.questions
        for number, question in enumerate(questions):
            point = question.key.partition("/")[2]
            quest, _, stage = point.partition(".")
            try:
                self.note(f"The way to {self.words.stage(quest, stage)}", number, len(questions))
            except Spent:
                return
            sought = finder.sought(question, "can", has_told(Happening.STAGE, quest, stage))
            if sought.out == "walked":
                self.seen.see(sought.way.reached)
                yield point, sought.way

    def orders(self) -> Iterator[Remark]:
        """For each quest with which others its stages come in any order, and with which that is not decided; after `points`."""
        if self.worked is None:
            return
        reached = stages_that_happen(self.worked)
        quests = [q for q in self.project.quests if q.stages]
        for number, quest in enumerate(quests):
            try:
                self.note("Comparing orders", number, len(quests))
            except Spent as over:
                yield _not_looked("any_order", _over(over))
                return
            others: dict[Known, list[str]] = {}
            for other in quests[number + 1 :]:
                known = self.seen.pair(quest, other, self.never, reached)
                others.setdefault(known, []).append(self.words.name(other.key))
            if "any" in others:
                yield Remark("any_order", quest.key, f"comes in any order with {listed(others['any'])}, stage by stage")
            if "but for some" in others:
                says = f"comes in any order with {listed(others['but for some'])}, but for what always comes so"
                yield Remark("any_order", quest.key, says)
            if "open" in others:
                says = f"and {listed(others['open'])}: in which orders their stages can come is not decided"
                because = "no way was walked that has them so, and none is ruled out"
                yield Remark("any_order", quest.key, says, "undecided", because=because)

    # --- what needs no way

    def _never(self, one: Never, left_out: bool) -> Remark:
        says = {
            "quest": "is never begun",
            "stage": "is never reached",
            "objective": "is never met",
            "line": "is never said",
            "reply": "can never be chosen",
            "object": "can never be worked",
            "action": "never happens",
        }[one.sort]
        subject = one.name
        if one.sort == "reply":
            line, _, reply = one.name.partition("/")
            subject, says = line, f"is never answered with {self.words.reply_start(line, reply)}"
        elif one.sort == "action":
            action = next(a for a in self.whole.actions if a.name == one.name)
            subject, says = action.subject, in_vain(self.words, action)
        if left_out:
            return Remark("never", subject, says, "undecided", because=LEFT_OUT)
        return Remark("never", subject, says)

    def _order(self, one: Order) -> Remark:
        after = self.words.stage(one.after_quest, one.after_stage)
        here = self.words.stage(one.quest, one.stage)
        says = f"comes to {here} only after {self.words.name(one.after_quest)} has come to {after}"
        return Remark("order", one.quest, says)

    # --- what has a way

    def _through_walls(self, worked: Worked) -> Iterator[Watch]:
        survey, cells = Survey(self.project), worked.places.layout.cells.cells
        for key, (thing, _) in survey.objects.items():
            for found in reach_through_wall.find(survey, thing):
                area = found.also[0].rpartition("/")[2]
                yield from_cells(worked, key, (n for n, cell in enumerate(cells) if cell.area == area))

    def _watched(
        self, finder: WayFinder, question: Question, watch: Watch, number: int, of: int, surely: bool
    ) -> Iterator[Remark]:
        sort, _, rest = watch.key.partition("/")
        aim: Aim = "stuck" if watch.awaited else "can"
        try:
            self.note(f"Looking around: {self.words.name(rest.partition('/')[0])}", number, of)
        except Spent:
            sought = Sought("undecided", because="time")
        else:
            sought = finder.sought(question, aim, None if watch.awaited else lambda run: True)
        if sought.out == "none" and surely:
            return
        if sought.out == "walked":
            self.seen.see(sought.way.reached)
        answer: Answer = "yes" if sought.out == "walked" else "undecided"
        because = sought.because or LEFT_OUT
        way = sought.way
        if sort == "wall":
            area = worked_from(finder, way)
            says = f"can be worked from the {area}, through the wall" if area else "can be worked through a wall"
            yield Remark("wall", rest, says, answer, way, because)
        elif sort == "early":
            target, _, stage = rest.partition("/")
            quest, _, stage = stage.partition(".")
            says = f"can be worked before {self.words.name(quest)} has come to {self.words.stage(quest, stage)}"
            yield Remark("early", target, says, answer, way, because)
        else:
            yield Remark("missed", rest, self._missed(sort, way, answer), answer, way, because)

    def _missed(self, sort: str, way: Way, answer: Answer) -> str:
        what = {"quest": "begun", "objective": "met", "item": "had"}[sort]
        by = next((step.says for step in reversed(way.steps) if step.counts), "")
        if answer != "yes":
            return f"may be missed for good: that it can always be {what} is not decided"
        return f"can never be {what} any more after: {by}" if by else "can be missed for good, by walking alone"


def _over(over: Spent | MemoryError) -> str:
    """What was over, as a reason."""
    return "time" if isinstance(over, Spent) else "memory"


def _not_looked(sort: Sort, because: str) -> Remark:
    """That something of one sort is not known at all, which is not that there is none."""
    return Remark(sort, "", "Not looked through to the end", "undecided", because=because)


def listed(names: list[str]) -> str:
    """Names one after another; of very many the first, and how many more."""
    shown, more = names[:MOST_NAMED], len(names) - MOST_NAMED
    if more > 0:
        return f"{', '.join(shown)} and {more} more"
    return " and ".join([", ".join(shown[:-1]), shown[-1]] if shown[1:] else shown)


def worked_from(finder: WayFinder, way: Way) -> str:
    """The name of the area in which a way ends; empty where it was not walked."""
    if way.card is None:
        return ""
    cells = finder.whole.layout.cells
    cell = cells.at(way.card["in_level"], way.card["x_m"], way.card["y_m"])
    return finder.words.name(cells.cells[cell].area) if cell >= 0 else ""
