"""A wording that is too long for its place."""

from __future__ import annotations

from collections.abc import Iterator

from ...phrases import nodes as n
from ..check import Check
from ..finding import Found, Spot, quoted
from ..survey import Survey

PROMPT, BUTTON, NOTICE, ANSWER, LINE, JOURNAL = 48, 32, 160, 90, 280, 600
"""So many characters fit on the card of a prompt, a button, a notice, an answer, a line, and a page of the journal."""


def find(survey: Survey, record: str) -> Iterator[Found]:
    """Every wording with more characters than its place can show."""
    for field, words in survey.wordings_of(record):
        most, place = _room(record, field)
        if most and len(words) > most:
            says = f"has {len(words)} characters in {quoted(words, 24)}, and {place} has room for {most}"
            yield Found(Spot(record, field), survey.whose(record), says, marks=f"{len(words)} characters")
    for text in survey.texts_of(record):
        for step in text.steps:
            if isinstance(step, n.Say) and step.text.value is not None and len(step.text.value) > NOTICE:
                says = f"says {quoted(step.text.value, 24)} with {len(step.text.value)} characters, and a notice has room for {NOTICE}"
                at = Spot(text.record, text.field, step.text.span)
                yield Found(
                    at, survey.whose(text.record), says, marks=f"{len(step.text.value)} characters", owner=text.owner
                )


def _room(record: str, field: str) -> tuple[int, str]:
    if ".buttons." in field:
        return BUTTON, "a button"
    if field.endswith(".wording"):
        return PROMPT, "a prompt"
    kind = record.split("/")[-2]
    if field.startswith("wordings"):
        return (ANSWER, "an answer") if kind == "reply" else (LINE, "a line")
    return (JOURNAL, "a page of the journal") if field == "journal" else (0, "")


CHECK = Check(
    "text_too_long",
    "A text that is too long",
    "worth a look",
    "N10",
    "Does every wording fit its place?",
    "The card on which the player reads it is full before the words are at their end.",
    "The prompt of the slate tells a whole story.",
    "record",
    find,
    ("names", "kinds"),
)
