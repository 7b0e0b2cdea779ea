"""Where two reaches of a level overlap for one control, and who wins there."""

from __future__ import annotations

from dataclasses import dataclass

import shapely
from shapely.geometry import Polygon

from ..project.designs import resolved
from ..project.records import Design, Level, Object, Project
from .cells import reach_shape

SMALLEST_M2 = 0.02


@dataclass(frozen=True, slots=True)
class Overlap:
    """Two objects whose reaches overlap: the outlines of the overlap, the controls both want, and who wins in words."""

    a: str
    b: str
    controls: tuple[str, ...]
    outlines: tuple[tuple[tuple[float, float], ...], ...]
    says: str


def overlaps_of(project: Project, level: Level) -> list[Overlap]:
    """Every overlap of a level, by order of creation. Cost: only neighbours are held against each other."""
    kinds = {k.key: k for k in project.kinds}
    designs = [(o, resolved(kinds[o.kind], o)) for o in level.objects if o.kind in kinds]
    placed = [(o, d) for o, d in designs if d.prompts and d.reach.shape != "none"]
    if not placed:
        return []
    shapes = [reach_shape(o, d) for o, d in placed]
    tree = shapely.STRtree(shapes)
    near = {(int(i), int(j)) for i, j in tree.query(shapes, predicate="intersects").T if i < j}
    found = (_overlap(placed[i], placed[j], shapes[i].intersection(shapes[j])) for i, j in sorted(near))
    return [one for one in found if one is not None]


def _overlap(a: tuple[Object, Design], b: tuple[Object, Design], shared: shapely.Geometry) -> Overlap | None:
    controls = tuple(c for c in _controls(a[1]) if c in _controls(b[1]))
    pieces = [p for p in shapely.get_parts(shared) if isinstance(p, Polygon) and p.area > SMALLEST_M2]
    if not controls or not pieces or not _meet(a[1], b[1]):
        return None
    outlines = tuple(tuple((round(x, 3), round(y, 3)) for x, y in p.exterior.coords[:-1]) for p in pieces)
    return Overlap(a[0].key, b[0].key, controls, outlines, _says(a, b))


def _controls(design: Design) -> dict[str, None]:
    return dict.fromkeys(p.control for p in design.prompts)


def _meet(a: Design, b: Design) -> bool:
    """Whether there is a state of each in which both offer something."""
    return all(any(s.reach_on for s in d.states) for d in (a, b))


def _says(a: tuple[Object, Design], b: tuple[Object, Design]) -> str:
    first, second = a[1].reach.priority, b[1].reach.priority
    if first == second:
        return "looked at, then nearest"
    return f"{(a if first > second else b)[0].name} wins"
