"""Chances of a run: each chance need draws for itself from the seed, the number of the action, and its own name."""

from __future__ import annotations

import hashlib
import random

from .situation import Situation


def draw(situation: Situation) -> None:
    """Write the chance columns for the next action."""
    situation.actions += 1
    for name, one_in in situation.layout.mentions.chances.items():
        column = situation.layout.column("chance", name)
        situation.row[column] = int(drawn(situation.seed, situation.actions, name) % one_in == 0)


def scattering(situation: Situation, key: str) -> random.Random:
    """Where to draw the places of scattered things from."""
    return random.Random(drawn(situation.seed, situation.actions, key))


def drawn(seed: int, action: int, name: str) -> int:
    """A whole number below 2⁶⁴ that only depends on its three arguments, the same in every process."""
    return int.from_bytes(hashlib.sha256(f"{seed}/{action}/{name}".encode()).digest()[:8], "big")
