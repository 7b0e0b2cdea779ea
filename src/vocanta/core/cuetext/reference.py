"""The reference of the language as a table in Markdown, from the declarations: what can be said and what it means."""

from __future__ import annotations

from ..phrases.declaring import Phrase
from ..phrases.moments import MOMENTS
from ..phrases.needs import NEEDS
from ..phrases.steps import STEPS

BEGIN = "<!-- reference: written by `make reference` from the declarations in core/phrases -->\n"
END = "<!-- end of reference -->"


def reference() -> str:
    """The three tables between their marks."""
    tables = (("Moments", "moment", MOMENTS), ("Needs", "need", NEEDS), ("Steps", "step", STEPS))
    return BEGIN + "\n".join(_table(*table) for table in tables) + END


def _table(heading: str, word: str, phrases: tuple[Phrase, ...]) -> str:
    rows = [f"| `{p.example}` | {p.means} |" for p in phrases]
    return "\n".join([f"## {heading}", "", f"| {word} | what it means |", "|---|---|", *rows, "", ""])
