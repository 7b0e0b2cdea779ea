"""Which branches of a program are never read since an earlier one of their group always fits where they would."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from ..progress.guards import Within
from ..progress.often import follows, parts
from ..progress.program import Group, Program
from ..progress.values import Values


@dataclass(frozen=True, slots=True)
class Shadow:
    """One written branch: its origin, and the origin of the one that is always read instead, empty where none is.

    `verb`: of the group in which it stands; a line stands in several, and is chosen among the openers.
    """

    origin: str
    by: str
    verb: str = ""


def shadows(program: Program, values: Values) -> Iterator[Shadow]:
    """Every written branch that can fit at all, by group, with what shadows it there."""
    for group in program.groups.values():
        if group.verb != "resume" and group.name in values.read and len(group.branches) > group.first_cue:
            yield from in_group(group, values)


def in_group(group: Group, values: Values) -> Iterator[Shadow]:
    """The written branches of one group that can fit at all, each with what is always read instead."""
    for number in range(group.first_cue, len(group.branches)):
        branch = group.branches[number]
        known = values.narrowed(branch.guard)
        if known is None or not values.can(branch.guard, known):
            continue
        asked: list[Within] = list(parts(branch.guard))
        earlier = (b for b in group.branches[group.first_cue : number] if not b.go_on)
        by = next((b for b in earlier if values.always(b.guard, known) or follows(b.guard, asked)), None)
        yield Shadow(branch.origin, by.origin if by is not None else "", group.verb)
