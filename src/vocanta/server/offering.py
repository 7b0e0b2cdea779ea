"""Setting up who offers a quest and to whom it is handed in: one edit of ordinary cues, lines and buttons."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

from ..core.cuetext.reading import read_cue
from ..core.phrases import nodes as n
from ..core.project.names import free_key
from ..core.project.problems import Problem
from ..core.project.records import Design, Prompt
from ..core.project.starters import starter
from ..core.project.tree import plain
from . import listing, models
from .edits import apply_edit
from .refusals import Refused, not_found
from .shapes import ChangeAsked, EditAsked, EditDone, OfferAsked
from .telling import rows_of

REACH = {"reach.shape": "circle", "reach.radius_m": 1.6}


@dataclass
class Offering:
    """The changes as they are put together."""

    project: models.Project
    quest: models.Quest
    taken: set[str]
    changes: list[ChangeAsked] = field(default_factory=list)

    def add(
        self,
        record_type: str,
        wanted: str,
        values: dict[str, Any],
        owner: int | None = None,
        under: int | None = None,
    ) -> int:
        """Add a record under a free name; its place among the changes."""
        key = None if record_type in ("cue", "reply") else free_key(wanted, self.taken)
        if key is not None:
            self.taken.add(key)
        change = ChangeAsked("add", type=record_type, owner=owner, under=under, key=key, values=values)
        self.changes.append(change)
        return len(self.changes) - 1

    def set(self, record: models.Record, **values: Any) -> None:
        """Set values of a record as it is now."""
        self.changes.append(ChangeAsked("set", id=record.pk, version=record.version, values=values))


def offer(project_id: int, asked: OfferAsked) -> EditDone:
    """Let somebody or something offer a quest. Raises `Refused` 404 for an unknown quest, 422 for an unknown giver, 409
    where it is offered already."""
    project = listing.found_project(project_id)
    quest = models.Quest.objects.filter(project=project, pk=asked.quest).first()
    if quest is None:
        raise not_found("quest", f"record/{asked.quest}")
    _refuse_twice(project, quest)
    taken = set(models.Record.objects.filter(project=project, scope="").values_list("key", flat=True))
    made = Offering(project, quest, taken)
    giver = _named(project, asked.by, "by")
    made.set(quest, offered_by=giver.key)
    if isinstance(giver, models.Object):
        _at_object(made, giver, offers=True, hands_in=asked.to in ("", giver.key))
    else:
        moment = f"gained {giver.key}" if isinstance(giver, models.Item) else f"entered {giver.key}"
        text = f"when {moment}\nonly if {quest.key} is available\nthen\n  offer {quest.key}"
        made.add("cue", "", {"text": text}, owner=quest.pk)
    taker = giver if asked.to in ("", giver.key) else _named(project, asked.to, "to")
    if isinstance(taker, models.Object):
        if taker is not giver:
            _at_object(made, taker, offers=False, hands_in=True)
        last = models.Stage.objects.filter(project=project, owner_id=quest.pk).order_by("order", "pk").last()
        if last is not None and last.then != "ready":
            made.set(last, then="ready")
    name = f"Let {_name(giver)} offer {quest.name}"
    return apply_edit(project.pk, EditAsked(asked.tab, made.changes, name, ask=asked.ask), quest.key)


def _named(project: models.Project, key: str, path: str) -> models.Object | models.Item | models.Area:
    """Who or what a name stands for that may offer a quest; to be handed in to it must be an object."""
    for model in (models.Object, models.Item, models.Area) if path == "by" else (models.Object,):
        found = model.objects.filter(project=project, key=key).first()
        if found is not None:
            return found
    what = "an object, an item or an area" if path == "by" else "an object"
    problem = Problem("name_unknown", f"“{key}” is not {what}.", "Choose one of the list.", path)
    raise Refused(422, "Nobody to do it", [problem])


def _name(record: models.Object | models.Item | models.Area) -> str:
    return record.name


def _refuse_twice(project: models.Project, quest: models.Quest) -> None:
    """What offers it already is told, so that nothing is set up twice."""
    used = models.Reference.objects.filter(record__project=project, name=quest.key)
    ids = set(used.values_list("record_id", flat=True))
    places = [
        *models.Cue.objects.filter(pk__in=ids, text__contains=f"offer {quest.key}"),
        *models.Line.objects.filter(pk__in=ids, steps__contains=f"offer {quest.key}"),
    ]
    if places:
        problem = Problem(
            "offered_already",
            f"{quest.name} is offered already, in {len(places)} place{'s' if len(places) > 1 else ''}.",
            "Change what offers it, or delete that first.",
            f"quest/{quest.key}/offered_by",
        )
        raise Refused(409, "Offered already", [problem], uses=[{"record": p.pk, "place": p.key} for p in places])


# --- at an object


def _at_object(made: Offering, thing: models.Object, *, offers: bool, hands_in: bool) -> None:
    """By talk where it talks or walks, else by the buttons of a panel."""
    kind = models.Kind.objects.filter(project=made.project, key=thing.kind).first()
    (row,) = rows_of(made.project, [thing])
    design = row["design"] or (kind.design if kind is not None else plain(Design()))
    talk = models.Conversation.objects.filter(project=made.project, talker=thing.key).order_by("order", "pk").first()
    if talk is not None or design["walks"] or (kind is not None and kind.starter == "talker"):
        _talk(made, thing, design, talk, offers=offers, hands_in=hands_in)
    else:
        _panel(made, thing, design, _stock(kind, thing), offers=offers, hands_in=hands_in)


def _stock(kind: models.Kind | None, thing: models.Object) -> dict[str, str]:
    """The cues of its kind that only say something when it is used, as the starter wrote them, by the control that they
    answer: they give way to a use of its own."""
    begun = starter(kind.starter) if kind is not None else None
    if kind is None or begun is None:
        return {}
    written = {cue.key: cue.text for cue in begun.kind.cues}
    own = set(models.Cue.objects.filter(owner=thing).values_list("key", flat=True))
    found: dict[str, str] = {}
    for cue in models.Cue.objects.filter(owner=kind):
        if cue.text != written.get(cue.key) or cue.key in own or cue.key in thing.cues_off:
            continue
        tree = read_cue(cue.text)
        if tree.moment.verb == "used" and tree.steps and all(isinstance(step, n.Say) for step in tree.steps):
            found[cue.key] = tree.moment.word.text if tree.moment.word is not None else "use"
    return found


def _talk(
    made: Offering,
    thing: models.Object,
    design: dict[str, Any],
    talk: models.Conversation | None,
    *,
    offers: bool,
    hands_in: bool,
) -> None:
    """Openers for each status, above those that always fit."""
    where: dict[str, int] = {"owner": talk.pk} if talk is not None else {}
    if talk is None:
        where = {"under": made.add("conversation", f"{thing.key}_talk", {"name": thing.name, "talker": thing.key})}
        text = f"when used\nthen\n  open conversation {made.changes[-1].key}"
        made.add("cue", "", {"text": text}, owner=thing.pk)
        if not design["prompts"]:
            prompt = {"key": "talk", "wording": "Talk to {object}"}
            made.set(thing, own={**thing.own, **_reach(design), "prompts": [_prompt(prompt)]})
    for opener in _openers(made.quest, offers=offers, hands_in=hands_in):
        values = {"opener": True, "speaker": thing.key, **opener.values}
        key = f"{made.quest.key}_{opener.name}"
        line = made.add("line", key, values, **where)
        for wording, steps in opener.replies:
            made.add("reply", "", {"wordings": [wording], "steps": steps}, under=line)


@dataclass(frozen=True)
class Opener:
    """One line of an offer with its replies: what is answered, and what that does."""

    name: str
    values: dict[str, Any]
    replies: tuple[tuple[str, str], ...] = ()


def _openers(quest: models.Quest, *, offers: bool, hands_in: bool) -> list[Opener]:
    key, found = quest.key, []
    no = [("Not now.", f"decline {key}" if quest.decline != "no" else "")]
    answers = (("I will do it.", f"start {key}"), *no)
    if hands_in:
        done = {"wordings": [f"{quest.name}: it is done. Thank you."], "needs": f"{key} is ready"}
        found.append(Opener("handed_in", {**done, "steps": f"hand in {key}"}))
    if offers:
        about = quest.summary.strip() or f"There is something you could do for me: {quest.name}."
        found.append(
            Opener("offer", {"wordings": [about], "needs": f"{key} is available", "steps": f"offer {key}"}, answers)
        )
        found.append(
            Opener("offered", {"wordings": ["Have you thought about it?"], "needs": f"{key} is offered"}, answers)
        )
        up = [("I give it up.", f"give up {key}")] if quest.give_up != "no" else []
        waiting = {"wordings": ["How is it going?"], "needs": f"{key} is active"}
        found.append(Opener("under_way", waiting, (("I am still at it.", ""), *up)))
    return found


def _reach(design: dict[str, Any]) -> dict[str, Any]:
    """A reach for what has none."""
    return REACH if design["reach"]["shape"] == "none" else {}


def _prompt(values: dict[str, Any]) -> dict[str, Any]:
    return {"states": [], "control": "use", **values}


def _panel(
    made: Offering,
    thing: models.Object,
    design: dict[str, Any],
    stock: dict[str, str],
    *,
    offers: bool,
    hands_in: bool,
) -> None:
    """Buttons that are there only while the status allows them, on the panel it has or on a new one.

    `stock`: cues of its kind that give way to a new one, with the control of each.
    """
    key, name = made.quest.key, made.quest.name
    wanted = [("take", f"{name}", "available", f"offer {key}")] if offers else []
    wanted += [("hand_in", f"{name}: hand in", "ready", f"hand in {key}")] if hands_in else []
    buttons = [{"key": f"{b}_{key}", "wording": w, "when_unusable": "hidden"} for b, w, _, _ in wanted]
    prompts = [dict(p) for p in design["prompts"]]
    panel = next((p for p in prompts if p["buttons"]), None)
    if panel is not None:
        panel["buttons"] = [*panel["buttons"], *buttons]
    else:
        free = [p for p in prompts if p["control"] not in stock.values()]
        place = next((p["place"] for p in prompts if p not in free), Prompt("p", "").place)
        values = {"key": "offers", "wording": "{object}", "control": _free(made, free), "place": place}
        prompts = [*free, _prompt({**values, "buttons": buttons})]
    off = [*thing.cues_off, *(stock if panel is None else ())]
    made.set(thing, own={**thing.own, **_reach(design), "prompts": prompts}, cues_off=off)
    for button, _, status, step in wanted:
        text = f"when chosen {button}_{key}\nonly if {key} is {status}\nthen\n  {step}"
        made.add("cue", "", {"text": text}, owner=thing.pk)


def _free(made: Offering, prompts: list[dict[str, Any]]) -> str:
    """A control that no prompt of the thing uses. Raises `Refused` 409 where each is in use."""
    settings = models.SettingsRecord.objects.get(project=made.project)
    used = {p["control"] for p in prompts}
    found = next((c["key"] for c in settings.controls if c["key"] not in used), None)
    if found is None:
        problem = Problem(
            "no_control_free",
            "Every control is already used by a prompt of it, so that no panel has room.",
            "Add a control in Project, or make one of its prompts a panel.",
            "by",
        )
        raise Refused(409, "No control is free", [problem])
    return found
