"""Where a thing comes from, where it goes, and what asks for it: each place with the sentence it stands in."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from ..core.cuetext.prose import prose_of_needs, prose_of_steps
from ..core.cuetext.reading import CueTextError
from ..core.cuetext.references import reader_of, text_fields
from ..core.cuetext.roles import name_uses
from ..core.phrases import nodes as n
from . import models
from .naming import shown
from .programs import Compiled
from .rows import values_of
from .shapes import FlowShape, How, TrackedShape
from .using import needs_of, place_words, with_owners

Piece = tuple[bool, Any]
"""Whether it is a need, and the need or step."""


def flows_of(project: models.Project, here: Compiled, key: str) -> list[FlowShape]:
    """Every need, step, objective and value that a thing stands in, in order of the project."""
    found = needs_of(project).filter(name=key).order_by("record__order", "pk")
    pairs = list(dict.fromkeys(found.values_list("record_id", "field")))
    known = with_owners(project, {record_id for record_id, _ in pairs})
    flows = []
    for record_id, field in pairs:
        record = known[record_id]
        place = place_words(record, known)
        for how, says in _told(project, here, record, field, key):
            flows.append(FlowShape(record_id, place, how, says))
    return list(dict.fromkeys(flows))


def tracked(project: models.Project, here: Compiled) -> list[TrackedShape]:
    """What is counted of what the player does because something asks for it, with the sentences that ask."""
    return [
        TrackedShape(verb, key, here.words.name(key), most, _askers(project, here, verb, key))
        for (verb, key), most in here.program.layout.mentions.tallies.items()
    ]


def _askers(project: models.Project, here: Compiled, verb: str, key: str) -> list[FlowShape]:
    """The needs that ask for one count; those of a kind that say *this* are its objects', and told by the kind."""
    names = [key]
    thing = next((o for level in here.core.levels for o in level.objects if o.key == key), None)
    if thing is not None:
        names.append(thing.kind)
    found = needs_of(project).filter(name__in=names).values_list("record_id", flat=True)
    own = set(models.Cue.objects.filter(project=project, owner__key__in=names).values_list("pk", flat=True))
    known = with_owners(project, {*found, *own})
    flows = []
    for record_id in dict.fromkeys([*found, *own]):
        record, selves = known[record_id], (key, "this") if record_id in own else (key,)
        for field in text_fields(record.type):
            for _, piece in _pieces(record.type, field, str(values_of(record)[field])):
                counts = [t for t in n.nodes_in(piece) if isinstance(t, n.Tally) and t.verb == verb]
                if any(t.subject.text in selves for t in counts):
                    tokens = prose_of_needs((piece,), lambda word, owner: shown(here.words, word, owner))
                    says = "".join(t.text for t in tokens)
                    flows.append(FlowShape(record_id, place_words(record, known), "asked", says))
    return flows


def _told(
    project: models.Project, here: Compiled, record: models.Record, field: str, key: str
) -> Iterator[tuple[How, str]]:
    holder, _, path = field.partition(":values.")
    if path and holder in ("own", "design"):
        kind = record.kind if isinstance(record, models.Object) else record.key
        owner = models.Kind.objects.filter(project=project, key=kind).first()
        cues = models.Cue.objects.filter(owner_id=owner.pk).order_by("order", "pk") if owner is not None else ()
        for cue in cues:
            yield from _in_text(here, "cue", "text", cue.text, f"its {path}", kind)
    elif reader_of(record.type, field) is not None:
        yield from _in_text(here, record.type, field, str(values_of(record)[field]), key, "")
    elif field == "targets":
        yield "asked", "as its target"


def _in_text(
    here: Compiled, record_type: str, field: str, text: str, name: str, this: str
) -> Iterator[tuple[How, str]]:
    def naming(word: str, owner: str) -> str:
        return shown(here.words, word, this if owner == "this" else owner)

    for is_need, piece in _pieces(record_type, field, text):
        uses = [use for use in name_uses(piece) if use.word.text == name]
        if not uses:
            continue
        how: How = "asked" if is_need else _how(uses[0].supply)
        tokens = prose_of_needs((piece,), naming) if is_need else prose_of_steps((piece,), naming)
        yield how, "".join(t.text for t in tokens)


def _how(supply: str) -> How:
    return "from" if supply == "given" else "to" if supply == "asked" else "other"


def _pieces(record_type: str, field: str, text: str) -> list[Piece]:
    """The needs and steps of a text; none of one that cannot be read."""
    reader = reader_of(record_type, field)
    assert reader is not None
    try:
        tree = reader(text) if text.strip() else ()
    except CueTextError:
        return []
    if isinstance(tree, n.CueTree):
        return [*((True, top) for top in tree.tops), *((False, step) for step in (*tree.steps, *tree.otherwise))]
    return [(isinstance(piece, n.Top), piece) for piece in tree]
