"""Which groups chase each other: of those read in the last passes of an action that never settled, the circles."""

from __future__ import annotations

from collections.abc import Container, Mapping, Sequence

from .effects import Consequences
from .program import Program

LAST_PASSES = 16


def chasing_groups(program: Program, passes: list[frozenset[int]]) -> tuple[str, ...]:
    """The names of the groups that set each other off, in settling order; who only listens to them is not among them.

    `passes` are the numbers of the groups read in each pass. Where no circle is found, all of the last passes.
    """
    late = sorted(frozenset().union(*passes[-LAST_PASSES:]))
    names = [program.settling[i] for i in late]
    round_about = {name for circle in circles(names, Consequences(program)) for name in circle}
    return tuple(name for name in names if name in round_about) or tuple(names)


def circles(names: Sequence[str], consequences: Consequences) -> list[list[str]]:
    """The groups of some that can flag each other round, or themselves, each circle in the order of the names."""
    known = set(names)
    after = {name: [b for b in consequences.flagged_by(name) if b in known] for name in names}
    before: dict[str, list[str]] = {name: [] for name in names}
    for a, those in after.items():
        for b in those:
            before[b].append(a)
    round_about = []
    left = dict.fromkeys(names)
    for first in reversed(_left_last(names, after)):
        if first in left:
            one = _reached(first, before, left)
            if len(one) > 1 or first in after[first]:
                round_about.append([name for name in names if name in one])
            for name in one:
                del left[name]
    return sorted(round_about, key=lambda circle: names.index(circle[0]))


def _left_last(names: Sequence[str], after: Mapping[str, Sequence[str]]) -> list[str]:
    """The names in the order in which a walk deep into what comes after leaves them (Kosaraju and Sharir: who is left
    last, and is reached backwards from, goes round with what reaches it)."""
    left: list[str] = []
    seen: set[str] = set()
    for first in names:
        walk = [] if first in seen else [(first, iter(after[first]))]
        seen.add(first)
        while walk:
            following = next((b for b in walk[-1][1] if b not in seen), None)
            if following is None:
                left.append(walk.pop()[0])
            else:
                seen.add(following)
                walk.append((following, iter(after[following])))
    return left


def _reached(first: str, ways: Mapping[str, Sequence[str]], among: Container[str]) -> set[str]:
    """What some ways lead to from a name, itself too, among some names."""
    found, ahead = {first}, [first]
    while ahead:
        fresh = [name for name in ways[ahead.pop()] if name in among and name not in found]
        found.update(fresh)
        ahead += fresh
    return found
