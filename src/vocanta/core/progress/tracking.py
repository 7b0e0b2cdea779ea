"""What is tracked of what the player has done, where anything asks for it."""

from __future__ import annotations

from ..phrases.nodes import TallyVerb
from .layout import Layout
from .ops import Op, Plus


def tally(verb: TallyVerb, key: str, layout: Layout, amount: int = 1) -> tuple[Op, ...]:
    """One more of what is tracked, where anything asks for it."""
    column = layout.find("tally", f"{verb}/{key}")
    if amount <= 0 or column is None:
        return ()
    return (Plus(column, amount, 0, layout.table.columns[column].highest, clamped=True),)
