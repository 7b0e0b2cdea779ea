"""Which groups chase each other: of those read in the last passes of an action that never settled, the circles."""

from __future__ import annotations

from scipy.sparse import csr_array
from scipy.sparse.csgraph import connected_components

from .effects import Consequences
from .program import Program

LAST_PASSES = 16


def chasing_groups(program: Program, passes: list[frozenset[int]]) -> tuple[str, ...]:
    """The names of the groups that set each other off, in settling order; who only listens to them is not among them.

    `passes` are the numbers of the groups read in each pass. Where no circle is found, all of the last passes.
    """
    late = sorted(frozenset().union(*passes[-LAST_PASSES:]))
    names = [program.settling[i] for i in late]
    known, consequences = {name: i for i, name in enumerate(names)}, Consequences(program)
    ends = [(known[a], known[b]) for a in names for b in consequences.flagged_by(a) if b in known]
    rows, columns = [a for a, _ in ends], [b for _, b in ends]
    graph = csr_array(([1] * len(ends), (rows, columns)), shape=(len(names), len(names)))
    _, labels = connected_components(graph, directed=True, connection="strong")
    members = [name for i, name in enumerate(names) if (labels == labels[i]).sum() > 1 or (i, i) in ends]
    return tuple(members or names)
