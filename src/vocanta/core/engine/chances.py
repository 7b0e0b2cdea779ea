"""Chances of a run: each chance need draws for itself from the seed, the number of the action, and its own name."""

from __future__ import annotations

import hashlib
import random
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from .run import Run


class Chances:
    """Writes the chance columns before each action."""

    def __init__(self, run: Run):
        self.run = run
        self.actions = 0
        mentions, layout = run.layout.mentions, run.layout
        self._columns = [(name, one_in, layout.column("chance", name)) for name, one_in in mentions.chances.items()]

    def draw(self) -> None:
        """Draw for the next action."""
        self.actions += 1
        for name, one_in, column in self._columns:
            self.run.row[column] = int(drawn(self.run.start.seed, self.actions, name) % one_in == 0)

    def scattering(self, key: str) -> random.Random:
        """Where to draw the places of scattered things from."""
        return random.Random(drawn(self.run.start.seed, self.actions, key))


def drawn(seed: int, action: int, name: str) -> int:
    """A whole number below 2⁶⁴ that only depends on its three arguments, the same in every process."""
    return int.from_bytes(hashlib.sha256(f"{seed}/{action}/{name}".encode()).digest()[:8], "big")
