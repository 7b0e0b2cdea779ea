"""Readings: what the core reads off a project for its pages. Nothing here decides; it puts answers into shape."""

from __future__ import annotations

from typing import Any

from ..core.cuetext.carrying import carried_in_words
from ..core.cuetext.index import text_problems
from ..core.cuetext.presses import in_vain
from ..core.cuetext.prose import Token, inserts_of_cue, prose_of_cue, prose_of_needs, prose_of_steps
from ..core.cuetext.reading import CueTextError, read_cue
from ..core.cuetext.references import reader_of, text_fields
from ..core.engine.questing import offer_card, rewards_of
from ..core.engine.wording import Value
from ..core.phrases import nodes as n
from ..core.phrases.vocabulary import STATUSES
from ..core.progress.as_if import AsIf, as_if
from ..core.progress.columns import What
from ..core.progress.guards import Guard, can_hold
from ..core.progress.onerow import Row, first_unmet, holds_on
from ..core.progress.threads import BEFORE, Touch
from ..core.project.designs import cues_in_order, cues_of, resolved
from ..core.project.problems import Problem, ProblemData
from ..core.project.records import Conversation, Design, Prompt
from ..core.space.floor import floor_of
from ..core.space.overlaps import overlaps_of
from . import models
from .changing import always_fits
from .flows import flows_of
from .meaning import this_of
from .naming import Places, shown, touch_shape
from .programs import Compiled
from .proofs import PointWay
from .refusals import Refused, not_found
from .rows import values_of
from .shapes import (
    AssumedShape,
    CarriedShape,
    InsertShape,
    InVainShape,
    LevelReading,
    LiveLine,
    LiveObject,
    LivePromptShape,
    LiveReading,
    OverlapShape,
    PageReading,
    QuestReading,
    RunReading,
    StageReading,
    StatusReading,
    TextReading,
    ThreadReading,
    TokenShape,
    TouchedStage,
    TouchShape,
    WayShape,
)
from .sheet import Sheet
from .using import uses_of

# --- texts


def text_reading(here: Compiled, record_type: str, field: str, text: str, draft: str, this: str) -> TextReading:
    """A text as prose, with its problems and those of its draft."""
    tokens: list[Token] = []
    inserts: list[InsertShape] = []
    problems: list[Problem] = []
    reader = reader_of(record_type, field)
    assert reader is not None
    if text.strip():
        tree = reader(text)
        tokens = _prose(here, tree, this)
        problems = text_problems(tree, here.index, this)
        if isinstance(tree, n.CueTree):
            inserts = [InsertShape(i.what, i.at, i.text) for i in inserts_of_cue(tree, text)]
        if n.has_hole(tree):
            problems.append(
                Problem("cue_hole", "Something is not filled in yet, so it never runs.", "Fill in every …", field)
            )
    return TextReading(
        text,
        [TokenShape(**t.as_data()) for t in tokens],
        inserts,
        _shaped(problems),
        _shaped(_draft_problems(here, draft, this)),
    )


def _prose(here: Compiled, tree: Any, this: str) -> list[Token]:
    def naming(text: str, owner: str) -> str:
        return _shown(here, text, this if owner == "this" else owner)

    if isinstance(tree, n.CueTree):
        return prose_of_cue(tree, naming)
    if any(isinstance(node, n.Top) for node in tree):
        return prose_of_needs(tree, naming)
    return prose_of_steps(tree, naming)


def _shown(here: Compiled, text: str, owner: str) -> str:
    return shown(here.words, text, owner)


def _draft_problems(here: Compiled, draft: str, this: str) -> list[Problem]:
    if not draft.strip():
        return []
    try:
        return text_problems(read_cue(draft), here.index, this)
    except CueTextError as error:
        return list(error.problems)


def _shaped(problems: list[Problem]) -> list[ProblemData]:
    return [p.as_dict() for p in problems]


# --- pages


FLOWING = ("item", "fact", "ability", "role", "sound")
"""What comes from somewhere and goes somewhere."""


def page_reading(project: models.Project, here: Compiled, record: models.Record) -> PageReading:
    """What the core reads off one record and what it owns by their texts, without the program."""
    sheet = Sheet(project)
    sheet.read([record.pk])
    sheet.read_owners(sheet.known())
    sheet.read_owned([record.pk], without="object")
    owned = sheet.below(sheet.get(record.pk) or record)
    texts = {}
    for one in owned:
        values = values_of(one)
        for field in text_fields(one.type):
            this = this_of(sheet, one) or (record.key if record.type in ("object", "kind") else "")
            texts[f"{one.pk}.{field}"] = text_reading(
                here, one.type, field, values[field], values.get("draft", ""), this
            )
    if isinstance(record, models.Object):
        texts |= _kind_texts(here, project, record)
    apart = ("cue", "reply", "wall", "area", "exit")  # without a name in texts, or with a page of their own
    keys = [r.key for r in owned if r.pk == record.pk or r.type not in apart]
    return PageReading(
        here.edit_number,
        texts,
        uses_of(project, keys, {r.pk for r in owned}),
        carried_reading(here, record) if isinstance(record, models.Object) else [],
        *_cues_of_one(here, project, record),
        _always_said(owned) if record.type == "conversation" else "",
        flows_of(project, here, record.key) if record.type in FLOWING else [],
    )


def _always_said(owned: list[models.Record]) -> str:
    """The name of the first opener of a conversation that always fits; empty without one."""
    openers = (r for r in owned if isinstance(r, models.Line) and r.opener)
    return next((line.key for line in openers if always_fits(line)), "")


def _cues_of_one(here: Compiled, project: models.Project, record: models.Record) -> tuple[list[int], list[InVainShape]]:
    """The cues of an object by id in the order in which they are read, and those of it or of a kind that wait in vain.
    Raises `Refused` 404 where the record was deleted or called otherwise while it was read."""
    if isinstance(record, models.Kind):
        kind = next((k for k in here.core.kinds if k.key == record.key), None)
        if kind is None:
            raise not_found("kind", record.key)
        ids = {c.key: c.pk for c in models.Cue.objects.filter(owner_id=record.pk)}
        return [], _in_vain(kind.design, [(c.text, c.key) for c in kind.cues], ids)
    if not isinstance(record, models.Object):
        return [], []
    core = next((o for level in here.core.levels for o in level.objects if o.key == record.key), None)
    if core is None:
        raise not_found("object", record.key)
    of = next((k for k in here.core.kinds if k.key == core.kind), None)
    held = models.Kind.objects.filter(project=project, key=core.kind).first()
    owners = {record.pk: f"object/{core.key}"} | ({held.pk: f"kind/{core.kind}"} if held is not None else {})
    ids = {f"{owners[c.owner_id]}/cue/{c.key}": c.pk for c in models.Cue.objects.filter(owner_id__in=owners)}
    order = [ids[place] for _, place in cues_in_order(of, core) if place in ids]
    design = resolved(of, core) if of is not None else Design()
    return order, _in_vain(design, [(c.text, place) for c, place in cues_of(of, core)], ids)


def _in_vain(design: Design, cues: list[tuple[str, str]], ids: dict[str, int]) -> list[InVainShape]:
    return [InVainShape(ids[one.place], one.says, one.instead) for one in in_vain(design, cues) if one.place in ids]


def level_reading(here: Compiled, key: str) -> LevelReading:
    """What the plan of a level says of it, by the same geometry that a run walks on. Raises `Refused` 404."""
    level = next((lv for lv in here.core.levels if lv.key == key), None)
    if level is None:
        raise not_found("level", key)
    floor = floor_of(level)
    numbers = {o.key: floor.area_at(o.x_m, o.y_m) for o in level.objects}
    areas = {key: floor.areas[number].key if number >= 0 else "" for key, number in numbers.items()}
    overlaps = [
        OverlapShape(o.a, o.b, list(o.controls), [[list(p) for p in line] for line in o.outlines], o.says)
        for o in overlaps_of(here.core, level)
    ]
    return LevelReading(here.edit_number, overlaps, areas)


def run_reading(here: Compiled, record: models.Record) -> RunReading:
    """What the program tells of one record. Cost: the first after an edit compiles the project."""
    problems = [p for p in here.program.problems if f"/{record.key}/" in f"/{p.path}/"]
    return RunReading(here.edit_number, touched_stages(here, record.key), _shaped(problems))


def carried_reading(here: Compiled, record: models.Object) -> list[CarriedShape]:
    """What a duplicate carried over and nobody has looked at yet, in words; what is no longer there is left out."""
    cues = {c.key: c.text for c in models.Cue.objects.filter(owner_id=record.pk)}

    def naming(text: str, owner: str) -> str:
        return _shown(here, text, record.key if owner == "this" else owner)

    return [CarriedShape(key, words) for key, words in carried_in_words(record.own, cues, record.carried, naming)]


def _kind_texts(here: Compiled, project: models.Project, record: models.Object) -> dict[str, TextReading]:
    """The cues of an object's kind, read as the object's own."""
    kind = models.Kind.objects.filter(project=project, key=record.kind).first()
    cues = models.Cue.objects.filter(owner_id=kind.pk).order_by("order", "pk") if kind else models.Cue.objects.none()
    return {f"{c.pk}.text": text_reading(here, "cue", "text", c.text, c.draft, record.key) for c in cues}


def touched_stages(here: Compiled, key: str) -> list[TouchedStage]:
    """Which stages an object moves, and which make it possible."""
    found = []
    for quest in here.core.quests:
        for number, stage in enumerate(quest.stages):
            for how, touches in (
                ("moves", here.touching.brings_here(quest, number)),
                ("possible", here.touching.becomes_possible(quest, number)),
            ):
                for touch in touches:
                    if _concerns(here, touch, key):
                        sources = " or ".join(
                            s if s == "not started" else here.words.owned(s, quest.key) for s in touch.from_stages
                        )
                        text = f"from {sources}" if sources else ""
                        found.append(
                            TouchedStage(quest.key, stage.key, "moves" if how == "moves" else "possible", text)
                        )
    return list(dict.fromkeys(found))


def _concerns(here: Compiled, touch: Touch, key: str) -> bool:
    parts = touch.origin.split("/")
    if parts[0] == "conversation":
        talk = next(c for c in here.core.conversations if c.key == parts[1])
        return key in (talk.talker, talk.key, parts[3] if len(parts) > 3 else "")
    return key in (parts[1] if parts[0] == "object" else "", touch.subject)


def stage_reading(here: Compiled, quest_key: str, stage_key: str) -> StageReading:
    """The three lists of a stage. Raises `Refused` 404."""
    quest = next((q for q in here.core.quests if q.key == quest_key), None)
    number = next((i for i, s in enumerate(quest.stages) if s.key == stage_key), -1) if quest else -1
    if quest is None or number < 0:
        raise Refused(
            404,
            "No such stage",
            [Problem("not_found", "There is no such stage.", "Choose one on its thread.", "stage")],
        )
    places = Places(here.core, here.words)

    def shaped(touches: list[Touch]) -> list[TouchShape]:
        return [touch_shape(t, places, quest_key) for t in touches]

    return StageReading(
        quest_key,
        stage_key,
        shaped(here.touching.brings_here(quest, number)),
        shaped(here.touching.becomes_possible(quest, number)),
        shaped(here.touching.stops_being_possible(quest, number)),
    )


def quest_reading(here: Compiled, key: str) -> QuestReading:
    """The offer card of a quest and what touches its statuses. Raises `Refused` 404."""
    quest = here.program.layout.quests.get(key)
    if quest is None:
        raise not_found("quest", key)
    places = Places(here.core, here.words)

    def shaped(touches: list[Touch]) -> list[TouchShape]:
        return [touch_shape(t, places, key) for t in touches]

    statuses = [
        StatusReading(
            status,
            shaped(here.touching.brings_status(quest, status)),
            shaped(here.touching.becomes_at(quest, status)),
            shaped(here.touching.stops_at(quest, status)),
        )
        for status in BEFORE
    ]
    return QuestReading(here.edit_number, offer_card(quest, here.words), statuses)


def thread_readings(here: Compiled) -> list[ThreadReading]:
    """Every quest as it is drawn."""
    return [
        ThreadReading(q.key, rewards_of(q, here.words), [WayShape(*way) for way in here.touching.ways(q)])
        for q in here.program.layout.quests.values()
    ]


# --- as if


def as_if_at(
    here: Compiled, quest: str, stage: str, changes: tuple[tuple[str, int], ...], way: PointWay | None
) -> AsIf | None:
    """The project at a point; None without a quest. Raises `Refused` 404 for an unknown one."""
    try:
        puts = None if way is None else way.puts
        return as_if(here.program, here.core, quest, stage, changes, puts) if quest else None
    except KeyError as error:
        says = f"There is no {error.args[0]} to be as if at."
        wrong = Problem("not_found", says, "Choose a bead of a thread.", "as_if")
        raise Refused(404, "No such point", [wrong]) from error


def live_reading(
    here: Compiled, quest: str, stage: str, changes: tuple[tuple[str, int], ...], way: PointWay | None = None
) -> LiveReading:
    """The project at a point; without a quest as it is at the start. `way`: the way there, where one was walked.

    Raises `Refused` 404 for an unknown point."""
    program, chosen = here.program, as_if_at(here, quest, stage, changes, way)
    row = list(chosen.row) if chosen else [c.start for c in program.columns]
    assumed = (
        [
            AssumedShape(a.column, a.value, column_words(here, a.column, a.value))
            for a in chosen.assumed
            if a.column != f"status:{quest}"
        ]
        if chosen
        else []
    )
    return LiveReading(
        here.edit_number,
        f"{here.words.name(quest)}: {here.words.stage(quest, stage)}" if quest else "",
        quest,
        stage,
        None if way is None else way.counted,
        [a for a in assumed if a.text],
        {key: _live_object(here, key, row) for key in here.words.layout.placed},
        _live_lines(here, row),
        {q.key: STATUSES[row[program.table.at("status", q.key)]] for q in here.core.quests},
        {q.key: q.stages[row[program.table.at("stage", q.key)]].key for q in here.core.quests if q.stages},
    )


_ASSUMED: tuple[What, ...] = ("item", "fact", "state", "ability", "exists", "money", "experience", "status")
"""What of an *as if* is told; the rest follows from the point itself."""


def column_words(here: Compiled, name: str, value: int) -> str:
    """A column's value in words; empty for those that follow from others."""
    column = here.program.columns[here.program.table.number(name)]
    usual = {"ability": 0, "exists": 1}.get(column.what)
    return here.words.standing(column, value) if column.what in _ASSUMED and value != usual else ""


def _live_object(here: Compiled, key: str, row: Row) -> LiveObject:
    program, one = here.program, here.words.layout.placed[key]
    state = one.design.states[row[program.table.at("state", key)]]
    exists = bool(row[program.table.at("exists", key)])
    prompts = [
        _live_prompt(here, key, p, row)
        for p in one.design.prompts
        if exists and state.reach_on and (not p.states or state.key in p.states)
    ]
    return LiveObject(state.key, exists, prompts)


def _live_prompt(here: Compiled, key: str, prompt: Prompt, row: Row) -> LivePromptShape:
    program = here.program
    verb = "held" if prompt.hold_s > 0 else "used"
    names = [f"chosen:{key}/{b.key}" for b in prompt.buttons] or [f"{verb}:{key}/{prompt.control}"]
    action = next((program.by_name[name] for name in names if name in program.by_name), None)

    value = _reader(here, row)
    wording = here.words.filled(prompt.wording, key, prompt.control, value)
    if action is None:
        return LivePromptShape(
            prompt.key, prompt.control, wording, False, prompt.when_unusable != "hidden", "nothing happens here yet"
        )
    near = row.copy()
    for column in (program.table.find("in_reach", key), program.table.find("looked_at", key)):
        if column is not None:
            near[column] = 1
    usable = can_hold(action.guard, near, program.chances)
    group = program.groups[action.group]
    unmet = next((c for b in group.branches[group.first_cue :] if (c := first_unmet(b.conditions, near))), None)
    said = here.words.filled(unmet.or_else_words, key, prompt.control, value) if unmet is not None else ""
    reason = "" if usable or unmet is None else said or here.words.need(unmet.text, value, key)
    return LivePromptShape(
        prompt.key, prompt.control, wording, usable, usable or prompt.when_unusable != "hidden", reason
    )


def _live_lines(here: Compiled, row: Row) -> dict[str, LiveLine]:
    found: dict[str, LiveLine] = {}
    for talk in here.core.conversations:
        said, row = "", _opened(here, talk, row)
        branches = here.program.groups[f"openers:{talk.key}"].branches[:-1]
        for line, branch in zip([m for m in talk.lines if m.opener], branches, strict=True):
            fits = holds_on(branch.guard, row)
            found[line.key] = LiveLine(
                fits and not said, fits, "" if fits else _stopped(here, branch.guard, row), said if fits else ""
            )
            said = said or (line.key if fits else "")
    return found


def _opened(here: Compiled, talk: Conversation, row: Row) -> Row:
    """The situation as it is while a conversation is opened at its talker."""
    layout, at = here.program.layout, here.program.table.at("talk_at")
    opened = row.copy()
    places = [k for k in layout.mentions.opened[talk.key] if k]
    place = talk.talker if talk.talker in places else next(iter(places), "")
    opened[at] = layout.talkers.index(place) + 1 if place else 0
    return opened


def _reader(here: Compiled, row: Row) -> Value:
    """What reads the columns of a row by what and key, 0 for those that nothing asks for."""

    def value(what: What, key: str) -> int:
        column = here.program.table.find(what, key)
        return 0 if column is None else row[column]

    return value


def _stopped(here: Compiled, guard: Guard, row: Row) -> str:
    """The part of a guard that stops it, in words."""
    if guard.text:
        return here.words.need(guard.text, _reader(here, row))
    parts = getattr(guard, "parts", ())
    return next((s for p in parts if not holds_on(p, row) and (s := _stopped(here, p, row))), "it was said before")
