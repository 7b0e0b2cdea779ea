"""How figures are taken and told: one `name value unit` a line."""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable

MS = 1_000.0


def median_ms(work: Callable[[], object], times: int) -> float:
    """The median time of a piece of work after two warm-ups, milliseconds."""
    taken = []
    for i in range(times + 2):
        begun = time.perf_counter()
        work()
        if i >= 2:
            taken.append((time.perf_counter() - begun) * MS)
    return statistics.median(taken)


def say(name: str, value: float, unit: str) -> None:
    """One figure."""
    print(f"{name} {value:.4g} {unit}", flush=True)
