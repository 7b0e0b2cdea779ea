"""What a check is, and the registry: every module of `known` that has a `CHECK` is one."""

from __future__ import annotations

import importlib
import pkgutil
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from functools import cache
from typing import Any, Literal

from . import known
from .finding import Found, Weight
from .survey import Survey

Subject = Literal["project", "level", "text", "object", "kind", "quest", "conversation", "line", "record", "proven"]
Reads = Literal["names", "kinds", "floors", "rules"]
Asked = Callable[[Survey, Any], Iterator[Found]]


@dataclass(frozen=True, slots=True)
class Check:
    """One thing looked for.

    `name` is its stable name; `need` the need it serves; `asks` its question; `means` says in a sentence what is amiss
    where it finds something; `example` is one. It is asked of each `subject` of a project by itself, of each `record` by its
    address, of what is `proven` where somebody has told it, and asked again
    where that or anything it `reads` besides has changed: `names`, the `kinds`, the
    `floors` of all levels, or what the `rules` come to.
    """

    name: str
    title: str
    weight: Weight
    need: str
    asks: str
    means: str
    example: str
    subject: Subject
    find: Asked
    reads: tuple[Reads, ...] = ()


@cache
def checks() -> tuple[Check, ...]:
    """Every check, by the name of its module. Raises `TypeError` for two of one name."""
    found = []
    for module in sorted(m.name for m in pkgutil.iter_modules(known.__path__)):
        check = getattr(importlib.import_module(f"{known.__name__}.{module}"), "CHECK", None)
        if isinstance(check, Check):
            found.append(check)
    names = [c.name for c in found]
    if len(set(names)) < len(names):
        raise TypeError(f"Two checks share a name: {names}")
    return tuple(found)


@cache
def by_name() -> dict[str, Check]:
    """Every check by its name."""
    return {c.name: c for c in checks()}
