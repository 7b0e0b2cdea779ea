"""Small mends that may take away what a proof has found: what could be otherwise along the way there.

Each is a guess; what is offered of them is only what a second proof has borne out (`ways_out`).
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import replace
from typing import Any

from ..checks.finding import Mend, called
from ..checks.mending import Give, Reword
from ..checks.survey import Survey
from ..checks.texts import Text
from ..cuetext.writing import write_cue, write_needs, write_steps
from ..phrases import nodes as n
from ..progress.program import Action

MOST_MORE = 3
"""So many more of an item are given at the most."""


def candidates(survey: Survey, quest: str, what: str, actions: Sequence[Action]) -> Iterator[Mend]:
    """Mends for one verdict of a quest, the likeliest first: `actions` are what was done on the way, in its order."""
    yield from _of_decisions(survey, quest, what)
    texts = _texts_along(survey, actions)
    items = dict.fromkeys(item for text in texts for item, _ in _taken(text))
    for text in texts:
        yield from _takes_as_needs(survey, text)
    for text in texts:
        yield from _needs_more(survey, quest, text)
    for text in texts:
        yield from _again(survey, text)
    for item in items:
        yield from _one_more(survey, item)
    for text in texts if what != "can" else survey.texts:
        yield from _needs_less(survey, text)
    if what == "can":
        for text in survey.texts:
            yield from _again(survey, text)
        for item in survey.index.things:
            yield from _one_more(survey, item)


def _texts_along(survey: Survey, actions: Sequence[Action]) -> list[Text]:
    """What is written of what was done, the last first: of objects their own and their kinds' cues."""
    found: dict[tuple[str, str], Text] = {}
    for action in reversed(actions):
        for record in _records_of(survey, action):
            for text in survey.texts_of(record):
                found.setdefault((text.record, text.field), text)
    return list(found.values())


def _records_of(survey: Survey, action: Action) -> Iterator[str]:
    rest = action.name.partition(":")[2]
    if action.kind == "reply":
        line, _, reply = rest.partition("/")
        yield f"line/{line}/reply/{reply}"
    elif action.kind == "voice":
        yield f"line/{rest}"
    elif action.subject in survey.objects:
        thing = survey.objects[action.subject][0]
        owners = (f"object/{thing.key}", f"kind/{thing.kind}")
        yield from (record for record in survey.records if record.rpartition("/cue/")[0] in owners)


def _whose(survey: Survey, record: str) -> str:
    """Whose a text is; which of them, where it is one of several cues."""
    owner, cue, _ = record.rpartition("/cue/")
    several = cue and sum(one.startswith(f"{owner}/cue/") for one in survey.records) > 1
    return survey.words.rule(record) if several else survey.whose(record)


# --- what is decided


def _of_decisions(survey: Survey, quest: str, what: str) -> Iterator[Mend]:
    """What a quest allows: declined, given up or failed, that it is there again, or that it cannot be."""
    at, record = f"quest/{quest}", survey.record(f"quest/{quest}")
    words = {"decline": "declined", "give_up": "given up"}
    for field, told in words.items():
        now = getattr(record, field)
        if now == "for_good":
            yield Mend("offer it again", f"Let it be there again when it was {told}.", (Give(at, field, "again"),))
        if now != "no":
            yield Mend(f"not {told}", f"Let it not be {told}.", (Give(at, field, "no"),))
    if record.failing == "for_good" and what == "lost":
        yield Mend("offer it again", "Let it be there again when it has failed.", (Give(at, "failing", "again"),))


# --- what is written


def _rewritten(text: Text, change: Callable[[Any], Any]) -> Reword | None:
    """A text with its tree changed; None where nothing is left of it or nothing has changed."""
    if text.read is None:
        return None
    tree = change(text.read.tree)
    if text.start == "cue":
        words = write_cue(tree) if tree.steps else ""
    else:
        words = write_needs(tree) if text.start == "needs" else write_steps(tree)
    if words == text.words or (text.start == "cue" and not words):
        return None
    return Reword(text.record, text.field, (0, len(text.words)), words)


def _steps(tree: Any) -> tuple[Any, ...]:
    return tree.steps if isinstance(tree, n.CueTree) else tree


def _with_steps(tree: Any, steps: Sequence[Any]) -> Any:
    return replace(tree, steps=tuple(steps)) if isinstance(tree, n.CueTree) else tuple(steps)


def _taken(text: Text) -> list[tuple[str, float]]:
    """The items that a text takes away, and how many."""
    if text.read is None or text.start == "needs":
        return []
    found = []
    for step in _steps(text.read.tree):
        taken = isinstance(step, n.Hand) and step.verb == "take"
        if (taken or isinstance(step, n.Change)) and not step.item.is_hole:
            found.append((step.item.text, (step.count.value if step.count else None) or 1))
    return found


def _takes_as_needs(survey: Survey, text: Text) -> Iterator[Mend]:
    """What takes an item asks for it instead, and leaves it."""
    if text.start != "cue":
        return
    for item, count in _taken(text):

        def kept(tree: Any, item: str = item, count: float = count) -> Any:
            steps = [s for s in tree.steps if not (isinstance(s, n.Hand) and s.verb == "take" and s.item.text == item)]
            has = any(isinstance(top.need, n.Has) and top.need.item.text == item for top in tree.tops)
            need = n.Top(n.Has(n.Word(item), n.Number(count) if count != 1 else None))
            return replace(tree, steps=tuple(steps), tops=tree.tops if has else (*tree.tops, need))

        if (write := _rewritten(text, kept)) is not None:
            says = f"Let {_whose(survey, text.record)} ask for {called(item)} and not take it."
            yield Mend("ask, not take", says, (write,))


def _needs_more(survey: Survey, quest: str, text: Text) -> Iterator[Mend]:
    """What takes something away, or changes something, waits until the quest needs it no more."""
    if text.read is None or text.start != "cue" or not any(map(_loses, text.read.tree.steps)):
        return
    record = survey.record(f"quest/{quest}")
    done = n.Is(n.Word(quest), n.Word("done")), f"{called(quest)} is done"
    past = [
        (n.Place(n.Word(quest), "past", n.Word(s.key)), f"{called(quest)} is past {called(f'{quest}.{s.key}')}")
        for s in record.stages[:-1]
    ]
    for need, words in (*past, done):

        def asked(tree: Any, need: Any = need) -> Any:
            return replace(tree, tops=(*tree.tops, n.Top(need)))

        if (write := _rewritten(text, asked)) is not None:
            yield Mend("ask for more", f"Let {_whose(survey, text.record)} also ask that {words}.", (write,))


def _loses(step: Any) -> bool:
    return isinstance(step, n.Change | n.Set | n.SetNext | n.Remove | n.Swap) or (
        isinstance(step, n.Hand) and step.verb == "take"
    )


def _again(survey: Survey, text: Text) -> Iterator[Mend]:
    """What can be done once only can be done again: the step that puts it out of use goes, or *once* does."""
    record = survey.record(text.record)
    if getattr(record, "repeat", "") == "once":
        says = f"Let {_whose(survey, text.record)} be there every time."
        yield Mend("every time", says, (Give(text.record, "repeat", "every_time"),))
    if text.read is None or text.start != "cue":
        return
    for number, step in enumerate(text.read.tree.steps):
        own = isinstance(step, n.Set | n.Remove) and any(
            isinstance(w, n.Word) and w.text == "this" for w in n.nodes_in(step)
        )
        if own and len(text.read.tree.steps) > 1:

            def without(tree: Any, number: int = number) -> Any:
                return replace(tree, steps=(*tree.steps[:number], *tree.steps[number + 1 :]))

            if (write := _rewritten(text, without)) is not None:
                yield Mend("again and again", f"Let {_whose(survey, text.record)} stay as it is.", (write,))


def _one_more(survey: Survey, item: str) -> Iterator[Mend]:
    """More of an item where it is given."""
    for text in survey.texts:
        if text.read is None or text.start == "needs":
            continue
        for number, step in enumerate(_steps(text.read.tree)):
            if not (isinstance(step, n.Hand) and step.verb == "give" and step.item.text == item):
                continue
            if step.count is not None and step.count.its:  # Another number would be every object's of that kind.
                continue
            now = (step.count.value if step.count else None) or 1
            for more in range(1, MOST_MORE + 1):

                def larger(tree: Any, number: int = number, to: float = now + more) -> Any:
                    steps = list(_steps(tree))
                    steps[number] = replace(steps[number], count=n.Number(to))
                    return _with_steps(tree, steps)

                if (write := _rewritten(text, larger)) is not None:
                    says = f"Let {_whose(survey, text.record)} give {now + more:g} {called(item)} instead of {now:g}."
                    yield Mend(f"{more} more", says, (write,))


def _needs_less(survey: Survey, text: Text) -> Iterator[Mend]:
    """One need less."""
    if text.read is None or text.start == "steps":
        return
    for number in range(len(text.tops)):

        def without(tree: Any, number: int = number) -> Any:
            if isinstance(tree, n.CueTree):
                return replace(tree, tops=(*tree.tops[:number], *tree.tops[number + 1 :]))
            return (*tree[:number], *tree[number + 1 :])

        if (write := _rewritten(text, without)) is not None:
            yield Mend("ask for less", f"Let {_whose(survey, text.record)} ask for one thing less.", (write,))
