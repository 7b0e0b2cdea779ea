"""Of many seeds a quarter is taken at a time, another one each day; all of them with `VOCANTA_SOAK=1`."""

from __future__ import annotations

import datetime
import os

QUARTERS = 4
SOAKED = os.environ.get("VOCANTA_SOAK") == "1"


def taken(count: int) -> range:
    """The seeds below a number that are gone through this time."""
    if SOAKED:
        return range(count)
    today = int(os.environ.get("VOCANTA_QUARTER", datetime.datetime.now(datetime.UTC).toordinal()))
    return range(today % QUARTERS, count, QUARTERS)
