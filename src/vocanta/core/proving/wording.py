"""What is done on a way, and what it hangs on, as a designer would say it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import assert_never

from ..engine.wording import Words
from ..progress.program import Action


def columns_in_words(words: Words, columns: Sequence[str]) -> list[str]:
    """Columns by what they are of, and what of it."""
    found = []
    for name in columns:
        what, _, key = name.partition(":")
        found.append(f"{what.replace('_', ' ')} of {words.name(key.partition('/')[0])}" if key else what)
    return found


def in_words(words: Words, action: Action) -> str:
    """What is done."""
    name, rest = words.name, action.name.partition(":")[2]
    match action.kind:
        case "use":
            return f"use {name(action.subject)}"
        case "hold":
            return f"hold {name(action.subject)}"
        case "choose":
            return f"choose {words.owned(action.control, action.subject)} at {name(action.subject)}"
        case "strike":
            return f"{name(action.control)} at {name(action.subject)}"
        case "reply":
            line, _, reply = rest.partition("/")
            return f"answer {words.reply_start(line, reply)}"
        case "decide":
            what, _, quest = action.name.partition(":")
            return f"{what.replace('_', ' ')} {name(quest)}"
        case "exit":
            return f"go through {name(action.subject)}"
        case "voice":
            return f"hear {words.line_start(rest)}"
        case "arrive":
            return f"wait for {name(action.subject)}"
        case "resume" | "clock" | "deliver":
            return "wait" if action.subject == "project" else f"wait: {name(action.subject)}"
        case "near" | "away" | "cross" | "sensed":
            return f"walk: {name(action.subject)}"
        case _:
            assert_never(action.kind)


_PRESSED: Mapping[str, str] = {"use": "used", "hold": "held", "strike": "struck"}


def in_vain(words: Words, action: Action) -> str:
    """That a press never does anything, of the object that is pressed."""
    if action.kind == "choose":
        return f"never does anything when {words.owned(action.control, action.subject)} is chosen"
    return f"never does anything when it is {_PRESSED[action.kind]} with {words.name(action.control)}"


def subject_of(action: Action) -> str:
    """Whose action it is: what a designer would look at for it."""
    rest = action.name.partition(":")[2]
    if action.kind in ("reply", "voice"):
        return rest.partition("/")[0]
    return rest if action.kind == "decide" else action.subject
