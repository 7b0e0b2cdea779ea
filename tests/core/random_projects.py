"""Small random projects and random trees: everything the language can say, in proportions that interact."""

from __future__ import annotations

import random
from collections.abc import Callable

from vocanta.core.cuetext.writing import write_cue, write_needs, write_steps
from vocanta.core.phrases import nodes as n
from vocanta.core.project.records import (
    Ability,
    Area,
    Body,
    Conversation,
    Cue,
    Design,
    Ending,
    Exit,
    Fact,
    Item,
    Kind,
    Level,
    Line,
    Motion,
    NamedNeed,
    Object,
    Objective,
    Project,
    Prompt,
    Quest,
    Reach,
    Reply,
    Role,
    Stage,
    State,
)

OBJECTS, FACTS, ITEMS = ("oak", "elm", "ash"), ("wet", "tally"), ("nut", "pin")
AREAS, LEVELS, EXITS = ("moor", "grove", "den"), ("glade", "cave"), ("way_in", "way_out")
STATES, STAGES = ("shut", "ajar"), ("seek", "find", "tell")


class Chooser:
    """Draws needs, steps and cues over the names above."""

    def __init__(self, seed: int):
        self.r = random.Random(seed)
        self.names_a_need = True

    def word(self, *names: str) -> n.Word:
        return n.Word(self.r.choice(names))

    def number(self, low: int, high: int) -> n.Number:
        return n.Number(float(self.r.randint(low, high)))

    def need(self, depth: int = 1, this: bool = True) -> n.Need:
        if depth and self.r.random() < 0.25:
            parts = tuple(self.need(depth - 1, this) for _ in range(2))
            return self.r.choice([n.Not(parts[0]), n.And(parts), n.Or(parts)])
        selves = ("this",) if this else ()
        return self.r.choice(
            [
                lambda: n.Has(
                    self.word(*ITEMS),
                    self.r.choice([None, self.number(0, 3)]),
                    self.r.choice(n.COMPARISONS),
                ),
                lambda: n.Holds(n.Word("wet")),
                lambda: n.Is(n.Word("wet"), self.word("yes", "no")),
                lambda: n.Compare(self.word("tally", "money"), self.r.choice(n.COMPARISONS), self.number(0, 4)),
                lambda: n.Is(self.word(*OBJECTS, *selves), self.word(*STATES, "gone")),
                lambda: n.Is(n.Word("errand"), self.word("available", "offered", "active", "ready", "done", "failed")),
                lambda: n.Place(n.Word("errand"), self.r.choice(["at", "before", "past"]), self.word(*STAGES)),
                lambda: n.Between(n.Word("errand"), self.word(*STAGES), self.word(*STAGES)),
                lambda: n.Met(self.word("get_nut", "wet_it", "work_oak")),
                lambda: n.Heard(self.word("hello", "again"), self.r.choice([None, self.word("oak", "elm")])),
                lambda: n.Can(n.Word("leap")),
                *self.newer_needs(this),
            ]
        )()

    def newer_needs(self, this: bool) -> list[Callable[[], n.Need]]:
        how = self.r.choice(n.COMPARISONS)
        thing = self.word(*OBJECTS, *(("this",) if this else ()))
        return [
            lambda: n.Holds(n.Word("named")) if self.names_a_need else n.Holds(n.Word("wet")),
            lambda: n.Compare(self.word("experience_level", "leap"), how, self.number(1, 3)),
            lambda: n.Tally(self.word(*OBJECTS), "used", how, self.number(1, 3)),
            lambda: n.Tally(self.word("hello", "again"), "heard", how, self.number(1, 2)),
            lambda: n.Tally(self.word(*ITEMS, "money"), "gained", how, self.number(1, 5)),
            lambda: n.Around(self.word("player", "somebody"), self.r.choice(["in reach of", "in the way of"]), thing),
            lambda: n.Inside(n.Word("player"), self.word(*OBJECTS, *AREAS, *LEVELS)),
            lambda: n.Tally(self.word(*AREAS, *LEVELS), "visited", how, self.number(1, 3)),
            lambda: n.Chance(self.number(2, 4)),
            lambda: n.Is(n.Word("pin"), n.Word("equipped")),
            lambda: n.Is(n.Word("hero"), self.word("filled", *OBJECTS)),
        ]

    def newer_steps(self, thing: n.Word, this: bool) -> list[Callable[[], n.Step]]:
        ours: list[Callable[[], n.Step]] = [
            lambda: n.Later("after", None, self.number(1, 2)),
            lambda: n.Later("area"),
            lambda: n.Later("after", None, self.number(1, 2), n.Word("letter")),
            lambda: n.Later("area", name=n.Word("letter")),
            lambda: n.PutAt(self.word("kind_0", "kind_2"), None, None, self.number(1, 2)),
        ]
        return (ours if this and self.r.random() < 0.4 else []) + [
            lambda: n.Change(self.word(*ITEMS), self.word(*ITEMS, "money"), self.number(1, 2), self.number(1, 2)),
            lambda: n.Gear(self.r.choice(["equip", "put away"]), self.word("pin", "pin", "nut")),
            lambda: n.Limit(self.r.choice(["suspend", "revoke"]), n.Word("leap")),
            lambda: n.CountUp(self.word("work_oak", "by_hand")),
            lambda: n.Fill(n.Word("hero"), thing),
            lambda: n.Down(self.r.choice([thing, n.Word("player")])),
            lambda: n.EndLevel(self.r.choice(["won", "lost"])) if self.r.random() < 0.2 else n.Down(thing),
            lambda: n.PutAt(thing, self.word(*OBJECTS)),
            lambda: n.Show("effect", n.Word("dust"), thing, (self.number(0, 1), self.number(-1, 1))),
            lambda: n.Hand("give", n.Word("experience"), self.number(50, 200)),
            lambda: n.Swap(thing, self.word(*OBJECTS)),
            lambda: n.MovePlayer(self.word(*OBJECTS)),
            lambda: n.ExitStep(self.r.choice(["open", "close"]), self.word(*EXITS)),
        ]

    def moment(self) -> n.Moment:
        return self.r.choice(
            [
                n.Moment("changed"),
                n.Moment("changed", self.word("wet", "tally", *OBJECTS)),
                n.Moment(self.r.choice(["gained", "lost"]), self.word(*ITEMS, "money")),
                n.Moment("heard", self.word("hello", "rumour")),
                n.Moment("met", self.word("get_nut", "all_ajar")),
                n.Moment("stage", self.word(*STAGES), n.Word("errand")),
                n.Moment(self.r.choice(["accepted", "declined", "done", "failed"]), n.Word("errand")),
                n.Moment("downed", self.r.choice([None, self.word(*OBJECTS, "player")])),
                n.Moment("struck", self.r.choice([None, n.Word("leap")])),
                n.Moment("later"),
                n.Moment("comes", n.Word("letter")),
                n.Moment("started"),
                n.Moment(self.r.choice(["entered", "left"]), self.word(*AREAS, *LEVELS, *OBJECTS)),
            ]
        )

    def step(self, this: bool = True) -> n.Step:
        selves = ("this",) if this else ()
        thing = self.word(*OBJECTS, *selves)
        return self.r.choice(
            [
                lambda: n.Set(thing, self.word(*STATES)),
                lambda: n.SetNext(thing, self.r.choice([(), (n.Word("ajar"), n.Word("shut"))])),
                lambda: n.Set(n.Word("wet"), self.word("yes", "no")),
                lambda: n.Set(n.Word("tally"), n.Word(str(self.r.randint(0, 4)))),
                lambda: n.Add(self.number(-2, 3), self.word("tally", "money")),
                lambda: n.Hand(
                    self.r.choice(["give", "take"]),
                    self.word(*ITEMS, "money"),
                    self.r.choice([None, self.number(1, 3)]),
                ),
                lambda: n.Grant(n.Word("leap"), self.r.choice([None, self.number(1, 3)])),
                lambda: n.QuestStep(self.r.choice(["offer", "start", "hand in", "finish", "fail"]), n.Word("errand")),
                lambda: n.QuestStep(self.r.choice(["start", "offer"]), n.Word("errand")),
                lambda: n.QuestStep(self.r.choice(["decline", "give up"]), n.Word("errand"), self.r.random() < 0.3),
                lambda: n.Move(n.Word("errand"), self.word(*STAGES)),
                lambda: n.Say(n.Text(self.r.choice(["plain", 'he said "so"', "two\nlines", "back\\slash"]))),
                lambda: n.Talk(self.word("chat", "gossip")),
                lambda: n.Marking(self.r.choice(["mark", "unmark"]), thing),
                lambda: n.Remove(thing) if self.r.random() < 0.3 else n.Set(thing, n.Word("ajar")),
                lambda: n.Meet(n.Word("by_hand")),
                *self.newer_steps(thing, this),
            ]
        )()

    def steps(self, most: int, **how: bool) -> tuple[n.Step, ...]:
        return tuple(self.step(**how) for _ in range(self.r.randint(0, most)))

    def cue(self, verbs: tuple[str, ...] = ("used", "used", "held", "near", "away")) -> n.CueTree:
        steps: list[n.Step] = list(self.steps(3))
        if self.r.random() < 0.3:
            wait = self.r.choice([n.Wait(n.Number(1.0)), n.WaitForIt()])
            target = n.Set(n.Word("this"), self.word(*STATES))
            steps = [target, wait, *self.steps(2)] if isinstance(wait, n.WaitForIt) else [*steps, wait, *self.steps(2)]
        tops = tuple(
            n.Top(self.need(), self.step() if self.r.random() < 0.3 else None) for _ in range(self.r.randint(0, 2))
        )
        moment = self.moment() if self.r.random() < 0.35 else n.Moment(self.r.choice(verbs))
        return n.CueTree(moment, tops, tuple(steps), self.steps(2), self.r.random() < 0.3)


def random_project(seed: int) -> Project:
    """A project of three objects, a quest of three stages, two conversations; the same for the same seed."""
    c = Chooser(seed)
    r = c.r
    c.names_a_need = False
    named = NamedNeed("named", "named", write_needs((n.Top(c.need(this=False)),)))
    c.names_a_need = True
    kinds = tuple(_kind(c, i) for i in range(3))
    spots = ((2.0, 2.0), (8.0, 2.0), (3.0, 3.0))
    objects = tuple(
        Object(key, key, kinds[i].key, *spots[i], cues=(*_cues(c, 2), *_beginning(c, key)))
        for i, key in enumerate(OBJECTS)
    )
    facts = (Fact("wet", "wet", at_start=r.randint(0, 1)), Fact("tally", "tally", "number", 0, 4, r.randint(0, 2)))
    items = (Item("nut", "nut", limit=3, at_start=r.randint(0, 1)), Item("pin", "pin", limit=1, slot="hand"))
    return Project(
        "woods",
        "Woods",
        "glade",
        levels=_levels(c, objects),
        kinds=kinds,
        facts=facts,
        items=items,
        abilities=(Ability("leap", "Leap", gear="pin"),),
        roles=(Role("hero", "Hero"),),
        named_needs=(named,),
        quests=(_quest(c),),
        conversations=_talks(c),
    )


def _levels(c: Chooser, objects: tuple[Object, ...]) -> tuple[Level, ...]:
    """A glade of two areas side by side, with an object in the middle of each, and a cave of one; exits both ways."""
    moor = Area("moor", "Moor", ((0.0, 0.0), (5.0, 0.0), (5.0, 4.0), (0.0, 4.0)))
    grove = Area("grove", "Grove", ((5.0, 0.0), (12.0, 0.0), (12.0, 4.0), (5.0, 4.0)))
    den = Area("den", "Den", ((0.0, 0.0), (9.0, 0.0), (9.0, 6.0), (0.0, 6.0)))
    inward = Exit("way_in", "Way in", 11.0, 2.0, 0.0, 0.6, 0.6, "cave", 7.0, 1.0, open_at_start=c.r.random() < 0.8)
    outward = Exit("way_out", "Way out", 8.0, 5.0, 0.0, 0.6, 0.6, "glade", 11.0, 0.5)
    glade = Level("glade", "Glade", 0.5, 0.5, 0.0, (moor, grove), (), objects[:2], (inward,))
    return glade, Level("cave", "Cave", 7.0, 1.0, 0.0, (den,), (), objects[2:], (outward,), (), _endings(c))


def _endings(c: Chooser) -> tuple[Ending, ...]:
    found = [
        (o, w, s) for o in ("won", "lost") for w in (("errand",), ("get_nut", "wet_it"), ("?",)) for s in (0.0, 2.0)
    ]
    return tuple(Ending(*one) for one in c.r.sample(found, c.r.choice([0, 0, 1, 2])))


def _kind(c: Chooser, i: int) -> Kind:
    r = c.r
    states = (State("shut", "shut"), State("ajar", "ajar", blocks=False, reach_on=r.random() < 0.8))
    motion = Motion(
        r.choice([0.0, 1.0]), while_moving=r.choice(["turned_back", "ignored", "queued"]), stay_clear=r.random() < 0.3
    )
    prompts = (Prompt("p1", "use", states=r.choice([(), ("shut",)])), Prompt("p2", "hold", "second", hold_s=1.0))
    return Kind(
        f"kind_{i}",
        f"kind {i}",
        design=Design(
            body=r.choice([Body("none"), Body("box", 0.6, 0.6)]),
            reach=Reach("circle", 1.4, who=r.choice([("player",), ("player",), ("player", "characters")])),
            states=states,
            motion=motion,
            prompts=prompts,
            uses=r.choice([0, 0, 2]),
            cool_down_s=r.choice([0.0, 0.0, 2.0]),
            suspends=r.choice([(), (), ("leap",)]),
            comes_back_s=r.choice([None, 3.0]),
            fresh=r.random() < 0.2,
        ),
        cues=_cues(c, 1),
    )


def _cues(c: Chooser, most: int) -> tuple[Cue, ...]:
    return tuple(Cue(f"c{i}", write_cue(c.cue())) for i in range(c.r.randint(0, most)))


def _beginning(c: Chooser, key: str) -> tuple[Cue, ...]:
    """In many projects coming near one thing starts the quest, near another a talk, near the third fills the role; in a
    few a cue chases itself."""
    begins = {
        "oak": n.QuestStep("start", n.Word("errand")),
        "elm": n.Talk(n.Word("chat")),
        "ash": n.Fill(n.Word("hero"), n.Word(c.r.choice(OBJECTS))),
    }[key]
    begin = Cue("begin", write_cue(n.CueTree(n.Moment("near"), (), (begins,), (), True)))
    turn = n.CueTree(n.Moment("changed", n.Word("this")), (), (n.SetNext(n.Word("this"), ()),), (), True)
    found = (begin,) * (c.r.random() < 0.6) + (Cue("chase", write_cue(turn)),) * (c.r.random() < 0.1)
    return found + (Cue("gift", write_cue(_gift(c))),) * (c.r.random() < 0.4)


def _gift(c: Chooser) -> n.CueTree:
    """Coming near gives something; in some projects it ends itself, by a fact or by going."""
    dry = (n.Top(n.Is(n.Word("wet"), n.Word("no"))),)
    ends = [(), (n.Set(n.Word("wet"), n.Word("yes")),), (n.Remove(n.Word("this")),)]
    gives = n.Hand("give", c.word(*ITEMS, "money"), c.r.choice([None, c.number(1, 2)]))
    return n.CueTree(n.Moment("near"), c.r.choice([(), dry, dry]), (gives, *c.r.choice(ends)), (), True)


def _quest(c: Chooser) -> Quest:
    r = c.r
    limit = r.choice([None, None, 2.0])
    objectives = {
        "seek": (
            Objective("get_nut", "get", "have", ("nut",), r.randint(1, 2)),
            Objective("wet_it", "wet", "fact", ("wet",), optional=r.random() < 0.5, time_s=r.choice([None, 3.0])),
        ),
        "find": (
            Objective(
                "work_oak",
                "work",
                "use",
                r.choice([("oak",), ("oak", "elm"), ("hero",), ("hero", "oak")]),
                r.randint(1, 2),
                time_s=limit,
            ),
            Objective(
                "go_there",
                "go",
                "go",
                r.choice([("grove",), ("cave", "oak"), ("elm",), ("hero",), ("hero", "grove")]),
                optional=True,
            ),
            Objective(
                "all_ajar",
                "ajar",
                "state",
                r.choice([("oak", "ash"), ("oak", "hero")]),
                r.randint(1, 2),
                "ajar",
                optional=r.random() < 0.5,
            ),
        ),
        "tell": (
            Objective("say_it", "say", "talk", r.choice([("elm",), ("hero",)])),
            Objective("by_hand", "hand", optional=r.random() < 0.7),
        ),
    }
    stages = tuple(
        Stage(
            k,
            k,
            entering=write_steps(c.steps(1, this=False)),
            then=r.choice(["", "ready", *[s for s in STAGES if s != k], "done"]),
            objectives=objectives[k],
        )
        for k in STAGES
    )
    needs = write_needs((n.Top(c.need(this=False)),)) if r.random() < 0.4 else ""
    return Quest(
        "errand",
        "Errand",
        needs=needs,
        rewards=write_steps(c.steps(2, this=False)),
        times=r.choice([1, 1, 0, 2]),
        failing=r.choice(["for_good", "for_good", "again"]),
        decline=r.choice(["again", "for_good", "no"]),
        give_up=r.choice(["again", "for_good", "no"]),
        stages=stages,
    )


def _talks(c: Chooser) -> tuple[Conversation, ...]:
    r = c.r
    reply = Reply(
        "r1",
        r.choice([("yes",), ("yes", "yes again")]),
        write_needs((n.Top(c.need(this=False)),)) if r.random() < 0.5 else "",
        repeat=r.choice(["every_time", "every_time", "once"]),
        last_stays=r.random() < 0.5,
        steps=write_steps(c.steps(2, this=False)),
        then=r.choice(["", "again", "stays_here"]),
    )
    lines = (
        Line(
            "hello",
            ("hello", "well"),
            True,
            "elm",
            write_needs((n.Top(c.need(this=False)),)),
            r.choice(["every_time", "once"]),
            steps=write_steps(c.steps(1, this=False)),
            replies=(reply,) if r.random() < 0.7 else (),
            holds_player=r.random() < 0.3,
        ),
        Line("again", ("again",), r.random() < 0.5, "elm", then=r.choice(["", "hello"])),
    )
    other = Line(
        "rumour",
        ("have you heard", "and more"),
        True,
        "ash",
        last_stays=True,
        steps=write_steps(c.steps(1, this=False)),
    )
    return Conversation("chat", "Chat", "elm", lines), Conversation(
        "gossip", "Gossip", r.choice(["ash", "hero"]), (other,)
    )
