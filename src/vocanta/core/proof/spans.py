"""Sets of whole numbers as spans: `((1, 4), (7, 7))` is 1, 2, 3, 4 and 7. In order, apart by more than one."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

Spans = tuple[tuple[int, int], ...]
NONE: Spans = ()


def span(lowest: int, highest: int) -> Spans:
    """All from one to another; none where they are the wrong way round."""
    return ((lowest, highest),) if lowest <= highest else NONE


def spans_of(values: Iterable[int]) -> Spans:
    """Some values.

    >>> spans_of([7, 2, 1, 3])
    ((1, 3), (7, 7))
    """
    return joined((v, v) for v in values)


def joined(parts: Iterable[tuple[int, int]]) -> Spans:
    """Everything that any of some parts holds."""
    found: list[tuple[int, int]] = []
    for low, high in sorted(parts):
        if found and low <= found[-1][1] + 1:
            found[-1] = found[-1][0], max(found[-1][1], high)
        else:
            found.append((low, high))
    return tuple(found)


def met(a: Spans, b: Spans) -> Spans:
    """What both hold.

    >>> met(((1, 4), (7, 9)), ((3, 8),))
    ((3, 4), (7, 8))
    """
    if a is b or len(a) == len(b) == 1:
        return a if a is b else span(max(a[0][0], b[0][0]), min(a[0][1], b[0][1]))
    found = [(max(p, q), min(r, s)) for p, r in a for q, s in b if max(p, q) <= min(r, s)]
    return tuple(sorted(found))


def less(a: Spans, b: Spans) -> Spans:
    """What the first holds and the second does not.

    >>> less(((1, 9),), ((3, 4), (9, 12)))
    ((1, 2), (5, 8))
    """
    left = list(a)
    for low, high in b:
        cut: list[tuple[int, int]] = []
        for p, q in left:
            cut += [(p, q)] if high < p or q < low else [*span(p, min(q, low - 1)), *span(max(p, high + 1), q)]
        left = cut
    return tuple(left)


def values_in(spans: Spans) -> Iterator[int]:
    """The values, ascending."""
    for low, high in spans:
        yield from range(low, high + 1)


def size(spans: Spans) -> int:
    """How many values there are."""
    return sum(high - low + 1 for low, high in spans)


def has(spans: Spans, value: int) -> bool:
    """Whether a value is among them."""
    return any(low <= value <= high for low, high in spans)
