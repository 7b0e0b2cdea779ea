"""The signs that are drawn for things, by name; the screen has a drawing of each."""

from __future__ import annotations

from collections.abc import Collection

SIGNS = (
    "item", "key", "pod", "oil", "letter", "book", "hook", "flower", "bag", "moth", "vines", "water", "lamp", "bell",
    "money", "wheel", "press", "rack", "crate", "ladder", "trolley", "desk", "door", "gate", "board", "console", "switch",
    "talk", "walker", "zone", "hands_off", "spawner", "shape",
)  # fmt: skip
"""Those that look like something to carry come first."""


def free_sign(taken: Collection[str]) -> str:
    """A sign that nothing has yet; the plain shape where all are taken.

    >>> free_sign({"item"}), free_sign(SIGNS)
    ('key', 'shape')
    """
    return next((sign for sign in SIGNS if sign not in taken), "shape")
