"""Columns: the variables of progress, each a small whole number with limits and an origin."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

Rows = npt.NDArray[np.int32]
"""Situations: shape (rows, columns)."""


@dataclass(frozen=True, slots=True)
class Column:
    """One variable. `name` is `what:key`; `origin` is the place in the project it comes from."""

    name: str
    lowest: int
    highest: int
    start: int
    origin: str
    sensed: bool = False


class ColumnTable:
    """Columns in order, found by name. Built once by the compiler, then only read."""

    def __init__(self) -> None:
        self.columns: list[Column] = []
        self._numbers: dict[str, int] = {}

    def add(self, column: Column) -> int:
        """Take a column in; its number. A name is taken in once."""
        assert column.name not in self._numbers, column.name
        self._numbers[column.name] = len(self.columns)
        self.columns.append(column)
        return self._numbers[column.name]

    def number(self, name: str) -> int:
        """The number of a column. Raises `KeyError` for an unknown name."""
        return self._numbers[name]

    def has(self, name: str) -> bool:
        """Whether there is such a column."""
        return name in self._numbers

    def start_row(self) -> Rows:
        """The row of starting values, shape (1, columns)."""
        return np.array([[c.start for c in self.columns]], dtype=np.int32)
