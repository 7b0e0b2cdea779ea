"""The level as it was at a moment of a run: a picture of what it had come to, in which nothing goes on."""

from __future__ import annotations

from collections.abc import Sequence

from .again import Reached
from .beginning import Start
from .chronicle import Entry
from .picture import Painter
from .run import Run
from .shown import Picture
from .situation import Situation


def picture_of(here: Situation, then: Reached, told: Sequence[Entry]) -> Picture:
    """The picture of a moment of a run, `told` what had happened by then. Motions stand at their ends, nobody speaks."""
    x, y, facing_deg = then.player
    run = Run(here.project, Start(x, y, facing_deg, level=then.level), here.program, going=False)
    situation = run.situation
    situation.row[:] = then.row
    situation.spots = dict(then.spots)
    situation.tick = then.tick
    run.chronicle += told
    speaking = (situation.layout.find("talk"), situation.layout.find("talk_at"), situation.layout.find("talk_waiting"))
    for number in speaking:
        if number is not None:
            situation.row[number] = 0
    run.take_up(then.left.items(), then.afoot)
    run.see()
    picture = Painter(run).first()
    picture["told"] = []
    return picture
