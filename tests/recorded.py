"""Every run that a test makes is written down, to be replayed in another process once all tests are through."""

from __future__ import annotations

import dataclasses
import sys
from typing import Any

from vocanta.core.engine.beginning import Start
from vocanta.core.engine.inputs import Input
from vocanta.core.engine.marking import Marker, stands
from vocanta.core.engine.run import Run


@dataclasses.dataclass
class Made:
    """A run of this process: what it began from, its inputs, and the mark it had by then. Where a hand was laid on it
    otherwise than by inputs, what came after is left out."""

    test: str
    project: object
    start: Start | None
    marker: Marker
    stands: tuple
    inputs: list[Input] = dataclasses.field(default_factory=list)
    broken: bool = False

    @property
    def mark(self) -> str:
        """All that it was by then, to the byte."""
        return self.marker.mark(self.stands)


MADE: list[Made] = []
STORED: dict[str, dict[str, Any]] = {}
"""The first messages of runs that engines of their own have walked and that were stored, by the mark they must come to."""


def test_under_way() -> str:
    """The name of the test that asks."""
    frame = sys._getframe(1)
    while frame is not None and not frame.f_code.co_name.startswith("test_"):
        frame = frame.f_back
    return "a test" if frame is None else frame.f_code.co_name


def record_every_run() -> None:
    """From now on every run of this process is written down, whoever makes it."""
    begin, tick = Run.__init__, Run.tick

    def beginning(run, project, start=None, program=None, *, going=True):
        begin(run, project, start, program, going=going)
        if going:
            marker = Marker()
            marker.note(run.chronicle)
            run.made = Made(test_under_way(), project, start, marker, stands(run.situation))
            MADE.append(run.made)

    def ticking(run, given):
        made = getattr(run, "made", None)
        if made is None or made.broken:
            return tick(run, given)
        made.broken = made.stands != stands(run.situation)
        entries = tick(run, given)
        if not made.broken:
            made.marker.note(entries)
            made.inputs.append(given)
            made.stands = stands(run.situation)
        return entries

    Run.__init__, Run.tick = beginning, ticking


def note_stored_runs() -> None:
    """Take note of the runs that stand in the database now."""
    from vocanta.server import models, playing

    for run in models.PlayedRun.objects.filter(engine=playing.ENGINE):
        first = playing.resume_run(run.project_id, run.pk).first
        if first["mark"]:
            STORED[first["mark"]] = first
