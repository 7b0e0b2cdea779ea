"""Names: how a key must look, which words are taken by the cue language, and how to find a free one."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Collection

from ..phrases.language import reserved
from .problems import Problem

KEY = re.compile(r"^[a-z][a-z0-9_]*$")
LONGEST_KEY = 60

FREE_AS_STATE = frozenset(
    {"open", "on", "up", "in", "ready", "active", "used", "held", "down", "changed", "lost", "done", "touched"}
)
"""Words of the cue language that are so common for states that they stay free there."""


def key_problem(key: str, *, state: bool = False, path: str = "") -> Problem | None:
    """What is wrong with a key, or None.

    >>> key_problem("copper_key") is None
    True
    >>> key_problem("Copper key").code
    'name_unreadable'
    >>> key_problem("when").code
    'name_reserved'
    """
    if not KEY.match(key) or len(key) > LONGEST_KEY:
        return Problem(
            "name_unreadable",
            f"“{key}” cannot be a name in cues.",
            f"Use small letters, digits and _, starting with a letter, at most {LONGEST_KEY}; "
            f"for example {key_from(key)}.",
            path,
        )
    if key in reserved() and not (state and key in FREE_AS_STATE):
        return Problem(
            "name_reserved",
            f"“{key}” is a word of the cue language.",
            f"Choose another name, for example {key}_1.",
            path,
        )
    return None


def key_from(name: str) -> str:
    """A key made from a shown name.

    >>> key_from("Mr Quill’s lámp (old)")
    'mr_quill_s_lamp_old'
    >>> key_from("4 lamps")
    'n_4_lamps'
    """
    parts = unicodedata.normalize("NFKD", name)
    plain = "".join(c for c in parts if not unicodedata.combining(c))
    key = re.sub(r"[^a-z0-9]+", "_", plain.lower()).strip("_")[:LONGEST_KEY].strip("_")
    if not key:
        key = "thing"
    if key[0].isdigit():
        key = f"n_{key}"
    return f"{key}_1" if key in reserved() else key


def follows(key: str, name: str) -> bool:
    """Whether a key is what its record's shown name gives by itself, with what tells it from others at its end.

    >>> follows("lamp_2", "Lamp"), follows("pick_up_8_kind", "pick up"), follows("old_lamp", "Lamp")
    (True, True, False)
    """
    return _ENDING.sub("", key) == _ENDING.sub("", key_from(name))


_ENDING = re.compile(r"(_\d+)?(_kind|_talk)?(_\d+)?$")


def followed(key: str, name: str, taken: Collection[str]) -> str:
    """The key that follows a new shown name, free among those taken; what a kind's or a talk's ends in stays."""
    ending = next((e for e in ("_kind", "_talk") if re.search(rf"{e}(_\d+)?$", key)), "")
    return free_key(key_from(name)[: LONGEST_KEY - len(ending)] + ending, taken)


def free_key(wanted: str, taken: Collection[str]) -> str:
    """`wanted`, or `wanted_2`, `wanted_3` … whichever is first not taken."""
    if wanted not in taken:
        return wanted
    stem = re.sub(r"_\d+$", "", wanted)[: LONGEST_KEY - 6]
    number = 2
    while f"{stem}_{number}" in taken:
        number += 1
    return f"{stem}_{number}"
