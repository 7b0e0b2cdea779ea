"""The reference of the language as a table in Markdown, from the declarations: what can be said and what it means."""

from __future__ import annotations

from dataclasses import dataclass

from ..phrases.declaring import Phrase
from ..phrases.glossary import STATUS_MEANS, WORDS
from ..phrases.moments import MOMENTS
from ..phrases.needs import NEEDS
from ..phrases.steps import STEPS

BEGIN = "<!-- reference: written by `make reference` from the declarations in core/phrases -->\n"
END = "<!-- end of reference -->"


def reference() -> str:
    """The three tables between their marks."""
    tables = (("Moments", "moment", MOMENTS), ("Needs", "need", NEEDS), ("Steps", "step", STEPS))
    return BEGIN + "\n".join(_table(*table) for table in tables) + END


@dataclass(frozen=True)
class Explained:
    """One thing that can be looked up: what sort of thing, how it reads, what it means, and an example of a phrase."""

    sort: str
    text: str
    means: str
    example: str = ""


def explained() -> list[Explained]:
    """Everything that can be looked up: moments, needs, steps, the statuses of quests, the words of the program."""
    phrases = (("moment", MOMENTS), ("need", NEEDS), ("step", STEPS))
    found = [Explained(sort, p.begins[0], p.means, p.example) for sort, some in phrases for p in some if p.begins]
    found += [Explained("status", status, means) for status, means in STATUS_MEANS.items()]
    return found + [Explained("word", word, means) for word, means in WORDS.items()]


def _table(heading: str, word: str, phrases: tuple[Phrase, ...]) -> str:
    rows = [f"| `{p.example}` | {p.means} |" for p in phrases]
    return "\n".join([f"## {heading}", "", f"| {word} | what it means |", "|---|---|", *rows, "", ""])
