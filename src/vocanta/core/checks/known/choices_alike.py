"""Two choices that read alike."""

from __future__ import annotations

from collections.abc import Iterator

from ...project.records import Project
from ..check import Check
from ..finding import Found, Spot, called, quoted
from ..survey import Survey


def find(survey: Survey, project: Project) -> Iterator[Found]:
    """Every two answers of a line, buttons of a panel and quests that the player reads as the same, shown together."""
    for line, _ in survey.lines.values():
        seen: dict[str, str] = {}
        for reply in line.replies:
            words = _plain(reply.wordings[0])
            first = seen.setdefault(words, reply.key)
            if first != reply.key and not _apart(survey, line.key, first, reply.key):
                address = f"line/{line.key}/reply/{reply.key}"
                says = f"answers {called(line.key)} twice with {quoted(reply.wordings[0])}"
                other = f"line/{line.key}/reply/{first}"
                yield Found(
                    Spot(address, "wordings"),
                    survey.whose(address),
                    says,
                    (),
                    "twice",
                    (other,),
                    (survey.held_at(Spot(other, "wordings")),),
                    f"line/{line.key}",
                )
    for address, design in survey.designs_and_kinds():
        for prompt in design.prompts:
            buttons: dict[str, str] = {}
            for button in prompt.buttons:
                first = buttons.setdefault(_plain(button.wording), button.key)
                if first != button.key:
                    says = f"has two buttons that read {quoted(button.wording)}"
                    spot = Spot(address, f"design.prompts.{prompt.key}.buttons.{button.key}.wording")
                    yield Found(spot, survey.whose(address), says, (), "two buttons", (), (first,))


def _plain(words: str) -> str:
    return " ".join(words.lower().split()).rstrip(".!?…")


def _apart(survey: Survey, line: str, one: str, other: str) -> bool:
    """Whether two answers are never shown together, as far as one asks for the very opposite of the other."""
    texts = [survey.text_of.get((f"line/{line}/reply/{r}", "needs")) for r in (one, other)]
    tops = [tuple(t.need for t in text.tops) if text is not None else () for text in texts]
    return any(_opposed(a, b) for a in tops[0] for b in tops[1])


def _opposed(a: object, b: object) -> bool:
    return getattr(a, "need", None) == b or getattr(b, "need", None) == a


CHECK = Check(
    "choices_alike",
    "Two choices that read alike",
    "worth a look",
    "N36",
    "Can the player tell all choices apart?",
    "Two answers, or two buttons, have the same words: nobody knows which is which.",
    "“Yes.” stands twice under “Will you go?”.",
    "project",
    find,
    ("names",),
)
