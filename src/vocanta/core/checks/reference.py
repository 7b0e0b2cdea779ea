"""The list of all checks for its document, from what each says of itself."""

from __future__ import annotations

from .check import checks
from .finding import WEIGHTS

BEGIN, END = "<!-- checks: made by make reference -->\n", "<!-- end of checks -->\n"


def reference() -> str:
    """A table for each weight: the check, what it asks, what it means, an example."""
    parts = [BEGIN]
    for weight in WEIGHTS:
        parts.append(
            f"\n## {weight.capitalize()}\n\n| check | need | asks | means | for example |\n|---|---|---|---|---|\n"
        )
        for check in (c for c in checks() if c.weight == weight):
            name = f"**{check.title}**<br>`{check.name}`"
            parts.append(f"| {name} | {check.need} | {check.asks} | {check.means} | {check.example} |\n")
    return "".join([*parts, "\n", END])
