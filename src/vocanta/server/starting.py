"""Start cards as they are read: how each fits the project now, and one for a point to be as if at."""

from __future__ import annotations

from typing import Any

from ..core.engine.again import fitted, is_said, kept_now, point_card
from ..core.progress.as_if import Changes
from ..core.project.keeping import Card
from ..core.project.tree import plain
from . import models
from .programs import Compiled
from .refusals import not_found
from .shapes import CardReading, HeldShape


def card_readings(here: Compiled, project: models.Project) -> list[CardReading]:
    """Every start card in order: what it holds in words, and what of it does not fit any more."""
    ids = dict(models.Card.objects.filter(project=project).values_list("key", "pk"))
    return [_read(here, card, ids[card.key]) for card in here.core.cards if card.key in ids]


def _read(here: Compiled, card: Card, number: int) -> CardReading:
    holds, table = [], here.program.table
    for one in card.holds:
        column = here.program.columns[table.number(one.column)] if table.has(one.column) else None
        told = bool(one.says) if column is None else is_said(column)
        value = kept_now(here.program, one)
        text = here.words.standing(column, value) if column is not None and value is not None else one.says
        holds.append(HeldShape(one.column, one.value if value is None else value, text, value is not None, told))
    return CardReading(number, list(fitted(card, here.core, here.program).left_out), holds)


def card_at(
    here: Compiled, quest: str, stage: str, changes: Changes, at: str, way: Changes | None = None
) -> dict[str, Any]:
    """The values of a start card for a point to be as if at, before an object where one is named, else at the start.

    Raises `Refused` 404 for an unknown point."""
    try:
        card = point_card(here.core, here.program, here.words, (quest, stage, changes), at, way=way)
    except KeyError as error:
        raise not_found(f"point {error.args[0]}", "as_if") from error
    values: dict[str, Any] = plain(card)
    return {field: value for field, value in values.items() if field != "key"}
