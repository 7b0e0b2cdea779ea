"""For each check the smallest project that has its flaw, and one that almost has it."""

from __future__ import annotations

import dataclasses
from collections.abc import Callable

from tests.core.small import DOOR, DOWN, FLOOR, UP, USE, area, post, project, thing, two_levels
from vocanta.core.project.records import (
    Body,
    Button,
    Control,
    Conversation,
    Cue,
    Item,
    Kind,
    Line,
    Motion,
    Objective,
    Project,
    Prompt,
    Quest,
    Reach,
    Reply,
    Role,
    Sound,
    Stage,
    Tag,
    Wall,
)

Build = Callable[[], Project]
FLAWED: dict[str, list[Build]] = {}
ALMOST: dict[str, list[Build]] = {}


def flaw(check: str) -> Callable[[Build], Build]:
    """A project with the flaw."""
    return lambda build: FLAWED.setdefault(check, []).append(build) or build


def almost(check: str) -> Callable[[Build], Build]:
    """A project that almost has it."""
    return lambda build: ALMOST.setdefault(check, []).append(build) or build


def both(check: str, make: Callable[..., Project], flawed: tuple, near: tuple) -> None:
    """The same project made of what has the flaw and of what almost has it."""
    flaw(check)(lambda: make(*flawed))
    almost(check)(lambda: make(*near))


def replaced(what: Project, **changes) -> Project:
    return dataclasses.replace(what, **changes)


def cued(*texts: str, **more) -> Project:
    """A post with cues."""
    return project(post("bell", *texts, **more))


def talk(*lines: Line, key="chat", talker="bell") -> Conversation:
    return Conversation(key, key.title(), talker, lines)


def said(key: str, words: str = "", **more) -> Line:
    return Line(key, (words or f"This is {key}.",), **more)


def talked(*lines: Line, cues: tuple[str, ...] = ("when used\nthen\n  open conversation chat",)) -> Project:
    return project(post("bell", *cues), talks=(talk(*lines),))


def stage(key: str, *objectives: Objective, then="", **more) -> Stage:
    return Stage(key, key.title(), then=then, objectives=objectives, **more)


def wants(key: str, kind: str = "by_hand", *targets: str, **more) -> Objective:
    return Objective(key, key.title(), kind, targets, **more)


def quested(*stages: Stage, cues=("when used\nthen\n  start hunt",), **more) -> Project:
    return project(post("bell", *cues), quests=(Quest("hunt", "Hunt", stages=stages, **more),))


# --- texts

both("slot_not_filled_in", cued, ("when used\nthen\n  give ?",), ("when used\nthen\n  give nut",))
both(
    "slot_not_filled_in",
    cued,
    ("when used\nonly if ?\nthen\n  give nut",),
    ("when used\nonly if wet\nthen\n  give nut",),
)


@flaw("slot_not_filled_in")
def an_own_value_left_open() -> Project:
    return cued("when used\nthen\n  give its content", values={"content": "?"})


@almost("slot_not_filled_in")
def an_open_value_that_no_cue_reads() -> Project:
    return cued("when used\nthen\n  give nut", values={"content": "?"})


def boxed(own: object, text: str = "when used\nthen\n  give its amount of its gift") -> Project:
    """A bell whose kind gives 2 nuts, and which has something else for its amount."""
    kind, bell = post("bell", text, values={"amount": 2.0, "gift": "nut"})
    return project((dataclasses.replace(kind, cues=bell.cues), replaced(bell, cues=(), own={"values.amount": own})))


both("own_value_does_not_fit", boxed, ("lots",), (3.0,))
both("own_value_does_not_fit", boxed, (0.0,), (1.0,))
both(
    "own_value_does_not_fit",
    boxed,
    ("pine", "when used\nthen\n  give its amount"),
    ("pin", "when used\nthen\n  give nut"),
)
both(
    "placeholder_unknown",
    lambda words: cued(f'when used\nthen\n  say "{words}"', values={"gift": "nut"}),
    ("Take {its gifts}.",),
    ("Take {its gift}.",),
)
both("names_nothing", cued, ("when used\nthen\n  give its most of nut",), ("when used\nthen\n  give 2 nut",))
both(
    "handed_in_too_early",
    lambda cue: quested(stage("one", wants("ring", "use", "bell")), cues=("when near\nthen\n  start hunt", cue)),
    ("when used\nthen\n  hand in hunt",),
    ("when used\nthen\n  wait 0 s\n  hand in hunt",),
)
both(
    "handed_in_too_early",
    lambda target: quested(
        stage("one", wants("come", "go", target)),
        cues=("when used\nthen\n  start hunt", "when entered hall\nthen\n  hand in hunt"),
    ),
    ("hall",),
    ("bell",),
)
for weak, strong in (
    ("has nut", "has nut and has pin"),
    ("has nut", "has at least 2 nut"),
    ("(has nut or has pin)", "has pin"),
):
    both(
        "never_read",
        lambda above, below: talked(
            said("one", opener=True, needs=above),
            said("two", opener=True, needs=below),
            cues=("when used\nthen\n  give nut\n  give pin\n  open conversation chat",),
        ),
        (weak, strong),
        (strong, weak),
    )
both(
    "later_orders_itself",
    lambda again: cued("when used\nthen\n  later after 2 s", f"when later\nthen\n  give nut\n  {again}"),
    ("later after 0 s",),
    ("wait 5 s\n  later after 0 s",),
)
both(
    "later_orders_itself",
    lambda name: cued(
        "when used\nthen\n  later after 2 s\n  later post after 2 s",
        f"when later\nthen\n  give nut\n  later {name} after 0.2 s",
        "when post comes\nthen\n  give nut",
    ),
    ("",),
    ("post",),
)
KEPT = "when near\nonly if has nut\nthen\n  take nut"
both("names_nothing", cued, ("when used\nthen\n  give nutt", KEPT), ("when used\nthen\n  give nut", KEPT))
both("names_nothing", cued, ("when used\nthen\n  give wet",), ("when used\nthen\n  set wet to yes",))
both(
    "field_names_nothing",
    lambda then: talked(said("hi", opener=True, then=then), said("bye")),
    ("by",),
    ("bye",),
)


def drafted(draft: str, text: str) -> Project:
    made = cued(text, prompts=())
    level = made.levels[0]
    bell = dataclasses.replace(level.objects[0], cues=(Cue("c1", text, draft),))
    return replaced(made, levels=(dataclasses.replace(level, objects=(bell,)),))


both(
    "draft_unreadable",
    drafted,
    ("when used then give", "when used\nthen\n  give nut"),
    ("", "when used\nthen\n  give nut"),
)
both(
    "draft_unreadable",
    drafted,
    ("when near\nthen\n  give nut", "when used\nthen\n  give nut"),
    ("", "when used\nthen\n  give nut"),
)
flaw("draft_unreadable")(lambda: drafted("when usd", ""))
both(
    "not_possible_there",
    cued,
    ("when used\nthen\n  wait 99999999 s\n  give nut",),
    ("when used\nthen\n  wait 9 s\n  give nut",),
)


def entering(steps: str) -> Project:
    return quested(stage("look", wants("find"), then="done", entering=steps))


both("wait_where_none", entering, ("wait 2 s\ngive nut",), ("give nut",))
both("wait_where_none", entering, ("effect dust at player and wait\ngive nut",), ("effect dust at player\ngive nut",))
both(
    "step_after_end",
    cued,
    ("when used\nthen\n  end level won\n  effect dust at this",),
    ("when used\nthen\n  end level won after 2 s\n  effect dust at this",),
)
WET = "when near\nonly if not wet\nthen\n  set wet to yes"
both(
    "step_without_effect",
    cued,
    ("when used\nonly if wet\nthen\n  give nut\n  set wet to yes", WET),
    ("when used\nonly if wet\nthen\n  give nut\n  set wet to no",),
)
both(
    "step_without_effect",
    cued,
    ("when used\nthen\n  set wet to no\n  set wet to yes",),
    ("when used\nthen\n  set wet to no\n  wait 1 s\n  set wet to yes",),
)
TALLY = "when near\nonly if tally at most 3\nthen\n  add 1 to tally"
both(
    "step_without_effect",
    cued,
    ("when used\nthen\n  give nut\n  add 0 to tally", TALLY),
    ("when used\nthen\n  give nut\n  add 1 to tally",),
)


def sounding(step: str, file: str = "") -> Project:
    return replaced(cued(f"when used\nthen\n  {step}"), sounds=(Sound("creak", "creak", file),))


both("silent_sound", sounding, ("sound creak at this",), ("sound creak at this", "abc.wav"))
both("silent_sound", sounding, ("sound ? at this",), ("sound creak at this", "abc.wav"))
both("silent_sound", sounding, ("effect ? at this",), ("effect dust at this",))


def voiced(last: str) -> Project:
    lines = (said("a", opener=True, voice="creak", then="b"), said("b", voice="creak", then="c"), said("c", voice=last))
    return replaced(talked(*lines), sounds=(Sound("creak", "creak", "abc.wav"),))


both("voice_missing", voiced, ("",), ("creak",))

# --- needs and order

both(
    "need_never_holds",
    cued,
    ("when used\nonly if has nut\nthen\n  set wet to yes",),
    ("when used\nonly if has nut\nthen\n  set wet to yes", "when near\nthen\n  give nut"),
)
both(
    "need_never_holds",
    cued,
    ("when used\nonly if not wet\n  and tally at least 9\nthen\n  set wet to yes", TALLY),
    (
        "when used\nonly if not wet\n  and tally at least 4\nthen\n  set wet to yes\n  add 4 to tally",
        "when near\nthen\n  add 4 to tally",
    ),
)
both(
    "need_always_holds",
    cued,
    ("when used\nonly if has at most 3 nut\nthen\n  give nut", KEPT),
    ("when used\nonly if has at most 2 nut\nthen\n  give nut", KEPT),
)
both(
    "never_read",
    cued,
    ("when used\nthen\n  give nut", "when used\nonly if has nut\nthen\n  set wet to yes"),
    ("when used\nthen\n  give nut\nand go on", "when used\nonly if has nut\nthen\n  set wet to yes"),
)
both(
    "never_read",
    cued,
    ("when used\nthen\n  give nut", "when used\nthen\n  effect dust at this"),
    ("when used\nonly if wet\nthen\n  give nut", "when used\nthen\n  set wet to yes"),
)


def two_openers(first: str) -> Project:
    return talked(
        said("evening", opener=True, needs=first),
        said("back", opener=True, needs="wet"),
        cues=("when used\nthen\n  open conversation chat\n  set wet to yes",),
    )


both("never_read", two_openers, ("",), ("not wet",))
flaw("never_read")(lambda: two_openers("wet or has at most 0 nut"))
both("line_not_led_to", lambda then: talked(said("hi", opener=True, then=then), said("lost")), ("",), ("lost",))
both(
    "moment_never_comes",
    cued,
    ("when downed\nthen\n  give nut",),
    ("when downed\nthen\n  give nut", "when near\nthen\n  down this"),
)
both(
    "fact_never_asked",
    cued,
    ("when used\nthen\n  set wet to yes",),
    ("when used\nonly if not wet\nthen\n  set wet to yes",),
)
both(
    "fact_never_set",
    cued,
    ("when used\nonly if not wet\nthen\n  give nut",),
    ("when used\nonly if not wet\nthen\n  give nut\n  set wet to yes",),
)
both(
    "item_never_given",
    cued,
    ("when used\nonly if has nut\nthen\n  set wet to yes",),
    ("when used\nonly if has nut\nthen\n  set wet to yes", "when near\nthen\n  give nut"),
)
both(
    "item_never_wanted",
    cued,
    ("when used\nthen\n  give nut",),
    ("when used\nthen\n  give nut", "when near\nonly if has nut\nthen\n  set wet to yes"),
)


def doors(given: int) -> Project:
    """Two gates, each of which takes a key and stays open; so many keys can be had."""
    opens = "when used\nonly if this is shut\nthen\n  take pin\n  set this to wide"
    gives = "when used\nthen\n  give pin\n  add 1 to tally"
    chest = post("chest", gives, uses=given, x=14.0)
    made = project(post("gate", opens, x=4.0), post("hatch", opens, x=8.0), chest)
    return replaced(made, items=(Item("pin", "pin", limit=9),))


both("too_few", doors, (1,), (2,))

# --- quests

both(
    "quest_never_offered",
    lambda *cues: quested(stage("look", wants("find"), then="done"), cues=cues),
    ("when used\nthen\n  give nut",),
    ("when used\nthen\n  start hunt",),
)
both(
    "quest_never_offered",
    lambda *cues: quested(stage("look", wants("find"), then="done"), cues=cues),
    ("when used\nonly if has nut\nthen\n  offer hunt",),
    ("when used\nthen\n  offer hunt",),
)


def declined(how: str, uses: int = 0) -> Project:
    bell = post("bell", "when used\nthen\n  offer hunt", uses=uses)
    return project(
        bell,
        quests=(
            Quest("hunt", "Hunt", decline=how, stages=(stage("look", wants("find", "have", "nut"), then="done"),)),
        ),
    )


both("quest_lost_when_declined", declined, ("for_good",), ("again",))
both("quest_lost_when_declined", declined, ("again", 1), ("no", 1))
both(
    "stage_not_reached",
    lambda then: quested(
        stage("look", wants("find", "go", "hall"), then=then), stage("tell", wants("say", "go", "hall"), then="done")
    ),
    ("",),
    ("tell",),
)
both(
    "stage_without_way_on",
    lambda then: quested(stage("look", wants("find", "go", "hall"), then=then)),
    ("",),
    ("done",),
)


@flaw("stage_without_way_on")
def a_first_stage_that_stays() -> Project:
    return quested(stage("look", wants("find", "go", "hall")), stage("tell", wants("say", "go", "hall"), then="done"))


@almost("stage_without_way_on")
def a_stage_that_a_step_leads_on_from() -> Project:
    cues = ("when used\nonly if hunt at look\nthen\n  finish hunt", "when used\nthen\n  start hunt")
    return quested(stage("look", wants("find", "go", "hall")), cues=cues)


both(
    "objective_without_target",
    lambda *targets: quested(stage("look", wants("find", "use", *targets), then="done")),
    (),
    ("bell",),
)


def counted(count: int) -> Project:
    made = [post(k, "when used\nthen\n  start hunt", x=x) for k, x in (("bell", 4.0), ("gong", 9.0))]
    look = stage("look", wants("find", "use", "bell", "gong", count=count), then="done")
    return project(*made, quests=(Quest("hunt", "Hunt", stages=(look,)),))


both("objective_never_met", counted, (3,), (2,))
both(
    "objective_never_met",
    lambda n: quested(
        stage("look", wants("find", "have", "nut", count=n), then="done"),
        cues=("when used\nthen\n  start hunt\n  give nut",),
    ),
    (4,),
    (3,),
)
both(
    "objective_never_met",
    lambda *cues: quested(stage("look", wants("find"), then="done"), cues=cues),
    ("when used\nthen\n  start hunt",),
    ("when used\nthen\n  start hunt", "when near\nthen\n  meet find"),
)
both(
    "nobody_to_hand_in_to",
    lambda *cues: quested(stage("look", wants("find", "go", "hall"), then="ready"), cues=cues),
    ("when used\nthen\n  start hunt",),
    ("when used\nonly if hunt is ready\nthen\n  hand in hunt", "when used\nthen\n  start hunt"),
)


def paid(step: str) -> Project:
    cues = (f"when used\nonly if hunt is ready\nthen\n  hand in hunt\n  {step}", "when used\nthen\n  start hunt")
    return quested(stage("look", wants("find", "go", "hall"), then="ready"), cues=cues, rewards="give 40 money")


both("reward_given_twice", paid, ("give 40 money",), ("give 10 money",))


def circle(needs: str) -> Project:
    quests = (Quest("hunt", "Hunt", needs="feast is done"), Quest("feast", "Feast", needs=needs))
    stages = (
        stage("look", wants("find", "go", "hall"), then="done"),
        stage("eat", wants("meal", "go", "hall"), then="done"),
    )
    return project(
        post("bell", "when used\nthen\n  start hunt\n  start feast"),
        quests=tuple(dataclasses.replace(q, stages=(s,)) for q, s in zip(quests, stages, strict=True)),
    )


both("quest_waits_for_itself", circle, ("hunt is done",), ("not hunt is done",))

# --- objects

both(
    "prompt_without_cue",
    lambda *cues: project(thing("bell", *cues, prompts=USE)),
    ("when near\nthen\n  give nut",),
    ("when used\nthen\n  give nut",),
)


def panel(*chosen: str) -> Project:
    prompt = Prompt("p1", "Desk", buttons=(Button("ask", "Ask"), Button("leave", "Leave")))
    return project(thing("desk", *(f"when chosen {c}\nthen\n  give nut" for c in chosen), prompts=(prompt,)))


both("prompt_without_cue", panel, ("ask",), ("ask", "leave"))


def pressed(hold_s: float) -> Project:
    return cued("when used\nthen\n  give nut", prompts=(Prompt("p1", "Press", hold_s=hold_s),))


both("cue_without_prompt", pressed, (1.0,), (0.0,))
both("cue_without_prompt", lambda prompts: cued("when used\nthen\n  give nut", prompts=prompts), ((),), (USE,))


def crate(states: tuple[str, ...], **more) -> Project:
    cue = "when used\nonly if this is shut\nthen\n  give nut\n  set this to wide"
    return cued(cue, prompts=(Prompt("p1", "Open", states=states, **more),))


both("prompt_stays", crate, ((),), (("shut",),))
almost("prompt_stays")(lambda: cued("when used\nthen\n  set this to next", prompts=USE))


def twins(apart: float, priority: int = 0) -> Project:
    press = "when used\nthen\n  give nut"
    one, other = (
        post("lamp", press, x=5.0),
        post("bracket", press, x=5.0 + apart, reach=Reach("circle", 2.0, priority=priority)),
    )
    return project(one, other)


both("control_fought_for", twins, (0.0,), (1.0,))
almost("control_fought_for")(lambda: twins(0.0, 1))


def walled(*things, points=((6.0, 0.0), (6.0, 10.0)), areas=None) -> Project:
    """A hall cut in two by a wall at x = 6, unless that stands elsewhere."""
    rooms = areas or (area("west", 0, 0, 6, 10), area("east", 6, 0, 14, 10))
    made = project(*things, areas=rooms)
    level = dataclasses.replace(made.levels[0], walls=(Wall("w1", points),))
    return replaced(made, levels=(level,))


PRESS = "when used\nthen\n  give nut"
both(
    "reach_on_no_floor",
    lambda x, r: project(post("bell", PRESS, x=x, reach=Reach("circle", r))),
    (21.0, 1.2),
    (21.0, 1.6),
)
both("reach_through_wall", lambda x: walled(post("bell", PRESS, x=x)), (5.0,), (3.0,))
almost("reach_through_wall")(lambda: walled(post("bell", PRESS, x=5.0, reach=Reach("circle", 2.0, sight_m=3.0))))


def gate(clear: bool, cue: str = "when used\nthen\n  set this to next", moving="turned_back") -> Project:
    motion = Motion(1.0, hinge_x_m=-0.5, while_moving=moving, stay_clear=clear)
    return project(thing("gate", cue, x=10.0, y=5.0, **{**DOOR, "motion": motion}))


both("door_shuts_on_somebody", gate, (False,), (True,))
almost("door_shuts_on_somebody")(
    lambda: gate(False, "when used\nonly if this is shut\nthen\n  set this to open", "ignored")
)


def putting(x: float, dx: float, rooms: tuple) -> Project:
    bag = Kind("bag", "bag")
    made = project(post("desk", f"when used\nthen\n  put bag at this by {dx:g} m, 0 m", x=x, uses=1), areas=rooms)
    return replaced(made, kinds=(*made.kinds, bag))


HIGH = (area("deck", 0, 0, 6, 10, 4.0), area("yard", 6, 0, 14, 10))
both("put_off_the_floor", putting, (18.0, 3.0, (FLOOR,)), (18.0, 1.0, (FLOOR,)))
both("put_off_the_floor", putting, (4.0, 3.0, HIGH), (4.0, 1.0, HIGH))
flaw("put_off_the_floor")(lambda: putting(8.0, -3.0, HIGH))
both("object_off_the_floor", lambda x: project(post("bell", PRESS, x=x, body=Body("box"))), (22.0,), (19.0,))


def starting(x: float, **more) -> Project:
    made = project(thing("block", x=4.0, y=5.0, prompts=(), body=Body("box", 2.0, 2.0), **more))
    return replaced(made, levels=(dataclasses.replace(made.levels[0], start_x_m=x),))


both("start_in_a_solid", starting, (4.0,), (8.0,))
both("start_in_a_solid", starting, (25.0,), (8.0,))
both(
    "exit_to_nowhere",
    lambda x: two_levels(exits=(dataclasses.replace(DOWN, to_x_m=x),), back=(UP,)),
    (9.0,),
    (4.0,),
)
both("area_not_walked_to", lambda rise: project(areas=(FLOOR, area("loft", 20, 0, 5, 10, rise))), (1.0,), (0.4,))


def walking(*stops: tuple[float, float]) -> Project:
    kind, warden = thing("warden", prompts=(), walks=True, body=Body("circle", 0.5), reach=Reach("none"), x=2.0)
    return walled((kind, dataclasses.replace(warden, round=stops)), points=((6.0, 0.0), (6.0, 8.0)))


both("round_through_walls", walking, ((2.0, 2.0), (10.0, 2.0)), ((2.0, 2.0), (4.0, 2.0)))
flaw("round_through_walls")(lambda: walking((2.0, 2.0), (6.0, 2.0)))


def copied(answer: str) -> Project:
    kind, bell = post("bell", "when used\nthen\n  give nut")
    return project((kind, dataclasses.replace(bell, carried={"cue/c1/0": answer})))


both("copy_not_looked_at", copied, ("open",), ("right",))


def carrier(hold_s: float) -> Project:
    prompts = (Prompt("p1", "Ask", hold_s=hold_s),)
    kind, one = post("carrier", "when held\nthen\n  give nut", prompts=prompts, walks=True, speed_mps=2.0)
    return project((kind, dataclasses.replace(one, round=((2.0, 2.0), (8.0, 2.0)))))


both("hold_too_long", carrier, (2.5,), (1.5,))


def raced(seconds: float) -> Project:
    made = [post(k, "when used\nthen\n  start hunt", x=x) for k, x in (("bell", 2.0), ("gong", 18.0))]
    look = stage("look", wants("find", "use", "bell", "gong", count=2, time_s=seconds), then="done")
    return project(*made, quests=(Quest("hunt", "Hunt", stages=(look,), failing="again"),))


both("time_too_short", raced, (3.0,), (3.6,))


def marked(*cues: str) -> Project:
    look = stage("look", wants("find", "go", "hall", marker="guide"), then="done")
    return replaced(
        quested(
            look, cues=("when used\nthen\n  start hunt", "when near\nonly if guide is filled\nthen\n  give nut", *cues)
        ),
        roles=(Role("guide", "Guide"),),
    )


both("marker_without_target", marked, (), ("when near\nthen\n  fill guide with bell",))


def bottles(step: str, uses: int = 0) -> Project:
    made = project(post("press", f"when used\nthen\n  {step}", uses=uses))
    return replaced(made, kinds=(*made.kinds, Kind("bottle", "bottle")))


both("pool_can_run_out", bottles, ("drop bottle at the feet of this",), ("drop bottle at the feet of this", 3))
flaw("pool_can_run_out")(lambda: bottles("drop bottle at the feet of this at most 2", 3))
both(
    "pool_too_large",
    bottles,
    ("drop bottle at the feet of this at most 5", 3),
    ("drop bottle at the feet of this at most 3", 3),
)


def delivered(walks: bool, y: float = 5.0) -> Project:
    asked = post("bell", "when used\nthen\n  later by pip", "when later\nthen\n  give nut", x=10.0, y=5.0)
    kind, pip = thing("pip", prompts=(), walks=walks, body=Body("circle", 0.5), reach=Reach("none"), x=2.0, y=y)
    made = walled(asked, (kind, pip), points=((6.0, 0.0), (6.0, 8.0)))
    return made


both("carrier_without_way", delivered, (False,), (True,))


@flaw("carrier_without_way")
def a_carrier_behind_a_wall() -> Project:
    made = delivered(True)
    return replaced(made, levels=(dataclasses.replace(made.levels[0], walls=(Wall("w1", ((6.0, 0.0), (6.0, 10.0))),)),))


both(
    "cues_chase",
    cued,
    (
        "when changed wet\nonly if wet\nthen\n  set wet to no",
        "when changed wet\nonly if not wet\nthen\n  set wet to yes",
        "when used\nthen\n  set wet to yes",
    ),
    ("when changed wet\nonly if wet\nthen\n  set wet to no", "when used\nthen\n  set wet to yes"),
)

# --- words and the project

both("text_too_long", lambda words: cued(PRESS, prompts=(Prompt("p1", words),)), ("Press " * 9,), ("Press " * 8,))
both("text_too_long", lambda words: cued(f'when used\nthen\n  say "{words}"'), ("long " * 33,), ("long " * 32,))
both(
    "placeholder_unknown",
    lambda words: cued(f'when used\nthen\n  say "{words}"'),
    ("You have {count:nutt}.",),
    ("You have {count:nut}.",),
)
both(
    "placeholder_unknown",
    lambda words: cued(PRESS, prompts=(Prompt("p1", words),)),
    ("Press {thing}",),
    ("Press {object}",),
)


def answers(*words: str, needs: tuple[str, str] = ("", "")) -> Project:
    replies = tuple(Reply(f"r{i}", (w,), n) for i, (w, n) in enumerate(zip(words, needs, strict=True)))
    return talked(said("hi", opener=True, replies=replies))


both("choices_alike", answers, ("Yes.", "yes"), ("Yes.", "No."))
almost("choices_alike")(lambda: answers("Yes.", "Yes.", needs=("wet", "not wet")))
both(
    "choices_alike",
    lambda a, b: cued(
        "when chosen a\nthen\n  give nut", prompts=(Prompt("p1", "Desk", buttons=(Button("a", a), Button("b", b))),)
    ),
    ("Ask", "Ask"),
    ("Ask", "Go"),
)
both(
    "not_used",
    lambda *cues: replaced(cued(*cues), tags=(Tag("old", "Old"),), items=(Item("nut", "nut"),), facts=(), abilities=()),
    (PRESS,),
    (PRESS, "when near\nonly if old in reach of this\nthen\n  give nut"),
)


def bound(keys: tuple[str, ...], second: tuple[str, ...] = ("f",)) -> Project:
    return replaced(cued(PRESS), controls=(Control("use", "Use", keys), Control("second", "Second", second)))


both("control_without_key", bound, ((),), (("e",),))
both("key_twice", bound, (("e",), ("f", "e")), (("e",), ("f",)))
both(
    "cannot_run",
    cued,
    ("when letter comes\nthen\n  give nut",),
    ("when letter comes\nthen\n  give nut", "when used\nthen\n  later letter after 2 s"),
)
