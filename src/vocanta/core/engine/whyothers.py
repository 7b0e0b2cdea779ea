"""Why for what is no object: what a quest, an objective, a line, a reply, an ability or an item is waiting for."""

from __future__ import annotations

from collections.abc import Callable, Iterable

from ..phrases.vocabulary import STATUSES
from ..progress.columns import What
from ..progress.guards import Guard, can_hold
from ..progress.live import held_columns
from ..progress.needs import may_use
from ..progress.program import Action
from ..project.records import Ability, Conversation, Line, Objective, Quest, Stage
from .needlines import UNDER_WAY, Moment, line, sources_of
from .questing import QuestScreen
from .shown import Source, Why, WhyCue, WhyLine


def of_other(now: Moment, key: str) -> Why:
    """The explanation of anything but an object; an unknown name gives an empty one that says so."""
    layout = now.situation.layout
    known: list[tuple[Iterable[str], Callable[[Moment, str], Why]]] = [
        (layout.quests, _of_quest),
        (_objectives(now), _of_objective),
        (_lines(now), _of_line),
        (layout.conversations, _of_conversation),
        ({a.key for a in now.situation.project.abilities}, _of_ability),
        ({i.key for i in now.situation.project.items}, _of_item),
    ]
    found = next((of for keys, of in known if key in keys), None)
    return (
        _why(now, key, [line("It is known", False, "", "nothing has that name")], [])
        if found is None
        else found(now, key)
    )


def _why(now: Moment, key: str, place: list[WhyLine], cues: list[WhyCue], stopped: str | None = None) -> Why:
    first = next((one["stops"] for one in place if not one["met"]), "")
    if not first and cues and not any(c["met"] for c in cues):
        first = next((n["stops"] for n in cues[0]["needs"] if not n["met"]), "")
    name = now.situation.words.name(key)
    stops = first if stopped is None else stopped
    return {"key": key, "name": name, "stopped_by": stops, "place": place, "cues": cues, "reach": [], "problems": []}


def _column_line(now: Moment, what: What, key: str, text: str, met: bool, stops: str) -> WhyLine:
    """What a column has come to, since when, and what could bring it on."""
    situation, column = now.situation, now.situation.layout.find(what, key)
    detail = "" if column is None else situation.words.column(situation.program.columns[column], now.row[column])
    found = line(text, met, detail, stops)
    if column is not None:
        if since := now.since([column]):
            found["since"] = since
        found["from"] = [] if met else sources_of(situation, {column})
    return found


def _rule(now: Moment, origin: str, when: str, needs: list[WhyLine], *, passed_over: bool = False) -> WhyCue:
    met = all(n["met"] for n in needs)
    rule = now.situation.words.rule(origin)
    return {
        "origin": origin,
        "rule": rule,
        "when": when,
        "control": "",
        "met": met,
        "needs": needs,
        "passed_over": passed_over,
    }


# --- quests


def _of_quest(now: Moment, key: str) -> Why:
    """Its status and since when, what it asks for before it can be had, what its stage waits for, what can be decided."""
    quest = now.situation.layout.quests[key]
    status = STATUSES[now.known("status", key)]
    lines = [_column_line(now, "status", key, "Under way", status in UNDER_WAY, f"it is {status}")]
    cues: list[WhyCue] = []
    if status in UNDER_WAY and quest.stages:
        stage = quest.stages[now.known("stage", key)]
        lines.append(_column_line(now, "stage", key, f"At “{stage.name}”", True, ""))
        lines += [_objective_line(now, o) for o in stage.objectives]
    available = now.situation.program.groups.get(f"available:{key}")
    if available is not None and status == "unavailable":
        needs = [n for b in available.branches for n in now.needs(b.guard)]
        cues.append(_rule(now, f"quest/{key}/needs", "is available when", needs))
    over = "" if status in UNDER_WAY else f"it is {status}"
    open_one = next((one["stops"] for one in lines[1:] if not one["met"]), "")
    return _why(now, key, lines, cues, over or open_one)


def _objectives(now: Moment) -> dict[str, tuple[Quest, Stage, Objective]]:
    quests = now.situation.project.quests
    return {o.key: (q, s, o) for q in quests for s in q.stages for o in s.objectives}


def _objective_line(now: Moment, objective: Objective) -> WhyLine:
    """Whether it is met, how far it has come, since when."""
    layout = now.situation.layout
    met = bool(now.known("met", objective.key))
    optional = ", if you like" if objective.optional else ""
    count = now.known("count", objective.key)
    so_far = f"{count} of {objective.count}" if layout.find("count", objective.key) is not None else ""
    found = line(f"{objective.name}{optional}", met or objective.optional, so_far, f"not met: {objective.name}")
    columns = [c for c in (layout.find("met", objective.key), layout.find("count", objective.key)) if c is not None]
    if since := now.since(columns):
        found["since"] = since
    if not met:
        targets = [t for t in objective.targets if t in layout.placed]
        done_at: list[Source] = [{"origin": f"object/{t}", "text": now.situation.words.name(t)} for t in targets]
        found["from"] = done_at or sources_of(now.situation, {*columns, *held_columns(layout.table, objective)})
    return found


def _of_objective(now: Moment, key: str) -> Why:
    quest, stage, objective = _objectives(now)[key]
    status, number = STATUSES[now.known("status", quest.key)], quest.stages.index(stage)
    here = status in UNDER_WAY and now.known("stage", quest.key) == number
    name = now.situation.words.name(quest.key)
    at = _column_line(now, "stage", quest.key, f"{name} is at “{stage.name}”", here, f"{name} is not at “{stage.name}”")
    return _why(now, key, [at, _objective_line(now, objective), *_marker_lines(now, objective)], [])


def _marker_lines(now: Moment, objective: Objective) -> list[WhyLine]:
    """Where the marker points, or why it points nowhere now."""
    if objective.marker in ("", "?"):
        return []
    run = now.run
    screen = QuestScreen(now.situation, run.clocks, run.places, run.chronicle, run.here.mover.way_to)
    mark = screen.mark(objective.marker)
    words = "" if mark is None else mark["words"]
    text = f"Its marker points at {now.situation.words.name(objective.marker)}"
    return [line(text, mark is not None and mark["at"] is not None, words, f"its marker: {words}")]


# --- talk


def _lines(now: Moment) -> dict[str, tuple[Conversation, Line]]:
    return {m.key: (talk, m) for talk in now.situation.project.conversations for m in talk.lines}


def _openers(now: Moment, talk: Conversation) -> list[WhyCue]:
    """The openers of a conversation in order; one that fits behind another is passed over."""
    group, found, taken = now.situation.program.groups.get(f"openers:{talk.key}"), [], False
    for branch in group.branches[:-1] if group is not None else ():
        fits = _fits(now, branch.guard)
        needs = now.needs(branch.guard, talk.talker)
        if not fits and all(n["met"] for n in needs):
            needs.append(line("Not said before", False, "", "it is said once, and was"))
        found.append(_rule(now, branch.origin, "is said when", needs, passed_over=fits and taken))
        taken = taken or fits
    return found


def _fits(now: Moment, guard: Guard) -> bool:
    return can_hold(guard, now.row, now.situation.program.chances)


def _of_conversation(now: Moment, key: str) -> Why:
    """Which opener would be said, and what each of the others waits for."""
    openers = _openers(now, now.situation.layout.conversations[key])
    said = next((c for c in openers if c["met"]), None)
    return _why(now, key, [], openers, "" if said is not None else "no opener fits")


def _of_line(now: Moment, key: str) -> Why:
    """What a line waits for: an opener its needs, another the line or the reply that leads to it; and its replies."""
    talk, said = _lines(now)[key]
    origin = f"conversation/{talk.key}/line/{key}"
    cues = [c for c in _openers(now, talk) if c["origin"] == origin]
    ways = [f"after {now.situation.words.line_start(m.key)}" for m in talk.lines if _leads(m, key)]
    place = [line("It is led to", bool(ways), " · ".join(ways), "no line leads to it")] if not said.opener else []
    stopped = "an earlier opener fits and is said" if any(c["passed_over"] for c in cues) else None
    for reply in said.replies:
        action: Action | None = now.situation.program.by_name.get(f"reply:{key}/{reply.key}")
        if action is not None:
            words = now.situation.words.reply_start(key, reply.key)
            cues.append(
                _rule(now, action.origin, f"can be answered {words} when", now.needs(action.guard, talk.talker))
            )
    own = _why(now, key, place, [c for c in cues if c["origin"] == origin], stopped)
    return {**own, "cues": cues}


def _leads(one: Line, key: str) -> bool:
    return one.then == key or any(r.then == key for r in one.replies)


# --- what the player has


def _of_ability(now: Moment, key: str) -> Why:
    """Whether it was granted or its gear is in hand, whether something suspends it, how often it can still be used."""
    situation, layout = now.situation, now.situation.layout
    ability = next(a for a in situation.project.abilities if a.key == key)
    granted = bool(now.known("ability", key))
    usable = can_hold(may_use(layout, key), now.row, situation.program.chances)
    lines = [_granted_line(now, ability, granted)]
    if layout.find("suspended", key) is not None and now.known("suspended", key):
        lines.append(_column_line(now, "suspended", key, "Not suspended", False, "it is suspended"))
    zones = [z for z in layout.hands_off(key)] if not usable and all(one["met"] for one in lines) else []
    if zones:
        names = " · ".join(situation.words.name(z) for z in zones)
        lines.append(line("In no zone that suspends it", False, names, f"not here: {names} suspends it"))
    if left := now.known("ability_uses", key):
        lines.append(line("Uses left", True, str(left)))
    return _why(now, key, lines, [])


def _granted_line(now: Moment, ability: Ability, granted: bool) -> WhyLine:
    held = any(
        now.known("gear", slot) and gear[now.known("gear", slot) - 1] == ability.gear
        for slot, gear in now.situation.layout.slots.items()
    )
    gear = now.situation.words.name(ability.gear) if ability.gear else ""
    stops = f"needs {gear} in hand" if gear else "it was not granted"
    return _column_line(now, "ability", ability.key, "Granted, or its gear in hand", granted or held, stops)


def _of_item(now: Moment, key: str) -> Why:
    count = now.known("item", key)
    return _why(now, key, [_column_line(now, "item", key, "The player has it", count > 0, "the player has none")], [])
