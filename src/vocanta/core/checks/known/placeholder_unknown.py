"""A placeholder that nothing fills in."""

from __future__ import annotations

import re
from collections.abc import Iterator
from difflib import get_close_matches

from ...phrases import nodes as n
from ...phrases.vocabulary import ITS
from ..check import Check
from ..finding import Found, Mend, Spot, quoted
from ..mending import Reword
from ..survey import Survey

_BRACES = re.compile(r"\{([^{}]*)\}")


def find(survey: Survey, record: str) -> Iterator[Found]:
    """Every `{…}` of a wording that stays as it is when the player reads it."""
    whose = survey.object_or_kind(record)
    for field, words in survey.wordings_of(record):
        for wrong in _wrong(survey, words, whose):
            says = f"has {quoted('{' + wrong + '}')} in a wording, which nothing fills in"
            yield Found(Spot(record, field), survey.whose(record), says, marks=quoted("{" + wrong + "}"))
    for text in survey.texts_of(record):
        for step in text.steps:
            if isinstance(step, n.Say) and step.text.value is not None:
                for wrong in _wrong(survey, step.text.value, text.this):
                    begin, end = step.text.span
                    at = text.words.find("{" + wrong + "}", begin, end)
                    span = (at, at + len(wrong) + 2) if at >= 0 else step.text.span
                    near = get_close_matches(wrong, _known(survey, text.this), 1)
                    mends = tuple(
                        Mend(
                            "write the near one",
                            f"Write {{{one}}} instead.",
                            (Reword(text.record, text.field, span, "{" + one + "}"),),
                        )
                        for one in near
                        if at >= 0
                    )
                    says = f"says {quoted('{' + wrong + '}')}, which nothing fills in"
                    yield Found(
                        Spot(text.record, text.field, span),
                        survey.whose(text.record),
                        says,
                        mends,
                        quoted("{" + wrong + "}"),
                        owner=text.owner,
                    )


def _known(survey: Survey, this: str) -> list[str]:
    """What may stand between braces in the wordings of an object or a kind."""
    own = [f"{ITS}{name}" for name in survey.index.values.get(this, ())]
    return ["object", "control", *own, *(f"count:{item.key}" for item in survey.project.items)]


def _wrong(survey: Survey, words: str, this: str) -> list[str]:
    known = set(_known(survey, this)) if "{" in words else set()
    return [inner for inner in _BRACES.findall(words) if inner not in known]


CHECK = Check(
    "placeholder_unknown",
    "A placeholder that is unknown",
    "likely wrong",
    "N10",
    "Is every placeholder filled in?",
    "Between braces stands something that is neither {object} nor {control} nor {count:…} of an item nor {its …}, a "
    "value of the object's: the player reads the braces.",
    "You have {count:dried_pod} of 9.",
    "record",
    find,
    ("names", "kinds"),
)
